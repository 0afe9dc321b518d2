// Package fit decides which size of a stringed instrument fits a player, and when a growing player will need the next.
//
// A chart by arm length or height gives a first size; checks with the instrument in hand stand above any chart. The
// chart is from memory; the checks are common practice, no published source. When in doubt, the smaller.
package fit

import (
	"fmt"
	"math"
	"slices"

	"solfeggio/internal/core/field"
	"solfeggio/internal/core/why"
)

// A Chart lists the sizes of a kind, smallest first, by one measure of the player.
type Chart struct {
	Measure string // name of the field that it reads
	Steps   []Step
}

// A Step is a size that fits below a measure in centimetres; the last fits everybody from there.
type Step struct {
	Size  string
	Below float64
}

// Charts by kind as the calculator names them (from memory): violin and viola by the arm from neck to mid-palm, cello and
// bass by height.
var Charts = map[string]Chart{
	"violin": {"arm_length_cm", []Step{{"1/16", 38.5}, {"1/10", 43}, {"1/8", 45}, {"1/4", 51}, {"1/2", 56}, {"3/4", 59.5}, {"4/4", math.Inf(1)}}},
	"viola":  {"arm_length_cm", []Step{{"12", 54}, {"13", 58}, {"14", 61}, {"15", 64}, {"15.5", 67}, {"16", math.Inf(1)}}},
	"cello":  {"height_cm", []Step{{"1/8", 115}, {"1/4", 128}, {"1/2", 140}, {"3/4", 152}, {"4/4", math.Inf(1)}}},
	"bass":   {"height_cm", []Step{{"1/8", 125}, {"1/4", 135}, {"1/2", 150}, {"3/4", math.Inf(1)}}},
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
	chart, ok := Charts[in.Kind]
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
	at := slices.IndexFunc(chart.Steps, func(s Step) bool { return *measure < s.Below-tolerance })
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
	steps := Charts[kind].Steps
	at := slices.IndexFunc(steps, func(s Step) bool { return s.Size == size })
	if at < 0 || at+1 >= len(steps) {
		return "", 0, false
	}
	return steps[at+1].Size, steps[at].Below, true
}
