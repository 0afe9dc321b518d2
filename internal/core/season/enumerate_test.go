package season

import (
	"context"
	"fmt"
	"math/rand/v2"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// short is a season of sixty weeks in which one thing is short: where plans are hardest to prove the best.
func short(kind string, r *rand.Rand, jobs int) In {
	const weeks = 60
	in := In{Weeks: weeks, Loaners: map[string]int{"violin": 1}, Budget: []Budget{}, Trips: []Trip{}}
	for w := range weeks {
		minutes := 0.
		switch {
		case kind == "alike":
			minutes = 45
		case kind == "bench":
			minutes = float64(20 + r.IntN(20))
		case kind == "money":
			minutes = 300
			if w%3 == 0 && w+4 < weeks {
				in.Budget = append(in.Budget, Budget{w, w + 4, int64(300 + r.IntN(500))})
			}
		case kind == "trips":
			in.Trips = append(in.Trips, Trip{w, 2 + r.IntN(8), int64(200 + r.IntN(3000))})
		}
		in.BenchMinutes = append(in.BenchMinutes, minutes)
	}
	for n := range jobs {
		j := Job{
			ID: fmt.Sprint("j", n), Place: Bench, Due: r.IntN(weeks), Last: weeks - 1, Minutes: float64(7 + r.IntN(31)), WeeksOut: 1 + r.IntN(3),
			LateCentsPerWeek: int64(50 + r.IntN(300)), EarlyCentsPerWeek: int64(r.IntN(60)), BlockedWeeks: []int{},
			AbsentCentsPerWeek: make([]int64, weeks),
		}
		switch kind {
		case "alike":
			j.Minutes, j.Due, j.LateCentsPerWeek, j.EarlyCentsPerWeek, j.WeeksOut = 30, 10, 100, 20, 1
		case "money":
			j.CostCents = int64(100 + r.IntN(300))
		case "trips":
			violin := "violin"
			j.Place, j.Minutes, j.Loaner = Van, 0, &violin
		}
		for w := range weeks {
			if kind != "alike" {
				j.AbsentCentsPerWeek[w] = int64(r.IntN(400))
			}
		}
		in.Jobs = append(in.Jobs, j)
	}
	return in
}

// Up to twelve jobs over sixty weeks the plan is the best there is, and is known to be.
func TestUpToTwelveJobsTheBestPlanIsFound(t *testing.T) {
	for _, kind := range []string{"alike", "bench", "money", "trips"} {
		for _, jobs := range []int{0, 1, 2, 5, 6, 7, 12} {
			for seed := range uint64(3) {
				in := short(kind, rand.New(rand.NewPCG(seed, 3)), jobs)
				out, err := Plan(ctx, in)
				require.NoError(t, err)
				assert.Equal(t, cost(t, in, out), out.TotalCents)
				assert.Equal(t, out.TotalCents, out.LowerBoundCents, "%s, %d jobs, seed %d", kind, jobs, seed)
				assert.False(t, out.Cut)
			}
		}
	}
}

// An ending is a context that has ended once it was asked so often.
type ending struct {
	context.Context
	after *atomic.Int64
}

func (e ending) Err() error {
	if e.after.Add(-1) < 0 {
		return context.Canceled
	}
	return nil
}

// Whenever ctx ends, the best plan so far comes, with its bound, and says that it was cut. The walks side by side ask it too, so that the
// step at which it ends is about the one meant.
func TestAPlanThatIsCutIsAPlan(t *testing.T) {
	for _, jobs := range []int{0, 1, 6, 12, 13, 40, 150} {
		in := drawn(rand.New(rand.NewPCG(9, uint64(jobs))), jobs, 20)
		in.Iterations = Iterations(jobs)
		whole, err := Plan(ctx, in)
		require.NoError(t, err)
		for after := 0; ; after = 2*after + 1 {
			var left atomic.Int64
			left.Store(int64(after))
			out, err := Plan(ending{ctx, &left}, in)
			require.NoError(t, err)
			assert.Equal(t, cost(t, in, out), out.TotalCents)
			assert.LessOrEqual(t, out.LowerBoundCents, whole.TotalCents, "%d jobs, cut after %d", jobs, after)
			if !out.Cut {
				assert.Equal(t, whole, out)
				break
			}
		}
	}
}

// A plan that is carried over keeps every rule, and is the plan itself where nothing has changed.
func TestAPlanIsCarriedOver(t *testing.T) {
	all := func(int) bool { return true }
	for _, jobs := range []int{0, 1, 7, 60} {
		in := drawn(rand.New(rand.NewPCG(2, uint64(jobs))), jobs, 20)
		whole, err := Plan(ctx, in)
		require.NoError(t, err)
		starts := map[string]Start{}
		for _, p := range whole.Placements {
			starts[p.ID] = Start{p.Week, p.Loaner}
		}
		before := func(id string) (Start, bool) { s, known := starts[id]; return s, known }
		again, _, err := Carry(in, before, all)
		require.NoError(t, err)
		assert.Equal(t, whole.Placements, again.Placements)
		assert.Equal(t, whole.TotalCents, again.TotalCents)
		assert.LessOrEqual(t, again.LowerBoundCents, whole.LowerBoundCents)
		for w := range in.BenchMinutes {
			in.BenchMinutes[w] = float64(int(in.BenchMinutes[w]) / 2)
		}
		less, _, err := Carry(in, before, all)
		require.NoError(t, err)
		assert.Equal(t, cost(t, in, less), less.TotalCents)
		nothing, _, err := Carry(in, func(string) (Start, bool) { return Start{}, false }, all)
		require.NoError(t, err)
		assert.Equal(t, cost(t, in, nothing), nothing.TotalCents)
	}
}
