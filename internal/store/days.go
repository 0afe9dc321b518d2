package store

import (
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgtype"

	"solfeggio/internal/core/day"
)

// keepDays lets a connection write days as dates. A Day reads itself.
func keepDays(c *pgx.Conn) {
	m := c.TypeMap()
	m.TryWrapEncodePlanFuncs = append([]pgtype.TryWrapEncodePlanFunc{asDate}, m.TryWrapEncodePlanFuncs...)
}

func asDate(value any) (plan pgtype.WrappedEncodePlanNextSetter, next any, ok bool) {
	if d, isDay := value.(day.Day); isDay {
		return &datePlan{}, date(d), true
	}
	return nil, nil, false
}

type date day.Day

// DateValue is the day as pgx knows it.
func (d date) DateValue() (pgtype.Date, error) {
	return pgtype.Date{Time: day.Day(d).Time(), Valid: true}, nil
}

type datePlan struct{ next pgtype.EncodePlan }

// SetNext is told how dates are written.
func (p *datePlan) SetNext(next pgtype.EncodePlan) { p.next = next }

// Encode writes a day.
func (p *datePlan) Encode(value any, buf []byte) ([]byte, error) {
	return p.next.Encode(date(value.(day.Day)), buf)
}
