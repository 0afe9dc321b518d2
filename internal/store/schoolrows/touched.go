package schoolrows

import (
	"context"

	"github.com/google/uuid"

	"solfeggio/internal/store/internal/query"
)

// Touched is what writes touched of that which is kept in memory of a school.
type Touched struct {
	Whole       bool // more than instruments and players, or nobody knows any more
	Instruments []uuid.UUID
	Players     []uuid.UUID
}

// touchedKept is for how many revisions it is remembered.
const touchedKept = 4096

// TouchedSince reads what the writes after one revision and up to another touched.
func TouchedSince(ctx context.Context, tx *query.Tx, after, until int64) (Touched, error) {
	if until-after > touchedKept/2 {
		return Touched{Whole: true}, nil
	}
	var rows []struct {
		Instrument *uuid.UUID `db:"instrument_id"`
		Player     *uuid.UUID `db:"player_id"`
	}
	err := query.Select(
		ctx, tx,
		&rows,
		`SELECT DISTINCT instrument_id, player_id FROM touched WHERE school_id = $1 AND revision > $2 AND revision <= $3`,
		tx.School,
		after,
		until,
	)
	var out Touched
	for _, r := range rows {
		switch {
		case r.Instrument != nil:
			out.Instruments = append(out.Instruments, *r.Instrument)
		case r.Player != nil:
			out.Players = append(out.Players, *r.Player)
		default:
			out.Whole = true
		}
	}
	return out, err
}

// ForgetTouched drops what was noted long ago, now and then.
func ForgetTouched(ctx context.Context, tx *query.Tx) error {
	if tx.Revision%(touchedKept/4) != 0 {
		return nil
	}
	_, err := query.Exec(ctx, tx, `DELETE FROM touched WHERE school_id = $1 AND revision < $2`, tx.School, tx.Revision-touchedKept)
	return err
}
