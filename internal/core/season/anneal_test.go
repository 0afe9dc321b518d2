package season

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
)

// A walk knows at each step what its plan costs, what is used, and by whom.
func TestAWalkKeepsItsBooks(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 4))
	for range 20 {
		p := newProblem(drawn(r, 30, 12))
		p.greedy()
		w := newWalk(p, p.free(), r)
		now := p.total()
		for range 2000 {
			now += w.step(int64(r.IntN(300)))
		}
		assert.Equal(t, p.total(), now)
		used, holders := make([]float64, len(p.resources)), make([][]int, len(p.resources))
		for n, o := range p.chosen {
			if o == nil {
				continue
			}
			for k, u := range o.uses {
				used[u.of] += u.amount
				holders[u.of] = append(holders[u.of], n)
				assert.Equal(t, n, w.holders[u.of][w.places[n][k]])
			}
		}
		for of, resource := range p.resources {
			assert.InDelta(t, used[of], resource.used, tolerance)
			assert.LessOrEqual(t, used[of], resource.cap+tolerance)
			assert.ElementsMatch(t, holders[of], w.holders[of])
		}
	}
}

// Of small seasons both walks together find what a search to the end finds, from a plan in which nothing is done.
func TestAnnealingFindsTheOptimumOfSmallSeasons(t *testing.T) {
	r := rand.New(rand.NewPCG(6, 1))
	gained := 0
	for range 60 {
		in := drawn(r, 7, 6)
		in.Iterations = 40
		best, p := newProblem(in), newProblem(in)
		best.solve(ctx, best.all(), noLimit)
		gained += int(p.total() - best.total())
		p.anneal(ctx, 0)
		assert.Equal(t, best.total(), p.total())
	}
	assert.Positive(t, gained)
}

// What stands near its bound is left as it is, and so is a plan that is not to be improved.
func TestAGoodPlanIsNotAnnealed(t *testing.T) {
	in := drawn(rand.New(rand.NewPCG(6, 1)), 20, 6)
	p := newProblem(in)
	p.anneal(ctx, p.total())
	assert.Equal(t, newProblem(in).total(), p.total())
	p.Iterations = 0
	p.anneal(ctx, 0)
	assert.Equal(t, newProblem(in).total(), p.total())
}
