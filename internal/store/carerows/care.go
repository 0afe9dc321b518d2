// Package carerows keeps when care was done and when its clocks started.
package carerows

import (
	"context"
	"errors"

	"github.com/google/uuid"

	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store/internal/query"
)

// ClockStart is the latest completion of a clock.
type ClockStart struct {
	Instrument uuid.UUID `db:"instrument_id"`
	Routine    string    `db:"routine"`
	Part       string    `db:"part"`
	StartedOn  day.Day   `db:"started_on"`
}

// ClockStarts lists where restarted clocks began, of the instruments named or of all.
func ClockStarts(ctx context.Context, tx *query.Tx, of ...uuid.UUID) ([]ClockStart, error) {
	var list []ClockStart
	where, args := query.Only("instrument_id", of, tx.School)
	err := query.Select(ctx, tx, &list, `SELECT instrument_id, routine, part, started_on FROM clock WHERE school_id = $1`+where, args...)
	return list, err
}

// Completion is care that was done: the clocks of one instrument that it restarts.
type Completion struct {
	Event      uuid.UUID
	Instrument uuid.UUID
	DoneOn     day.Day
	Clocks     []clocks.Key // the first was done itself, the others are implied
}

// InsertCompletion records care and restarts its clocks. Care that was done before a clock's present start is
// recorded but does not turn the clock back.
func InsertCompletion(ctx context.Context, tx *query.Tx, c Completion) error {
	for i, k := range c.Clocks {
		if _, err := query.Exec(ctx, tx, `
			INSERT INTO completion (school_id, event_id, instrument_id, routine, part, done_on, implied)
			VALUES ($1, $2, $3, $4, $5, $6, $7)`, tx.School, c.Event, c.Instrument, k.Routine, k.Part, c.DoneOn, i > 0); err != nil {
			return err
		}
		if _, err := query.Exec(ctx, tx, `
			INSERT INTO clock (school_id, instrument_id, routine, part, started_on) VALUES ($1, $2, $3, $4, $5)
			ON CONFLICT (school_id, instrument_id, routine, part)
			DO UPDATE SET started_on = greatest(clock.started_on, excluded.started_on)`,
			tx.School, c.Instrument, k.Routine, k.Part, c.DoneOn); err != nil {
			return err
		}
	}
	return nil
}

// UndoCompletion takes the completions of an event back and sets their clocks to what remains.
func UndoCompletion(ctx context.Context, tx *query.Tx, event uuid.UUID) error {
	if _, err := query.Exec(ctx, tx, `UPDATE completion SET undone = true WHERE school_id = $1 AND event_id = $2`,
		tx.School, event); err != nil {
		return err
	}
	const touched = `(SELECT instrument_id, routine, part FROM completion WHERE school_id = $1 AND event_id = $2)`
	if _, err := query.Exec(ctx, tx, `DELETE FROM clock WHERE school_id = $1 AND (instrument_id, routine, part) IN `+touched,
		tx.School, event); err != nil {
		return err
	}
	return query.Do(ctx, tx, `
		INSERT INTO clock (school_id, instrument_id, routine, part, started_on)
		SELECT school_id, instrument_id, routine, part, max(done_on) FROM completion
		WHERE school_id = $1 AND NOT undone AND (instrument_id, routine, part) IN `+touched+`
		GROUP BY school_id, instrument_id, routine, part`, tx.School, event)
}

// ClockStartOf reads where a clock was last restarted; zero when it never was.
func ClockStartOf(ctx context.Context, tx *query.Tx, instrument uuid.UUID, k clocks.Key) (day.Day, error) {
	var d day.Day
	err := query.Get(ctx, tx, &d, `SELECT started_on FROM clock
		WHERE school_id = $1 AND instrument_id = $2 AND routine = $3 AND part = $4`, tx.School, instrument, k.Routine, k.Part)
	if errors.Is(err, query.ErrNotFound) {
		return 0, nil
	}
	return d, err
}
