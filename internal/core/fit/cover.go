package fit

import (
	"cmp"
	"slices"

	"solfeggio/internal/core/day"
)

// TurnoverDays pass before an instrument that came back goes out again (our own reading; the bench takes an hour or two, finding the
// time for it takes days).
const TurnoverDays = 7

// A Want is a player who will need an instrument of a size.
type Want struct {
	Kind, Size string
	On         day.Day
}

// A Spare is an instrument that can go to somebody between two days, both included. Until zero is for ever.
type Spare struct {
	Kind, Size  string
	From, Until day.Day
}

// Cover gives each want a spare of its kind and size that is there on its day, as many of them as can be: for each want the index of its
// spare, or -1. What is not covered has to be rented or bought.
//
// Of the spares that are there it takes the one that goes away first, which covers the most (F. Glover, Maximum matching in a
// convex bipartite graph, 1967; cited from memory), and among equals the one that comes first in the list.
func Cover(wants []Want, spares []Spare) []int {
	soonest := make([]int, len(wants))
	for n := range soonest {
		soonest[n] = n
	}
	slices.SortStableFunc(soonest, func(x, y int) int { return cmp.Compare(wants[x].On, wants[y].On) })
	covered := slices.Repeat([]int{-1}, len(wants))
	taken := make([]bool, len(spares))
	for _, w := range soonest {
		best := -1
		for n, s := range spares {
			if taken[n] || s.Kind != wants[w].Kind || s.Size != wants[w].Size || s.From > wants[w].On ||
				!s.Until.IsZero() && s.Until < wants[w].On {
				continue
			}
			if best < 0 || goesBefore(s, spares[best]) {
				best = n
			}
		}
		if best >= 0 {
			covered[w], taken[best] = best, true
		}
	}
	return covered
}

func goesBefore(a, b Spare) bool {
	return !a.Until.IsZero() && (b.Until.IsZero() || a.Until < b.Until)
}
