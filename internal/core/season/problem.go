package season

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"solfeggio/internal/core/field"
)

// A resource is something that jobs share in a week, in some weeks or on a trip: minutes, places, money, loaners.
type resource struct {
	name string // as in "the bench in week 3"
	cap  float64
	used float64
	kept float64 // of what is used, by jobs that are kept where they are
}

// room is what there is for all jobs that are not kept where they are.
func (r resource) room() float64 { return r.cap - r.kept }

// An option is one way to place a job.
type option struct {
	week   int
	loaner bool
	cents  int64 // late, early and absent
	uses   []use
}

type use struct {
	of     int
	amount float64
}

type problem struct {
	In
	resources []resource
	trips     map[int]*trip // by week
	options   [][]option    // of each job, the cheapest first
	unplaced  []int64       // what it costs to leave each job out
	pinned    []bool
	chosen    []*option // of each job; nil for unplaced
	prices    []float64 // of what is short, by resource

	kept      []bool // jobs that are pinned and can be done in one way only
	keptCents int64  // what these cost, with the trips that go for them
}

type trip struct {
	Trip
	resource int
	riders   int
	paid     bool // it goes in any case, for a job that is kept
}

// extra is what a trip adds to what is kept anyway.
func (t *trip) extra() int64 {
	if t.paid {
		return 0
	}
	return t.FixedCents
}

const tolerance = 1e-9

func newProblem(in In) *problem {
	p := &problem{
		In: in, trips: map[int]*trip{}, options: make([][]option, len(in.Jobs)), unplaced: make([]int64, len(in.Jobs)),
		pinned: make([]bool, len(in.Jobs)), chosen: make([]*option, len(in.Jobs)), kept: make([]bool, len(in.Jobs)),
	}
	share := func(name string, cap float64) int {
		p.resources = append(p.resources, resource{name: name, cap: cap})
		return len(p.resources) - 1
	}
	bench := make([]int, in.Weeks)
	for w, minutes := range in.BenchMinutes {
		bench[w] = share("the bench in week "+in.weekName(w), minutes)
	}
	for _, t := range in.Trips {
		p.trips[t.Week] = &trip{Trip: t, resource: share("the trip of week "+in.weekName(t.Week), float64(t.Places))}
	}
	money := make([][]int, in.Weeks)
	for _, b := range in.Budget {
		r := share(fmt.Sprintf("the money of weeks %s to %s", in.weekName(b.From), in.weekName(b.To)), float64(b.Cents))
		for w := b.From; w <= b.To; w++ {
			money[w] = append(money[w], r)
		}
	}
	loaners := map[string][]int{}
	for _, name := range slices.Sorted(keys(in.Loaners)) {
		for w := range in.Weeks {
			loaners[name] = append(loaners[name], share(fmt.Sprintf("loaner %s in week %s", name, in.weekName(w)), float64(in.Loaners[name])))
		}
	}
	for n, j := range in.Jobs {
		p.unplaced[n] = int64(max(0, in.Weeks-j.Due)) * j.LateCentsPerWeek
		for s := max(0, j.Opens); s <= min(j.Last, in.Weeks-j.WeeksOut); s++ {
			for _, lent := range []bool{false, true} {
				if o, ok := p.option(j, s, lent, bench, money, loaners); ok {
					p.options[n] = append(p.options[n], o)
				}
			}
		}
		slices.SortStableFunc(p.options[n], func(a, b option) int { return cmp.Compare(a.cents, b.cents) })
	}
	return p
}

// option is a job begun in a week; false where that breaks a rule even when nothing else is done.
func (p *problem) option(j Job, s int, lent bool, bench []int, money [][]int, loaners map[string][]int) (option, bool) {
	o := option{week: s, loaner: lent, cents: j.late(s) + j.early(s)}
	if lent && j.Loaner == nil {
		return o, false
	}
	for w := s; w < s+j.WeeksOut; w++ {
		switch {
		case lent:
			o.uses = append(o.uses, use{loaners[*j.Loaner][w], 1})
		case slices.Contains(j.BlockedWeeks, w):
			return o, false
		default:
			o.cents += j.AbsentCentsPerWeek[w]
		}
	}
	switch t := p.trips[s]; {
	case j.Place == Bench && j.Minutes > 0:
		o.uses = append(o.uses, use{bench[s], j.Minutes})
	case j.Place == Van && t == nil:
		return o, false
	case j.Place == Van:
		o.uses = append(o.uses, use{t.resource, float64(j.places())})
	}
	if j.CostCents > 0 {
		for _, r := range money[s] {
			o.uses = append(o.uses, use{r, float64(j.CostCents)})
		}
	}
	for _, u := range o.uses {
		if u.amount > p.resources[u.of].cap+tolerance {
			return o, false
		}
	}
	return o, true
}

// places is how many it takes on a trip.
func (j Job) places() int {
	if j.Places == nil {
		return 1
	}
	return *j.Places
}

func (j Job) late(s int) int64  { return int64(max(0, s-j.Due)) * j.LateCentsPerWeek }
func (j Job) early(s int) int64 { return int64(max(0, j.Due-s)) * j.EarlyCentsPerWeek }

func keys[V any](m map[string]V) func(func(string) bool) {
	return func(yield func(string) bool) {
		for k := range m {
			if !yield(k) {
				return
			}
		}
	}
}

// fits reports whether an option of a job may be taken beside all that is chosen, and what is in its way otherwise.
func (p *problem) fits(o *option) (bool, int) {
	for _, u := range o.uses {
		if r := p.resources[u.of]; r.used+u.amount > r.cap+tolerance {
			return false, u.of
		}
	}
	return true, 0
}

// fare is what an option adds for a trip on which nobody rides yet.
func (p *problem) fare(n int, o *option) int64 {
	if t := p.trips[o.week]; p.Jobs[n].Place == Van && t.riders == 0 {
		return t.FixedCents
	}
	return 0
}

// take chooses an option of a job; nil takes it out of the plan.
func (p *problem) take(n int, o *option) {
	add := func(o *option, sign float64) {
		if o == nil {
			return
		}
		for _, u := range o.uses {
			p.resources[u.of].used += sign * u.amount
		}
		if p.Jobs[n].Place == Van {
			p.trips[o.week].riders += int(sign)
		}
	}
	add(p.chosen[n], -1)
	add(o, 1)
	p.chosen[n] = o
}

// pin places the jobs that are pinned, and leaves them no other week. Those that must hold come first and are refused where they cannot;
// the pins of the others are given up there.
func (p *problem) pin(must func(job int) bool) (given []int, err error) {
	var hard, soft []int
	before := map[int][]option{}
	for n, j := range p.Jobs {
		if j.Pin == nil {
			continue
		}
		there := slices.DeleteFunc(slices.Clone(p.options[n]), func(o option) bool { return o.week != *j.Pin })
		switch {
		case len(there) == 0 && must(n):
			return nil, p.refuse(n, "breaks a rule of its own")
		case len(there) == 0:
			given = append(given, n)
			continue
		case must(n):
			hard = append(hard, n)
		default:
			soft = append(soft, n)
		}
		before[n], p.options[n], p.pinned[n] = p.options[n], there, true
	}
	if n, ok := p.place(slices.Concat(hard, soft)); ok {
		return given, nil
	} else if len(soft) == 0 {
		return nil, p.refuse(n, "does not fit beside the others that are pinned")
	}
	if n, ok := p.place(hard); !ok {
		return nil, p.refuse(n, "does not fit beside the others that are pinned")
	}
	for _, n := range soft {
		at := slices.IndexFunc(p.options[n], func(o option) bool { ok, _ := p.fits(&o); return ok })
		if at < 0 {
			p.options[n], p.pinned[n] = before[n], false
			given = append(given, n)
			continue
		}
		p.take(n, &p.options[n][at])
	}
	slices.Sort(given)
	return given, nil
}

// keep takes the pinned jobs that can be done in one way only out of what is searched and bounded, and what does not fit beside them.
func (p *problem) keep() {
	for n, o := range p.chosen {
		if !p.pinned[n] || o == nil || len(p.options[n]) != 1 {
			continue
		}
		p.kept[n] = true
		p.keptCents += o.cents
		for _, u := range o.uses {
			p.resources[u.of].kept += u.amount
		}
		if t := p.trips[o.week]; p.Jobs[n].Place == Van && !t.paid {
			t.paid = true
			p.keptCents += t.FixedCents
		}
	}
	for _, n := range p.open() { // on copies, since what is chosen is one of the options
		p.options[n] = slices.DeleteFunc(slices.Clone(p.options[n]), func(o option) bool {
			return slices.ContainsFunc(o.uses, func(u use) bool { return u.amount > p.resources[u.of].room()+tolerance })
		})
	}
}

// open lists the jobs that are not kept where they are.
func (p *problem) open() (list []int) {
	for n := range p.Jobs {
		if !p.kept[n] {
			list = append(list, n)
		}
	}
	return list
}

// pinTries bounds how many ways to lend something for the pinned jobs are tried.
const pinTries = 200_000

// place places pinned jobs side by side; where that cannot be, none of them, and it says which one is in the way. Those that can be placed
// in one way only come first, so that a clash between them is seen at once.
func (p *problem) place(jobs []int) (inTheWay int, ok bool) {
	order := slices.Clone(jobs)
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(min(2, len(p.options[a])), min(2, len(p.options[b]))) })
	furthest, tries := 0, 0
	var from func(at int) bool
	from = func(at int) bool {
		if at == len(order) {
			return true
		}
		furthest = max(furthest, at)
		n := order[at]
		for k := range p.options[n] {
			o := &p.options[n][k]
			if fits, _ := p.fits(o); !fits {
				continue
			}
			p.take(n, o)
			if from(at + 1) {
				return true
			}
			p.take(n, nil)
			if tries++; tries > pinTries {
				return false
			}
		}
		return false
	}
	if from(0) {
		return 0, true
	}
	return order[furthest], false
}

func (p *problem) refuse(n int, because string) error {
	return &PinError{n, field.Errorf(fmt.Sprintf("jobs[%d].pin", n), "%s in week %d %s", p.Jobs[n].ID, *p.Jobs[n].Pin, because)}
}

// PinError says that a job cannot begin in the week to which it is pinned. It wraps the field error that names the pin.
type PinError struct {
	Job int // its place in the input
	Of  error
}

func (e *PinError) Error() string { return e.Of.Error() }

// Unwrap is the field error.
func (e *PinError) Unwrap() error { return e.Of }

// costs is what a job costs as it is laid, without a trip.
func (p *problem) costs(n int) int64 {
	if o := p.chosen[n]; o != nil {
		return o.cents
	}
	return p.unplaced[n]
}

// parts adds up what the plan costs.
func (p *problem) parts() (parts Parts) {
	for n, j := range p.Jobs {
		o := p.chosen[n]
		if o == nil {
			parts.Unplaced += p.unplaced[n]
			continue
		}
		parts.Late += j.late(o.week)
		parts.Early += j.early(o.week)
		parts.Absent += o.cents - j.late(o.week) - j.early(o.week)
	}
	for _, t := range p.trips {
		if t.riders > 0 {
			parts.Trips += t.FixedCents
		}
	}
	return parts
}

func (p *problem) all() []int {
	list := make([]int, len(p.Jobs))
	for n := range list {
		list[n] = n
	}
	return list
}

const noLimit = math.MaxInt
