package store

import (
	"context"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"

	"solfeggio/internal/core/day"
)

// Reed is one of a player's box.
type Reed struct {
	ID        uuid.UUID `db:"id" json:"id" doc:"Made by the client"`
	Player    uuid.UUID `db:"player_id" json:"player_id"`
	Supply    string    `db:"supply" json:"supply"`
	Strength  string    `db:"strength" json:"strength"`
	Synthetic bool      `db:"synthetic" json:"synthetic" doc:"It needs no break-in"`
	Place     int       `db:"place" json:"place" minimum:"1" maximum:"12" doc:"In the holder"`
	OpenedOn  day.Day   `db:"opened_on" json:"opened_on"`
	EndedOn   *day.Day  `db:"ended_on" json:"ended_on,omitempty"`
	Cause     string    `db:"cause" json:"cause,omitempty"`
}

const reedColumns = `id, player_id, supply, strength, synthetic, place, opened_on, ended_on, cause`

// Reeds lists the reeds in the boxes of the players named, or of all, by place; those that are done with are not among them.
func (tx *Tx) Reeds(ctx context.Context, of ...uuid.UUID) ([]Reed, error) {
	var list []Reed
	where, args := only("player_id", of, tx.School)
	err := tx.tx.SelectContext(ctx, &list, `SELECT `+reedColumns+` FROM reed WHERE school_id = $1 AND ended_on IS NULL`+where+`
		ORDER BY player_id, place`, args...)
	return nonNil(list, named(err))
}

// Reed reads one reed.
func (tx *Tx) Reed(ctx context.Context, id uuid.UUID) (Reed, error) {
	var r Reed
	err := tx.tx.GetContext(ctx, &r, `SELECT `+reedColumns+` FROM reed WHERE school_id = $1 AND id = $2`, tx.School, id)
	return r, named(err)
}

// InsertReed puts a reed into a box.
func (tx *Tx) InsertReed(ctx context.Context, r Reed) error {
	_, err := tx.tx.ExecContext(ctx, `INSERT INTO reed (school_id, id, player_id, supply, strength, synthetic, place, opened_on)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`, tx.School, r.ID, r.Player, r.Supply, r.Strength, r.Synthetic, r.Place, r.OpenedOn)
	return named(err)
}

// EndReed takes a reed out of its box; ErrStale when it is out already.
func (tx *Tx) EndReed(ctx context.Context, id uuid.UUID, on day.Day, cause string) error {
	return named(
		metOne(tx.tx.ExecContext(ctx, `UPDATE reed SET ended_on = $3, cause = $4 WHERE school_id = $1 AND id = $2 AND ended_on IS NULL`,
			tx.School, id, on, cause)),
	)
}

// KeepReed puts a reed back into its box.
func (tx *Tx) KeepReed(ctx context.Context, id uuid.UUID) error {
	return named(
		metOne(tx.tx.ExecContext(ctx, `UPDATE reed SET ended_on = NULL, cause = '' WHERE school_id = $1 AND id = $2`, tx.School, id)),
	)
}

// DeleteReed forgets a reed that was never opened after all.
func (tx *Tx) DeleteReed(ctx context.Context, id uuid.UUID) error {
	return named(metOne(tx.tx.ExecContext(ctx, `DELETE FROM reed WHERE school_id = $1 AND id = $2`, tx.School, id)))
}

// BreakIns reads the school's own break-in minutes, by supply.
func (tx *Tx) BreakIns(ctx context.Context) (map[string][]float64, error) {
	var rows []struct {
		Supply  string            `db:"supply"`
		Minutes asJSON[[]float64] `db:"minutes"`
	}
	const query = `SELECT supply, to_json(minutes) AS minutes FROM break_in WHERE school_id = $1`
	if err := tx.tx.SelectContext(ctx, &rows, query, tx.School); err != nil {
		return nil, named(err)
	}
	programs := map[string][]float64{}
	for _, r := range rows {
		programs[r.Supply] = r.Minutes.Of
	}
	return programs, nil
}

// SetBreakIn puts the school's own break-in in place of the catalogue's; none goes back to it.
func (tx *Tx) SetBreakIn(ctx context.Context, supply string, minutes []float64) error {
	if _, err := tx.tx.ExecContext(ctx, `DELETE FROM break_in WHERE school_id = $1 AND supply = $2`, tx.School, supply); err != nil ||
		len(minutes) == 0 {
		return named(err)
	}
	_, err := tx.tx.ExecContext(ctx, `INSERT INTO break_in (school_id, supply, minutes) VALUES ($1, $2, $3)`, tx.School, supply, minutes)
	return named(err)
}

// SetFeed keeps the digest of the calendar's address, in place of the one before; nil ends it.
func (tx *Tx) SetFeed(ctx context.Context, digest []byte) error {
	if _, err := tx.tx.ExecContext(ctx, `DELETE FROM calendar_feed WHERE school_id = $1`, tx.School); err != nil || digest == nil {
		return named(err)
	}
	_, err := tx.tx.ExecContext(ctx, `INSERT INTO calendar_feed (school_id, digest, created_at) VALUES ($1, $2, now())`, tx.School, digest)
	return named(err)
}

// HasFeed reports whether there is an address under which the calendar is read.
func (tx *Tx) HasFeed(ctx context.Context) (has bool, err error) {
	err = tx.tx.GetContext(ctx, &has, `SELECT EXISTS (SELECT FROM calendar_feed WHERE school_id = $1)`, tx.School)
	return has, named(err)
}

// SchoolOfFeed finds the school whose calendar has an address of that digest; ErrNotFound for none.
func (db *DB) SchoolOfFeed(ctx context.Context, digest []byte) (uuid.UUID, error) {
	var school uuid.UUID
	err := db.somewhere(func(pool *sqlx.DB) error {
		var here *uuid.UUID
		if err := pool.GetContext(ctx, &here, `SELECT school_of_feed($1)`, digest); err != nil {
			return err
		}
		if here == nil {
			return ErrNotFound
		}
		school = *here
		return nil
	})
	return school, err
}
