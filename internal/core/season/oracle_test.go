//go:build oracle

package season

import (
	"fmt"
	"math"
	"math/rand/v2"
	"solfeggio/internal/glpktest"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The same model as a mixed-integer program, solved by glpsol (GLPK): small seasons are planned at the optimum, and the bound of larger
// ones lies below it.
func TestPlanAgainstGLPK(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 7))
	for round := range 400 {
		in := drawn(r, 1+r.IntN(12), 4+r.IntN(17))
		out, err := Plan(ctx, in)
		require.NoError(t, err)
		assert.Equal(t, cost(t, in, out), out.TotalCents)
		assert.Equal(t, optimum(t, in), out.TotalCents, "round %d", round)
		assert.Equal(t, out.TotalCents, out.LowerBoundCents)
	}
	worst := 1.
	for round := range 8 {
		in := drawn(r, 14, 8)
		out, err := Plan(ctx, in)
		require.NoError(t, err)
		best := optimum(t, in)
		assert.LessOrEqual(t, out.LowerBoundCents, best, "round %d", round)
		assert.GreaterOrEqual(t, out.TotalCents, best)
		if best > 0 {
			worst = max(worst, float64(out.TotalCents)/float64(best))
		}
	}
	assert.Less(t, worst, 1.01, "fourteen jobs are planned near the optimum")
}

func optimum(t *testing.T, in In) int64 {
	t.Helper()
	var goal, rules, binaries strings.Builder
	uses := map[string]*strings.Builder{}
	caps := map[string]float64{}
	add := func(name string, cap, amount float64, x string) {
		if uses[name] == nil {
			uses[name] = &strings.Builder{}
		}
		caps[name] = cap
		fmt.Fprintf(uses[name], " + %g %s", amount, x)
	}
	trips := map[int]Trip{}
	for _, trip := range in.Trips {
		trips[trip.Week] = trip
		fmt.Fprintf(&goal, " + %d y%d", trip.FixedCents, trip.Week)
		fmt.Fprintf(&binaries, " y%d\n", trip.Week)
	}
	constant := int64(0)
	for n, j := range in.Jobs {
		unplaced := int64(max(0, in.Weeks-j.Due)) * j.LateCentsPerWeek
		constant += unplaced
		var once strings.Builder
		for s := max(0, j.Opens); s <= min(j.Last, in.Weeks-j.WeeksOut); s++ {
			for _, lent := range []bool{false, true} {
				if lent && j.Loaner == nil || j.Place == Van && trips[s].Places == 0 {
					continue
				}
				x := fmt.Sprintf("x%d_%d_%t", n, s, lent)
				cents := int64(max(0, s-j.Due))*j.LateCentsPerWeek + int64(max(0, j.Due-s))*j.EarlyCentsPerWeek
				blocked := false
				for w := s; w < s+j.WeeksOut; w++ {
					if lent {
						add(fmt.Sprintf("l_%s_%d", *j.Loaner, w), float64(in.Loaners[*j.Loaner]), 1, x)
						continue
					}
					cents += j.AbsentCentsPerWeek[w]
					for _, b := range j.BlockedWeeks {
						blocked = blocked || b == w
					}
				}
				if blocked {
					fmt.Fprintf(&rules, " %s = 0\n", x)
				}
				if j.Place == Bench {
					add(fmt.Sprintf("b_%d", s), in.BenchMinutes[s], j.Minutes, x)
				} else {
					places := 1
					if j.Places != nil {
						places = *j.Places
					}
					add(fmt.Sprintf("t_%d", s), float64(trips[s].Places), float64(places), x)
					fmt.Fprintf(&rules, " %s - y%d <= 0\n", x, s)
				}
				for k, b := range in.Budget {
					if s >= b.From && s <= b.To {
						add(fmt.Sprintf("m_%d", k), float64(b.Cents), float64(j.CostCents), x)
					}
				}
				fmt.Fprintf(&goal, " + %d %s", cents-unplaced, x)
				fmt.Fprintf(&once, " + %s", x)
				fmt.Fprintf(&binaries, " %s\n", x)
			}
		}
		if once.Len() > 0 {
			fmt.Fprintf(&rules, "%s <= 1\n", once.String())
		}
	}
	for name, of := range uses {
		fmt.Fprintf(&rules, "%s <= %g\n", of.String(), caps[name])
	}
	if rules.Len() == 0 {
		return constant
	}
	text := fmt.Sprintf("Minimize\n cost:%s\nSubject To\n%sBinary\n%sEnd\n", strings.ReplaceAll(goal.String(), "+ -", "- "),
		rules.String(), binaries.String())
	return constant + int64(math.Round(glpktest.Optimum(t, text)))
}
