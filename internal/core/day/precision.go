package day

import (
	"fmt"
	"strings"
)

// A Precision says how much of a day is known: all of it, its month or its year. What is known only so far is kept as the first day of it.
type Precision string

// The precisions.
const (
	Exact   Precision = ""
	ToMonth Precision = "month"
	ToYear  Precision = "year"
)

// In writes as much of a day as is known: 2026-11-24, 2026-11 or 2026.
func (p Precision) In(d Day) string {
	switch p {
	case ToMonth:
		return d.Time().Format("2006-01")
	case ToYear:
		return d.Time().Format("2006")
	}
	return d.String()
}

// Begins reports whether a day can stand for what is known: the first of a month, or of a year.
func (p Precision) Begins(d Day) bool {
	first, _, err := ParsePart(p.In(d))
	return err == nil && first == d
}

// ParsePart reads what In writes.
func ParsePart(s string) (Day, Precision, error) {
	p := Exact
	switch strings.Count(s, "-") {
	case 0:
		p = ToYear
	case 1:
		p = ToMonth
	}
	d, err := Parse(s + map[Precision]string{ToYear: "-01-01", ToMonth: "-01"}[p])
	if err != nil {
		return 0, Exact, fmt.Errorf("%q is not a day; write it as 2026-11-24, or 2026-11 or 2026 where no more is known", s)
	}
	return d, p, nil
}
