// Package instrumentrows keeps the instruments: in whose hands, promised to whom, rented from whom, on which shelf, counted when.
package instrumentrows

import (
	"context"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/store/internal/query"
)

// Instrument is one instrument of the school.
type Instrument struct {
	ID         uuid.UUID     `db:"id" json:"id"`
	Tag        string        `db:"tag" json:"tag"`
	Kind       string        `db:"kind" json:"kind"`
	Size       string        `db:"size" json:"size"`
	Body       string        `db:"body" json:"body" doc:"Key of the body's material"`
	Maker      string        `db:"maker" json:"maker"`
	Model      string        `db:"model" json:"model"`
	Serial     string        `db:"serial" json:"serial"`
	Room       string        `db:"room" json:"room"`
	Slot       string        `db:"slot" json:"slot"`
	AcquiredOn *day.Day      `db:"acquired_on" json:"acquired_on" nullable:"true" doc:"The first day of what is known of it"`
	AcquiredAs day.Precision `db:"acquired_as" json:"acquired_as,omitempty" enum:",month,year" doc:"Whether only its month or year is known"`
	PriceCents *int64        `db:"price_cents" json:"price_cents" nullable:"true"`
	CareFrom   day.Day       `db:"care_from" json:"care_from" doc:"Where clocks begin that were never restarted"`
	Notes      string        `db:"notes" json:"notes"`
	KitChecked *day.Day      `db:"kit_checked_on" json:"-"`
	BowCents   *int64        `db:"bow_value_cents" json:"bow_value_cents,omitempty" readOnly:"true" doc:"What its bow is worth; left out while nobody said"`
	GoneOn     *day.Day      `db:"gone_on" json:"gone_on,omitempty" readOnly:"true" doc:"Since when it is not at the school any more"`
	GoneHow    string        `db:"gone_how" json:"gone_how,omitempty" readOnly:"true"`
	Version    int           `db:"version" json:"version"`
}

const instrumentColumns = `id, tag, kind, size, body, maker, model, serial, room, slot, acquired_on, acquired_as, price_cents, care_from, notes,
	kit_checked_on, bow_value_cents, gone_on, gone_how, version`

// Instruments lists instruments by tag: those named, or all.
func Instruments(ctx context.Context, tx *query.Tx, of ...uuid.UUID) ([]Instrument, error) {
	where, args := query.Only("id", of, tx.School)
	return query.List[Instrument](ctx, tx,
		`SELECT `+instrumentColumns+` FROM instrument WHERE school_id = $1`+where+` ORDER BY tag`,
		args...)
}

// InstrumentByID reads one instrument.
func InstrumentByID(ctx context.Context, tx *query.Tx, id uuid.UUID) (Instrument, error) {
	var i Instrument
	err := query.Get(ctx, tx, &i, `SELECT `+instrumentColumns+` FROM instrument WHERE school_id = $1 AND id = $2`, tx.School, id)
	return i, err
}

// ofSchool is an instrument as a query names its values.
type ofSchool struct {
	School uuid.UUID `db:"school_id"`
	Instrument
}

// InsertInstrument adds an instrument.
func InsertInstrument(ctx context.Context, tx *query.Tx, i Instrument) error {
	return query.NamedDo(ctx, tx, `
		INSERT INTO instrument (school_id, id, tag, kind, size, body, maker, model, serial, room, slot, acquired_on, acquired_as, price_cents,
		care_from, notes, bow_value_cents)
		VALUES (:school_id, :id, :tag, :kind, :size, :body, :maker, :model, :serial, :room, :slot, :acquired_on, :acquired_as, :price_cents, :care_from,
		:notes, :bow_value_cents)`,
		ofSchool{tx.School, i})
}

// UpdateInstruments saves instruments if the Version of each is the current one; if one is not, none is.
func UpdateInstruments(ctx context.Context, tx *query.Tx, list ...Instrument) error {
	rows, err := query.AsRows(list)
	if err != nil {
		return err
	}
	result, err := query.Exec(ctx, tx, `
		UPDATE instrument i SET tag = n.tag, kind = n.kind, size = n.size, body = n.body, maker = n.maker, model = n.model, serial = n.serial,
			room = n.room, slot = n.slot, acquired_on = n.acquired_on, acquired_as = n.acquired_as, price_cents = n.price_cents,
			care_from = n.care_from, notes = n.notes, bow_value_cents = n.bow_value_cents, version = i.version + 1
		FROM jsonb_populate_recordset(NULL::instrument, $2) n
		WHERE i.school_id = $1 AND i.id = n.id AND i.version = n.version`, tx.School, rows)
	return query.MetAll(result, err, len(list))
}

// LeaveSchool takes an instrument out of the school's lists; its history stays.
func LeaveSchool(ctx context.Context, tx *query.Tx, id uuid.UUID, on day.Day, how string) error {
	return query.DoOne(ctx, tx, `UPDATE instrument SET gone_on = $3, gone_how = $4, slot = '', version = version + 1
		WHERE school_id = $1 AND id = $2 AND gone_on IS NULL`, tx.School, id, on, how)
}

// Assignment is a stretch of time in which an instrument is played in one way. EndsOn nil means until further notice.
type Assignment struct {
	ID                  uuid.UUID   `db:"id"`
	Instrument          uuid.UUID   `db:"instrument_id"`
	StartsOn            day.Day     `db:"starts_on"`
	EndsOn              *day.Day    `db:"ends_on"`
	PracticeMinutes     float64     `db:"practice_minutes_per_week"`
	PracticeDaysPerWeek float64     `db:"practice_days_per_week"`
	VacationShare       float64     `db:"vacation_share"`
	HeavySweat          bool        `db:"heavy_sweat"`
	Players             int         `db:"players"`
	Player              *uuid.UUID  `db:"player_id"` // who holds it; nil while nobody is named
	Ensembles           []uuid.UUID `db:"-"`
}

// Holds reports whether an assignment is the present one on a day. Assignments begin on the day on which they are noted; one that began
// later than today and has no end was noted before the clock or the time zone was corrected, and is as real as any.
func (a Assignment) Holds(on day.Day) bool {
	if a.EndsOn == nil {
		return true
	}
	return a.StartsOn <= on && *a.EndsOn >= on
}

// Assignments lists the assignments of the instruments named, or of all, each in the order of time.
func Assignments(ctx context.Context, tx *query.Tx, of ...uuid.UUID) ([]Assignment, error) {
	var list []Assignment
	where, args := query.Only("instrument_id", of, tx.School)
	if err := query.Select(ctx, tx, &list, `
		SELECT id, instrument_id, starts_on, ends_on, practice_minutes_per_week, practice_days_per_week, vacation_share, heavy_sweat,
		players, player_id
		FROM assignment WHERE school_id = $1`+where+` ORDER BY instrument_id, starts_on`, args...); err != nil {
		return nil, err
	}
	var links []struct {
		Assignment uuid.UUID `db:"assignment_id"`
		Ensemble   uuid.UUID `db:"ensemble_id"`
	}
	if len(of) > 0 {
		where = ` AND assignment_id IN (SELECT id FROM assignment WHERE school_id = $1` + where + `)`
	}
	if err := query.Select(ctx, tx, &links, `SELECT assignment_id, ensemble_id FROM assignment_ensemble
		WHERE school_id = $1`+where+` ORDER BY ensemble_id`, args...); err != nil {
		return nil, err
	}
	at := make(map[uuid.UUID]int, len(list))
	for i, a := range list {
		at[a.ID] = i
	}
	for _, l := range links {
		if i, ok := at[l.Assignment]; ok {
			list[i].Ensembles = append(list[i].Ensembles, l.Ensemble)
		}
	}
	return list, nil
}

// AssignmentOn is the assignment of an instrument on a day, nil for none.
func AssignmentOn(ctx context.Context, tx *query.Tx, instrument uuid.UUID, on day.Day) (*Assignment, error) {
	list, err := Assignments(ctx, tx, instrument)
	for n, at := range slices.Backward(list) {
		if at.Holds(on) {
			return &list[n], err
		}
	}
	return nil, err
}

// PutAssignments adds assignments, or replaces those of their ids.
func PutAssignments(ctx context.Context, tx *query.Tx, list ...Assignment) error {
	rows, err := query.AsRows(list)
	if err != nil {
		return err
	}
	var ids, instruments, assignments, ensembles []uuid.UUID
	for _, a := range list {
		ids, instruments = append(ids, a.ID), append(instruments, a.Instrument)
		for _, e := range a.Ensembles {
			assignments, ensembles = append(assignments, a.ID), append(ensembles, e)
		}
	}
	if _, err := query.Exec(ctx, tx, `
		INSERT INTO assignment (school_id, id, instrument_id, starts_on, ends_on, practice_minutes_per_week, practice_days_per_week,
		vacation_share, heavy_sweat, players, player_id)
		SELECT $1, id, instrument_id, starts_on, ends_on, practice_minutes_per_week, practice_days_per_week, vacation_share, heavy_sweat,
			players, player_id FROM jsonb_populate_recordset(NULL::assignment, $2)
		ON CONFLICT (school_id, id) DO UPDATE SET starts_on = excluded.starts_on, ends_on = excluded.ends_on,
			practice_minutes_per_week = excluded.practice_minutes_per_week, practice_days_per_week = excluded.practice_days_per_week,
			vacation_share = excluded.vacation_share, heavy_sweat = excluded.heavy_sweat, players = excluded.players,
			player_id = excluded.player_id`, tx.School, rows); err != nil {
		return err
	}
	if _, err := query.Exec(ctx, tx, `DELETE FROM assignment_ensemble WHERE school_id = $1 AND assignment_id = ANY($2)`,
		tx.School, ids); err != nil {
		return err
	}
	if _, err := query.Exec(ctx, tx, `INSERT INTO assignment_ensemble (school_id, assignment_id, ensemble_id)
		SELECT $1, * FROM unnest($2::uuid[], $3::uuid[])`, tx.School, assignments, ensembles); err != nil {
		return err
	}
	return playedOtherwise(ctx, tx, instruments...)
}

// DeleteAssignment takes an assignment away that was never lived through.
func DeleteAssignment(ctx context.Context, tx *query.Tx, instrument, id uuid.UUID) error {
	if err := query.DoOne(ctx, tx, `DELETE FROM assignment WHERE school_id = $1 AND id = $2`, tx.School, id); err != nil {
		return err
	}
	return playedOtherwise(ctx, tx, instrument)
}

// playedOtherwise counts up the versions of instruments, so that who changes one knows how it is played.
func playedOtherwise(ctx context.Context, tx *query.Tx, instruments ...uuid.UUID) error {
	result, err := query.Exec(ctx, tx, `UPDATE instrument SET version = version + 1 WHERE school_id = $1 AND id = ANY($2)`,
		tx.School, instruments)
	return query.MetOne(result, err)
}
