package schoolrows

import (
	"context"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/store/internal/query"
)

// Period is a term or a break; both its days belong to it.
type Period struct {
	ID       uuid.UUID `db:"id" json:"id"`
	Name     string    `db:"name" json:"name" minLength:"1" maxLength:"80"`
	StartsOn day.Day   `db:"starts_on" json:"starts_on"`
	EndsOn   day.Day   `db:"ends_on" json:"ends_on"`
	Version  int       `db:"version" json:"version" doc:"0 for a new one; else the version that was read"`
}

// Ensemble is a group that rehearses.
type Ensemble struct {
	ID         uuid.UUID   `db:"id" json:"id"`
	Name       string      `db:"name" json:"name" minLength:"1" maxLength:"80"`
	Version    int         `db:"version" json:"version" doc:"0 for a new one; else the version that was read"`
	Rehearsals []Rehearsal `db:"-" json:"rehearsals"`
}

// Rehearsal is a weekly time of an ensemble.
type Rehearsal struct {
	ID         uuid.UUID `db:"id" json:"id"`
	EnsembleID uuid.UUID `db:"ensemble_id" json:"-"`
	Weekday    int       `db:"weekday" json:"weekday" minimum:"1" maximum:"7" doc:"Monday = 1"`
	StartsAt   string    `db:"starts_at" json:"starts_at" pattern:"^([01][0-9]|2[0-3]):[0-5][0-9]$" patternDescription:"a time such as 13:05"`
	Minutes    int       `db:"minutes" json:"minutes" minimum:"1" maximum:"1440"`
	PlayFactor float64   `db:"play_factor" json:"play_factor" minimum:"0" maximum:"1" doc:"Share of the minutes that is playing"`
}

// Concert is a performance of one or more ensembles.
type Concert struct {
	ID         uuid.UUID   `db:"id" json:"id"`
	Name       string      `db:"name" json:"name" minLength:"1" maxLength:"80"`
	HeldOn     day.Day     `db:"held_on" json:"held_on"`
	Minutes    int         `db:"minutes" json:"minutes" minimum:"1" maximum:"1440"`
	PlayFactor float64     `db:"play_factor" json:"play_factor" minimum:"0" maximum:"1"`
	Ensembles  []uuid.UUID `db:"-" json:"ensembles"`
	Version    int         `db:"version" json:"version" doc:"0 for a new one; else the version that was read"`
}

// PeriodTable names one of the two tables of periods.
type PeriodTable string

// The tables of periods.
const (
	Terms  PeriodTable = "term"
	Breaks PeriodTable = "school_break"
)

// Periods lists the terms or the breaks by their first day.
func Periods(ctx context.Context, tx *query.Tx, t PeriodTable) ([]Period, error) {
	return query.List[Period](ctx, tx, `SELECT id, name, starts_on, ends_on, version FROM `+string(t)+`
		WHERE school_id = $1 ORDER BY starts_on, ends_on, id`, tx.School)
}

// PutPeriod adds a period (Version 0) or changes the one of that version.
func PutPeriod(ctx context.Context, tx *query.Tx, t PeriodTable, p Period) error {
	if p.Version == 0 {
		return query.Do(ctx, tx, `INSERT INTO `+string(t)+` (school_id, id, name, starts_on, ends_on)
			VALUES ($1, $2, $3, $4, $5)`, tx.School, p.ID, p.Name, p.StartsOn, p.EndsOn)
	}
	return query.DoOne(ctx, tx, `UPDATE `+string(t)+` SET name = $3, starts_on = $4, ends_on = $5, version = version + 1
		WHERE school_id = $1 AND id = $2 AND version = $6`, tx.School, p.ID, p.Name, p.StartsOn, p.EndsOn, p.Version)
}

// DeletePeriod removes the period of that version.
func DeletePeriod(ctx context.Context, tx *query.Tx, t PeriodTable, id uuid.UUID, version int) error {
	return deleteRow(ctx, tx, string(t), id, version)
}

func deleteRow(ctx context.Context, tx *query.Tx, table string, id uuid.UUID, version int) error {
	return query.DoOne(ctx, tx, `DELETE FROM `+table+` WHERE school_id = $1 AND id = $2 AND version = $3`, tx.School, id, version)
}

// Ensembles lists the ensembles by name, each with its rehearsals in the order of the week.
func Ensembles(ctx context.Context, tx *query.Tx) ([]Ensemble, error) {
	var list []Ensemble
	if err := query.Select(ctx, tx, &list, `SELECT id, name, version FROM ensemble WHERE school_id = $1 ORDER BY name`,
		tx.School); err != nil {
		return nil, err
	}
	var all []Rehearsal
	if err := query.Select(ctx, tx, &all, `
		SELECT id, ensemble_id, weekday, to_char(starts_at, 'HH24:MI') AS starts_at, minutes, play_factor
		FROM rehearsal WHERE school_id = $1 ORDER BY weekday, starts_at, id`, tx.School); err != nil {
		return nil, err
	}
	for i := range list {
		list[i].Rehearsals = []Rehearsal{}
		for _, r := range all {
			if r.EnsembleID == list[i].ID {
				list[i].Rehearsals = append(list[i].Rehearsals, r)
			}
		}
	}
	return query.NonNil(list, nil)
}

// PutEnsemble adds or changes an ensemble; its rehearsals become those given.
func PutEnsemble(ctx context.Context, tx *query.Tx, e Ensemble) error {
	var err error
	if e.Version == 0 {
		_, err = query.Exec(ctx, tx, `INSERT INTO ensemble (school_id, id, name) VALUES ($1, $2, $3)`, tx.School, e.ID, e.Name)
	} else {
		err = query.DoOne(ctx, tx, `UPDATE ensemble SET name = $3, version = version + 1
			WHERE school_id = $1 AND id = $2 AND version = $4`, tx.School, e.ID, e.Name, e.Version)
	}
	if err != nil {
		return err
	}
	if _, err := query.Exec(ctx, tx, `DELETE FROM rehearsal WHERE school_id = $1 AND ensemble_id = $2`, tx.School, e.ID); err != nil {
		return err
	}
	for _, r := range e.Rehearsals {
		if _, err := query.Exec(ctx, tx, `
			INSERT INTO rehearsal (school_id, id, ensemble_id, weekday, starts_at, minutes, play_factor)
			VALUES ($1, $2, $3, $4, $5::text::time, $6, $7)`, tx.School, r.ID, e.ID, r.Weekday, r.StartsAt, r.Minutes, r.PlayFactor); err != nil {
			return err
		}
	}
	return nil
}

// DeleteEnsemble removes the ensemble of that version; one that instruments still play in is refused.
func DeleteEnsemble(ctx context.Context, tx *query.Tx, id uuid.UUID, version int) error {
	return deleteRow(ctx, tx, "ensemble", id, version)
}

// Concerts lists the concerts by day.
func Concerts(ctx context.Context, tx *query.Tx) ([]Concert, error) {
	var list []Concert
	if err := query.Select(ctx, tx, &list, `SELECT id, name, held_on, minutes, play_factor, version FROM concert
		WHERE school_id = $1 ORDER BY held_on, id`, tx.School); err != nil {
		return nil, err
	}
	var links []struct {
		Concert  uuid.UUID `db:"concert_id"`
		Ensemble uuid.UUID `db:"ensemble_id"`
	}
	if err := query.Select(ctx, tx, &links, `SELECT concert_id, ensemble_id FROM concert_ensemble
		WHERE school_id = $1 ORDER BY ensemble_id`, tx.School); err != nil {
		return nil, err
	}
	for i := range list {
		list[i].Ensembles = []uuid.UUID{}
		for _, l := range links {
			if l.Concert == list[i].ID {
				list[i].Ensembles = append(list[i].Ensembles, l.Ensemble)
			}
		}
	}
	return query.NonNil(list, nil)
}

// PutConcert adds or changes a concert.
func PutConcert(ctx context.Context, tx *query.Tx, c Concert) error {
	var err error
	if c.Version == 0 {
		_, err = query.Exec(ctx, tx, `INSERT INTO concert (school_id, id, name, held_on, minutes, play_factor)
			VALUES ($1, $2, $3, $4, $5, $6)`, tx.School, c.ID, c.Name, c.HeldOn, c.Minutes, c.PlayFactor)
	} else {
		err = query.DoOne(ctx, tx, `UPDATE concert SET name = $3, held_on = $4, minutes = $5, play_factor = $6, version = version + 1
			WHERE school_id = $1 AND id = $2 AND version = $7`, tx.School, c.ID, c.Name, c.HeldOn, c.Minutes, c.PlayFactor, c.Version)
	}
	if err != nil {
		return err
	}
	if _, err := query.Exec(ctx, tx, `DELETE FROM concert_ensemble WHERE school_id = $1 AND concert_id = $2`, tx.School, c.ID); err != nil {
		return err
	}
	for _, e := range c.Ensembles {
		if _, err := query.Exec(ctx, tx, `INSERT INTO concert_ensemble (school_id, concert_id, ensemble_id)
			VALUES ($1, $2, $3)`, tx.School, c.ID, e); err != nil {
			return err
		}
	}
	return nil
}

// DeleteConcert removes the concert of that version.
func DeleteConcert(ctx context.Context, tx *query.Tx, id uuid.UUID, version int) error {
	return deleteRow(ctx, tx, "concert", id, version)
}
