package season

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/field"
	"solfeggio/internal/core/season"
	"solfeggio/internal/core/shop"
	"solfeggio/internal/store/seasonrows"
)

// Planning is what a plan is made for. Nothing of it is kept.
type Planning struct {
	Settings *seasonrows.SeasonSettings `json:"settings,omitempty" doc:"What the weeks hold; left out for the school's own"`
	Pins     []Pin                      `json:"pins" maxItems:"5000" doc:"Weeks that somebody chose"`
	Loaners  []MoreLoaners              `json:"loaners,omitempty" maxItems:"50" doc:"What if there were more to lend"`
	Trips    []day.Day                  `json:"trips,omitempty" maxItems:"52" doc:"What if another trip went in the weeks of these Mondays"`
	Anew     bool                       `json:"anew" doc:"Without regard to what was accepted; else that keeps its weeks as far as it still can"`
	AtOnce   bool                       `json:"at_once,omitempty" doc:"Answer with what is known of the plan by now, and go on behind; ask again while it is improving"`
}

// plain reports whether it is the school's own plan, and no question what would be.
func (in Planning) plain() bool {
	return in.Settings == nil && len(in.Pins)+len(in.Loaners)+len(in.Trips) == 0 && !in.Anew
}

// MoreLoaners are so many more to lend of a kind and size.
type MoreLoaners struct {
	Of    string `json:"of" maxLength:"80" doc:"Key of a kind and size that the score lists"`
	Count int    `json:"count" minimum:"0" maximum:"100"`
}

// Lendable is a kind and size that could be lent in the place of what goes to a shop.
type Lendable struct {
	Of   string `json:"of"`
	Name string `json:"name"`
	Free int    `json:"free" doc:"How many are free to lend"`
}

// Pin is a piece of work in the week that somebody chose.
type Pin struct {
	ID   string `json:"id" maxLength:"120"`
	Week int    `json:"week"`
}

// Score is the season's work on its weeks.
type Score struct {
	Weeks           []Week                    `json:"weeks"`
	Staves          []Staff                   `json:"staves" doc:"Sections in score order"`
	Pieces          []Piece                   `json:"pieces"`
	Notes           []Note                    `json:"notes" doc:"The pieces that have a week, as the score shows them"`
	Cents           int64                     `json:"total_cents"`
	Parts           season.Parts              `json:"parts"`
	Bound           int64                     `json:"lower_bound_cents" doc:"No plan costs less"`
	AbovePct        float64                   `json:"above_best_pct" doc:"The plan costs at most so much more than the best there is; 0 while it is improving"`
	Costs           Costs                     `json:"costs" doc:"What is paid"`
	Lateness        Lateness                  `json:"lateness" doc:"And how late it is"`
	Lendable        []Lendable                `json:"lendable"`
	Settings        seasonrows.SeasonSettings `json:"settings"`
	Own             bool                      `json:"own_settings" doc:"The school has said what its weeks hold"`
	Accepted        bool                      `json:"accepted" doc:"A plan was accepted"`
	Version         string                    `json:"version" doc:"Of what was accepted"`
	SettingsVersion string                    `json:"settings_version" doc:"Of the school's own settings, there or not"`
	Moved           []Lost                    `json:"moved" doc:"Accepted or booked pieces whose week does not hold any more"`
	Improving       bool                      `json:"improving" doc:"It is what can be said at once, and is worked out further behind"`
	LeftOut         int                       `json:"left_out" doc:"Pieces that are not in the plan, since they press less than all that it takes"`
}

// Costs are what a plan costs in money.
type Costs struct {
	Van    int64 `json:"van_cents"`
	Shop   int64 `json:"shop_cents" doc:"Of the pieces that have a week, as far as anybody knows"`
	Thrown int64 `json:"thrown_cents" doc:"Of parts that are renewed before they are worn"`
	Total  int64 `json:"total_cents"`
}

// Lateness is how late a plan is. A week counts as often as what happens meanwhile weighs at the school.
type Lateness struct {
	Weeks   float64 `json:"weeks" doc:"Weeks after the due one, each times its weight"`
	Waiting int     `json:"waiting" doc:"Pieces that find no week"`
	Absent  float64 `json:"absent_weeks" doc:"Weeks in which somebody has no instrument; those of a concert count twice"`
}

// Lost is a piece whose week does not hold any more.
type Lost struct {
	ID   string `json:"id"`
	Says string `json:"says" doc:"Why not"`
}

// Week is a bar of the score.
type Week struct {
	Monday      day.Day  `json:"monday"`
	Name        string   `json:"name" doc:"Week of the term, or empty between terms"`
	Break       string   `json:"break" doc:"Name of a break that fills it; empty for none"`
	Concerts    []string `json:"concerts"`
	Minutes     float64  `json:"minutes" doc:"At the bench"`
	UsedMinutes float64  `json:"used_minutes"`
	Cents       int64    `json:"cents" doc:"Of the repairs that begin in it"`
	Trip        bool     `json:"trip"`
	Places      int      `json:"places"`
	UsedPlaces  int      `json:"used_places"`
	Beside      int      `json:"beside" doc:"Tasks that become due in it and are no part of the plan, since they come often or take no time; in the first week those that are due already too"`
}

// Staff is a section.
type Staff struct {
	Section string `json:"section"`
	Family  string `json:"family"`
}

// Piece is a note of the score.
type Piece struct {
	ID           string       `json:"id"`
	InstrumentID uuid.UUID    `json:"instrument_id"`
	Tag          string       `json:"tag"`
	Work         string       `json:"work" doc:"Key of a routine, or shop"`
	Staff        int          `json:"staff"`
	Title        string       `json:"title"`
	Parts        string       `json:"parts" doc:"Empty for the whole instrument"`
	Because      string       `json:"because" doc:"Why it is coming"`
	Place        season.Place `json:"place" enum:"bench,van"`
	Opens        int          `json:"opens"`
	Due          int          `json:"due"`
	Last         int          `json:"last"`
	Minutes      float64      `json:"minutes"`
	Cents        int64        `json:"cents"`
	WeeksOut     int          `json:"weeks_out"`
	Week         *int         `json:"week" nullable:"true" doc:"null when it waits beyond the season"`
	Loaner       bool         `json:"loaner"`
	Pinned       bool         `json:"pinned"`
	Why          string       `json:"why" doc:"Why this week and not its neighbours"`
	JobID        *uuid.UUID   `json:"job_id,omitempty" doc:"Of a job for a shop"`
}

// Plan lays the season's work on its weeks. Nothing is kept.
func (r *Room) Plan(ctx context.Context, by journal.Person, in Planning) (Score, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return Score{}, err
	}
	asked, err := json.Marshal(in)
	if err != nil {
		return Score{}, err
	}
	key := fmt.Sprintf("%s %d %d %s", by.School, s.School.Revision, s.Today, asked)
	if known, ok := r.scores.Get(key); ok {
		return known, nil
	}
	score, err := r.plan(ctx, by, s, in)
	if err == nil && !score.Improving {
		r.scores.Add(key, score, int64(len(key)+pieceBytes*(len(score.Pieces)+1)))
	}
	return score, err
}

func (r *Room) plan(ctx context.Context, by journal.Person, s *school.Snapshot, in Planning) (Score, error) {
	d, set, err := r.draft(ctx, by, s, in)
	if err != nil {
		return Score{}, err
	}
	at := map[string]int{}
	for n, p := range d.pieces {
		at[p.id] = n
	}
	pinned := map[string]bool{}
	for n, pin := range in.Pins {
		k, known := at[pin.ID]
		if !known {
			continue // it was done, or has left, since it was pinned
		}
		if pin.Week < 0 || pin.Week >= d.h.weeks {
			return Score{}, journal.Refuse(fmt.Sprintf("pins[%d].week", n), "is no week of the season", pin.Week)
		}
		d.in.Jobs[k].Pin, pinned[pin.ID] = &pin.Week, true
	}
	moved := []Lost{}
	if !in.Anew {
		moved = d.keep(s, pinned)
	}
	out, lost, err := r.mend(ctx, by, s, d, in, pinned)
	var limit *field.Error // of the calculator's own
	switch {
	case errors.As(err, &limit):
		return Score{}, journal.RefuseInput(err)
	case err != nil:
		return Score{}, err
	}
	moved = append(moved, lost...)
	score := d.score(s, out, pinned)
	score.Improving = out.Cut
	if out.LowerBoundCents > 0 && !out.Cut {
		score.AbovePct = 100 * (float64(out.TotalCents)/float64(out.LowerBoundCents) - 1)
	}
	score.Lendable, score.Settings, score.Own, score.Accepted, score.Moved = append([]Lendable{}, d.lendable...), set,
		s.SeasonSet != nil, len(s.Season) > 0, moved
	score.Version, score.SettingsVersion = journal.Version(s.Season), journal.Version(s.SeasonSet)
	return score, nil
}

// keep puts accepted work into its weeks, where nobody has chosen another now, and says whose week has gone by. What was done since is
// over: the weeks that are left are those of the turns to come, in their order.
func (d *draft) keep(s *school.Snapshot, pinned map[string]bool) []Lost {
	moved := []Lost{}
	accepted := acceptedStill(s, d.h)
	for n, p := range d.pieces {
		rows, j := accepted[id(p.of.ID, p.work, 0)], &d.in.Jobs[n]
		if p.turn >= len(rows) || j.Pin != nil {
			continue
		}
		row := rows[p.turn]
		week := int(row.Monday-d.h.monday) / 7
		if row.Monday < d.h.monday || week >= d.h.weeks {
			moved = append(moved, Lost{p.id, p.of.Tag + ", " + p.title + ": its week has gone by"})
			continue
		}
		j.Pin = &week
		if row.Pinned {
			pinned[p.id] = true
		}
	}
	return moved
}

// mend plans, and gives up the weeks of accepted pieces that do not hold any more, so that as few as can be are moved. A week that a person
// chose just now is refused instead, by its place among the pins.
func (r *Room) mend(
	ctx context.Context, by journal.Person, s *school.Snapshot, d *draft, asked Planning, pinned map[string]bool,
) (season.Out, []Lost, error) {
	pins := asked.Pins
	chosen := map[string]int{}
	for k, p := range pins {
		chosen[p.ID] = k
	}
	must := func(n int) bool { _, now := chosen[d.pieces[n].id]; return now }
	out, given, err := r.planned(ctx, by, question{d.in, must, asked.plain()}, asked.AtOnce)
	var pin *season.PinError
	if errors.As(err, &pin) {
		k := chosen[d.pieces[pin.Job].id]
		return out, nil, journal.Refuse(fmt.Sprintf("pins[%d].week", k), d.whyNot(s, pin.Job), pins[k].Week)
	}
	moved := []Lost{}
	for _, n := range given {
		moved = append(moved, Lost{d.pieces[n].id, d.whyNot(s, n)})
		d.in.Jobs[n].Pin = nil
		delete(pinned, d.pieces[n].id)
	}
	return out, moved, err
}

// whyNot says why a piece cannot be in the week to which it is pinned.
func (d *draft) whyNot(s *school.Snapshot, n int) string {
	p, j := d.pieces[n], d.in.Jobs[n]
	week := d.in.WeekName(*j.Pin)
	says := func(text string) string {
		if p.work == atShop && p.of.Job.State == shop.Booked {
			return fmt.Sprintf("%s, %s, is booked for week %s, but %s; it stays on its trip until somebody takes it off",
				p.of.Tag, p.title, week, text)
		}
		return fmt.Sprintf("%s, %s: not in week %s: %s", p.of.Tag, p.title, week, text)
	}
	switch {
	case *j.Pin < j.Opens:
		return says("it opens in week " + d.in.WeekName(j.Opens))
	case *j.Pin > j.Last:
		return says("its last week is " + d.in.WeekName(j.Last))
	case p.Place == season.Van && !slices.ContainsFunc(d.in.Trips, func(t season.Trip) bool { return t.Week == *j.Pin }):
		return says("no trip goes then")
	case slices.Contains(j.BlockedWeeks, *j.Pin) && p.SettleDays > 0:
		return says(fmt.Sprintf("it needs %d days to settle before the concert", p.SettleDays))
	case slices.ContainsFunc(j.BlockedWeeks, func(w int) bool { return w >= *j.Pin && w < *j.Pin+j.WeeksOut }):
		return says("it would be away in the week of its concert")
	}
	if holiday := breakIn(s, d.h.of(*j.Pin)); holiday != "" && p.Place == season.Bench && j.Minutes > d.in.BenchMinutes[*j.Pin] {
		return says(fmt.Sprintf("%s, and in a week of a break the bench has %g minutes", holiday, d.in.BenchMinutes[*j.Pin]))
	}
	return says("there is no room beside the others that are pinned")
}

// score shows a plan.
func (d *draft) score(s *school.Snapshot, out season.Out, pinned map[string]bool) Score {
	score := Score{
		Weeks: make([]Week, d.h.weeks), Staves: []Staff{}, Pieces: make([]Piece, len(d.pieces)), Cents: out.TotalCents, Parts: out.Parts,
		Bound: out.LowerBoundCents, LeftOut: d.leftOut,
	}
	for w := range score.Weeks {
		score.Weeks[w] = d.week(s, w)
	}
	d.countBeside(s, score.Weeks)
	staves := map[string]int{}
	for _, i := range s.Instruments {
		if _, known := staves[i.Kind.Section]; !known {
			staves[i.Kind.Section] = len(score.Staves)
			score.Staves = append(score.Staves, Staff{i.Kind.Section, i.Kind.Family})
		}
	}
	for n, p := range d.pieces {
		j, placed := d.in.Jobs[n], out.Placements[n]
		note := Piece{
			ID: p.id, InstrumentID: p.of.ID, Tag: p.of.Tag, Work: p.work, Staff: staves[p.of.Kind.Section], Title: p.title,
			Parts:   strings.Join(p.parts, ", "),
			Because: p.because, Place: p.Place, Opens: j.Opens, Due: j.Due, Last: j.Last, Minutes: j.Minutes, Cents: j.CostCents,
			WeeksOut: j.WeeksOut, Week: placed.Week, Loaner: placed.Loaner, Pinned: pinned[p.id], Why: placed.Why.Statement,
		}
		if p.work == atShop {
			note.JobID = &p.of.Job.ID
		}
		score.Pieces[n] = note
		if placed.Week == nil {
			score.Lateness.Waiting++
			continue
		}
		score.Costs.Shop += j.CostCents
		if early := int64(j.Due - *placed.Week); early > 0 && p.LifeDays > 0 {
			score.Costs.Thrown += early * j.EarlyCentsPerWeek
		}
		week := &score.Weeks[*placed.Week]
		week.Cents += j.CostCents
		if p.Place == season.Bench {
			week.UsedMinutes += j.Minutes
		} else {
			week.UsedPlaces += max(1, p.Places)
		}
	}
	score.Costs.Van = out.Parts.Trips
	score.Costs.Total = score.Costs.Van + score.Costs.Shop + score.Costs.Thrown
	score.Lateness.Weeks = math.Round(10*float64(out.Parts.Late)/season.LateCents) / 10
	score.Lateness.Absent = math.Round(10*float64(out.Parts.Absent)/season.AbsentCents) / 10
	score.Notes = notesOf(score.Pieces)
	return score
}

// countBeside counts by week what the day's list will hold and the plan does not.
func (d *draft) countBeside(s *school.Snapshot, weeks []Week) {
	planned := map[string]bool{}
	for _, p := range d.pieces {
		planned[id(p.of.ID, p.work, 0)] = true
	}
	for _, i := range s.Instruments {
		for _, c := range i.Clocks {
			on := c.Reading.DueOn
			if on.IsZero() || planned[id(i.ID, c.Routine, 0)] {
				continue
			}
			if week := max(0, int(on-d.h.monday)/7); week < len(weeks) {
				weeks[week].Beside++
			}
		}
	}
}

// week is a bar before anything stands in it.
func (d *draft) week(s *school.Snapshot, w int) Week {
	monday := d.h.of(w)
	week := Week{Monday: monday, Minutes: d.in.BenchMinutes[w], Concerts: []string{}}
	if n := termWeek(s, monday); n > 0 {
		week.Name = fmt.Sprint(n)
	}
	week.Break = breakIn(s, monday)
	for _, c := range s.Concerts {
		if c.HeldOn >= monday && c.HeldOn < monday+7 {
			week.Concerts = append(week.Concerts, c.Name)
		}
	}
	for _, t := range d.in.Trips {
		if t.Week == w {
			week.Trip, week.Places = true, t.Places
		}
	}
	return week
}
