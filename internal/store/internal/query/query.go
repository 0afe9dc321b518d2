// Package query asks the database in a transaction of one school. Only the packages below store may import it, so that nobody else
// knows SQL; the others hand a transaction on.
//
// Every error comes back by the name that callers tell it apart by (Named).
package query

import (
	"context"
	"database/sql"
	"errors"
	"fmt"

	"github.com/google/uuid"

	"github.com/jmoiron/sqlx"
)

// Tx is a transaction of one school.
type Tx struct {
	sql      *sqlx.Tx
	School   uuid.UUID
	Revision int64 // that a write makes: what the school was before it has one less; 0 while there is no school yet
}

// In makes a transaction that was begun one of a school.
func In(sql *sqlx.Tx, school uuid.UUID) *Tx { return &Tx{sql: sql, School: school} }

// Get reads one row into a struct or a value; ErrNotFound when there is none.
func Get(ctx context.Context, tx *Tx, into any, sql string, args ...any) error {
	return Named(tx.sql.GetContext(ctx, into, sql, args...))
}

// Select reads rows into a slice.
func Select(ctx context.Context, tx *Tx, into any, sql string, args ...any) error {
	return Named(tx.sql.SelectContext(ctx, into, sql, args...))
}

// List reads rows; the list is empty and not nil when there are none, so that JSON shows [].
func List[T any](ctx context.Context, tx *Tx, sql string, args ...any) ([]T, error) {
	list := []T{}
	return list, Select(ctx, tx, &list, sql, args...)
}

// Exec changes rows, and tells how many.
func Exec(ctx context.Context, tx *Tx, sql string, args ...any) (sql.Result, error) {
	result, err := tx.sql.ExecContext(ctx, sql, args...)
	return result, Named(err)
}

// NamedExec is Exec with the values of a struct or map, by name.
func NamedExec(ctx context.Context, tx *Tx, sql string, values any) (sql.Result, error) {
	result, err := tx.sql.NamedExecContext(ctx, sql, values)
	return result, Named(err)
}

// Do changes rows, however many.
func Do(ctx context.Context, tx *Tx, sql string, args ...any) error {
	_, err := Exec(ctx, tx, sql, args...)
	return err
}

// NamedDo is Do with the values of a struct or map, by name.
func NamedDo(ctx context.Context, tx *Tx, sql string, values any) error {
	_, err := NamedExec(ctx, tx, sql, values)
	return err
}

// DoOne changes the one row that should be there; ErrStale when it is not.
func DoOne(ctx context.Context, tx *Tx, sql string, args ...any) error {
	return MetOne(Exec(ctx, tx, sql, args...))
}

// NamedDoOne is DoOne with the values of a struct or map, by name.
func NamedDoOne(ctx context.Context, tx *Tx, sql string, values any) error {
	return MetOne(NamedExec(ctx, tx, sql, values))
}

// Query reads rows one by one.
func Query(ctx context.Context, tx *Tx, sql string, args ...any) (*sql.Rows, error) {
	rows, err := tx.sql.QueryContext(ctx, sql, args...)
	return rows, Named(err)
}

// MetOne reports ErrStale when a statement that should have met one row met none.
func MetOne(result sql.Result, err error) error { return MetAll(result, err, 1) }

// MetAll reports ErrStale when a statement met fewer rows than it should have.
func MetAll(result sql.Result, err error, all int) error {
	if err != nil {
		return err
	}
	if n, err := result.RowsAffected(); err != nil || n < int64(all) {
		return errors.Join(ErrStale, err)
	}
	return nil
}

// NonNil makes an empty list of a missing one, so that JSON shows [] and not null.
func NonNil[T any](list []T, err error) ([]T, error) {
	if list == nil {
		list = []T{}
	}
	return list, err
}

// Only narrows a query to rows of some things, where any are named, and adds them to its arguments.
func Only(column string, of []uuid.UUID, args ...any) (where string, all []any) {
	if len(of) == 0 {
		return "", args
	}
	return fmt.Sprintf(" AND %s = ANY($%d)", column, len(args)+1), append(args, of)
}
