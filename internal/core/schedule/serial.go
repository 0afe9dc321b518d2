package schedule

import (
	"cmp"
	"context"
	"slices"
)

// A generator puts blocks into the earliest time that people and stations have left. It is used again for order after order.
type generator struct {
	m     *model
	taken [][]int32 // of each resource, how many are taken in each minute
	next  []int     // of each job, the next block
	free  []int     // of each job, when its next block may begin
	lag   [][]int   // of each step, how much longer than it must the next waits for it
	s     schedule

	ctx    context.Context // of who waits for the answer
	looked int             // minutes looked at so far
}

// over reports whether the search has looked at enough, or nobody waits for it any more. It counts minutes and no time, so that the
// same input gives the same answer.
func (g *generator) over() bool { return g.looked > mostLooking || g.ctx.Err() != nil }

func newGenerator(ctx context.Context, m *model) *generator {
	g := &generator{
		ctx:   ctx,
		m:     m,
		taken: make([][]int32, len(m.counts)),
		next:  make([]int, len(m.jobs)),
		free:  make([]int, len(m.jobs)),
		lag:   make([][]int, len(m.jobs)),
	}
	for n, j := range m.jobs {
		g.lag[n] = make([]int, len(j.steps))
	}
	return g
}

func (g *generator) clear() {
	g.forget()
	clear(g.next)
	g.s = schedule{starts: make([][]int, len(g.m.jobs)), ends: make([]int, len(g.m.jobs))}
	for n, j := range g.m.jobs {
		g.free[n] = j.notBefore
		g.s.starts[n] = make([]int, len(j.steps))
	}
}

// forget lets nothing be taken.
func (g *generator) forget() {
	for r := range g.taken {
		g.looked += len(g.taken[r]) / 16 // clearing is that much quicker than looking
		clear(g.taken[r])
	}
}

// fixedFirst places what must begin by a fixed time, the most pressing first.
func (g *generator) fixedFirst() bool {
	var fixed []int
	for n, j := range g.m.jobs {
		if j.notAfter >= 0 {
			fixed = append(fixed, n)
		}
	}
	slices.SortStableFunc(fixed, func(a, b int) int { return g.m.jobs[a].notAfter - g.m.jobs[b].notAfter })
	for _, n := range fixed {
		if !g.place(n) || g.s.starts[n][0] > g.m.jobs[n].notAfter {
			return false
		}
	}
	return true
}

// serial makes a schedule by placing blocks in the order in which their jobs are named.
func (g *generator) serial(order []int) (schedule, bool) {
	g.clear()
	if !g.fixedFirst() {
		return schedule{}, false
	}
	skip := make([]int, len(g.m.jobs))
	for n, j := range g.m.jobs {
		if j.notAfter >= 0 {
			skip[n] = 1
		}
	}
	for _, j := range order {
		if skip[j] > 0 {
			skip[j]--
			continue
		}
		g.place(j)
	}
	return g.finish(), true
}

// byPriority makes a schedule by taking, again and again, the block with the smallest number; among those that can begin soonest
// if soonest is set. It returns the order too.
func (g *generator) byPriority(rule func(job, block int) int, soonest bool) (schedule, []int, bool) {
	g.clear()
	if !g.fixedFirst() {
		return schedule{}, nil, false
	}
	var order []int
	for n, j := range g.m.jobs {
		if j.notAfter >= 0 {
			order = append(order, n)
		}
	}
	for {
		pick, pickAt, pickRule := -1, 0, 0
		for j := range g.m.jobs {
			if g.next[j] == len(g.m.jobs[j].blocks) {
				continue
			}
			at := 0
			if soonest {
				at = g.earliestStarts(j)[0]
			}
			number := rule(j, g.next[j])
			if pick < 0 || cmp.Or(at-pickAt, number-pickRule) < 0 {
				pick, pickAt, pickRule = j, at, number
			}
		}
		if pick < 0 {
			return g.finish(), order, true
		}
		g.place(pick)
		order = append(order, pick)
	}
}

// place puts the next block of a job as early as can be.
func (g *generator) place(j int) bool {
	if g.next[j] == len(g.m.jobs[j].blocks) {
		return false
	}
	job := &g.m.jobs[j]
	b := job.blocks[g.next[j]]
	starts := g.earliestStarts(j)
	for n, start := range starts {
		w := job.steps[b.from+n]
		g.take(people, start, w.active)
		if w.station >= 0 {
			g.take(w.station, start, w.occupied)
		}
		g.s.starts[j][b.from+n] = start
		g.free[j] = start + w.active + w.wait
	}
	g.next[j]++
	if g.next[j] == len(job.blocks) {
		g.s.ends[j] = g.free[j]
	}
	return true
}

// earliestStarts returns the earliest starts of the steps of a job's next block. Where a step would have to wait longer than it may, the
// one before it begins later.
func (g *generator) earliestStarts(j int) []int {
	job := &g.m.jobs[j]
	b := job.blocks[g.next[j]]
	steps := job.steps[b.from:b.to]
	least := make([]int, len(steps))
	starts := make([]int, len(steps))
	least[0] = g.free[j]
	for n := 0; n < len(steps); {
		from := least[n]
		if n > 0 {
			from = max(from, starts[n-1]+steps[n-1].active+steps[n-1].wait+g.lag[j][b.from+n-1])
		}
		starts[n] = g.earliestStart(steps[n], from)
		if n > 0 {
			before := steps[n-1]
			if start := starts[n] - before.active - before.mostWait; start > starts[n-1] {
				least[n-1] = start
				n--
				continue
			}
		}
		n++
	}
	return starts
}

// earliestStart is the first minute from which a person and the station are free for as long as the step takes them.
func (g *generator) earliestStart(w work, from int) int {
	for {
		at := g.gap(people, from, w.active)
		if w.station >= 0 {
			at = g.gap(w.station, at, w.occupied)
		}
		if at == from {
			return at
		}
		from = at
	}
}

// gap is the first minute at or after from with so many minutes in which one of a resource is free.
func (g *generator) gap(r, from, minutes int) int {
	taken, count := g.taken[r], int32(g.m.counts[r])
	for at := from; ; {
		full := -1
		for t := min(at+minutes, len(taken)) - 1; t >= at; t-- {
			if taken[t] >= count {
				full = t
				break
			}
		}
		g.looked += minutes
		if full < 0 {
			return at
		}
		at = full + 1
	}
}

func (g *generator) take(r, from, minutes int) {
	if need := from + minutes; need > len(g.taken[r]) {
		g.taken[r] = append(g.taken[r], make([]int32, max(need-len(g.taken[r]), 256))...)
	}
	g.looked += minutes
	for t := from; t < from+minutes; t++ {
		g.taken[r][t]++
	}
}

func (g *generator) finish() schedule {
	s := g.s
	for _, end := range s.ends {
		s.makespan = max(s.makespan, end)
		if g.m.in.DeadlineMinutes != nil && end <= *g.m.in.DeadlineMinutes {
			s.finished++
		}
	}
	return s
}
