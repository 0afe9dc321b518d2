package season

import (
	"cmp"
	"context"
	"slices"
)

// reroute gives trips up, lets others go, or another in the place of one, for as long as that costs less: what a few jobs at a time do not
// find, since a trip is paid until its last rider has left it.
func (p *problem) reroute(ctx context.Context) {
	var riders []int
	for n, j := range p.Jobs {
		if j.Place == Van && !p.pinned[n] && len(p.options[n]) > 0 {
			riders = append(riders, n)
		}
	}
	least := p.total()
	try := func(lay func()) bool {
		before := least
		least = p.better(least, riders, lay)
		return least < before
	}
	for gained := len(riders) > 0; gained; {
		gained = false
		for w := range p.Weeks {
			if p.trips[w] == nil || ctx.Err() != nil {
				continue
			}
			if p.trips[w].riders == 0 {
				gained = try(func() { p.join(w, riders) }) || gained
				continue
			}
			gained = try(func() { p.leave(w, riders) }) || gained
			for other := range p.Weeks {
				if t := p.trips[other]; t != nil && t.riders == 0 && p.trips[w].riders > 0 {
					gained = try(func() { p.join(other, riders); p.leave(w, riders) }) || gained
				}
			}
		}
	}
}

// join lets those ride in a week who gain by it, those first who gain most by the place.
func (p *problem) join(week int, riders []int) {
	type bid struct {
		job  int
		with *option
		gain float64
	}
	var bids []bid
	for _, n := range riders {
		for i := range p.options[n] {
			if o := &p.options[n][i]; o.week == week && o.cents < p.costs(n) {
				bids = append(bids, bid{n, o, float64(p.costs(n)-o.cents) / float64(p.Jobs[n].places())})
			}
		}
	}
	slices.SortStableFunc(bids, func(a, b bid) int { return cmp.Compare(b.gain, a.gain) })
	for _, b := range bids {
		if fits, _ := p.fits(b.with); fits && b.with.cents < p.costs(b.job) {
			p.take(b.job, b.with)
		}
	}
}

// leave empties a trip: its riders go with those that go anyway, or wait.
func (p *problem) leave(week int, riders []int) {
	var homeless []int
	for _, n := range riders {
		if o := p.chosen[n]; o != nil && o.week == week {
			p.take(n, nil)
			homeless = append(homeless, n)
		}
	}
	slices.SortStableFunc(homeless, func(a, b int) int { return cmp.Compare(p.unplaced[b], p.unplaced[a]) })
	for _, n := range homeless {
		for i := range p.options[n] {
			o := &p.options[n][i]
			if o.cents >= p.unplaced[n] {
				break
			}
			if fits, _ := p.fits(o); fits && p.trips[o.week].riders > 0 {
				p.take(n, o)
				break
			}
		}
	}
}
