package season

import (
	"math"

	"solfeggio/internal/core/day"
)

// Calendar is the season of one instrument: from a Monday on, so many weeks.
type Calendar struct {
	Monday   day.Day
	Weeks    int
	Concerts []day.Day // at which it plays
	Played   []bool    // by week: somebody plays it then
}

// Week is the week of a day; before the season it is below 0.
func (c Calendar) Week(d day.Day) int {
	return int(math.Floor(float64(d-c.Monday) / 7))
}

// Work is a piece of work that is coming.
type Work struct {
	Place       Place
	Opens       day.Day // from when on nothing much is lost by doing it
	Due         day.Day
	Late        day.Day // by when it is really late
	SettleDays  int     // before a concert it needs so long
	Minutes     float64 // at the bench
	Cents       int64
	DaysAway    int     // from the trip until it is back
	Places      int     // on a trip
	Consequence float64 // what happens if it is left undone, as the director weighs it
	LifeDays    int     // that what it renews lasts; 0 where it renews nothing
	Loaner      string  // what may be lent meanwhile; empty for nothing
}

// Only work that comes seldom is planned for the year: what comes every few weeks, or takes no time, finds its own minutes (our own).
const (
	SeldomDays   = 60
	LeastMinutes = 2
)

// JobWeighs is how much more a week's wait of a shop's job weighs than of care (our own).
const JobWeighs = 2

// Iterations are how often a season of so many jobs is improved: enough that more moves little (tried on the demo's shape).
func Iterations(jobs int) int { return min(5000, max(200, 8*jobs)) }

// What weeks cost (our own; the director's weights move the first).
const (
	LateCents   = 100. // a week late, times the consequence
	EarlyCents  = 20.  // a week early where nothing is renewed: work that comes around sooner
	AbsentCents = 400. // a week in which somebody who plays it has none
	beforeWeeks = 3    // before a concert, in which an absence weighs double
)

// Job lays a piece of work on the weeks of the season. What renews something costs early what is thrown away of it. What settles is not
// done so late before a concert, and nothing is away in the week of one.
func (c Calendar) Job(id string, w Work) Job {
	j := Job{
		ID: id, Place: w.Place, Opens: max(0, c.Week(w.Opens)), Due: c.Week(w.Due), Minutes: w.Minutes, CostCents: w.Cents, WeeksOut: 1,
		LateCentsPerWeek: int64(math.Round(LateCents * w.Consequence)), EarlyCentsPerWeek: EarlyCents,
		AbsentCentsPerWeek: make([]int64, c.Weeks), BlockedWeeks: []int{},
	}
	j.Last = min(c.Weeks-1, max(j.Opens, c.Week(w.Late)+lateWeeks, lateWeeks))
	j.Opens = min(j.Opens, j.Last)
	if w.LifeDays > 0 && w.Cents > 0 {
		j.EarlyCentsPerWeek = int64(math.Round(float64(w.Cents) * 7 / float64(w.LifeDays)))
	}
	barred := map[int]bool{}
	bar := func(from, to int) {
		for week := max(0, from); week <= min(c.Weeks-1, to); week++ {
			if !barred[week] {
				barred[week] = true
				j.BlockedWeeks = append(j.BlockedWeeks, week)
			}
		}
	}
	if w.Place == Van {
		j.Minutes = 0
		j.WeeksOut = max(1, int(math.Ceil(float64(w.DaysAway)/7)))
		if w.Places > 1 {
			places := w.Places
			j.Places = &places
		}
		if w.Loaner != "" {
			j.Loaner = &w.Loaner
		}
	}
	for _, concert := range c.Concerts {
		at := c.Week(concert)
		switch {
		case w.Place == Van:
			bar(at, at)
		case w.SettleDays > 0: // a week's work may be done on its last school day, a Friday
			if first := c.Week(concert - day.Day(w.SettleDays)); c.Monday+day.Day(7*first)+4 > concert-day.Day(w.SettleDays) {
				bar(first, at)
			} else {
				bar(first+1, at)
			}
		}
	}
	if w.Place != Van {
		return j
	}
	for week := range c.Weeks {
		if week >= len(c.Played) || !c.Played[week] {
			continue
		}
		j.AbsentCentsPerWeek[week] = AbsentCents
		for _, concert := range c.Concerts {
			if at := c.Week(concert); week <= at && week > at-beforeWeeks {
				j.AbsentCentsPerWeek[week] = 2 * AbsentCents
			}
		}
	}
	return j
}

// lateWeeks is for how long after it is really late a piece of work still has a place in the season.
const lateWeeks = 8
