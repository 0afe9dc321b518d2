package lifespan

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Remission in weeks of 21 patients on 6-MP: E. A. Gehan, Biometrika 52 (1965); values of the estimate as rules of the house give them.
func gehan() EstimateIn {
	return EstimateIn{
		Durations: []float64{6, 6, 6, 6, 7, 9, 10, 10, 11, 13, 16, 17, 19, 20, 22, 23, 25, 32, 32, 34, 35},
		Ended: []bool{
			true, true, true, false, true, false, true, false, false, true, true, false, false, false, true, true, false, false,
			false, false, false,
		},
	}
}

func TestKaplanMeierOfGehan(t *testing.T) {
	out, err := Estimate(gehan())
	require.NoError(t, err)
	want := []struct{ time, survival float64 }{{6, 0.857}, {7, 0.807}, {10, 0.753}, {13, 0.690}, {16, 0.627}, {22, 0.538}, {23, 0.448}}
	require.Len(t, out.KaplanMeier, len(want))
	for i, w := range want {
		assert.InDelta(t, w.time, out.KaplanMeier[i].Time, 0)
		assert.InDelta(t, w.survival, out.KaplanMeier[i].Survival, 0.0005)
	}
	assert.Equal(t, 21, out.KaplanMeier[0].AtRisk)
	assert.Equal(t, 3, out.KaplanMeier[0].Ended)
	assert.InDelta(t, 0.0764, *out.KaplanMeier[0].StdError, 0.00005, "sqrt(0.857² × 3/(21 × 18))")
	assert.InDelta(t, 23, *out.Median, 0)
	assert.InDelta(t, 10, *out.QuantileTime, 0, "the first week with at most 80 % left")
	assert.True(t, out.Enough)
}

func TestEstimateOfFewLives(t *testing.T) {
	tests := []struct {
		name         string
		in           EstimateIn
		median       *float64
		weibull      bool
		stdErrorNull bool
	}{
		{"all still in use", EstimateIn{Durations: []float64{3, 5}, Ended: []bool{false, false}}, nil, false, false},
		{"one ended of two: exactly half is left", EstimateIn{Durations: []float64{3, 5}, Ended: []bool{true, false}}, at(3), false, false},
		{"two ended at once", EstimateIn{Durations: []float64{3, 3}, Ended: []bool{true, true}}, at(3), false, true},
		{"two ended, all gone", EstimateIn{Durations: []float64{5, 3}, Ended: []bool{true, true}}, at(3), true, true},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			out, err := Estimate(tt.in)
			require.NoError(t, err)
			assert.Equal(t, tt.median, out.Median)
			assert.Equal(t, tt.weibull, out.Weibull != nil)
			if n := len(out.KaplanMeier); n > 0 {
				assert.Equal(t, tt.stdErrorNull, out.KaplanMeier[n-1].StdError == nil)
			}
			assert.False(t, out.Enough)
		})
	}
}

func at(x float64) *float64 { return &x }

func TestEstimateRefuses(t *testing.T) {
	for path, in := range map[string]EstimateIn{
		"durations: ":    {},
		"ended: ":        {Durations: []float64{1, 2}, Ended: []bool{true}},
		"durations[1]: ": {Durations: []float64{1, 0}, Ended: []bool{true, true}},
		"quantile: ":     {Durations: []float64{1}, Ended: []bool{true}, Quantile: at(1)},
	} {
		_, err := Estimate(in)
		assert.ErrorContains(t, err, path)
	}
	_, err := Compare(CompareIn{A: Sample{[]float64{1}, []bool{true}}, B: Sample{[]float64{-1}, []bool{true}}})
	assert.ErrorContains(t, err, "b.durations[0]: ")
}

func TestCompareWithNothingToTellApart(t *testing.T) {
	out, err := Compare(CompareIn{A: Sample{[]float64{4, 9}, []bool{false, false}}, B: Sample{[]float64{4}, []bool{false}}})
	require.NoError(t, err)
	assert.Equal(t, CompareOut{PValue: 1}, out)
}

// drawn is n lives from a Weibull distribution, some of them censored, with whole days so that there are ties.
func drawn(r *rand.Rand, n int, shape, scale float64) (durations []float64, ended []bool) {
	for range n {
		t := math.Ceil(scale * math.Pow(-math.Log(1-r.Float64()), 1/shape))
		c := math.Ceil(2 * scale * r.Float64())
		durations, ended = append(durations, math.Max(1, min(t, c))), append(ended, t <= c)
	}
	return durations, ended
}

func BenchmarkEstimate(b *testing.B) {
	durations, ended := drawn(rand.New(rand.NewPCG(1, 1)), 100_000, 2, 180)
	for b.Loop() {
		if _, err := Estimate(EstimateIn{Durations: durations, Ended: ended}); err != nil {
			b.Fatal(err)
		}
	}
}
