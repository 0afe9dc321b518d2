package habit_test

import (
	"encoding/json"
	"os/exec"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/core/habit"
)

// Intervals of R. G. Newcombe, Two-sided confidence intervals for the single proportion, Statistics in Medicine 17 (1998), table I, the
// score method without continuity correction (figures from memory).
func TestSharesHavePublishedIntervals(t *testing.T) {
	for _, tt := range []struct {
		of, all  int
		from, to float64
	}{{81, 263, 0.2553, 0.3662}, {15, 148, 0.0624, 0.1605}, {0, 20, 0, 0.1611}, {1, 29, 0.0061, 0.1718}} {
		got, err := habit.ShareOf(tt.of, tt.all)
		require.NoError(t, err)
		assert.InDelta(t, tt.from, got.From, 0.00005)
		assert.InDelta(t, tt.to, got.To, 0.00005)
	}
}

// The reference is SciPy's binomtest (Debian's python3-scipy).
func TestSharesAreThoseOfSciPy(t *testing.T) {
	type row struct{ Of, All int }
	var rows []row
	for all := 1; all <= 40; all += 3 {
		for of := 0; of <= all; of++ {
			rows = append(rows, row{of, all})
		}
	}
	in, err := json.Marshal(rows)
	require.NoError(t, err)
	out, err := exec.Command("/usr/bin/python3", "-c", `
import json, sys
from scipy.stats import binomtest
ci = lambda r: binomtest(r["Of"], r["All"]).proportion_ci(method="wilson")
print(json.dumps([list(ci(r)) for r in json.loads(sys.argv[1])]))`, string(in)).Output()
	require.NoError(t, err)
	var want [][2]float64
	require.NoError(t, json.Unmarshal(out, &want))
	for n, r := range rows {
		got, err := habit.ShareOf(r.Of, r.All)
		require.NoError(t, err)
		assert.InDelta(t, want[n][0], got.From, 1e-9, "%+v", r)
		assert.InDelta(t, want[n][1], got.To, 1e-9, "%+v", r)
	}
}

func TestWhatCannotBeAShare(t *testing.T) {
	for _, tt := range [][2]int{{-1, 3}, {4, 3}, {0, -1}} {
		_, err := habit.ShareOf(tt[0], tt[1])
		assert.Error(t, err)
	}
	none, err := habit.ShareOf(0, 0)
	require.NoError(t, err)
	assert.Equal(t, habit.Share{To: 1}, none, "nothing counted says nothing")
}

func TestTheDearestHabitThatIsMissedOftenComesFirst(t *testing.T) {
	list := habit.TeachNext([]habit.Cost{
		{Habit: "known", Found: 3, Cents: 10000, Right: 48},
		{Habit: "missed", Found: 2, Cents: 8000, Right: 2, Wrong: 6},
		{Habit: "never asked", Found: 1, Cents: 4000},
	})
	var order []string
	for _, l := range list {
		order = append(order, l.Habit)
	}
	assert.Equal(t, []string{"missed", "never asked", "known"}, order)
	assert.InDelta(t, 0.5, list[1].Missed, 1e-12, "nobody knows yet")
	assert.InDelta(t, 0.7*8000, list[0].Worth, 1e-9)
}
