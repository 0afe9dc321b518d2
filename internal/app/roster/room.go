// Package roster keeps the players: who they are, how they come in from files and are known again, and how they leave.
package roster

import "solfeggio/internal/app/school"

// A Room does it for all schools.
type Room struct {
	*school.Schools
}

// New makes the room.
func New(all *school.Schools) *Room {
	return &Room{all}
}
