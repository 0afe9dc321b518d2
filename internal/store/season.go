package store

import (
	"context"
	"errors"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
)

// SeasonSettings are what the weeks of a season hold.
type SeasonSettings struct {
	TermMinutes  int    `db:"term_minutes" json:"term_minutes" minimum:"0" maximum:"5000" doc:"At the bench, in a week of school"`
	BreakMinutes int    `db:"break_minutes" json:"break_minutes" minimum:"0" maximum:"5000" doc:"And in a week of a break"`
	VanEvery     int    `db:"van_every" json:"van_every" minimum:"0" maximum:"52" doc:"Weeks between two trips to the shops; 0 for none but those planned"`
	VanPlaces    int    `db:"van_places" json:"van_places" minimum:"1" maximum:"500"`
	VanCents     int64  `db:"van_cents" json:"van_cents" minimum:"0" maximum:"100000000" doc:"What a trip costs"`
	BudgetCents  *int64 `db:"budget_cents" json:"budget_cents,omitempty" minimum:"0" maximum:"10000000000" doc:"For all repairs of the season; left out for no limit"`
}

// SeasonSettings reads them; false while the school has set none.
func (tx *Tx) SeasonSettings(ctx context.Context) (s SeasonSettings, set bool, err error) {
	err = named(tx.tx.GetContext(ctx, &s, `SELECT term_minutes, break_minutes, van_every, van_places, van_cents, budget_cents
		FROM season_setting WHERE school_id = $1`, tx.School))
	if errors.Is(err, ErrNotFound) {
		return s, false, nil
	}
	return s, err == nil, err
}

// SetSeasonSettings puts them in the place of the present ones.
func (tx *Tx) SetSeasonSettings(ctx context.Context, s SeasonSettings) error {
	_, err := tx.tx.ExecContext(ctx, `
		INSERT INTO season_setting (school_id, term_minutes, break_minutes, van_every, van_places, van_cents, budget_cents)
		VALUES ($1, $2, $3, $4, $5, $6, $7)
		ON CONFLICT (school_id) DO UPDATE SET term_minutes = excluded.term_minutes, break_minutes = excluded.break_minutes,
			van_every = excluded.van_every, van_places = excluded.van_places, van_cents = excluded.van_cents, budget_cents = excluded.budget_cents`,
		tx.School, s.TermMinutes, s.BreakMinutes, s.VanEvery, s.VanPlaces, s.VanCents, s.BudgetCents)
	return named(err)
}

// SeasonPiece is a piece of work in the week that was accepted for it. The same work may stand in several weeks.
type SeasonPiece struct {
	Instrument uuid.UUID `db:"instrument_id" json:"instrument_id"`
	Work       string    `db:"work" json:"work" maxLength:"60" doc:"Key of a routine, or shop for the instrument's open job"`
	Monday     day.Day   `db:"monday" json:"monday" doc:"Of its week"`
	Pinned     bool      `db:"pinned" json:"pinned" doc:"Somebody chose the week"`
	AcceptedOn day.Day   `db:"accepted_on" json:"-"`
}

// SeasonPieces lists what was accepted, by week.
func (tx *Tx) SeasonPieces(ctx context.Context) ([]SeasonPiece, error) {
	var list []SeasonPiece
	err := tx.tx.SelectContext(ctx, &list, `SELECT instrument_id, work, monday, pinned, accepted_on FROM season_piece WHERE school_id = $1
		ORDER BY monday, instrument_id, work`, tx.School)
	return nonNil(list, named(err))
}

// SetSeasonPieces puts a plan in the place of the present one.
func (tx *Tx) SetSeasonPieces(ctx context.Context, list []SeasonPiece, today day.Day) error {
	if _, err := tx.tx.ExecContext(ctx, `DELETE FROM season_piece WHERE school_id = $1`, tx.School); err != nil {
		return named(err)
	}
	for _, p := range list {
		if _, err := tx.tx.ExecContext(ctx, `INSERT INTO season_piece (school_id, instrument_id, work, monday, pinned, accepted_on)
			VALUES ($1, $2, $3, $4, $5, $6)`, tx.School, p.Instrument, p.Work, p.Monday, p.Pinned, today); err != nil {
			return named(err)
		}
	}
	return nil
}
