package season

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// What is put in fits, is worth what is said, and of all ways to fill the room none wins more.
func TestKnapsack(t *testing.T) {
	k := &knapsack{} // one for all, as it is used
	rapid.Check(t, func(t *rapid.T) {
		count, room := rapid.IntRange(0, 9).Draw(t, "count"), rapid.IntRange(0, 30).Draw(t, "room")
		k.empty()
		sizes, gains := make([]int, count), make([]float64, count)
		for n := range count {
			sizes[n], gains[n] = rapid.IntRange(1, 15).Draw(t, "size"), -float64(rapid.IntRange(1, 20).Draw(t, "gain"))
			k.put(sizes[n], gains[n])
		}
		sum := func(with func(n int) bool) (size int, gain float64) {
			for n := range count {
				if with(n) {
					size, gain = size+sizes[n], gain+gains[n]
				}
			}
			return size, gain
		}
		best := 0.
		for set := range 1 << count {
			if size, gain := sum(func(n int) bool { return set&(1<<n) != 0 }); size <= room {
				best = math.Min(best, gain)
			}
		}
		won, chosen, ok := k.fill(room)
		is := map[int]bool{}
		for _, n := range chosen {
			assert.False(t, is[n], "put in twice")
			is[n] = true
		}
		size, gain := sum(func(n int) bool { return is[n] })
		assert.True(t, ok)
		assert.LessOrEqual(t, size, room)
		assert.Equal(t, best, won)
		assert.Equal(t, best, gain)
	})
}

func TestKnapsackGivesUp(t *testing.T) {
	k := &knapsack{}
	for range 5 {
		k.put(mostCells, -1)
	}
	won, _, ok := k.fill(mostCells)
	assert.False(t, ok)
	assert.Equal(t, -5., won, "what a bound may take to fit")
}
