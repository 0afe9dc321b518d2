// Package supply keeps the books of what is used up: kits in cases, stock and its lots, what will be needed, orders, deliveries.
package supply

import "solfeggio/internal/app/school"

// A Room does it for all schools.
type Room struct {
	*school.Schools
}

// New makes the room.
func New(all *school.Schools) *Room {
	r := &Room{all}
	r.registerEvents()
	return r
}
