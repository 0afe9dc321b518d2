package catalog

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Every kind can be turned over, whoever had it and however ill; what has a case has a way out for mould and smoke.
func TestEveryKindCanComeToTheBench(t *testing.T) {
	c := Embedded()
	for n := range c.Kinds {
		k := &c.Kinds[n]
		for _, reason := range []Reason{Turnover, Illness} {
			routines := c.BenchRoutines(k, reason)
			require.Len(t, routines, 1, "%s, %s", k.Key, reason)
			r := routines[0]
			assert.NotEmpty(t, r.Cautions, r.Key)
			assert.Empty(t, r.StaysHeld, r.Key)
			timed, last := 0, ""
			for _, s := range r.Steps {
				if s.Bench != nil {
					timed++
					last = s.Bench.Gloves
				}
			}
			assert.GreaterOrEqual(t, timed, 3, r.Key)
			if k.Key != "bow" && k.Family != "percussion" {
				assert.Equal(t, "off", last, "%s ends with clean hands", r.Key)
			}
		}
		if k.Family == "percussion" || k.Family == "keyboard" || k.Key == "bow" {
			continue
		}
		for _, reason := range []Reason{Mould, Smoke} {
			routines := c.BenchRoutines(k, reason)
			require.Len(t, routines, 1, "%s, %s", k.Key, reason)
			assert.NotEmpty(t, routines[0].StaysHeld, "it is not free afterwards")
			for _, s := range routines[0].Steps {
				assert.Empty(t, s.Products, "nothing is wiped or swabbed: %s", s.Do)
			}
		}
	}
}

// Common practice, no published source: new gloves before the case is touched and again before what is in it; vinegar for five
// minutes and not much longer; wood rests three days (from memory).
func TestTheOrderOfATurnover(t *testing.T) {
	c := Embedded()
	r, ok := c.Routine("reed-turnover")
	require.True(t, ok)
	gloves := []string{}
	for _, s := range r.Steps {
		if s.Bench.Gloves != "" {
			gloves = append(gloves, s.Bench.Name+" "+s.Bench.Gloves)
		}
		if s.Bench.Name == "Soak the mouthpiece" {
			assert.Equal(t, []any{5, 7, "soak", true}, []any{s.Bench.Wait, *s.Bench.MostWait, s.Bench.Station, s.Bench.Held})
			assert.Equal(t, []string{"vinegar"}, s.Products)
		}
	}
	assert.Equal(t, []string{"Case outside new", "Open new", "Together again off"}, gloves)
	assert.Equal(t, 72, r.RestHours("wood"))
	assert.Zero(t, r.RestHours("plastic"))

	brass, _ := c.Routine("valve-brass-turnover")
	bath, _ := c.Routine("valve-brass-bath")
	assert.Subset(t, brass.Steps, bath.Steps, "the bath stands among its steps")
	for _, s := range brass.Steps {
		assert.NotContains(t, s.Products, "vinegar")
	}
}

func TestABenchThatCannotBeIsRefused(t *testing.T) {
	c := Embedded()
	most := 3
	tests := []struct {
		want string
		step Step
	}{
		{`"moon" is no station`, Step{Do: "x", Bench: &BenchWork{Name: "x", Active: 1, Station: "moon"}}},
		{`"shop" is no station`, Step{Do: "x", Bench: &BenchWork{Name: "x", Active: 1, Station: "shop"}}},
		{`"soup" is no surface`, Step{Do: "x", Bench: &BenchWork{Name: "x", Active: 1, Contact: "soup"}}},
		{"waits for 5 minutes and no longer than 3", Step{Do: "x", Bench: &BenchWork{Name: "x", Active: 1, Wait: 5, MostWait: &most}}},
		{"a label may say more", Step{Do: "x", Bench: &BenchWork{Name: "x", Active: 1, Contact: "bore", MostWait: &most}}},
		{"says nothing to do", Step{Bench: &BenchWork{Name: "x", Active: 1}}},
		{"its steps take 9 minutes of 4", Step{Do: "x", Bench: &BenchWork{Name: "x", Active: 9}}},
		{"its steps take 0 minutes of 4", Step{Do: "x"}},
	}
	for _, tt := range tests {
		err := c.checkBench(&Routine{Minutes: 4, Bench: []Reason{Turnover}, Steps: []Step{tt.step}})
		assert.ErrorContains(t, err, tt.want)
	}
	assert.ErrorContains(t, c.checkBench(&Routine{Steps: []Step{tests[0].step}}), "is timed and the routine is not done at the bench")
}
