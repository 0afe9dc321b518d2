package season

import "math"

// rounds is how often the multipliers of the bound are moved.
const rounds = 300

// bound is a cost that no plan stays below: the Lagrangian relaxation of all that jobs share, whose multipliers are moved along the
// subgradient. A trip's fixed cost is shared out by places, which never charges more than the trip, since its riders take no more places
// than it has. Costs are whole cents, so the bound may be rounded up.
func (p *problem) bound(total int64) int64 {
	price := make([]float64, len(p.resources)) // of the whole of each
	best, step, since := math.Inf(-1), 1.5, 0
	excess := make([]float64, len(p.resources))
	for range rounds {
		value := 0.
		for r := range excess {
			excess[r] = -1
			value -= price[r]
		}
		for n := range p.Jobs {
			cheapest, with := float64(p.unplaced[n]), (*option)(nil)
			if p.pinned[n] {
				cheapest = math.Inf(1)
			}
			for i := range p.options[n] {
				o := &p.options[n][i]
				cost := float64(o.cents)
				for _, u := range o.uses {
					share := u.amount / p.resources[u.of].cap
					cost += price[u.of] * share
					if t := p.trips[o.week]; t != nil && p.Jobs[n].Place == Van && u.of == t.resource {
						cost += float64(t.FixedCents) * share
					}
				}
				if cost < cheapest {
					cheapest, with = cost, o
				}
			}
			value += cheapest
			if with != nil {
				for _, u := range with.uses {
					excess[u.of] += u.amount / p.resources[u.of].cap
				}
			}
		}
		if value > best+1e-6 {
			best, since = value, 0
		} else if since++; since == 12 {
			step, since = step/2, 0
		}
		norm := 0.
		for r, e := range excess {
			if e < 0 && price[r] == 0 {
				excess[r] = 0
			}
			norm += excess[r] * excess[r]
		}
		if norm == 0 || step < 1e-4 {
			break
		}
		length := step * math.Max(0, float64(total)-value) / norm
		for r, e := range excess {
			price[r] = math.Max(0, price[r]+length*e)
		}
	}
	return max(0, int64(math.Ceil(best-1e-6*(1+math.Abs(best)))))
}
