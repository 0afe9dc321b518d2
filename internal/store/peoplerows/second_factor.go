package peoplerows

import (
	"context"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/store/internal/query"
)

// SecondFactor is what codes are made of that a person types beside the password.
type SecondFactor struct {
	Secret   string  `db:"secret"`
	Since    day.Day `db:"since"`
	LastStep int64   `db:"last_step"` // whose code was used last
	OnPaper  int     `db:"on_paper"`  // codes on paper that were not used yet
}

// SecondFactorOf reads a person's; ErrNotFound for none.
func SecondFactorOf(ctx context.Context, tx *query.Tx, person uuid.UUID) (f SecondFactor, err error) {
	err = query.Get(ctx, tx, &f, `SELECT secret, since, last_step, (SELECT count(*) FROM paper_code c
			WHERE (c.school_id, c.person_id) = (f.school_id, f.person_id) AND c.used_on IS NULL) AS on_paper
		FROM second_factor f WHERE school_id = $1 AND person_id = $2`, tx.School, person)
	return f, err
}

// HasSecondFactor lists who has one, or a passkey.
func HasSecondFactor(ctx context.Context, tx *query.Tx) (people []uuid.UUID, err error) {
	err = query.Select(ctx, tx, &people, `SELECT person_id FROM second_factor WHERE school_id = $1
		UNION SELECT person_id FROM passkey WHERE school_id = $1`, tx.School)
	return people, err
}

// PutSecondFactor gives a person who has none one, with codes on paper of which digests are kept.
func PutSecondFactor(ctx context.Context, tx *query.Tx, person uuid.UUID, f SecondFactor, paper [][]byte) error {
	if _, err := query.Exec(ctx, tx, `INSERT INTO second_factor (school_id, person_id, secret, since, last_step) VALUES ($1, $2, $3, $4, $5)`,
		tx.School, person, f.Secret, f.Since, f.LastStep); err != nil {
		return err
	}
	for _, digest := range paper {
		if _, err := query.Exec(ctx, tx, `INSERT INTO paper_code (school_id, person_id, digest) VALUES ($1, $2, $3)`,
			tx.School, person, digest); err != nil {
			return err
		}
	}
	return nil
}

// UseStep notes that the code of a half minute was used; ErrStale when it, or a later one, was used before.
func UseStep(ctx context.Context, tx *query.Tx, person uuid.UUID, step int64) error {
	return query.DoOne(ctx, tx, `UPDATE second_factor SET last_step = $3 WHERE school_id = $1 AND person_id = $2 AND last_step < $3`,
		tx.School, person, step)
}

// UsePaperCode notes that a code on paper was used; ErrStale when it is none, or was used before.
func UsePaperCode(ctx context.Context, tx *query.Tx, person uuid.UUID, digest []byte, on day.Day) error {
	return query.DoOne(ctx, tx, `UPDATE paper_code SET used_on = $4
		WHERE school_id = $1 AND person_id = $2 AND digest = $3 AND used_on IS NULL`, tx.School, person, digest, on)
}

// DropSecondFactor takes a person's away; one that is not there is away already.
func DropSecondFactor(ctx context.Context, tx *query.Tx, person uuid.UUID) error {
	return query.Do(ctx, tx, `DELETE FROM second_factor WHERE school_id = $1 AND person_id = $2`, tx.School, person)
}
