package season

import (
	"cmp"
	"context"
	"math/rand/v2"
	"slices"
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
		var best *option
		least := p.unplaced[n]
		for i := range p.options[n] {
			o := &p.options[n][i]
			if o.cents >= least {
				break
			}
			if ok, _ := p.fits(o); ok && o.cents+p.fare(n, o) < least {
				best, least = o, o.cents+p.fare(n, o)
			}
		}
		p.take(n, best)
	}
}

// improve takes a few jobs out, by chance or because they are near each other in time, and lays them anew, so often.
func (p *problem) improve(ctx context.Context, seed int64, iterations int) {
	r := rand.New(rand.NewPCG(uint64(seed), 17))
	for range iterations {
		if ctx.Err() != nil {
			return
		}
		some := []int{r.IntN(len(p.Jobs))}
		near := r.IntN(2) == 0
		for len(some) < min(together, len(p.Jobs)) {
			n := r.IntN(len(p.Jobs))
			for tries := 0; near && tries < 20 && !p.meet(some[0], n); tries++ {
				n = r.IntN(len(p.Jobs))
			}
			if !slices.Contains(some, n) {
				some = append(some, n)
			}
		}
		p.solve(ctx, some, tryAtMost)
	}
}

// meet reports whether two jobs may begin in the same weeks.
func (p *problem) meet(a, b int) bool {
	x, y := p.Jobs[a], p.Jobs[b]
	return x.Place == y.Place && x.Opens <= y.Last && y.Opens <= x.Last
}
