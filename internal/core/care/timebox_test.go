package care

import (
	"context"
	"fmt"
	"math/bits"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestTimeBox(t *testing.T) {
	setups := map[string]float64{"sink": 4, "string bench": 3}
	tasks := []Task{
		{"mouthpieces", 6, 12, "sink"},
		{"E string", 5, 6, "string bench"},
		{"bridge", 4, 3, "string bench"},
		{"tuning cork", 3, 4, ""},
		{"bath", 50, 40, "sink"},
	}
	tests := []struct {
		name     string
		minutes  float64
		helpers  int
		chosen   []string
		value    float64
		used     float64
		next     string
		extra    float64
		noneLeft bool
	}{
		{"no time at all", 0, 3, []string{}, 0, 0, "", 0, true},
		{"ten minutes: a set-up must earn its keep", 10, 0, []string{"bridge", "tuning cork"}, 7, 10, "E string", 6, false},
		{
			"sixteen: both string jobs share one set-up, in one go",
			16,
			0,
			[]string{"E string", "bridge", "tuning cork"},
			12,
			16,
			"mouthpieces",
			16,
			false,
		},
		{
			"a helper doubles the box, but the bath is longer than the bell allows",
			16,
			1,
			[]string{"mouthpieces", "E string", "bridge", "tuning cork"},
			18,
			32,
			"",
			0,
			true,
		},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			got, err := TimeBox(context.Background(), TimeBoxIn{Minutes: tt.minutes, Helpers: tt.helpers, Tasks: tasks, Setups: setups})
			require.NoError(t, err)
			assert.Equal(t, tt.chosen, got.Chosen)
			assert.InDelta(t, tt.value, got.Value, 1e-9)
			assert.InDelta(t, tt.used, got.UsedMinutes, 1e-9)
			assert.True(t, got.Exact)
			if tt.noneLeft {
				assert.Nil(t, got.Next)
				return
			}
			assert.Equal(t, &Next{tt.next, tt.extra}, got.Next)
		})
	}
}

func TestTimeBoxNamesTheFieldItRefuses(t *testing.T) {
	tests := map[string]TimeBoxIn{
		"minutes: ":          {Minutes: -1},
		"helpers: ":          {Helpers: -1},
		"setups.sink: ":      {Setups: map[string]float64{"sink": -1}},
		"tasks[0].id: ":      {Tasks: []Task{{"", 1, 1, ""}}},
		"tasks[1].id: ":      {Tasks: []Task{{"a", 1, 1, ""}, {"a", 1, 1, ""}}},
		"tasks[0].value: ":   {Tasks: []Task{{"a", -1, 1, ""}}},
		"tasks[0].minutes: ": {Tasks: []Task{{"a", 1, 0, ""}}},
		"tasks[0].setup: ":   {Tasks: []Task{{"a", 1, 1, "sink"}}},
	}
	for field, in := range tests {
		_, err := TimeBox(context.Background(), in)
		assert.ErrorContains(t, err, field)
	}
}

func drawBox(t *rapid.T) TimeBoxIn {
	in := TimeBoxIn{
		Minutes: float64(rapid.IntRange(0, 30).Draw(t, "minutes")), Helpers: rapid.IntRange(0, 2).Draw(t, "helpers"),
		Setups: map[string]float64{"sink": float64(rapid.IntRange(0, 6).Draw(t, "sink")), "bench": 2.5},
	}
	for i := range rapid.IntRange(0, 11).Draw(t, "tasks") {
		in.Tasks = append(in.Tasks, Task{
			fmt.Sprint(i), float64(rapid.IntRange(0, 6).Draw(t, "value")), float64(rapid.IntRange(1, 16).Draw(t, "half minutes")) / 2,
			rapid.SampledFrom([]string{"", "sink", "bench"}).Draw(t, "setup"),
		})
	}
	return in
}

// exhaustive tries every set of tasks.
func exhaustive(in TimeBoxIn) (value, minutes float64, set []int) {
	capacity := in.Minutes * float64(1+in.Helpers)
	for mask := range 1 << len(in.Tasks) {
		v, m, paid, indices, fits := 0.0, 0.0, map[string]bool{}, []int{}, true
		for i, t := range in.Tasks {
			if mask&(1<<i) == 0 {
				continue
			}
			fits = fits && t.Minutes <= in.Minutes
			if !paid[t.Setup] {
				m += in.Setups[t.Setup]
				paid[t.Setup] = true
			}
			v, m, indices = v+t.Value, m+t.Minutes, append(indices, i)
		}
		better := v > value || v == value && (m < minutes || m == minutes && slices.Compare(indices, set) < 0)
		if fits && m <= capacity && (better || bits.OnesCount(uint(mask)) == 0) {
			value, minutes, set = v, m, indices
		}
	}
	return value, minutes, set
}

func TestTimeBoxAgainstExhaustiveSearch(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := drawBox(t)
		got, err := TimeBox(context.Background(), in)
		require.NoError(t, err)
		value, minutes, set := exhaustive(in)
		want := []string{}
		for _, i := range set {
			want = append(want, in.Tasks[i].ID)
		}
		assert.Equal(t, value, got.Value)
		assert.Equal(t, minutes, got.UsedMinutes)
		assert.ElementsMatch(t, want, got.Chosen)

		// Tasks that share a set-up stand next to each other.
		setup := map[string]string{}
		for _, task := range in.Tasks {
			setup[task.ID] = task.Setup
		}
		seen := map[string]bool{}
		for i, id := range got.Chosen {
			if s := setup[id]; s != "" && (i == 0 || setup[got.Chosen[i-1]] != s) {
				assert.False(t, seen[s], "%s is set up twice in %v", s, got.Chosen)
				seen[s] = true
			}
		}
	})
}

func TestTimeBoxStaysWithinItsMeansOnUnlikeFractions(t *testing.T) {
	in := TimeBoxIn{Minutes: 400, Setups: map[string]float64{}}
	for i := range 60 {
		m := 10 + float64(i*i%97)/97*7.3333
		in.Tasks = append(in.Tasks, Task{fmt.Sprint(i), m, m, ""})
	}
	got, err := TimeBox(context.Background(), in)
	require.NoError(t, err)
	assert.LessOrEqual(t, got.UsedMinutes, 400.0)
	assert.Greater(t, got.Value, 399.9, "worth a minute each, so the box can be filled all but exactly")
}

// A box takes what can matter of any number of tasks, and says how near to the best that is sure to be.
func TestAnyNumberOfTasks(t *testing.T) {
	in := TimeBoxIn{Minutes: 1440, Helpers: 3, Setups: map[string]float64{"sink": 5}}
	for n := range 60_000 {
		in.Tasks = append(
			in.Tasks,
			Task{
				ID:      fmt.Sprint(n),
				Value:   float64(n*7919%1000) + 1,
				Minutes: 1 + float64(n*104729%6000)/200,
				Setup:   []string{"", "sink"}[n%2],
			},
		)
	}
	out, err := TimeBox(context.Background(), in)
	require.NoError(t, err)
	assert.False(t, out.Exact)
	assert.GreaterOrEqual(t, out.AtMost, out.Value)
	assert.Less(t, out.AtMost, out.Value*1.01, "the bound is near")
	in.Tasks = in.Tasks[:20]
	out, err = TimeBox(context.Background(), in)
	require.NoError(t, err)
	assert.True(t, out.Exact)
	assert.InDelta(t, out.Value, out.AtMost, 1e-9)
}

// A search that nobody waits for ends, at any step, with a plan that fits and is not called exact.
func TestASearchThatIsCutIsAPlan(t *testing.T) {
	in := TimeBoxIn{Minutes: 30, Setups: map[string]float64{"sink": 3}}
	for n := range 20 {
		in.Tasks = append(in.Tasks, Task{ID: fmt.Sprint(n), Value: float64(3 + n%7), Minutes: 2 + float64(n%5)})
	}
	whole, err := TimeBox(context.Background(), in)
	require.NoError(t, err)
	for after := range 21 {
		left := after
		out, err := TimeBox(ending{context.Background(), &left}, in)
		require.NoError(t, err)
		assert.LessOrEqual(t, out.UsedMinutes, in.Minutes)
		assert.LessOrEqual(t, out.Value, whole.Value)
		assert.GreaterOrEqual(t, out.AtMost, whole.Value)
		assert.Equal(t, after >= 20, out.Exact, "cut after %d", after)
	}
}

// An ending is a context that has ended once it was asked so often.
type ending struct {
	context.Context
	left *int
}

func (e ending) Err() error {
	if *e.left--; *e.left < 0 {
		return context.Canceled
	}
	return nil
}
