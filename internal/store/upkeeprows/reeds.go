package upkeeprows

import (
	"context"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/store/internal/query"
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
func Reeds(ctx context.Context, tx *query.Tx, of ...uuid.UUID) ([]Reed, error) {
	where, args := query.Only("player_id", of, tx.School)
	return query.List[Reed](ctx, tx, `SELECT `+reedColumns+` FROM reed WHERE school_id = $1 AND ended_on IS NULL`+where+`
		ORDER BY player_id, place`, args...)
}

// ReedByID reads one reed.
func ReedByID(ctx context.Context, tx *query.Tx, id uuid.UUID) (Reed, error) {
	var r Reed
	err := query.Get(ctx, tx, &r, `SELECT `+reedColumns+` FROM reed WHERE school_id = $1 AND id = $2`, tx.School, id)
	return r, err
}

// InsertReed puts a reed into a box.
func InsertReed(ctx context.Context, tx *query.Tx, r Reed) error {
	return query.Do(ctx, tx, `INSERT INTO reed (school_id, id, player_id, supply, strength, synthetic, place, opened_on)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`, tx.School, r.ID, r.Player, r.Supply, r.Strength, r.Synthetic, r.Place, r.OpenedOn)
}

// EndReed takes a reed out of its box; ErrStale when it is out already.
func EndReed(ctx context.Context, tx *query.Tx, id uuid.UUID, on day.Day, cause string) error {
	return query.DoOne(ctx, tx, `UPDATE reed SET ended_on = $3, cause = $4 WHERE school_id = $1 AND id = $2 AND ended_on IS NULL`,
		tx.School, id, on, cause)
}

// KeepReed puts a reed back into its box.
func KeepReed(ctx context.Context, tx *query.Tx, id uuid.UUID) error {
	return query.DoOne(ctx, tx, `UPDATE reed SET ended_on = NULL, cause = '' WHERE school_id = $1 AND id = $2`, tx.School, id)
}

// DeleteReed forgets a reed that was never opened after all.
func DeleteReed(ctx context.Context, tx *query.Tx, id uuid.UUID) error {
	return query.DoOne(ctx, tx, `DELETE FROM reed WHERE school_id = $1 AND id = $2`, tx.School, id)
}

// BreakIns reads the school's own break-in minutes, by supply.
func BreakIns(ctx context.Context, tx *query.Tx) (map[string][]float64, error) {
	var rows []struct {
		Supply  string                `db:"supply"`
		Minutes query.JSON[[]float64] `db:"minutes"`
	}
	const sql = `SELECT supply, to_json(minutes) AS minutes FROM break_in WHERE school_id = $1`
	if err := query.Select(ctx, tx, &rows, sql, tx.School); err != nil {
		return nil, err
	}
	programs := map[string][]float64{}
	for _, r := range rows {
		programs[r.Supply] = r.Minutes.Of
	}
	return programs, nil
}

// SetBreakIn puts the school's own break-in in place of the catalogue's; none goes back to it.
func SetBreakIn(ctx context.Context, tx *query.Tx, supply string, minutes []float64) error {
	if _, err := query.Exec(ctx, tx, `DELETE FROM break_in WHERE school_id = $1 AND supply = $2`, tx.School, supply); err != nil ||
		len(minutes) == 0 {
		return err
	}
	return query.Do(ctx, tx, `INSERT INTO break_in (school_id, supply, minutes) VALUES ($1, $2, $3)`, tx.School, supply, minutes)
}

// SetFeed keeps the digest of the calendar's address, in place of the one before; nil ends it.
func SetFeed(ctx context.Context, tx *query.Tx, digest []byte) error {
	if _, err := query.Exec(ctx, tx, `DELETE FROM calendar_feed WHERE school_id = $1`, tx.School); err != nil || digest == nil {
		return err
	}
	return query.Do(ctx, tx, `INSERT INTO calendar_feed (school_id, digest, created_at) VALUES ($1, $2, now())`, tx.School, digest)
}

// HasFeed reports whether there is an address under which the calendar is read.
func HasFeed(ctx context.Context, tx *query.Tx) (has bool, err error) {
	err = query.Get(ctx, tx, &has, `SELECT EXISTS (SELECT FROM calendar_feed WHERE school_id = $1)`, tx.School)
	return has, err
}
