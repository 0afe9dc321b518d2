package app

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"
	"golang.org/x/text/language"

	"solfeggio/internal/store"
)

// Settings are all settings of the school.
type Settings struct {
	School    store.School     `json:"school"`
	Terms     []store.Period   `json:"terms"`
	Breaks    []store.Period   `json:"breaks"`
	Ensembles []store.Ensemble `json:"ensembles"`
	Concerts  []store.Concert  `json:"concerts"`
}

// Settings reads the settings.
func (a *App) Settings(ctx context.Context, by Person) (Settings, error) {
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return Settings{}, err
	}
	return Settings{s.school, s.terms, s.breaks, s.ensembles, s.concerts}, nil
}

// SaveSchool saves the school's own choices.
func (a *App) SaveSchool(ctx context.Context, by Person, in store.School) error {
	in.ID = by.School
	if err := checkSchool(in); err != nil {
		return err
	}
	return a.change(ctx, by, "save-school", in, func(tx *store.Tx) error { return tx.UpdateSchool(ctx, in) })
}

func checkSchool(s store.School) error {
	switch zone, err := time.LoadLocation(s.TimeZone); {
	case s.Name == "":
		return invalid("name", "give the school a name", s.Name)
	case err != nil || s.TimeZone == "" || zone == time.Local:
		return invalid("time_zone", "is not a time zone; write it as Europe/Vienna", s.TimeZone)
	case s.OpensAt < 0 || s.OpensAt > 1:
		return invalid("opens_at", "use 0 to 1", s.OpensAt)
	case s.LateAt < 1:
		return invalid("late_at", "use 1 or more", s.LateAt)
	case len(s.Currency) != 3:
		return invalid("currency", "use the three letters of the currency, such as EUR", s.Currency)
	}
	if _, err := language.Parse(s.Locale); err != nil {
		return invalid("locale", "is not a language tag; write it as en-GB", s.Locale)
	}
	_, err := heatingOf(s)
	return err
}

// SavePeriod adds or changes a term or a break.
func (a *App) SavePeriod(ctx context.Context, by Person, t store.PeriodTable, p store.Period) error {
	if p.EndsOn < p.StartsOn {
		return invalid("ends_on", "lies before the first day", p.EndsOn)
	}
	if p.EndsOn-p.StartsOn > 2*366 {
		return invalid("ends_on", "makes it longer than two years", p.EndsOn)
	}
	return a.change(ctx, by, "save-"+string(t), p, func(tx *store.Tx) error { return tx.PutPeriod(ctx, t, p) })
}

// DeletePeriod removes a term or a break.
func (a *App) DeletePeriod(ctx context.Context, by Person, t store.PeriodTable, id uuid.UUID, version int) error {
	return a.change(ctx, by, "delete-"+string(t), removed{id, version}, func(tx *store.Tx) error { return tx.DeletePeriod(ctx, t, id, version) })
}

// SaveEnsemble adds or changes an ensemble with its rehearsals.
func (a *App) SaveEnsemble(ctx context.Context, by Person, e store.Ensemble) error {
	for n, r := range e.Rehearsals {
		if _, err := time.Parse("15:04", r.StartsAt); err != nil {
			return invalid(fmt.Sprintf("rehearsals[%d].starts_at", n), "is not a time; write it as 13:05", r.StartsAt)
		}
	}
	return a.change(ctx, by, "save-ensemble", e, func(tx *store.Tx) error { return tx.PutEnsemble(ctx, e) })
}

// DeleteEnsemble removes an ensemble that no instrument plays in.
func (a *App) DeleteEnsemble(ctx context.Context, by Person, id uuid.UUID, version int) error {
	return a.change(ctx, by, "delete-ensemble", removed{id, version}, func(tx *store.Tx) error { return tx.DeleteEnsemble(ctx, id, version) })
}

// SaveConcert adds or changes a concert.
func (a *App) SaveConcert(ctx context.Context, by Person, c store.Concert) error {
	return a.change(ctx, by, "save-concert", c, func(tx *store.Tx) error { return tx.PutConcert(ctx, c) })
}

// DeleteConcert removes a concert.
func (a *App) DeleteConcert(ctx context.Context, by Person, id uuid.UUID, version int) error {
	return a.change(ctx, by, "delete-concert", removed{id, version}, func(tx *store.Tx) error { return tx.DeleteConcert(ctx, id, version) })
}

type removed struct {
	ID      uuid.UUID `json:"id"`
	Version int       `json:"version"`
}

// change runs one change of the settings and records it.
func (a *App) change(ctx context.Context, by Person, operation string, in any, f func(tx *store.Tx) error) error {
	_, err := write(ctx, a, by, MayChangeSettings, func(tx *store.Tx, s *snapshot) (struct{}, error) {
		if err := f(tx); err != nil {
			return struct{}{}, err
		}
		_, err := a.record(ctx, tx, by, store.Event{What: store.SettingsChanged}, map[string]any{"operation": operation, "to": in})
		return struct{}{}, err
	})
	return err
}
