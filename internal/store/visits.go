package store

import (
	"context"
	"time"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"

	"solfeggio/internal/store/internal/query"
)

// Session is a sign-in on a device. The token is kept hashed.
type Session struct {
	Token    string
	Data     []byte
	Expiry   time.Time
	School   *uuid.UUID // nil while nobody is signed in
	Person   *uuid.UUID
	BeganAt  time.Time
	Device   string // as its browser calls itself
	Name     string // of the person, as the following
	Role     string
	Revision int64 // of the school
	Lacks    bool  // a second factor, which the school asks for
}

// Session finds a session that has not run out, with the person if they may still sign in; ErrNotFound for none.
func (db *DB) Session(ctx context.Context, token string, now time.Time) (Session, error) {
	var row struct {
		Data     []byte     `db:"data"`
		School   *uuid.UUID `db:"school_id"`
		Person   *uuid.UUID `db:"person_id"`
		Name     *string    `db:"name"`
		Role     *string    `db:"role"`
		Revision *int64     `db:"revision"`
		Lacks    *bool      `db:"lacks_factor"`
	}
	err := db.somewhere(func(pool *sqlx.DB) error {
		return pool.GetContext(ctx, &row, `SELECT data, school_id, person_id, name, role, revision, lacks_factor FROM signed_in($1, $2)`, token, now)
	})
	if err != nil {
		return Session{}, err
	}
	s := Session{Token: token, Data: row.Data, School: row.School, Person: row.Person}
	if row.Person != nil && row.Name != nil && row.Role != nil && row.Revision != nil {
		s.Name, s.Role, s.Revision, s.Lacks = *row.Name, *row.Role, *row.Revision, row.Lacks != nil && *row.Lacks
	}
	return s, nil
}

// PutSession keeps a session.
func (db *DB) PutSession(ctx context.Context, s Session) error {
	pool := db.pools[0]
	if s.School != nil {
		var err error
		if pool, err = db.home(ctx, *s.School); err != nil {
			return err
		}
	}
	_, err := pool.ExecContext(ctx, `INSERT INTO sessions (token, data, expiry, school_id, person_id, began_at, device)
		VALUES ($1, $2, $3, $4, $5, $6, $7)
		ON CONFLICT (token) DO UPDATE SET data = excluded.data, expiry = excluded.expiry, school_id = excluded.school_id,
		person_id = excluded.person_id`,
		s.Token, s.Data, s.Expiry, s.School, s.Person, s.BeganAt, s.Device)
	return query.Named(err)
}

// DeleteSession ends a session; one that is not there is ended already.
func (db *DB) DeleteSession(ctx context.Context, token string) error {
	return db.everywhere(func(pool *sqlx.DB) error {
		_, err := pool.ExecContext(ctx, `DELETE FROM sessions WHERE token = $1`, token)
		return err
	})
}

// DeleteExpiredSessions forgets what has run out.
func (db *DB) DeleteExpiredSessions(ctx context.Context, now time.Time) error {
	return db.everywhere(func(pool *sqlx.DB) error {
		_, err := pool.ExecContext(ctx, `DELETE FROM sessions WHERE expiry < $1`, now)
		return err
	})
}
