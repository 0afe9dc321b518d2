// Package today is what needs doing now: who cannot play, what fits into the minutes there are, rounds.
package today

import (
	"solfeggio/internal/app/letters"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/supply"
)

// A Room is where it is done, for all schools.
type Room struct {
	*school.Schools
	supply  *supply.Room
	letters *letters.Room
}

// New makes the room beside those that it works with.
func New(all *school.Schools, supply *supply.Room, letters *letters.Room) *Room {
	return &Room{all, supply, letters}
}
