package schedule

import (
	"cmp"
	"context"
	"fmt"
	"math/rand/v2"
	"slices"

	"solfeggio/internal/core/field"
)

// A schedule is a start for every step of every job.
type schedule struct {
	starts   [][]int
	ends     []int // of each job, its last waiting over
	makespan int
	finished int // jobs that end by the deadline
}

// better: more finished by the deadline, then over sooner, then earlier on the whole.
func (s schedule) better(t schedule) bool {
	return cmp.Or(t.finished-s.finished, s.makespan-t.makespan, s.sumOfEnds()-t.sumOfEnds()) < 0
}

func (s schedule) sumOfEnds() (sum int) {
	for _, e := range s.ends {
		sum += e
	}
	return sum
}

// usual stands for the usual number of orders.
const usual = -1

const (
	usualWork    = 500_000       // blocks in all orders of a usual search
	mostLooking  = 2_000_000_000 // minutes looked at for them, at the most: long work is searched less
	mostOrders   = 20_000
	fewSequences = 20_000  // so many orders are all tried
	fewChoices   = 200_000 // blocks times jobs; with more, who can begin soonest is not asked of all
)

// search looks for a good schedule. Whatever the order in which blocks of steps are taken, each is placed as early as people
// and stations allow; the search is over orders. It tries a few sensible ones, then either all, when they are few, or changes
// of the best so far, until the bound is reached or enough were tried.
func (m *model) search(ctx context.Context, bound, orders int) (schedule, error) {
	if len(m.jobs) == 0 {
		return schedule{}, nil
	}
	g := newGenerator(ctx, m)
	best, order, err := m.sensible(g)
	if err != nil {
		return schedule{}, err
	}
	done := func() bool {
		return g.over() || best.makespan <= bound && (m.in.DeadlineMinutes == nil || best.finished == m.reachable())
	}
	if done() {
		return best, nil
	}
	if orders == usual {
		if m.sequences() <= fewSequences {
			m.tryAll(g, &best, done)
			return best, nil
		}
		orders = min(mostOrders, usualWork/len(order))
	}
	random := rand.New(rand.NewPCG(1, 2))
	loose := m.slacks()
	current := best
	for range orders {
		next := order
		var undo func()
		if len(loose) > 0 && random.IntN(4) == 0 {
			undo = g.relag(loose[random.IntN(len(loose))], random)
		} else {
			next = m.changed(order, random)
		}
		tried, ok := g.serial(next)
		if ok {
			tried, next = g.justified(tried, next)
		}
		if done() {
			break
		}
		if !ok || current.better(tried) {
			if undo != nil {
				undo()
			}
			continue
		}
		order, current = next, tried
		if current.better(best) {
			if best = current; done() {
				break
			}
		}
	}
	return best, nil
}

// justified puts everything late and early again until that gains nothing.
func (g *generator) justified(s schedule, order []int) (schedule, []int) {
	for {
		next, ok := g.rightJustified(s)
		if !ok || g.over() {
			return s, order
		}
		tried, ok := g.serial(next)
		if !ok || !tried.better(s) {
			return s, order
		}
		s, order = tried, next
	}
}

// A slack is a step after which the next may wait longer than it must.
type slack struct{ job, step, most int }

func (m *model) slacks() (list []slack) {
	for n, j := range m.jobs {
		for k, w := range j.steps[:len(j.steps)-1] {
			if w.mostWait > w.wait {
				list = append(list, slack{n, k, w.mostWait - w.wait})
			}
		}
	}
	return list
}

// relag lets the next step wait a little or not at all, and returns what takes that back.
func (g *generator) relag(l slack, random *rand.Rand) func() {
	before := g.lag[l.job][l.step]
	g.lag[l.job][l.step] = 0
	if random.IntN(2) == 0 {
		g.lag[l.job][l.step] = 1 + random.IntN(l.most)
	}
	return func() { g.lag[l.job][l.step] = before }
}

// reachable is how many jobs could at most end by the deadline.
func (m *model) reachable() (count int) {
	for _, j := range m.jobs {
		if j.notBefore+j.length <= *m.in.DeadlineMinutes {
			count++
		}
	}
	return count
}

// sensible tries some orders that are good for most batches, and fails only if what must begin at a fixed time cannot.
func (m *model) sensible(g *generator) (schedule, []int, error) {
	byLength := make([]int, len(m.jobs))
	for j := range byLength {
		byLength[j] = j
	}
	slices.SortStableFunc(byLength, func(a, b int) int { return m.jobs[a].length - m.jobs[b].length })
	rank := make([]int, len(m.jobs))
	for at, j := range byLength {
		rank[j] = at
	}
	rules := []func(j, b int) int{
		func(j, b int) int { return -m.jobs[j].steps[m.jobs[j].blocks[b].from].tail }, // most still to come first
		func(j, b int) int { return rank[j] },                                         // one instrument after the other, short ones first
		func(j, b int) int { return b },                                               // all first steps, then all second ones
	}
	var best schedule
	var order []int
	blocks := 0
	for _, j := range m.jobs {
		blocks += len(j.blocks)
	}
	for n := range 2 * len(rules) {
		soonest := n%2 == 1
		if soonest && blocks*len(m.jobs) > fewChoices || order != nil && g.over() {
			continue
		}
		s, o, ok := g.byPriority(rules[n/2], soonest)
		if ok {
			s, o = g.justified(s, o)
		}
		if ok && (order == nil || s.better(best)) {
			best, order = s, o
		}
	}
	if order == nil {
		for n, j := range m.jobs {
			if j.notAfter >= 0 {
				return schedule{}, nil, &field.Error{
					Path:    fmt.Sprintf("instruments[%d].not_after_minutes", n),
					Message: ErrOverdue.Error(),
					Kind:    ErrOverdue,
				}
			}
		}
	}
	return best, order, nil
}

// sequences is in how many ways the blocks can be taken, with all their lags; more than fewSequences counts as one more.
func (m *model) sequences() int {
	count, placed := 1, 0
	for _, l := range m.slacks() {
		if count *= l.most + 1; count > fewSequences {
			return fewSequences + 1
		}
	}
	for _, j := range m.jobs {
		for k := 1; k <= len(j.blocks); k++ {
			placed++
			count = count * placed / k // binomial coefficients, step by step; always whole
			if count > fewSequences {
				return fewSequences + 1
			}
		}
	}
	return count
}

// tryAll goes through every order with every lag.
func (m *model) tryAll(g *generator, best *schedule, done func() bool) {
	next := make([]int, len(m.jobs))
	var order []int
	total := 0
	for _, j := range m.jobs {
		total += len(j.blocks)
	}
	var from func() bool
	from = func() bool {
		if len(order) == total {
			if s, ok := g.serial(order); ok && s.better(*best) {
				*best = s
			}
			return done()
		}
		for j := range m.jobs {
			if next[j] == len(m.jobs[j].blocks) {
				continue
			}
			next[j]++
			order = append(order, j)
			stop := from()
			order = order[:len(order)-1]
			next[j]--
			if stop {
				return true
			}
		}
		return false
	}
	loose := m.slacks()
	var lags func(n int) bool
	lags = func(n int) bool {
		if n == len(loose) {
			return from()
		}
		for lag := range loose[n].most + 1 {
			g.lag[loose[n].job][loose[n].step] = lag
			if lags(n + 1) {
				return true
			}
		}
		return false
	}
	lags(0)
}

// changed returns the order with one change: an entry moved, two exchanged, or all of an instrument moved ahead or back. An
// order names jobs; the n-th time that a job is named stands for its n-th block.
func (m *model) changed(order []int, random *rand.Rand) []int {
	next := slices.Clone(order)
	a, b := random.IntN(len(next)), random.IntN(len(next))
	switch random.IntN(4) {
	case 0:
		j := next[a]
		next = slices.Insert(slices.Delete(next, a, a+1), b, j)
	case 1:
		next[a], next[b] = next[b], next[a]
	case 2: // near by
		b = min(len(next)-1, a+1+random.IntN(8))
		next[a], next[b] = next[b], next[a]
	case 3:
		j := next[a]
		rest := slices.DeleteFunc(next, func(other int) bool { return other == j })
		at := random.IntN(len(rest) + 1)
		next = slices.Insert(rest, at, slices.Repeat([]int{j}, len(m.jobs[j].blocks))...)
	}
	return next
}
