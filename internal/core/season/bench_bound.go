package season

import (
	"context"
	"math"
	"slices"
)

const (
	benchRounds = 250
	benchCells  = 400_000_000 // in all knapsacks of all rounds, at the most: a second's work or less
	benchStalls = 12          // rounds without a better bound after which the steps are halved
	aimAbove    = 0.05        // how far above the best bound the best plan is thought to be at most, however dear the one at hand
	latest      = 0.2         // how much the last round weighs in the shares
)

// tighter is a bound on a plan's cost that takes the jobs of the bench alone for themselves, whose bound is given, and all others for
// themselves: what they may share is given to both.
func (p *problem) tighter(ctx context.Context, bench int64) int64 {
	e := newExchange(p)
	var riders, others []int
	total := p.total() - p.keptCents
	for n, j := range p.Jobs {
		switch {
		case p.kept[n]:
		case j.Place == Van:
			riders = append(riders, n)
		case e.minutes[n] == 0:
			others = append(others, n)
		default:
			total -= p.costs(n)
		}
	}
	if ctx.Err() != nil {
		return 0
	}
	both := slices.Concat(riders, others)
	simple := p.bound(ctx, both, total, func([]float64) int64 { return total })
	return p.keptCents + bench + max(simple, p.tripsBound(ctx, riders, others, total, p.known(both)))
}

// bound is a cost that the jobs of the exchange do not stay below, whatever the others do. What is relaxed here is not the minutes of the
// weeks but that each job is done once: then every week is a knapsack of its own, filled with whole jobs, while the prices of the other
// bound may split a job between two weeks. It begins with the worth that those prices give each job, so it is never below them. After each
// round it tells in which share of the latest rounds each job was done in each week, which is nearly how a plan that splits jobs would do
// them.
func (e *exchange) bound(ctx context.Context, price []float64, told func(round int, best float64, worth []float64)) int64 {
	var jobs []int
	e.shares = make([][]float64, len(e.Jobs))
	worth := make([]float64, len(e.Jobs)) // what it is worth that a job is done: the multipliers
	planned := e.planned()
	for n := range e.Jobs {
		if e.minutes[n] == 0 {
			continue
		}
		jobs = append(jobs, n)
		worth[n] = float64(e.unplaced[n])
		for i := range e.options[n] {
			worth[n] = math.Min(worth[n], e.priced(n, &e.options[n][i], price))
		}
		e.shares[n] = make([]float64, e.Weeks)
	}
	weeks := make([]int, e.Weeks)
	for w := range weeks {
		weeks[w] = w
	}
	up := newAscent(len(e.Jobs), 1, benchStalls)
	done := make([]float64, len(e.Jobs))
	for round := range benchRounds {
		value := e.round(weeks, jobs, worth, done)
		up.grew(value)
		told(round, up.best, worth)
		aim := math.Min(planned, up.best+aimAbove*math.Max(math.Abs(up.best), aimAbove*planned))
		length := up.turn(undone(jobs, done), aim-value)
		if length == 0 || e.week.looked > benchCells || ctx.Err() != nil {
			break
		}
		for _, n := range jobs {
			worth[n] += length * up.way[n]
		}
	}
	return wholeCents(up.best)
}

// round is the value of the relaxation over some weeks and jobs, where it is worth so much that each is done. It notes how often each is.
func (e *exchange) round(weeks, jobs []int, worth, done []float64) (value float64) {
	for _, n := range jobs {
		for w := range e.shares[n] {
			e.shares[n][w] *= 1 - latest
		}
		value += worth[n]
		done[n] = 0
		if left := float64(e.unplaced[n]); left < worth[n] {
			value += left - worth[n]
			done[n] = 1
		}
	}
	for _, w := range weeks {
		value += e.fill(w, jobs, worth, done)
	}
	return value
}

// undone is how often each of some jobs would have to be done more: its worth rises then, and falls where it is done more than once.
func undone(jobs []int, done []float64) []float64 {
	slope := make([]float64, len(done))
	for _, n := range jobs {
		slope[n] = 1 - done[n]
	}
	return slope
}

// fill fills a week with those jobs by which most is won: their cost there less what they are worth. It notes which are done and gives
// what is won, at most 0. What is too much to reckon with is taken to fit, which wins no less.
func (e *exchange) fill(week int, jobs []int, worth, done []float64) float64 {
	room := int(min(e.resources[week].room()+tolerance, mostRoom))
	e.week.empty()
	e.week.looked += optionCells * len(jobs)
	e.some = e.some[:0]
	for _, n := range jobs {
		if cents := e.cents[n][week]; cents < never && float64(cents) < worth[n] && e.minutes[n] <= room {
			e.some = append(e.some, n)
			e.week.put(e.minutes[n], float64(cents)-worth[n])
		}
	}
	won, chosen, _ := e.week.fill(room)
	for _, k := range chosen {
		done[e.some[k]]++
		e.shares[e.some[k]][week] += latest
	}
	return won
}
