package season

import (
	"cmp"
	"context"
	"math/rand/v2"
	"slices"
	"sync"
)

const (
	together  = 5     // jobs that are taken out and laid anew at once
	tryAtMost = 4_000 // choices at one such laying
)

// solve lays some jobs anew beside all others, at the least cost that it finds within so many choices: without a limit the least there
// is. What it began with is never made worse. The dearest to leave out come first.
func (p *problem) solve(ctx context.Context, jobs []int, limit int) {
	order := slices.Clone(jobs)
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(p.unplaced[b], p.unplaced[a]) })
	s := &solving{problem: p, ctx: ctx, order: order, left: limit, best: make([]*option, len(order)), least: make([]int64, len(order)+1)}
	for k := len(order) - 1; k >= 0; k-- {
		n := order[k]
		cheapest := p.unplaced[n]
		if p.pinned[n] {
			cheapest = p.options[n][0].cents
		} else if len(p.options[n]) > 0 {
			cheapest = min(cheapest, p.options[n][0].cents)
		}
		s.least[k] = s.least[k+1] + cheapest
	}
	now := int64(0)
	for k, n := range order {
		s.best[k] = p.chosen[n]
	}
	for _, n := range order {
		p.take(n, nil)
	}
	for k, n := range order { // what it costs as it was
		o := s.best[k]
		if o == nil {
			now += p.unplaced[n]
			continue
		}
		now += o.cents + p.fare(n, o)
		p.take(n, o)
	}
	for _, n := range order {
		p.take(n, nil)
	}
	s.cost = now
	s.try(0, 0)
	for k, n := range order {
		p.take(n, s.best[k])
	}
}

type solving struct {
	*problem
	ctx   context.Context
	order []int
	left  int
	best  []*option
	cost  int64
	least []int64 // what the jobs from each on cost at least
}

func (s *solving) try(k int, cost int64) {
	if s.left--; s.left < 0 || s.left%1024 == 0 && s.ctx.Err() != nil {
		s.left = -1
		return
	}
	if cost+s.least[k] >= s.cost {
		return
	}
	if k == len(s.order) {
		s.cost = cost
		for k, n := range s.order {
			s.best[k] = s.chosen[n]
		}
		return
	}
	n := s.order[k]
	leave := func() {
		if !s.pinned[n] {
			s.try(k+1, cost+s.unplaced[n])
		}
	}
	left := false
	for i := range s.options[n] {
		o := &s.options[n][i]
		if cost+o.cents+s.least[k+1] >= s.cost {
			break // the others cost no less
		}
		if !left && o.cents >= s.unplaced[n] {
			left = true
			leave()
		}
		if ok, _ := s.fits(o); !ok {
			continue
		}
		fare := s.fare(n, o)
		s.take(n, o)
		s.try(k+1, cost+o.cents+fare)
		s.take(n, nil)
	}
	if !left {
		leave()
	}
}

// greedy places the jobs that are dearest to leave out first, each where it costs least then.
func (p *problem) greedy() {
	order := p.all()
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(p.unplaced[b], p.unplaced[a]) })
	for _, n := range order {
		if p.pinned[n] {
			continue
		}
		p.take(n, p.cheapestThatFits(n))
	}
}

// keepBest makes a plan of prices, and goes back to the best so far where that is no better. It says what the best costs beside what is
// kept.
func (p *problem) keepBest(ctx context.Context) func(price []float64) int64 {
	least, free := p.total(), p.free()
	return func(price []float64) int64 {
		if ctx.Err() == nil {
			least = p.better(least, free, func() { p.layBy(price, free, steady) })
		}
		return least - p.keptCents
	}
}

// better lays some jobs anew, and goes back where that costs more; it says what the plan costs then.
func (p *problem) better(least int64, jobs []int, lay func()) int64 {
	before := make([]*option, len(jobs))
	for k, n := range jobs {
		before[k] = p.chosen[n]
	}
	lay()
	if now := p.total(); now <= least {
		return now
	}
	for _, n := range jobs {
		p.take(n, nil)
	}
	for k, n := range jobs {
		p.take(n, before[k])
	}
	return least
}

func steady() float64 { return 1 }

// free lists the jobs that are not pinned.
func (p *problem) free() (list []int) {
	for n := range p.Jobs {
		if !p.pinned[n] {
			list = append(list, n)
		}
	}
	return list
}

// total is what the plan costs.
func (p *problem) total() int64 { return p.parts().total() }

// improveTwice improves the plan by two searches side by side, whose chances differ, and keeps the better of both: now and then one stays
// in a poor corner.
func (p *problem) improveTwice(ctx context.Context, seed int64, iterations int) {
	other := p.copied()
	var beside sync.WaitGroup
	beside.Go(func() { other.improve(ctx, seed+1, iterations) })
	p.improve(ctx, seed, iterations)
	beside.Wait()
	all := p.all() // what is pinned to a week may lend something or not
	p.better(p.total(), all, func() { p.takeOver(all, other.chosen) })
}

// takeOver lays some jobs as another plan does.
func (p *problem) takeOver(jobs []int, chosen []*option) {
	for _, n := range jobs {
		p.take(n, nil)
	}
	for _, n := range jobs {
		p.take(n, chosen[n])
	}
}

// improve takes a few jobs out and lays them anew, so often: some by chance, some because they are near each other in time, and most often
// one that does not stand where it would like to, with those that are in its way there.
func (p *problem) improve(ctx context.Context, seed int64, iterations int) {
	r := rand.New(rand.NewPCG(uint64(seed), 17))
	in, bench := p.inWeeks(), newExchange(p)
	for n := range iterations {
		if n%settleEvery == 0 {
			bench.settle(ctx)
		}
		if n%64 == 0 {
			if ctx.Err() != nil {
				return
			}
			in = p.inWeeks()
		}
		if n%relayEvery == 0 && len(p.prices) > 0 {
			weeks := p.someWeeks(r, in)
			p.better(p.total(), weeks, func() {
				p.layBy(p.prices, weeks, func() float64 { return 0.7 + 0.6*r.Float64() })
			})
			continue
		}
		some := p.inTheWay(r)
		if len(some) == 0 || r.IntN(4) == 0 {
			some = p.anyFew(r)
		}
		p.solve(ctx, some, tryAtMost)
	}
	if iterations == 0 {
		return
	}
	bench.settle(ctx)
	rest := bench.rest()
	if len(rest) == 0 {
		return
	}
	finish := func() {
		for n := range restTimes * iterations {
			if n%1024 == 0 && ctx.Err() != nil {
				return
			}
			p.solve(ctx, fewOf(r, rest), tryAtMost)
		}
		p.reroute(ctx)
	}
	p.reroute(ctx)
	finish()
	for range restAgain {
		p.better(p.total(), rest, func() {
			p.layBy(p.prices, rest, func() float64 { return 0.7 + 0.6*r.Float64() })
			finish()
		})
	}
}

// fewOf picks a few of some jobs by chance.
func fewOf(r *rand.Rand, jobs []int) (some []int) {
	for len(some) < min(together, len(jobs)) {
		if n := jobs[r.IntN(len(jobs))]; !slices.Contains(some, n) {
			some = append(some, n)
		}
	}
	return some
}

// How often whole weeks are laid anew by prices instead of a few jobs, and how often the weeks of the bench are shared out.
const (
	relayEvery  = 8
	settleEvery = 3000
	restAgain   = 2   // how often it is laid anew for that
	restTimes   = 3   // how much more often what exchanges leave alone is improved by itself in the end
	mostRelaid  = 200 // jobs at once
)

// someWeeks lists the jobs of a few weeks that follow one another, and of those that wait as many as may be laid anew with them.
func (p *problem) someWeeks(r *rand.Rand, in [][]int) (jobs []int) {
	from := r.IntN(p.Weeks)
	for w := from; w < min(p.Weeks, from+1+r.IntN(6)); w++ {
		jobs = append(jobs, in[w]...)
	}
	first := r.IntN(len(p.Jobs))
	for k := range p.Jobs {
		n := (first + k) % len(p.Jobs)
		if p.chosen[n] == nil && !p.pinned[n] {
			if len(jobs) >= mostRelaid {
				break
			}
			jobs = append(jobs, n)
		}
	}
	return jobs
}

// inWeeks lists the jobs by the week in which they begin.
func (p *problem) inWeeks() [][]int {
	in := make([][]int, p.Weeks)
	for n, o := range p.chosen {
		if o != nil && !p.pinned[n] {
			in[o.week] = append(in[o.week], n)
		}
	}
	return in
}

// inTheWay picks a job that costs more than it must, a better option of it, and some of the jobs that hold what that option lacks; none
// when the job stands where it likes to.
func (p *problem) inTheWay(r *rand.Rand) []int {
	n := p.wronged(r)
	now := p.costs(n)
	better := 0
	for better < len(p.options[n]) && p.options[n][better].cents < now {
		better++
	}
	if better == 0 || p.pinned[n] {
		return nil
	}
	o := &p.options[n][r.IntN(better)]
	var lacking []int
	for _, u := range o.uses {
		if of := p.resources[u.of]; of.used+u.amount > of.cap+tolerance {
			lacking = append(lacking, u.of)
		}
	}
	var holders []int
	for m, other := range p.chosen {
		if len(lacking) > 0 && other != nil && m != n && !p.pinned[m] && other.usesAny(lacking) {
			holders = append(holders, m)
		}
	}
	some := []int{n}
	for len(some) < together && len(holders) > 0 {
		k := r.IntN(len(holders))
		some = append(some, holders[k])
		holders[k] = holders[len(holders)-1]
		holders = holders[:len(holders)-1]
	}
	return some
}

// wronged is of three jobs the one that costs most more than it must.
func (p *problem) wronged(r *rand.Rand) (worst int) {
	most := int64(-1)
	for range 3 {
		n := r.IntN(len(p.Jobs))
		if len(p.options[n]) > 0 && p.costs(n)-p.options[n][0].cents > most {
			worst, most = n, p.costs(n)-p.options[n][0].cents
		}
	}
	return worst
}

// usesAny reports whether an option uses one of some resources.
func (o *option) usesAny(of []int) bool {
	for _, u := range o.uses {
		if slices.Contains(of, u.of) {
			return true
		}
	}
	return false
}

// anyFew picks a few jobs by chance, or because they are near each other in time.
func (p *problem) anyFew(r *rand.Rand) []int {
	some := []int{r.IntN(len(p.Jobs))}
	near := r.IntN(2) == 0
	for len(some) < min(together, len(p.Jobs)) {
		some = append(some, p.another(r, some, near))
	}
	return some
}

// another picks a job that is not among some, near the first of them in time if that is wanted and there is one. Where chance does not find
// one soon, as in a small season, the jobs are gone through once.
func (p *problem) another(r *rand.Rand, some []int, near bool) int {
	for range 20 {
		if n := r.IntN(len(p.Jobs)); !slices.Contains(some, n) && (!near || p.meet(some[0], n)) {
			return n
		}
	}
	from, other := r.IntN(len(p.Jobs)), -1
	for k := range p.Jobs {
		n := (from + k) % len(p.Jobs)
		switch {
		case slices.Contains(some, n):
		case !near || p.meet(some[0], n):
			return n
		case other < 0:
			other = n
		}
	}
	return other
}

// meet reports whether two jobs may begin in the same weeks.
func (p *problem) meet(a, b int) bool {
	x, y := p.Jobs[a], p.Jobs[b]
	return x.Place == y.Place && x.Opens <= y.Last && y.Opens <= x.Last
}
