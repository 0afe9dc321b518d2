package kits

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
)

// caseOf is a played instrument of a kind, in a term without breaks, whose clocks run by their catalogue's standard limits.
func caseOf(t *testing.T, kind string) Case {
	t.Helper()
	c := catalog.Embedded()
	k, ok := c.Kind(kind)
	require.True(t, ok)
	choices := c.Choose()
	return Case{
		Kind:         k,
		Choices:      choices,
		SchoolShare:  1,
		Played:       true,
		HoursAWeek:   3,
		SessionsWeek: 5,
		Turnovers:    1. / 52,
		Limits: func(routine string) []care.Limits {
			for _, key := range k.Routines {
				if r, _ := c.Routine(key); key == routine {
					limits, _, ok := r.LimitsFor(choices)
					if !ok {
						return nil
					}
					list := []care.Limits{}
					for range r.Clocks() {
						list = append(list, limits)
					}
					return list
				}
			}
			return nil
		},
	}
}

// Worked by hand from the catalogue's figures, which are common practice or from memory as they say there.
func TestDemand(t *testing.T) {
	tests := []struct {
		name, kind, supply string
		change             func(*Case)
		want               float64
	}{
		{"three and a half drops on three valves, five times a week, of 50 mL", "trumpet", "valve-oil", nil, 3.5 * 3 * 5 * 0.05 / 50},
		{"four valves", "euphonium", "valve-oil", nil, 3.5 * 4 * 5 * 0.05 / 50},
		{"generous", "trumpet", "valve-oil", func(c *Case) { c.Choices["oil-amount"] = "generous" }, 8 * 3 * 5 * 0.05 / 50},
		{"oil rests with an instrument that nobody plays", "trumpet", "valve-oil", func(c *Case) { c.Played = false }, 0},
		{"rotors weekly, whoever plays", "horn", "rotor-oil", nil, 4.5 * 4 * 0.05 / 50},
		{"three reeds in rotation for three weeks, and three at the yearly turnover", "clarinet-b-flat", "reed-clarinet", nil, 1 + 3/52.},
		{"school in half of the weeks", "clarinet-b-flat", "reed-clarinet", func(c *Case) { c.SchoolShare = 0.5 }, 0.5 + 3/52.},
		{"four strings in a year", "violin", "strings-violin", nil, 4 * 0.25 * 7 / 365.},
		{
			"of strings whose lives are known, those that run out", "violin", "strings-violin",
			func(c *Case) { c.Renewals = map[string]float64{"violin-strings": 2. / 12} }, 2 * 0.25 / 12,
		},
		{"the one that learners break", "violin", "single-violin-e", nil, 7 / 730.},
		{"a rosin cake a year", "violin", "rosin", nil, 7 / 365.},
		{"two pairs of gloves a turnover", "flute", "gloves", nil, 2. / 52},
		{"vinegar is for reed mouthpieces", "violin", "vinegar", nil, 0},
		{"grease in a bath each 120 days and at the monthly look", "trumpet", "slide-grease", nil, (0.5*7/30 + 1*7/120.) / 15},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			of := caseOf(t, tt.kind)
			if tt.change != nil {
				tt.change(&of)
			}
			s, ok := catalog.Embedded().Supply(tt.supply)
			require.True(t, ok)
			got, parts := Demand(s, of)
			assert.InDelta(t, tt.want, got, 1e-12)
			sum := 0.
			for _, p := range parts {
				assert.NotEmpty(t, p.Says)
				sum += p.PerWeek
			}
			assert.InDelta(t, got, sum, 1e-12)
		})
	}
}

// Nothing in any kit is used faster because less is played.
func TestPlayingMoreNeverNeedsLess(t *testing.T) {
	c := catalog.Embedded()
	rapid.Check(t, func(r *rapid.T) {
		kind := rapid.SampledFrom(c.Kinds).Draw(r, "kind")
		less := caseOf(t, kind.Key)
		less.HoursAWeek = rapid.Float64Range(0, 20).Draw(r, "hours")
		less.SessionsWeek = rapid.Float64Range(0, 7).Draw(r, "sessions")
		more := less
		more.HoursAWeek += rapid.Float64Range(0, 20).Draw(r, "more hours")
		more.SessionsWeek += rapid.Float64Range(0, 7).Draw(r, "more sessions")
		for _, item := range c.KitOf(&kind).Items {
			s, _ := c.Supply(item.Supply)
			a, _ := Demand(s, less)
			b, _ := Demand(s, more)
			if a < 0 || b < a {
				r.Fatalf("%s of a %s: %v, then %v", s.Key, kind.Key, a, b)
			}
		}
	})
}

func TestTakes(t *testing.T) {
	reeds, oil := catalog.KitItem{Count: 3}, catalog.KitItem{}
	for _, tt := range []struct {
		item  catalog.KitItem
		state catalog.KitState
		want  int
	}{{reeds, catalog.Missing, 3}, {reeds, catalog.Low, 2}, {reeds, catalog.There, 0}, {oil, catalog.Missing, 1}, {oil, catalog.Low, 1},
		{oil, catalog.Wet, 0}} {
		assert.Equal(t, tt.want, Takes(tt.item, tt.state), "%v %s", tt.item, tt.state)
	}
}
