package kits

import (
	"fmt"
	"slices"

	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
)

// DropML is what a drop of oil holds, in mL (a usual figure, from memory).
const DropML = 0.05

// A Case is an instrument with its kit, as things in it are used up.
type Case struct {
	Kind         *catalog.Kind
	Choices      catalog.Choices
	SchoolShare  float64                            // share of the weeks ahead in which there is school
	Played       bool                               // somebody has it
	HoursAWeek   float64                            // of playing, breaks counted in
	SessionsWeek float64                            // days on which it is played, a week
	Turnovers    float64                            // a week
	Limits       func(routine string) []care.Limits // of each clock of a routine that it has
	Renewals     map[string]float64                 // a week, by routine: parts whose lives run out in the time ahead
	// Elsewhere is what is kept in the cupboard, so that care uses it and lying in the case does not; nil for nothing.
	Elsewhere func(supply string) bool
}

// A Part is one way in which a supply is used, with what it takes a week.
type Part struct {
	Says    string
	PerWeek float64
}

// Demand is what a case needs of a supply in a week, in the supply's units, and the parts of the sum. What is used at each
// playing needs a player; what is used at care, at turnovers and by lying in a case does not. What is renewed is a part of it even
// while nothing runs out.
func Demand(s *catalog.Supply, of Case) (perWeek float64, parts []Part) {
	for _, u := range s.Use {
		if !u.When.Hold(of.Choices) || len(u.Families) > 0 && !slices.Contains(u.Families, of.Kind.Family) {
			continue
		}
		if of.Elsewhere != nil && of.Elsewhere(s.Key) && u.Each != "routine" && u.Each != "session" {
			continue
		}
		times, says := timesAWeek(u, of)
		if _, renewed := of.Renewals[u.Routine]; times == 0 && !renewed {
			continue
		}
		amount := amountOf(s, u, of.Kind)
		parts = append(parts, Part{says, times * amount})
		perWeek += times * amount
	}
	return perWeek, parts
}

// timesAWeek is how often a use comes about.
func timesAWeek(u catalog.SupplyUse, of Case) (float64, string) {
	switch u.Each {
	case "session":
		if !of.Played || u.Routine != "" && !slices.Contains(of.Kind.Routines, u.Routine) {
			return 0, ""
		}
		return of.SessionsWeek, "each playing"
	case "rotation":
		if !of.Played {
			return 0, ""
		}
		return of.SchoolShare / u.Weeks, fmt.Sprintf(
			"%v in rotation for %v weeks, and school in %.0f %% of them",
			u.Count,
			u.Weeks,
			100*of.SchoolShare,
		)
	case "routine":
		if renewals, known := of.Renewals[u.Routine]; known {
			return renewals, "as what is on now runs out: " + u.Routine
		}
		times := 0.
		for _, l := range of.Limits(u.Routine) {
			times += l.AWeek(of.HoursAWeek, of.SessionsWeek)
		}
		return times, "each time: " + u.Routine
	case "turnover":
		return of.Turnovers, "each turnover"
	case "life":
		return 7 / u.Days, fmt.Sprintf("worn or lost after %v days", u.Days)
	}
	return 0, ""
}

// amountOf is how many units one use takes; 1 where the use says nothing.
func amountOf(s *catalog.Supply, u catalog.SupplyUse, k *catalog.Kind) float64 {
	amount := 1.
	switch {
	case u.ML > 0 || u.Drops > 0:
		amount = (u.ML + u.Drops*DropML) / s.HoldsML
	case u.Share > 0:
		amount = u.Share
	case u.Count > 0:
		amount = u.Count
	}
	if u.PerValve {
		amount *= float64(k.Valves)
	}
	return amount
}

// AtTurnover is how many units of a supply one turnover of an instrument of that family takes.
func AtTurnover(s *catalog.Supply, family string) float64 {
	units := 0.
	for _, u := range s.Use {
		if u.Each == "turnover" && (len(u.Families) == 0 || slices.Contains(u.Families, family)) {
			units += amountOf(s, u, &catalog.Kind{Family: family})
		}
	}
	return units
}

// Work is what is done to one instrument at the bench, as supplies are used up by it.
type Work struct {
	Kind     *catalog.Kind
	Choices  catalog.Choices
	Turnover bool
	Routines []string // that are done, those among the steps of another too
}

// AtWork is how many units of a supply the work takes: what the bench uses, and what belongs in the kit.
func AtWork(s *catalog.Supply, c *catalog.Catalog, w Work) (units float64) {
	if _, inKit := c.KitOf(w.Kind).Item(s.Key); !inKit && !s.AtBench {
		return 0
	}
	if w.Turnover {
		units = AtTurnover(s, w.Kind.Family)
	}
	for _, u := range s.Use {
		if u.Each == "routine" && slices.Contains(w.Routines, u.Routine) && u.When.Hold(w.Choices) {
			r, _ := c.Routine(u.Routine)
			units += amountOf(s, u, w.Kind) * float64(len(r.Clocks()))
		}
	}
	return units
}
