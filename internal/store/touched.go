package store

import (
	"context"
	"fmt"

	"github.com/google/uuid"
)

// Touched is what writes touched of that which is kept in memory of a school.
type Touched struct {
	Whole       bool // more than instruments and players, or nobody knows any more
	Instruments []uuid.UUID
	Players     []uuid.UUID
}

// touchedKept is for how many revisions it is remembered.
const touchedKept = 4096

// Touched reads what the writes after one revision and up to another touched.
func (tx *Tx) Touched(ctx context.Context, after, until int64) (Touched, error) {
	if until-after > touchedKept/2 {
		return Touched{Whole: true}, nil
	}
	var rows []struct {
		Instrument *uuid.UUID `db:"instrument_id"`
		Player     *uuid.UUID `db:"player_id"`
	}
	err := tx.tx.SelectContext(
		ctx,
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
	return out, named(err)
}

// forgetTouched drops what was noted long ago, now and then.
func (tx *Tx) forgetTouched(ctx context.Context) error {
	if tx.Revision%(touchedKept/4) != 0 {
		return nil
	}
	_, err := tx.tx.ExecContext(ctx, `DELETE FROM touched WHERE school_id = $1 AND revision < $2`, tx.School, tx.Revision-touchedKept)
	return err
}

// only narrows a query to rows of some things, where any are named, and adds them to its arguments.
func only(column string, of []uuid.UUID, args ...any) (where string, all []any) {
	if len(of) == 0 {
		return "", args
	}
	return fmt.Sprintf(" AND %s = ANY($%d)", column, len(args)+1), append(args, of)
}
