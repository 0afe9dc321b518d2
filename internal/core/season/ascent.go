package season

import "math"

const (
	turning   = 0.6  // how much of the way before is kept in each step, which keeps them from zigzagging
	leastStep = 1e-3 // after which nothing much moves any more
)

// An ascent raises the value of a relaxation by moving its multipliers along the subgradient. Steps are halved when the value has not grown
// for some rounds.
type ascent struct {
	best   float64
	step   float64
	stalls int       // rounds that are waited before a step is halved
	way    []float64 // of each multiplier

	since int // the value grew, in rounds
}

func newAscent(multipliers int, step float64, stalls int) *ascent {
	return &ascent{best: math.Inf(-1), step: step, stalls: stalls, way: make([]float64, multipliers)}
}

// grew notes the value at the multipliers of now, and reports whether it is the best so far.
func (a *ascent) grew(value float64) bool {
	if value > a.best+1e-6 {
		a.best, a.since = value, 0
		return true
	}
	if a.since++; a.since == a.stalls {
		a.step, a.since = a.step/2, 0
	}
	return false
}

// turn turns the way towards a slope, and says how far to go along it when so much is thought to be missing; 0 when there is nowhere to go.
func (a *ascent) turn(slope []float64, missing float64) (length float64) {
	norm := 0.
	for k, s := range slope {
		if math.Abs(s) < tolerance { // an error of rounding, along which a step would go anywhere
			s = 0
		}
		a.way[k] = s + turning*a.way[k]
		norm += a.way[k] * a.way[k]
	}
	if norm < tolerance*tolerance || a.step < leastStep {
		return 0
	}
	return a.step * math.Max(0, missing) / norm
}
