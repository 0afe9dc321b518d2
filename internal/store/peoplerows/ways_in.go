package peoplerows

import (
	"context"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/store/internal/query"
)

// PutPasswordLink keeps the link by which a person chooses a new password. One that was there before leads nowhere from then on.
func PutPasswordLink(ctx context.Context, tx *query.Tx, person uuid.UUID, digest []byte, expires time.Time) error {
	return query.Do(ctx, tx, `INSERT INTO password_link (school_id, person_id, digest, expires_at) VALUES ($1, $2, $3, $4)
		ON CONFLICT (school_id, person_id) DO UPDATE SET digest = $3, expires_at = $4, used = false`, tx.School, person, digest, expires)
}

// EndPasswordLink ends a person's link; there may be none.
func EndPasswordLink(ctx context.Context, tx *query.Tx, person uuid.UUID) error {
	return query.Do(ctx, tx, `DELETE FROM password_link WHERE school_id = $1 AND person_id = $2`, tx.School, person)
}

// UsePasswordLink notes that a person's link was used; there may be none.
func UsePasswordLink(ctx context.Context, tx *query.Tx, person uuid.UUID) error {
	return query.Do(ctx, tx, `UPDATE password_link SET used = true WHERE school_id = $1 AND person_id = $2`, tx.School, person)
}

// EndSessions signs a person out everywhere but in the session of that token, as it is kept.
func EndSessions(ctx context.Context, tx *query.Tx, person uuid.UUID, except string) error {
	return query.Do(ctx, tx, `DELETE FROM sessions WHERE school_id = $1 AND person_id = $2 AND token <> $3`, tx.School, person, except)
}

// AccessKey lets a script sign in as a person.
type AccessKey struct {
	ID           uuid.UUID `db:"id"`
	Person       uuid.UUID `db:"person_id"`
	Name         string    `db:"name"`
	Role         string    `db:"role"`
	Digest       []byte    `db:"digest"`
	MadeOn       day.Day   `db:"made_on"`
	EndsOn       day.Day   `db:"ends_on"`
	LastUsedOn   *day.Day  `db:"last_used_on"`
	LastUsedFrom string    `db:"last_used_from"` // the address
}

// AccessKeys lists those of the school, the newest first.
func AccessKeys(ctx context.Context, tx *query.Tx) ([]AccessKey, error) {
	return query.List[AccessKey](ctx, tx, `
		SELECT id, person_id, name, role, digest, made_on, ends_on, last_used_on, last_used_from FROM access_key
		WHERE school_id = $1 ORDER BY made_on DESC, id DESC`, tx.School)
}

// InsertAccessKey keeps a new key.
func InsertAccessKey(ctx context.Context, tx *query.Tx, k AccessKey) error {
	return query.Do(ctx, tx, `INSERT INTO access_key (school_id, id, person_id, name, role, digest, made_on, ends_on)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`, tx.School, k.ID, k.Person, k.Name, k.Role, k.Digest, k.MadeOn, k.EndsOn)
}

// RenewAccessKey lets a key end on another day.
func RenewAccessKey(ctx context.Context, tx *query.Tx, id uuid.UUID, endsOn day.Day) error {
	return query.DoOne(ctx, tx, `UPDATE access_key SET ends_on = $3 WHERE school_id = $1 AND id = $2`, tx.School, id, endsOn)
}

// DeleteAccessKey ends a key.
func DeleteAccessKey(ctx context.Context, tx *query.Tx, id uuid.UUID) error {
	return query.DoOne(ctx, tx, `DELETE FROM access_key WHERE school_id = $1 AND id = $2`, tx.School, id)
}
