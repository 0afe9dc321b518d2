package season

import (
	"fmt"
	"slices"

	"solfeggio/internal/core/why"
)

// why says why a job begins in its week and not in one beside it, naming the limit that binds.
func (p *problem) why(n int) why.Why {
	j, o := p.Jobs[n], p.chosen[n]
	w := why.Why{
		Rule:  "plan.season",
		Basis: why.Basis{Kind: why.OwnRule, Source: "the least cost by the director's own weights"},
		Inputs: []why.Input{
			{Name: "may begin", Value: fmt.Sprintf("in weeks %s to %s", p.weekName(j.Opens), p.weekName(j.Last))},
			{Name: "due", Value: "in week " + p.weekName(j.Due)},
			{Name: "left out it costs", Value: p.Currency.Say(p.unplaced[n])},
		},
	}
	if o == nil {
		w.Statement = p.whyNot(n)
		return w
	}
	w.Inputs = append(w.Inputs, why.Input{Name: "costs so", Value: p.Currency.Say(o.cents)})
	if p.pinned[n] {
		w.Statement = fmt.Sprintf("It is pinned to week %s.", p.weekName(o.week))
		return w
	}
	w.Statement = fmt.Sprintf("Week %s: %s; %s.", p.weekName(o.week), p.beside(n, o.week-1), p.beside(n, o.week+1))
	return w
}

// beside says what speaks against a week beside the one chosen.
func (p *problem) beside(n, week int) string {
	j, now := p.Jobs[n], p.chosen[n]
	switch {
	case week < max(0, j.Opens):
		return fmt.Sprintf("before it, it is not open (from week %s)", p.weekName(max(0, j.Opens)))
	case week > j.Last:
		return fmt.Sprintf("after it, it is too late (last week %s)", p.weekName(j.Last))
	case week+j.WeeksOut > p.Weeks:
		return "after it, the season ends before it is back"
	}
	p.take(n, nil)
	defer p.take(n, now)
	var full int
	blocked, best := true, int64(-1)
	for i := range p.options[n] {
		o := &p.options[n][i]
		if o.week != week {
			continue
		}
		ok, of := p.fits(o)
		if !ok {
			full = of
			blocked = false
			continue
		}
		if cost := o.cents + p.fare(n, o); best < 0 || cost < best {
			best = cost
		}
	}
	switch {
	case best >= 0:
		if more := best - now.cents - p.fare(n, now); more > 0 {
			return fmt.Sprintf("week %s costs %s more", p.weekName(week), p.Currency.Say(more))
		}
		return fmt.Sprintf("week %s costs the same", p.weekName(week))
	case !blocked:
		return fmt.Sprintf("week %s has no room: %s is full", p.weekName(week), p.resources[full].name)
	case j.Place == Van && p.trips[week] == nil:
		return fmt.Sprintf("week %s has no trip", p.weekName(week))
	}
	return fmt.Sprintf("week %s is barred: %s", p.weekName(week), p.barred(n, week))
}

// barred says what keeps a job out of a week even when nothing else is done.
func (p *problem) barred(n, week int) string {
	j := p.Jobs[n]
	for w := week; w < min(p.Weeks, week+j.WeeksOut); w++ {
		if slices.Contains(j.BlockedWeeks, w) {
			return fmt.Sprintf("it must not be away in week %s without a loaner", p.weekName(w))
		}
	}
	if j.Place == Bench && j.Minutes > p.BenchMinutes[week]+tolerance {
		return "the bench has too few minutes in it"
	}
	if t := p.trips[week]; t != nil && j.Place == Van && j.Places != nil && *j.Places > t.Places {
		return "the trip has too few places"
	}
	return "there is too little money in it"
}

// whyNot says why a job is left out.
func (p *problem) whyNot(n int) string {
	if len(p.options[n]) == 0 {
		return "It waits: no week of the season takes it. " + p.first(n)
	}
	for i := range p.options[n] {
		o := &p.options[n][i]
		ok, of := p.fits(o)
		switch {
		case o.cents+p.fare(n, o) >= p.unplaced[n]:
			return fmt.Sprintf("It waits: in its best week, %s, it would cost %s, and left out %s.",
				p.weekName(o.week), p.Currency.Say(o.cents+p.fare(n, o)), p.Currency.Say(p.unplaced[n]))
		case !ok:
			return fmt.Sprintf("It waits: in its best week, %s, there is no room: %s is full.", p.weekName(o.week), p.resources[of].name)
		}
	}
	return "It waits: others are worth more."
}

func (p *problem) first(n int) string {
	j := p.Jobs[n]
	for s := max(0, j.Opens); s <= min(j.Last, p.Weeks-j.WeeksOut); s++ {
		if j.Place == Van && p.trips[s] == nil {
			continue
		}
		return fmt.Sprintf("In week %s %s.", p.weekName(s), p.barred(n, s))
	}
	if j.Place == Van {
		return "No trip goes in its weeks."
	}
	return "Its weeks lie outside the season."
}
