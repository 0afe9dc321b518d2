package care

import (
	"context"

	"solfeggio/internal/app/school"
	"solfeggio/internal/core/care"
	"solfeggio/internal/store"
	"solfeggio/internal/store/carerows"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/upkeeprows"
)

// registerEvents makes known what this room writes into the log.
func (r *Room) registerEvents() {
	school.Register(r.schools, school.EventKind[CareDetail]{
		Name: eventrows.CareDone,
		Sentence: func(d CareDetail, e school.Told) string {
			on := ""
			if d.DoneOn != e.On {
				on = " on " + d.DoneOn.Words()
			}
			return d.Title + " done" + on + early[d.State] + r.because(d.Cause)
		},
		Undo: func(ctx context.Context, tx *store.Tx, u school.Undoing, _ CareDetail) ([]string, error) {
			if err := upkeeprows.UndoLives(ctx, tx, u.Event.ID); err != nil {
				return nil, err
			}
			return nil, carerows.UndoCompletion(ctx, tx, u.Event.ID)
		},
	})
}

// because says why something had come to its end; nothing when nobody said.
func (r *Room) because(cause string) string {
	for _, e := range r.schools.Catalog.Endings {
		if e.Key == cause {
			return ": " + e.Name
		}
	}
	return ""
}

var early = map[care.State]string{care.Late: ", late", care.Fresh: ", early"}
