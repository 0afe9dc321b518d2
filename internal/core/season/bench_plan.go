package season

import (
	"cmp"
	"context"
	"maps"
	"math"
	"slices"
	"sync"
)

// When plans are laid by what the bench's bound has found: after its first rounds, and then as often as there is time for. Most are laid at
// once, some by a dive, which takes longer and finds more where weeks are short for the jobs that are laid there.
const (
	layFirst     = 39
	layRounds    = 150         // over which the plans are spread
	layMost      = 24          // plans that are laid at once
	layCells     = 250_000_000 // in the knapsacks of all of them, about: a third of a second's work for two
	layersAtOnce = 2           // as many as the smallest machine has processors
	settleRounds = 3           // that an exchange takes, about

	nearEnough = 1.0005 // times the bound: no plan is laid any more

	diveMost   = 40          // dives
	diveCells  = 200_000_000 // in the knapsacks of all of them
	diveRounds = 5           // after each week that is settled
	diveAll    = 11          // rounds of all weeks that a dive takes for each of those, about, since weeks and jobs get fewer
	diveStep   = 0.15        // how far the multipliers are moved in a round, of what all jobs cost
	leastShare = 0.01        // that counts
)

// settleCells are those of an exchange that settles, about.
func (e *exchange) settleCells() int {
	jobs, minutes, room := 0, 0, 0
	for _, m := range e.minutes {
		if m > 0 {
			jobs++
			minutes += m
		}
	}
	for w := range e.Weeks {
		room += min(int(min(e.resources[w].room(), mostRoom)), minutes)
	}
	return settleRounds * jobs * room
}

// layBench lays the bench anew by what its bound finds on the way, keeps the best of these plans if it is better than the one there is,
// and gives the bound. Plans are laid beside the bound, each on a copy; which of two equal ones was found first decides.
func (p *problem) layBench(ctx context.Context, lay bool) (bound int64) {
	e := newExchange(p)
	if !slices.ContainsFunc(e.minutes, func(m int) bool { return m > 0 }) {
		return 0
	}
	e.settle(ctx)
	planned := e.planned()
	orders, plans := make(chan guess, layMost+diveMost), make([]laid, layMost+diveMost)
	var layers sync.WaitGroup
	for range layersAtOnce {
		layers.Go(func() {
			x := newExchange(p.copied())
			for g := range orders {
				plans[g.place] = x.laidBy(ctx, g)
			}
		})
	}
	kinds := []struct {
		dive bool
		most int
	}{{false, min(layMost, layCells/max(1, e.settleCells()))}, {true, 0}}
	given := 0
	bound = e.bound(ctx, p.prices, func(round int, best float64, worth []float64) {
		since := round - layFirst
		lay = lay && planned > nearEnough*best
		if !lay || since < 0 {
			return
		}
		if since == 0 {
			kinds[1].most = min(diveMost, diveCells/max(1, diveAll*diveRounds*e.week.looked/(round+1)))
		}
		for _, kind := range kinds {
			if every := max(1, layRounds/max(1, kind.most)); since%every == 0 && since/every < kind.most {
				orders <- guess{given, kind.dive, slices.Clone(worth), copies(e.shares)}
				given++
			}
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

// A guess is what the bound has found by some round.
type guess struct {
	place  int         // among the guesses
	dive   bool        // how a plan is laid by it
	worth  []float64   // of each job: what it is worth that it is done
	shares [][]float64 // of the latest rounds, in which each job was done in each week
}

func copies(of [][]float64) [][]float64 {
	list := make([][]float64, len(of))
	for n := range of {
		list[n] = slices.Clone(of[n])
	}
	return list
}

// laidBy is the plan that a guess leads to; none once ctx has ended.
func (e *exchange) laidBy(ctx context.Context, g guess) laid {
	if g.dive {
		e.dive(ctx, g)
	} else {
		e.layAtOnce(g)
	}
	e.settle(ctx)
	if ctx.Err() != nil {
		return laid{}
	}
	return laid{e.total(), slices.Clone(e.chosen)}
}

// lay takes the bench's part of a plan over.
func (e *exchange) lay(chosen []*option) {
	var jobs []int
	for n, m := range e.minutes {
		if m > 0 {
			jobs = append(jobs, n)
		}
	}
	e.takeOver(jobs, slices.Clone(chosen)) // it may be the plan that is taken apart
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

// layAtOnce lays the bench anew: long jobs first, since they find no room later, each in the week that does most of it and has room; then
// what has no share, where it costs least.
func (e *exchange) layAtOnce(g guess) {
	type bid struct {
		job, option int
		share       float64
	}
	var bids []bid
	var jobs []int
	for n, m := range e.minutes {
		if m == 0 {
			continue
		}
		jobs = append(jobs, n)
		e.take(n, nil)
		for k, o := range e.options[n] {
			if share := g.shares[n][o.week]; share > leastShare {
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
	e.layRest(jobs)
}

// layRest lays what was laid nowhere yet, where it costs least.
func (e *exchange) layRest(jobs []int) {
	for _, n := range jobs {
		for k := range e.options[n] {
			o := &e.options[n][k]
			if fits, _ := e.fits(o); e.chosen[n] == nil && fits && o.cents < e.unplaced[n] {
				e.take(n, o)
			}
		}
	}
}

// dive lays the bench anew: the week that is surest what is done in it is settled, the others go on for a few rounds without it and
// without what is done then, and so on; in the end what found no week begins where it costs least.
func (e *exchange) dive(ctx context.Context, g guess) {
	var left []int
	cost := 0.
	for n, m := range e.minutes {
		if m > 0 {
			e.take(n, nil)
			left = append(left, n)
			cost += math.Min(g.worth[n], float64(e.unplaced[n]))
		}
	}
	e.shares = g.shares
	weeks := make([]int, e.Weeks)
	for w := range weeks {
		weeks[w] = w
	}
	done, down := make([]float64, len(e.Jobs)), newAscent(len(e.Jobs), diveStep, math.MaxInt)
	for len(weeks) > 0 && ctx.Err() == nil {
		surest := slices.MaxFunc(weeks, func(a, b int) int { return cmp.Compare(e.sure(a, left), e.sure(b, left)) })
		e.decide(surest, left)
		weeks = slices.DeleteFunc(weeks, func(w int) bool { return w == surest })
		left = slices.DeleteFunc(left, func(n int) bool { return e.chosen[n] != nil })
		for range diveRounds {
			e.round(weeks, left, g.worth, done)
			length := down.turn(undone(left, done), cost)
			for _, n := range left {
				g.worth[n] += length * down.way[n]
			}
		}
	}
	e.layRest(left)
}

// sure is how much the latest rounds agree on what is done in a week, from 0 to 1; more where nothing is.
func (e *exchange) sure(week int, jobs []int) float64 {
	agreed, all := 0., 0.
	for _, n := range jobs {
		share := e.shares[n][week]
		agreed += share * share * float64(e.minutes[n])
		all += share * float64(e.minutes[n])
	}
	if all == 0 {
		return 2
	}
	return agreed / all
}

// decide fills a week with those jobs that the latest rounds did there most.
func (e *exchange) decide(week int, jobs []int) {
	e.week.empty()
	e.some = e.some[:0]
	room := e.room(week, nil)
	for _, n := range jobs {
		if cents := e.cents[n][week]; cents < e.unplaced[n] && e.shares[n][week] > leastShare && e.minutes[n] <= room {
			e.some = append(e.some, n)
			e.week.put(e.minutes[n], -e.shares[n][week]*float64(e.minutes[n]))
		}
	}
	if _, chosen, ok := e.week.fill(room); ok {
		for _, k := range chosen {
			e.take(e.some[k], e.in(e.some[k], week))
		}
	}
}
