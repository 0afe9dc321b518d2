// Package care is care that was done: every clock that it restarts.
package care

import (
	"solfeggio/internal/app/school"
)

// A Room is where it is done, for all schools.
type Room struct {
	*school.Schools
}

// New makes the room.
func New(all *school.Schools) *Room {
	r := &Room{all}
	r.registerEvents()
	return r
}
