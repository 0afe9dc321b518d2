package season

import (
	"cmp"
	"context"
	"encoding/json"
	"math"
	"slices"
)

// Small seasons are looked through to the end, up to how many jobs and in how many rounds of all nodes at the most beyond those.
const (
	exactJobs    = 12
	smallJobs    = 150
	smallLooks   = 40_000_000 // at options
	rootRounds   = 300        // of the ascent before anything is decided
	branchRounds = 6          // after each decision
)

// smallRounds are how many rounds a season is looked through for that is not looked through to the end.
func (p *problem) smallRounds() int {
	looks := 1
	for _, options := range p.options {
		looks += len(options)
	}
	return smallLooks / looks
}

// An enumeration looks through all plans that may cost less than the best known (branch and bound). Job after job is decided, those first
// to which the fewest options are left. At each node the Lagrangian relaxation of what is still shared bounds what can come of it; its
// multipliers begin where those of the node above were best.
type enumeration struct {
	*problem
	ctx    context.Context
	rounds int // that are left
	cut    bool
	total  int64 // of the best plan, without what is kept
	best   []*option

	twin      []int     // of each job: another that is like it in all, before it; -1 for none
	potential []float64 // by week: places that undecided jobs may take on its trip
	excess    []float64 // scratch: how much more each resource is used than there is, as a share of its room
	cheapest  []float64 // scratch: of each job, by the prices of now
	with      []*option
}

// enumerate improves the plan to the best there is, and gives a bound: what the best costs, unless it was cut short by ctx or by the number
// of rounds.
func (p *problem) enumerate(ctx context.Context, rounds int) (bound int64) {
	open := p.open()
	e := &enumeration{
		problem: p, ctx: ctx, rounds: rounds, total: p.total() - p.keptCents, best: slices.Clone(p.chosen),
		potential: make([]float64, p.Weeks), excess: make([]float64, len(p.resources)),
		cheapest: make([]float64, len(p.Jobs)), with: make([]*option, len(p.Jobs)),
	}
	for _, n := range open {
		p.take(n, nil)
	}
	e.twins(open)
	if len(open) <= exactJobs {
		caps := e.tighten(open)
		defer func() {
			for r, cap := range caps {
				p.resources[r].cap = cap
			}
		}()
	}
	price := p.prices
	if len(price) == 0 {
		price = make([]float64, len(p.resources))
	}
	ways := make([]ways, len(p.Jobs))
	for _, n := range open {
		ways[n].leave = !p.pinned[n]
		for i := range p.options[n] {
			if o := &p.options[n][i]; p.pinned[n] || o.cents < p.unplaced[n] {
				ways[n].options = append(ways[n].options, o)
			}
		}
	}
	root := e.node(open, ways, price, 0, rootRounds)
	for _, n := range open {
		p.take(n, e.best[n])
	}
	if e.cut {
		return min(root, e.total) + p.keptCents
	}
	return e.total + p.keptCents
}

// twins finds jobs that are alike. Of plans in which such change places only one is looked at.
func (e *enumeration) twins(open []int) {
	e.twin = make([]int, len(e.Jobs))
	alike := map[string]int{}
	for _, n := range open {
		e.twin[n] = -1
		j := e.Jobs[n]
		j.ID = ""
		text, err := json.Marshal(j)
		if err != nil {
			continue // then it is like no other
		}
		if m, known := alike[string(text)]; known {
			e.twin[n] = m
		}
		alike[string(text)] = n
	}
}

// tighten takes off what is there of each resource all that no set of the open jobs can use: of 45 minutes 15, where every job takes 30. It
// gives what there was.
func (e *enumeration) tighten(open []int) (caps []float64) {
	amounts := make([][]float64, len(e.resources))
	for _, n := range open {
		most := map[int]float64{}
		for _, o := range e.options[n] {
			for _, u := range o.uses {
				most[u.of] = u.amount // the same in all options
			}
		}
		for r, amount := range most {
			amounts[r] = append(amounts[r], amount)
		}
	}
	for r := range e.resources {
		of := &e.resources[r]
		caps = append(caps, of.cap)
		left, fullest := of.cap-of.used+tolerance, 0.
		sums := []float64{0}
		for _, amount := range amounts[r] {
			for _, sum := range sums {
				if sum+amount <= left {
					sums = append(sums, sum+amount)
					fullest = math.Max(fullest, sum+amount)
				}
			}
		}
		of.cap = math.Min(of.cap, of.used+fullest)
	}
	return caps
}

// ways are those in which a job may be done, the cheapest first, and whether it may be left out.
type ways struct {
	options []*option
	leave   bool
}

func (w ways) many() int {
	if w.leave {
		return len(w.options) + 1
	}
	return len(w.options)
}

// node decides the jobs that are open, each in one of its ways, beside what was decided at a cost. It gives what none of the plans below it
// stays below.
func (e *enumeration) node(open []int, of []ways, price []float64, decided int64, rounds int) (bound int64) {
	if len(open) == 0 {
		if decided < e.total {
			e.total = decided
			copy(e.best, e.chosen)
		}
		return decided
	}
	price, bound = e.climb(open, of, price, decided, rounds)
	if bound >= e.total || e.cut {
		return bound
	}
	value := e.value(open, of, price) + float64(decided)
	of = e.narrow(open, of, price, value)
	next, fewest := -1, math.MaxInt
	for k, n := range open {
		if m := e.twin[n]; m >= 0 && slices.Contains(open, m) {
			continue // its twin comes first
		}
		if many := of[n].many(); many < fewest {
			next, fewest = k, many
		}
	}
	n := open[next]
	rest := slices.Delete(slices.Clone(open), next, next+1)
	for _, c := range e.candidates(n, of[n], price) {
		if wholeCents(value+c.excess) >= e.total || e.cut {
			break
		}
		if m := e.twin[n]; m >= 0 && e.place(n, c.with) < e.place(m, e.chosen[m]) {
			continue
		}
		cents := e.unplaced[n]
		if c.with != nil {
			cents = c.with.cents + e.unpaid(n, c.with)
		}
		e.take(n, c.with)
		e.node(rest, of, price, decided+cents, branchRounds)
		e.take(n, nil)
	}
	return bound
}

// narrow leaves out the ways by which no plan costs less than the best any more.
func (e *enumeration) narrow(open []int, of []ways, price []float64, value float64) []ways {
	narrow := make([]ways, len(of))
	for _, n := range open {
		better := func(cost float64) bool { return wholeCents(value+cost-e.cheapest[n]) < e.total }
		narrow[n].leave = of[n].leave && better(float64(e.unplaced[n]))
		for _, o := range of[n].options {
			if fits, _ := e.fits(o); fits && better(e.charged(n, o, price)) {
				narrow[n].options = append(narrow[n].options, o)
			}
		}
	}
	return narrow
}

// place is where an option stands among those of its job; leaving it out comes last. Options of twins stand in the same order.
func (e *enumeration) place(n int, o *option) int {
	if o == nil {
		return math.MaxInt
	}
	return slices.IndexFunc(e.options[n], func(other option) bool { return other.week == o.week && other.loaner == o.loaner })
}

// A candidate is an option of a job, nil for leaving it out, and how much more than the cheapest it costs by the prices of now.
type candidate struct {
	with   *option
	excess float64
}

// candidates lists the ways of a job, those first that cost least.
func (e *enumeration) candidates(n int, of ways, price []float64) (list []candidate) {
	if of.leave {
		list = append(list, candidate{nil, float64(e.unplaced[n]) - e.cheapest[n]})
	}
	for _, o := range of.options {
		list = append(list, candidate{o, e.charged(n, o, price) - e.cheapest[n]})
	}
	slices.SortStableFunc(list, func(a, b candidate) int { return cmp.Compare(a.excess, b.excess) })
	return list
}

// climb moves the prices along the subgradient for some rounds. It gives the best of them, and the bound that they make.
func (e *enumeration) climb(open []int, of []ways, price []float64, decided int64, rounds int) (best []float64, bound int64) {
	e.count(open, of)
	up := newAscent(len(price), 1.5, 10)
	now := slices.Clone(price)
	best = slices.Clone(price)
	for range rounds {
		if e.rounds--; e.rounds < 0 || e.rounds%64 == 0 && e.ctx.Err() != nil {
			e.cut = true
			break
		}
		value := e.value(open, of, now)
		if math.IsInf(value, 1) { // a pinned job fits no more
			return best, math.MaxInt64
		}
		if up.grew(value) {
			copy(best, now)
		}
		if wholeCents(up.best+float64(decided)) >= e.total {
			break
		}
		for r, x := range e.excess {
			if x < 0 && now[r] == 0 {
				e.excess[r] = 0
			}
		}
		length := up.turn(e.excess, float64(e.total-decided)-value)
		if length == 0 {
			break
		}
		for r, x := range up.way {
			now[r] = math.Max(0, now[r]+length*x)
		}
	}
	return best, wholeCents(up.best + float64(decided))
}

// count notes for each trip how many places the open jobs may take on it.
func (e *enumeration) count(open []int, of []ways) {
	clear(e.potential)
	for _, n := range open {
		if e.Jobs[n].Place != Van {
			continue
		}
		last := -1
		for _, o := range of[n].options {
			if o.week != last {
				if fits, _ := e.fits(o); fits {
					e.potential[o.week] += float64(e.Jobs[n].places())
					last = o.week
				}
			}
		}
	}
}

// value is what the open jobs do not stay below in any plan, by some prices: each is done where it is cheapest when all that it uses is paid
// for, and what is left of everything is given back.
func (e *enumeration) value(open []int, of []ways, price []float64) (value float64) {
	for r := range e.resources {
		left := 0.
		if room := e.resources[r].room(); room > 0 {
			left = math.Max(0, (e.resources[r].cap-e.resources[r].used)/room)
		}
		e.excess[r] = -left
		value -= price[r] * left
	}
	for _, n := range open {
		e.cheapest[n], e.with[n] = math.Inf(1), nil
		if of[n].leave {
			e.cheapest[n] = float64(e.unplaced[n])
		}
		for _, o := range of[n].options {
			if float64(o.cents) >= e.cheapest[n] {
				break // they are in order, and prices only add
			}
			if fits, _ := e.fits(o); !fits {
				continue
			}
			if cost := e.charged(n, o, price); cost < e.cheapest[n] {
				e.cheapest[n], e.with[n] = cost, o
			}
		}
		value += e.cheapest[n]
		if e.with[n] != nil {
			for _, u := range e.with[n].uses {
				e.excess[u.of] += u.amount / e.resources[u.of].room()
			}
		}
	}
	return value
}

// charged is what an option costs when all that it uses is paid for, with its share of a trip on which nobody rides yet: by places, of
// those that may still be taken.
func (e *enumeration) charged(n int, o *option, price []float64) float64 {
	cost := float64(o.cents)
	for _, u := range o.uses {
		cost += price[u.of] * u.amount / e.resources[u.of].room()
	}
	if fare := e.unpaid(n, o); fare > 0 {
		t := e.trips[o.week]
		of := e.resources[t.resource]
		places := float64(e.Jobs[n].places())
		cost += float64(fare) * places / math.Max(places, math.Min(e.potential[o.week], of.cap-of.used))
	}
	return cost
}

// unpaid is what the trip of an option adds to what is kept and decided.
func (e *enumeration) unpaid(n int, o *option) int64 {
	if t := e.trips[o.week]; e.Jobs[n].Place == Van && t.riders == 0 {
		return t.extra()
	}
	return 0
}
