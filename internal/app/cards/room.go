// Package cards is the players' own part: care cards with their public pages, what players report, packing up together, drills, and
// which habits cost most.
package cards

import (
	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/upkeep"
)

// A Room does it for all schools.
type Room struct {
	*school.Schools
	inspection *inspection.Room
	upkeep     *upkeep.Room
}

// New makes the room.
func New(all *school.Schools, i *inspection.Room, u *upkeep.Room) *Room {
	r := &Room{all, i, u}
	r.registerEvents()
	return r
}
