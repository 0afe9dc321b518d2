package formats

import (
	"maps"
	"slices"
	"strings"

	"solfeggio/internal/core/spelling"
)

// nameColumns settles which column of the file is which of ours: what a person said, then what is remembered or has our name, then
// what people call it. Each of ours is taken once.
func (r *reader) nameColumns() {
	said := map[string]string{}
	for _, theirs := range slices.Sorted(maps.Keys(r.in.Columns)) {
		ours := r.in.Columns[theirs]
		theirs = strings.ToLower(strings.Join(strings.Fields(theirs), " "))
		here := slices.ContainsFunc(r.as.Columns, func(c ReadColumn) bool { return c.Theirs == theirs })
		_, known := r.typeOf(ours)
		switch {
		case !here:
			r.fault(theirs, "", "is not in the header")
		case ours != "" && !known:
			r.fault(theirs, ours, "is no column that is known; there are "+r.listed())
		case ours != "" && slices.Contains(slices.Collect(maps.Values(said)), ours):
			r.fault(theirs, ours, "is taken from another column already")
		default:
			said[theirs] = ours
		}
	}
	taken := map[string]bool{}
	for _, ours := range said {
		taken[ours] = true
	}
	take := func(guess func(theirs string) string) {
		for n := range r.as.Columns {
			c := &r.as.Columns[n]
			if _, done := said[c.Theirs]; done || c.Ours != "" {
				continue
			}
			if ours := guess(c.Theirs); ours != "" && !taken[ours] {
				c.Ours, taken[ours] = ours, true
			}
		}
	}
	for n := range r.as.Columns {
		r.as.Columns[n].Ours = said[r.as.Columns[n].Theirs]
	}
	take(func(theirs string) string { return r.remembered[theirs] })
	take(func(theirs string) string {
		if _, ok := r.typeOf(theirs); ok && !r.leftOut(theirs) {
			return theirs
		}
		return ""
	})
	take(func(theirs string) string {
		if r.leftOut(theirs) {
			return ""
		}
		return r.names[spelling.Fold(theirs)]
	})
	for _, ours := range slices.Sorted(maps.Keys(r.known.Fits)) {
		if !taken[ours] {
			r.findByWhatStandsThere(ours)
		}
	}
}

// findByWhatStandsThere takes the column in which most texts fit ours, if that are half of its first hundred, two at least.
func (r *reader) findByWhatStandsThere(ours string) {
	best, at := 0, -1
	for n := range r.as.Columns {
		c := &r.as.Columns[n]
		if _, said := r.in.Columns[c.Theirs]; said || c.Ours != "" || r.leftOut(c.Theirs) {
			continue
		}
		filled, fit := 0, 0
		for _, l := range r.grid.lines[r.header+1:] {
			if n < len(l.cells) && l.cells[n].text != "" && filled < 100 {
				filled++
				if r.known.Fits[ours](l.cells[n].text) {
					fit++
				}
			}
		}
		if fit > max(best, 1) && 2*fit >= filled {
			best, at = fit, n
		}
	}
	if at >= 0 {
		r.as.Columns[at].Ours = ours
	}
}

// leftOut reports whether a column was not read the last time, because somebody said so.
func (r *reader) leftOut(theirs string) bool {
	ours, said := r.remembered[theirs]
	return said && ours == ""
}

func (r *reader) listed() string {
	var names []string
	for _, c := range r.known.Known {
		names = append(names, c.Name)
	}
	return strings.Join(names, ", ")
}
