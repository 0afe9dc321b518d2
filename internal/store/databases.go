package store

import (
	"context"
	"errors"

	"github.com/google/uuid"
	lru "github.com/hashicorp/golang-lru/v2"
	"github.com/jmoiron/sqlx"

	"solfeggio/internal/store/internal/query"
)

// DB is where schools are kept: one database, or several, each with schools of its own. A school stays where it was made; which database
// that is, the databases themselves know. All work as the role solfeggio_app.
//
// A database that is away takes no others with it.
type DB struct {
	pools []*sqlx.DB
	homes *lru.Cache[uuid.UUID, *sqlx.DB] // where a school is, once it was found
}

// homesKept is for how many schools it is remembered where they are.
const homesKept = 10_000

// Open makes pools on the databases of those addresses, at least one. New schools are made in the first.
func Open(first string, more ...string) (*DB, error) {
	homes, err := lru.New[uuid.UUID, *sqlx.DB](homesKept)
	if err != nil {
		return nil, err
	}
	db := &DB{homes: homes}
	for _, url := range append([]string{first}, more...) {
		pool, err := connect(url)
		if err != nil {
			return nil, errors.Join(err, db.Close())
		}
		db.pools = append(db.pools, pool)
	}
	return db, nil
}

// Close gives all connections back.
func (db *DB) Close() error {
	var faults []error
	for _, pool := range db.pools {
		faults = append(faults, pool.Close())
	}
	return errors.Join(faults...)
}

// Ping asks whether a database answers, so that somebody can be served.
func (db *DB) Ping(ctx context.Context) error {
	return db.wherever(func(pool *sqlx.DB) error { return pool.PingContext(ctx) })
}

// home finds the database of a school, which is the first for one that is nowhere yet.
func (db *DB) home(ctx context.Context, school uuid.UUID) (*sqlx.DB, error) {
	if len(db.pools) == 1 {
		return db.pools[0], nil
	}
	if pool, known := db.homes.Get(school); known {
		return pool, nil
	}
	var found *sqlx.DB
	err := db.somewhere(func(pool *sqlx.DB) error {
		var here bool
		err := pool.GetContext(ctx, &here, `SELECT school_here($1)`, school)
		switch {
		case err != nil:
			return err
		case !here:
			return ErrNotFound
		}
		found = pool
		return nil
	})
	switch {
	case errors.Is(err, ErrNotFound):
		return db.pools[0], nil // and is looked for again next time
	case err == nil:
		db.homes.Add(school, found)
	}
	return found, err
}

// somewhere asks one database after the other until one knows. ErrNotFound needs the word of all: while one is away nobody can tell.
func (db *DB) somewhere(ask func(*sqlx.DB) error) error {
	var away error
	for _, pool := range db.pools {
		switch err := query.Named(ask(pool)); {
		case err == nil:
			return nil
		case errors.Is(err, ErrUnavailable):
			away = err
		case !errors.Is(err, ErrNotFound):
			return err
		}
	}
	if away != nil {
		return away
	}
	return ErrNotFound
}

// everywhere does something in all databases, and fails when it failed in one.
func (db *DB) everywhere(do func(*sqlx.DB) error) error { return errors.Join(db.each(do)...) }

// wherever does something in the databases that answer, and fails when none did.
func (db *DB) wherever(do func(*sqlx.DB) error) error {
	if faults := db.each(do); len(faults) == len(db.pools) {
		return errors.Join(faults...)
	}
	return nil
}

func (db *DB) each(do func(*sqlx.DB) error) (faults []error) {
	for _, pool := range db.pools {
		if err := query.Named(do(pool)); err != nil {
			faults = append(faults, err)
		}
	}
	return faults
}

// count notes a try and counts it, with those before, by two things of it. Every database counts for itself; the most counts.
func (db *DB) count(ctx context.Context, noting string, args ...any) (first, second int, err error) {
	err = db.wherever(func(pool *sqlx.DB) error {
		var a, b int
		err := pool.QueryRowxContext(ctx, noting, args...).Scan(&a, &b)
		first, second = max(first, a), max(second, b)
		return err
	})
	return first, second, err
}
