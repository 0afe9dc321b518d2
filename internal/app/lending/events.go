package lending

import (
	"cmp"
	"context"
	"reflect"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
)

// registerEvents makes known what this room writes into the log.
func (r *Room) registerEvents() {
	school.Register(r.schools, school.EventKind[school.HandedOutDetail]{
		Name: eventrows.HandedOut, Need: journal.MayChangeInstruments,
		Player: whom,
		Sentence: func(_ school.HandedOutDetail, e school.Told) string {
			return "Handed out to " + cmp.Or(e.Player, "a player")
		},
		Undo: func(ctx context.Context, tx *store.Tx, u school.Undoing, d school.HandedOutDetail) ([]string, error) {
			if err := r.undoHandOut(ctx, tx, u.School, u.Event, d); err != nil {
				return nil, err
			}
			return r.undoLoan(ctx, tx, u, d)
		},
	})
	school.Register(r.schools, school.EventKind[school.HandedOutDetail]{
		Name: eventrows.Returned, Need: journal.MayChangeInstruments,
		Player:   whom,
		Sentence: func(_ school.HandedOutDetail, e school.Told) string { return "Came back" + e.By("from") },
		Undo: func(ctx context.Context, tx *store.Tx, u school.Undoing, d school.HandedOutDetail) ([]string, error) {
			return r.undoReturn(ctx, tx, u, d)
		},
	})
	school.Register(r.schools, school.EventKind[school.HandedOutDetail]{
		Name:   eventrows.Agreed,
		Player: whom,
		Sentence: func(_ school.HandedOutDetail, e school.Told) string {
			return "The agreement is signed" + e.By("by or for")
		},
	})
	school.Register(r.schools, school.EventKind[ChangeDetail]{
		Name: eventrows.InstrumentChanged, Need: journal.MayChangeInstruments,
		Sentence: func(d ChangeDetail, _ school.Told) string {
			if names := d.changed(); len(names) > 0 {
				return "Changed: " + strings.Join(names, ", ")
			}
			return "Changed how it is played"
		},
		Undo: func(ctx context.Context, tx *store.Tx, u school.Undoing, d ChangeDetail) ([]string, error) {
			return nil, r.undoChange(ctx, tx, u, d)
		},
	})
}

// whom a hand-out, a return or an agreement concerns.
func whom(d school.HandedOutDetail) *uuid.UUID { return d.PlayerID }

// changed names the fields that were changed.
func (d ChangeDetail) changed() (names []string) {
	if d.Before == nil || d.After == nil {
		return nil
	}
	before, after := reflect.ValueOf(*d.Before), reflect.ValueOf(*d.After)
	for n := range before.NumField() {
		name, _, _ := strings.Cut(before.Type().Field(n).Tag.Get("json"), ",")
		if name != "version" && name != "-" && !reflect.DeepEqual(before.Field(n).Interface(), after.Field(n).Interface()) {
			names = append(names, strings.ReplaceAll(name, "_", " "))
		}
	}
	return names
}
