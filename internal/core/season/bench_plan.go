package season

import (
	"cmp"
	"context"
	"maps"
	"slices"
	"sync"
)

// When plans are laid by the shares of the bench's bound: after its first rounds, and then as often as there is time for, since a plan takes
// the longer the more jobs and minutes there are.
const (
	layFirst     = 39
	layRounds    = 200         // over which the plans are spread
	layMost      = 48          // plans
	layCells     = 600_000_000 // in the knapsacks of all plans, about: a second's work for two
	settleRounds = 3           // that an exchange takes, about
	layersAtOnce = 2           // as many as the smallest machine has processors
	leastShare   = 0.02        // that counts
)

// plansToLay is how many plans there is time for.
func (e *exchange) plansToLay() int {
	jobs, minutes, room := 0, 0, 0
	for _, m := range e.minutes {
		if m > 0 {
			jobs++
			minutes += m
		}
	}
	for w := range e.Weeks {
		room += min(int(min(e.resources[w].cap, mostRoom)), minutes)
	}
	return min(layMost, layCells/max(1, settleRounds*jobs*room))
}

// layBench lays the bench anew by what its bound finds on the way, keeps the best of these plans if it is better than the one there is,
// and gives the bound. Plans are laid beside the bound, each on a copy; which of two equal ones was found first decides.
func (p *problem) layBench(ctx context.Context, lay bool) (bound int64) {
	e := newExchange(p)
	if !slices.ContainsFunc(e.minutes, func(m int) bool { return m > 0 }) {
		return 0
	}
	most := 0
	if lay {
		most = e.plansToLay()
	}
	type order struct {
		place  int
		shares [][]float64
	}
	orders, plans := make(chan order, most), make([]laid, most)
	var layers sync.WaitGroup
	for range layersAtOnce {
		layers.Go(func() {
			x := newExchange(p.copied())
			for o := range orders {
				plans[o.place] = x.laidBy(ctx, o.shares)
			}
		})
	}
	given := 0
	bound = e.bound(ctx, p.prices, func(round int, of [][]float64) {
		if given < most && round >= layFirst && (round-layFirst)%max(1, layRounds/most) == 0 {
			now := make([][]float64, len(of))
			for n := range of {
				now[n] = slices.Clone(of[n])
			}
			orders <- order{given, now}
			given++
		}
	})
	close(orders)
	layers.Wait()
	best := laid{p.total(), p.chosen}
	for _, plan := range plans {
		if plan.chosen != nil && plan.total < best.total {
			best = plan
		}
	}
	e.lay(best.chosen)
	return bound
}

// A laid plan and what it costs.
type laid struct {
	total  int64
	chosen []*option
}

// laidBy is the plan that some shares lead to; none once ctx has ended.
func (e *exchange) laidBy(ctx context.Context, shares [][]float64) laid {
	if ctx.Err() != nil {
		return laid{}
	}
	e.layByShares(shares)
	e.settle(ctx)
	return laid{e.total(), slices.Clone(e.chosen)}
}

// lay takes the bench's part of a plan over.
func (e *exchange) lay(chosen []*option) {
	chosen = slices.Clone(chosen) // it may be the plan that is taken apart
	for _, take := range []func(n int){func(n int) { e.take(n, nil) }, func(n int) { e.take(n, chosen[n]) }} {
		for n, m := range e.minutes {
			if m > 0 {
				take(n)
			}
		}
	}
}

// copied is the problem with a plan of its own; what can be chosen is shared.
func (p *problem) copied() *problem {
	other := *p
	other.resources, other.chosen, other.trips = slices.Clone(p.resources), slices.Clone(p.chosen), maps.Clone(p.trips)
	for w, t := range other.trips {
		its := *t
		other.trips[w] = &its
	}
	return &other
}

// layByShares lays the bench anew: long jobs first, since they find no room later, each in the week that does most of it and has room;
// then what has no share, where it costs least.
func (e *exchange) layByShares(shares [][]float64) {
	type bid struct {
		job, option int
		share       float64
	}
	var bids []bid
	for n, m := range e.minutes {
		if m == 0 {
			continue
		}
		e.take(n, nil)
		for k, o := range e.options[n] {
			if share := shares[n][o.week]; share > leastShare {
				bids = append(bids, bid{n, k, share})
			}
		}
	}
	slices.SortStableFunc(bids, func(a, b bid) int {
		return cmp.Or(e.minutes[b.job]-e.minutes[a.job], cmp.Compare(b.share, a.share))
	})
	for _, b := range bids {
		o := &e.options[b.job][b.option]
		if fits, _ := e.fits(o); fits && e.chosen[b.job] == nil {
			e.take(b.job, o)
		}
	}
	for n, m := range e.minutes {
		if m == 0 || e.chosen[n] != nil {
			continue
		}
		for k := range e.options[n] {
			o := &e.options[n][k]
			if fits, _ := e.fits(o); fits && o.cents < e.unplaced[n] {
				e.take(n, o)
				break
			}
		}
	}
}
