// Package care decides when an instrument's care is due and what to do first.
//
// A clock is one task on one instrument or on one of its parts: changing the E string, washing the mouthpiece.
// Its limits are days, playing hours or sessions, whichever is reached first. Doing the task restarts the clock.
package care

import (
	"fmt"
	"math"
	"strings"

	"solfeggio/internal/core/field"
	"solfeggio/internal/core/usage"
	"solfeggio/internal/core/why"
)

// heavySweat shortens every limit of a player whose hands are hard on metal and hair (from memory).
const heavySweat = 0.7

// Limits say when a clock is full. A nil limit does not count; at least one is given.
type Limits struct {
	Days         *float64 `json:"days,omitempty" doc:"Calendar days"`
	PlayingHours *float64 `json:"playing_hours,omitempty" doc:"Hours of playing"`
	Sessions     *float64 `json:"sessions,omitempty" doc:"Days on which it was played"`
}

// String lists the limits, as in "180 days or 200 h of playing".
func (l Limits) String() string {
	var parts []string
	for _, x := range []struct {
		v    *float64
		unit string
	}{{l.Days, "days"}, {l.PlayingHours, "h of playing"}, {l.Sessions, "sessions"}} {
		if x.v != nil {
			parts = append(parts, fmt.Sprintf("%s %s", short(*x.v), x.unit))
		}
	}
	return strings.Join(parts, " or ")
}

// Given reports whether there is a limit at all.
func (l Limits) Given() bool { return !l.none() }

// AWeek is how often a week a clock comes round at so many hours of playing and sessions a week: by whichever limit is reached soonest.
func (l Limits) AWeek(hours, sessions float64) (times float64) {
	if l.Days != nil {
		times = 7 / *l.Days
	}
	if l.PlayingHours != nil {
		times = max(times, hours / *l.PlayingHours)
	}
	if l.Sessions != nil {
		times = max(times, sessions / *l.Sessions)
	}
	return times
}

func (l Limits) none() bool { return l.Days == nil && l.PlayingHours == nil && l.Sessions == nil }

func (l Limits) check(path string) error {
	for _, x := range []struct {
		name string
		v    *float64
	}{{"days", l.Days}, {"playing_hours", l.PlayingHours}, {"sessions", l.Sessions}} {
		if x.v != nil && !field.Positive(*x.v) {
			return field.Errorf(fmt.Sprintf("%s.%s", path, x.name), "%v is no limit; use more than 0", *x.v)
		}
	}
	return nil
}

// LimitIn is the input of the calculator care.limit.
type LimitIn struct {
	Base        Limits   `json:"base"`
	HeavySweat  bool     `json:"heavy_sweat,omitempty"`
	Players     *int     `json:"players,omitempty" doc:"How many players share the instrument; 1 when left out"`
	Override    *Limits  `json:"override,omitempty" doc:"The instrument's own limits, in place of base"`
	LearnedDays *float64 `json:"learned_days,omitempty" doc:"The interval learned at this school, in place of base.days"`
}

// LimitOut is the result of care.limit.
type LimitOut struct {
	Limits Limits  `json:"limits"`
	Why    why.Why `json:"why"`
}

// Limit is the calculator care.limit: an override replaces the base, otherwise a learned interval replaces its days;
// then heavy sweat takes 30 % off every limit, and k players sharing divide the days by √k. Days are rounded down,
// to at least one.
func Limit(in LimitIn) (LimitOut, error) {
	if err := in.Base.check("base"); err != nil {
		return LimitOut{}, err
	}
	w := why.Why{Rule: "care.limit", Basis: why.Basis{Kind: why.CommonPractice}}
	l := in.Base
	w.Inputs = append(w.Inputs, why.Input{Name: "usual limit", Value: l.String()})
	switch {
	case in.Override != nil:
		if err := in.Override.check("override"); err != nil {
			return LimitOut{}, err
		}
		l = *in.Override
		w.Inputs = append(w.Inputs, why.Input{Name: "own limit of this instrument", Value: l.String()})
		w.Basis = why.Basis{Kind: why.SchoolSetting, Source: "override"}
	case in.LearnedDays != nil:
		if err := (Limits{Days: in.LearnedDays}).check("learned"); err != nil {
			return LimitOut{}, field.Errorf("learned_days", "%v is no limit; use more than 0", *in.LearnedDays)
		}
		l.Days = in.LearnedDays
		w.Inputs = append(w.Inputs, why.Input{Name: "learned here", Value: short(*l.Days) + " days"})
		w.Basis = why.Basis{Kind: why.LearnedHere}
	}
	if l.none() {
		return LimitOut{}, field.Errorf(
			map[bool]string{true: "override", false: "base"}[in.Override != nil],
			"give at least one of days, playing_hours, sessions",
		)
	}
	players := 1
	if in.Players != nil {
		if players = *in.Players; players < 1 {
			return LimitOut{}, field.Errorf("players", "%d is no number of players; use 1 or more", players)
		}
	}
	if in.HeavySweat {
		l = Limits{scale(l.Days, heavySweat), scale(l.PlayingHours, heavySweat), scale(l.Sessions, heavySweat)}
		w.Inputs = append(w.Inputs, why.Input{Name: "heavy sweat", Value: "× 0.7 on every limit"})
	}
	if players > 1 {
		l.Days = scale(l.Days, 1/math.Sqrt(float64(players)))
		w.Inputs = append(w.Inputs, why.Input{Name: "players sharing it", Value: fmt.Sprintf("%d, days × 1/√%d", players, players)})
	}
	if l.Days != nil {
		whole := math.Max(1, math.Floor(*l.Days+usage.Tolerance))
		l.Days = &whole
	}
	w.Statement = "Due after " + l.String()
	if strings.Contains(l.String(), " or ") {
		w.Statement += ", whichever comes first"
	}
	w.Statement += "."
	return LimitOut{Limits: l, Why: w}, nil
}

func scale(v *float64, by float64) *float64 {
	if v == nil {
		return nil
	}
	x := *v * by
	return &x
}

// short writes a number without needless decimals.
func short(v float64) string { return strings.TrimSuffix(fmt.Sprintf("%.1f", v), ".0") }
