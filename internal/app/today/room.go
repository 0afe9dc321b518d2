// Package today says what needs doing now: who cannot play, what fits into the minutes there are, rounds.
package today

import (
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/upkeep"
)

// A Room does it for all schools.
type Room struct {
	*school.Schools
	upkeep *upkeep.Room
}

// New makes the room.
func New(all *school.Schools, u *upkeep.Room) *Room {
	return &Room{all, u}
}
