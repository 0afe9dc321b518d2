// Package settings keeps what a school decides for itself: its calendar, ensembles and concerts, and its schools of practice.
package settings

import "solfeggio/internal/app/school"

// A Room does it for all schools.
type Room struct {
	*school.Schools
}

// New makes the room.
func New(all *school.Schools) *Room {
	r := &Room{all}
	r.registerEvents()
	return r
}
