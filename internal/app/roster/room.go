// Package roster keeps the players: who they are, how they come in from files and are known again, and how they leave.
package roster

import (
	"fmt"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/playerrows"
)

// Player is what the API shows and takes of a row.
type Player = playerrows.Player

// A Room does it for all schools.
type Room struct {
	schools *school.Schools
}

// New makes the room.
func New(all *school.Schools) *Room {
	r := &Room{all}
	school.Register(all, school.EventKind[manyDetail]{
		Name: eventrows.PlayersChanged, Need: journal.MayChangeInstruments, Undo: r.undoMany,
		Sentence: func(d manyDetail, _ school.Told) string {
			return fmt.Sprintf("Changed %d players at once", len(d.Before))
		},
	})
	return r
}
