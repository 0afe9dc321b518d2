// Package inventory keeps the instruments themselves: their files, where they stand, labels and stocktakes.
package inventory

import (
	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/settings"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/store/instrumentrows"
)

// Shelf is what the API shows and takes of a row.
type Shelf = instrumentrows.Shelf

// A Room does it for all schools.
type Room struct {
	schools    *school.Schools
	inspection *inspection.Room
	supply     *supply.Room
	lending    *lending.Room
	settings   *settings.Room
}

// New makes the room beside those that it works with.
func New(
	all *school.Schools,
	inspection *inspection.Room,
	supply *supply.Room,
	lending *lending.Room,
	settings *settings.Room,
) *Room {
	r := &Room{all, inspection, supply, lending, settings}
	r.registerEvents()
	return r
}
