package instrumentrows

import (
	"context"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/store/internal/query"
)

// Promise is an instrument that is kept for a player until a day, that day included.
type Promise struct {
	Instrument uuid.UUID `db:"instrument_id" json:"instrument_id"`
	Player     uuid.UUID `db:"player_id" json:"player_id"`
	Until      day.Day   `db:"until" json:"until"`
}

// Promises lists those of the instruments named, or all, those that have run out too.
func Promises(ctx context.Context, tx *query.Tx, of ...uuid.UUID) ([]Promise, error) {
	where, args := query.Only("instrument_id", of, tx.School)
	return query.List[Promise](ctx, tx, `SELECT instrument_id, player_id, until FROM promise WHERE school_id = $1`+where, args...)
}

// PutPromise keeps a promise in the place of one that was made before.
func PutPromise(ctx context.Context, tx *query.Tx, p Promise) error {
	return query.Do(ctx, tx, `INSERT INTO promise (school_id, instrument_id, player_id, until) VALUES ($1, $2, $3, $4)
		ON CONFLICT (school_id, instrument_id) DO UPDATE SET player_id = excluded.player_id, until = excluded.until`,
		tx.School, p.Instrument, p.Player, p.Until)
}

// DropPromise ends the promise of an instrument; one that is not there has ended already.
func DropPromise(ctx context.Context, tx *query.Tx, instrument uuid.UUID) error {
	return query.Do(ctx, tx, `DELETE FROM promise WHERE school_id = $1 AND instrument_id = $2`, tx.School, instrument)
}
