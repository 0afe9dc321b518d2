package assign

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

const no = math.MaxInt

// costs makes a matrix; no is a pair that must not be.
func costs(rows ...[]float64) MatchIn {
	in := MatchIn{Cost: make([][]*float64, len(rows))}
	for i, row := range rows {
		in.Cost[i] = make([]*float64, len(row))
		for j, c := range row {
			if c != no {
				in.Cost[i][j] = &c
			}
		}
	}
	return in
}

func TestMatch(t *testing.T) {
	tests := []struct {
		name  string
		in    MatchIn
		pairs [][2]int
		total float64
		rows  []int
		cols  []int
	}{
		{"nobody", costs(), [][2]int{}, 0, []int{}, []int{}},
		{"no instrument", costs([]float64{}, []float64{}), [][2]int{}, 0, []int{0, 1}, []int{}},
		{"one pair", costs([]float64{7}), [][2]int{{0, 0}}, 7, []int{}, []int{}},
		{"the cheaper crossing", costs([]float64{4, 1}, []float64{2, 3}), [][2]int{{0, 1}, {1, 0}}, 3, []int{}, []int{}},
		{"more pairs before less cost", costs([]float64{1, 100}, []float64{1, no}), [][2]int{{0, 1}, {1, 0}}, 101, []int{}, []int{}},
		{
			"negative costs do not buy out a pair",
			costs([]float64{-50, 100}, []float64{-60, no}),
			[][2]int{{0, 1}, {1, 0}},
			40,
			[]int{},
			[]int{},
		},
		{"a tie goes to the smaller pairs", costs([]float64{1, 1, 1}, []float64{1, 1, 1}), [][2]int{{0, 0}, {1, 1}}, 2, []int{}, []int{2}},
		{"of equal rows the first is matched", costs([]float64{1}, []float64{1}, []float64{1}), [][2]int{{0, 0}}, 1, []int{1, 2}, []int{}},
		{"one that nobody may have", costs([]float64{no, 5}, []float64{no, 4}), [][2]int{{1, 1}}, 4, []int{0}, []int{0}},
		{"all forbidden", costs([]float64{no}, []float64{no}), [][2]int{}, 0, []int{0, 1}, []int{0}},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			got, err := Match(tt.in)
			require.NoError(t, err)
			assert.Equal(t, MatchOut{tt.pairs, tt.total, tt.rows, tt.cols}, got)
		})
	}
}

func TestMatchRefuses(t *testing.T) {
	_, err := Match(costs([]float64{1, 2}, []float64{1}))
	assert.EqualError(t, err, "cost[1]: has 1 entries, and the first row has 2")
	_, err = Match(costs([]float64{1}, []float64{1e12}))
	assert.ErrorContains(t, err, "cost[1][0]: 1e+12 is no cost")
}

// everyPlan finds the best plan by trying all: most pairs, then least cost, then smallest pairs.
func everyPlan(in MatchIn) (best [][2]int, total float64) {
	total = math.Inf(1)
	var walk func(row int, used []bool, pairs [][2]int, sum float64)
	walk = func(row int, used []bool, pairs [][2]int, sum float64) {
		if row == len(in.Cost) {
			better := len(pairs) > len(best) || len(pairs) == len(best) && (sum < total-1e-9 ||
				sum < total+1e-9 && slices.CompareFunc(pairs, best, func(a, b [2]int) int { return slices.Compare(a[:], b[:]) }) < 0)
			if better {
				best, total = slices.Clone(pairs), sum
			}
			return
		}
		for j, c := range in.Cost[row] {
			if c != nil && !used[j] {
				used[j] = true
				walk(row+1, used, append(pairs, [2]int{row, j}), sum+*c)
				used[j] = false
			}
		}
		walk(row+1, used, pairs, sum)
	}
	cols := 0
	if len(in.Cost) > 0 {
		cols = len(in.Cost[0])
	}
	walk(0, make([]bool, cols), nil, 0)
	return best, total
}

// On small matrices with many ties and forbidden pairs the plan is the one that trying all of them finds.
func TestMatchAgainstEveryPlan(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		rows, cols := rapid.IntRange(1, 5).Draw(t, "rows"), rapid.IntRange(1, 5).Draw(t, "cols")
		many := rapid.IntRange(1, 6).Draw(t, "different costs")
		in := MatchIn{Cost: make([][]*float64, rows)}
		for i := range rows {
			in.Cost[i] = make([]*float64, cols)
			for j := range cols {
				if rapid.IntRange(0, 3).Draw(t, "allowed") > 0 {
					c := float64(rapid.IntRange(0, many).Draw(t, "cost"))*0.5 - 1
					in.Cost[i][j] = &c
				}
			}
		}
		want, total := everyPlan(in)
		got, err := Match(in)
		if err != nil {
			t.Fatal(err)
		}
		if len(want) != len(got.Pairs) || len(want) > 0 && (math.Abs(total-got.Total) > 1e-9 || !slices.Equal(want, got.Pairs)) {
			t.Fatalf("got %v for %v, want %v for %v", got.Pairs, got.Total, want, total)
		}
	})
}

func random(rows, cols int, draw func(r *rand.Rand) float64) MatchIn {
	r := rand.New(rand.NewPCG(7, uint64(rows*cols)))
	in := MatchIn{Cost: make([][]*float64, rows)}
	for i := range rows {
		in.Cost[i] = make([]*float64, cols)
		for j := range cols {
			if r.IntN(5) > 0 {
				c := draw(r)
				in.Cost[i][j] = &c
			}
		}
	}
	return in
}

func BenchmarkMatch(b *testing.B) {
	for name, draw := range map[string]func(r *rand.Rand) float64{
		"fractions": func(r *rand.Rand) float64 { return 100 * r.Float64() },
		"ties":      func(r *rand.Rand) float64 { return float64(r.IntN(6)) },
		"steps":     func(r *rand.Rand) float64 { return float64(r.IntN(400)) / 4 },
	} {
		flat := []float64{}
		for _, row := range random(1000, 1000, draw).Cost {
			for _, c := range row {
				if c == nil {
					c = &Forbidden
				}
				flat = append(flat, *c)
			}
		}
		b.Run(name+"/1000x1000", func(b *testing.B) {
			for b.Loop() {
				Solve(1000, 1000, flat)
			}
		})
	}
}
