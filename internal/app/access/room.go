// Package access is who may come in: signing in, the people of a school, their passwords, and setting up a school.
package access

import (
	"solfeggio/internal/app/school"
)

// A Room is where it is done, for all schools.
type Room struct {
	*school.Schools
	hashing hashing
}

// New makes the room.
func New(all *school.Schools) *Room {
	return &Room{all, newHashing()}
}
