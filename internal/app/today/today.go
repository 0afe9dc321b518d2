package today

import (
	"context"
	"slices"
	"strconv"

	"github.com/google/uuid"

	"solfeggio/internal/app/cards"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/letters"
	"solfeggio/internal/app/preparing"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/season"
	"solfeggio/internal/app/shop"
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/money"
	"solfeggio/internal/store/schoolrows"
)

// AtPlace is the tasks of one place.
type AtPlace struct {
	Place        string        `json:"place"`
	Name         string        `json:"name"`
	SetupMinutes float64       `json:"setup_minutes"`
	Brings       string        `json:"brings"`
	Cautions     []string      `json:"cautions" doc:"To be read before the first task"`
	Tasks        []school.Task `json:"tasks"`
}

// Box is what fits into the time there is.
type Box struct {
	Minutes     float64   `json:"minutes"`
	Helpers     int       `json:"helpers"`
	Capacity    float64   `json:"capacity_minutes" doc:"Person-minutes that there are"`
	UsedMinutes float64   `json:"used_minutes" doc:"Person-minutes with set-ups"`
	LeftOut     int       `json:"left_out" doc:"Tasks that could be done now but did not fit"`
	LeftDue     int       `json:"left_due" doc:"Of these, due or late; the others may wait"`
	Places      []AtPlace `json:"places"`
	Next        *NextTask `json:"next,omitempty" doc:"What a little more time would buy"`
	Near        float64   `json:"near" doc:"At least so much of what the best choice is worth, from 0 to 1; 1 where nothing is better"`
}

// NextTask is the task that came closest to fitting.
type NextTask struct {
	Task         school.Task `json:"task"`
	ExtraMinutes float64     `json:"extra_minutes"`
}

// NextConcert is a coming concert.
type NextConcert struct {
	Name string  `json:"name"`
	On   day.Day `json:"on"`
	Days int     `json:"days"`

	Ready  int `json:"ready" doc:"Chairs that are ready now, on Today"`
	Chairs int `json:"chairs" doc:"Of so many"`
}

// Today is the answer to: what first, and how do things stand.
type Today struct {
	CannotPlay []Blocked           `json:"cannot_play" doc:"Instruments in players' hands that cannot be played, the soonest rehearsal first"`
	Reports    []cards.ReportRow   `json:"reports" doc:"What players reported on their cards and nobody has looked at yet, who cannot play first"`
	DueBack    []letters.DueBack   `json:"due_back" doc:"What comes back or goes back to its owner soon"`
	Shop       []shop.JobRow       `json:"shop" doc:"Repairs that ask for something, those that are overdue first"`
	Season     []season.Due        `json:"season" doc:"Pieces of the accepted plan whose week has come"`
	Planned    []preparing.Planned `json:"planned" doc:"Strings and the like that are to be renewed today, or should have been"`
	Box        Box                 `json:"box"`
	Late       int                 `json:"late"`
	Due        int                 `json:"due"`
	Opening    int                 `json:"opening"`
	Ahead      *school.Ahead       `json:"ahead,omitempty" doc:"What becomes due next"`
	Strip      []school.StripDay   `json:"strip"`
	Concerts   []NextConcert       `json:"concerts"`
	Empty      bool                `json:"empty" doc:"There is no instrument yet"`
	Asked      []Asked             `json:"asked" doc:"Practices whose defaults have changed since: the school keeps what it had until somebody says what is to hold"`
}

// Asked is a practice of which somebody should say what is to hold.
type Asked struct {
	Title string `json:"title"`
	Keeps string `json:"keeps" doc:"Name of the side that the school keeps"`
	Usual string `json:"usual" doc:"Name of the side that new schools begin with"`
}

// asked lists them.
func (r *Room) asked(s *school.Snapshot) []Asked {
	list := []Asked{}
	for _, key := range s.Asked() {
		if p, ok := r.schools.Catalog.Practice(key); ok {
			keeps, _ := p.Option(s.Choices[key])
			usual, _ := p.Option(p.Default())
			list = append(list, Asked{p.Title, keeps.Name, usual.Name})
		}
	}
	return list
}

// Today works out the day for minutes and helpers.
func (r *Room) Today(ctx context.Context, by journal.Person, minutes float64, helpers int) (Today, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return Today{}, err
	}
	book := r.placing.Book(s)
	w := s.Work()
	out := Today{
		Late:    w.Count[care.Late],
		Due:     w.Count[care.Due],
		Opening: w.Count[care.Opening],
		Ahead:   w.Ahead,
		Empty:   len(s.Instruments) == 0,
		Strip:   w.Strip,
		Concerts: nextConcerts(s, func(c *schoolrows.Concert, next *NextConcert) {
			next.Ready, next.Chairs = r.season.Chairs(s, book, c)
		}),
		CannotPlay: r.cannotPlay(s, book, r.schools.ClockAt(s.School)),
		Reports:    r.cards.Unseen(s),
		DueBack:    letters.DueBackIn(s, by),
		Planned:    preparing.PlannedUntil(r.schools.Catalog, s, s.Today),
		Shop:       r.shop.Pressing(s),
		Season:     r.season.ThisWeek(s),
		Asked:      r.asked(s),
	}
	out.Box, err = r.box(ctx, s, minutes, helpers)
	return out, err
}

// DueList is a page of all that is due or late.
type DueList struct {
	Total  int       `json:"total" doc:"Of all pages"`
	Places []AtPlace `json:"places"`
}

// Due lists so many tasks that are due or late, most worth first, after the first ones, by place.
func (r *Room) Due(ctx context.Context, by journal.Person, first, most int) (DueList, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return DueList{}, err
	}
	due := s.Work().Due
	var page []school.Task
	for _, t := range due[min(first, len(due)):min(first+most, len(due))] {
		page = append(page, *t)
	}
	return DueList{len(due), r.byPlace(s, page)}, nil
}

// byPlace gathers tasks by where they are done, keeping their order; the place of the first task comes first.
func (r *Room) byPlace(s *school.Snapshot, tasks []school.Task) []AtPlace {
	places := []AtPlace{}
	at := map[string]int{}
	for _, t := range tasks {
		routine, _ := r.schools.Catalog.Routine(t.Routine)
		n, known := at[routine.Place]
		if !known {
			n = len(places)
			at[routine.Place] = n
			p, _ := r.schools.Catalog.Place(routine.Place)
			places = append(
				places,
				AtPlace{Place: p.Key, Name: p.Name, SetupMinutes: p.SetupMinutes, Brings: p.Brings, Cautions: []string{}},
			)
		}
		for _, caution := range r.cautions(s, t, routine) {
			if !slices.Contains(places[n].Cautions, caution) {
				places[n].Cautions = append(places[n].Cautions, caution)
			}
		}
		places[n].Tasks = append(places[n].Tasks, t)
	}
	return places
}

// cautions are what must be read before a task.
func (r *Room) cautions(s *school.Snapshot, t school.Task, routine *catalog.Routine) []string {
	if i := s.ByID[t.InstrumentID]; i != nil {
		return r.schools.Cautions(i, routine)
	}
	return routine.Cautions
}

// box fills the time with what can be done now.
func (r *Room) box(ctx context.Context, s *school.Snapshot, minutes float64, helpers int) (Box, error) {
	w := s.Work()
	ready := r.weighed(w.Ready, minutes, helpers)
	in := care.TimeBoxIn{Minutes: minutes, Helpers: helpers, Setups: map[string]float64{}, Tasks: make([]care.Task, len(ready))}
	for n, t := range ready {
		place := r.placeOf(t)
		in.Setups[place.Key] = place.SetupMinutes
		in.Tasks[n] = care.Task{ID: strconv.Itoa(n), Value: t.Value, Minutes: t.Minutes, Setup: place.Key}
	}
	task := func(id string) school.Task { n, _ := strconv.Atoi(id); return *ready[n] }
	got, err := care.TimeBox(ctx, in)
	if err != nil {
		return Box{}, journal.RefuseInput(err)
	}
	pressing := w.Pressing
	chosen := make([]school.Task, len(got.Chosen))
	for n, id := range got.Chosen {
		chosen[n] = task(id)
		if chosen[n].Pressing() {
			pressing--
		}
	}
	box := Box{
		Minutes:     minutes,
		Helpers:     helpers,
		Capacity:    in.Capacity(),
		UsedMinutes: got.UsedMinutes,
		LeftOut:     len(w.Ready) - len(chosen),
		LeftDue:     pressing,
		Places:      r.byPlace(s, together(chosen)),
		Near:        1,
	}
	if got.AtMost > 0 {
		box.Near = got.Value / got.AtMost
	}
	if got.Next != nil {
		box.Next = &NextTask{task(got.Next.ID), got.Next.ExtraMinutes}
	}
	return box, nil
}

// placeOf is where a task is done.
func (r *Room) placeOf(t *school.Task) *catalog.Place {
	routine, _ := r.schools.Catalog.Routine(t.Routine)
	place, _ := r.schools.Catalog.Place(routine.Place)
	return place
}

// weighed leaves out what cannot come into a box: of tasks alike in place and duration as many as it holds are worth most, and one more may
// be what comes next.
func (r *Room) weighed(ready []*school.Task, minutes float64, helpers int) []*school.Task {
	type alike struct {
		routine string // which has one place
		minutes float64
	}
	fit := map[alike]int{}
	var list []*school.Task
	for _, t := range ready {
		of := alike{t.Routine, t.Minutes}
		n, known := fit[of]
		if !known {
			n = 2 + int(min(minutes*float64(1+helpers)/t.Minutes, float64(len(ready))))
		}
		if n > 0 {
			list = append(list, t)
		}
		fit[of] = n - 1
	}
	return list
}

// together puts the work on one instrument together, where the first of it stood.
func together(tasks []school.Task) []school.Task {
	first := map[uuid.UUID]int{}
	for n, t := range tasks {
		if _, known := first[t.InstrumentID]; !known {
			first[t.InstrumentID] = n
		}
	}
	slices.SortStableFunc(tasks, func(x, y school.Task) int { return first[x.InstrumentID] - first[y.InstrumentID] })
	return tasks
}

// nextConcerts lists the coming concerts, each with what else is to be said of it.
func nextConcerts(s *school.Snapshot, more func(c *schoolrows.Concert, next *NextConcert)) []NextConcert {
	next := []NextConcert{}
	for n := range s.Concerts {
		if c := &s.Concerts[n]; c.HeldOn >= s.Today {
			coming := NextConcert{Name: c.Name, On: c.HeldOn, Days: int(c.HeldOn - s.Today)}
			more(c, &coming)
			next = append(next, coming)
		}
	}
	return next
}

// Header is the top line of every screen.
type Header struct {
	School   string         `json:"school"`
	Today    day.Day        `json:"today"`
	Week     int            `json:"week" doc:"Week of the term, from 1; 0 between terms"`
	Term     string         `json:"term"`
	Concert  *NextConcert   `json:"concert,omitempty"`
	Locale   string         `json:"locale"`
	TimeZone string         `json:"time_zone" doc:"The school's, in which times are shown"`
	Currency money.Currency `json:"currency" doc:"ISO 4217"`
	Decimals int            `json:"decimals" doc:"That amounts of it have: cents are in the smallest unit"`
	Words    school.Words   `json:"words"`

	Begin []preparing.Deadline `json:"begin" doc:"What must begin within a week for the next concert, the soonest first"`
}

// Header reads the top line.
func (r *Room) Header(ctx context.Context, by journal.Person) (Header, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return Header{}, err
	}
	h := Header{
		School: s.School.Name, Today: s.Today, Locale: s.School.Locale, TimeZone: s.School.TimeZone,
		Currency: s.School.Currency, Decimals: s.School.Currency.Decimals(), Words: school.SaidAlike(),
	}
	for _, t := range s.Terms {
		if t.StartsOn <= s.Today && s.Today <= t.EndsOn {
			monday := t.StartsOn - day.Day(t.StartsOn.Weekday()-1)
			h.Term, h.Week = t.Name, int(s.Today-monday)/7+1
		}
	}
	if next := nextConcerts(s, func(*schoolrows.Concert, *NextConcert) {}); len(next) > 0 {
		h.Concert = &next[0]
	}
	h.Begin, err = r.preparing.Deadlines(s)
	return h, err
}
