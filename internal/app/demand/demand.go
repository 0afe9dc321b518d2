package demand

import (
	"math"
	"slices"

	"solfeggio/internal/app/school"
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/kits"
	"solfeggio/internal/store/supplyrows"
)

// A Need is what a supply is used up by.
type Need struct {
	PerWeek float64
	Wanting float64 // units that the next refill round takes, and the bench for what is held
	Users   int     // instruments that use it
	Parts   map[string]float64
}

// Needs are what instruments use up, by supply.
type Needs map[supplyrows.Stocked]*Need

func (all Needs) of(key supplyrows.Stocked) *Need {
	n := all[key]
	if n == nil {
		n = &Need{Parts: map[string]float64{}}
		all[key] = n
	}
	return n
}

// add takes another need into one.
func (n *Need) add(other *Need) {
	n.PerWeek, n.Wanting, n.Users = n.PerWeek+other.PerWeek, n.Wanting+other.Wanting, n.Users+other.Users
	for says, perWeek := range other.Parts {
		n.Parts[says] += perWeek
	}
}

// A horizon is the time for which demand is worked out.
type horizon struct {
	span   day.Span
	school float64 // share of it in which there is school
}

func horizonOf(s *school.Snapshot, days int) horizon {
	span := day.Span{From: s.Today, To: s.Today + day.Day(days) - 1}
	return horizon{span, s.Calendar.OpenShare(span)}
}

// Of adds up what all instruments need in a week of the horizon.
func (r *Room) Of(s *school.Snapshot, horizonWeeks float64) Needs {
	type kept struct {
		over  horizon
		needs Needs
	}
	over := horizonOf(s, int(math.Max(1, math.Round(7*horizonWeeks))))
	needs := Needs{}
	for _, b := range s.Blocks() {
		of := school.KeptOf(b, "supply.demand", func(k kept) bool { return k.over == over }, func() kept {
			return kept{over, r.demandOf(s, b.Instruments, over)}
		})
		for key, n := range of.needs {
			needs.of(key).add(n)
		}
	}
	for n := range r.schools.Catalog.Supplies {
		settleStrength(&r.schools.Catalog.Supplies[n], needs)
	}
	return needs
}

// demandOf adds up what some instruments need.
func (r *Room) demandOf(s *school.Snapshot, instruments []*school.Instrument, over horizon) Needs {
	needs := Needs{}
	for _, i := range instruments {
		of := r.caseOf(s, i, over)
		add := func(supply *catalog.Supply, wanting float64) {
			if supply.BySize && i.Size == "" { // nobody knows which to buy
				return
			}
			perWeek, parts := kits.Demand(supply, of)
			if len(parts) == 0 && wanting == 0 {
				return
			}
			n := needs.of(i.Stocked(supply))
			n.PerWeek, n.Wanting, n.Users = n.PerWeek+perWeek, n.Wanting+wanting, n.Users+1
			for _, p := range parts {
				n.Parts[p.Says] += p.PerWeek
			}
		}
		coming := r.comingToBench(i)
		for _, item := range r.schools.Catalog.KitOf(i.Kind).Items {
			supply, _ := r.schools.Catalog.Supply(item.Supply)
			wanting := coming[supply.Key]
			if !r.Elsewhere(i, supply.Key) {
				wanting += float64(kits.Takes(item, i.Kit[item.Supply].State))
			}
			add(supply, wanting)
		}
		for n := range r.schools.Catalog.Supplies {
			switch supply := &r.schools.Catalog.Supplies[n]; {
			case supply.AtBench:
				add(supply, coming[supply.Key])
			case supply.Single != nil && supply.Single.Kind == i.Kind.Base():
				add(supply, 0)
			}
		}
	}
	return needs
}

// settleStrength counts reeds of which nobody knows the strength with those that most play here, so that they can be ordered.
func settleStrength(supply *catalog.Supply, needs Needs) {
	of := supplyrows.Stocked{Supply: supply.Key}
	unknown, players := needs[of], map[string]int{}
	for _, strength := range supply.Strengths {
		if n := needs[supplyrows.Stocked{Supply: supply.Key, Size: strength}]; n != nil {
			players[strength] = n.Users
		}
	}
	strength := kits.UsualStrength(supply, players)
	if unknown == nil || strength == "" {
		return
	}
	needs[supplyrows.Stocked{Supply: supply.Key, Size: strength}].add(unknown)
	delete(needs, of)
}

// comingToBench is what a held instrument takes at its turnover, by supply, but for products: which of them is brought is decided there.
func (r *Room) comingToBench(i *school.Instrument) map[string]float64 {
	routines := r.schools.Catalog.BenchRoutines(i.Kind, catalog.Turnover)
	if i.Hold == nil || i.Hold.EndedAt != nil || len(routines) == 0 {
		return nil
	}
	units := map[string]float64{}
	for of, n := range r.Takes(i, catalog.Turnover, routines[0], nil) {
		units[of.Supply] = n
	}
	return units
}

// caseOf is an instrument as things in its case are used up over a span. Players' own weekly care uses things up whether the
// school keeps clocks for it or trusts them.
func (r *Room) caseOf(s *school.Snapshot, i *school.Instrument, over horizon) kits.Case {
	span := over.span
	weeks := float64(span.Days()) / 7
	played := i.Care.Playing.Over(span)
	limits := map[string][]care.Limits{}
	for _, c := range i.Clocks {
		limits[c.Routine] = append(limits[c.Routine], c.Limits)
	}
	for _, key := range i.Kind.Routines {
		r, _ := r.schools.Catalog.Routine(key)
		if limits[key] != nil || r.Who != catalog.Player || i.Habit == nil || !r.When.Hold(i.Care.Choices) {
			continue
		}
		if usual, _, ok := r.LimitsFor(i.Care.Choices); ok {
			limits[key] = slices.Repeat([]care.Limits{usual}, len(r.Clocks()))
		}
	}
	return kits.Case{
		Kind: i.Kind, Choices: i.Care.Choices, SchoolShare: over.school, Played: i.Habit != nil,
		HoursAWeek: played.Hours / weeks, SessionsWeek: float64(played.Sessions) / weeks,
		Turnovers: kits.Turnovers(stay(s, i), span) / weeks,
		Limits:    func(routine string) []care.Limits { return limits[routine] }, Renewals: renewals(i, span),
		Elsewhere: func(supply string) bool { return r.Elsewhere(i, supply) },
	}
}

// Elsewhere reports whether a thing of an instrument's kit is not kept in its case.
func (r *Room) Elsewhere(i *school.Instrument, supply string) bool {
	_, belongs := r.schools.Catalog.KitOf(i.Kind).Item(supply)
	_, inCase := r.schools.InCase(i, supply)
	return belongs && !inCase
}

// renewals counts by routine how often a week parts come to their end in a span: each first when what is on now runs out, and then again
// after its limit.
func renewals(i *school.Instrument, span day.Span) map[string]float64 {
	times := map[string]float64{}
	for _, c := range i.Clocks {
		if !c.Of.Replaces {
			continue
		}
		n := 0.
		if due := c.Reading.DueOn; !due.IsZero() && due <= span.To {
			n = 1
			if every := c.Limits.Days; every != nil {
				n += math.Floor(float64(span.To-max(due, span.From)) / *every)
			}
		}
		times[c.Routine] += n * 7 / float64(span.Days())
	}
	return times
}

// stay is how an instrument is out.
func stay(s *school.Snapshot, i *school.Instrument) kits.Stay {
	stay := kits.Stay{Played: i.Habit != nil}
	if i.HandOver != nil {
		stay.DueBack = i.HandOver.DueBackOn
	}
	for _, on := range i.Ended {
		if on > s.Today.AddYears(-1) {
			stay.LastYear++
		}
	}
	return stay
}
