package assign

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestSolveRanked(t *testing.T) {
	x := Forbidden
	for name, c := range map[string]struct {
		ranks []int
		cols  int
		cost  []float64
		want  [][2]int
	}{
		"nobody":                   {nil, 3, nil, [][2]int{}},
		"nothing":                  {[]int{1, 2}, 0, nil, [][2]int{}},
		"one for two":              {[]int{2, 1}, 1, []float64{0, 9}, [][2]int{{1, 0}}},
		"the first takes another":  {[]int{1, 2}, 2, []float64{1, 5, 1, x}, [][2]int{{0, 1}, {1, 0}}},
		"the first is not pushed":  {[]int{1, 2, 2}, 2, []float64{9, x, 0, 0, 0, 0}, [][2]int{{0, 0}, {1, 1}}},
		"equal ranks are a match":  {[]int{1, 1}, 2, []float64{1, 2, 1, 9}, [][2]int{{0, 1}, {1, 0}}},
		"who cannot have anything": {[]int{1, 2}, 1, []float64{x, 4}, [][2]int{{1, 0}}},
	} {
		assert.Equal(t, c.want, SolveRanked(c.ranks, c.cols, c.cost).Pairs, name)
	}
}

// Against every way to give columns to rows, at every size up to five: first as many as can be of each rank, then the least total.
func TestSolveRankedAgainstEveryWay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		rows, cols := rapid.IntRange(0, 5).Draw(t, "rows"), rapid.IntRange(0, 5).Draw(t, "cols")
		ranks, cost := make([]int, rows), make([]float64, rows*cols)
		for i := range ranks {
			ranks[i] = rapid.IntRange(0, 2).Draw(t, "rank")
		}
		for n := range cost {
			cost[n] = float64(rapid.IntRange(0, 9).Draw(t, "cost"))
			if rapid.IntRange(0, 2).Draw(t, "not") == 0 {
				cost[n] = Forbidden
			}
		}
		worth := func(pairs [][2]int) []float64 { // larger is better
			w := make([]float64, 4)
			for _, p := range pairs {
				w[ranks[p[0]]]++
				w[3] -= cost[p[0]*cols+p[1]]
			}
			return w
		}
		best := []float64{-1, 0, 0, math.Inf(-1)}
		var every func(i int, taken []bool, pairs [][2]int)
		every = func(i int, taken []bool, pairs [][2]int) {
			if i == rows {
				if w := worth(pairs); slices.Compare(w, best) > 0 {
					best = w
				}
				return
			}
			every(i+1, taken, pairs)
			for j := range cols {
				if !taken[j] && cost[i*cols+j] != Forbidden {
					taken[j] = true
					every(i+1, taken, append(slices.Clone(pairs), [2]int{i, j}))
					taken[j] = false
				}
			}
		}
		every(0, make([]bool, cols), nil)
		got := SolveRanked(ranks, cols, cost)
		assert.Equal(t, best, worth(got.Pairs))
		assert.Len(t, got.UnmatchedRows, rows-len(got.Pairs))
		assert.Len(t, got.UnmatchedCols, cols-len(got.Pairs))
	})
}

// At every size, lopsided ones too, as many as can be get a column and the first ranks before the others.
func TestSolveRankedAtEverySize(t *testing.T) {
	for _, rows := range []int{0, 1, 2, 5, 6, 7, 12, 20, 600, 5000} {
		for _, cols := range []int{0, 1, 2, 5, 6, 7, 12, 20, 600} {
			ranks, cost := make([]int, rows), make([]float64, rows*cols)
			for i := range ranks {
				ranks[i] = i % 3
			}
			for n := range cost {
				cost[n] = float64(n * 7 % 11)
			}
			got := SolveRanked(ranks, cols, cost)
			assert.Len(t, got.Pairs, min(rows, cols), "%d × %d", rows, cols)
			assert.Len(t, got.UnmatchedRows, rows-len(got.Pairs))
			first := 0
			for _, p := range got.Pairs {
				if ranks[p[0]] == 0 {
					first++
				}
			}
			assert.Equal(t, min((rows+2)/3, cols), first, "%d × %d", rows, cols)
		}
	}
}
