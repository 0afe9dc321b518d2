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
