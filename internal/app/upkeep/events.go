package upkeep

import (
	"context"
	"fmt"

	"github.com/google/uuid"

	"solfeggio/internal/app/school"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/supplyrows"
	"solfeggio/internal/store/upkeeprows"
)

// registerEvents makes known what this room writes into the log.
func (r *Room) registerEvents() {
	school.Register(r.schools, school.EventKind[ReedDetail]{
		Name: eventrows.ReedOpened,
		Sentence: func(d ReedDetail, e school.Told) string {
			return fmt.Sprintf("New reed in place %d", d.Place) + e.By("of")
		},
		Undo: func(ctx context.Context, tx *store.Tx, _ school.Undoing, d ReedDetail) ([]string, error) {
			if err := putBack(ctx, tx, d.Took); err != nil {
				return nil, err
			}
			return nil, upkeeprows.DeleteReed(ctx, tx, d.Reed)
		},
	})
	school.Register(r.schools, school.EventKind[ReedDetail]{
		Name: eventrows.ReedEnded,
		Sentence: func(d ReedDetail, e school.Told) string {
			return fmt.Sprintf("Reed in place %d out", d.Place) + e.By("of")
		},
		Undo: func(ctx context.Context, tx *store.Tx, _ school.Undoing, d ReedDetail) ([]string, error) {
			return nil, upkeeprows.KeepReed(ctx, tx, d.Reed)
		},
	})
	school.Register(r.schools, school.EventKind[TakenDetail]{
		Name:     eventrows.StringTaken,
		Sentence: func(d TakenDetail, _ school.Told) string { return "Taken from stock: " + d.Name },
		Undo: func(ctx context.Context, tx *store.Tx, _ school.Undoing, d TakenDetail) ([]string, error) {
			return nil, putBack(ctx, tx, d.Took)
		},
	})
}

// putBack puts what was taken from lots back into them.
func putBack(ctx context.Context, tx *store.Tx, took map[uuid.UUID]float64) error {
	for lot, quantity := range took {
		if err := supplyrows.PutBack(ctx, tx, lot, quantity); err != nil {
			return err
		}
	}
	return nil
}
