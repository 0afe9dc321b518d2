package schedule

import (
	"cmp"
	"maps"
	"slices"
)

// people is the number of the people among the resources of a model; stations follow.
const people = 0

// A model is the work in numbers.
type model struct {
	in     In
	names  []string // of the resources
	counts []int
	jobs   []job
}

type job struct {
	steps     []work
	blocks    []block
	notBefore int
	notAfter  int // -1 for none
	length    int // from its first start to its last end, at the least
}

// work is a step.
type work struct {
	active, wait int
	mostWait     int // -1 for any
	station      int // -1 for none
	occupied     int // minutes that its station is taken
	tail         int // from its start to the job's end, at the least
}

// A block is a run of steps that hang together because each waits no longer than its most: from, and up to but not including to.
type block struct{ from, to int }

func newModel(in In) *model {
	m := &model{in: in, names: []string{"people"}, counts: []int{in.People}}
	number := map[string]int{}
	for _, name := range slices.Sorted(maps.Keys(in.Stations)) {
		number[name] = len(m.names)
		m.names, m.counts = append(m.names, name), append(m.counts, in.Stations[name])
	}
	for _, i := range in.Instruments {
		j := job{notBefore: orZero(i.NotBeforeMinutes), notAfter: -1}
		if i.NotAfterMinutes != nil {
			j.notAfter = *i.NotAfterMinutes
		}
		begin := 0
		for n, s := range i.Steps {
			w := work{active: s.ActiveMinutes, wait: s.WaitMinutes, mostWait: -1, station: -1}
			if s.Station != "" {
				w.station, w.occupied = number[s.Station], s.ActiveMinutes
				if s.StationHeldWhileWaiting {
					w.occupied += s.WaitMinutes
				}
			}
			if s.MaxWaitMinutes != nil {
				w.mostWait = *s.MaxWaitMinutes
			}
			j.steps = append(j.steps, w)
			if w.mostWait < 0 || n == len(i.Steps)-1 {
				j.blocks = append(j.blocks, block{begin, n + 1})
				begin = n + 1
			}
		}
		for n := len(j.steps) - 1; n >= 0; n-- {
			j.length += j.steps[n].active + j.steps[n].wait
			j.steps[n].tail = j.length
		}
		m.jobs = append(m.jobs, j)
	}
	return m
}

// A load is what one step asks of one resource: it cannot begin before head minutes are over, takes size, and tail minutes
// of its instrument come after that.
type load struct{ head, size, tail int }

// lowerBound is the larger of the longest instrument and, for the people and each station, of what any choice of its loads
// needs: on each of count places something comes first, with a head before it, and something last, with a tail after it.
func (m *model) lowerBound() (minutes int, by string) {
	loads := make([][]load, len(m.counts))
	for _, j := range m.jobs {
		if end := j.notBefore + j.length; end > minutes {
			minutes, by = end, "instrument"
		}
		head := j.notBefore
		for _, w := range j.steps {
			if w.active > 0 {
				loads[people] = append(loads[people], load{head, w.active, w.tail - w.active})
			}
			if w.station >= 0 && w.occupied > 0 {
				loads[w.station] = append(loads[w.station], load{head, w.occupied, w.tail - w.occupied})
			}
			head += w.active + w.wait
		}
	}
	for r, list := range loads {
		if least := lowerBoundOf(list, m.counts[r]); least > minutes {
			minutes, by = least, m.names[r]
		}
	}
	return minutes, by
}

// lowerBoundOf tries, for each pair of a least head and a least tail, the loads that have both.
func lowerBoundOf(list []load, count int) int {
	var heads, tails []int
	for _, l := range list {
		heads, tails = append(heads, l.head), append(tails, l.tail)
	}
	slices.Sort(heads)
	slices.Sort(tails)
	heads, tails = thinned(slices.Compact(heads)), thinned(slices.Compact(tails))
	byHead := slices.Clone(list)
	slices.SortFunc(byHead, func(a, b load) int { return cmp.Or(a.head-b.head, a.tail-b.tail) })
	byTail := slices.Clone(list)
	slices.SortFunc(byTail, func(a, b load) int { return cmp.Or(a.tail-b.tail, a.head-b.head) })
	best := 0
	for _, head := range heads {
		for _, tail := range tails {
			sum, firsts, chosen := 0, 0, 0
			for _, l := range byHead {
				if l.head >= head && l.tail >= tail {
					sum += l.size
					if chosen < count {
						firsts += l.head
					}
					chosen++
				}
			}
			if chosen < count {
				break // a higher tail leaves fewer; the longest instrument says more
			}
			best = max(best, (firsts+sum+leastTails(byTail, head, tail, count)+count-1)/count)
		}
	}
	return best
}

// thinned keeps the first and, of many, some of the rest: fewer choices make the bound weaker and never wrong.
func thinned(sorted []int) []int {
	const most = 60
	if len(sorted) <= most {
		return sorted
	}
	kept := make([]int, most)
	for n := range kept {
		kept[n] = sorted[n*len(sorted)/most]
	}
	return kept
}

func leastTails(byTail []load, head, tail, count int) (sum int) {
	for _, l := range byTail {
		if count == 0 {
			break
		}
		if l.head >= head && l.tail >= tail {
			sum += l.tail
			count--
		}
	}
	return sum
}
