package store

import (
	"context"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
)

// Promise is an instrument that is kept for a player until a day, that day included.
type Promise struct {
	Instrument uuid.UUID `db:"instrument_id" json:"instrument_id"`
	Player     uuid.UUID `db:"player_id" json:"player_id"`
	Until      day.Day   `db:"until" json:"until"`
}

// Promises lists those of the instruments named, or all, those that have run out too.
func (tx *Tx) Promises(ctx context.Context, of ...uuid.UUID) ([]Promise, error) {
	var list []Promise
	where, args := only("instrument_id", of, tx.School)
	err := tx.tx.SelectContext(ctx, &list, `SELECT instrument_id, player_id, until FROM promise WHERE school_id = $1`+where, args...)
	return nonNil(list, named(err))
}

// PutPromise keeps a promise in the place of one that was made before.
func (tx *Tx) PutPromise(ctx context.Context, p Promise) error {
	_, err := tx.tx.ExecContext(ctx, `INSERT INTO promise (school_id, instrument_id, player_id, until) VALUES ($1, $2, $3, $4)
		ON CONFLICT (school_id, instrument_id) DO UPDATE SET player_id = excluded.player_id, until = excluded.until`,
		tx.School, p.Instrument, p.Player, p.Until)
	return named(err)
}

// DropPromise ends the promise of an instrument; one that is not there has ended already.
func (tx *Tx) DropPromise(ctx context.Context, instrument uuid.UUID) error {
	_, err := tx.tx.ExecContext(ctx, `DELETE FROM promise WHERE school_id = $1 AND instrument_id = $2`, tx.School, instrument)
	return named(err)
}
