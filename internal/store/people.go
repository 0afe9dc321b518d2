package store

import (
	"context"
	"time"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"

	"solfeggio/internal/core/day"
)

// Person is someone who signs in.
type Person struct {
	School  uuid.UUID `db:"school_id"`
	ID      uuid.UUID `db:"id"`
	Email   string    `db:"email"`
	Name    string    `db:"name"`
	Role    string    `db:"role"`
	Hash    string    `db:"password_hash"`
	Active  bool      `db:"active"`
	Version int       `db:"version"`
}

// SignInCandidate finds the person with an e-mail address in any school.
func (db *DB) SignInCandidate(ctx context.Context, email string) (Person, error) {
	var p Person
	err := db.somewhere(func(pool *sqlx.DB) error {
		return pool.GetContext(ctx, &p, `SELECT school_id, id, name, role, password_hash FROM sign_in_candidate($1)`, email)
	})
	return p, err
}

// GetPerson reads a person who may still sign in.
func (tx *Tx) GetPerson(ctx context.Context, id uuid.UUID) (Person, error) {
	var p Person
	err := tx.tx.GetContext(ctx, &p, `SELECT `+personColumns+` FROM person WHERE school_id = $1 AND id = $2 AND active`, tx.School, id)
	return p, named(err)
}

// RoleNow is what a person is in this transaction; ErrNotFound for one who may not sign in any more, or whose session or key has ended.
func (tx *Tx) RoleNow(ctx context.Context, person uuid.UUID, session string, key uuid.UUID) (role string, err error) {
	err = tx.tx.GetContext(ctx, &role, `SELECT role FROM person p WHERE school_id = $1 AND id = $2 AND active
		AND ($3 = '' OR EXISTS (SELECT FROM sessions s WHERE s.token = $3 AND s.school_id = $1 AND s.person_id = $2))
		AND ($4 = '00000000-0000-0000-0000-000000000000'::uuid
			OR EXISTS (SELECT FROM access_key k WHERE k.school_id = $1 AND k.id = $4 AND k.person_id = $2))`, tx.School, person, session, key)
	return role, named(err)
}

const personColumns = `school_id, id, email, name, role, password_hash, active, version`

// People lists everybody who signs in or once did, by name.
func (tx *Tx) People(ctx context.Context) ([]Person, error) {
	var list []Person
	err := tx.tx.SelectContext(ctx, &list, `SELECT `+personColumns+` FROM person WHERE school_id = $1 ORDER BY name, id`, tx.School)
	return nonNil(list, named(err))
}

// PutPerson adds a person (Version 0) or changes the one of that version; an empty Hash leaves the password as it is.
func (tx *Tx) PutPerson(ctx context.Context, p Person) error {
	p.School = tx.School
	if p.Version == 0 {
		_, err := tx.tx.NamedExecContext(ctx, `
			INSERT INTO person (school_id, id, email, name, role, password_hash, active)
			VALUES (:school_id, :id, :email, :name, :role, :password_hash, :active)`, p)
		return named(err)
	}
	return named(metOne(tx.tx.NamedExecContext(ctx, `
		UPDATE person SET email = :email, name = :name, role = :role, active = :active, version = version + 1,
			password_hash = CASE WHEN :password_hash = '' THEN password_hash ELSE :password_hash END
		WHERE school_id = :school_id AND id = :id AND version = :version`, p)))
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

// Guesses counts tries at passwords since a moment, by e-mail address of the school's people; those that got in are forgotten.
func (tx *Tx) Guesses(ctx context.Context, since time.Time) (map[string]int, error) {
	var rows []struct {
		Email string `db:"email"`
		Tries int    `db:"tries"`
	}
	err := tx.tx.SelectContext(ctx, &rows, `SELECT p.email::text, count(*) AS tries FROM person p JOIN sign_in_attempt a USING (email)
		WHERE p.school_id = $1 AND a.at >= $2 GROUP BY p.email`, tx.School, since)
	tries := map[string]int{}
	for _, r := range rows {
		tries[r.Email] = r.Tries
	}
	return tries, named(err)
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

// ForgetDevices forgets on which devices a person has signed in.
func (tx *Tx) ForgetDevices(ctx context.Context, person uuid.UUID) error {
	_, err := tx.tx.ExecContext(ctx, `DELETE FROM known_device WHERE school_id = $1 AND person_id = $2`, tx.School, person)
	return named(err)
}

// KeepDevice remembers a device on which a person has signed in, and forgets those that were not used since a day.
func (tx *Tx) KeepDevice(ctx context.Context, person uuid.UUID, device []byte, today, forget day.Day) error {
	if _, err := tx.tx.ExecContext(ctx, `DELETE FROM known_device WHERE school_id = $1 AND person_id = $2 AND seen_on < $3`,
		tx.School, person, forget); err != nil {
		return named(err)
	}
	_, err := tx.tx.ExecContext(ctx, `INSERT INTO known_device (school_id, person_id, digest, seen_on) VALUES ($1, $2, $3, $4)
		ON CONFLICT (school_id, person_id, digest) DO UPDATE SET seen_on = $4`, tx.School, person, device, today)
	return named(err)
}
