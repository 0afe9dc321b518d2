// Package bow decides how often a player rosins, and whether a bow is worth new hair.
package bow

import (
	"fmt"
	"math"

	"solfeggio/internal/core/field"
	"solfeggio/internal/core/money"
	"solfeggio/internal/core/why"
)

// Playing times between which rosin goes from once a week to every day (common practice, no published source).
const (
	weeklyMinutes = 15.0 // a day and less: about once a week
	dailyMinutes  = 60.0 // a day and more: every day
	daysAWeek     = 7
)

const tolerance = 1e-9

// RosinIn is the input of the calculator bow.rosin.
type RosinIn struct {
	PracticeMinutesPerDay float64 `json:"practice_minutes_per_day" doc:"0 to 1440"`
}

// RosinOut is its result.
type RosinOut struct {
	TimesPerWeek int     `json:"times_per_week"`
	Why          why.Why `json:"why"`
}

// Rosin is the calculator bow.rosin. Rosin follows the playing: none for who does not play, once a week up to a quarter of an hour a
// day, daily from an hour on, in proportion between, half rounded up. Errors name the field by its JSON path.
func Rosin(in RosinIn) (RosinOut, error) {
	m := in.PracticeMinutesPerDay
	if !(m >= 0 && m <= 24*60) {
		return RosinOut{}, field.Errorf("practice_minutes_per_day", "%v is no playing time of a day; use 0 to 1440", m)
	}
	var times int
	switch {
	case m == 0:
	case m <= weeklyMinutes:
		times = 1
	case m >= dailyMinutes:
		times = daysAWeek
	default:
		times = int(math.Floor(1 + (daysAWeek-1)*(m-weeklyMinutes)/(dailyMinutes-weeklyMinutes) + 0.5 + tolerance))
	}
	return RosinOut{
		TimesPerWeek: times,
		Why: why.Why{
			Rule:      "bow.rosin",
			Statement: fmt.Sprintf("%s of playing a day want rosin %s.", minutes(m), Often(times)),
			Inputs:    []why.Input{{Name: "played a day", Value: minutes(m)}},
			Basis: why.Basis{
				Kind:   why.CommonPractice,
				Source: "10 to 15 minutes a day: about weekly; an hour or more: daily; in proportion between",
			},
			Alternatives: []why.Alternative{
				{
					Name:      "By the sound",
					Statement: "Harsh and dusty is too much: tap the bow lightly on the palm and wipe. It slips: a little more.",
				},
			},
		},
	}, nil
}

// Often says how many times a week.
func Often(times int) string {
	switch times {
	case 0:
		return "not at all"
	case 1:
		return "once a week"
	case daysAWeek:
		return "every day"
	}
	return fmt.Sprintf("%d times a week", times)
}

func minutes(m float64) string { return fmt.Sprintf("%.0f minutes", m) }

// Choice is what is done with a bow whose hair is done.
type Choice string

// The choices.
const (
	Rehair Choice = "rehair"
	New    Choice = "new"
)

// DefaultFactor is how many rehairs a bow must be worth to be given one (from memory).
const DefaultFactor = 2.0

// UsualRehairCents is what new hair costs until the school says otherwise: 50 to 70 in euros are quoted (common practice, no published
// source).
const UsualRehairCents = 6000

// RehairIn is the input of the calculator bow.rehair-or-new.
type RehairIn struct {
	RehairCents   int64    `json:"rehair_cents"`
	BowValueCents int64    `json:"bow_value_cents"`
	Straight      bool     `json:"straight"`
	Factor        *float64 `json:"factor,omitempty" doc:"2 when left out"`

	Currency money.Currency `json:"-"` // as reasons name it
}

// RehairOut is its result.
type RehairOut struct {
	Choice Choice  `json:"choice"`
	Why    why.Why `json:"why"`
}

// RehairOrNew is the calculator bow.rehair-or-new: a rehair costs much the same for any bow, so a cheap or bent one is replaced by a
// light, straight one and neither rehaired nor bent back. Errors name the field by its JSON path.
func RehairOrNew(in RehairIn) (RehairOut, error) {
	factor := DefaultFactor
	if in.Factor != nil {
		factor = *in.Factor
	}
	switch {
	case in.RehairCents < 0:
		return RehairOut{}, field.Errorf("rehair_cents", "%d is no price; use 0 or more", in.RehairCents)
	case in.BowValueCents < 0:
		return RehairOut{}, field.Errorf("bow_value_cents", "%d is no price; use 0 or more", in.BowValueCents)
	case !(factor >= 0) || math.IsInf(factor, 0):
		return RehairOut{}, field.Errorf("factor", "%v is no number of rehairs; use 0 or more", factor)
	}
	out := RehairOut{Choice: Rehair, Why: why.Why{
		Rule:      "bow.rehair-or-new",
		Statement: "The stick is straight and worth more than its new hair many times enough: rehair it.",
		Inputs: []why.Input{
			{Name: "rehair", Value: in.Currency.Say(in.RehairCents)},
			{Name: "value of the bow", Value: in.Currency.Say(in.BowValueCents)},
			{Name: "wanted", Value: fmt.Sprintf("%g times the rehair", factor)},
		},
		Basis: why.Basis{Kind: why.FromMemory, Source: "below about twice the rehair a new, light, straight bow is the better buy"},
		Alternatives: []why.Alternative{
			{
				Name:      "A bow somebody is fond of",
				Statement: "A stick that plays well for its player may be worth a rehair that the sum refuses.",
			},
		},
	}}
	switch {
	case !in.Straight:
		out.Choice = New
		out.Why.Statement = "The stick has lost its curve. A school bow is not bent back: buy a new, light, straight one."
	case float64(in.BowValueCents) < factor*float64(in.RehairCents)-tolerance:
		out.Choice = New
		out.Why.Statement = fmt.Sprintf("The bow is worth less than %g times its new hair: buy a new, light, straight one.", factor)
	default:
		out.Why.Statement = fmt.Sprintf("The stick is straight and worth at least %g times its new hair: rehair it.", factor)
	}
	return out, nil
}
