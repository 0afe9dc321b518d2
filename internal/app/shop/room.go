// Package shop follows every repair from the first complaint to "back in its slot": which shop, for how much, on which trip, until when,
// and what came of it. What belongs to somebody else goes to its owner and never to a shop on the school's money.
package shop

import (
	"context"

	"github.com/google/uuid"

	"solfeggio/internal/app/bench"
	"solfeggio/internal/app/care"
	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/letters"
	"solfeggio/internal/app/placing"
	"solfeggio/internal/app/school"
	"solfeggio/internal/repairshop"
	"solfeggio/internal/store/shoprows"
)

// What the API shows and takes of rows.
type (
	Trip       = shoprows.Trip
	RepairShop = shoprows.RepairShop
)

// A Room does it for all schools.
type Room struct {
	schools    *school.Schools
	inspection *inspection.Room
	letters    *letters.Room
	lending    *lending.Room
	bench      *bench.Room
	care       *care.Room
	placing    *placing.Room

	Service Service // the simulated shop; nil when none is connected
}

// Service is a repair shop's computer.
type Service interface {
	Give(ctx context.Context, o repairshop.Order) (repairshop.Progress, error)
	News(ctx context.Context, job uuid.UUID) (repairshop.Progress, error)
	Decide(ctx context.Context, job uuid.UUID, d repairshop.Decision) (repairshop.Progress, error)
	HandOver(ctx context.Context, job uuid.UUID) (repairshop.Progress, error)
	Withdraw(ctx context.Context, job uuid.UUID) (repairshop.Progress, error)
	Fetch(ctx context.Context, job uuid.UUID) (repairshop.Progress, error)
}

// New makes the room beside those that it works with.
func New(all *school.Schools, i *inspection.Room, l *letters.Room, lend *lending.Room, b *bench.Room, c *care.Room,
	p *placing.Room) *Room {
	r := &Room{schools: all, inspection: i, letters: l, lending: lend, bench: b, care: c, placing: p}
	r.registerEvents()
	return r
}
