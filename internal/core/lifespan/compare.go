package lifespan

import (
	"math"

	"solfeggio/internal/core/field"
)

// A Sample is the lives of one product.
type Sample struct {
	Durations []float64 `json:"durations" doc:"How long each lasted so far, more than 0"`
	Ended     []bool    `json:"ended" doc:"Whether each came to its end; false for those still in use"`
}

// CompareIn is the input of the calculator lifespan.compare.
type CompareIn struct {
	A Sample `json:"a"`
	B Sample `json:"b"`
}

// CompareOut is its result.
type CompareOut struct {
	ChiSquare float64 `json:"chi_square" doc:"Log-rank, one degree of freedom"`
	PValue    float64 `json:"p_value" doc:"How often chance alone would show as great a difference"`
	Enough    bool    `json:"enough" doc:"At least 8 ended in each"`
}

// significance is below which chance a difference is taken for one.
const significance = 0.05

// Differ reports whether enough is known to say that they do not last alike.
func (c CompareOut) Differ() bool { return c.Enough && c.PValue < significance }

// Compare is the calculator lifespan.compare: the log-rank test. Where nothing ended while both were in use there is nothing to tell
// them apart: chi-square 0, p 1. Errors name the field by its JSON path.
func Compare(in CompareIn) (CompareOut, error) {
	for _, s := range []struct {
		name   string
		sample Sample
	}{{"a", in.A}, {"b", in.B}} {
		if err := check(s.sample.Durations, s.sample.Ended); err != nil {
			return CompareOut{}, field.Within(s.name, err)
		}
	}
	a, b := sorted(in.A.Durations, in.A.Ended), sorted(in.B.Durations, in.B.Ended)
	var excess, variance float64 // of what ended in a, against what chance would give it
	endedA, endedB := 0, 0
	for i, j := 0, 0; i < len(a) || j < len(b); {
		t := math.Inf(1)
		if i < len(a) {
			t = a[i].time
		}
		if j < len(b) {
			t = min(t, b[j].time)
		}
		na, nb := float64(len(a)-i), float64(len(b)-j)
		var da, db int
		i, da = pass(a, i, t)
		j, db = pass(b, j, t)
		endedA, endedB = endedA+da, endedB+db
		n, d := na+nb, float64(da+db)
		excess += float64(da) - d*na/n
		if n > 1 {
			variance += d * (na / n) * (nb / n) * (n - d) / (n - 1)
		}
	}
	out := CompareOut{PValue: 1, Enough: endedA >= Enough && endedB >= Enough}
	if variance > 0 {
		out.ChiSquare = excess * excess / variance
		out.PValue = math.Erfc(math.Sqrt(out.ChiSquare / 2))
	}
	return out, nil
}

// pass steps over the lives of time t and counts those that ended.
func pass(lives []life, i int, t float64) (next, ended int) {
	for ; i < len(lives) && lives[i].time == t; i++ {
		if lives[i].ended {
			ended++
		}
	}
	return i, ended
}
