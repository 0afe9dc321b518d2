package season

import (
	"context"
	"math"
	"slices"
)

// An exchange shares out what is laid in two weeks of the bench between them anew, at the least cost there is: a knapsack, solved by
// dynamic programming over the minutes of the first week. A few jobs taken out at a time seldom fill two weeks better, since that takes
// one long job for several short ones.
type exchange struct {
	*problem
	minutes []int     // of each job that may be moved so; 0 for the others, which are left where they are
	cents   [][]int64 // of each of those by week

	// Room to work in: to share two weeks, the least cost by minutes of the first and which jobs were taken for that; and to fill one, with
	// the jobs that were put there.
	cost  []int64
	taken []bool
	week  knapsack
	some  []int

	shares [][]float64 // of each job by week, see bound
}

const (
	never    = math.MaxInt64 / 4 // what a job costs in a week in which it may not begin
	mostRoom = 1_000_000_000     // minutes of a week that are reckoned with; nobody has more
)

// newExchange takes the jobs that need whole minutes of the bench and nothing else.
func newExchange(p *problem) *exchange {
	e := &exchange{problem: p, minutes: make([]int, len(p.Jobs)), cents: make([][]int64, len(p.Jobs))}
	for n, j := range p.Jobs {
		whole := j.Place == Bench && j.Minutes == math.Trunc(j.Minutes) && j.Minutes < mostRoom && !p.pinned[n]
		if !whole || slices.ContainsFunc(p.options[n], func(o option) bool { return len(o.uses) != 1 }) {
			continue
		}
		e.minutes[n] = int(j.Minutes)
		e.cents[n] = make([]int64, p.Weeks)
		for w := range e.cents[n] {
			e.cents[n][w] = never
		}
		for _, o := range p.options[n] {
			e.cents[n][o.week] = o.cents
		}
	}
	return e
}

// rest lists the jobs that an exchange leaves alone and that may be moved.
func (e *exchange) rest() (jobs []int) {
	for n, m := range e.minutes {
		if m == 0 && !e.pinned[n] && len(e.options[n]) > 0 {
			jobs = append(jobs, n)
		}
	}
	return jobs
}

// planned is what the jobs that it may move cost as they are laid.
func (e *exchange) planned() (cost float64) {
	for n, m := range e.minutes {
		if m > 0 {
			cost += float64(e.costs(n))
		}
	}
	return cost
}

// settle exchanges work between all weeks until no two of them gain by it, or ctx ends.
func (e *exchange) settle(ctx context.Context) {
	in := make([][]int, e.Weeks)
	for n, o := range e.chosen {
		if o != nil && e.minutes[n] > 0 {
			in[o.week] = append(in[o.week], n)
		}
	}
	changed := make([]int, e.Weeks) // the round in which a week last changed
	for round := 1; ; round++ {
		gained := false
		for a := range e.Weeks {
			if ctx.Err() != nil {
				return
			}
			if changed[a] >= round-1 && e.bringIn(a, in) {
				changed[a], gained = round, true
			}
			for b := a + 1; b < e.Weeks; b++ {
				if max(changed[a], changed[b]) >= round-1 && e.share(a, b, in) {
					changed[a], changed[b], gained = round, round, true
				}
			}
		}
		if !gained {
			return
		}
	}
}

// share exchanges work between two weeks; false when that gains nothing.
func (e *exchange) share(a, b int, in [][]int) bool {
	jobs := slices.Concat(in[a], in[b])
	total, now := 0, int64(0)
	for _, n := range jobs {
		total += e.minutes[n]
		now += e.chosen[n].cents
	}
	roomA, roomB := e.room(a, in[a]), e.room(b, in[b])
	roomA = min(roomA, total)
	if len(jobs)*(roomA+1) > mostCells {
		return false
	}
	e.cost = slices.Grow(e.cost[:0], roomA+1)[:roomA+1]
	for u := range e.cost {
		e.cost[u] = never
	}
	e.cost[0] = 0
	wide := roomA + 1
	e.taken = slices.Grow(e.taken[:0], len(jobs)*wide)[:len(jobs)*wide]
	first := e.taken // whether a job is laid in the first week, by the minutes taken there with it
	clear(first)
	for k, n := range jobs {
		for u := roomA; u >= 0; u-- {
			second := min(never, e.cost[u]+e.cents[n][b])
			if m := e.minutes[n]; u >= m && e.cost[u-m]+e.cents[n][a] < second {
				first[k*wide+u], second = true, e.cost[u-m]+e.cents[n][a]
			}
			e.cost[u] = second
		}
	}
	best := -1
	for u, cost := range e.cost {
		if total-u <= roomB && cost < now {
			best, now = u, cost
		}
	}
	if best < 0 {
		return false
	}
	for _, n := range jobs {
		e.take(n, nil)
	}
	in[a], in[b] = nil, nil
	for k := len(jobs) - 1; k >= 0; k-- {
		n, week := jobs[k], b
		if first[k*wide+best] {
			week = a
			best -= e.minutes[n]
		}
		e.take(n, e.in(n, week))
		in[week] = append(in[week], n)
	}
	return true
}

// in is the option of a job in a week.
func (e *exchange) in(n, week int) *option {
	return &e.options[n][slices.IndexFunc(e.options[n], func(o option) bool { return o.week == week })]
}

// room is how many whole minutes a week's bench has for some jobs that are laid there, beside all others.
func (e *exchange) room(week int, jobs []int) int {
	bench := e.resources[week] // those of the bench come first
	room := bench.cap - bench.used + tolerance
	for _, n := range jobs {
		room += e.Jobs[n].Minutes
	}
	return max(0, int(min(room, mostRoom)))
}

// bringIn fills a week anew from what is laid there and what is left out; false when that gains nothing.
func (e *exchange) bringIn(week int, in [][]int) bool {
	room := e.room(week, in[week])
	now, rests := int64(0), int64(0) // what they cost now, and what they cost if none of them is done
	e.week.empty()
	e.some = e.some[:0]
	offer := func(n int) {
		now += e.costs(n)
		rests += e.unplaced[n]
		if gain := e.cents[n][week] - e.unplaced[n]; gain < 0 && e.minutes[n] <= room {
			e.some = append(e.some, n)
			e.week.put(e.minutes[n], float64(gain))
		}
	}
	for _, n := range in[week] {
		offer(n)
	}
	for n, o := range e.chosen {
		if o == nil && e.minutes[n] > 0 && e.cents[n][week] < never {
			offer(n)
		}
	}
	won, chosen, ok := e.week.fill(room)
	if !ok || rests+int64(won) >= now {
		return false
	}
	for _, n := range in[week] {
		e.take(n, nil)
	}
	in[week] = nil
	for _, k := range chosen {
		n := e.some[k]
		e.take(n, e.in(n, week))
		in[week] = append(in[week], n)
	}
	return true
}
