package season

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/placing"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/season"
	"solfeggio/internal/store"
	"solfeggio/internal/store/seasonrows"
)

// usualSettings are what a school's weeks hold where it has said nothing (from memory).
var usualSettings = seasonrows.SeasonSettings{TermMinutes: 300, VanEvery: 3, VanPlaces: 16, VanCents: 2400}

// A draft is a season before it is planned.
type draft struct {
	h        horizon
	pieces   []piece
	lendable []Lendable
	in       season.In
	leftOut  int // pieces that press less than those that are planned
}

// mostPieces is how many pieces of work one plan takes.
const mostPieces = 4000

// mostPressing leaves out what presses least where there are more pieces than one plan takes: what was accepted or chosen stays, then what is
// due first, and of that what weighs most. The others keep their order.
func mostPressing(pieces []piece, most int, today day.Day, stays func(p piece) bool) []piece {
	if len(pieces) <= most {
		return pieces
	}
	order := make([]int, len(pieces))
	for n := range order {
		order[n] = n
	}
	rank := map[bool]int{true: -1}
	slices.SortStableFunc(order, func(a, b int) int {
		x, y := pieces[a], pieces[b]
		return cmp.Or(rank[stays(x)]-rank[stays(y)], int(max(x.Due, today)-max(y.Due, today)), cmp.Compare(y.Consequence, x.Consequence))
	})
	order = order[:most]
	slices.Sort(order)
	kept := make([]piece, len(order))
	for n, at := range order {
		kept[n] = pieces[at]
	}
	return kept
}

const seed = 1

// draft gathers what is coming and what the weeks hold.
func (r *Room) draft(ctx context.Context, by journal.Person, s *school.Snapshot, in Planning) (*draft, seasonrows.SeasonSettings, error) {
	set := usualSettings
	if s.SeasonSet != nil {
		set = *s.SeasonSet
	}
	if in.Settings != nil {
		set = *in.Settings
	}
	d := &draft{h: horizonOf(s)}
	err := r.schools.Read(ctx, by, func(tx *store.Tx) error {
		away, err := r.shop.DaysAway(ctx, tx, s)
		if err != nil {
			return err
		}
		d.pieces = r.coming(s, d.h, away)
		return nil
	})
	if err != nil {
		return nil, set, err
	}
	chosen := map[string]bool{}
	for _, pin := range in.Pins {
		chosen[pin.ID] = true
	}
	accepted, all := acceptedStill(s, d.h), len(d.pieces)
	d.pieces = mostPressing(d.pieces, mostPieces, s.Today, func(p piece) bool {
		return chosen[p.id] || p.turn < len(accepted[id(p.of.ID, p.work, 0)])
	})
	d.leftOut = all - len(d.pieces)
	d.in = season.In{
		Weeks: d.h.weeks, Seed: seed, Iterations: season.Iterations(len(d.pieces)), Loaners: map[string]int{}, Trips: trips(s, d.h, set),
		Budget: []season.Budget{}, WeekName: func(w int) string { return weekName(s, d.h, w) },
		Currency: s.School.Currency,
	}
	for w := range d.h.weeks {
		minutes := set.TermMinutes * schoolDays(s, d.h.of(w)) / 5
		if minutes == 0 {
			minutes = set.BreakMinutes
		}
		d.in.BenchMinutes = append(d.in.BenchMinutes, float64(minutes))
	}
	if set.BudgetCents != nil {
		d.in.Budget = append(d.in.Budget, season.Budget{From: 0, To: d.h.weeks - 1, Cents: *set.BudgetCents})
	}
	if err := d.lend(s, r.placing.Book(s), in.Loaners); err != nil {
		return nil, set, err
	}
	if err := d.drive(in.Trips, set); err != nil {
		return nil, set, err
	}
	for _, p := range d.pieces {
		d.in.Jobs = append(d.in.Jobs, p.job(s, d.h))
	}
	return d, set, nil
}

// lend counts what may be lent in the place of what goes to a shop, and so many more. What is for somebody to keep is not lent.
func (d *draft) lend(s *school.Snapshot, book *placing.Book, more []MoreLoaners) error {
	at := map[string]int{}
	for _, p := range d.pieces {
		if _, known := at[p.Loaner]; p.Loaner != "" && !known {
			at[p.Loaner] = len(d.lendable)
			d.lendable = append(d.lendable, Lendable{Of: p.Loaner, Name: p.of.Named()})
		}
	}
	for _, i := range s.Instruments {
		if n, wanted := at[loanerKey(i)]; wanted && i.Spare() && !book.Kept(i.ID) {
			d.lendable[n].Free++
		}
	}
	slices.SortFunc(d.lendable, func(a, b Lendable) int { return strings.Compare(a.Name, b.Name) })
	for _, l := range d.lendable {
		d.in.Loaners[l.Of] = l.Free
	}
	for n, m := range more {
		if _, known := d.in.Loaners[m.Of]; !known {
			return journal.Refuse(fmt.Sprintf("loaners[%d].of", n), "nothing of this kind and size goes to a shop in the season", m.Of)
		}
		d.in.Loaners[m.Of] += m.Count
	}
	return nil
}

// drive adds trips in the weeks of some Mondays to those that go anyway.
func (d *draft) drive(mondays []day.Day, set seasonrows.SeasonSettings) error {
	for n, monday := range mondays {
		path, week := fmt.Sprintf("trips[%d]", n), int(monday-d.h.monday)/7
		switch {
		case monday.Weekday() != 1:
			return journal.Refuse(path, "is no Monday", monday)
		case monday < d.h.monday || week >= d.h.weeks:
			return journal.Refuse(path, "is no week of the season", monday)
		case slices.ContainsFunc(d.in.Trips, func(t season.Trip) bool { return t.Week == week }):
			return journal.Refuse(path, "a trip goes in that week already", monday)
		}
		d.in.Trips = append(d.in.Trips, season.Trip{Week: week, Places: set.VanPlaces, FixedCents: set.VanCents})
	}
	return nil
}

// trips are the planned ones, and between them those that go every so many weeks.
func trips(s *school.Snapshot, h horizon, set seasonrows.SeasonSettings) []season.Trip {
	list := []season.Trip{}
	has := map[int]bool{}
	for _, t := range s.Trips {
		if week := int(t.On-h.monday) / 7; t.DrivenAt == nil && t.On >= s.Today && week < h.weeks && !has[week] {
			has[week] = true
			list = append(list, season.Trip{Week: week, Places: t.Places, FixedCents: t.FixedCents})
		}
	}
	if set.VanEvery == 0 {
		return list
	}
	last := 0
	for w := range h.weeks {
		switch {
		case has[w]:
			last = w
		case w-last >= set.VanEvery:
			last = w
			list = append(list, season.Trip{Week: w, Places: set.VanPlaces, FixedCents: set.VanCents})
		}
	}
	return list
}

// weekName is a week as people call it: by the week of its term, or by its Monday.
func weekName(s *school.Snapshot, h horizon, w int) string {
	if w < 0 || w >= h.weeks {
		return h.of(w).Time().Format("2 Jan")
	}
	name := h.of(w).Time().Format("2 Jan")
	if n := termWeek(s, h.of(w)); n > 0 {
		name = fmt.Sprintf("%d (%s)", n, name)
	}
	if holiday := breakIn(s, h.of(w)); holiday != "" {
		name += ", " + holiday
	}
	return name
}

// breakIn is the break that leaves a week without school; empty for a week with school.
func breakIn(s *school.Snapshot, monday day.Day) string {
	if schoolDays(s, monday) > 0 {
		return ""
	}
	for _, b := range s.Breaks {
		if b.StartsOn <= monday+4 && b.EndsOn >= monday {
			return cmp.Or(b.Name, "a break")
		}
	}
	return "no school"
}

// termWeek is the week of the term in which a Monday lies, from 1; 0 between terms.
func termWeek(s *school.Snapshot, monday day.Day) int {
	for _, t := range s.Terms {
		if t.StartsOn <= monday+6 && t.EndsOn >= monday {
			return int(monday-(t.StartsOn-day.Day(t.StartsOn.Weekday()-1)))/7 + 1
		}
	}
	return 0
}
