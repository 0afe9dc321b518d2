package store

import (
	"context"
	"time"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"

	"solfeggio/internal/core/day"
)

// PutPasswordLink keeps the link by which a person chooses a new password. One that was there before leads nowhere from then on.
func (tx *Tx) PutPasswordLink(ctx context.Context, person uuid.UUID, digest []byte, expires time.Time) error {
	_, err := tx.tx.ExecContext(ctx, `INSERT INTO password_link (school_id, person_id, digest, expires_at) VALUES ($1, $2, $3, $4)
		ON CONFLICT (school_id, person_id) DO UPDATE SET digest = $3, expires_at = $4, used = false`, tx.School, person, digest, expires)
	return named(err)
}

// EndPasswordLink ends a person's link; there may be none.
func (tx *Tx) EndPasswordLink(ctx context.Context, person uuid.UUID) error {
	_, err := tx.tx.ExecContext(ctx, `DELETE FROM password_link WHERE school_id = $1 AND person_id = $2`, tx.School, person)
	return named(err)
}

// UsePasswordLink notes that a person's link was used; there may be none.
func (tx *Tx) UsePasswordLink(ctx context.Context, person uuid.UUID) error {
	_, err := tx.tx.ExecContext(ctx, `UPDATE password_link SET used = true WHERE school_id = $1 AND person_id = $2`, tx.School, person)
	return named(err)
}

// LinkHolder is who a link for a new password is for.
type LinkHolder struct {
	Person
	Used bool `db:"used"`
}

// PasswordLinkHolder finds who a link is for, in any school; ErrNotFound for none that has not run out.
func (db *DB) PasswordLinkHolder(ctx context.Context, digest []byte, now time.Time) (LinkHolder, error) {
	var h LinkHolder
	err := db.somewhere(func(pool *sqlx.DB) error {
		return pool.GetContext(ctx, &h, `SELECT school_id, id, name, email, password_hash, used FROM password_link_holder($1, $2)`, digest, now)
	})
	return h, err
}

// EndSessions signs a person out everywhere but in the session of that token, as it is kept.
func (tx *Tx) EndSessions(ctx context.Context, person uuid.UUID, except string) error {
	_, err := tx.tx.ExecContext(ctx, `DELETE FROM sessions WHERE school_id = $1 AND person_id = $2 AND token <> $3`, tx.School, person, except)
	return named(err)
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
func (tx *Tx) AccessKeys(ctx context.Context) ([]AccessKey, error) {
	var list []AccessKey
	err := tx.tx.SelectContext(ctx, &list, `
		SELECT id, person_id, name, role, digest, made_on, ends_on, last_used_on, last_used_from FROM access_key
		WHERE school_id = $1 ORDER BY made_on DESC, id DESC`, tx.School)
	return nonNil(list, named(err))
}

// InsertAccessKey keeps a new key.
func (tx *Tx) InsertAccessKey(ctx context.Context, k AccessKey) error {
	_, err := tx.tx.ExecContext(ctx, `INSERT INTO access_key (school_id, id, person_id, name, role, digest, made_on, ends_on)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`, tx.School, k.ID, k.Person, k.Name, k.Role, k.Digest, k.MadeOn, k.EndsOn)
	return named(err)
}

// RenewAccessKey lets a key end on another day.
func (tx *Tx) RenewAccessKey(ctx context.Context, id uuid.UUID, endsOn day.Day) error {
	return named(metOne(tx.tx.ExecContext(ctx, `UPDATE access_key SET ends_on = $3 WHERE school_id = $1 AND id = $2`, tx.School, id, endsOn)))
}

// DeleteAccessKey ends a key.
func (tx *Tx) DeleteAccessKey(ctx context.Context, id uuid.UUID) error {
	return named(metOne(tx.tx.ExecContext(ctx, `DELETE FROM access_key WHERE school_id = $1 AND id = $2`, tx.School, id)))
}

// KeyHolder is who a key signs in.
type KeyHolder struct {
	Key      uuid.UUID `db:"id"`
	School   uuid.UUID `db:"school_id"`
	Person   uuid.UUID `db:"person_id"`
	Name     string    `db:"name"`
	Role     string    `db:"role"`     // of the person
	KeyRole  string    `db:"key_role"` // of the key, which may be less
	Revision int64     `db:"revision"` // of the school
}

// KeyHolder finds who a key signs in, and notes the day and the address from which; ErrNotFound for none that holds.
func (db *DB) KeyHolder(ctx context.Context, digest []byte, now time.Time, origin string) (KeyHolder, error) {
	var h KeyHolder
	err := db.somewhere(func(pool *sqlx.DB) error {
		return pool.GetContext(
			ctx, &h, `SELECT id, school_id, person_id, name, role, key_role, revision FROM access_key_holder($1, $2, $3)`, digest, now, origin,
		)
	})
	return h, err
}
