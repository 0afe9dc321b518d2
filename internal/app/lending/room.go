// Package lending lets instruments go out and come back. One door leads out and one way leads back, whoever asks.
package lending

import (
	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/supply"
)

// A Room does it for all schools.
type Room struct {
	schools    *school.Schools
	inspection *inspection.Room
	supply     *supply.Room
}

// New makes the room beside those that it works with.
func New(all *school.Schools, inspection *inspection.Room, supply *supply.Room) *Room {
	r := &Room{all, inspection, supply}
	r.registerEvents()
	return r
}
