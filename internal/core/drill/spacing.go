package drill

import (
	"slices"

	"solfeggio/internal/core/day"
)

// intervals are the days after which a question of a box comes again: the boxes of S. Leitner, So lernt man lernen (1972); that each
// box waits twice as long as the one before is common practice, no source.
var intervals = []day.Day{1, 2, 4, 8, 16}

// Known is how well a question is known. The zero value is a question that was never asked.
type Known struct {
	Number int     `json:"number" minimum:"0" maximum:"5" doc:"0 for never asked"`
	Due    day.Day `json:"due" doc:"When it comes again"`
}

// After is the box of a question after an answer on a day: one further when it was right, the first when it was wrong, to come again the
// same day.
func (b Known) After(right bool, on day.Day) Known {
	if !right {
		return Known{1, on}
	}
	number := min(max(b.Number, 0)+1, len(intervals))
	return Known{number, on + intervals[number-1]}
}

// Next chooses the question that comes on a day, among those that are due and those never asked: what was wrong comes first, then
// what has waited longest, then what is new. Last is the one asked just now, which does not come twice in a row where another may. It
// reports false when all are known for today.
func Next(questions []Exercise, boxes map[string]Known, on day.Day, last string) (Exercise, bool) {
	var open []Exercise
	for _, q := range questions {
		if b := boxes[q.ID]; b.Number == 0 || b.Due <= on {
			open = append(open, q)
		}
	}
	if len(open) == 0 {
		return Exercise{}, false
	}
	slices.SortStableFunc(open, func(x, y Exercise) int {
		a, b := boxes[x.ID], boxes[y.ID]
		if (x.ID == last) != (y.ID == last) {
			return map[bool]int{true: 1, false: -1}[x.ID == last]
		}
		if (a.Number == 0) != (b.Number == 0) {
			return map[bool]int{true: 1, false: -1}[a.Number == 0]
		}
		if a.Number != b.Number {
			return a.Number - b.Number
		}
		return int(a.Due - b.Due)
	})
	return open[0], true
}
