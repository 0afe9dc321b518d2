// Package today says what needs doing now: who cannot play, what fits into the minutes there are, rounds.
package today

import "solfeggio/internal/app/school"

// A Room does it for all schools.
type Room struct {
	*school.Schools
}

// New makes the room.
func New(all *school.Schools) *Room {
	return &Room{all}
}
