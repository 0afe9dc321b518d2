package care

import (
	"context"

	"solfeggio/internal/app/school"
	"solfeggio/internal/core/care"
	"solfeggio/internal/store"
)

// registerEvents makes known what this room writes into the log.
func (r *Room) registerEvents() {
	school.Register(r.Schools, school.EventKind[CareDetail]{
		Name: store.CareDone,
		Sentence: func(d CareDetail, e school.Told) string {
			on := ""
			if d.DoneOn != e.On {
				on = " on " + d.DoneOn.Words()
			}
			return d.Title + " done" + on + early[d.State]
		},
		Undo: func(ctx context.Context, tx *store.Tx, u school.Undoing, _ CareDetail) ([]string, error) {
			return nil, tx.UndoCompletion(ctx, u.Event.ID)
		},
	})
}

var early = map[care.State]string{care.Late: ", late", care.Fresh: ", early"}
