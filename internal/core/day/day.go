// Package day is the calendar of the house: whole days without a clock or a time zone.
//
// Care is due on a day, a term begins on a day, and nobody asks at what hour. A Day therefore has no hour and
// no zone; the school's zone is used once, at the edge, to turn the present moment into a Day.
package day

import (
	"encoding/json"
	"fmt"
	"math"
	"time"
)

// A Day counts days since the last one before the year 0. Days are compared and subtracted as numbers. The zero Day is that day, which no
// text names, so IsZero serves as "not given".
type Day int32

// unixEpoch is 1970-01-01.
const unixEpoch Day = 719529

// Weekday is the ISO day of the week, Monday = 1 to Sunday = 7.
type Weekday int

const layout = "2006-01-02"

// On returns the Day of a date; values outside their usual ranges are normalised as time.Date does.
func On(year int, month time.Month, d int) Day {
	return Of(time.Date(year, month, d, 0, 0, 0, 0, time.UTC))
}

// Of returns the Day that t shows on its own calendar.
func Of(t time.Time) Day {
	y, m, d := t.Date()
	return unixEpoch + Day(floorDiv(time.Date(y, m, d, 0, 0, 0, 0, time.UTC).Unix(), 86400))
}

// Parse reads an ISO day such as 2026-11-24.
func Parse(s string) (Day, error) {
	t, err := time.Parse(layout, s)
	if err != nil {
		return 0, fmt.Errorf("%q is not a day; write it as 2026-11-24", s)
	}
	return Of(t), nil
}

// MustParse is Parse for constants in tests and data known to be right.
func MustParse(s string) Day {
	d, err := Parse(s)
	if err != nil {
		panic(err)
	}
	return d
}

// Time is midnight UTC of the day, for formatting.
func (d Day) Time() time.Time { return time.Unix(int64(d-unixEpoch)*86400, 0).UTC() }

// IsZero reports whether the day was not given.
func (d Day) IsZero() bool { return d == 0 }

// Weekday returns the ISO weekday.
func (d Day) Weekday() Weekday {
	// 1970-01-01 was a Thursday, ISO 4.
	return Weekday(((int64(d-unixEpoch)+3)%7+7)%7 + 1)
}

// AddYears is the same date n years on; 29 February becomes 1 March where there is none.
func (d Day) AddYears(n int) Day { return Of(d.Time().AddDate(n, 0, 0)) }

// String is the ISO form.
func (d Day) String() string { return d.Time().Format(layout) }

// Words writes the day for a sentence, as 24 November 2026.
func (d Day) Words() string { return d.Time().Format("2 January 2006") }

// MarshalText writes the ISO form.
func (d Day) MarshalText() ([]byte, error) { return []byte(d.String()), nil }

// UnmarshalText reads the ISO form.
func (d *Day) UnmarshalText(b []byte) error {
	v, err := Parse(string(b))
	if err != nil {
		return err
	}
	*d = v
	return nil
}

// UnmarshalJSON reads the ISO form and refuses anything but a string.
func (d *Day) UnmarshalJSON(b []byte) error {
	var s string
	if err := json.Unmarshal(b, &s); err != nil {
		return fmt.Errorf("%s is not a day; write it as \"2026-11-24\"", b)
	}
	return d.UnmarshalText([]byte(s))
}

// Scan reads what a database has for a day.
func (d *Day) Scan(v any) error {
	switch v := v.(type) {
	case time.Time:
		*d = Of(v)
		return nil
	case string:
		return d.UnmarshalText([]byte(v))
	}
	return fmt.Errorf("cannot read a day from %T", v)
}

// A Span is a run of days, both ends included. A Span whose To is before its From is empty.
type Span struct {
	From Day `json:"from"`
	To   Day `json:"to"`
}

// Contains reports whether d lies in the span.
func (s Span) Contains(d Day) bool { return s.From <= d && d <= s.To }

// Days is the number of days in the span.
func (s Span) Days() int { return max(0, int(s.To-s.From)+1) }

// Clip is the part of s inside t.
func (s Span) Clip(t Span) Span { return Span{max(s.From, t.From), min(s.To, t.To)} }

// Ceil rounds a number of days up to whole days, forgiving a rounding error of 1e-9; beyond a million days it is
// a million.
func Ceil(days float64) int { return int(math.Min(1e6, math.Ceil(days-1e-9))) }

func floorDiv(a, b int64) int64 {
	q := a / b
	if a%b < 0 {
		q--
	}
	return q
}
