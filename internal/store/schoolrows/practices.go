package schoolrows

import (
	"context"

	"github.com/google/uuid"

	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/store/internal/query"
)

// SchoolChoices reads what the school chose where the trade disagrees.
func SchoolChoices(ctx context.Context, tx *query.Tx) (catalog.Choices, error) {
	var rows []struct{ Practice, Option string }
	err := query.Select(ctx, tx, &rows, `SELECT practice, option FROM practice_choice WHERE school_id = $1`, tx.School)
	choices := catalog.Choices{}
	for _, r := range rows {
		choices[r.Practice] = r.Option
	}
	return choices, err
}

// SetSchoolChoice keeps a choice of the school, which is not asked about it any more.
func SetSchoolChoice(ctx context.Context, tx *query.Tx, practice, option string) error {
	if _, err := query.Exec(ctx, tx, `UPDATE school SET asked_practices = array_remove(asked_practices, $2)
		WHERE school_id = $1 AND $2 = ANY (asked_practices)`, tx.School, practice); err != nil {
		return err
	}
	return query.Do(ctx, tx, `
		INSERT INTO practice_choice (school_id, practice, option) VALUES ($1, $2, $3)
		ON CONFLICT (school_id, practice) DO UPDATE SET option = excluded.option`, tx.School, practice, option)
}

// InstrumentChoices reads what was chosen for single instruments: those named, or all.
func InstrumentChoices(ctx context.Context, tx *query.Tx, of ...uuid.UUID) (map[uuid.UUID]catalog.Choices, error) {
	var rows []struct {
		Instrument       uuid.UUID `db:"instrument_id"`
		Practice, Option string
	}
	where, args := query.Only("instrument_id", of, tx.School)
	err := query.Select(
		ctx, tx,
		&rows,
		`SELECT instrument_id, practice, option FROM instrument_practice WHERE school_id = $1`+where,
		args...)
	all := map[uuid.UUID]catalog.Choices{}
	for _, r := range rows {
		if all[r.Instrument] == nil {
			all[r.Instrument] = catalog.Choices{}
		}
		all[r.Instrument][r.Practice] = r.Option
	}
	return all, err
}

// SetInstrumentChoice keeps a choice for one instrument; an empty option lets it follow the school again.
func SetInstrumentChoice(ctx context.Context, tx *query.Tx, instrument uuid.UUID, practice, option string) error {
	if option == "" {
		return query.Do(
			ctx, tx,
			`DELETE FROM instrument_practice WHERE school_id = $1 AND instrument_id = $2 AND practice = $3`,
			tx.School,
			instrument,
			practice,
		)
	}
	return query.Do(ctx, tx, `
		INSERT INTO instrument_practice (school_id, instrument_id, practice, option) VALUES ($1, $2, $3, $4)
		ON CONFLICT (school_id, instrument_id, practice) DO UPDATE SET option = excluded.option`, tx.School, instrument, practice, option)
}

// OwnLimits reads the limits that were set for single instruments.
func OwnLimits(ctx context.Context, tx *query.Tx, of ...uuid.UUID) (map[uuid.UUID]map[clocks.Key]care.Limits, error) {
	var rows []struct {
		Instrument uuid.UUID `db:"instrument_id"`
		Routine    string    `db:"routine"`
		Part       string    `db:"part"`
		Days       *float64  `db:"days"`
		Hours      *float64  `db:"playing_hours"`
		Sessions   *float64  `db:"sessions"`
	}
	where, args := query.Only("instrument_id", of, tx.School)
	err := query.Select(
		ctx, tx,
		&rows,
		`SELECT instrument_id, routine, part, days, playing_hours, sessions FROM own_limit WHERE school_id = $1`+where,
		args...)
	all := map[uuid.UUID]map[clocks.Key]care.Limits{}
	for _, r := range rows {
		if all[r.Instrument] == nil {
			all[r.Instrument] = map[clocks.Key]care.Limits{}
		}
		all[r.Instrument][clocks.Key{Routine: r.Routine, Part: r.Part}] = care.Limits{
			Days:         r.Days,
			PlayingHours: r.Hours,
			Sessions:     r.Sessions,
		}
	}
	return all, err
}

// SetOwnLimit keeps an instrument's own limit of a clock; nil lets the clock follow the usual one again.
func SetOwnLimit(ctx context.Context, tx *query.Tx, instrument uuid.UUID, k clocks.Key, l *care.Limits) error {
	if l == nil {
		return query.Do(
			ctx, tx,
			`DELETE FROM own_limit WHERE school_id = $1 AND instrument_id = $2 AND routine = $3 AND part = $4`,
			tx.School,
			instrument,
			k.Routine,
			k.Part,
		)
	}
	return query.Do(ctx, tx, `
		INSERT INTO own_limit (school_id, instrument_id, routine, part, days, playing_hours, sessions) VALUES ($1, $2, $3, $4, $5, $6, $7)
		ON CONFLICT (school_id, instrument_id, routine, part)
		DO UPDATE SET days = excluded.days, playing_hours = excluded.playing_hours, sessions = excluded.sessions`,
		tx.School, instrument, k.Routine, k.Part, l.Days, l.PlayingHours, l.Sessions)
}
