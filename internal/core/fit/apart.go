package fit

import "slices"

// chartOf is which chart fits a kind of the catalogue.
var chartOf = map[string]string{"violin": "violin", "viola": "viola", "cello": "cello", "double-bass": "bass"}

// ChartOf names the chart of a kind of the catalogue; false where sizes are not fitted by one.
func ChartOf(kind string) (chart string, ok bool) {
	chart, ok = chartOf[kind]
	return chart, ok
}

// Apart is by how many sizes of a chart the second is larger than the first; false where the chart does not have both.
func Apart(chart, from, to string) (steps int, ok bool) {
	at := func(size string) int {
		return slices.IndexFunc(Charts[chart].Steps, func(s Step) bool { return s.Size == size })
	}
	a, b := at(from), at(to)
	return b - a, a >= 0 && b >= 0
}

// InHand is the size that fits by the checks made with an instrument of a size in hand, which stand above the chart; false while
// they do not say. Too big goes down at one sign; that it fits takes all of them. Ends of the chart hold.
func InHand(kind, size string, c Checks) (string, bool) {
	steps := Charts[kind].Steps
	at := slices.IndexFunc(steps, func(s Step) bool { return s.Size == size })
	if at < 0 {
		return "", false
	}
	says, complete := c.says(kind)
	switch says {
	case TooBig:
		return steps[max(0, at-1)].Size, true
	case TooSmall:
		return steps[min(len(steps)-1, at+1)].Size, true
	}
	return size, complete
}
