package season

import (
	"cmp"
	"context"
	"math"
	"slices"
)

const (
	rounds = 900 // how often the multipliers of the bound are moved, at most
	stalls = 20  // rounds without a better bound after which the steps are halved
	every  = 30  // rounds after which a plan is laid by the prices found so far
)

// bound is a cost that some jobs do not stay below in any plan: the Lagrangian relaxation of all that jobs share, whose multipliers are
// moved along the subgradient. A trip's fixed cost is shared out by places, which never charges more than the trip, since its riders
// take no more places than it has. Costs are whole cents, so the bound may be rounded up.
//
// The multipliers are prices of what is short. On the way they are told to lay, which may make a plan of them and says what the best one
// costs. The last best prices are kept for the improvement.
func (p *problem) bound(ctx context.Context, jobs []int, total int64, lay func(price []float64) (total int64)) int64 {
	price := p.known(jobs) // of the whole of each
	up := newAscent(len(p.resources), 1.5, stalls)
	excess := make([]float64, len(p.resources))
	for round := range rounds {
		value := 0.
		for r := range excess {
			excess[r] = -1
			value -= price[r]
		}
		for _, n := range jobs {
			cheapest, with := p.cheapest(n, price)
			value += cheapest
			if with != nil {
				for _, u := range with.uses {
					excess[u.of] += u.amount / p.resources[u.of].room()
				}
			}
		}
		if up.grew(value) {
			p.prices = append(p.prices[:0], price...)
		}
		if round%every == every-1 {
			total = min(total, lay(price))
			if ctx.Err() != nil {
				break
			}
		}
		for r, e := range excess {
			if e < 0 && price[r] == 0 {
				excess[r] = 0
			}
		}
		length := up.turn(excess, float64(total)-value)
		if length == 0 {
			break
		}
		for r, e := range up.way {
			price[r] = math.Max(0, price[r]+length*e)
		}
	}
	return wholeCents(up.best)
}

// wholeCents rounds a bound up, since plans cost whole cents, but for what may be an error of rounding. Nothing costs less than nothing.
func wholeCents(bound float64) int64 {
	return max(0, int64(math.Ceil(bound-1e-6*(1+math.Abs(bound)))))
}

// cheapest is what a job costs at the least when all that it uses is paid for, and how it is done then; nil for not at all.
func (p *problem) cheapest(n int, price []float64) (cheapest float64, with *option) {
	cheapest = float64(p.unplaced[n])
	if p.pinned[n] {
		cheapest = math.Inf(1)
	}
	for i := range p.options[n] {
		o := &p.options[n][i]
		if float64(o.cents) >= cheapest {
			break // they are in order, and prices only add
		}
		if cost := p.priced(n, o, price); cost < cheapest {
			cheapest, with = cost, o
		}
	}
	return cheapest, with
}

// priced is what an option costs when all that it uses is paid for, and its share of a trip.
func (p *problem) priced(n int, o *option, price []float64) float64 {
	cost := float64(o.cents)
	for _, u := range o.uses {
		share := u.amount / p.resources[u.of].room()
		cost += price[u.of] * share
		if t := p.trips[o.week]; t != nil && p.Jobs[n].Place == Van && u.of == t.resource {
			cost += float64(t.extra()) * share
		}
	}
	return cost
}

// layBy lays some jobs anew by prices: those first that gain most by being placed, each where it costs least then. The prices may be
// shaken, so that another plan comes of them.
func (p *problem) layBy(price []float64, jobs []int, shake func() float64) {
	type bid struct {
		n    int
		gain float64
	}
	bids := make([]bid, 0, len(jobs))
	for _, n := range jobs {
		p.take(n, nil)
	}
	for _, n := range jobs {
		least := math.Inf(1)
		for i := range p.options[n] {
			if o := &p.options[n][i]; float64(o.cents) < least {
				least = math.Min(least, p.priced(n, o, price))
			}
		}
		bids = append(bids, bid{n, (float64(p.unplaced[n]) - least) * shake()})
	}
	slices.SortStableFunc(bids, func(a, b bid) int { return cmp.Compare(b.gain, a.gain) })
	for _, b := range bids {
		var best *option
		least := float64(p.unplaced[b.n])
		for i := range p.options[b.n] {
			o := &p.options[b.n][i]
			if float64(o.cents) >= least {
				break
			}
			if cost := p.priced(b.n, o, price); cost < least {
				if ok, _ := p.fits(o); ok {
					best, least = o, cost
				}
			}
		}
		p.take(b.n, best)
	}
}

// known are the prices found so far of what some jobs may use; 0 for the rest.
func (p *problem) known(jobs []int) []float64 {
	price := make([]float64, len(p.resources))
	if len(p.prices) == 0 {
		return price
	}
	for _, n := range jobs {
		for _, o := range p.options[n] {
			for _, u := range o.uses {
				price[u.of] = p.prices[u.of]
			}
		}
	}
	return price
}
