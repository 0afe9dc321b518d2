// Package fit decides which size of a stringed instrument fits a player, and when a growing player will need the next.
//
// A chart by arm length or height gives a first size; checks with the instrument in hand stand above any chart. The
// chart is from memory; the checks are common practice, no published source. When in doubt, the smaller.
package fit

import (
	"fmt"
	"slices"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/field"
	"solfeggio/internal/core/why"
)

// chartNamed is a chart of the catalogue.
func chartNamed(chart string) (*catalog.SizeChart, bool) { return catalog.Embedded().SizeChart(chart) }

// MeasureOf names the measure that a chart reads; empty for no chart.
func MeasureOf(chart string) string {
	if c, ok := chartNamed(chart); ok {
		return c.Measure
	}
	return ""
}

// SizeIn is the input of the calculator fit.size.
type SizeIn struct {
	Kind        string   `json:"kind" jsonschema:"enum=violin,enum=viola,enum=cello,enum=bass"`
	ArmLengthCM *float64 `json:"arm_length_cm,omitempty" doc:"Neck to mid-palm; needed for violin and viola"`
	HeightCM    *float64 `json:"height_cm,omitempty" doc:"Needed for cello and bass"`
	Checks      *Checks  `json:"checks,omitempty"`
}

// SizeOut is its result.
type SizeOut struct {
	Size      string  `json:"size"`
	ChartSize string  `json:"chart_size"`
	Why       why.Why `json:"why"`
}

const (
	tolerance = 1e-9
	tallestCM = 300 // nobody is taller
)

// Size is the calculator fit.size: the chart first, then one size down when the instrument is too big, or one up when every
// check that can say so says that it is too small.
func Size(in SizeIn) (SizeOut, error) {
	chart, ok := chartNamed(in.Kind)
	if !ok {
		return SizeOut{}, field.Errorf("kind", "%q has no chart; use violin, viola, cello or bass", in.Kind)
	}
	measures := []struct {
		name string
		cm   *float64
	}{{"arm_length_cm", in.ArmLengthCM}, {"height_cm", in.HeightCM}}
	var measure *float64
	for _, m := range measures {
		if m.cm != nil && !(*m.cm > 0 && *m.cm < tallestCM) {
			return SizeOut{}, field.Errorf(m.name, "%v is no length of a person; use centimetres", *m.cm)
		}
		if m.name == chart.Measure {
			measure = m.cm
		}
	}
	if measure == nil {
		return SizeOut{}, field.Errorf(chart.Measure, "missing; the chart of the %s reads it", in.Kind)
	}
	at := slices.IndexFunc(chart.Steps, func(s catalog.SizeStep) bool { return s.Below == 0 || *measure < s.Below-tolerance })
	checks := Checks{}
	if in.Checks != nil {
		checks = *in.Checks
	}
	if err := checks.Check(in.Kind); err != nil {
		return SizeOut{}, err
	}
	fits, reason := at, "The chart gives it"
	says, _ := checks.says(in.Kind)
	switch says {
	case TooBig:
		fits, reason = max(0, at-1), "The chart's size is too big in the player's hands, so one smaller"
	case TooSmall:
		fits, reason = min(len(chart.Steps)-1, at+1), "The chart's size is too small in the player's hands, so one larger"
	}
	out := SizeOut{Size: chart.Steps[fits].Size, ChartSize: chart.Steps[at].Size}
	if fits == at && says != Fits {
		reason += "; there is none"
	}
	out.Why = why.Why{
		Rule: "fit.size", Statement: reason + ".", Basis: why.Basis{Kind: why.FromMemory, Source: "chart; the checks are common practice"},
		Inputs: []why.Input{{Name: chart.Measure, Value: fmt.Sprintf("%v cm", *measure)}, {Name: "chart", Value: out.ChartSize}},
	}
	for _, c := range SignsOf(in.Kind) {
		if given := checks.answer(c.Key); given != "" {
			out.Why.Inputs = append(out.Why.Inputs, why.Input{Name: c.Ask, Value: given})
		}
	}
	return out, nil
}

// Next is the size after this one, and the measure in centimetres at which the chart turns to it; false for the largest.
func Next(kind, size string) (next string, fromCM float64, ok bool) {
	chart, ok := chartNamed(kind)
	if !ok {
		return "", 0, false
	}
	at := chart.At(size)
	if at < 0 || at+1 >= len(chart.Steps) {
		return "", 0, false
	}
	return chart.Steps[at+1].Size, chart.Steps[at].Below, true
}
