package season

import (
	"cmp"
	"context"
	"math"
	"slices"
)

const (
	tripRounds = 600
	nodeRounds = 80          // of each question whether one trip goes
	tripStalls = 15          // rounds without a better bound after which the steps are halved
	tripCells  = 150_000_000 // in all knapsacks of all rounds, about, at the most: a third of a second's work
	mostNodes  = 400         // questions

	optionCells = 10 // what looking at one way to do a job counts as
)

// tripsBound is a cost that what rides on trips, and some others that share money and loaners with it, do not stay below, whatever else is
// done; they cost total in a plan at hand. The prices of the other bound share a trip's fixed cost out by its places, so a trip that is
// half empty is half paid. Here it is paid as a whole: what is relaxed is that each rider's job is done once, and what is shared beyond
// trips. Each trip by itself goes with those by whom most is won, or not at all. It begins with those prices and what by them each job
// is worth, so it is never below that bound. Then it asks of one trip after the other what no plan with it and none without it stays
// below (branch and bound): the lowest of all answers holds.
func (p *problem) tripsBound(ctx context.Context, riders, others []int, total int64, price []float64) int64 {
	b := newTripPrices(p, riders, price)
	b.others = others
	open := []node{b.climb(ctx, node{bound: math.Inf(-1), at: b.now(), goes: make([]answer, p.Weeks)}, total, tripRounds)}
	for asked := 0; ; asked++ {
		least := 0
		for k := range open {
			if open[k].bound < open[least].bound {
				least = k
			}
		}
		lowest := open[least]
		if lowest.bound >= float64(total) || lowest.unsure < 0 || asked == mostNodes || b.trip.looked > tripCells || ctx.Err() != nil {
			return wholeCents(lowest.bound)
		}
		open = slices.Delete(open, least, least+1)
		for _, a := range []answer{stays, goes} {
			n := lowest
			n.goes = slices.Clone(lowest.goes)
			n.goes[lowest.unsure] = a
			open = append(open, b.climb(ctx, n, total, nodeRounds))
		}
	}
}

// An answer says whether a trip goes.
type answer int8

const (
	either answer = iota
	goes
	stays
)

// A node is a set of plans, by which trips go in them, and what none of them stays below.
type node struct {
	goes   []answer // by week
	bound  float64
	at     multipliers // by which the bound was found
	unsure int         // the week of the trip that went in about half of the rounds; -1 when all are sure
}

// multipliers are prices that make a relaxation.
type multipliers struct {
	worth []float64 // of each rider's job: what it is worth that it is done
	price []float64 // of the whole of each resource; those of trips are not used
}

// climb moves the multipliers along the subgradient, from where they were best before.
func (b *tripPrices) climb(ctx context.Context, n node, total int64, rounds int) node {
	b.worth, b.price = slices.Clone(n.at.worth), slices.Clone(n.at.price)
	up, went := newAscent(len(b.slope), 1, tripStalls), make([]float64, b.Weeks)
	for range rounds {
		value := b.value(n.goes, went)
		if up.grew(value) {
			n.at = b.now()
		}
		length := up.turn(b.slope, float64(total)-value)
		if length == 0 || up.best >= float64(total) || b.trip.looked > tripCells || ctx.Err() != nil {
			break
		}
		for k := range b.worth {
			b.worth[k] += length * up.way[k]
		}
		for r := range b.price {
			b.price[r] = math.Max(0, b.price[r]+length*up.way[len(b.worth)+r])
		}
	}
	n.bound, n.unsure = math.Max(n.bound, up.best), -1
	for w, share := range went {
		if b.trips[w] != nil && n.goes[w] == either && (n.unsure < 0 || math.Abs(share-0.5) < math.Abs(went[n.unsure]-0.5)) {
			n.unsure = w
		}
	}
	return n
}

// tripPrices are the multipliers of that relaxation, and room to reckon with them.
type tripPrices struct {
	*problem
	multipliers
	riders  []int
	others  []int
	onTrip  []bool     // by resource: it is the places of a trip
	ridings [][]riding // by week
	slope   []float64  // in which direction each multiplier raises the value: first worth, then prices
	trip    knapsack   // to fill one in, with those that were put there
	some    []riding
}

func newTripPrices(p *problem, riders []int, price []float64) *tripPrices {
	b := &tripPrices{
		problem: p, multipliers: multipliers{make([]float64, len(riders)), slices.Clone(price)}, riders: riders,
		onTrip:  make([]bool, len(p.resources)),
		ridings: make([][]riding, p.Weeks), slope: make([]float64, len(riders)+len(price)),
	}
	for _, t := range p.trips {
		b.onTrip[t.resource] = true
	}
	for k, n := range riders {
		b.worth[k] = math.Inf(1)
		if !p.pinned[n] {
			b.worth[k] = float64(p.unplaced[n])
		}
		for i := range p.options[n] {
			o := &p.options[n][i]
			b.worth[k] = math.Min(b.worth[k], p.priced(n, o, price))
			b.ridings[o.week] = append(b.ridings[o.week], riding{of: k, with: o, places: p.Jobs[n].places()})
		}
	}
	for _, list := range b.ridings { // both ways of a job beside each other
		slices.SortStableFunc(list, func(x, y riding) int { return cmp.Compare(x.of, y.of) })
	}
	return b
}

func (b *tripPrices) now() multipliers {
	return multipliers{slices.Clone(b.worth), slices.Clone(b.price)}
}

// A riding is one way for a job to go by a trip: with or without a loaner.
type riding struct {
	of     int // its place among the riders
	with   *option
	places int
	gain   float64 // by the multipliers of now, below 0 if something is won
}

// value is the relaxation's value where it is said which trips go. It notes the slope, and of each trip the share of the latest rounds in
// which it went.
func (b *tripPrices) value(said []answer, went []float64) (value float64) {
	for k, n := range b.riders {
		b.slope[k] = 1
		value += b.worth[k]
		if left := float64(b.unplaced[n]) - b.worth[k]; left < 0 && !b.pinned[n] {
			value += left
			b.slope[k]--
		}
	}
	slope := b.slope[len(b.riders):]
	for r, price := range b.price {
		slope[r] = 0
		if !b.onTrip[r] {
			value -= price
			slope[r] = -1
		}
	}
	for _, n := range b.others {
		cheapest, with := b.cheapest(n, b.price)
		value += cheapest
		b.trip.looked += optionCells * len(b.options[n])
		if with != nil {
			for _, u := range with.uses {
				slope[u.of] += u.amount / b.resources[u.of].room()
			}
		}
	}
	for w := range b.Weeks {
		went[w] *= 1 - latest
		t := b.trips[w]
		if t == nil || said[w] == stays {
			continue
		}
		won, with := b.fill(w, int(math.Min(b.resources[t.resource].room(), mostRoom)))
		if won += float64(t.extra()); won >= 0 && said[w] == either {
			continue
		}
		value += won
		went[w] += latest
		for _, r := range with {
			b.slope[r.of]--
			for _, u := range r.with.uses {
				if !b.onTrip[u.of] {
					slope[u.of] += u.amount / b.resources[u.of].room()
				}
			}
		}
	}
	for r, price := range b.price {
		if price == 0 && slope[r] < 0 {
			slope[r] = 0
		}
	}
	return value
}

// fill fills a trip with those by whom most is won: their cost less what they are worth, at most 0.
func (b *tripPrices) fill(week, places int) (won float64, with []riding) {
	b.some = b.some[:0]
	b.trip.looked += optionCells * len(b.ridings[week])
	for _, r := range b.ridings[week] {
		r.gain = float64(r.with.cents) - b.worth[r.of]
		for _, u := range r.with.uses {
			if !b.onTrip[u.of] {
				r.gain += b.price[u.of] * u.amount / b.resources[u.of].room()
			}
		}
		if r.gain >= 0 || r.places > places {
			continue
		}
		if last := len(b.some) - 1; last >= 0 && b.some[last].of == r.of { // the better of its two ways
			if r.gain < b.some[last].gain {
				b.some[last] = r
			}
			continue
		}
		b.some = append(b.some, r)
	}
	b.trip.empty()
	for _, r := range b.some {
		b.trip.put(r.places, r.gain)
	}
	won, chosen, _ := b.trip.fill(places) // what is too much to reckon with is taken to fit, which wins no less
	for _, k := range chosen {
		with = append(with, b.some[k])
	}
	return won, with
}
