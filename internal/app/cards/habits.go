package cards

import (
	"context"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/habit"
	"solfeggio/internal/core/why"
	"solfeggio/internal/store"
	"solfeggio/internal/store/cardrows"
)

// habitYears is how far back findings and drills are counted.
const habitYears = 2

// Habits says what players' habits cost here, and which to teach next.
type Habits struct {
	Since    day.Day      `json:"since"`
	Quoted   float64      `json:"quoted" doc:"The avoidable share that the trade quotes"`
	Why      why.Why      `json:"why"`
	Count    habit.Share  `json:"count" doc:"Avoidable findings among all"`
	Cents    int64        `json:"cents" doc:"What mending all of them costs"`
	Avoided  int64        `json:"avoidable_cents" doc:"Of that, for the avoidable ones"`
	Priced   int          `json:"priced" doc:"Findings for which a shop gave the price; the others count with the usual one, from memory"`
	Terms    []HabitTerm  `json:"terms" doc:"The earliest first"`
	Sections []HabitGroup `json:"sections"`
	Teach    []HabitRow   `json:"teach" doc:"The most worth first"`
	Drills   []HabitDrill `json:"drills" doc:"How drills went, by kind and class, the worst first"`
}

// HabitGroup is the avoidable share of a section.
type HabitGroup struct {
	Name  string      `json:"name"`
	Share habit.Share `json:"share"`
	Cents int64       `json:"avoidable_cents"`
}

// HabitTerm is the same of a term, beside the drills done in it.
type HabitTerm struct {
	HabitGroup
	Answers habit.Share `json:"answers" doc:"Right answers among all in drills"`
}

// HabitRow is a habit, what it cost, how it went in drills.
type HabitRow struct {
	Key    string      `json:"key"`
	Name   string      `json:"name"`
	Right  string      `json:"right" doc:"What is done instead"`
	Found  int         `json:"found"`
	Cents  int64       `json:"cents"`
	Missed habit.Share `json:"missed" doc:"Wrong answers among all in drills"`
	Worth  float64     `json:"worth" doc:"Cents: what it cost times how often it is to be missed"`
}

// HabitDrill is how drills of a kind went in a class.
type HabitDrill struct {
	Kind   string      `json:"kind" doc:"Name of it"`
	Class  string      `json:"class" doc:"Name of the ensemble; empty for players by themselves"`
	Missed habit.Share `json:"missed"`
}

// Habits works it out from the findings and drills of two years.
func (r *Room) Habits(ctx context.Context, by journal.Person) (Habits, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return Habits{}, err
	}
	out := Habits{Since: s.Today.AddYears(-habitYears), Quoted: habit.QuotedShare, Terms: []HabitTerm{}, Sections: []HabitGroup{},
		Drills: []HabitDrill{}}
	var found []cardrows.FoundCost
	var drills []cardrows.DrillCount
	if err := r.schools.Read(ctx, by, func(tx *store.Tx) (err error) {
		if found, err = cardrows.FoundSince(ctx, tx, out.Since); err != nil {
			return err
		}
		drills, err = cardrows.DrillCounts(ctx, tx, out.Since)
		return err
	}); err != nil {
		return Habits{}, journal.InPlainWords(err)
	}
	all := tally{}
	bySection, byTerm := map[string]*tally{}, map[string]*tally{}
	byHabit := map[string]*habit.Cost{}
	for _, f := range found {
		k, ok := r.schools.Catalog.Kind(f.Kind)
		if !ok {
			continue
		}
		cents := r.costOf(k, f)
		if f.Cents != nil {
			out.Priced++
		}
		all.add(f.Avoidable, cents)
		of(bySection, k.Section).add(f.Avoidable, cents)
		on := day.Of(f.FoundAt.In(s.Zone))
		for _, t := range s.Terms {
			if t.StartsOn <= on && on <= t.EndsOn {
				of(byTerm, t.Name).add(f.Avoidable, cents)
			}
		}
		if f.Avoidable {
			for _, m := range r.causes(k, f.Code) {
				of(byHabit, m).Found++
				of(byHabit, m).Cents += cents
			}
		}
	}
	if out.Count, err = all.share(); err != nil {
		return Habits{}, err
	}
	out.Cents, out.Avoided = all.cents, all.avoidableCents
	for _, k := range r.schools.Catalog.Kinds {
		if t := bySection[k.Section]; t != nil {
			share, err := t.share()
			if err != nil {
				return Habits{}, err
			}
			out.Sections = append(out.Sections, HabitGroup{k.Section, share, t.avoidableCents})
			delete(bySection, k.Section)
		}
	}
	for _, t := range s.Terms {
		if of(byTerm, t.Name).all == 0 && t.StartsOn > s.Today {
			continue
		}
		share, err := byTerm[t.Name].share()
		if err != nil {
			return Habits{}, err
		}
		right, wrong := 0, 0
		for _, d := range drills {
			if t.StartsOn <= d.On && d.On <= t.EndsOn {
				right, wrong = right+d.Right, wrong+d.Wrong
			}
		}
		answers, err := habit.ShareOf(right, right+wrong)
		if err != nil {
			return Habits{}, err
		}
		out.Terms = append(out.Terms, HabitTerm{HabitGroup{t.Name, share, byTerm[t.Name].avoidableCents}, answers})
	}
	for _, d := range drills {
		c := of(byHabit, d.Habit)
		c.Right, c.Wrong = c.Right+d.Right, c.Wrong+d.Wrong
	}
	if out.Teach, err = r.teach(byHabit); err != nil {
		return Habits{}, err
	}
	out.Drills, err = r.drilled(s.EnsembleNames, drills)
	out.Why = why.Why{
		Rule: "The avoidable share", Basis: why.Basis{Kind: why.CommonPractice},
		Statement: "Findings of two years that handling, assembly or missed cleaning brought about, among all. The trade quotes four of five, without a published source. The interval is Wilson’s: with few findings it is wide. A habit is worth teaching as much as its findings cost, times how often it is missed in drills.",
	}
	return out, err
}

// A tally counts findings and what they cost.
type tally struct {
	all, avoidable        int
	cents, avoidableCents int64
}

func (t *tally) add(avoidable bool, cents int64) {
	t.all++
	t.cents += cents
	if avoidable {
		t.avoidable++
		t.avoidableCents += cents
	}
}

func (t *tally) share() (habit.Share, error) { return habit.ShareOf(t.avoidable, t.all) }

// of is the entry of a key, made when it is first asked for.
func of[T any](m map[string]*T, key string) *T {
	if m[key] == nil {
		m[key] = new(T)
	}
	return m[key]
}

// costOf is what mending a finding costs: what a shop took or said, else what such a repair usually costs; nothing where none mends it.
func (r *Room) costOf(k *catalog.Kind, f cardrows.FoundCost) int64 {
	if f.Cents != nil {
		return *f.Cents
	}
	if repair, ok := r.schools.Catalog.Mending(k, f.Code); ok {
		return repair.Cents
	}
	return 0
}

// causes are the mistakes by which a finding comes about on a kind; its cost is not shared out, since nobody knows which it was.
func (r *Room) causes(k *catalog.Kind, code string) (keys []string) {
	of := catalog.Subject{Kind: k, Body: k.Bodies[0], Choices: r.schools.Catalog.Choose()}
	for _, m := range r.schools.Catalog.MistakesOf(of) {
		if slices.Contains(m.Findings, code) {
			keys = append(keys, m.Key)
		}
	}
	return keys
}

// teach orders the mistakes that cost something or were drilled.
func (r *Room) teach(byHabit map[string]*habit.Cost) ([]HabitRow, error) {
	var costs []habit.Cost
	for _, m := range r.schools.Catalog.Mistakes {
		if c := byHabit[m.Key]; c != nil {
			c.Habit = m.Key
			costs = append(costs, *c)
		}
	}
	rows := []HabitRow{}
	for _, l := range habit.TeachNext(costs) {
		m, _ := r.schools.Catalog.Mistake(l.Habit)
		missed, err := habit.ShareOf(l.Wrong, l.Right+l.Wrong)
		if err != nil {
			return nil, err
		}
		rows = append(rows, HabitRow{m.Key, m.Name, m.Right, l.Found, l.Cents, missed, l.Worth})
	}
	return rows, nil
}

// drilled gathers the answers of drills by kind and class, those missed most first.
func (r *Room) drilled(nameOf func([]uuid.UUID) []string, drills []cardrows.DrillCount) ([]HabitDrill, error) {
	type group struct {
		kind  string
		class uuid.UUID
	}
	sums := map[group][2]int{}
	var order []group
	for _, d := range drills {
		g := group{d.Kind, d.Ensemble}
		if _, known := sums[g]; !known {
			order = append(order, g)
		}
		sums[g] = [2]int{sums[g][0] + d.Right, sums[g][1] + d.Wrong}
	}
	list := []HabitDrill{}
	for _, g := range order {
		missed, err := habit.ShareOf(sums[g][1], sums[g][0]+sums[g][1])
		if err != nil {
			return nil, err
		}
		row := HabitDrill{Kind: g.kind, Missed: missed}
		if k, ok := r.schools.Catalog.Kind(g.kind); ok {
			row.Kind = k.Name
		}
		if names := nameOf([]uuid.UUID{g.class}); len(names) > 0 {
			row.Class = names[0]
		}
		list = append(list, row)
	}
	slices.SortStableFunc(list, func(x, y HabitDrill) int {
		switch {
		case x.Missed.At > y.Missed.At:
			return -1
		case x.Missed.At < y.Missed.At:
			return 1
		}
		return 0
	})
	return list, nil
}
