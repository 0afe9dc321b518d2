package settings

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"
	"golang.org/x/text/language"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/money"
	"solfeggio/internal/store"
	"solfeggio/internal/store/schoolrows"
)

// Settings are all settings of the school.
type Settings struct {
	School    schoolrows.School     `json:"school"`
	Terms     []schoolrows.Period   `json:"terms"`
	Breaks    []schoolrows.Period   `json:"breaks"`
	Ensembles []schoolrows.Ensemble `json:"ensembles"`
	Concerts  []schoolrows.Concert  `json:"concerts"`
}

// Settings reads the settings.
func (r *Room) Settings(ctx context.Context, by journal.Person) (Settings, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return Settings{}, err
	}
	return Settings{s.School, s.Terms, s.Breaks, s.Ensembles, s.Concerts}, nil
}

// SaveSchool saves the school's own choices.
func (r *Room) SaveSchool(ctx context.Context, by journal.Person, in schoolrows.School) error {
	in.ID = by.School
	if err := CheckSchool(&in); err != nil {
		return err
	}
	return r.schools.ChangeSettings(ctx, by, "save-school", in, func(tx *store.Tx, _ *school.Snapshot) error { return schoolrows.UpdateSchool(ctx, tx, in) })
}

// CheckSchool refuses choices that a school cannot have, and writes the code of its currency as ISO 4217 does.
func CheckSchool(s *schoolrows.School) (err error) {
	switch zone, err := time.LoadLocation(s.TimeZone); {
	case s.Name == "":
		return journal.Refuse("name", "give the school a name", s.Name)
	case err != nil || s.TimeZone == "" || zone == time.Local:
		return journal.Refuse("time_zone", "is not a time zone; write it as Europe/Vienna", s.TimeZone)
	case s.OpensAt < 0 || s.OpensAt > 1:
		return journal.Refuse("opens_at", "use 0 to 1", s.OpensAt)
	case s.LateAt < 1:
		return journal.Refuse("late_at", "use 1 or more", s.LateAt)
	}
	typed := s.Currency
	if s.Currency, err = money.CurrencyOf(string(typed)); err != nil {
		return journal.Refuse("currency", err.Error(), typed)
	}
	if _, err := language.Parse(s.Locale); err != nil {
		return journal.Refuse("locale", "is not a language tag; write it as en-GB", s.Locale)
	}
	_, err = school.HeatingOf(*s)
	return err
}

// SavePeriod adds or changes a term or a break.
func (r *Room) SavePeriod(ctx context.Context, by journal.Person, t schoolrows.PeriodTable, p schoolrows.Period) error {
	if p.EndsOn < p.StartsOn {
		return journal.Refuse("ends_on", "lies before the first day", p.EndsOn)
	}
	if p.EndsOn-p.StartsOn > 2*366 {
		return journal.Refuse("ends_on", "makes it longer than two years", p.EndsOn)
	}
	return r.schools.ChangeSettings(ctx, by, "save-"+string(t), p, func(tx *store.Tx, _ *school.Snapshot) error { return schoolrows.PutPeriod(ctx, tx, t, p) })
}

// DeletePeriod removes a term or a break.
func (r *Room) DeletePeriod(ctx context.Context, by journal.Person, t schoolrows.PeriodTable, id uuid.UUID, version int) error {
	return r.schools.ChangeSettings(
		ctx,
		by,
		"delete-"+string(t),
		school.Removed{ID: id, Version: version},
		func(tx *store.Tx, _ *school.Snapshot) error { return schoolrows.DeletePeriod(ctx, tx, t, id, version) },
	)
}

// SaveEnsemble adds or changes an ensemble with its rehearsals.
func (r *Room) SaveEnsemble(ctx context.Context, by journal.Person, e schoolrows.Ensemble) error {
	for n, r := range e.Rehearsals {
		if _, err := time.Parse("15:04", r.StartsAt); err != nil {
			return journal.Refuse(fmt.Sprintf("rehearsals[%d].starts_at", n), "is not a time; write it as 13:05", r.StartsAt)
		}
	}
	return r.schools.ChangeSettings(ctx, by, "save-ensemble", e, func(tx *store.Tx, _ *school.Snapshot) error { return schoolrows.PutEnsemble(ctx, tx, e) })
}

// DeleteEnsemble removes an ensemble that no instrument plays in.
func (r *Room) DeleteEnsemble(ctx context.Context, by journal.Person, id uuid.UUID, version int) error {
	return r.schools.ChangeSettings(
		ctx,
		by,
		"delete-ensemble",
		school.Removed{ID: id, Version: version},
		func(tx *store.Tx, _ *school.Snapshot) error { return schoolrows.DeleteEnsemble(ctx, tx, id, version) },
	)
}

// SaveConcert adds or changes a concert.
func (r *Room) SaveConcert(ctx context.Context, by journal.Person, c schoolrows.Concert) error {
	return r.schools.ChangeSettings(ctx, by, "save-concert", c, func(tx *store.Tx, _ *school.Snapshot) error { return schoolrows.PutConcert(ctx, tx, c) })
}

// DeleteConcert removes a concert.
func (r *Room) DeleteConcert(ctx context.Context, by journal.Person, id uuid.UUID, version int) error {
	return r.schools.ChangeSettings(
		ctx,
		by,
		"delete-concert",
		school.Removed{ID: id, Version: version},
		func(tx *store.Tx, _ *school.Snapshot) error { return schoolrows.DeleteConcert(ctx, tx, id, version) },
	)
}
