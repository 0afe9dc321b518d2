package care

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
	"sort"

	"solfeggio/internal/core/field"
)

// A Task is something that could be done now.
type Task struct {
	ID      string  `json:"id"`
	Value   float64 `json:"value" doc:"What doing it is worth, 0 or more; only comparisons matter"`
	Minutes float64 `json:"minutes" doc:"Person-minutes, more than 0"`
	Setup   string  `json:"setup,omitempty" doc:"Name of the place or tool that must be set up first"`
}

// TimeBoxIn is the input of the calculator care.timebox.
type TimeBoxIn struct {
	Minutes float64            `json:"minutes"`
	Helpers int                `json:"helpers"`
	Tasks   []Task             `json:"tasks"`
	Setups  map[string]float64 `json:"setups" doc:"Person-minutes to set each place up, paid once"`
}

// Next is the task that a little more time would buy.
type Next struct {
	ID           string  `json:"id"`
	ExtraMinutes float64 `json:"extra_minutes"`
}

// TimeBoxOut is the result of care.timebox.
type TimeBoxOut struct {
	Chosen      []string `json:"chosen" doc:"In the order of work"`
	Value       float64  `json:"value"`
	UsedMinutes float64  `json:"used_minutes" doc:"Person-minutes, set-ups included"`
	Next        *Next    `json:"next"`
	Exact       bool     `json:"exact" doc:"False only when there are so many tasks, or so many odd durations meet, that the search was cut short"`
	AtMost      float64  `json:"-"` // no plan can be worth more; the value itself when exact
}

// Bounds of the input, and of the plans kept side by side (in words of 64 tasks). Whole minutes need at most one plan a
// person-minute of capacity, so planWords is met only by large boxes of tasks with unlike fractions of a minute. Of more tasks
// that matter than are weighed, those worth most for their minutes are.
const (
	maxTasks    = 1_000_000
	mostWeighed = 3000
	maxMinutes  = 24 * 60
	maxHelpers  = 100
	planWords   = 1 << 18
)

const tolerance = 1e-9

// TimeBox is the calculator care.timebox: the most valuable set of tasks that fits minutes × (1 + helpers)
// person-minutes, each set-up paid once. Of equal plans the shorter is taken, then the one with the earlier tasks.
// When ctx ends, the best plan so far is given, which is not called exact.
func TimeBox(ctx context.Context, in TimeBoxIn) (TimeBoxOut, error) {
	if err := in.check(); err != nil {
		return TimeBoxOut{}, err
	}
	box := box{TimeBoxIn: in, capacity: in.Capacity(), exact: true}
	candidates := box.candidates()
	bound := box.remainder(candidates).most(0, 0)
	out := box.result(box.search(ctx, box.weighed(candidates)))
	if out.AtMost = math.Max(bound, out.Value); box.exact {
		out.AtMost = out.Value
	}
	return out, nil
}

// Capacity is how many person-minutes there are.
func (in TimeBoxIn) Capacity() float64 { return in.Minutes * float64(1+in.Helpers) }

func (in TimeBoxIn) check() error {
	if !(in.Minutes >= 0 && in.Minutes <= maxMinutes) {
		return field.Errorf("minutes", "%v is not a number of minutes in a day; use 0 to %d", in.Minutes, maxMinutes)
	}
	if in.Helpers < 0 || in.Helpers > maxHelpers {
		return field.Errorf("helpers", "%d is no number of helpers; use 0 to %d", in.Helpers, maxHelpers)
	}
	if len(in.Tasks) > maxTasks {
		return field.Errorf("tasks", "%d are too many for one box; use at most %d", len(in.Tasks), maxTasks)
	}
	for name, m := range in.Setups {
		if name == "" {
			return field.Errorf("setups", "a set-up has no name")
		}
		if !field.NotNegative(m) {
			return field.Errorf("setups."+name, "%v is not a number of minutes; use 0 or more", m)
		}
	}
	seen := map[string]bool{}
	for i, t := range in.Tasks {
		path := fmt.Sprintf("tasks[%d]", i)
		switch _, known := in.Setups[t.Setup]; {
		case t.ID == "":
			return field.Errorf(path+".id", "give each task a name")
		case seen[t.ID]:
			return field.Errorf(path+".id", "%q stands there twice", t.ID)
		case !field.NotNegative(t.Value):
			return field.Errorf(path+".value", "%v is no value; use 0 or more", t.Value)
		case !field.Positive(t.Minutes):
			return field.Errorf(path+".minutes", "%v is not a duration; use more than 0", t.Minutes)
		case t.Setup != "" && !known:
			return field.Errorf(path+".setup", "%q is not among setups", t.Setup)
		}
		seen[t.ID] = true
	}
	return nil
}

type box struct {
	TimeBoxIn
	capacity float64
	exact    bool
}

// A plan is a set of candidates. They are bits, the first candidate the highest bit of the first word, so that of two
// plans the one with the earlier tasks is the larger number.
type plan struct {
	minutes, value float64
	tasks          []uint64
}

func (p plan) has(n int) bool { return p.tasks[n/64]&(1<<(63-n%64)) != 0 }

func (p plan) with(n int, t Task) plan {
	tasks := slices.Clone(p.tasks)
	tasks[n/64] |= 1 << (63 - n%64)
	return plan{p.minutes + t.Minutes, p.value + t.Value, tasks}
}

// before orders plans by minutes, and equal ones so that the better comes first.
func (p plan) before(q plan) bool {
	if math.Abs(p.minutes-q.minutes) > tolerance {
		return p.minutes < q.minutes
	}
	if math.Abs(p.value-q.value) > tolerance {
		return p.value > q.value
	}
	return slices.Compare(p.tasks, q.tasks) > 0
}

// search keeps the plans that no other plan beats in both minutes and value (the Nemhauser–Ullmann list), set-up by
// set-up: a set-up's tasks are tried on copies of the plans so far that have paid for it. Plans that could not come up to the best
// even if whatever is left were cut to measure are dropped (Dantzig's bound). It returns the best plan's tasks as marks on
// the input.
func (b *box) search(ctx context.Context, candidates []int) []bool {
	words := (len(candidates) + 63) / 64
	plans := []plan{{tasks: make([]uint64, words)}}
	bySetup := map[string][]int{}
	var setups []string
	for n, i := range candidates {
		setup := b.Tasks[i].Setup
		if bySetup[setup] == nil {
			setups = append(setups, setup)
		}
		bySetup[setup] = append(bySetup[setup], n)
	}
	left := b.remainder(candidates)
	for _, setup := range setups {
		open := make([]plan, 0, len(plans))
		for _, p := range plans {
			if p.minutes += b.Setups[setup]; p.minutes <= b.capacity+tolerance {
				open = append(open, p)
			}
		}
		for _, n := range bySetup[setup] {
			if ctx.Err() != nil {
				b.exact = false
				break
			}
			task := b.Tasks[candidates[n]]
			left.drop(n)
			longer := make([]plan, 0, len(open))
			for _, p := range open {
				if p.minutes+task.Minutes > b.capacity+tolerance {
					break // the plans that follow are longer
				}
				if left.reaches(p.minutes+task.Minutes, p.value+task.Value) {
					longer = append(longer, p.with(n, task))
				}
			}
			open = b.unbeaten(
				slices.DeleteFunc(open, func(p plan) bool { return !left.reaches(p.minutes, p.value) }),
				longer,
				planWords/words,
			)
		}
		plans = b.unbeaten(plans, open, planWords/words)
	}
	best := plans[len(plans)-1]
	chosen := make([]bool, len(b.Tasks))
	for n, i := range candidates {
		chosen[i] = best.has(n)
	}
	return chosen
}

// unbeaten merges two lists in order and drops every plan that an earlier one makes pointless.
func (b *box) unbeaten(x, y []plan, most int) []plan {
	out := make([]plan, 0, len(x)+len(y))
	for len(x) > 0 || len(y) > 0 {
		var p plan
		if len(y) == 0 || len(x) > 0 && x[0].before(y[0]) {
			p, x = x[0], x[1:]
		} else {
			p, y = y[0], y[1:]
		}
		if len(out) == 0 || p.value > out[len(out)-1].value+tolerance {
			out = append(out, p)
		}
	}
	if len(out) > most {
		b.exact = false
		thin := make([]plan, 0, most)
		for i := range most {
			thin = append(thin, out[i*(len(out)-1)/(most-1)])
		}
		out = thin
	}
	return out
}

// candidates lists the available tasks in the order of the input. Of tasks alike in set-up and minutes only as many
// are kept as the box could hold at all: the others could be exchanged for one of these in any plan.
func (b *box) candidates() []int {
	type alike struct {
		setup   string
		minutes float64
	}
	kinds := map[alike][]int{}
	for i, t := range b.Tasks {
		if b.available(t) {
			k := alike{t.Setup, t.Minutes}
			kinds[k] = append(kinds[k], i)
		}
	}
	var out []int
	for k, tasks := range kinds {
		sort.SliceStable(tasks, func(x, y int) bool { return b.Tasks[tasks[x]].Value > b.Tasks[tasks[y]].Value })
		out = append(out, tasks[:int(math.Min(float64(len(tasks)), math.Floor(b.capacity/k.minutes+tolerance)))]...)
	}
	slices.Sort(out)
	return out
}

// weighed is the candidates that the search weighs: all, or those worth most for their minutes, in the order of the input.
func (b *box) weighed(candidates []int) []int {
	if len(candidates) <= mostWeighed {
		return candidates
	}
	b.exact = false
	best := slices.Clone(candidates)
	density := func(i int) float64 { return b.Tasks[i].Value / b.Tasks[i].Minutes }
	slices.SortStableFunc(best, func(x, y int) int { return cmp.Compare(density(y), density(x)) })
	best = best[:mostWeighed]
	slices.Sort(best)
	return best
}

func (b *box) available(t Task) bool { return t.Minutes <= b.Minutes+tolerance }

// result puts the plan into the order of work: the set-up with the most valuable task first, and within it the most
// valuable task first, so that whatever the bell cuts off was worth least.
func (b *box) result(in []bool) TimeBoxOut {
	out := TimeBoxOut{Chosen: []string{}, Exact: b.exact}
	var chosen []int
	peak := map[string]float64{}
	for i, t := range b.Tasks {
		if !in[i] {
			continue
		}
		chosen = append(chosen, i)
		if _, paid := peak[t.Setup]; !paid {
			out.UsedMinutes += b.Setups[t.Setup]
		}
		peak[t.Setup] = math.Max(peak[t.Setup], t.Value)
		out.Value += t.Value
		out.UsedMinutes += t.Minutes
	}
	sort.SliceStable(chosen, func(x, y int) bool {
		s, t := b.Tasks[chosen[x]], b.Tasks[chosen[y]]
		if s.Setup == t.Setup {
			return s.Value > t.Value
		}
		if peak[s.Setup] != peak[t.Setup] {
			return peak[s.Setup] > peak[t.Setup]
		}
		return s.Setup < t.Setup
	})
	for _, i := range chosen {
		out.Chosen = append(out.Chosen, b.Tasks[i].ID)
	}
	for i, t := range b.Tasks {
		if in[i] || !b.available(t) {
			continue
		}
		need := t.Minutes
		if _, paid := peak[t.Setup]; !paid {
			need += b.Setups[t.Setup]
		}
		extra := math.Max(0, need-(b.capacity-out.UsedMinutes))
		if out.Next == nil || extra < out.Next.ExtraMinutes-tolerance {
			out.Next = &Next{t.ID, extra}
		}
	}
	return out
}
