// Package cards is the players' own part: care cards with their public pages, what players report, packing up together, drills, and
// which habits cost most.
package cards

import (
	"sync/atomic"

	lru "github.com/hashicorp/golang-lru/v2"

	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/upkeep"
	"solfeggio/internal/store/cardrows"
)

// Plays is what the API shows and takes of a row.
type Plays = cardrows.Plays

// A Room does it for all schools.
type Room struct {
	schools    *school.Schools
	inspection *inspection.Room
	upkeep     *upkeep.Room

	answers *lru.Cache[string, *atomic.Int32] // how many of a card counted in an hour
}

// New makes the room.
func New(all *school.Schools, i *inspection.Room, u *upkeep.Room) *Room {
	answers, _ := lru.New[string, *atomic.Int32](cardsAnswering) // fails for no size but 0
	r := &Room{all, i, u, answers}
	r.registerEvents()
	return r
}
