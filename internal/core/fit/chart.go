package fit

import "solfeggio/internal/core/catalog"

// ChartOf names the chart of a kind of the catalogue; false where sizes are not fitted by one.
func ChartOf(kind string) (chart string, ok bool) {
	if k, known := catalog.Embedded().Kind(kind); known {
		return k.SizeChart, k.SizeChart != ""
	}
	return "", false
}

// Difference is by how many sizes of a chart the second is larger than the first; false where the chart does not have both.
func Difference(chart, from, to string) (steps int, ok bool) {
	c, ok := chartNamed(chart)
	if !ok {
		return 0, false
	}
	a, b := c.At(from), c.At(to)
	return b - a, a >= 0 && b >= 0
}

// InHand is the size that fits by the checks made with an instrument of a size in hand, which stand above the chart; false while
// they do not say. Too big goes down at one sign; that it fits takes all of them. Ends of the chart hold.
func InHand(kind, size string, c Checks) (string, bool) {
	chart, ok := chartNamed(kind)
	if !ok || chart.At(size) < 0 {
		return "", false
	}
	at, steps := chart.At(size), chart.Steps
	says, complete := c.says(kind)
	switch says {
	case TooBig:
		return steps[max(0, at-1)].Size, true
	case TooSmall:
		return steps[min(len(steps)-1, at+1)].Size, true
	}
	return size, complete
}
