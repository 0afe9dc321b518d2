package care

import (
	"cmp"
	"fmt"
	"math"
	"sort"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/field"
	"solfeggio/internal/core/usage"
	"solfeggio/internal/core/why"
)

// State is how far a clock has run.
type State string

// The states in the order in which a clock passes through them.
const (
	Fresh   State = "fresh"
	Opening State = "opening" // may be done now, early
	Due     State = "due"
	Late    State = "late"
)

// Where a clock changes its state, as parts of its limit (the product's own choice, changeable).
const (
	DefaultOpensAt = 0.75
	DefaultLateAt  = 1.25
)

// Binding names the limit that is reached first.
type Binding string

// The limits in the order that settles ties.
const (
	ByDays         Binding = "days"
	ByPlayingHours Binding = "playing_hours"
	BySessions     Binding = "sessions"
)

// horizonYears is how far after its start a clock is projected.
const horizonYears = 10

// Elapsed is what has run since the clock's start.
type Elapsed struct {
	Days         int     `json:"days"`
	PlayingHours float64 `json:"playing_hours"`
	Sessions     int     `json:"sessions"`
}

// A Reading is a clock read on a day.
type Reading struct {
	Wear    float64 // largest elapsed/limit
	State   State
	DueOn   day.Day // zero when not within ten years of the start
	Binding Binding // the limit that gives DueOn; when there is no DueOn, the one nearest to full
	Elapsed Elapsed

	occasion string // why, when an occasion gives DueOn
}

// Thresholds are the wears at which a clock opens and becomes late.
type Thresholds struct{ OpensAt, LateAt float64 }

// DefaultThresholds are those of the product.
var DefaultThresholds = Thresholds{DefaultOpensAt, DefaultLateAt}

// Read reads a clock that was started on one day and is looked at on another, not earlier, day. Playing counts from
// the day after the start.
func Read(started, today day.Day, l Limits, p *usage.Playing, t Thresholds) Reading {
	after := started + 1
	amount := p.Over(day.Span{From: after, To: today})
	r := Reading{Elapsed: Elapsed{int(today - started), amount.Hours, amount.Sessions}}
	last := started.AddYears(horizonYears)
	try := func(b Binding, limit *float64, elapsed float64, reached func(limit float64) (day.Day, bool)) {
		if limit == nil {
			return
		}
		if wear := elapsed / *limit; wear > r.Wear || r.Binding == "" {
			r.Wear = wear
			if r.DueOn.IsZero() {
				r.Binding = b
			}
		}
		if d, ok := reached(*limit); ok && d <= last && (r.DueOn.IsZero() || d < r.DueOn) {
			r.DueOn, r.Binding = d, b
		}
	}
	// Playing only ever grows, so the first day that reaches a limit is found by halving; a day on which another
	// limit is reached anyway need not be searched.
	first := func(enough func(usage.Amount) bool) (day.Day, bool) {
		n := int(last - started)
		if !r.DueOn.IsZero() {
			n = int(r.DueOn - after)
		}
		i := sort.Search(n, func(i int) bool { return enough(p.Over(day.Span{From: after, To: after + day.Day(i)})) })
		return after + day.Day(i), i < n
	}
	try(ByDays, l.Days, float64(r.Elapsed.Days), func(limit float64) (day.Day, bool) {
		return started + day.Day(day.Ceil(limit)), true
	})
	try(ByPlayingHours, l.PlayingHours, r.Elapsed.PlayingHours, func(limit float64) (day.Day, bool) {
		return first(func(a usage.Amount) bool { return a.Hours >= limit-usage.Tolerance })
	})
	try(BySessions, l.Sessions, float64(r.Elapsed.Sessions), func(limit float64) (day.Day, bool) {
		return first(func(a usage.Amount) bool { return float64(a.Sessions) >= limit-usage.Tolerance })
	})
	r.State = t.state(r.Wear)
	return r
}

func (t Thresholds) state(wear float64) State {
	switch {
	case wear > t.LateAt+usage.Tolerance:
		return Late
	case wear >= 1-usage.Tolerance:
		return Due
	case wear >= t.OpensAt-usage.Tolerance:
		return Opening
	}
	return Fresh
}

// Usage is the playing in the input of care.due.
type Usage struct {
	Rehearsals             []usage.Rehearsal `json:"rehearsals"`
	Breaks                 []day.Span        `json:"breaks"`
	PracticeMinutesPerWeek float64           `json:"practice_minutes_per_week"`
	VacationShare          float64           `json:"vacation_share"`
	PracticeDaysPerWeek    *float64          `json:"practice_days_per_week,omitempty" doc:"5 when left out"`
}

// DueIn is the input of the calculator care.due.
type DueIn struct {
	Started day.Day  `json:"started"`
	Today   day.Day  `json:"today" doc:"Not before started"`
	Limits  Limits   `json:"limits"`
	Usage   Usage    `json:"usage"`
	OpensAt *float64 `json:"opens_at,omitempty" doc:"0.75 when left out"`
	LateAt  *float64 `json:"late_at,omitempty" doc:"1.25 when left out"`
}

// DueOut is the result of care.due.
type DueOut struct {
	Wear    float64  `json:"wear"`
	State   State    `json:"state"`
	DueOn   *day.Day `json:"due_on"`
	Binding Binding  `json:"binding"`
	Elapsed Elapsed  `json:"elapsed"`
	Why     why.Why  `json:"why"`
}

// DueOf is the calculator care.due. Errors name the field by its JSON path.
func DueOf(in DueIn) (DueOut, error) {
	if in.Today < in.Started {
		return DueOut{}, field.Errorf("today", "%s is before started, %s", in.Today, in.Started)
	}
	if err := usage.CheckSpanLength("today", day.Span{From: in.Started, To: in.Today}); err != nil {
		return DueOut{}, err
	}
	if err := in.Limits.check("limits"); err != nil {
		return DueOut{}, err
	}
	if in.Limits.none() {
		return DueOut{}, field.Errorf("limits", "give at least one of days, playing_hours, sessions")
	}
	t, err := thresholds(in.OpensAt, in.LateAt)
	if err != nil {
		return DueOut{}, err
	}
	if err := usage.CheckBreaks(in.Usage.Breaks); err != nil {
		return DueOut{}, field.Within("usage", err)
	}
	practiceDays := usage.DefaultPracticeDays
	if in.Usage.PracticeDaysPerWeek != nil {
		practiceDays = *in.Usage.PracticeDaysPerWeek
	}
	habit, err := usage.NewHabit(in.Usage.Rehearsals, in.Usage.PracticeMinutesPerWeek, in.Usage.VacationShare, practiceDays)
	if err != nil {
		return DueOut{}, field.Within("usage", err)
	}
	span := day.Span{From: in.Started, To: max(in.Today, in.Started.AddYears(horizonYears))}
	p := usage.NewPlaying(usage.NewCalendar(span, in.Usage.Breaks), []usage.Stretch{{Span: span, Habit: habit}}, nil)
	r := Read(in.Started, in.Today, in.Limits, p, t)
	out := DueOut{Wear: r.Wear, State: r.State, Binding: r.Binding, Elapsed: r.Elapsed, Why: r.Why(in.Started, in.Limits)}
	if !r.DueOn.IsZero() {
		out.DueOn = &r.DueOn
	}
	return out, nil
}

func thresholds(opensAt, lateAt *float64) (Thresholds, error) {
	t := DefaultThresholds
	if opensAt != nil {
		if t.OpensAt = *opensAt; !(t.OpensAt >= 0 && t.OpensAt <= 1) {
			return t, field.Errorf("opens_at", "%v is not between 0 and 1", t.OpensAt)
		}
	}
	if lateAt != nil {
		if t.LateAt = *lateAt; !(t.LateAt >= 1) || math.IsInf(t.LateAt, 0) {
			return t, field.Errorf("late_at", "%v is below 1", t.LateAt)
		}
	}
	return t, nil
}

// Why explains a reading.
func (r Reading) Why(started day.Day, l Limits) why.Why {
	w := why.Why{
		Rule:  "care.due",
		Basis: why.Basis{Kind: why.OwnRule, Source: "opens, due and late are shares of the limit"},
		Inputs: []why.Input{
			{Name: "running since", Value: started.Words()},
			{Name: "limit", Value: cmp.Or(l.String(), "none: occasions make it due")},
			{
				Name: "run so far",
				Value: fmt.Sprintf(
					"%d days, %s h of playing, %d sessions",
					r.Elapsed.Days,
					short(r.Elapsed.PlayingHours),
					r.Elapsed.Sessions,
				),
			},
			{Name: "worn", Value: fmt.Sprintf("%.0f %% of the limit", 100*r.Wear)},
		},
	}
	if l.none() {
		w.Inputs = w.Inputs[:2]
		w.Basis.Source = "what waits counts as twice due after 28 days"
	}
	unit := map[Binding]string{ByDays: "days", ByPlayingHours: "hours of playing", BySessions: "sessions"}[r.Binding]
	switch {
	case r.occasion != "":
		w.Statement = r.occasionSentence()
	case r.DueOn.IsZero() && l.none():
		w.Statement = "No occasion for it is in sight."
	case r.DueOn.IsZero():
		w.Statement = "At the present rate of playing it will not be due within ten years."
	case r.State == Due || r.State == Late:
		w.Statement = fmt.Sprintf("The %s ran out on %s, and it is %s.", unit, r.DueOn.Words(), r.State)
	default:
		w.Statement = fmt.Sprintf("The %s will run out on %s.", unit, r.DueOn.Words())
	}
	return w
}
