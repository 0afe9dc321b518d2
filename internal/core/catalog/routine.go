package catalog

import (
	"cmp"
	"slices"

	"solfeggio/internal/core/care"
	"solfeggio/internal/core/why"
)

// Who may do a routine.
type Who string

// The people of the trade, as the data names them.
const (
	Player     Who = "player"
	Technician Who = "technician"
)

// A Routine is a piece of care: what is done, by whom, where, and how often.
type Routine struct {
	Key         string           `json:"key"`
	Title       string           `json:"title"`
	Rhythm      string           `json:"rhythm" jsonschema:"enum=assembly,enum=casing,enum=every time,enum=weekly,enum=monthly,enum=term,enum=yearly,enum=by wear,enum=storage,enum=before concert,enum=season,enum=between players,enum=on finding"`
	Who         Who              `json:"who" jsonschema:"enum=player,enum=section leader,enum=director,enum=director or trained helper,enum=technician" enum:"player,section leader,director,director or trained helper,technician"`
	Minutes     float64          `json:"minutes" doc:"Person-minutes for one clock of it"`
	Place       string           `json:"place"`
	When        Conditions       `json:"when,omitempty" doc:"Choices under which it is done at all"`
	Bodies      []string         `json:"bodies,omitempty" doc:"Materials of the body for which it is done; empty for all"`
	On          []string         `json:"on,omitempty" doc:"Parts with a clock of their own; empty for one clock of the whole instrument"`
	Limits      Intervals        `json:"limits,omitzero"`
	LimitsBy    []ChosenLimits   `json:"limits_by,omitempty" doc:"Intervals that a choice puts in place of the usual ones; the first that fits counts"`
	Triggers    Triggers         `json:"triggers,omitzero" doc:"What makes it due besides its limits"`
	Basis       why.Kind         `json:"basis" jsonschema:"enum=common practice,enum=from memory,enum=standard"`
	Consequence care.Consequence `json:"consequence" jsonschema:"minimum=1,maximum=5"`
	Replaces    bool             `json:"replaces,omitempty" doc:"It puts something new in place of what is worn, so doing it early wastes some of it"`
	OneADay     Conditions       `json:"one_a_day,omitempty" doc:"Choices under which at most one of its clocks is done on an instrument in a day"`
	SettleDays  int              `json:"settle_days,omitempty" doc:"Days it needs to settle before a concert"`
	Implies     []string         `json:"implies,omitempty" doc:"Routines whose clocks this one restarts too"`
	Tools       []string         `json:"tools"`
	Cautions    []string         `json:"cautions,omitempty" doc:"Shown before the first step"`
	Bench       []Reason         `json:"bench,omitempty" jsonschema:"enum=turnover,enum=illness,enum=mould,enum=smoke,enum=deep clean,enum=concert,enum=laundry" doc:"Why an instrument is on the bench for it; empty when it is not done there"`
	Rests       []Rest           `json:"rests,omitempty" doc:"How long a body lies afterwards before anybody plays it"`
	StaysHeld   string           `json:"stays_held,omitempty" doc:"Why it goes into nobody's hands afterwards either"`
	Steps       []Step           `json:"steps" jsonschema:"minItems=1"`
}

// Intervals of the three profiles. Every holds for all that are not given; with neither, the profile has no clock.
type Intervals struct {
	Every     *care.Limits `json:"every,omitempty"`
	Classroom *care.Limits `json:"classroom,omitempty"`
	Standard  *care.Limits `json:"standard,omitempty"`
	Concert   *care.Limits `json:"concert,omitempty"`

	Basis           why.Kind `json:"basis,omitempty" jsonschema:"enum=common practice,enum=from memory,enum=our own rule" doc:"Of the figures; left out for that of the routine"`
	HoursFromMemory bool     `json:"hours_from_memory,omitempty" doc:"The hours of playing are from memory, whatever the days are"`
	FromMemory      []string `json:"from_memory,omitempty" jsonschema:"enum=classroom,enum=standard,enum=concert" doc:"Profiles whose figure is from memory though the others are not"`
}

// ChosenLimits are intervals that hold under some choices.
type ChosenLimits struct {
	When   Conditions `json:"when"`
	Limits Intervals  `json:"limits"`
}

// Triggers make a routine due at an occasion.
type Triggers struct {
	Returned          bool `json:"returned,omitempty" doc:"When a player gives the instrument back"`
	BeforeConcertDays int  `json:"before_concert_days,omitempty" doc:"So many days before the instrument's next concert"`
	Season            bool `json:"season,omitempty" doc:"When the heating season begins and when it ends"`
	UnplayedDays      int  `json:"unplayed_days,omitempty" doc:"When nobody has played it for so many days"`
}

// A Step of a routine.
type Step struct {
	Do       string     `json:"do,omitempty"`
	Short    string     `json:"short,omitempty" doc:"As it stands on a player's card; left out for what does not stand there"`
	Caution  string     `json:"caution,omitempty" doc:"To be read before the step"`
	Phase    string     `json:"phase,omitempty" jsonschema:"enum=before,enum=during,enum=after" enum:"before,during,after" doc:"Of work that is guided step by step"`
	When     Conditions `json:"when,omitempty" doc:"Choices under which the step is done"`
	Reason   string     `json:"reason,omitempty"`
	Prevents string     `json:"prevents,omitempty" doc:"The common mistake that it prevents"`
	Parts    []string   `json:"parts,omitempty"`
	IfThere  bool       `json:"if_there,omitempty" doc:"Done only on kinds that have the parts; else a kind without them is refused"`
	Products []string   `json:"products,omitempty" doc:"Product groups it brings to its parts"`
	Instead  string     `json:"instead,omitempty" doc:"What is done where the material forbids the products"`
	Bench    *BenchWork `json:"bench,omitempty" doc:"How the step is timed at the bench"`
	Basis    why.Kind   `json:"basis,omitempty" jsonschema:"enum=common practice,enum=from memory" enum:"common practice,from memory" doc:"Left out for that of the routine"`
	Routine  string     `json:"routine,omitempty" doc:"All steps of that routine stand here; nothing else is given"`
}

// For returns the limits in a profile; ok is false when the profile keeps no clock.
func (i Intervals) For(profile string) (l care.Limits, ok bool) {
	chosen := map[string]*care.Limits{"classroom": i.Classroom, "standard": i.Standard, "concert": i.Concert}[profile]
	if chosen == nil {
		chosen = i.Every
	}
	if chosen == nil {
		return care.Limits{}, false
	}
	return *chosen, true
}

// LimitsFor returns the usual limits under the choices made, and the practice that decided them beside the profile, if
// one did. ok is false when the routine keeps no clock by limits.
func (r Routine) LimitsFor(c Choices) (l care.Limits, practice string, ok bool) {
	for _, by := range r.LimitsBy {
		if by.When.Hold(c) {
			l, ok = by.Limits.For(c[ProfilePractice])
			return l, by.When.practices()[0], ok
		}
	}
	l, ok = r.Limits.For(c[ProfilePractice])
	return l, "", ok
}

// For reports whether it is done on a body of a material.
func (r Routine) For(body string) bool {
	return len(r.Bodies) == 0 || slices.Contains(r.Bodies, body)
}

// LimitBasis is why the usual limits under the choices may be believed.
func (r Routine) LimitBasis(c Choices) why.Kind {
	limits := r.limits(c)
	if slices.Contains(limits.FromMemory, c[ProfilePractice]) {
		return why.FromMemory
	}
	return cmp.Or(limits.Basis, r.Basis)
}

// HoursFromMemory reports whether the hours of playing among the usual limits are from memory though the days are not.
func (r Routine) HoursFromMemory(c Choices) bool {
	limits, _, _ := r.LimitsFor(c)
	return r.limits(c).HoursFromMemory && limits.PlayingHours != nil && r.LimitBasis(c) != why.FromMemory
}

// limits are the intervals that hold under the choices.
func (r Routine) limits(c Choices) Intervals {
	for _, by := range r.LimitsBy {
		if by.When.Hold(c) {
			return by.Limits
		}
	}
	return r.Limits
}

// Deciding lists the practices that decide how often it is done: the one that gives its limits, empty for none, and those
// that make it wanted at all.
func (r Routine) Deciding(limits string) []string {
	keys := r.When.practices()
	if limits != "" && !slices.Contains(keys, limits) {
		keys = append([]string{limits}, keys...)
	}
	return keys
}

// Practices lists the schools of practice that the routine depends on, in the order in which it names them.
func (r Routine) Practices() []string {
	var keys []string
	add := func(c Conditions) {
		for _, key := range c.practices() {
			if !slices.Contains(keys, key) {
				keys = append(keys, key)
			}
		}
	}
	add(r.When)
	for _, by := range r.LimitsBy {
		add(by.When)
	}
	add(r.OneADay)
	for _, s := range r.Steps {
		add(s.When)
	}
	return keys
}

// Clocks returns the parts that have a clock of the routine; one empty name stands for the whole instrument.
func (r Routine) Clocks() []string {
	if len(r.On) == 0 {
		return []string{""}
	}
	return r.On
}
