package app

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

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

// cannotPlay lists the stopped instruments in players' hands, whose rehearsal is soonest first. No loaner is offered twice.
func (s *snapshot) cannotPlay(clock string) []Blocked {
	list := []Blocked{}
	for _, i := range s.instruments {
		if i.care.Stopped != "" && i.habit != nil {
			list = append(list, Blocked{
				InstrumentID: i.ID, Tag: i.Tag, KindName: strings.TrimSpace(i.kind.Name + " " + i.Size), Because: i.care.Stopped, Holder: s.listed(i).Holder,
				FirstAid: i.triage.FirstAid, Next: s.nextRehearsal(i, clock),
			})
		}
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
		if free := s.loanerFor(s.byID[list[n].InstrumentID], taken); free != nil {
			taken[free.ID] = true
			list[n].Loaner = &Loaner{free.ID, free.Tag}
		}
	}
	return list
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

// cannotBeHandedOut says why an instrument must not go into anybody's hands now.
func (i *instrument) cannotBeHandedOut() error {
	switch {
	case i.care.Stopped != "":
		return &Fault{Kind: Conflict, Message: fmt.Sprintf("%s is stopped (%s). It goes into nobody's hands until somebody allowed to clears it.", i.Tag, i.care.Stopped)}
	case i.habit != nil:
		return &Fault{Kind: Conflict, Message: fmt.Sprintf("%s is in somebody's hands already.", i.Tag)}
	}
	return nil
}

// stillFree asks the database what the snapshot may not know yet.
func (a *App) stillFree(ctx context.Context, tx *store.Tx, i *instrument, today day.Day) error {
	now := instrument{Instrument: i.Instrument}
	var err error
	if now.findings, err = tx.OpenFindings(ctx, &i.ID); err != nil {
		return err
	}
	if err := now.judge(); err != nil {
		return err
	}
	all, err := tx.Assignments(ctx, &i.ID)
	if err != nil {
		return err
	}
	for n, at := range all {
		if at.StartsOn <= today && (at.EndsOn == nil || *at.EndsOn >= today) {
			now.habit = &all[n]
		}
	}
	return now.cannotBeHandedOut()
}

// Lending names the instrument that is lent instead.
type Lending struct {
	LoanerID uuid.UUID `json:"loaner_id"`
}

// Lend gives whoever plays a stopped instrument another one from today on: how it was played goes over to the loaner.
func (a *App) Lend(ctx context.Context, by Person, id uuid.UUID, in Lending) (Changed, error) {
	s, i, err := a.instrument(ctx, by, id)
	if err != nil {
		return Changed{}, err
	}
	return write(ctx, a, by, MayChangeInstruments, "lend", map[string]any{"id": id, "in": in}, func(tx *store.Tx) (Changed, error) {
		loaner := s.byID[in.LoanerID]
		switch {
		case loaner == nil:
			return Changed{}, invalid("loaner_id", "no such instrument", in.LoanerID)
		case i.habit == nil:
			return Changed{}, &Fault{Kind: Conflict, Message: fmt.Sprintf("Nobody plays %s now, so nobody needs another.", i.Tag)}
		}
		if err := a.stillFree(ctx, tx, loaner, s.today); err != nil {
			return Changed{}, err
		}
		habit := habitOf(i.habit)
		out := Changed{Events: []uuid.UUID{}}
		for _, change := range []struct {
			id    uuid.UUID
			habit *Habit
		}{{i.ID, nil}, {loaner.ID, &habit}} {
			events, err := a.changeHabit(ctx, tx, by, change.id, change.habit, s.today)
			if err != nil {
				return out, err
			}
			out.Events = append(out.Events, events...)
		}
		return out, nil
	})
}

// clockAt is the time of day at the school, as 13:05.
func (a *App) clockAt(s store.School) string {
	zone, err := time.LoadLocation(s.TimeZone)
	if err != nil {
		zone = time.UTC
	}
	return a.now().In(zone).Format("15:04")
}
