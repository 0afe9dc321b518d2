// Package peoplerows keeps who signs in, and by what: sessions, links, keys, second factors and passkeys.
package peoplerows

import (
	"context"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/store/internal/query"
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

// GetPerson reads a person who may still sign in.
func GetPerson(ctx context.Context, tx *query.Tx, id uuid.UUID) (Person, error) {
	var p Person
	err := query.Get(ctx, tx, &p, `SELECT `+personColumns+` FROM person WHERE school_id = $1 AND id = $2 AND active`, tx.School, id)
	return p, err
}

// RoleNow is what a person is in this transaction; ErrNotFound for one who may not sign in any more, or whose session or key has ended.
func RoleNow(ctx context.Context, tx *query.Tx, person uuid.UUID, session string, key uuid.UUID) (role string, err error) {
	err = query.Get(ctx, tx, &role, `SELECT role FROM person p WHERE school_id = $1 AND id = $2 AND active
		AND ($3 = '' OR EXISTS (SELECT FROM sessions s WHERE s.token = $3 AND s.school_id = $1 AND s.person_id = $2))
		AND ($4 = '00000000-0000-0000-0000-000000000000'::uuid
			OR EXISTS (SELECT FROM access_key k WHERE k.school_id = $1 AND k.id = $4 AND k.person_id = $2))`, tx.School, person, session, key)
	return role, err
}

const personColumns = `school_id, id, email, name, role, password_hash, active, version`

// People lists everybody who signs in or once did, by name.
func People(ctx context.Context, tx *query.Tx) ([]Person, error) {
	return query.List[Person](ctx, tx, `SELECT `+personColumns+` FROM person WHERE school_id = $1 ORDER BY name, id`, tx.School)
}

// PutPerson adds a person (Version 0) or changes the one of that version; an empty Hash leaves the password as it is.
func PutPerson(ctx context.Context, tx *query.Tx, p Person) error {
	p.School = tx.School
	if p.Version == 0 {
		return query.NamedDo(ctx, tx, `
			INSERT INTO person (school_id, id, email, name, role, password_hash, active)
			VALUES (:school_id, :id, :email, :name, :role, :password_hash, :active)`, p)
	}
	return query.NamedDoOne(ctx, tx, `
		UPDATE person SET email = :email, name = :name, role = :role, active = :active, version = version + 1,
			password_hash = CASE WHEN :password_hash = '' THEN password_hash ELSE :password_hash END
		WHERE school_id = :school_id AND id = :id AND version = :version`, p)
}

// Guesses counts tries at passwords since a moment, by e-mail address of the school's people; those that got in are forgotten.
func Guesses(ctx context.Context, tx *query.Tx, since time.Time) (map[string]int, error) {
	var rows []struct {
		Email string `db:"email"`
		Tries int    `db:"tries"`
	}
	err := query.Select(ctx, tx, &rows, `SELECT p.email::text, count(*) AS tries FROM person p JOIN sign_in_attempt a USING (email)
		WHERE p.school_id = $1 AND a.at >= $2 GROUP BY p.email`, tx.School, since)
	tries := map[string]int{}
	for _, r := range rows {
		tries[r.Email] = r.Tries
	}
	return tries, err
}

// ForgetDevices forgets on which devices a person has signed in.
func ForgetDevices(ctx context.Context, tx *query.Tx, person uuid.UUID) error {
	return query.Do(ctx, tx, `DELETE FROM known_device WHERE school_id = $1 AND person_id = $2`, tx.School, person)
}

// KeepDevice remembers a device on which a person has signed in, and forgets those that were not used since a day.
func KeepDevice(ctx context.Context, tx *query.Tx, person uuid.UUID, device []byte, today, forget day.Day) error {
	if _, err := query.Exec(ctx, tx, `DELETE FROM known_device WHERE school_id = $1 AND person_id = $2 AND seen_on < $3`,
		tx.School, person, forget); err != nil {
		return err
	}
	return query.Do(ctx, tx, `INSERT INTO known_device (school_id, person_id, digest, seen_on) VALUES ($1, $2, $3, $4)
		ON CONFLICT (school_id, person_id, digest) DO UPDATE SET seen_on = $4`, tx.School, person, device, today)
}
