// Package roster is players: who they are, how they come in from files and are known again, and how they leave.
package roster

import (
	"solfeggio/internal/app/school"
)

// A Room is where it is done, for all schools.
type Room struct {
	*school.Schools
}

// New makes the room.
func New(all *school.Schools) *Room {
	return &Room{all}
}
