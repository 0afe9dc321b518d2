// Package preparing plans what must begin when, so that strings are settled and reeds broken in at a concert, and puts it on calendars.
package preparing

import (
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/upkeep"
)

// A Room does it for all schools.
type Room struct {
	schools *school.Schools
	upkeep  *upkeep.Room
}

// New makes the room beside the one that knows what is renewed.
func New(all *school.Schools, u *upkeep.Room) *Room { return &Room{all, u} }
