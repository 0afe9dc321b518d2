// Package inventory keeps the instruments themselves: their files, where they stand, what comes in from files and goes out to
// them, labels, stocktakes and rentals.
package inventory

import (
	"solfeggio/internal/app/care"
	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/settings"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/store/instrumentrows"
)

// What the API shows and takes of rows.
type (
	Rental      = instrumentrows.Rental
	RentalPrice = instrumentrows.RentalPrice
	Shelf       = instrumentrows.Shelf
)

// A Room does it for all schools.
type Room struct {
	schools    *school.Schools
	inspection *inspection.Room
	supply     *supply.Room
	lending    *lending.Room
	care       *care.Room
	settings   *settings.Room
}

// New makes the room beside those that it works with.
func New(
	all *school.Schools,
	inspection *inspection.Room,
	supply *supply.Room,
	lending *lending.Room,
	care *care.Room,
	settings *settings.Room,
) *Room {
	r := &Room{all, inspection, supply, lending, care, settings}
	r.registerEvents()
	return r
}
