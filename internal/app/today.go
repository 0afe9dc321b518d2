package app

import (
	"cmp"
	"context"
	"slices"
	"strconv"
	"sync"

	"github.com/google/uuid"

	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
)

// Task is one clock as something to do.
type Task struct {
	InstrumentID uuid.UUID `json:"instrument_id"`
	Tag          string    `json:"tag"`
	Kind         string    `json:"kind" doc:"Name of the kind"`
	Room         string    `json:"room"`
	Slot         string    `json:"slot"`
	clocks.Key
	Title    string       `json:"title"`
	PartName string       `json:"part_name" doc:"Empty for the whole instrument"`
	Who      catalog.Who  `json:"who" enum:"player,section leader,director,director or trained helper,technician"`
	Minutes  float64      `json:"minutes"`
	State    care.State   `json:"state" enum:"fresh,opening,due,late"`
	Wear     float64      `json:"wear" doc:"Share of the limit that has run"`
	DueOn    *day.Day     `json:"due_on" nullable:"true"`
	Binding  care.Binding `json:"binding" enum:"days,playing_hours,sessions,returned,before_concert,season,unplayed"`
	Limits   care.Limits  `json:"limits"`
	OwnLimit *care.Limits `json:"own_limit,omitempty" doc:"This instrument's own limit, in place of the usual one"`
	Elapsed  care.Elapsed `json:"elapsed"`
	Value    float64      `json:"value"`
	Stopped  string       `json:"stopped,omitempty" doc:"What stops the instrument; nothing is done on it meanwhile but what mends it"`
}

// AtPlace is the tasks of one place.
type AtPlace struct {
	Place        string   `json:"place"`
	Name         string   `json:"name"`
	SetupMinutes float64  `json:"setup_minutes"`
	Brings       string   `json:"brings"`
	Cautions     []string `json:"cautions" doc:"To be read before the first task"`
	Tasks        []Task   `json:"tasks"`
}

// Box is what fits into the time there is.
type Box struct {
	Minutes     float64   `json:"minutes"`
	Helpers     int       `json:"helpers"`
	UsedMinutes float64   `json:"used_minutes" doc:"Person-minutes with set-ups"`
	LeftOut     int       `json:"left_out" doc:"Tasks that could be done now but did not fit"`
	Places      []AtPlace `json:"places"`
	Next        *NextTask `json:"next,omitempty" doc:"What a little more time would buy"`
	Near        float64   `json:"near" doc:"At least so much of what the best choice is worth, from 0 to 1; 1 where nothing is better"`
}

// NextTask is the task that came closest to fitting.
type NextTask struct {
	Task         Task    `json:"task"`
	ExtraMinutes float64 `json:"extra_minutes"`
}

// StripDay is one day of the two-week strip.
type StripDay struct {
	Date    day.Day `json:"date"`
	Due     int     `json:"due" doc:"Clocks that become due on the day; on the first day also all that are due or late already"`
	Break   bool    `json:"break"`
	Concert string  `json:"concert" doc:"Name, or empty"`
}

// NextConcert is a coming concert.
type NextConcert struct {
	Name string  `json:"name"`
	On   day.Day `json:"on"`
	Days int     `json:"days"`
}

// Today is the answer to: what first, and how do things stand.
type Today struct {
	CannotPlay []Blocked     `json:"cannot_play" doc:"Instruments in players' hands that cannot be played, the soonest rehearsal first"`
	DueBack    []DueBack     `json:"due_back" doc:"What comes back or goes back to its owner soon"`
	Box        Box           `json:"box"`
	Late       int           `json:"late"`
	Due        int           `json:"due"`
	Opening    int           `json:"opening"`
	Strip      []StripDay    `json:"strip"`
	Concerts   []NextConcert `json:"concerts"`
	Empty      bool          `json:"empty" doc:"There is no instrument yet"`
}

// Today works out the day for minutes and helpers.
func (a *App) Today(ctx context.Context, by Person, minutes float64, helpers int) (Today, error) {
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return Today{}, err
	}
	w := s.work()
	out := Today{Late: w.count[care.Late], Due: w.count[care.Due], Opening: w.count[care.Opening], Empty: len(s.instruments) == 0, Strip: w.strip, Concerts: s.nextConcerts(), CannotPlay: a.cannotPlay(s, a.clockAt(s.school)), DueBack: s.dueBack()}
	out.Box, err = a.box(ctx, w.ready, minutes, helpers)
	return out, err
}

// DueList is a page of all that is due or late.
type DueList struct {
	Total  int       `json:"total" doc:"Of all pages"`
	Places []AtPlace `json:"places"`
}

// Due lists so many tasks that are due or late, most worth first, after the first ones, by place.
func (a *App) Due(ctx context.Context, by Person, first, most int) (DueList, error) {
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return DueList{}, err
	}
	due := s.work().due
	page := due[min(first, len(due)):min(first+most, len(due))]
	return DueList{len(due), a.byPlace(page)}, nil
}

// A worklist is what is to be done of a school, worked out when it is first asked for.
type worklist struct {
	once       sync.Once
	due, ready []Task // most worth first
	strip      []StripDay
	count      map[care.State]int
}

// work is the worklist of the school.
func (s *snapshot) work() *worklist {
	w := s.worklist
	w.once.Do(func() {
		w.count = map[care.State]int{}
		for _, i := range s.instruments {
			for _, c := range i.clocks {
				w.count[c.Reading.State]++
				if c.Reading.State == care.Due || c.Reading.State == care.Late {
					w.due = append(w.due, taskOf(i, c))
				}
			}
			for _, c := range i.offered {
				w.ready = append(w.ready, taskOf(i, c))
			}
		}
		w.due, w.ready = mostWorthFirst(w.due), mostWorthFirst(w.ready)
		w.strip = s.coming(stripDays)
	})
	return w
}

// mostWorthFirst orders tasks by value; of equal ones the earlier comes first. Tasks are large, so their places are sorted instead.
func mostWorthFirst(tasks []Task) []Task {
	order := make([]int, len(tasks))
	for n := range order {
		order[n] = n
	}
	slices.SortFunc(order, func(x, y int) int { return cmp.Or(cmp.Compare(tasks[y].Value, tasks[x].Value), x-y) })
	sorted := make([]Task, len(tasks))
	for n, at := range order {
		sorted[n] = tasks[at]
	}
	return sorted
}

const stripDays = 14

func taskOf(i *instrument, c clocks.Clock) Task {
	t := Task{
		InstrumentID: i.ID, Tag: i.Tag, Kind: i.kind.Name, Room: i.Room, Slot: i.Slot, Key: c.Key, Title: c.Of.Title, PartName: c.PartName(),
		Who: c.Of.Who, Minutes: c.Of.Minutes, State: c.Reading.State, Wear: c.Reading.Wear, Binding: c.Reading.Binding, Limits: c.Limits, OwnLimit: i.ownLimit(c.Key), Elapsed: c.Reading.Elapsed, Value: c.Value, Stopped: i.care.Stopped,
	}
	if !c.Reading.DueOn.IsZero() {
		t.DueOn = &c.Reading.DueOn
	}
	return t
}

// byPlace gathers tasks by where they are done, keeping their order; the place of the first task comes first.
func (a *App) byPlace(tasks []Task) []AtPlace {
	places := []AtPlace{}
	at := map[string]int{}
	for _, t := range tasks {
		routine, _ := a.catalog.Routine(t.Routine)
		n, known := at[routine.Place]
		if !known {
			n = len(places)
			at[routine.Place] = n
			p, _ := a.catalog.Place(routine.Place)
			places = append(places, AtPlace{Place: p.Key, Name: p.Name, SetupMinutes: p.SetupMinutes, Brings: p.Brings, Cautions: []string{}})
		}
		for _, caution := range routine.Cautions {
			if !slices.Contains(places[n].Cautions, caution) {
				places[n].Cautions = append(places[n].Cautions, caution)
			}
		}
		places[n].Tasks = append(places[n].Tasks, t)
	}
	return places
}

// box fills the time with what can be done now.
func (a *App) box(ctx context.Context, ready []Task, minutes float64, helpers int) (Box, error) {
	in := care.TimeBoxIn{Minutes: minutes, Helpers: helpers, Setups: map[string]float64{}}
	in.Tasks = make([]care.Task, len(ready))
	for n, t := range ready {
		routine, _ := a.catalog.Routine(t.Routine)
		place, _ := a.catalog.Place(routine.Place)
		in.Setups[place.Key] = place.SetupMinutes
		in.Tasks[n] = care.Task{ID: strconv.Itoa(n), Value: t.Value, Minutes: t.Minutes, Setup: place.Key}
	}
	task := func(id string) Task { n, _ := strconv.Atoi(id); return ready[n] }
	got, err := care.TimeBox(ctx, in)
	if err != nil {
		return Box{}, invalid("minutes", err.Error(), minutes)
	}
	chosen := make([]Task, len(got.Chosen))
	for n, id := range got.Chosen {
		chosen[n] = task(id)
	}
	box := Box{Minutes: minutes, Helpers: helpers, UsedMinutes: got.UsedMinutes, LeftOut: len(in.Tasks) - len(chosen), Places: a.byPlace(chosen), Near: 1}
	if got.AtMost > 0 {
		box.Near = got.Value / got.AtMost
	}
	if got.Next != nil {
		box.Next = &NextTask{task(got.Next.ID), got.Next.ExtraMinutes}
	}
	return box, nil
}

// coming counts what becomes due on each of the coming days.
func (s *snapshot) coming(days int) []StripDay {
	strip := make([]StripDay, days)
	for n := range strip {
		d := s.today + day.Day(n)
		strip[n] = StripDay{Date: d, Break: s.calendar.IsBreak(d)}
		for _, c := range s.concerts {
			if c.HeldOn == d {
				strip[n].Concert = c.Name
			}
		}
	}
	for _, i := range s.instruments {
		for _, c := range i.clocks {
			if on := c.Reading.DueOn; !on.IsZero() && on < s.today+day.Day(days) {
				strip[max(0, on-s.today)].Due++
			}
		}
	}
	return strip
}

func (s *snapshot) nextConcerts() []NextConcert {
	next := []NextConcert{}
	for _, c := range s.concerts {
		if c.HeldOn >= s.today {
			next = append(next, NextConcert{c.Name, c.HeldOn, int(c.HeldOn - s.today)})
		}
	}
	return next
}

// Header is the top line of every screen.
type Header struct {
	School   string       `json:"school"`
	Today    day.Day      `json:"today"`
	Week     int          `json:"week" doc:"Week of the term, from 1; 0 between terms"`
	Term     string       `json:"term"`
	Concert  *NextConcert `json:"concert,omitempty"`
	Locale   string       `json:"locale"`
	Currency string       `json:"currency" doc:"ISO 4217"`
}

// Header reads the top line.
func (a *App) Header(ctx context.Context, by Person) (Header, error) {
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return Header{}, err
	}
	h := Header{School: s.school.Name, Today: s.today, Locale: s.school.Locale, Currency: s.school.Currency}
	for _, t := range s.terms {
		if t.StartsOn <= s.today && s.today <= t.EndsOn {
			monday := t.StartsOn - day.Day(t.StartsOn.Weekday()-1)
			h.Term, h.Week = t.Name, int(s.today-monday)/7+1
		}
	}
	if next := s.nextConcerts(); len(next) > 0 {
		h.Concert = &next[0]
	}
	return h, nil
}
