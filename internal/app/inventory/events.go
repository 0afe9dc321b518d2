package inventory

import (
	"context"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
)

// NotFoundDetail is what the log keeps of an instrument that a stocktake did not find.
type NotFoundDetail struct {
	Stocktake uuid.UUID `json:"stocktake"`
	Room      string    `json:"room"`
	Slot      string    `json:"slot"`
}

// registerEvents makes known what this room writes into the log.
func (r *Room) registerEvents() {
	undo := func(ctx context.Context, tx *store.Tx, u school.Undoing, _ struct{}) ([]string, error) {
		return nil, r.undoAdding(ctx, tx, u)
	}
	school.Register(r.schools, school.EventKind[struct{}]{
		Name: eventrows.Imported, Need: journal.MayChangeInstruments,
		Sentence: func(struct{}, school.Told) string { return "Came in with an import" },
		Undo:     undo,
	})
	school.Register(r.schools, school.EventKind[struct{}]{
		Name: eventrows.InstrumentAdded, Need: journal.MayChangeInstruments,
		Sentence: func(struct{}, school.Told) string { return "Added to the school's instruments" },
		Undo:     undo,
	})
	school.Register(r.schools, school.EventKind[NotFoundDetail]{
		Name: eventrows.NotFound,
		Sentence: func(d NotFoundDetail, _ school.Told) string {
			if d.Slot == "" {
				return "Not found at a stocktake"
			}
			return "Not found at a stocktake in " + d.Slot
		},
	})
}
