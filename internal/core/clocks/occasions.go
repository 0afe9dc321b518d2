package clocks

import (
	"fmt"
	"strings"
	"time"

	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
)

// Heating is when the heating season begins and ends, in any year. Dry heated air and damp summer air are what moves wood,
// pegs and hair; a school in another climate enters its own two turns.
type Heating struct{ Begins, Ends YearDay }

// A YearDay is a date in any year.
type YearDay struct {
	Month time.Month
	Day   int
}

// The heating season of a temperate northern climate (from memory), as ParseYearDay reads it.
const (
	DefaultHeatingBegins = "10-15"
	DefaultHeatingEnds   = "04-15"
)

// ParseYearDay reads a month and day such as "10-15".
func ParseYearDay(s string) (YearDay, error) {
	t, err := time.Parse("01-02", s)
	if err != nil {
		return YearDay{}, fmt.Errorf("%q is no day of the year; write month and day as 10-15", s)
	}
	return YearDay{t.Month(), t.Day()}, nil
}

// turns are the days on which the season turns, around a day.
func (h Heating) turns(about day.Day) []care.Occasion {
	year := about.Time().Year()
	var list []care.Occasion
	for y := year - 1; y <= year+1; y++ {
		begins, ends := day.On(y, h.Begins.Month, h.Begins.Day), day.On(y, h.Ends.Month, h.Ends.Day)
		list = append(list,
			care.Occasion{By: care.BySeason, On: ends, Reason: "the end of the heating season"},
			care.Occasion{By: care.BySeason, On: begins, Reason: "the beginning of the heating season"})
	}
	return list
}

// occasions lists what makes a routine due beside its limits.
func (r *Reader) occasions(routine *catalog.Routine, in Instrument, started day.Day) []care.Occasion {
	t := routine.Triggers
	if (t == catalog.Triggers{}) {
		return nil
	}
	var list []care.Occasion
	if t.Returned && !in.Returned.IsZero() {
		list = append(list, care.Occasion{By: care.ByReturn, On: in.Returned, Reason: "its return on " + in.Returned.Words()})
	}
	if t.BeforeConcertDays > 0 && in.Concert >= r.today {
		list = append(
			list,
			care.Occasion{
				By:     care.ByConcert,
				On:     in.Concert - day.Day(t.BeforeConcertDays),
				Reason: "the concert on " + in.Concert.Words(),
			},
		)
	}
	if t.UnplayedDays > 0 && !in.RestsSince.IsZero() {
		list = append(
			list,
			care.Occasion{By: care.ByRest, On: in.RestsSince + day.Day(t.UnplayedDays), Reason: "its rest since " + in.RestsSince.Words()},
		)
	}
	if t.Season {
		// Only the latest turn that has come counts, or else the next: what was missed a year ago is past.
		var turn *care.Occasion
		for _, o := range r.settings.Heating.turns(r.today) {
			if o.On <= r.today && (turn == nil || o.On > turn.On) {
				turn = &o
			}
		}
		if turn == nil || turn.On <= started {
			turn = nil
			for _, o := range r.settings.Heating.turns(r.today) {
				if o.On > r.today && (turn == nil || o.On < turn.On) {
					turn = &o
				}
			}
		}
		if turn != nil {
			list = append(list, *turn)
		}
	}
	return list
}

// words says what makes a routine due beside its limits.
func words(t catalog.Triggers) string {
	var list []string
	for _, x := range []struct {
		on   bool
		text string
	}{
		{t.Returned, "when a player gives it back"},
		{t.BeforeConcertDays > 0, fmt.Sprintf("%d days before its next concert", t.BeforeConcertDays)},
		{t.Season, "when the heating season begins and when it ends"},
		{t.UnplayedDays > 0, fmt.Sprintf("when nobody has played it for %d days", t.UnplayedDays)},
	} {
		if x.on {
			list = append(list, x.text)
		}
	}
	return strings.Join(list, ", and ")
}
