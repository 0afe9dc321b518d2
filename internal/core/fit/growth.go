package fit

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/stat"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/field"
)

// A Measurement of a player on a day.
type Measurement struct {
	Date day.Day `json:"date"`
	CM   float64 `json:"cm"`
}

// GrowthIn is the input of the calculator fit.growth.
type GrowthIn struct {
	Measurements []Measurement `json:"measurements" doc:"At least two, on different days"`
	ThresholdCM  float64       `json:"threshold_cm" doc:"Where the next size begins"`
}

// GrowthOut is its result. The days are null when the player does not grow, or not that far in a lifetime.
type GrowthOut struct {
	CMPerYear float64  `json:"cm_per_year"`
	ReachesOn *day.Day `json:"reaches_on"`
	LowOn     *day.Day `json:"low_on" doc:"The earlier end of the band"`
	HighOn    *day.Day `json:"high_on" doc:"The later end"`
}

const (
	daysPerYear   = 365.25
	twoPointShare = 0.3 // of the slope, where two points leave no error to compute (from memory)
	lifetimeYears = 100
)

// Growth is the calculator fit.growth: a least squares line through the measurements, the first day on which it reaches the
// threshold, and a band from plus and minus one standard error of its slope, turned about the measurements' mean.
func Growth(in GrowthIn) (GrowthOut, error) {
	if len(in.Measurements) < 2 {
		return GrowthOut{}, field.Errorf("measurements", "%d is not enough; give at least two", len(in.Measurements))
	}
	if !(in.ThresholdCM > 0 && in.ThresholdCM < tallestCM) {
		return GrowthOut{}, field.Errorf("threshold_cm", "%v is no length of a person; use centimetres", in.ThresholdCM)
	}
	var x, y []float64
	seen := map[day.Day]bool{}
	first := in.Measurements[0].Date
	for i, m := range in.Measurements {
		if !(m.CM > 0 && m.CM < tallestCM) {
			return GrowthOut{}, field.Errorf(fmt.Sprintf("measurements[%d].cm", i), "%v is no length of a person; use centimetres", m.CM)
		}
		if seen[m.Date] {
			return GrowthOut{}, field.Errorf(fmt.Sprintf("measurements[%d].date", i), "%s is measured twice", m.Date)
		}
		seen[m.Date] = true
		x, y = append(x, float64(m.Date-first)), append(y, m.CM)
	}
	intercept, slope := stat.LinearRegression(x, y, nil, false)
	xMean, yMean := stat.Mean(x, nil), stat.Mean(y, nil)
	spread := twoPointShare * math.Abs(slope)
	if n := len(x); n > 2 {
		var residual, xx float64
		for i := range x {
			r := y[i] - intercept - slope*x[i]
			residual += r * r
			xx += (x[i] - xMean) * (x[i] - xMean)
		}
		spread = math.Sqrt(residual / float64(n-2) / xx)
	}
	out := GrowthOut{CMPerYear: slope * daysPerYear}
	reach := func(slope float64) *day.Day {
		if slope <= tolerance/daysPerYear {
			return nil
		}
		days := math.Ceil(xMean + (in.ThresholdCM-yMean)/slope - 1e-6)
		if math.Abs(days) > lifetimeYears*daysPerYear {
			return nil
		}
		d := first + day.Day(days)
		return &d
	}
	if out.ReachesOn = reach(slope); out.ReachesOn == nil {
		return out, nil
	}
	out.LowOn, out.HighOn = reach(slope+spread), reach(slope-spread)
	if in.ThresholdCM < yMean { // it was reached before the mean, where the steeper line is the later one
		out.LowOn, out.HighOn = out.HighOn, out.LowOn
	}
	return out, nil
}
