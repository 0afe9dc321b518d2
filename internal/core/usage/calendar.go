package usage

import (
	"sort"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/field"
)

// A Calendar knows which days of a stretch of time are break days and counts the others quickly.
//
// It is made once for a school and shared by all its instruments: it holds, for each day, how many non-break
// Mondays, Tuesdays … lie before it, so that any span is counted with one subtraction a weekday.
type Calendar struct {
	span day.Span
	// open[i] counts the non-break days among the first i days of span: [0] all of them, [1]…[7] by weekday.
	open [][8]int32
}

// NewCalendar counts the days of span; breaks may overlap each other and lie outside it.
func NewCalendar(span day.Span, breaks []day.Span) *Calendar {
	n := span.Days()
	closed := make([]bool, n)
	for _, b := range breaks {
		in := b.Clip(span)
		for d := in.From; d <= in.To; d++ {
			closed[d-span.From] = true
		}
	}
	c := &Calendar{span: span, open: make([][8]int32, n+1)}
	for i := range n {
		c.open[i+1] = c.open[i]
		if !closed[i] {
			c.open[i+1][0]++
			c.open[i+1][(span.From+day.Day(i)).Weekday()]++
		}
	}
	return c
}

// Span is the stretch of time that the calendar covers.
func (c *Calendar) Span() day.Span { return c.span }

// IsBreak reports whether d is a break day. Outside the calendar's span every day is taken to be one.
func (c *Calendar) IsBreak(d day.Day) bool {
	if !c.span.Contains(d) {
		return true
	}
	i := d - c.span.From
	return c.open[i+1][0] == c.open[i][0]
}

// between returns the two rows whose difference counts span, clipped to the calendar.
func (c *Calendar) between(span day.Span) (lo, hi *[8]int32, days int) {
	in := span.Clip(c.span)
	if in.Days() == 0 {
		return &c.open[0], &c.open[0], 0
	}
	return &c.open[in.From-c.span.From], &c.open[in.To-c.span.From+1], in.Days()
}

// BreaksBetweenTerms returns the days inside span that belong to no term, as spans. With no terms at all there are
// none: a school that has not entered its terms yet is taken to be always in session.
func BreaksBetweenTerms(span day.Span, terms []day.Span) []day.Span {
	if len(terms) == 0 {
		return nil
	}
	sorted := append([]day.Span(nil), terms...)
	sort.Slice(sorted, func(i, j int) bool { return sorted[i].From < sorted[j].From })
	var gaps []day.Span
	next := span.From
	for _, t := range sorted {
		if t.From > next {
			gaps = append(gaps, day.Span{From: next, To: min(t.From-1, span.To)})
		}
		next = max(next, t.To+1)
	}
	if next <= span.To {
		gaps = append(gaps, day.Span{From: next, To: span.To})
	}
	return gaps
}

func checkSpan(path string, s day.Span) error {
	if s.To < s.From {
		return field.Errorf(path+".to", "%s is before %s.from, %s", s.To, path, s.From)
	}
	return nil
}

// OpenShare is the share of a span's days that are not break days, 0 to 1.
func (c *Calendar) OpenShare(span day.Span) float64 {
	lo, hi, days := c.between(span)
	if days == 0 {
		return 0
	}
	return float64(hi[0]-lo[0]) / float64(days)
}
