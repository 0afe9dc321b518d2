// Package access decides who may come in: signing in, the people of a school, their passwords, and setting up a school.
package access

import "solfeggio/internal/app/school"

// A Room does it for all schools.
type Room struct {
	*school.Schools
	hashing hashing
}

// New makes the room.
func New(all *school.Schools) *Room {
	return &Room{all, newHashing()}
}
