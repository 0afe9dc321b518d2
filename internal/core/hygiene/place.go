package hygiene

import (
	"cmp"
	"context"
	"slices"
)

// A placing puts blocks into the earliest time that people and stations have left. It is used again for order after order.
type placing struct {
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
func (p *placing) over() bool { return p.looked > mostLooking || p.ctx.Err() != nil }

func newPlacing(ctx context.Context, m *model) *placing {
	p := &placing{ctx: ctx, m: m, taken: make([][]int32, len(m.counts)), next: make([]int, len(m.jobs)), free: make([]int, len(m.jobs)), lag: make([][]int, len(m.jobs))}
	for n, j := range m.jobs {
		p.lag[n] = make([]int, len(j.steps))
	}
	return p
}

func (p *placing) clear() {
	p.forget()
	clear(p.next)
	p.s = schedule{starts: make([][]int, len(p.m.jobs)), ends: make([]int, len(p.m.jobs))}
	for n, j := range p.m.jobs {
		p.free[n] = j.notBefore
		p.s.starts[n] = make([]int, len(j.steps))
	}
}

// forget lets nothing be taken.
func (p *placing) forget() {
	for r := range p.taken {
		p.looked += len(p.taken[r]) / 16 // clearing is that much quicker than looking
		clear(p.taken[r])
	}
}

// fixedFirst places what must begin by a fixed time, the most pressing first.
func (p *placing) fixedFirst() bool {
	var fixed []int
	for n, j := range p.m.jobs {
		if j.notAfter >= 0 {
			fixed = append(fixed, n)
		}
	}
	slices.SortStableFunc(fixed, func(a, b int) int { return p.m.jobs[a].notAfter - p.m.jobs[b].notAfter })
	for _, n := range fixed {
		if !p.place(n) || p.s.starts[n][0] > p.m.jobs[n].notAfter {
			return false
		}
	}
	return true
}

// inOrder makes a schedule by placing blocks in the order in which their jobs are named.
func (p *placing) inOrder(order []int) (schedule, bool) {
	p.clear()
	if !p.fixedFirst() {
		return schedule{}, false
	}
	skip := make([]int, len(p.m.jobs))
	for n, j := range p.m.jobs {
		if j.notAfter >= 0 {
			skip[n] = 1
		}
	}
	for _, j := range order {
		if skip[j] > 0 {
			skip[j]--
			continue
		}
		p.place(j)
	}
	return p.finish(), true
}

// byRule makes a schedule by taking, again and again, the block with the smallest number; among those that can begin soonest
// if soonest is set. It returns the order too.
func (p *placing) byRule(rule func(job, block int) int, soonest bool) (schedule, []int, bool) {
	p.clear()
	if !p.fixedFirst() {
		return schedule{}, nil, false
	}
	var order []int
	for n, j := range p.m.jobs {
		if j.notAfter >= 0 {
			order = append(order, n)
		}
	}
	for {
		pick, pickAt, pickRule := -1, 0, 0
		for j := range p.m.jobs {
			if p.next[j] == len(p.m.jobs[j].blocks) {
				continue
			}
			at := 0
			if soonest {
				at = p.find(j)[0]
			}
			number := rule(j, p.next[j])
			if pick < 0 || cmp.Or(at-pickAt, number-pickRule) < 0 {
				pick, pickAt, pickRule = j, at, number
			}
		}
		if pick < 0 {
			return p.finish(), order, true
		}
		p.place(pick)
		order = append(order, pick)
	}
}

// place puts the next block of a job as early as can be.
func (p *placing) place(j int) bool {
	if p.next[j] == len(p.m.jobs[j].blocks) {
		return false
	}
	job := &p.m.jobs[j]
	b := job.blocks[p.next[j]]
	starts := p.find(j)
	for n, start := range starts {
		w := job.steps[b.from+n]
		p.take(people, start, w.active)
		if w.station >= 0 {
			p.take(w.station, start, w.occupied)
		}
		p.s.starts[j][b.from+n] = start
		p.free[j] = start + w.active + w.wait
	}
	p.next[j]++
	if p.next[j] == len(job.blocks) {
		p.s.ends[j] = p.free[j]
	}
	return true
}

// find returns the earliest starts of the steps of a job's next block. Where a step would have to wait longer than it may, the
// one before it begins later.
func (p *placing) find(j int) []int {
	job := &p.m.jobs[j]
	b := job.blocks[p.next[j]]
	steps := job.steps[b.from:b.to]
	least := make([]int, len(steps))
	starts := make([]int, len(steps))
	least[0] = p.free[j]
	for n := 0; n < len(steps); {
		from := least[n]
		if n > 0 {
			from = max(from, starts[n-1]+steps[n-1].active+steps[n-1].wait+p.lag[j][b.from+n-1])
		}
		starts[n] = p.earliest(steps[n], from)
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

// earliest is the first minute from which a person and the station are free for as long as the step takes them.
func (p *placing) earliest(w work, from int) int {
	for {
		at := p.gap(people, from, w.active)
		if w.station >= 0 {
			at = p.gap(w.station, at, w.occupied)
		}
		if at == from {
			return at
		}
		from = at
	}
}

// gap is the first minute at or after from with so many minutes in which one of a resource is free.
func (p *placing) gap(r, from, minutes int) int {
	taken, count := p.taken[r], int32(p.m.counts[r])
	for at := from; ; {
		full := -1
		for t := min(at+minutes, len(taken)) - 1; t >= at; t-- {
			if taken[t] >= count {
				full = t
				break
			}
		}
		p.looked += minutes
		if full < 0 {
			return at
		}
		at = full + 1
	}
}

func (p *placing) take(r, from, minutes int) {
	if need := from + minutes; need > len(p.taken[r]) {
		p.taken[r] = append(p.taken[r], make([]int32, max(need-len(p.taken[r]), 256))...)
	}
	p.looked += minutes
	for t := from; t < from+minutes; t++ {
		p.taken[r][t]++
	}
}

func (p *placing) finish() schedule {
	s := p.s
	for _, end := range s.ends {
		s.makespan = max(s.makespan, end)
		if p.m.in.DeadlineMinutes != nil && end <= *p.m.in.DeadlineMinutes {
			s.finished++
		}
	}
	return s
}
