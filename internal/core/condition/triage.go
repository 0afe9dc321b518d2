// Package condition judges what an inspection found: how good the instrument still is, what is to be done and by when,
// what helps at once and what must not be done. It also walks a symptom to what is behind it.
//
// What a finding weighs, its first aid and its prohibitions stand in the catalogue; the sums are here.
package condition

import (
	"fmt"
	"slices"
	"strings"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/field"
	"solfeggio/internal/core/why"
)

// An Action is what a finding calls for.
type Action string

// The Actions, from least to most.
const (
	None     Action = "none"
	Habit    Action = "habit"    // the player changes how it is handled
	Director Action = "director" // mended at school
	Shop     Action = "shop"     // on the next trip
	ShopNow  Action = "shop-now" // at once
	Stop     Action = "stop"     // not played until somebody allowed to clears it
)

// Actions lists the actions, from least to most.
var Actions = []Action{None, Habit, Director, Shop, ShopNow, Stop}

// dueDays is how long an action may wait (the product's own choice); None waits for ever.
var dueDays = map[Action]int{Stop: 0, ShopNow: 2, Shop: 21, Director: 7, Habit: 1}

// DueDays is how many days the action may wait; false for one that waits for ever.
func (a Action) DueDays() (int, bool) {
	d, ok := dueDays[a]
	return d, ok
}

// NeedsShop reports whether the action is a repair shop's.
func (a Action) NeedsShop() bool { return catalog.NeedsShop(string(a)) }

// A Grade says what an instrument is good for.
type Grade string

// The Grades, from best to worst.
const (
	Concert Grade = "concert"
	Class   Grade = "class"
	Limping Grade = "limping"
	Silent  Grade = "silent"
)

// Grades lists the grades, from best to worst.
var Grades = []Grade{Concert, Class, Limping, Silent}

// A Finding as triage sees it.
type Finding struct {
	Code        string `json:"code"`
	Severity    int    `json:"severity" jsonschema:"minimum=0,maximum=4" doc:"0 a note, 1 small, 2 noticeable, 3 hampers, 4 cannot be played"`
	Action      Action `json:"action" jsonschema:"enum=none,enum=habit,enum=director,enum=shop,enum=shop-now,enum=stop"`
	Avoidable   bool   `json:"avoidable"`
	TouchesTone bool   `json:"touches_tone"`
}

// Of is what the catalogue says of a kind of finding.
func Of(f *catalog.FindingKind) Finding {
	return Finding{f.Code, f.Severity, Action(f.Action), f.Avoidable, f.TouchesTone}
}

// TriageIn is the input of the calculator condition.triage.
type TriageIn struct {
	Findings []Finding `json:"findings"`
}

// TriageOut is its result. FirstAid and Never come from the catalogue, the gravest finding first, each said once.
type TriageOut struct {
	Action   Action   `json:"action" enum:"none,habit,director,shop,shop-now,stop"`
	Grade    Grade    `json:"grade" enum:"concert,class,limping,silent"`
	FirstAid []string `json:"first_aid"`
	Never    []string `json:"never"`
	DueDays  *int     `json:"due_days" nullable:"true" doc:"Days until something must be done; null when nothing must"`
	Why      why.Why  `json:"why"`
}

// Triage is the calculator condition.triage: the worst action, the grade, the shortest deadline. Another finding never
// betters any of them.
func Triage(in TriageIn) (TriageOut, error) {
	out := TriageOut{Action: None, Grade: Concert, FirstAid: []string{}, Never: []string{}}
	var deciding *Finding
	for i := range in.Findings {
		f := &in.Findings[i]
		if err := f.check(fmt.Sprintf("findings[%d]", i)); err != nil {
			return TriageOut{}, err
		}
		out.Action = worse(Actions, out.Action, f.Action)
		if g := f.grade(); deciding == nil || slices.Index(Grades, g) > slices.Index(Grades, out.Grade) {
			out.Grade, deciding = worse(Grades, out.Grade, g), f
		}
		if d, ok := f.Action.DueDays(); ok && (out.DueDays == nil || d < *out.DueDays) {
			out.DueDays = &d
		}
	}
	out.say(in.Findings)
	out.Why = out.because(in.Findings, deciding)
	return out, nil
}

func (f Finding) check(path string) error {
	if f.Severity < 0 || f.Severity > 4 {
		return field.Errorf(path+".severity", "%d is no severity; use 0 to 4", f.Severity)
	}
	if !slices.Contains(Actions, f.Action) {
		return field.Errorf(path+".action", "%q is no action; use one of none, habit, director, shop, shop-now, stop", f.Action)
	}
	return nil
}

// grade is the best that an instrument can be with this finding.
func (f Finding) grade() Grade {
	switch {
	case f.Action == Stop || f.Severity == 4:
		return Silent
	case f.Severity == 3:
		return Limping
	case f.Severity == 2 || f.Severity == 1 && f.TouchesTone:
		return Class
	}
	return Concert
}

func worse[T comparable](order []T, a, b T) T {
	return order[max(slices.Index(order, a), slices.Index(order, b))]
}

// say gathers first aid and prohibitions, the gravest finding first.
func (t *TriageOut) say(findings []Finding) {
	sorted := slices.Clone(findings)
	slices.SortStableFunc(sorted, func(a, b Finding) int {
		if d := slices.Index(Actions, b.Action) - slices.Index(Actions, a.Action); d != 0 {
			return d
		}
		return b.Severity - a.Severity
	})
	add := func(to *[]string, lines []string) {
		for _, line := range lines {
			if !slices.Contains(*to, line) {
				*to = append(*to, line)
			}
		}
	}
	for _, f := range sorted {
		if kind, ok := catalog.Embedded().Finding(f.Code); ok {
			add(&t.FirstAid, kind.FirstAid)
			add(&t.Never, kind.Never)
		}
	}
}

func (t TriageOut) because(findings []Finding, deciding *Finding) why.Why {
	w := why.Why{
		Rule:  "condition.triage",
		Basis: why.Basis{Kind: why.OwnRule, Source: "weights of the findings are common practice, no published source"},
	}
	w.Inputs = []why.Input{{Name: "findings", Value: fmt.Sprint(len(findings))}}
	if deciding == nil {
		w.Statement = "Nothing was found, so it is fit for a concert."
		return w
	}
	name := deciding.Code
	if kind, ok := catalog.Embedded().Finding(deciding.Code); ok {
		name = kind.Name
	}
	w.Inputs = append(
		w.Inputs,
		why.Input{Name: "what decides the grade", Value: fmt.Sprintf("%s, severity %d of 4", name, deciding.Severity)},
	)
	w.Statement = fmt.Sprintf("%s: the worst finding decides.", gradeWords[t.Grade])
	if t.Action == Stop {
		w.Statement += " It stays out of everybody's hands until somebody allowed to clears it."
	}
	if t.DueDays != nil && *t.DueDays > 0 {
		w.Statement += fmt.Sprintf(" Something is to be done within %s.", days(*t.DueDays))
	}
	return w
}

func days(n int) string {
	if n == 1 {
		return "a day"
	}
	return fmt.Sprintf("%d days", n)
}

var gradeWords = map[Grade]string{
	Concert: "Fit for a concert", Class: "Fit for class", Limping: "Playable, and it hampers the player", Silent: "Not to be played",
}

var actionWords = map[Action]string{
	None: "nothing to do", Habit: "the player handles it differently from now on", Director: "mended at school",
	Shop:    "on the next trip to the shop",
	ShopNow: "to the shop at once", Stop: "not to be played",
}

// Words is the action for a sentence.
func (a Action) Words() string { return actionWords[a] }

// Words is the grade for a sentence.
func (g Grade) Words() string { return gradeWords[g] }

// Stops names the findings that stop an instrument.
func Stops(findings []Finding) string {
	var names []string
	for _, f := range findings {
		if f.Action != Stop {
			continue
		}
		name := f.Code
		if kind, ok := catalog.Embedded().Finding(f.Code); ok {
			name = strings.ToLower(kind.Name[:1]) + kind.Name[1:]
		}
		names = append(names, name)
	}
	return strings.Join(names, ", ")
}
