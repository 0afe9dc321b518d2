package care

import (
	"cmp"
	"math"
	"slices"
	"sort"
)

// A remainder is the tasks that were not tried yet, to tell how much a plan could still gain.
type remainder struct {
	capacity float64
	best     float64 // value of the best plan known
	tasks    []Task  // by value for their minutes, the best first
	number   []int   // of the candidate
	minutes  []float64
	values   []float64 // added up from the front, as minutes are; both begin with 0
}

// remainder begins with all candidates, and knows the plan that takes them in the order of their value for their minutes.
func (b *box) remainder(candidates []int) *remainder {
	r := &remainder{capacity: b.capacity}
	for n := range candidates {
		r.number = append(r.number, n)
	}
	density := func(n int) float64 { t := b.Tasks[candidates[n]]; return t.Value / t.Minutes }
	slices.SortStableFunc(r.number, func(x, y int) int { return cmp.Compare(density(y), density(x)) })
	paid, used := map[string]bool{"": true}, 0.
	for _, n := range r.number {
		t := b.Tasks[candidates[n]]
		r.tasks = append(r.tasks, t)
		need := t.Minutes
		if !paid[t.Setup] {
			need += b.Setups[t.Setup]
		}
		if used+need <= b.capacity {
			paid[t.Setup] = true
			used += need
			r.best += t.Value
		}
	}
	r.addUp()
	return r
}

// drop takes a candidate out, because it is tried now.
func (r *remainder) drop(n int) {
	at := slices.Index(r.number, n)
	r.number, r.tasks = slices.Delete(r.number, at, at+1), slices.Delete(r.tasks, at, at+1)
	r.addUp()
}

func (r *remainder) addUp() {
	r.minutes, r.values = append(r.minutes[:0], 0), append(r.values[:0], 0)
	for n, t := range r.tasks {
		r.minutes, r.values = append(r.minutes, r.minutes[n]+t.Minutes), append(r.values, r.values[n]+t.Value)
	}
}

// reaches reports whether a plan of so many minutes and such a value may still come up to the best one, or is as good: the rest of
// the time is filled with the best tasks left, the last of them cut to measure, and no set-up paid.
func (r *remainder) reaches(minutes, value float64) bool {
	r.best = math.Max(r.best, value)
	return r.most(minutes, value) >= r.best*(1-1e-12)-tolerance
}

// most is what such a plan can come to at most.
func (r *remainder) most(minutes, value float64) float64 {
	room := r.capacity - minutes
	whole := sort.Search(len(r.tasks), func(n int) bool { return r.minutes[n+1] > room })
	value += r.values[whole]
	if whole < len(r.tasks) && room > r.minutes[whole] {
		value += (room - r.minutes[whole]) / r.tasks[whole].Minutes * r.tasks[whole].Value
	}
	return value
}
