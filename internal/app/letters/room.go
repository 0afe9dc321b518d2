// Package letters writes for a school: its wordings, and notices in a simulated outbox.
package letters

import (
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/supply"
)

// A Room does it for all schools.
type Room struct {
	schools *school.Schools
	supply  *supply.Room
}

// New makes the room beside those that it works with.
func New(all *school.Schools, supply *supply.Room) *Room {
	r := &Room{all, supply}
	r.registerEvents()
	return r
}
