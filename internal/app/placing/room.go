// Package placing works out who should get which instrument: proposals, sizes that will be outgrown, and what must be rented.
package placing

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
