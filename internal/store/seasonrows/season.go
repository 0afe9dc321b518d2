// Package seasonrows keeps what a year is planned from, and what was accepted of its plan.
package seasonrows

import (
	"context"
	"errors"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/season"
	"solfeggio/internal/store/internal/query"
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

// GetSeasonSettings reads them; false while the school has set none.
func GetSeasonSettings(ctx context.Context, tx *query.Tx) (s SeasonSettings, set bool, err error) {
	err = query.Get(ctx, tx, &s, `SELECT term_minutes, break_minutes, van_every, van_places, van_cents, budget_cents
		FROM season_setting WHERE school_id = $1`, tx.School)
	if errors.Is(err, query.ErrNotFound) {
		return s, false, nil
	}
	return s, err == nil, err
}

// SetSeasonSettings puts them in the place of the present ones.
func SetSeasonSettings(ctx context.Context, tx *query.Tx, s SeasonSettings) error {
	return query.Do(ctx, tx, `
		INSERT INTO season_setting (school_id, term_minutes, break_minutes, van_every, van_places, van_cents, budget_cents)
		VALUES ($1, $2, $3, $4, $5, $6, $7)
		ON CONFLICT (school_id) DO UPDATE SET term_minutes = excluded.term_minutes, break_minutes = excluded.break_minutes,
			van_every = excluded.van_every, van_places = excluded.van_places, van_cents = excluded.van_cents, budget_cents = excluded.budget_cents`,
		tx.School, s.TermMinutes, s.BreakMinutes, s.VanEvery, s.VanPlaces, s.VanCents, s.BudgetCents)
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
func SeasonPieces(ctx context.Context, tx *query.Tx) ([]SeasonPiece, error) {
	return query.List[SeasonPiece](ctx, tx, `SELECT instrument_id, work, monday, pinned, accepted_on FROM season_piece WHERE school_id = $1
		ORDER BY monday, instrument_id, work`, tx.School)
}

// SetSeasonPieces puts a plan in the place of the present one.
func SetSeasonPieces(ctx context.Context, tx *query.Tx, list []SeasonPiece, today day.Day) error {
	if _, err := query.Exec(ctx, tx, `DELETE FROM season_piece WHERE school_id = $1`, tx.School); err != nil {
		return err
	}
	for _, p := range list {
		if _, err := query.Exec(ctx, tx, `INSERT INTO season_piece (school_id, instrument_id, work, monday, pinned, accepted_on)
			VALUES ($1, $2, $3, $4, $5, $6)`, tx.School, p.Instrument, p.Work, p.Monday, p.Pinned, today); err != nil {
			return err
		}
	}
	return nil
}

// SeasonPlan is a plan that was worked out, and for what.
type SeasonPlan struct {
	Asked      []byte                  // digest of all that it was made from
	Starts     map[string]season.Start // by the id of a piece
	BoundCents int64
	MadeAt     time.Time
}

// GetSeasonPlan reads the latest; one of nothing while there is none.
func GetSeasonPlan(ctx context.Context, tx *query.Tx) (SeasonPlan, error) {
	var row struct {
		Asked  []byte                              `db:"asked"`
		Starts query.JSON[map[string]season.Start] `db:"starts"`
		Bound  int64                               `db:"bound_cents"`
		MadeAt time.Time                           `db:"made_at"`
	}
	err := query.Get(ctx, tx, &row, `SELECT asked, starts, bound_cents, made_at FROM season_plan WHERE school_id = $1`, tx.School)
	if errors.Is(err, query.ErrNotFound) {
		err = nil
	}
	return SeasonPlan{row.Asked, row.Starts.Of, row.Bound, row.MadeAt}, err
}

// SetSeasonPlan puts one in the place of the latest.
func SetSeasonPlan(ctx context.Context, tx *query.Tx, p SeasonPlan) error {
	return query.Do(ctx, tx, `INSERT INTO season_plan (school_id, asked, starts, bound_cents, made_at) VALUES ($1, $2, $3, $4, $5)
		ON CONFLICT (school_id) DO UPDATE SET asked = $2, starts = $3, bound_cents = $4, made_at = $5`,
		tx.School, p.Asked, query.AsJSON(p.Starts), p.BoundCents, p.MadeAt)
}
