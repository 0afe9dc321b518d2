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
	"io"
	"io/fs"
	"net"
	"slices"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5/pgconn"
	_ "github.com/jackc/pgx/v5/stdlib" // the driver
	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"
)

// The faults that callers tell apart.
var (
	ErrNotFound    = errors.New("not found")
	ErrStale       = errors.New("changed by someone else in the meantime")
	ErrUnavailable = errors.New("the database does not answer")
	ErrWaiting     = errors.New("others are writing to the school")
	ErrReadOnly    = errors.New("the database can only be read, as a standby can")
	ErrFull        = errors.New("the database has no room left")
	ErrInDoubt     = errors.New("the database stopped answering while a write was being kept")
	ErrCharacter   = errors.New("a text holds a character that the database cannot keep")
)

var names = []error{ErrWaiting, ErrNotFound, ErrStale, ErrUnavailable, ErrReadOnly, ErrFull, ErrInDoubt, ErrCharacter}

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
		return fmt.Errorf("migrating: %w", named(err))
	}
	there, err := p.GetDBVersion(ctx)
	if err != nil {
		return fmt.Errorf("migrating: %w", named(err))
	}
	if newest, err := newestMigration(); err != nil || there > newest {
		return fmt.Errorf("migrating: the database belongs to a newer program (migration %d; this one knows %d)", there, newest)
	}
	return nil
}

// Tx is a transaction of one school.
type Tx struct {
	tx       *sqlx.Tx
	School   uuid.UUID
	Revision int64 // that a write makes: what the school was before it has one less; 0 while there is no school yet
}

// Read runs f on one unchanging view of the school.
func (db *DB) Read(ctx context.Context, school uuid.UUID, f func(*Tx) error) error {
	return db.run(ctx, school, &sql.TxOptions{Isolation: sql.LevelRepeatableRead, ReadOnly: true}, f)
}

// Write runs f in a transaction that is kept only when f returns nil. Writes of one school follow one another: each
// begins by counting up the school's revision, which also says to readers that what they hold is old. ErrInDoubt says that
// nobody knows whether it was kept.
func (db *DB) Write(ctx context.Context, school uuid.UUID, f func(*Tx) error) error {
	return db.run(ctx, school, nil, func(tx *Tx) error {
		err := tx.tx.GetContext(
			ctx,
			&tx.Revision,
			`WITH next AS (UPDATE school SET revision = revision + 1 WHERE school_id = $1 RETURNING revision)
			SELECT set_config('solfeggio.revision', revision::text, true)::bigint FROM next`,
			school,
		)
		if err != nil && !errors.Is(err, sql.ErrNoRows) {
			return err
		}
		if err := tx.forgetTouched(ctx); err != nil {
			return err
		}
		return f(tx)
	})
}

// WriteBeside is Write for what nobody keeps in memory of a school, such as keys, sessions and what a class has practised: writes wait for
// each other, and what was read before still holds. A write that touches more than that is refused by the database.
func (db *DB) WriteBeside(ctx context.Context, school uuid.UUID, f func(*Tx) error) error {
	return db.run(ctx, school, nil, func(tx *Tx) error {
		err := tx.tx.GetContext(ctx, &tx.Revision,
			`SELECT revision + 1 FROM school, set_config('solfeggio.revision', 'beside', true) WHERE school_id = $1 FOR UPDATE OF school`, school)
		if err != nil && !errors.Is(err, sql.ErrNoRows) {
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
		if _, err := tx.tx.ExecContext(ctx, `SELECT FROM school WHERE school_id = $1 FOR UPDATE`, school); err != nil {
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
		return named(err)
	}
	defer tx.Rollback() //nolint:errcheck // after Commit there is nothing to roll back
	if _, err := tx.ExecContext(ctx, begin, school.String()); err != nil {
		return named(err)
	}
	if err := f(&Tx{tx: tx, School: school}); err != nil {
		return named(err)
	}
	return committed(tx.Commit())
}

// committed names what came of a commit. What the database itself refuses was not kept; what broke off may have been, also when the
// driver says that the connection was closed, which it may find out only after it has sent the commit.
func committed(err error) error {
	var refused *pgconn.PgError
	switch {
	case err == nil, errors.Is(err, sql.ErrTxDone):
		return named(err)
	case errors.As(err, &refused) && refused.Code[:2] != "57" && refused.Code[:2] != "08":
		return named(err)
	}
	return fmt.Errorf("%w: %w", ErrInDoubt, err)
}

// A Violation is a rule of the database that a write broke.
type Violation struct {
	Constraint string
	Err        error
}

func (v *Violation) Error() string { return "the database refuses it: " + v.Constraint }
func (v *Violation) Unwrap() error { return v.Err }

// named turns the driver's errors into the ones that callers tell apart.
func named(err error) error {
	var pg *pgconn.PgError
	var network *net.OpError
	var connect *pgconn.ConnectError
	switch {
	case err == nil:
		return nil
	case slices.ContainsFunc(names, func(name error) bool { return errors.Is(err, name) }):
		return err // it has its name
	case errors.Is(err, sql.ErrNoRows):
		return ErrNotFound
	case errors.As(err, &pg):
		switch pg.Code[:2] {
		case "23":
			return &Violation{pg.ConstraintName, err}
		case "22":
			if pg.Code == "22021" || pg.Code == "22P05" { // NUL, which JSON may hold and PostgreSQL's text may not
				return fmt.Errorf("%w: %w", ErrCharacter, err)
			}
		case "55":
			if pg.Code == "55P03" {
				return fmt.Errorf("%w: %w", ErrWaiting, err)
			}
		case "25":
			if pg.Code == "25006" {
				return fmt.Errorf("%w: %w", ErrReadOnly, err)
			}
			if pg.Code == "25P03" || pg.Code == "25P04" { // a transaction that lay idle, or took, too long
				return fmt.Errorf("%w: %w", ErrUnavailable, err)
			}
		case "08", "57", "53":
			if pg.Code == "53100" {
				return fmt.Errorf("%w: %w", ErrFull, err)
			}
			return fmt.Errorf("%w: %w", ErrUnavailable, err)
		}
	case errors.As(err, &network),
		errors.As(err, &connect),
		errors.Is(err, sql.ErrConnDone),
		errors.Is(err, net.ErrClosed),
		pgconn.SafeToRetry(err),
		pgconn.Timeout(err),
		errors.Is(err, io.EOF),
		errors.Is(err, io.ErrUnexpectedEOF):
		return fmt.Errorf("%w: %w", ErrUnavailable, err)
	}
	return err
}

// metOne reports ErrStale when a statement that should have met one row met none.
func metOne(result sql.Result, err error) error { return metAll(result, err, 1) }

// metAll reports ErrStale when a statement met fewer rows than it should have.
func metAll(result sql.Result, err error, all int) error {
	if err != nil {
		return err
	}
	if n, err := result.RowsAffected(); err != nil || n < int64(all) {
		return errors.Join(ErrStale, err)
	}
	return nil
}

// nonNil makes an empty list of a missing one, so that JSON shows [] and not null.
func nonNil[T any](list []T, err error) ([]T, error) {
	if list == nil {
		list = []T{}
	}
	return list, err
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
