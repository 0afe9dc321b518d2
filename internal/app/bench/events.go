package bench

import (
	"context"
	"strings"

	"solfeggio/internal/app/school"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
)

// registerEvents makes known what this room writes into the log.
func (r *Room) registerEvents() {
	school.Register(r.schools, school.EventKind[TickDetail]{
		Name:     eventrows.BenchTicked,
		Sentence: func(d TickDetail, _ school.Told) string { return "At the bench: " + d.Step },
		Undo: func(ctx context.Context, tx *store.Tx, u school.Undoing, d TickDetail) ([]string, error) {
			return nil, undoTick(ctx, tx, *u.Event.Instrument, d)
		},
	})
	school.Register(r.schools, school.EventKind[BenchDetail]{
		Name: eventrows.BenchDone,
		Sentence: func(d BenchDetail, _ school.Told) string {
			if len(d.Products) > 0 {
				return "At the bench: " + d.Title + ", with " + strings.Join(d.Products, ", ")
			}
			return "At the bench: " + d.Title
		},
	})
	school.Register(r.schools, school.EventKind[LeftDetail]{
		Name:     eventrows.BenchLeft,
		Sentence: func(d LeftDetail, _ school.Told) string { return "Left the bench unfinished: " + d.Because },
	})
	school.Register(r.schools, school.EventKind[HoldDetail]{
		Name:     eventrows.HoldEnded,
		Sentence: func(d HoldDetail, _ school.Told) string { return "Let go: " + d.How },
		Undo: func(ctx context.Context, tx *store.Tx, u school.Undoing, d HoldDetail) ([]string, error) {
			return nil, undoRelease(ctx, tx, *u.Event.Instrument, d, u.School.Today)
		},
	})
}
