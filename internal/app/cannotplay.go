package app

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
)

// Blocked is an instrument in somebody's hands that must not be played, with its quick way out.
type Blocked struct {
	InstrumentID uuid.UUID      `json:"instrument_id"`
	Tag          string         `json:"tag"`
	KindName     string         `json:"kind_name"`
	Holder       string         `json:"holder" doc:"Who cannot play; empty when nobody is named"`
	Because      string         `json:"because" doc:"What stops it"`
	FirstAid     []string       `json:"first_aid"`
	Next         *NextRehearsal `json:"next,omitempty" doc:"The next rehearsal that it touches"`
	Loaner       *Loaner        `json:"loaner,omitempty" doc:"A free one of the same kind and size"`
	Lacks        []ThingOfKit   `json:"lacks" doc:"What is missing from the kit and nobody can play without; empty for a stopped one"`
}

// NextRehearsal is a coming rehearsal.
type NextRehearsal struct {
	Ensemble string  `json:"ensemble"`
	On       day.Day `json:"on"`
	At       string  `json:"at" doc:"As 13:05"`
	Days     int     `json:"days"`
}

// Loaner is a free instrument.
type Loaner struct {
	InstrumentID uuid.UUID `json:"instrument_id"`
	Tag          string    `json:"tag"`
}

// lookAhead is how many days are searched for the next rehearsal.
const lookAhead = 28

// cannotPlay lists the instruments in players' hands that are stopped or lack what nobody can play without, whose rehearsal is
// soonest first. No loaner is offered twice.
func (a *App) cannotPlay(s *snapshot, clock string) []Blocked {
	list := []Blocked{}
	for _, i := range s.instruments {
		if i.habit == nil {
			continue
		}
		blocked := Blocked{InstrumentID: i.ID, Tag: i.Tag, KindName: i.named(), Because: i.care.Stopped, FirstAid: []string{}, Lacks: []ThingOfKit{}}
		if i.care.Stopped != "" {
			blocked.FirstAid = i.triage.FirstAid
		} else if blocked.Because, blocked.Lacks = a.lacks(i); len(blocked.Lacks) == 0 {
			continue
		}
		blocked.Holder, blocked.Next = s.listed(i).Holder, s.nextRehearsal(i, clock)
		list = append(list, blocked)
	}
	slices.SortStableFunc(list, func(x, y Blocked) int {
		days := func(b Blocked) (int, string) {
			if b.Next == nil {
				return lookAhead, ""
			}
			return b.Next.Days, b.Next.At
		}
		xd, xt := days(x)
		yd, yt := days(y)
		return cmp.Or(xd-yd, strings.Compare(xt, yt))
	})
	taken := map[uuid.UUID]bool{}
	for n := range list {
		if len(list[n].Lacks) > 0 {
			continue
		}
		if free := s.loanerFor(s.byID[list[n].InstrumentID], taken); free != nil {
			taken[free.ID] = true
			list[n].Loaner = &Loaner{free.ID, free.Tag}
		}
	}
	return list
}

// lacks lists what is missing from a kit that nobody can play without, and says so in words.
func (a *App) lacks(i *instrument) (because string, things []ThingOfKit) {
	var names []string
	for _, item := range a.catalog.KitOf(i.kind).Items {
		if item.ToPlay && i.kit[item.Supply].State == catalog.Missing {
			thing, _ := a.catalog.Supply(item.Supply)
			names = append(names, catalog.InText(thing.Name))
			things = append(things, ThingOfKit{i.ID, item.Supply})
		}
	}
	if len(names) == 0 {
		return "", nil
	}
	return "Missing: " + strings.Join(names, ", "), things
}

// nextRehearsal is the next rehearsal of an instrument's ensembles after the clock of today.
func (s *snapshot) nextRehearsal(i *instrument, clock string) *NextRehearsal {
	for n := range lookAhead {
		on := s.today + day.Day(n)
		if s.calendar.IsBreak(on) {
			continue
		}
		var next *NextRehearsal
		for _, e := range s.ensembles {
			if !slices.Contains(i.habit.Ensembles, e.ID) {
				continue
			}
			for _, r := range e.Rehearsals {
				at := r.StartsAt[:min(5, len(r.StartsAt))]
				if day.Weekday(r.Weekday) != on.Weekday() || n == 0 && at <= clock || next != nil && next.At <= at {
					continue
				}
				next = &NextRehearsal{e.Name, on, at, n}
			}
		}
		if next != nil {
			return next
		}
	}
	return nil
}

// loanerFor finds a free instrument of the same kind and size that can be played, the soundest first.
func (s *snapshot) loanerFor(i *instrument, taken map[uuid.UUID]bool) *instrument {
	var best *instrument
	for _, free := range s.instruments {
		if free.Instrument.Kind != i.Instrument.Kind || free.Size != i.Size || taken[free.ID] || free.cannotBeHandedOut() != nil {
			continue
		}
		if best == nil || len(free.findings) < len(best.findings) {
			best = free
		}
	}
	return best
}

// Lending names the instrument that is lent instead.
type Lending struct {
	LoanerID uuid.UUID `json:"loaner_id"`
}

// Lend gives whoever plays a stopped instrument another one from today on: how it was played goes over to the loaner, and the
// instrument itself is back and held.
func (a *App) Lend(ctx context.Context, by Person, id uuid.UUID, in Lending) (Changed, error) {
	return write(ctx, a, by, MayChangeInstruments, func(tx *store.Tx, s *snapshot) (Changed, error) {
		i, err := s.instrument(id)
		if err != nil {
			return Changed{}, err
		}
		loaner := s.byID[in.LoanerID]
		switch {
		case loaner == nil:
			return Changed{}, invalid("loaner_id", "no such instrument", in.LoanerID)
		case i.habit == nil:
			return Changed{}, &Fault{Kind: Conflict, Message: fmt.Sprintf("Nobody plays %s now, so nobody needs another.", i.Tag)}
		}
		habit := habitOf(i.habit)
		back, err := a.takeBack(ctx, tx, by, s, i, Returning{})
		if err != nil {
			return Changed{}, err
		}
		h := store.HandOver{ID: uuid.Must(uuid.NewV7())}
		if err := a.goOut(ctx, tx, by, s, loaner.ID, habit, h); err != nil {
			return Changed{}, err
		}
		detail := HandedOutDetail{PlayerID: habit.PlayerID, Habit: &habit, LentFor: &back}
		if habit.PlayerID != nil {
			detail.HandOver = &h.ID
		}
		out, err := a.record(ctx, tx, by, store.Event{What: store.HandedOut, Instrument: &loaner.ID}, detail)
		return Changed{Events: []uuid.UUID{out}}, err
	})
}

// clockAt is the time of day at the school, as 13:05.
func (a *App) clockAt(s store.School) string {
	return a.now().In(a.zone(s)).Format("15:04")
}
