// Package store keeps everything in PostgreSQL. It is the only place that knows tables.
//
// All work of a school happens in a transaction that names the school (Read, Write); row-level security then shows
// and takes that school's rows only, whatever ids are asked for.
package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"embed"
	"encoding/hex"
	"errors"
	"fmt"
	"io/fs"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5/pgconn"
	_ "github.com/jackc/pgx/v5/stdlib" // the driver
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"

	"solfeggio/internal/store/internal/query"
	"solfeggio/internal/store/schoolrows"
)

// The faults that callers tell apart.
var (
	ErrNotFound    = query.ErrNotFound
	ErrStale       = query.ErrStale
	ErrUnavailable = query.ErrUnavailable
	ErrWaiting     = query.ErrWaiting
	ErrReadOnly    = query.ErrReadOnly
	ErrFull        = query.ErrFull
	ErrInDoubt     = query.ErrInDoubt
	ErrCharacter   = query.ErrCharacter
)

// Violation is a rule of the database that a write broke.
type Violation = query.Violation

//go:embed migrations/*.sql
var migrations embed.FS

// Migrate brings the tables up to date. Several processes may call it at once.
func Migrate(ctx context.Context, url string) error {
	db, err := sql.Open("pgx", url)
	if err != nil {
		return fmt.Errorf("migrating: %w", err)
	}
	defer db.Close()
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	locker, err := lock.NewPostgresSessionLocker()
	if err != nil {
		return err
	}
	p, err := goose.NewProvider(goose.DialectPostgres, db, files, goose.WithSessionLocker(locker))
	if err != nil {
		return fmt.Errorf("migrating: %w", err)
	}
	if _, err := p.Up(ctx); err != nil {
		return fmt.Errorf("migrating: %w", query.Named(err))
	}
	there, err := p.GetDBVersion(ctx)
	if err != nil {
		return fmt.Errorf("migrating: %w", query.Named(err))
	}
	if newest, err := newestMigration(); err != nil || there > newest {
		return fmt.Errorf("migrating: the database belongs to a newer program (migration %d; this one knows %d)", there, newest)
	}
	return nil
}

// Tx is a transaction of one school. The packages beside this one ask in it, each for the tables of one part of the work.
type Tx = query.Tx

// Read runs f on one unchanging view of the school.
func (db *DB) Read(ctx context.Context, school uuid.UUID, f func(*Tx) error) error {
	return db.run(ctx, school, &sql.TxOptions{Isolation: sql.LevelRepeatableRead, ReadOnly: true}, f)
}

// Write runs f in a transaction that is kept only when f returns nil. Writes of one school follow one another: each
// begins by counting up the school's revision, which also says to readers that what they hold is old. ErrInDoubt says that
// nobody knows whether it was kept.
func (db *DB) Write(ctx context.Context, school uuid.UUID, f func(*Tx) error) error {
	return db.run(ctx, school, nil, func(tx *Tx) error {
		err := query.Get(
			ctx,
			tx,
			&tx.Revision,
			`WITH next AS (UPDATE school SET revision = revision + 1 WHERE school_id = $1 RETURNING revision)
			SELECT set_config('solfeggio.revision', revision::text, true)::bigint FROM next`,
			school,
		)
		if err != nil && !errors.Is(err, ErrNotFound) {
			return err
		}
		if err := schoolrows.ForgetTouched(ctx, tx); err != nil {
			return err
		}
		return f(tx)
	})
}

// WriteBeside is Write for what nobody keeps in memory of a school, such as keys, sessions and what a class has practised: writes wait for
// each other, and what was read before still holds. A write that touches more than that is refused by the database.
func (db *DB) WriteBeside(ctx context.Context, school uuid.UUID, f func(*Tx) error) error {
	return db.run(ctx, school, nil, func(tx *Tx) error {
		err := query.Get(ctx, tx, &tx.Revision,
			`SELECT revision + 1 FROM school, set_config('solfeggio.revision', 'beside', true) WHERE school_id = $1 FOR UPDATE OF school`, school)
		if err != nil && !errors.Is(err, ErrNotFound) {
			return err
		}
		return f(tx)
	})
}

// WriteAside writes what nothing else of the school depends on, such as a count: nobody waits for it, and what was read before still holds.
func (db *DB) WriteAside(ctx context.Context, school uuid.UUID, f func(*Tx) error) error {
	return db.run(ctx, school, nil, f)
}

// Settled runs f when no write of the school is under way, not even one whose connection was lost. f only reads.
func (db *DB) Settled(ctx context.Context, school uuid.UUID, f func(*Tx) error) error {
	return db.run(ctx, school, nil, func(tx *Tx) error {
		if _, err := query.Exec(ctx, tx, `SELECT FROM school WHERE school_id = $1 FOR UPDATE`, school); err != nil {
			return err
		}
		return f(tx)
	})
}

func (db *DB) run(ctx context.Context, school uuid.UUID, opts *sql.TxOptions, f func(*Tx) error) error {
	pool, err := db.home(ctx, school)
	if err != nil {
		return err
	}
	tx, err := pool.BeginTxx(ctx, opts)
	if err != nil {
		return query.Named(err)
	}
	defer tx.Rollback() //nolint:errcheck // after Commit there is nothing to roll back
	if _, err := tx.ExecContext(ctx, begin, school.String()); err != nil {
		return query.Named(err)
	}
	if err := f(query.In(tx, school)); err != nil {
		return query.Named(err)
	}
	return committed(tx.Commit())
}

// committed names what came of a commit. What the database itself refuses was not kept; what broke off may have been, also when the
// driver says that the connection was closed, which it may find out only after it has sent the commit.
func committed(err error) error {
	var refused *pgconn.PgError
	switch {
	case err == nil, errors.Is(err, sql.ErrTxDone):
		return query.Named(err)
	case errors.As(err, &refused) && refused.Code[:2] != "57" && refused.Code[:2] != "08":
		return query.Named(err)
	}
	return fmt.Errorf("%w: %w", ErrInDoubt, err)
}

// MigrationsSum changes when a migration does.
func MigrationsSum() string {
	sum := sha256.New()
	files, _ := fs.Glob(migrations, "migrations/*") // the pattern is right
	for _, name := range files {
		text, _ := migrations.ReadFile(name) // it was just listed
		sum.Write(text)
	}
	return hex.EncodeToString(sum.Sum(nil))
}
