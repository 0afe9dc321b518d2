package schedule

import (
	"cmp"
	"slices"
)

// rightJustified returns an order in which to place blocks again, after each was put as late as the schedule's end allows: those that
// turn out to press come first. ok is false when a block would have to begin before the start.
//
// Putting everything late and then early again takes slack out of a schedule; it is the double justification of project scheduling
// (Valls, Ballestín and Quintanilla 2005, named from memory).
func (g *generator) rightJustified(s schedule) (order []int, ok bool) {
	type at struct{ job, block, start, end int }
	var blocks []at
	for j, job := range g.m.jobs {
		for n, b := range job.blocks {
			last := job.steps[b.to-1]
			blocks = append(blocks, at{j, n, s.starts[j][b.from], s.starts[j][b.to-1] + last.active + last.wait})
		}
	}
	slices.SortStableFunc(blocks, func(a, b at) int { return cmp.Or(b.end-a.end, b.start-a.start, b.block-a.block) })
	g.forget()
	limit := make([]int, len(g.m.jobs))
	for j := range limit {
		limit[j] = s.makespan
	}
	for n := range blocks {
		b := &blocks[n]
		if b.start = g.placeRight(b.job, b.block, limit[b.job]); b.start < 0 {
			return nil, false
		}
		limit[b.job] = b.start
	}
	slices.SortStableFunc(blocks, func(a, b at) int { return cmp.Or(a.start-b.start, a.block-b.block) })
	for _, b := range blocks {
		order = append(order, b.job)
	}
	return order, true
}

// placeRight puts a block so that it is over by the limit, as late as can be, and returns its start; below 0 when there is no room.
func (g *generator) placeRight(j, block, limit int) int {
	b := g.m.jobs[j].blocks[block]
	steps := g.m.jobs[j].steps[b.from:b.to]
	most := make([]int, len(steps)) // latest start of each
	starts := make([]int, len(steps))
	for n := range most {
		most[n] = limit
	}
	for n := len(steps) - 1; n >= 0; {
		w := steps[n]
		to := min(most[n], limit-w.active-w.wait)
		if n < len(steps)-1 {
			to = min(most[n], starts[n+1]-w.active-w.wait)
		}
		if starts[n] = g.latestStart(w, to); starts[n] < 0 {
			return -1
		}
		if n < len(steps)-1 && starts[n+1] > starts[n]+w.active+w.mostWait {
			most[n+1] = starts[n] + w.active + w.mostWait
			n++
			continue
		}
		n--
	}
	for n, start := range starts {
		g.take(people, start, steps[n].active)
		if steps[n].station >= 0 {
			g.take(steps[n].station, start, steps[n].occupied)
		}
	}
	return starts[0]
}

// latestStart is the last start up to the given one from which a person and the station are free long enough.
func (g *generator) latestStart(w work, to int) int {
	for to >= 0 {
		at := g.gapBefore(people, to, w.active)
		if w.station >= 0 && at >= 0 {
			at = g.gapBefore(w.station, at, w.occupied)
		}
		if at == to {
			return at
		}
		to = at
	}
	return -1
}

func (g *generator) gapBefore(r, to, minutes int) int {
	taken, count := g.taken[r], int32(g.m.counts[r])
	for at := to; at >= 0; {
		full := -1
		for t := at; t < min(at+minutes, len(taken)); t++ {
			if taken[t] >= count {
				full = t
				break
			}
		}
		g.looked += minutes
		if full < 0 {
			return at
		}
		at = full - minutes
	}
	return -1
}
