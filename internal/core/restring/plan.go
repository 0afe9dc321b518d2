// Package restring decides on which days strings are changed before a concert.
//
// A new string sags for about three days, so nothing new may be on within the settle days of a concert; and bridge and sound post
// stand only because strings press on them, so strings are never all off at once. Some change one string a day over most of a
// week, others a whole set in one sitting, one string after the other (both common practice, no published source).
package restring

import (
	"cmp"
	"fmt"
	"slices"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/field"
)

// Mode is how many strings of one instrument are changed on a day.
type Mode string

// The modes.
const (
	OneADay    Mode = "one-a-day"
	OneSitting Mode = "one-sitting"
)

// UsualMinutes is how long strings are changed on a school day until somebody says otherwise (the product's own choice).
const UsualMinutes = 40

// most is how many strings an instrument may have, and how many days strings may settle; more is a typing error.
const most = 366

// PlanIn is the input of the calculator strings.plan.
type PlanIn struct {
	Strings    int       `json:"strings" doc:"How many are changed, at least 1"`
	Concert    day.Day   `json:"concert"`
	SettleDays int       `json:"settle_days" doc:"Calendar days until a new string holds"`
	Mode       Mode      `json:"mode" jsonschema:"enum=one-a-day,enum=one-sitting" enum:"one-a-day,one-sitting"`
	StartBy    *day.Day  `json:"start_by,omitempty" doc:"The first change is not later"`
	NotBefore  *day.Day  `json:"not_before,omitempty" doc:"The first change is not earlier"`
	NoWorkDays []day.Day `json:"no_work_days,omitempty"`
}

// A Day is the work of one day of a plan.
type Day struct {
	Date    day.Day `json:"date"`
	Strings int     `json:"strings" doc:"How many are changed on it"`
}

// PlanOut is the result of strings.plan.
type PlanOut struct {
	Days        []Day   `json:"days"`
	SettledOn   day.Day `json:"settled_on" doc:"The last change and the settle days"`
	LatestStart day.Day `json:"latest_start" doc:"The latest day to begin, were nothing asked but the concert"`
}

// Plan is the calculator strings.plan: the latest plan on successive working days that has settled by the concert and begins within
// what is asked. Errors name the field by its JSON path; concert, when no plan fits.
func Plan(in PlanIn) (PlanOut, error) {
	if in.Strings < 1 || in.Strings > most {
		return PlanOut{}, field.Errorf("strings", "%d cannot be changed; use 1 to %d", in.Strings, most)
	}
	if err := checkSettling(in.SettleDays, in.Mode); err != nil {
		return PlanOut{}, err
	}
	closed := map[day.Day]bool{}
	for _, d := range in.NoWorkDays {
		closed[d] = true
	}
	wanted := 1
	if in.Mode == OneADay {
		wanted = in.Strings
	}
	latest := ending(in.Concert-day.Day(in.SettleDays), wanted, closed)
	days := latest
	if in.StartBy != nil && days[0] > *in.StartBy {
		days = beginning(*in.StartBy, wanted, closed)
	}
	if in.NotBefore != nil && days[0] < *in.NotBefore {
		return PlanOut{}, field.Errorf(
			"concert",
			"no plan fits: %d working days with %d days to settle would have to begin on %s, before %s",
			wanted,
			in.SettleDays,
			days[0],
			*in.NotBefore,
		)
	}
	out := PlanOut{SettledOn: days[wanted-1] + day.Day(in.SettleDays), LatestStart: latest[0]}
	for _, d := range days {
		out.Days = append(out.Days, Day{d, in.Strings / wanted})
	}
	return out, nil
}

func checkSettling(days int, m Mode) error {
	if days < 0 || days > most {
		return field.Errorf("settle_days", "%d is no number of days; use 0 to %d", days, most)
	}
	if m != OneADay && m != OneSitting {
		return field.Errorf("mode", "%q is no mode; use one-a-day or one-sitting", m)
	}
	return nil
}

// ending is the last n working days up to a day.
func ending(last day.Day, n int, closed map[day.Day]bool) []day.Day {
	days := make([]day.Day, 0, n)
	for d := last; len(days) < n; d-- {
		if !closed[d] {
			days = append(days, d)
		}
	}
	slices.Reverse(days)
	return days
}

// beginning is n working days from the last one that is not after a day.
func beginning(by day.Day, n int, closed map[day.Day]bool) []day.Day {
	days := ending(by, 1, closed)
	for d := days[0] + 1; len(days) < n; d++ {
		if !closed[d] {
			days = append(days, d)
		}
	}
	return days
}

// An Instrument of a section wants all its strings changed.
type Instrument struct {
	ID               string  `json:"id"`
	Strings          int     `json:"strings" doc:"At least 1"`
	MinutesPerString float64 `json:"minutes_per_string" doc:"More than 0"`
}

// Bench is the time for changing strings on one day.
type Bench struct {
	Date    day.Day `json:"date"`
	Minutes float64 `json:"minutes"`
}

// SectionIn is the input of the calculator strings.section-plan.
type SectionIn struct {
	Instruments  []Instrument `json:"instruments"`
	BenchMinutes []Bench      `json:"bench_minutes" doc:"Days that are not listed have none"`
	Concert      day.Day      `json:"concert"`
	SettleDays   int          `json:"settle_days" doc:"Calendar days until a new string holds"`
	Mode         Mode         `json:"mode" jsonschema:"enum=one-a-day,enum=one-sitting" enum:"one-a-day,one-sitting"`
}

// A Change is one string of one instrument.
type Change struct {
	ID     string `json:"id"`
	String int    `json:"string" doc:"From 0, in the order in which they are changed"`
}

// SectionDay is the work of one day.
type SectionDay struct {
	Date    day.Day  `json:"date"`
	Changes []Change `json:"changes"`
}

// SectionOut is the result of strings.section-plan.
type SectionOut struct {
	Days     []SectionDay `json:"days"`
	Unplaced []string     `json:"unplaced" doc:"Instruments that do not fit, in the order of the input"`
	Exact    bool         `json:"exact" doc:"Whether it is known that no plan places more, or as many later"`
}

// SectionPlan is the calculator strings.section-plan. As many instruments as possible are placed, each with all its strings or not at
// all; of the plans that place as many, one whose work is as late as possible: the days from each change to the last that settles in time,
// summed over all strings, are fewest. Small sections are searched to the end; larger ones are filled from the last day back.
// Errors name the field by its JSON path.
func SectionPlan(in SectionIn) (SectionOut, error) {
	if err := checkSettling(in.SettleDays, in.Mode); err != nil {
		return SectionOut{}, err
	}
	ids := map[string]bool{}
	for i, x := range in.Instruments {
		path := func(name string) string { return fmt.Sprintf("instruments[%d].%s", i, name) }
		switch {
		case x.ID == "":
			return SectionOut{}, field.Errorf(path("id"), "is empty")
		case ids[x.ID]:
			return SectionOut{}, field.Errorf(path("id"), "%q stands there twice", x.ID)
		case x.Strings < 1 || x.Strings > most:
			return SectionOut{}, field.Errorf(path("strings"), "%d cannot be changed; use 1 to %d", x.Strings, most)
		case !(x.MinutesPerString > 0 && x.MinutesPerString <= 24*60):
			return SectionOut{}, field.Errorf(
				path("minutes_per_string"),
				"%v is no time for a string; use more than 0, at most 1440",
				x.MinutesPerString,
			)
		}
		ids[x.ID] = true
	}
	last := in.Concert - day.Day(in.SettleDays)
	listed := map[day.Day]bool{}
	var bench []Bench
	for i, b := range in.BenchMinutes {
		switch {
		case listed[b.Date]:
			return SectionOut{}, field.Errorf(fmt.Sprintf("bench_minutes[%d].date", i), "%s stands there twice", b.Date)
		case !(b.Minutes >= 0 && b.Minutes <= 24*60):
			return SectionOut{}, field.Errorf(
				fmt.Sprintf("bench_minutes[%d].minutes", i),
				"%v is no bench time of a day; use 0 to 1440",
				b.Minutes,
			)
		}
		listed[b.Date] = true
		if b.Date <= last {
			bench = append(bench, b)
		}
	}
	slices.SortFunc(bench, func(a, b Bench) int { return cmp.Compare(b.Date, a.Date) })
	best, exact := place(in.Instruments, bench, last, in.Mode)
	out := SectionOut{Days: []SectionDay{}, Unplaced: []string{}, Exact: exact}
	changes := make([][]Change, len(bench))
	for i, x := range in.Instruments {
		if best[i] == nil {
			out.Unplaced = append(out.Unplaced, x.ID)
			continue
		}
		for s := range x.Strings {
			d := best[i][0]
			if in.Mode == OneADay {
				d = best[i][x.Strings-1-s] // places are listed from the latest back
			}
			changes[d] = append(changes[d], Change{x.ID, s})
		}
	}
	for d := len(bench) - 1; d >= 0; d-- {
		if changes[d] != nil {
			out.Days = append(out.Days, SectionDay{bench[d].Date, changes[d]})
		}
	}
	return out, nil
}
