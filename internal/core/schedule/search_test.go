package schedule

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// In how many ways blocks can be taken, by hand: three of one job and two of another make 5!/(3!·2!) = 10.
func TestSequences(t *testing.T) {
	of := func(blocks ...int) *model {
		m := &model{}
		for _, n := range blocks {
			m.jobs = append(m.jobs, job{blocks: make([]block, n), steps: make([]work, 1)})
		}
		return m
	}
	for _, tt := range []struct{ got, want int }{
		{of(3, 2).sequences(), 10}, {of(1, 1, 1).sequences(), 6}, {of(4).sequences(), 1}, {of().sequences(), 1},
		{of(9, 9, 9).sequences(), fewSequences + 1},
	} {
		assert.Equal(t, tt.want, tt.got)
	}
}

// However an order is changed, it names each job as often as it has blocks.
func TestAChangedOrderKeepsItsBlocks(t *testing.T) {
	in := In{People: 2, Stations: map[string]int{"sink": 1}}
	for n := range 12 {
		in.Instruments = append(in.Instruments, Job{ID: fmt.Sprint(n), Steps: []Step{
			{
				Name:          "wash",
				ActiveMinutes: 3 + n%4,
				Station:       "sink",
			}, {Name: "dry", WaitMinutes: 25}, {Name: "put together", ActiveMinutes: 5},
		}})
	}
	m := newModel(in)
	g := newGenerator(context.Background(), m)
	_, order, err := m.sensible(g)
	require.NoError(t, err)
	want := slices.Sorted(slices.Values(order))
	random := rand.New(rand.NewPCG(7, 7))
	for range 300 {
		order = m.changed(order, random)
		require.Equal(t, want, slices.Sorted(slices.Values(order)))
	}
}

// Putting everything late and early again never makes a schedule worse, and it stays one.
func TestTighteningNeverHarms(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := drawn(t, 8, 4, 6)
		in.DeadlineMinutes = nil
		m := newModel(in)
		if len(m.jobs) == 0 {
			return
		}
		g := newGenerator(context.Background(), m)
		var order []int
		for j := range m.jobs {
			order = append(order, slices.Repeat([]int{j}, len(m.jobs[j].blocks))...)
		}
		before, ok := g.serial(order)
		require.True(t, ok)
		after, next := g.justified(before, order)
		require.LessOrEqual(t, after.makespan, before.makespan)
		again, ok := g.serial(next)
		require.True(t, ok)
		require.Equal(t, after.starts, again.starts, "the order makes the same schedule again")
		out := Out{MakespanMinutes: after.makespan, Tasks: m.seat(after)}
		fits(t, in, out)
	})
}

// The bound by hand: two people, four steps of 5 minutes after a wait of 10 that nobody needs, and a tail of 3.
func TestTheBound(t *testing.T) {
	step := func(name string, active, wait int) Step {
		return Step{Name: name, ActiveMinutes: active, WaitMinutes: wait}
	}
	in := In{People: 2, Stations: map[string]int{}}
	for _, id := range []string{"a", "b", "c", "d"} {
		in.Instruments = append(in.Instruments, Job{ID: id, Steps: []Step{step("dry", 0, 10), step("wipe", 5, 3)}})
	}
	bound, by := newModel(in).lowerBound()
	assert.Equal(t, []any{23, "people"}, []any{bound, by}, "10 before, 20 for two, 3 after")
	in.Instruments = in.Instruments[:1]
	bound, by = newModel(in).lowerBound()
	assert.Equal(t, []any{18, "instrument"}, []any{bound, by})

	// One sink: the first that comes waits for it 4 minutes, the last has 9 to go; 3 × 6 in between.
	in = In{People: 9, Stations: map[string]int{"sink": 1}}
	for _, id := range []string{"a", "b", "c"} {
		sink := step("rinse", 6, 0)
		sink.Station = "sink"
		in.Instruments = append(in.Instruments, Job{ID: id, Steps: []Step{step("open", 4, 0), sink, step("dry", 0, 9)}})
	}
	bound, by = newModel(in).lowerBound()
	assert.Equal(t, []any{31, "sink"}, []any{bound, by})
	out, err := Plan(context.Background(), in)
	require.NoError(t, err)
	assert.Equal(t, 31, out.MakespanMinutes)
	assert.Equal(t, Busy{"sink", 100 * 18 / 31.}, out.Busy[0])
}

func TestAnEmptyBench(t *testing.T) {
	out, err := Plan(context.Background(), In{People: 1, Stations: map[string]int{}, DeadlineMinutes: new(5)})
	require.NoError(t, err)
	assert.Zero(t, out.MakespanMinutes)
	assert.Empty(t, *out.FinishedByDeadline)
}
