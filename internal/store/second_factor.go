package store

import (
	"context"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
)

// SecondFactor is what codes are made of that a person types beside the password.
type SecondFactor struct {
	Secret   string  `db:"secret"`
	Since    day.Day `db:"since"`
	LastStep int64   `db:"last_step"` // whose code was used last
	OnPaper  int     `db:"on_paper"`  // codes on paper that were not used yet
}

// SecondFactor reads a person's; ErrNotFound for none.
func (tx *Tx) SecondFactor(ctx context.Context, person uuid.UUID) (f SecondFactor, err error) {
	err = tx.tx.GetContext(ctx, &f, `SELECT secret, since, last_step, (SELECT count(*) FROM paper_code c
			WHERE (c.school_id, c.person_id) = (f.school_id, f.person_id) AND c.used_on IS NULL) AS on_paper
		FROM second_factor f WHERE school_id = $1 AND person_id = $2`, tx.School, person)
	return f, named(err)
}

// HasSecondFactor lists who has one, or a passkey.
func (tx *Tx) HasSecondFactor(ctx context.Context) (people []uuid.UUID, err error) {
	err = tx.tx.SelectContext(ctx, &people, `SELECT person_id FROM second_factor WHERE school_id = $1
		UNION SELECT person_id FROM passkey WHERE school_id = $1`, tx.School)
	return people, named(err)
}

// PutSecondFactor gives a person who has none one, with codes on paper of which digests are kept.
func (tx *Tx) PutSecondFactor(ctx context.Context, person uuid.UUID, f SecondFactor, paper [][]byte) error {
	if _, err := tx.tx.ExecContext(ctx, `INSERT INTO second_factor (school_id, person_id, secret, since, last_step) VALUES ($1, $2, $3, $4, $5)`,
		tx.School, person, f.Secret, f.Since, f.LastStep); err != nil {
		return named(err)
	}
	for _, digest := range paper {
		if _, err := tx.tx.ExecContext(ctx, `INSERT INTO paper_code (school_id, person_id, digest) VALUES ($1, $2, $3)`,
			tx.School, person, digest); err != nil {
			return named(err)
		}
	}
	return nil
}

// UseStep notes that the code of a half minute was used; ErrStale when it, or a later one, was used before.
func (tx *Tx) UseStep(ctx context.Context, person uuid.UUID, step int64) error {
	return named(metOne(tx.tx.ExecContext(ctx, `UPDATE second_factor SET last_step = $3 WHERE school_id = $1 AND person_id = $2 AND last_step < $3`,
		tx.School, person, step)))
}

// UsePaperCode notes that a code on paper was used; ErrStale when it is none, or was used before.
func (tx *Tx) UsePaperCode(ctx context.Context, person uuid.UUID, digest []byte, on day.Day) error {
	return named(metOne(tx.tx.ExecContext(ctx, `UPDATE paper_code SET used_on = $4
		WHERE school_id = $1 AND person_id = $2 AND digest = $3 AND used_on IS NULL`, tx.School, person, digest, on)))
}

// DropSecondFactor takes a person's away; one that is not there is away already.
func (tx *Tx) DropSecondFactor(ctx context.Context, person uuid.UUID) error {
	_, err := tx.tx.ExecContext(ctx, `DELETE FROM second_factor WHERE school_id = $1 AND person_id = $2`, tx.School, person)
	return named(err)
}
