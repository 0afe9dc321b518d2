package fit

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"solfeggio/internal/core/day"
)

func TestCover(t *testing.T) {
	wants := []Want{{"violin", "3/4", 100}, {"violin", "3/4", 10}, {"violin", "1/2", 40}, {"cello", "3/4", 100}}
	spares := []Spare{{"violin", "3/4", 1, 0}, {"violin", "3/4", 5, 30}, {"violin", "1/2", 41, 0}, {"violin", "3/4", 1, 0}}
	assert.Equal(
		t,
		[]int{0, 1, -1, -1},
		Cover(wants, spares),
		"what goes back soon is used soon, what comes a day late is not, and of two that stay the first",
	)
	assert.Equal(t, []int{}, Cover(nil, spares))
}

// Against trying every way to give spares to wants: as many are covered, none twice, each of the size and there on the day.
func TestCoverIsAsFullAsCanBe(t *testing.T) {
	sizes := rapid.SampledFrom([]string{"1/2", "3/4"})
	rapid.Check(t, func(t *rapid.T) {
		wants := rapid.SliceOfN(rapid.Custom(func(t *rapid.T) Want {
			return Want{Size: sizes.Draw(t, "size"), On: dayOf(t, 0, 8)}
		}), 0, 6).Draw(t, "wants")
		spares := rapid.SliceOfN(rapid.Custom(func(t *rapid.T) Spare {
			s := Spare{Size: sizes.Draw(t, "size"), From: dayOf(t, 0, 8)}
			if rapid.Bool().Draw(t, "ends") {
				s.Until = s.From + dayOf(t, 1, 4)
			}
			return s
		}), 0, 6).Draw(t, "spares")
		serves := func(w Want, s Spare) bool {
			return w.Size == s.Size && s.From <= w.On && (s.Until == 0 || w.On <= s.Until)
		}
		used := make([]bool, len(spares))
		var most func(w int) int
		most = func(w int) int {
			if w == len(wants) {
				return 0
			}
			best := most(w + 1)
			for n, s := range spares {
				if !used[n] && serves(wants[w], s) {
					used[n] = true
					best = max(best, 1+most(w+1))
					used[n] = false
				}
			}
			return best
		}
		got, seen := 0, map[int]bool{}
		for w, n := range Cover(wants, spares) {
			if n < 0 {
				continue
			}
			if seen[n] || !serves(wants[w], spares[n]) {
				t.Fatalf("want %d got %d", w, n)
			}
			seen[n] = true
			got++
		}
		if want := most(0); got != want {
			t.Fatalf("covered %d of %d", got, want)
		}
	})
}

func dayOf(t *rapid.T, from, to int) day.Day { return day.Day(rapid.IntRange(from, to).Draw(t, "day")) }
