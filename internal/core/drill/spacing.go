package drill

import (
	"cmp"
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

// After is the box of a question after an answer on a day: one further when it was right, the first when it was wrong, to come again as
// soon as others were asked.
func (b Known) After(right bool, on day.Day) Known {
	if !right {
		return Known{1, on}
	}
	number := min(max(b.Number, 0)+1, len(intervals))
	return Known{number, on + intervals[number-1]}
}

// Next chooses the question that comes on a day: first what came due since an earlier day, of that what is known least, then what was
// never asked, then what was wrong on the same day. Last is the one asked just now, which does not come twice in a row where another may.
// It reports false when all are known for the day.
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
	turn := func(q Exercise) int {
		switch b := boxes[q.ID]; {
		case q.ID == last:
			return 3
		case b.Number == 0:
			return 1
		case b.Due == on && b.Number == 1:
			return 2
		}
		return 0
	}
	return slices.MinFunc(open, func(x, y Exercise) int {
		a, b := boxes[x.ID], boxes[y.ID]
		return cmp.Or(turn(x)-turn(y), a.Number-b.Number, int(a.Due-b.Due))
	}), true
}

// mostOf a class must be right for a question to count as known to it: three quarters, our own rule.
const mostOf = 0.75

// ClassKnows reports whether so many right and wrong answers of a class count as right.
func ClassKnows(right, wrong int) bool { return float64(right) >= mostOf*float64(right+wrong) }
