package season

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/school"
	shoproom "solfeggio/internal/app/shop"
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/condition"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/season"
	"solfeggio/internal/core/shop"
)

// atShop is the work of an instrument's open job for a shop.
const atShop = "shop"

// parting stands between an instrument and its work in the id of a piece.
const parting = " "

// horizon is the season: from the Monday of this week to some weeks after the last term, at most a year.
type horizon struct {
	monday day.Day
	weeks  int
}

const (
	weeksAfter = 3
	leastWeeks = 12
	mostWeeks  = 52
)

func horizonOf(s *school.Snapshot) horizon {
	h := horizon{monday: s.Today - day.Day(s.Today.Weekday()-1), weeks: 40}
	if end := s.YearEnd(); end != nil {
		h.weeks = int(*end-h.monday)/7 + 1 + weeksAfter
	}
	h.weeks = min(mostWeeks, max(leastWeeks, h.weeks))
	return h
}

func (h horizon) of(week int) day.Day { return h.monday + day.Day(7*week) }

func (h horizon) end() day.Day { return h.of(h.weeks) }

// piece is a piece of work that is coming.
type piece struct {
	id      string
	of      *school.Instrument
	work    string // key of a routine, or atShop
	turn    int    // how often the same comes before it in the season
	title   string
	parts   []string
	because string
	season.Work
}

// coming lists the work that comes due within the season, instrument by instrument in score order.
func (r *Room) coming(s *school.Snapshot, h horizon, away func(trades []string) int) []piece {
	var list []piece
	for _, i := range s.Instruments {
		if p, ok := r.comingJob(s, i, away); ok {
			list = append(list, p)
		}
		list = append(list, r.comingCare(s, i, h, away)...)
	}
	return list
}

// id names a piece.
func id(instrument uuid.UUID, work string, turn int) string {
	name := instrument.String() + parting + work
	if turn > 0 {
		name += parting + strconv.Itoa(turn+1)
	}
	return name
}

// comingJob is the open job of an instrument that has not left yet.
func (r *Room) comingJob(s *school.Snapshot, i *school.Instrument, away func([]string) int) (piece, bool) {
	j := i.Job
	if j == nil || j.State.Begun() {
		return piece{}, false
	}
	p := piece{id: id(i.ID, atShop, 0), of: i, work: atShop, title: "Repair", because: "A job for a shop: " + j.State.Words() + "."}
	var works []string
	for _, l := range j.Lines {
		works = append(works, l.Words)
	}
	if len(works) > 0 {
		p.title = strings.Join(works, ", ")
	}
	wait, _ := condition.Shop.DueDays()
	due := s.Today + day.Day(wait)
	for _, f := range i.Findings {
		if f.Action == condition.ShopNow || f.Action == condition.Stop {
			presses, _ := f.Action.DueDays()
			due = min(due, s.Today+day.Day(presses))
		}
	}
	p.Work = season.Work{
		Place: season.Van, Opens: s.Today, Due: due, Late: due + day.Day(wait), Cents: shoproom.Costs(*j), Places: i.Kind.Places(),
		DaysAway: away(r.shop.TradesOf(*j)), Consequence: season.JobWeighs * s.ConsequenceWeight(care.Playing), Loaner: loanerKey(i),
	}
	return p, true
}

func loanerKey(i *school.Instrument) string { return i.Instrument.Kind + " " + i.Size }

// comingCare is the care of an instrument that comes due within the season and seldom: a piece for each routine, and another each time
// that it comes around.
func (r *Room) comingCare(s *school.Snapshot, i *school.Instrument, h horizon, away func([]string) int) []piece {
	var list []piece
	at := map[string]int{}
	concerts := concertsOf(s, i)
	for _, c := range i.Clocks {
		if c.Of.Who == catalog.Player || c.Of.Who == "section leader" || c.Of.Minutes < season.LeastMinutes {
			continue
		}
		if c.Of.Who == catalog.Technician && (i.Rental != nil || i.Job != nil && !i.Job.State.Begun()) {
			continue // its owner's, or it goes with the job
		}
		started, due := c.Started, c.Reading.DueOn
		for turn := 0; !due.IsZero() && due < h.end() && due-started >= season.SeldomDays; turn++ {
			name := id(i.ID, c.Routine, turn)
			n, known := at[name]
			if !known {
				n = len(list)
				at[name] = n
				list = append(list, r.careOf(s, i, c, started, due, away))
				list[n].id, list[n].turn = name, turn
			}
			list[n].add(c, started, due, s.School.OpensAt, s.School.LateAt)
			started = max(due, s.Today)
			due = s.Reader.Ahead(c, i.Care, started, concerts).DueOn
		}
	}
	if i.Away() { // nothing is done to it before it is back
		for n := range list {
			p := &list[n]
			p.Opens = max(p.Opens, *i.Job.ExpectedOn)
			p.Due, p.Late = max(p.Due, p.Opens), max(p.Late, p.Opens)
		}
	}
	return list
}

// add takes another clock into a piece: it opens with the first of them, and is late when the first is.
func (p *piece) add(c clocks.Clock, started, due day.Day, opensAt, lateAt float64) {
	cycle := float64(due - started)
	p.Opens, p.Due = min(p.Opens, due-day.Day(cycle*(1-opensAt))), min(p.Due, due)
	p.Late = min(p.Late, due+day.Day(cycle*(lateAt-1)))
	if name := c.PartName(); name != "" {
		p.parts = append(p.parts, name)
	}
	if p.Place == season.Bench {
		p.Minutes += c.Of.Minutes
	}
}

// careOf is a piece of one routine, before its clocks are added up.
func (r *Room) careOf(s *school.Snapshot, i *school.Instrument, c clocks.Clock, started, due day.Day, away func([]string) int) piece {
	p := piece{
		of: i, work: c.Routine, title: c.Of.Title,
		because: fmt.Sprintf("%s is due on %s.", c.Of.Title, due.Words()),
	}
	p.Work = season.Work{
		Place: season.Bench, Opens: due, Due: due, Late: due + mostWeeks*7, SettleDays: c.Of.SettleDays,
		Consequence: s.ConsequenceWeight(c.Of.Consequence),
	}
	if limits := c.Limits.String(); limits != "" {
		p.because = fmt.Sprintf("%s every %s; runs out on %s.", c.Of.Title, limits, due.Words())
	}
	if c.Of.Replaces {
		p.LifeDays = int(due - started)
	}
	if c.Of.Who != catalog.Technician {
		return p
	}
	p.Place, p.Places, p.Loaner = season.Van, i.Kind.Places(), loanerKey(i)
	if repair, ok := r.schools.Catalog.RepairDoing(i.Kind, c.Routine); ok {
		p.Cents, p.DaysAway, p.title = repair.Cents, away([]string{repair.Trade}), repair.Name
	}
	return p
}

// concertsOf are the days of an instrument's concerts.
func concertsOf(s *school.Snapshot, i *school.Instrument) (days []day.Day) {
	if i.Habit == nil {
		return nil
	}
	for _, c := range s.Concerts {
		if c.HeldOn >= s.Today && slices.ContainsFunc(c.Ensembles, func(id uuid.UUID) bool { return slices.Contains(i.Habit.Ensembles, id) }) {
			days = append(days, c.HeldOn)
		}
	}
	return days
}

// job lays a piece on the weeks.
func (p piece) job(s *school.Snapshot, h horizon) season.Job {
	c := season.Calendar{Monday: h.monday, Weeks: h.weeks, Concerts: concertsOf(s, p.of), Played: make([]bool, h.weeks)}
	for w := range h.weeks {
		c.Played[w] = p.of.Habit != nil && schoolDays(s, h.of(w)) > 0
	}
	j := c.Job(p.id, p.Work)
	if p.work == atShop && p.of.Job.State == shop.Booked {
		if on := s.Leaves(p.of.Job); !on.IsZero() {
			if week := c.Week(on); week >= 0 && week < h.weeks {
				j.Pin = &week
			}
		}
	}
	return j
}

// schoolDays counts the school days of a week.
func schoolDays(s *school.Snapshot, monday day.Day) (n int) {
	for d := monday; d < monday+5; d++ {
		if !s.Calendar.IsBreak(d) {
			n++
		}
	}
	return n
}
