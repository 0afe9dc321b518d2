package today

import (
	"cmp"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/placing"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
)

// Blocked is an instrument in somebody's hands that must not be played, with its quick way out.
type Blocked struct {
	InstrumentID uuid.UUID           `json:"instrument_id"`
	Tag          string              `json:"tag"`
	KindName     string              `json:"kind_name"`
	Holder       string              `json:"holder" doc:"Who cannot play; empty when nobody is named"`
	Because      string              `json:"because" doc:"What stops it"`
	FirstAid     []string            `json:"first_aid"`
	Next         *NextRehearsal      `json:"next,omitempty" doc:"The next rehearsal that it touches"`
	Loaner       *Loaner             `json:"loaner,omitempty" doc:"A free one of the same kind and size, offered to nobody else"`
	Lacks        []supply.ThingOfKit `json:"lacks" doc:"What is missing from the kit and nobody can play without; empty for a stopped one"`
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
// soonest first. Loaners are those of the book.
func (r *Room) cannotPlay(s *school.Snapshot, book *placing.Book, clock string) []Blocked {
	list := []Blocked{}
	for _, i := range s.Instruments {
		if i.Habit == nil {
			continue
		}
		blocked := Blocked{
			InstrumentID: i.ID,
			Tag:          i.Tag,
			KindName:     i.Named(),
			Because:      i.Care.Stopped,
			FirstAid:     []string{},
			Lacks:        []supply.ThingOfKit{},
		}
		if i.Care.Stopped != "" {
			blocked.FirstAid = i.Triage.FirstAid
		} else if blocked.Because, blocked.Lacks = r.lacks(i); len(blocked.Lacks) == 0 {
			continue
		}
		blocked.Holder, blocked.Next = s.Listed(i).Holder, nextRehearsal(s, i, clock)
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
	for n := range list {
		if offer := book.InsteadOf(list[n].InstrumentID); offer != nil && len(list[n].Lacks) == 0 {
			list[n].Loaner = &Loaner{offer.InstrumentID, offer.Tag}
		}
	}
	return list
}

// lacks lists what is missing from a kit that nobody can play without, and says so in words.
func (r *Room) lacks(i *school.Instrument) (because string, things []supply.ThingOfKit) {
	var names []string
	for _, item := range r.schools.CaseOf(i) {
		if item.ToPlay && i.Kit[item.Supply].State == catalog.Missing {
			thing, _ := r.schools.Catalog.Supply(item.Supply)
			names = append(names, catalog.InText(thing.Name))
			things = append(things, supply.ThingOfKit{InstrumentID: i.ID, Supply: item.Supply})
		}
	}
	if len(names) == 0 {
		return "", nil
	}
	return "Missing: " + strings.Join(names, ", "), things
}

// nextRehearsal is the next rehearsal of an instrument's ensembles after the clock of today.
func nextRehearsal(s *school.Snapshot, i *school.Instrument, clock string) *NextRehearsal {
	for n := range lookAhead {
		on := s.Today + day.Day(n)
		if s.Calendar.IsBreak(on) {
			continue
		}
		var next *NextRehearsal
		for _, e := range s.Ensembles {
			if !slices.Contains(i.Habit.Ensembles, e.ID) {
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
