package store

// What comes from outside names no school: an address, a secret, a key. Here it is found out whose it is, in all databases.

import (
	"context"
	"time"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"

	"solfeggio/internal/store/internal/query"
	"solfeggio/internal/store/peoplerows"
)

// SignInCandidate finds the person with an e-mail address in any school.
func (db *DB) SignInCandidate(ctx context.Context, email string) (peoplerows.Person, error) {
	var p peoplerows.Person
	err := db.somewhere(func(pool *sqlx.DB) error {
		return pool.GetContext(ctx, &p, `SELECT school_id, id, name, role, password_hash FROM sign_in_candidate($1)`, email)
	})
	return p, err
}

// CountSignIns notes an attempt and returns how many there were since then for the same address and from the same
// origin, this one included.
func (db *DB) CountSignIns(ctx context.Context, email, origin string, now, since time.Time) (byEmail, byOrigin int, err error) {
	return db.count(ctx, `
		WITH old AS (DELETE FROM sign_in_attempt WHERE at < $4),
		     this AS (INSERT INTO sign_in_attempt (email, origin, at) VALUES ($1, $2, $3))
		SELECT count(*) FILTER (WHERE email = $1) + 1, count(*) FILTER (WHERE origin = $2) + 1
		FROM sign_in_attempt WHERE at >= $4`, email, origin, now, since)
}

// ForgetSignIns clears the count of an address after its owner got in, and of the name under which their try was counted.
func (db *DB) ForgetSignIns(ctx context.Context, email, counted string) error {
	return db.wherever(func(pool *sqlx.DB) error {
		_, err := pool.ExecContext(ctx, `DELETE FROM sign_in_attempt WHERE email IN ($1, $2)`, email, counted)
		return err
	})
}

// DeviceKnown reports whether somebody with that e-mail address has signed in on a device before.
func (db *DB) DeviceKnown(ctx context.Context, email string, device []byte) (known bool, err error) {
	err = db.wherever(func(pool *sqlx.DB) error {
		var here bool
		err := pool.GetContext(ctx, &here, `SELECT device_known($1, $2)`, email, device)
		known = known || here
		return err
	})
	return known, err
}

// LinkHolder is who a link for a new password is for.
type LinkHolder struct {
	peoplerows.Person
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

// CardHolder is what an address of a card leads to.
type CardHolder struct {
	School     uuid.UUID `db:"school_id"`
	Instrument uuid.UUID `db:"instrument_id"`
	Revision   int64     `db:"revision"` // of the school
}

// CardHolder finds what an address leads to, in any school; ErrNotFound for one that leads nowhere.
func (db *DB) CardHolder(ctx context.Context, secret string) (CardHolder, error) {
	var h CardHolder
	err := db.somewhere(func(pool *sqlx.DB) error {
		return pool.GetContext(ctx, &h, `SELECT school_id, instrument_id, revision FROM card_instrument($1)`, secret)
	})
	return h, err
}

// CountReports counts a try to report under an address of a card and from an origin, with those since a moment.
func (db *DB) CountReports(ctx context.Context, secret, origin string, now, since time.Time) (byCard, byOrigin int, err error) {
	return db.count(ctx, `
		WITH old AS (DELETE FROM report_try WHERE at < $4),
		     this AS (INSERT INTO report_try (secret, origin, at) VALUES ($1, $2, $3))
		SELECT count(*) FILTER (WHERE secret = $1) + 1, count(*) FILTER (WHERE origin = $2) + 1
		FROM report_try WHERE at >= $4`, secret, origin, now, since)
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

// Revision reads how often the school has been written to.
func (db *DB) Revision(ctx context.Context, school uuid.UUID) (int64, error) {
	var n int64
	err := db.Read(ctx, school, func(tx *Tx) error {
		return query.Get(ctx, tx, &n, `SELECT revision FROM school WHERE school_id = $1`, school)
	})
	return n, err
}
