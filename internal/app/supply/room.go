// Package supply keeps the books of what is used up: kits in cases, stock and its lots, what will be needed, orders, deliveries.
package supply

import (
	"solfeggio/internal/app/demand"
	"solfeggio/internal/app/school"
	"solfeggio/internal/store/supplyrows"
)

// SupplySetting is what the API shows and takes of a row.
type SupplySetting = supplyrows.SupplySetting

// A Room does it for all schools.
type Room struct {
	schools *school.Schools
	demand  *demand.Room
}

// New makes the room beside the one that reckons what is used up.
func New(all *school.Schools, d *demand.Room) *Room {
	r := &Room{all, d}
	r.registerEvents()
	return r
}
