package season

import (
	"context"
	"math"
	"slices"
)

const (
	benchRounds = 250
	benchCells  = 300_000_000 // in all knapsacks of all rounds, at the most: a second's work or less
	benchStalls = 12          // rounds without a better bound after which the steps are halved
	aimAbove    = 0.05        // how far above the best bound the best plan is thought to be at most, however dear the one at hand
	latest      = 0.2         // how much the last round weighs in the shares
)

// tighter is a bound on a plan's cost that takes the jobs of the bench alone for themselves, whose bound is given, and all others for
// themselves: what they may share is given to both.
func (p *problem) tighter(ctx context.Context, bench int64) int64 {
	e := newExchange(p)
	var others []int
	total := p.total()
	for n := range p.Jobs {
		if e.minutes[n] == 0 {
			others = append(others, n)
		} else {
			total -= p.costs(n)
		}
	}
	if len(others) == len(p.Jobs) || ctx.Err() != nil {
		return 0
	}
	return p.bound(others, total, func([]float64) int64 { return total }) + bench
}

// bound is a cost that the jobs of the exchange do not stay below, whatever the others do. What is relaxed here is not the minutes of the
// weeks but that each job is done once: then every week is a knapsack of its own, filled with whole jobs, while the prices of the other
// bound may split a job between two weeks. It begins with the worth that those prices give each job, so it is never below them. After each
// round it tells in which share of the latest rounds each job was done in each week, which is nearly how a plan that splits jobs would do
// them.
func (e *exchange) bound(ctx context.Context, price []float64, told func(round int, shares [][]float64)) int64 {
	var jobs []int
	e.shares = make([][]float64, len(e.Jobs))
	worth := make([]float64, len(e.Jobs)) // what it is worth that a job is done: the multipliers
	planned := 0.
	for n := range e.Jobs {
		if e.minutes[n] == 0 {
			continue
		}
		jobs = append(jobs, n)
		worth[n] = float64(e.unplaced[n])
		for i := range e.options[n] {
			worth[n] = math.Min(worth[n], e.priced(n, &e.options[n][i], price))
		}
		planned += float64(e.costs(n))
		e.shares[n] = make([]float64, e.Weeks)
	}
	best, step, since := math.Inf(-1), 1., 0
	done, way := make([]float64, len(e.Jobs)), make([]float64, len(e.Jobs))
	for round := range benchRounds {
		value := 0.
		clear(done)
		for _, share := range e.shares {
			for w := range share {
				share[w] *= 1 - latest
			}
		}
		for _, n := range jobs {
			value += worth[n]
			if left := float64(e.unplaced[n]); left < worth[n] {
				value += left - worth[n]
				done[n]++
			}
		}
		for w := range e.Weeks {
			value += e.fill(w, jobs, worth, done)
		}
		told(round, e.shares)
		if value > best+1e-6 {
			best, since = value, 0
		} else if since++; since == benchStalls {
			step, since = step/2, 0
		}
		norm := 0.
		for _, n := range jobs {
			way[n] = 1 - done[n] + turning*way[n]
			norm += way[n] * way[n]
		}
		if norm == 0 || step < 1e-2 || e.looked > benchCells || ctx.Err() != nil {
			break
		}
		aim := math.Min(planned, best+aimAbove*math.Max(math.Abs(best), aimAbove*planned))
		length := step * math.Max(0, aim-value) / norm
		for _, n := range jobs {
			worth[n] += length * way[n]
		}
	}
	return wholeCents(best)
}

// fill fills a week with those jobs by which most is won: their cost there less what they are worth. It notes which are done and gives
// what is won, at most 0.
func (e *exchange) fill(week int, jobs []int, worth, done []float64) float64 {
	room := int(min(e.resources[week].cap+tolerance, mostRoom))
	e.some = e.some[:0]
	needed, all := 0, 0.
	for _, n := range jobs {
		if e.cents[n][week] < never && float64(e.cents[n][week]) < worth[n] && e.minutes[n] <= room {
			e.some = append(e.some, n)
			needed += e.minutes[n]
			all += float64(e.cents[n][week]) - worth[n]
		}
	}
	if needed <= room || len(e.some)*(room+1) > mostCells { // what is too much to reckon with is taken to fit, which wins no less
		for _, n := range e.some {
			done[n]++
			e.shares[n][week] += latest
		}
		return all
	}
	wide := room + 1
	e.won = slices.Grow(e.won[:0], wide)[:wide]
	cells := e.cells(len(e.some) * wide)
	clear(e.won)
	for k, n := range e.some {
		m, gain, taken := e.minutes[n], float64(e.cents[n][week])-worth[n], cells[k*wide:(k+1)*wide]
		for u := room; u >= m; u-- {
			if with := e.won[u-m] + gain; with < e.won[u] {
				e.won[u], taken[u] = with, true
			}
		}
	}
	at := room
	for k := len(e.some) - 1; k >= 0; k-- {
		if cells[k*wide+at] {
			done[e.some[k]]++
			e.shares[e.some[k]][week] += latest
			at -= e.minutes[e.some[k]]
		}
	}
	return e.won[room]
}
