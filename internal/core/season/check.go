package season

import (
	"fmt"
	"math"

	"solfeggio/internal/core/field"
)

const (
	mostWeeks = 520
	mostJobs  = 20_000
	mostCents = 1_000_000_000_00
	mostOften = 10_000_000
)

func check(in In) error {
	switch {
	case in.Weeks < 1 || in.Weeks > mostWeeks:
		return field.Errorf("weeks", "%d is no season; use 1 to %d", in.Weeks, mostWeeks)
	case len(in.Jobs) > mostJobs:
		return field.Errorf("jobs", "%d are too many; use at most %d", len(in.Jobs), mostJobs)
	case len(in.BenchMinutes) != in.Weeks:
		return field.Errorf("bench_minutes", "has %d entries for %d weeks", len(in.BenchMinutes), in.Weeks)
	case in.Iterations < 0 || in.Iterations > mostOften:
		return field.Errorf("iterations", "%d is no number of improvements; use 0 to %d", in.Iterations, mostOften)
	}
	for w, m := range in.BenchMinutes {
		if !(m >= 0) || math.IsInf(m, 0) {
			return field.Errorf(fmt.Sprintf("bench_minutes[%d]", w), "%v is no number of minutes; use 0 or more", m)
		}
	}
	driven := map[int]bool{}
	for n, t := range in.Trips {
		at := func(name string) string { return fmt.Sprintf("trips[%d].%s", n, name) }
		switch {
		case t.Week < 0 || t.Week >= in.Weeks:
			return field.Errorf(at("week"), "%d is no week of the season; use 0 to %d", t.Week, in.Weeks-1)
		case driven[t.Week]:
			return field.Errorf(at("week"), "week %d has a trip already", t.Week)
		case t.Places < 0:
			return field.Errorf(at("places"), "%d is no number of places; use 0 or more", t.Places)
		case t.FixedCents < 0 || t.FixedCents > mostCents:
			return field.Errorf(at("fixed_cents"), "%d is no amount; use 0 or more", t.FixedCents)
		}
		driven[t.Week] = true
	}
	for n, b := range in.Budget {
		at := func(name string) string { return fmt.Sprintf("budget[%d].%s", n, name) }
		switch {
		case b.From < 0 || b.From >= in.Weeks:
			return field.Errorf(at("from"), "%d is no week of the season; use 0 to %d", b.From, in.Weeks-1)
		case b.To < b.From || b.To >= in.Weeks:
			return field.Errorf(at("to"), "%d is no week from %d to %d", b.To, b.From, in.Weeks-1)
		case b.Cents < 0 || b.Cents > mostCents:
			return field.Errorf(at("cents"), "%d is no amount; use 0 or more", b.Cents)
		}
	}
	for name, count := range in.Loaners {
		if count < 0 {
			return field.Errorf("loaners."+name, "%d is no number; use 0 or more", count)
		}
	}
	ids := map[string]bool{}
	for n, j := range in.Jobs {
		if err := checkJob(in, j, ids[j.ID]); err != nil {
			return field.Within(fmt.Sprintf("jobs[%d]", n), err)
		}
		ids[j.ID] = true
	}
	return nil
}

// farWeeks is how many weeks before or after a season a week may lie: a hundred years.
const farWeeks = 5200

func checkJob(in In, j Job, twice bool) error {
	switch {
	case j.ID == "":
		return field.Errorf("id", "is empty")
	case twice:
		return field.Errorf("id", "%q stands there twice", j.ID)
	case j.Place != Bench && j.Place != Van:
		return field.Errorf("place", "%q is no place; use bench or van", j.Place)
	case j.Places != nil && *j.Places < 1:
		return field.Errorf("places", "%d is no number of places; use 1 or more", *j.Places)
	case j.Last < j.Opens:
		return field.Errorf("last", "%d is before it opens, %d", j.Last, j.Opens)
	case !(j.Minutes >= 0) || math.IsInf(j.Minutes, 0):
		return field.Errorf("minutes", "%v is no number of minutes; use 0 or more", j.Minutes)
	case j.WeeksOut < 1:
		return field.Errorf("weeks_out", "%d is no number of weeks; use 1 or more", j.WeeksOut)
	case len(j.AbsentCentsPerWeek) != in.Weeks:
		return field.Errorf("absent_cents_per_week", "has %d entries for %d weeks", len(j.AbsentCentsPerWeek), in.Weeks)
	}
	for _, x := range []struct {
		name string
		week int
	}{{"opens", j.Opens}, {"due", j.Due}, {"last", j.Last}} {
		if x.week < -farWeeks || x.week > farWeeks {
			return field.Errorf(x.name, "%d is no week of any season; use %d to %d", x.week, -farWeeks, farWeeks)
		}
	}
	for _, x := range []struct {
		name  string
		cents int64
	}{{"cost_cents", j.CostCents}, {"late_cents_per_week", j.LateCentsPerWeek}, {"early_cents_per_week", j.EarlyCentsPerWeek}} {
		if x.cents < 0 || x.cents > mostCents {
			return field.Errorf(x.name, "%d is no amount; use 0 or more", x.cents)
		}
	}
	for w, cents := range j.AbsentCentsPerWeek {
		if cents < 0 || cents > mostCents {
			return field.Errorf(fmt.Sprintf("absent_cents_per_week[%d]", w), "%d is no amount; use 0 or more", cents)
		}
	}
	for n, w := range j.BlockedWeeks {
		if w < 0 || w >= in.Weeks {
			return field.Errorf(fmt.Sprintf("blocked_weeks[%d]", n), "%d is no week of the season; use 0 to %d", w, in.Weeks-1)
		}
	}
	if j.Loaner != nil {
		if _, known := in.Loaners[*j.Loaner]; !known {
			return field.Errorf("loaner", "%q is not among loaners", *j.Loaner)
		}
	}
	return nil
}
