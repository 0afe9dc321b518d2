package season

import "slices"

// A knapsack finds what is best put into so much room, by dynamic programming over the room. The zero value is empty; emptied it keeps its
// memory.
type knapsack struct {
	sizes  []int
	gains  []float64
	won    []float64 // by room
	taken  []bool    // by what, and by room
	chosen []int
	looked int // cells so far
}

const mostCells = 4_000_000 // of one knapsack; a larger one is left alone

func (k *knapsack) empty() { k.sizes, k.gains = k.sizes[:0], k.gains[:0] }

// put offers something whose gain is below 0, as costs are.
func (k *knapsack) put(size int, gain float64) {
	k.sizes, k.gains = append(k.sizes, size), append(k.gains, gain)
}

// fill says what is won at most, as a sum of gains, and by which of what was put, by its place. It gives up where that is too much to
// reckon with.
func (k *knapsack) fill(room int) (won float64, chosen []int, ok bool) {
	k.chosen = k.chosen[:0]
	needed := 0
	for n, size := range k.sizes {
		k.chosen = append(k.chosen, n)
		needed += size
		won += k.gains[n]
	}
	if needed <= room {
		return won, k.chosen, true
	}
	wide := room + 1
	if len(k.sizes)*wide > mostCells {
		return won, k.chosen, false
	}
	k.looked += len(k.sizes) * wide
	k.won, k.taken = slices.Grow(k.won[:0], wide)[:wide], slices.Grow(k.taken[:0], len(k.sizes)*wide)[:len(k.sizes)*wide]
	clear(k.won)
	clear(k.taken)
	for n, size := range k.sizes {
		gain, taken := k.gains[n], k.taken[n*wide:(n+1)*wide]
		for u := room; u >= size; u-- {
			if with := k.won[u-size] + gain; with < k.won[u] {
				k.won[u], taken[u] = with, true
			}
		}
	}
	k.chosen = k.chosen[:0]
	for n, at := len(k.sizes)-1, room; n >= 0; n-- {
		if k.taken[n*wide+at] {
			k.chosen = append(k.chosen, n)
			at -= k.sizes[n]
		}
	}
	return k.won[room], k.chosen, true
}
