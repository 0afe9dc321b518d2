// Package season lays the work of a year on its weeks: what is done at the school's bench, what goes to a shop on which trip, and
// what waits, at the least cost by the director's own weights.
//
// The model is the product's own. Small seasons are searched to the end (branch and bound, with a Lagrangian bound at each node); larger
// ones are begun greedily, laid anew by what the bound of the bench finds (at once, or week by week: a diving heuristic), and improved by
// taking a few jobs out and laying them anew (large neighbourhood search), by sharing out two weeks of the bench between them (knapsacks),
// by giving up trips, and, where that leaves it well above its bound, by simulated annealing, the same for the same seed. How far from the
// best a plan may be is bounded by Lagrangian relaxations: of all that jobs share; at the bench of that each job is done once; and for
// trips of that too, where one trip after the other goes or stays (branch and bound).
package season

import (
	"cmp"
	"context"
	"slices"
	"strconv"

	"solfeggio/internal/core/money"
	"solfeggio/internal/core/why"
)

// Place is where a job is done.
type Place string

// The places.
const (
	Bench Place = "bench" // by the director, at school
	Van   Place = "van"   // at a shop, there by a trip
)

// A Job is a piece of work on one instrument. Weeks count from 0; all ranges are inclusive.
type Job struct {
	ID                 string  `json:"id"`
	Place              Place   `json:"place" jsonschema:"enum=bench,enum=van" enum:"bench,van"`
	Places             *int    `json:"places,omitempty" doc:"That it takes on a trip; 1 when left out"`
	Opens              int     `json:"opens" doc:"The first week in which it may begin"`
	Due                int     `json:"due"`
	Last               int     `json:"last" doc:"The last week in which it may begin"`
	Minutes            float64 `json:"minutes" doc:"At the bench, in the week in which it begins"`
	CostCents          int64   `json:"cost_cents"`
	WeeksOut           int     `json:"weeks_out" doc:"For how many weeks nobody can play it; at least 1"`
	LateCentsPerWeek   int64   `json:"late_cents_per_week"`
	EarlyCentsPerWeek  int64   `json:"early_cents_per_week"`
	AbsentCentsPerWeek []int64 `json:"absent_cents_per_week" doc:"What it costs that it is away, for each week of the season"`
	BlockedWeeks       []int   `json:"blocked_weeks" doc:"In which it must not be away without a loaner"`
	Loaner             *string `json:"loaner,omitempty" doc:"What may be lent in its place"`
	Pin                *int    `json:"pin,omitempty" doc:"The week in which it must begin"`
}

// A Trip is a drive to the shops.
type Trip struct {
	Week       int   `json:"week"`
	Places     int   `json:"places"`
	FixedCents int64 `json:"fixed_cents" doc:"Paid once if anything rides along"`
}

// A Budget is the money for some weeks; weeks in none are free.
type Budget struct {
	From  int   `json:"from"`
	To    int   `json:"to"`
	Cents int64 `json:"cents"`
}

// In is the input of the calculator plan.season.
type In struct {
	Weeks        int            `json:"weeks"`
	Jobs         []Job          `json:"jobs"`
	BenchMinutes []float64      `json:"bench_minutes" doc:"For each week"`
	Trips        []Trip         `json:"trips"`
	Budget       []Budget       `json:"budget"`
	Loaners      map[string]int `json:"loaners" doc:"How many there are of each"`
	Seed         int64          `json:"seed"`
	Iterations   int            `json:"iterations" doc:"How often a large plan is improved; 0 or more"`

	WeekName func(week int) string `json:"-"` // as reasons call a week; its number when nil
	Currency money.Currency        `json:"-"` // as they name it
}

func (in In) weekName(week int) string {
	if in.WeekName == nil {
		return strconv.Itoa(week)
	}
	return in.WeekName(week)
}

// A Placement says when a job begins.
type Placement struct {
	ID     string  `json:"id"`
	Week   *int    `json:"week" doc:"null when it waits beyond the season"`
	Loaner bool    `json:"loaner"`
	Why    why.Why `json:"why"`
}

// Parts are what the total consists of.
type Parts struct {
	Late     int64 `json:"late"`
	Early    int64 `json:"early"`
	Absent   int64 `json:"absent"`
	Trips    int64 `json:"trips"`
	Unplaced int64 `json:"unplaced"`
}

func (p Parts) total() int64 { return p.Late + p.Early + p.Absent + p.Trips + p.Unplaced }

// Out is its result.
type Out struct {
	Placements      []Placement `json:"placements" doc:"In the order of the input"`
	TotalCents      int64       `json:"total_cents"`
	Parts           Parts       `json:"parts"`
	LowerBoundCents int64       `json:"lower_bound_cents" doc:"No plan costs less"`
	Cut             bool        `json:"cut" doc:"The search was ended before it had done all its steps; it is the best plan so far"`
}

// Plan is the calculator plan.season. Steps of work bound the search and not time, so the same input gives the same plan on any machine; when
// ctx ends, the best plan so far is given, which says so (Cut). Errors name the field by its JSON path.
func Plan(ctx context.Context, in In) (Out, error) {
	out, _, err := Mend(ctx, in, func(int) bool { return true })
	return out, err
}

// Mend is Plan where only some pins must hold. The others are given up where they cannot, as few as it finds; it says which, by their
// places in the input.
func Mend(ctx context.Context, in In, must func(job int) bool) (out Out, given []int, err error) {
	p, given, err := begin(in, must)
	if err != nil {
		return Out{}, nil, err
	}
	bound := p.search(ctx)
	return p.out(bound, ctx.Err() != nil), given, nil
}

// A Start is when a job begins in a plan; Week nil means that it waits.
type Start struct {
	Week   *int `json:"week"`
	Loaner bool `json:"loaner"`
}

// Carry is Mend without a search: every job begins as in a plan of before where it still can, and all others where they cost least then. It
// takes a hundredth of the time or less; its bound is a loose one.
func Carry(in In, before func(id string) (Start, bool), must func(job int) bool) (out Out, given []int, err error) {
	p, given, err := begin(in, must)
	if err != nil {
		return Out{}, nil, err
	}
	bound := p.keptCents
	var others []int
	for _, n := range p.open() {
		least := p.unplaced[n]
		if len(p.options[n]) > 0 && (p.pinned[n] || p.options[n][0].cents < least) {
			least = p.options[n][0].cents
		}
		bound += least
		if p.pinned[n] {
			continue
		}
		if was, known := before(in.Jobs[n].ID); known && was.Week != nil {
			if o := p.as(n, was); o != nil {
				p.take(n, o)
				continue
			}
		}
		others = append(others, n)
	}
	slices.SortStableFunc(others, func(a, b int) int { return cmp.Compare(p.unplaced[b], p.unplaced[a]) })
	for _, n := range others {
		p.take(n, p.cheapestThatFits(n))
	}
	return p.out(bound, true), given, nil
}

// as is the option by which a job begins as it did, if it still fits.
func (p *problem) as(n int, was Start) *option {
	for i := range p.options[n] {
		if o := &p.options[n][i]; o.week == *was.Week && o.loaner == was.Loaner {
			if fits, _ := p.fits(o); fits {
				return o
			}
		}
	}
	return nil
}

// begin checks the input and places what is pinned.
func begin(in In, must func(job int) bool) (p *problem, given []int, err error) {
	if err := check(in); err != nil {
		return nil, nil, err
	}
	p = newProblem(in)
	if given, err = p.pin(must); err != nil {
		return nil, nil, err
	}
	p.keep()
	return p, given, nil
}

// out says what the plan is.
func (p *problem) out(bound int64, cut bool) Out {
	out := Out{Parts: p.parts(), Placements: make([]Placement, len(p.Jobs)), Cut: cut}
	out.TotalCents = out.Parts.total()
	out.LowerBoundCents = min(out.TotalCents, bound)
	for n, j := range p.Jobs {
		out.Placements[n] = Placement{ID: j.ID, Why: p.why(n)}
		if o := p.chosen[n]; o != nil {
			week := o.week
			out.Placements[n].Week, out.Placements[n].Loaner = &week, o.loaner
		}
	}
	return out
}

// search plans, and gives a bound. Once ctx has ended it does no more than it must.
func (p *problem) search(ctx context.Context) (bound int64) {
	if len(p.open()) == 0 {
		return p.total()
	}
	p.greedy()
	if len(p.Jobs) <= exactJobs {
		return p.enumerate(ctx, noLimit)
	}
	bound = p.bound(ctx, p.open(), p.total()-p.keptCents, p.keepBest(ctx)) + p.keptCents
	bench := p.layBench(ctx, p.Iterations > 0)
	p.improveTwice(ctx, p.Seed, p.Iterations)
	bound = max(bound, p.tighter(ctx, bench))
	p.anneal(ctx, bound)
	if len(p.Jobs) <= smallJobs && bound < p.total() {
		bound = max(bound, p.enumerate(ctx, p.smallRounds()))
	}
	return bound
}
