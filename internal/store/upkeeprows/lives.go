// Package upkeeprows keeps the lives of strings, hair and reeds, and what is planned of them.
package upkeeprows

import (
	"context"
	"errors"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/store/internal/query"
)

// PartLife is how long a part of an instrument, such as a string, has been on it.
type PartLife struct {
	ID         uuid.UUID  `db:"id" json:"id"`
	Instrument uuid.UUID  `db:"instrument_id" json:"-"`
	Part       string     `db:"part" json:"part"`
	PutOn      day.Day    `db:"put_on" json:"put_on"`
	Product    string     `db:"product" json:"product" maxLength:"80" doc:"What it is, in the school's words; may be empty"`
	Tension    string     `db:"tension" json:"tension" doc:"As the catalogue names it; may be empty"`
	EndKind    string     `db:"end_kind" json:"end_kind" enum:",ball,loop" doc:"Of a string; may be empty"`
	EndedOn    *day.Day   `db:"ended_on" json:"ended_on,omitempty"`
	Cause      string     `db:"cause" json:"cause" doc:"Why it ended; empty while it lasts, or when nobody said"`
	BegunBy    uuid.UUID  `db:"begun_by" json:"-"`
	EndedBy    *uuid.UUID `db:"ended_by" json:"-"`
}

const lifeColumns = `id, instrument_id, part, put_on, product, tension, end_kind, ended_on, cause, begun_by, ended_by`

// OpenLives lists what is on the instruments named, or on all.
func OpenLives(ctx context.Context, tx *query.Tx, of ...uuid.UUID) ([]PartLife, error) {
	var list []PartLife
	where, args := query.Only("instrument_id", of, tx.School)
	err := query.Select(ctx, tx, &list, `SELECT `+lifeColumns+` FROM part_life WHERE school_id = $1 AND ended_on IS NULL`+where, args...)
	return list, err
}

// Lives lists all lives of the instruments named, or of all, by instrument, part and time.
func Lives(ctx context.Context, tx *query.Tx, of ...uuid.UUID) ([]PartLife, error) {
	where, args := query.Only("instrument_id", of, tx.School)
	return query.List[PartLife](ctx, tx, `SELECT `+lifeColumns+` FROM part_life WHERE school_id = $1`+where+`
		ORDER BY instrument_id, part, put_on, begun_by`, args...)
}

// BeginLife puts a part on in place of the one that was there, which ends for a cause. What was put on earlier than something else lies
// between the lives around it.
func BeginLife(ctx context.Context, tx *query.Tx, l PartLife, cause string) error {
	at := []any{tx.School, l.Instrument, l.Part, l.PutOn}
	var before PartLife
	err := query.Get(ctx, tx, &before, `SELECT `+lifeColumns+` FROM part_life
		WHERE school_id = $1 AND instrument_id = $2 AND part = $3 AND put_on <= $4 AND (ended_on IS NULL OR ended_on > $4)
		ORDER BY put_on DESC, begun_by DESC LIMIT 1`, at...)
	switch {
	case err == nil:
		l.EndedOn, l.Cause, l.EndedBy = before.EndedOn, before.Cause, before.EndedBy
		if err := endLife(ctx, tx, before.ID, &l.PutOn, cause, &l.BegunBy); err != nil {
			return err
		}
	case !errors.Is(err, query.ErrNotFound):
		return err
	default:
		var next PartLife
		err := query.Get(ctx, tx, &next, `SELECT `+lifeColumns+` FROM part_life
			WHERE school_id = $1 AND instrument_id = $2 AND part = $3 AND put_on > $4 ORDER BY put_on, begun_by LIMIT 1`, at...)
		switch {
		case err == nil:
			l.EndedOn, l.EndedBy = &next.PutOn, &next.BegunBy
		case !errors.Is(err, query.ErrNotFound):
			return err
		}
	}
	l.ID = uuid.Must(uuid.NewV7())
	return query.NamedDo(ctx, tx, `INSERT INTO part_life (school_id, `+lifeColumns+`)
		VALUES (:school_id, :id, :instrument_id, :part, :put_on, :product, :tension, :end_kind, :ended_on, :cause, :begun_by, :ended_by)`,
		struct {
			School uuid.UUID `db:"school_id"`
			PartLife
		}{tx.School, l})
}

func endLife(ctx context.Context, tx *query.Tx, id uuid.UUID, on *day.Day, cause string, by *uuid.UUID) error {
	return query.DoOne(ctx, tx, `UPDATE part_life SET ended_on = $3, cause = $4, ended_by = $5
		WHERE school_id = $1 AND id = $2`, tx.School, id, on, cause, by)
}

// UndoLives takes back what an event put on: what was there before lasts as long as this did.
func UndoLives(ctx context.Context, tx *query.Tx, event uuid.UUID) error {
	var undone []PartLife
	const sql = `DELETE FROM part_life WHERE school_id = $1 AND begun_by = $2 RETURNING ` + lifeColumns
	if err := query.Select(ctx, tx, &undone, sql, tx.School, event); err != nil {
		return err
	}
	for _, l := range undone {
		if _, err := query.Exec(ctx, tx, `UPDATE part_life SET ended_on = $4, cause = $5, ended_by = $6
			WHERE school_id = $1 AND ended_by = $2 AND instrument_id = $3 AND part = $7`,
			tx.School, event, l.Instrument, l.EndedOn, l.Cause, l.EndedBy, l.Part); err != nil {
			return err
		}
	}
	return nil
}

// PlannedChange is a part that is to be renewed on a day.
type PlannedChange struct {
	Instrument uuid.UUID `db:"instrument_id" json:"instrument_id"`
	Part       string    `db:"part" json:"part"`
	On         day.Day   `db:"on_day" json:"on"`
}

// PlannedChanges lists what is planned for the instruments named, or for all, by day.
func PlannedChanges(ctx context.Context, tx *query.Tx, of ...uuid.UUID) ([]PlannedChange, error) {
	where, args := query.Only("instrument_id", of, tx.School)
	return query.List[PlannedChange](ctx, tx, `SELECT instrument_id, part, on_day FROM planned_change WHERE school_id = $1`+where+`
		ORDER BY on_day, instrument_id, part`, args...)
}

// PlanChange plans a part for a day, in place of what was planned for it.
func PlanChange(ctx context.Context, tx *query.Tx, p PlannedChange) error {
	return query.Do(ctx, tx, `INSERT INTO planned_change (school_id, instrument_id, part, on_day) VALUES ($1, $2, $3, $4)
		ON CONFLICT (school_id, instrument_id, part) DO UPDATE SET on_day = excluded.on_day`, tx.School, p.Instrument, p.Part, p.On)
}

// DropPlanned takes what is planned for a part of an instrument off the plan, or with no part named all that is planned for it. It does
// nothing where nothing is.
func DropPlanned(ctx context.Context, tx *query.Tx, instrument uuid.UUID, part string) error {
	return query.Do(ctx, tx, `DELETE FROM planned_change WHERE school_id = $1 AND instrument_id = $2 AND ($3 = '' OR part = $3)`,
		tx.School, instrument, part)
}

// LearnedInterval is how often parts are renewed by a routine on instruments of a kind, as the school learned and accepted it.
type LearnedInterval struct {
	Kind         string  `db:"kind"`
	Routine      string  `db:"routine"`
	Days         float64 `db:"days"`
	Observations int     `db:"observations"`
}

// LearnedIntervals lists what was accepted.
func LearnedIntervals(ctx context.Context, tx *query.Tx) ([]LearnedInterval, error) {
	return query.List[LearnedInterval](ctx, tx,
		`SELECT kind, routine, days, observations FROM learned_interval WHERE school_id = $1 ORDER BY kind, routine`,
		tx.School,
	)
}

// AcceptInterval puts a learned interval in place of the trade's.
func AcceptInterval(ctx context.Context, tx *query.Tx, l LearnedInterval) error {
	return query.Do(
		ctx, tx,
		`INSERT INTO learned_interval (school_id, kind, routine, days, observations) VALUES ($1, $2, $3, $4, $5)
		ON CONFLICT (school_id, kind, routine) DO UPDATE SET days = excluded.days, observations = excluded.observations`,
		tx.School,
		l.Kind,
		l.Routine,
		l.Days,
		l.Observations,
	)
}

// DropInterval goes back to the trade's interval.
func DropInterval(ctx context.Context, tx *query.Tx, kind, routine string) error {
	return query.Do(
		ctx, tx,
		`DELETE FROM learned_interval WHERE school_id = $1 AND kind = $2 AND routine = $3`,
		tx.School,
		kind,
		routine,
	)
}

// SetBowValue says what the bow of an instrument is worth; nil when that is not known.
func SetBowValue(ctx context.Context, tx *query.Tx, instrument uuid.UUID, cents *int64) error {
	return query.MetOne(
		query.Exec(
			ctx, tx,
			`UPDATE instrument SET bow_value_cents = $3 WHERE school_id = $1 AND id = $2`,
			tx.School,
			instrument,
			cents,
		),
	)
}
