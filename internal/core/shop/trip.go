package shop

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"solfeggio/internal/core/day"
)

// A Load is an instrument on a trip.
type Load struct {
	Tag    string
	Places int
	Shop   string
	Soft   bool // its case gives way, so nothing lies on it
}

// LoadingOrder brings what rides along into the order in which it is loaded: what is left at the last shop first, so that it lies
// deepest; of one shop the largest first and what gives way last, so that it lies on top and by itself (common practice, no source).
func LoadingOrder(loads []Load, shops []string) []Load {
	list := slices.Clone(loads)
	slices.SortStableFunc(list, func(a, b Load) int {
		return cmp.Or(
			slices.Index(shops, b.Shop)-slices.Index(shops, a.Shop),
			order(a.Soft)-order(b.Soft),
			b.Places-a.Places,
			strings.Compare(a.Tag, b.Tag),
		)
	})
	return list
}

func order(soft bool) int {
	if soft {
		return 1
	}
	return 0
}

// PlacesTaken is how many places of a van are taken.
func PlacesTaken(loads []Load) (n int) {
	for _, l := range loads {
		n += l.Places
	}
	return n
}

// OpenOn says why a shop that works on some weekdays cannot be driven to on a day; nil when it can. A shop of which no weekday is known
// is open on any.
func OpenOn(name string, weekdays []int, on day.Day) error {
	if len(weekdays) == 0 || slices.Contains(weekdays, int(on.Weekday())) {
		return nil
	}
	return fmt.Errorf("%s is closed on %s", name, on.Words())
}
