package season

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"
	"sync"
)

// How long a plan is annealed, and from and to which temperatures, as shares of what a week's delay of a job costs on average.
const (
	stepsEach = 300 // steps for an iteration
	mostSteps = 960_000
	hot       = 2.
	cool      = 1. / 20
	coldest   = 1. / 300
)

// annealFrom is how many times the bound a plan must cost to be annealed.
const annealFrom = 1.005

// anneal improves the plan by walks of simulated annealing (Kirkpatrick, Gelatt and Vecchi 1983), as far as it stands above a bound. They go
// side by side, each on a copy; the best plan that one came by is kept, if it is better than the one there is.
func (p *problem) anneal(ctx context.Context, bound int64) {
	free, above := p.free(), float64(p.total())/float64(max(1, bound))
	delay := 0.
	for _, n := range free {
		delay += float64(p.Jobs[n].LateCentsPerWeek) / float64(len(free))
	}
	steps := min(mostSteps, stepsEach*p.Iterations) * len(free) / len(p.Jobs)
	if above < annealFrom || delay == 0 || steps == 0 {
		return
	}
	warm := []float64{cool, hot} // one mends the plan, the other leaves it for another
	plans := make([]laid, len(warm))
	var walks sync.WaitGroup
	for k := range warm {
		walks.Go(func() {
			w := newWalk(p.copied(), free, rand.New(rand.NewPCG(uint64(p.Seed), uint64(k))))
			plans[k] = w.cool(ctx, steps, warm[k]*delay, coldest*delay)
		})
	}
	walks.Wait()
	for _, plan := range plans {
		p.better(p.total(), free, func() {
			p.takeOver(free, plan.chosen)
			newExchange(p).settle(ctx)
			p.reroute(ctx)
		})
	}
}

// A walk goes from plan to plan.
type walk struct {
	*problem
	r       *rand.Rand
	jobs    []int
	holders [][]int // of each resource: the jobs that use it
	places  [][]int // of each job: where it stands among the holders of each resource that its option uses
	thrown  []moved
}

// A moved job and its option before.
type moved struct {
	job int
	was *option
}

// mostThrown is how many jobs may give way to one.
const mostThrown = 3

func newWalk(p *problem, jobs []int, r *rand.Rand) *walk {
	w := &walk{problem: p, r: r, jobs: jobs, holders: make([][]int, len(p.resources)), places: make([][]int, len(p.Jobs))}
	for _, n := range jobs {
		w.enter(n)
	}
	return w
}

// cool walks so many steps from one temperature to another, and gives the best plan that it came by.
func (w *walk) cool(ctx context.Context, steps int, from, to float64) laid {
	now := w.total()
	best := laid{now, slices.Clone(w.chosen)}
	temperature, cooler := from, math.Pow(to/from, 1/float64(steps))
	for n := range steps {
		if n%4096 == 0 && ctx.Err() != nil {
			break
		}
		now += w.step(int64(temperature * w.r.ExpFloat64()))
		if now < best.total {
			best.total = now
			copy(best.chosen, w.chosen)
		}
		temperature *= cooler
	}
	return best
}

// step moves a job by chance, mostly to one of its cheaper weeks, unless that adds more than a limit. It says what it added.
func (w *walk) step(limit int64) int64 {
	n := w.jobs[w.r.IntN(len(w.jobs))]
	options := w.options[n]
	chance := w.r.Float64()
	var to *option // or it is left out
	if k := int(chance * chance * float64(len(options)+1)); k < len(options) {
		to = &options[k]
	}
	if to == w.chosen[n] {
		return 0
	}
	w.thrown = append(w.thrown[:0], moved{n, w.chosen[n]})
	added := w.move(n, nil)
	if to != nil {
		cleared, cents := w.clear(to)
		added += cents
		if cleared {
			added += w.move(n, to)
			for _, m := range w.thrown[1:] {
				added += w.move(m.job, w.cheapestThatFits(m.job))
			}
		} else {
			added = math.MaxInt64
		}
	}
	if added <= limit {
		return added
	}
	for _, m := range w.thrown {
		w.move(m.job, nil)
	}
	for _, m := range w.thrown {
		w.move(m.job, m.was)
	}
	return 0
}

// clear takes jobs out by chance until an option fits; false where that would take too many.
func (w *walk) clear(o *option) (cleared bool, added int64) {
	for {
		fits, lacking := w.fits(o)
		holders := w.holders[lacking]
		if fits || len(w.thrown) > mostThrown || len(holders) == 0 {
			return fits, added
		}
		m := holders[w.r.IntN(len(holders))]
		w.thrown = append(w.thrown, moved{m, w.chosen[m]})
		added += w.move(m, nil)
	}
}

// cheapestThatFits is the option of a job that costs least beside all that is laid; nil where leaving it out does.
func (p *problem) cheapestThatFits(n int) (best *option) {
	least := p.unplaced[n]
	for k := range p.options[n] {
		o := &p.options[n][k]
		if o.cents >= least {
			break // the others cost no less
		}
		if fits, _ := p.fits(o); fits && o.cents+p.fare(n, o) < least {
			best, least = o, o.cents+p.fare(n, o)
		}
	}
	return best
}

// move takes another option of a job and says what that adds, its trip's fare with it.
func (w *walk) move(n int, o *option) int64 {
	before := w.costs(n) + w.alone(n)
	w.leave(n)
	w.take(n, o)
	w.enter(n)
	return w.costs(n) + w.alone(n) - before
}

// alone is the fare of the trip on which nobody rides but this job.
func (w *walk) alone(n int) int64 {
	if o := w.chosen[n]; o != nil && w.Jobs[n].Place == Van && w.trips[o.week].riders == 1 {
		return w.trips[o.week].FixedCents
	}
	return 0
}

// enter writes a job down among the holders of what it uses.
func (w *walk) enter(n int) {
	w.places[n] = w.places[n][:0]
	if o := w.chosen[n]; o != nil {
		for _, u := range o.uses {
			w.places[n] = append(w.places[n], len(w.holders[u.of]))
			w.holders[u.of] = append(w.holders[u.of], n)
		}
	}
}

// leave strikes it out there; the last of each list takes its place.
func (w *walk) leave(n int) {
	o := w.chosen[n]
	if o == nil {
		return
	}
	for k, u := range o.uses {
		holders, place := w.holders[u.of], w.places[n][k]
		last := holders[len(holders)-1]
		holders[place] = last
		w.holders[u.of] = holders[:len(holders)-1]
		for i, its := range w.chosen[last].uses {
			if its.of == u.of {
				w.places[last][i] = place
			}
		}
	}
}
