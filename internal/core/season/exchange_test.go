package season

import (
	"math"
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
		loose := p.bound(ctx, p.all(), p.total(), p.keepBest(ctx))
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

// A bench as schools have it: nearly full weeks, many short jobs and some long ones. Plans laid by the shares of the bound keep the rules,
// are never dearer than the one there was, are the same whichever processor lays them, and the bound stays below.
func TestTheBenchIsLaidByShares(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 1))
	better := 0
	for round := range 12 {
		in := drawn(r, 120, 12)
		in.Budget, in.Trips, in.Loaners = []Budget{}, []Trip{}, map[string]int{}
		all := 0.
		for n := range in.Jobs {
			j := &in.Jobs[n]
			j.Place, j.WeeksOut, j.Loaner, j.BlockedWeeks, j.Pin = Bench, 1, nil, []int{}, nil
			j.Minutes = []float64{3, 5, 8, 10, 24, 36, 53}[r.IntN(7)]
			j.Opens, j.Due, j.Last, j.LateCentsPerWeek = max(0, j.Due-2), min(j.Due, 11), 11, int64(100*(1+r.IntN(4)))
			all += j.Minutes
		}
		for w := range in.BenchMinutes {
			in.BenchMinutes[w] = math.Ceil(all / 11.5)
		}
		var totals, bounds [2]int64
		for again := range totals {
			p := newProblem(in)
			p.greedy()
			p.bound(ctx, p.all(), p.total(), p.keepBest(ctx))
			before := p.total()
			bounds[again] = p.layBench(ctx, true)
			totals[again] = p.total()
			require.LessOrEqual(t, totals[again], before)
			require.LessOrEqual(t, bounds[again], totals[again])
			for _, res := range p.resources {
				require.LessOrEqual(t, res.used, res.cap+tolerance, "round %d: %s", round, res.name)
			}
			if totals[again] < before {
				better++
			}
		}
		require.Equal(t, totals[0], totals[1])
		require.Equal(t, bounds[0], bounds[1])
	}
	assert.Greater(t, better, 12, "it seldom helps otherwise")
}

// What was left out comes in where that costs less, and for it something cheaper goes.
func TestWhatIsLeftOutComesIn(t *testing.T) {
	in := four(quiet("cheap", Bench), quiet("dear", Bench))
	for n := range in.Jobs {
		in.Jobs[n].Minutes, in.Jobs[n].Opens, in.Jobs[n].Due, in.Jobs[n].Last = 60, 0, 0, 0
		in.Jobs[n].LateCentsPerWeek = int64(100 * (1 + 9*n))
	}
	in.BenchMinutes = []float64{60, 60, 60, 60}
	p := newProblem(in)
	p.take(0, &p.options[0][0])
	newExchange(p).settle(ctx)
	assert.Nil(t, p.chosen[0])
	assert.NotNil(t, p.chosen[1])
}
