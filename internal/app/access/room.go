// Package access is who may come in: signing in, the people of a school, their passwords, and setting up a school.
package access

import (
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/settings"
)

// A Room is where it is done, for all schools.
type Room struct {
	*school.Schools
	settings *settings.Room
	hashing  hashing
}

// New makes the room beside those that it works with.
func New(all *school.Schools, settings *settings.Room) *Room {
	return &Room{all, settings, newHashing()}
}
