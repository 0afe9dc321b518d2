package season

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A season of any size is planned to its end, most of all a small one, in which chance finds nothing near that is not taken yet.
func TestEverySizeComesToAnEnd(t *testing.T) {
	for _, jobs := range []int{0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 12, 15, 20} {
		t.Run(fmt.Sprint(jobs), func(t *testing.T) {
			t.Parallel()
			for seed := range 6 {
				in := drawn(rand.New(rand.NewPCG(uint64(seed), uint64(jobs))), jobs, 40)
				in.Iterations = Iterations(jobs)
				out, err := Plan(ctx, in)
				require.NoError(t, err)
				assert.Equal(t, cost(t, in, out), out.TotalCents)
				assert.GreaterOrEqual(t, out.TotalCents, out.LowerBoundCents)
			}
		})
	}
}

// A few are always so many different ones, near or not, however few there are to choose from.
func TestAFewAreDifferent(t *testing.T) {
	for jobs := 1; jobs <= 20; jobs++ {
		r := rand.New(rand.NewPCG(1, uint64(jobs)))
		in := drawn(r, jobs, 40)
		for n := range in.Jobs { // two are near each other and nothing else is
			week := min(39, 2*n)
			if n == 1 {
				week = 0
			}
			in.Jobs[n].Opens, in.Jobs[n].Due, in.Jobs[n].Last = week, week, week
		}
		p := &problem{In: in}
		for range 50 {
			some := p.anyFew(r)
			seen := map[int]bool{}
			for _, n := range some {
				seen[n] = true
			}
			assert.Len(t, seen, min(together, jobs))
		}
	}
}
