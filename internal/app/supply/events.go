package supply

import (
	"context"
	"strings"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
)

// registerEvents makes known what this room writes into the log.
func (r *Room) registerEvents() {
	undo := func(ctx context.Context, tx *store.Tx, u school.Undoing, d KitDetail) ([]string, error) {
		return nil, r.undoKit(ctx, tx, u, d)
	}
	school.Register(r.schools, school.EventKind[OrderDetail]{
		Name: eventrows.SuppliesOrdered, Need: journal.MayChangeInstruments,
		Sentence: func(d OrderDetail, _ school.Told) string { return "Ordered " + strings.Join(d.Lines, ", ") },
		Undo:     undoOrder,
	})
	school.Register(r.schools, school.EventKind[KitDetail]{
		Name: eventrows.KitChecked, Undo: undo,
		Sentence: func(d KitDetail, _ school.Told) string {
			if len(d.Changes) == 0 {
				return "Kit looked through, nothing new"
			}
			return "Kit: " + d.list(func(c KitChange) string { return catalog.InText(c.Name) + " " + string(c.After) })
		},
	})
	school.Register(r.schools, school.EventKind[KitDetail]{
		Name: eventrows.KitRefilled, Undo: undo,
		Sentence: func(d KitDetail, _ school.Told) string {
			return "Kit refilled: " + d.list(func(c KitChange) string { return catalog.InText(c.Name) })
		},
	})
}

func (d KitDetail) list(say func(KitChange) string) string {
	things := make([]string, len(d.Changes))
	for n, c := range d.Changes {
		things[n] = say(c)
	}
	return strings.Join(things, ", ")
}
