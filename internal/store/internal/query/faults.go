package query

import (
	"database/sql"
	"errors"
	"fmt"
	"io"
	"net"
	"slices"

	"github.com/jackc/pgx/v5/pgconn"
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

// A Violation is a rule of the database that a write broke.
type Violation struct {
	Constraint string
	Err        error
}

func (v *Violation) Error() string { return "the database refuses it: " + v.Constraint }
func (v *Violation) Unwrap() error { return v.Err }

// Named turns the driver's errors into the ones that callers tell apart.
func Named(err error) error {
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
