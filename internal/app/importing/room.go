// Package importing reads files of instruments and writes them.
package importing

import (
	"solfeggio/internal/app/care"
	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/settings"
)

// A Room does it for all schools.
type Room struct {
	schools   *school.Schools
	inventory *inventory.Room
	lending   *lending.Room
	settings  *settings.Room
	care      *care.Room
}

// New makes the room beside those that it works with.
func New(all *school.Schools, inventory *inventory.Room, lending *lending.Room, settings *settings.Room, care *care.Room) *Room {
	return &Room{all, inventory, lending, settings, care}
}
