package restring

import (
	"cmp"
	"slices"
	"sort"

	"solfeggio/internal/core/day"
)

const tolerance = 1e-9

// steps bounds the search for a better plan than the one that filling gives: how often an instrument is looked at.
const steps = 400_000

// A layout holds for each instrument the days of its changes as places in the list of bench days, the latest first; nil where it is
// left out. In one sitting it is one day.
type layout [][]int

// place lays the changes on the bench days, which stand in order from the last back; last is the last day on which anything may be
// changed. It reports whether the layout is known to be best.
func place(instruments []Instrument, bench []Bench, last day.Day, m Mode) (layout, bool) {
	s := &search{instruments: instruments, mode: m, left: make([]float64, len(bench)), early: make([]int, len(bench))}
	for i, b := range bench {
		s.left[i] = b.Minutes
		s.early[i] = int(last - b.Date)
	}
	s.best = make(layout, len(instruments))
	if m == OneADay {
		s.keep(s.fillByDay(func(i, want int) float64 { return float64(want) }))
		s.keep(s.fillByDay(func(i, want int) float64 { return float64(want) * instruments[i].MinutesPerString }))
	} else {
		s.keep(s.fillBySitting(s.ordered(false)))
		s.keep(s.fillBySitting(s.ordered(true)))
	}
	s.now = make(layout, len(instruments))
	s.try(0, 0, 0)
	return s.best, s.steps < steps
}

type search struct {
	instruments []Instrument
	mode        Mode
	left        []float64 // minutes that are still free on each bench day
	early       []int     // days from each bench day to the last that settles in time

	now, best    layout
	placed, days int // of best: how many instruments, and what it costs
	steps        int
}

// ordered lists the instruments by their whole time, shortest or longest first.
func (s *search) ordered(longest bool) []int {
	order := make([]int, len(s.instruments))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		x, y := s.instruments[a], s.instruments[b]
		c := cmp.Compare(float64(x.Strings)*x.MinutesPerString, float64(y.Strings)*y.MinutesPerString)
		if longest {
			c = -c
		}
		return c
	})
	return order
}

// keep remembers a layout if it is better than the best so far.
func (s *search) keep(l layout) {
	count, cost := 0, 0
	for i, days := range l {
		if days != nil {
			count++
			cost += s.cost(i, days)
		}
	}
	if count > s.placed || count == s.placed && cost < s.days {
		s.best, s.placed, s.days = l, count, cost
	}
}

// cost is the days from the changes of an instrument to the last that settles in time, summed over its strings.
func (s *search) cost(i int, days []int) int {
	cost := 0
	for _, d := range days {
		cost += s.early[d]
	}
	if s.mode == OneSitting {
		cost *= s.instruments[i].Strings
	}
	return cost
}

// fillByDay fills the bench days with the strings of as many instruments as it finds room for: of all that fit alone, the smallest of
// which all still fit, and of the others each that fits besides, the smallest first.
func (s *search) fillByDay(urgency func(i, want int) float64) layout {
	var alone []int
	for _, i := range s.ordered(false) {
		if _, ok := s.fill([]int{i}, urgency); ok {
			alone = append(alone, i)
		}
	}
	most := sort.Search(len(alone), func(n int) bool {
		_, ok := s.fill(alone[:n+1], urgency)
		return !ok
	})
	in := slices.Clone(alone[:most])
	l, _ := s.fill(in, urgency)
	refused := map[Instrument]bool{} // of which kind none fits any more
	for _, i := range alone[most:] {
		shape := s.instruments[i]
		shape.ID = ""
		if refused[shape] {
			continue
		}
		if more, ok := s.fill(append(slices.Clone(in), i), urgency); ok {
			l, in = more, append(in, i)
		} else {
			refused[shape] = true
		}
	}
	return l
}

// fill goes back from the last day and changes on each a string of those that are most urgent. By how many strings each still wants, this
// is the level rule for chains of equal tasks, which is best when all strings take equally long. It reports whether all came to their end.
func (s *search) fill(in []int, urgency func(i, want int) float64) (layout, bool) {
	l := make(layout, len(s.instruments))
	want := make([]int, len(s.instruments))
	left := 0
	for _, i := range in {
		want[i] = s.instruments[i].Strings
		left += want[i]
	}
	queue := slices.Sorted(slices.Values(in))
	for d, minutes := range s.left {
		slices.SortStableFunc(queue, func(a, b int) int { return cmp.Compare(urgency(b, want[b]), urgency(a, want[a])) })
		for _, i := range queue {
			if want[i] > 0 && s.instruments[i].MinutesPerString <= minutes+tolerance {
				minutes -= s.instruments[i].MinutesPerString
				l[i] = append(l[i], d)
				want[i]--
				left--
			}
		}
	}
	return l, left == 0
}

// fillBySitting puts each set on the latest day that has room for it.
func (s *search) fillBySitting(order []int) layout {
	l, left := make(layout, len(s.instruments)), slices.Clone(s.left)
	for _, i := range order {
		for d := range left {
			if s.time(i) <= left[d]+tolerance {
				left[d] -= s.time(i)
				l[i] = []int{d}
				break
			}
		}
	}
	return l
}

func (s *search) time(i int) float64 {
	return float64(s.instruments[i].Strings) * s.instruments[i].MinutesPerString
}

// try places instrument i and those after it in every way that may still be better than the best known, the latest days first.
func (s *search) try(i, count, cost int) {
	rest := len(s.instruments) - i
	if s.steps += 1 + rest; s.steps >= steps {
		return
	}
	if rest == 0 {
		s.keep(slices.Clone(s.now))
		return
	}
	if count+rest < s.placed || count+rest == s.placed && cost+s.atLeast(i) >= s.days {
		return
	}
	if s.mode == OneSitting {
		for d := range s.left {
			if s.time(i) > s.left[d]+tolerance || s.symmetric(i, []int{d}) {
				continue
			}
			s.left[d] -= s.time(i)
			s.now[i] = []int{d}
			s.try(i+1, count+1, cost+s.cost(i, s.now[i]))
			s.left[d] += s.time(i)
		}
	} else {
		s.choose(i, 0, make([]int, 0, s.instruments[i].Strings), count, cost)
	}
	s.now[i] = nil
	s.try(i+1, count, cost)
}

// choose takes a day for each string of instrument i, from bench day `from` back.
func (s *search) choose(i, from int, days []int, count, cost int) {
	x := s.instruments[i]
	if len(days) == x.Strings {
		if !s.symmetric(i, days) {
			s.now[i] = slices.Clone(days)
			s.try(i+1, count+1, cost+s.cost(i, days))
		}
		return
	}
	for d := from; d <= len(s.left)-(x.Strings-len(days)) && s.steps < steps; d++ {
		if x.MinutesPerString > s.left[d]+tolerance {
			continue
		}
		s.left[d] -= x.MinutesPerString
		s.choose(i, d+1, append(days, d), count, cost)
		s.left[d] += x.MinutesPerString
	}
}

// symmetric reports whether these days would only exchange instrument i with the like one before it.
func (s *search) symmetric(i int, days []int) bool {
	if i == 0 {
		return false
	}
	a, b := s.instruments[i-1], s.instruments[i]
	if a.Strings != b.Strings || a.MinutesPerString != b.MinutesPerString {
		return false
	}
	return s.now[i-1] == nil || slices.Compare(days, s.now[i-1]) < 0
}

// atLeast bounds from below what instrument i and those after it cost when all are placed, each as if it were alone with what is free now.
func (s *search) atLeast(i int) int {
	cost := 0
	for ; i < len(s.instruments); i++ {
		x := s.instruments[i]
		if s.mode == OneSitting {
			for d := range s.left {
				if s.time(i) <= s.left[d]+tolerance {
					cost += x.Strings * s.early[d]
					break
				}
			}
			continue
		}
		want := x.Strings
		for d := 0; d < len(s.left) && want > 0; d++ {
			if x.MinutesPerString <= s.left[d]+tolerance {
				cost += s.early[d]
				want--
			}
		}
	}
	return cost
}
