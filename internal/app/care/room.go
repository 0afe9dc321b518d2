// Package care records care that was done, and begins anew every clock that it restarts.
package care

import "solfeggio/internal/app/school"

// A Room does it for all schools.
type Room struct {
	schools *school.Schools
}

// New makes the room.
func New(all *school.Schools) *Room {
	r := &Room{all}
	r.registerEvents()
	return r
}
