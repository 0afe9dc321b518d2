// Package demand reckons what players and work use up: in a week, for one turn at the bench, for a kit, in a year of another profile.
package demand

import (
	"solfeggio/internal/app/school"
)

// A Room does it for all schools.
type Room struct {
	schools *school.Schools
}

// New makes the room.
func New(all *school.Schools) *Room { return &Room{all} }
