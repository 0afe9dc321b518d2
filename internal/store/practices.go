package store

import (
	"context"

	"github.com/google/uuid"

	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
)

// SchoolChoices reads what the school chose where the trade disagrees.
func (tx *Tx) SchoolChoices(ctx context.Context) (catalog.Choices, error) {
	var rows []struct{ Practice, Option string }
	err := tx.tx.SelectContext(ctx, &rows, `SELECT practice, option FROM practice_choice WHERE school_id = $1`, tx.School)
	choices := catalog.Choices{}
	for _, r := range rows {
		choices[r.Practice] = r.Option
	}
	return choices, named(err)
}

// SetSchoolChoice keeps a choice of the school, which is not asked about it any more.
func (tx *Tx) SetSchoolChoice(ctx context.Context, practice, option string) error {
	if _, err := tx.tx.ExecContext(ctx, `UPDATE school SET asked_practices = array_remove(asked_practices, $2)
		WHERE school_id = $1 AND $2 = ANY (asked_practices)`, tx.School, practice); err != nil {
		return named(err)
	}
	_, err := tx.tx.ExecContext(ctx, `
		INSERT INTO practice_choice (school_id, practice, option) VALUES ($1, $2, $3)
		ON CONFLICT (school_id, practice) DO UPDATE SET option = excluded.option`, tx.School, practice, option)
	return named(err)
}

// InstrumentChoices reads what was chosen for single instruments: those named, or all.
func (tx *Tx) InstrumentChoices(ctx context.Context, of ...uuid.UUID) (map[uuid.UUID]catalog.Choices, error) {
	var rows []struct {
		Instrument       uuid.UUID `db:"instrument_id"`
		Practice, Option string
	}
	where, args := only("instrument_id", of, tx.School)
	err := tx.tx.SelectContext(
		ctx,
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
	return all, named(err)
}

// SetInstrumentChoice keeps a choice for one instrument; an empty option lets it follow the school again.
func (tx *Tx) SetInstrumentChoice(ctx context.Context, instrument uuid.UUID, practice, option string) error {
	if option == "" {
		_, err := tx.tx.ExecContext(
			ctx,
			`DELETE FROM instrument_practice WHERE school_id = $1 AND instrument_id = $2 AND practice = $3`,
			tx.School,
			instrument,
			practice,
		)
		return named(err)
	}
	_, err := tx.tx.ExecContext(ctx, `
		INSERT INTO instrument_practice (school_id, instrument_id, practice, option) VALUES ($1, $2, $3, $4)
		ON CONFLICT (school_id, instrument_id, practice) DO UPDATE SET option = excluded.option`, tx.School, instrument, practice, option)
	return named(err)
}

// OwnLimits reads the limits that were set for single instruments.
func (tx *Tx) OwnLimits(ctx context.Context, of ...uuid.UUID) (map[uuid.UUID]map[clocks.Key]care.Limits, error) {
	var rows []struct {
		Instrument uuid.UUID `db:"instrument_id"`
		Routine    string    `db:"routine"`
		Part       string    `db:"part"`
		Days       *float64  `db:"days"`
		Hours      *float64  `db:"playing_hours"`
		Sessions   *float64  `db:"sessions"`
	}
	where, args := only("instrument_id", of, tx.School)
	err := tx.tx.SelectContext(
		ctx,
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
	return all, named(err)
}

// SetOwnLimit keeps an instrument's own limit of a clock; nil lets the clock follow the usual one again.
func (tx *Tx) SetOwnLimit(ctx context.Context, instrument uuid.UUID, k clocks.Key, l *care.Limits) error {
	if l == nil {
		_, err := tx.tx.ExecContext(
			ctx,
			`DELETE FROM own_limit WHERE school_id = $1 AND instrument_id = $2 AND routine = $3 AND part = $4`,
			tx.School,
			instrument,
			k.Routine,
			k.Part,
		)
		return named(err)
	}
	_, err := tx.tx.ExecContext(ctx, `
		INSERT INTO own_limit (school_id, instrument_id, routine, part, days, playing_hours, sessions) VALUES ($1, $2, $3, $4, $5, $6, $7)
		ON CONFLICT (school_id, instrument_id, routine, part)
		DO UPDATE SET days = excluded.days, playing_hours = excluded.playing_hours, sessions = excluded.sessions`,
		tx.School, instrument, k.Routine, k.Part, l.Days, l.PlayingHours, l.Sessions)
	return named(err)
}
