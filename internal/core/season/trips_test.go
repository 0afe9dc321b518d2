package season

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Of seasons of trips that can be searched to the end: the bound by whole trips stays below the best plan, is never below the one that
// shares trips out by places, and mostly is what the best plan costs, where the other seldom is. Giving trips up makes nothing dearer and
// breaks no rule.
func TestTripsBound(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 2))
	proved, loosely, better := 0, 0, 0
	const seasons = 60
	for round := range seasons {
		in := drawn(r, 9, 8)
		for n := range in.Jobs {
			in.Jobs[n].Place, in.Jobs[n].Minutes, in.Jobs[n].Pin = Van, 0, nil
		}
		in.Trips = []Trip{}
		for w := 1; w < 8; w += 2 {
			in.Trips = append(in.Trips, Trip{Week: w, Places: 2 + r.IntN(6), FixedCents: int64(r.IntN(800))})
		}
		p := newProblem(in)
		p.greedy()
		loose := p.bound(ctx, p.all(), p.total(), p.keepBest(ctx))
		before := p.total()
		p.reroute(ctx)
		after := p.total()
		bound := p.tighter(ctx, 0)
		for _, res := range p.resources {
			require.LessOrEqual(t, res.used, res.cap+tolerance, "round %d: %s", round, res.name)
		}
		p.solve(ctx, p.all(), noLimit)
		best := p.total()
		require.LessOrEqual(t, after, before)
		require.LessOrEqual(t, bound, best, "round %d", round)
		require.GreaterOrEqual(t, bound, loose-1) // a cent for rounding
		if bound == best {
			proved++
		}
		if loose == best {
			loosely++
		}
		if after < before {
			better++
		}
	}
	assert.Greater(t, proved, seasons*3/4)
	assert.Less(t, loosely, seasons/2)
	assert.Positive(t, better)
}

// Twelve ride on two dear trips, and all would find room on one: no five of them can leave a trip so that it need not go.
func TestATripIsGivenUp(t *testing.T) {
	in := In{
		Weeks: 4, BenchMinutes: []float64{0, 0, 0, 0}, Trips: []Trip{{1, 12, 5000}, {2, 12, 5000}}, Budget: []Budget{},
		Loaners:    map[string]int{},
		Iterations: 200,
	}
	for n := range 12 {
		j := quiet(fmt.Sprint(n), Van)
		j.Minutes, j.Opens, j.Due, j.LateCentsPerWeek = 0, 1, 1+n/6, 1000
		in.Jobs = append(in.Jobs, j)
	}
	p := newProblem(in)
	p.greedy()
	for n := range in.Jobs {
		p.take(n, nil)
		p.take(n, &p.options[n][0]) // each in its week
	}
	require.Equal(t, int64(10_000), p.total())
	p.improve(ctx, 1, 0)
	require.Equal(t, int64(10_000), p.total(), "without improvements it stays")
	p.reroute(ctx)
	assert.Equal(t, Parts{Early: 60, Trips: 5000}, p.parts())
	out, err := Plan(ctx, in)
	require.NoError(t, err)
	assert.Equal(t, int64(5060), out.TotalCents)
	assert.Equal(t, out.TotalCents, out.LowerBoundCents)
}
