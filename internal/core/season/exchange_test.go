package season

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Of seasons at the bench alone that can be searched to the end: both bounds stay below the best plan, the one by whole jobs is never the
// lower one, and exchanging makes nothing worse. In two weeks in which everything finds its place, it finds the best plan itself.
func TestExchangeAtTheBench(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 9))
	tighter, improved := 0, 0
	for range 60 {
		weeks := 2 + r.IntN(3)
		in := drawn(r, 8, weeks)
		in.Budget = []Budget{}
		for n := range in.Jobs {
			j := &in.Jobs[n]
			j.Place, j.Minutes, j.WeeksOut, j.Loaner, j.BlockedWeeks = Bench, float64(5+r.IntN(40)), 1, nil, []int{}
			if weeks == 2 {
				j.Opens, j.Due, j.Last, j.LateCentsPerWeek = 0, r.IntN(2), 1, 5000 // nothing is left out that has room
			}
		}
		if weeks == 2 {
			in.BenchMinutes = []float64{150, 250}
		}
		p := newProblem(in)
		p.greedy()
		loose := p.bound(p.all(), p.total(), p.keepBest(ctx))
		for _, n := range p.all() { // anywhere
			p.take(n, nil)
		}
		for _, n := range p.all() {
			for _, k := range r.Perm(len(p.options[n])) {
				if ok, _ := p.fits(&p.options[n][k]); ok {
					p.take(n, &p.options[n][k])
				}
			}
		}
		laid := p.total()
		newExchange(p).settle(ctx)
		after := p.total()
		tight := p.tighter(ctx, p.layBench(ctx, false))
		p.solve(ctx, p.all(), noLimit)
		best := p.total()
		require.LessOrEqual(t, after, laid)
		require.LessOrEqual(t, tight, best)
		require.LessOrEqual(t, loose, best)
		require.GreaterOrEqual(t, tight, loose-1) // a cent for rounding
		if weeks == 2 {
			assert.Equal(t, best, after)
		}
		if tight > loose {
			tighter++
		}
		if after < laid {
			improved++
		}
	}
	assert.Positive(t, tighter)
	assert.Positive(t, improved)
}
