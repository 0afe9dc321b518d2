package school

import (
	"context"
	"maps"
	"slices"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/condition"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/usage"
	"solfeggio/internal/store"
	"solfeggio/internal/store/benchrows"
	"solfeggio/internal/store/cardrows"
	"solfeggio/internal/store/carerows"
	"solfeggio/internal/store/checkrows"
	"solfeggio/internal/store/instrumentrows"
	"solfeggio/internal/store/lendingrows"
	"solfeggio/internal/store/schoolrows"
	"solfeggio/internal/store/shoprows"
	"solfeggio/internal/store/supplyrows"
	"solfeggio/internal/store/upkeeprows"
)

// records are what is kept of instruments: how they are played and cared for, who answers for them, why they wait, whose they are,
// what their kits lack.
type records struct {
	instruments []instrumentrows.Instrument
	assignments []instrumentrows.Assignment
	starts      []carerows.ClockStart
	own         map[uuid.UUID]catalog.Choices
	limits      map[uuid.UUID]map[clocks.Key]care.Limits
	findings    []checkrows.Finding
	looks       []checkrows.Look
	handOvers   []lendingrows.HandOver
	holds       []lendingrows.Hold
	rentals     []instrumentrows.Rental
	faults      []supplyrows.KitFault
	bench       []benchrows.BenchItem
	lives       []upkeeprows.PartLife
	planned     []upkeeprows.PlannedChange
	jobs        []shoprows.Job
	reports     []cardrows.Report
	promises    []instrumentrows.Promise
}

// read reads the records of the instruments named, or of all.
func (r *records) read(ctx context.Context, tx *store.Tx, now time.Time, of ...uuid.UUID) (err error) {
	if r.instruments, err = instrumentrows.Instruments(ctx, tx, of...); err != nil {
		return err
	}
	if r.assignments, err = instrumentrows.Assignments(ctx, tx, of...); err != nil {
		return err
	}
	if r.starts, err = carerows.ClockStarts(ctx, tx, of...); err != nil {
		return err
	}
	if r.own, err = schoolrows.InstrumentChoices(ctx, tx, of...); err != nil {
		return err
	}
	if r.limits, err = schoolrows.OwnLimits(ctx, tx, of...); err != nil {
		return err
	}
	if r.findings, err = checkrows.OpenFindings(ctx, tx, of...); err != nil {
		return err
	}
	if r.looks, err = checkrows.LastLooks(ctx, tx, of...); err != nil {
		return err
	}
	if r.handOvers, err = lendingrows.OpenHandOvers(ctx, tx, of...); err != nil {
		return err
	}
	if r.holds, err = lendingrows.OpenHolds(ctx, tx, now, of...); err != nil {
		return err
	}
	if r.rentals, err = instrumentrows.RunningRentals(ctx, tx, of...); err != nil {
		return err
	}
	if r.faults, err = supplyrows.KitFaults(ctx, tx, of...); err != nil {
		return err
	}
	if r.lives, err = upkeeprows.OpenLives(ctx, tx, of...); err != nil {
		return err
	}
	if r.planned, err = upkeeprows.PlannedChanges(ctx, tx, of...); err != nil {
		return err
	}
	if r.jobs, err = shoprows.OpenJobs(ctx, tx, of...); err != nil {
		return err
	}
	if r.promises, err = instrumentrows.Promises(ctx, tx, of...); err != nil {
		return err
	}
	if r.reports, err = cardrows.UnsettledReports(ctx, tx, of...); err != nil {
		return err
	}
	r.bench, err = benchrows.OpenBenchItems(ctx, tx, of...)
	return err
}

// place puts instruments into the school as their records say, reads their clocks, and brings all into order.
func (all *Schools) place(s *Snapshot, r *records) error {
	placed, err := all.instruments(s, r)
	if err != nil {
		return err
	}
	if err := s.play(placed, r.assignments); err != nil {
		return err
	}
	for _, i := range placed {
		if err := i.Judge(); err != nil {
			return err
		}
		if len(i.Kit) > 0 {
			for _, item := range all.CaseOf(i) {
				if i.Kit[item.Supply].State == catalog.Missing {
					i.missing++
				}
			}
		}
		i.Care.Concert, i.Care.Rehearsal = s.nextConcertOf(i), s.nextRehearsalOf(i)
		i.Clocks = s.Reader.Read(i.Care)
		i.offered, i.NotOffered = s.Reader.Offered(i.Clocks, i.Care)
		i.doings = doingsOf(i, s.Today)
		s.ByID[i.ID] = i
	}
	s.order(placed)
	s.partInto()
	s.until = time.Time{}
	for _, i := range s.Instruments {
		if end := i.freeAt(); !end.IsZero() && (s.until.IsZero() || end.Before(s.until)) {
			s.until = end
		}
	}
	return nil
}

// order lists the instruments in score order. Those that were there before are in it already; those placed are not, or are there as they were.
func (s *Snapshot) order(placed map[uuid.UUID]*Instrument) {
	stay := make([]*Instrument, 0, len(s.ByID))
	for _, i := range s.Instruments {
		if s.ByID[i.ID] == i {
			stay = append(stay, i)
		}
	}
	fresh := slices.SortedFunc(maps.Values(placed), scoreOrder)
	s.Instruments = make([]*Instrument, 0, len(s.ByID))
	for _, i := range stay {
		for len(fresh) > 0 && scoreOrder(fresh[0], i) < 0 {
			s.Instruments, fresh = append(s.Instruments, fresh[0]), fresh[1:]
		}
		s.Instruments = append(s.Instruments, i)
	}
	s.Instruments = append(s.Instruments, fresh...)
}

// instruments gives each instrument of the records what is its own. Those that left the school are put aside.
func (all *Schools) instruments(s *Snapshot, r *records) (map[uuid.UUID]*Instrument, error) {
	sound, err := condition.Triage(condition.TriageIn{})
	if err != nil {
		return nil, err
	}
	placed := map[uuid.UUID]*Instrument{}
	for _, i := range r.instruments {
		kind, ok := all.Catalog.Kind(i.Kind)
		if !ok {
			all.Log.Warn("an instrument of a kind that the catalogue does not have", "tag", i.Tag, "kind", i.Kind)
			continue
		}
		view := &Instrument{Instrument: i, Kind: kind, Triage: sound, Own: r.own[i.ID], SchoolChoices: s.Choices, Moved: s.Moved,
			Care: clocks.Instrument{
				Kind:     i.Kind,
				Body:     i.Body,
				CareFrom: i.CareFrom,
				Started:  map[clocks.Key]day.Day{},
				Choices:  s.Choices,
				Own:      r.limits[i.ID],
			}}
		if view.Own != nil {
			view.Care.Choices = all.Catalog.Choose(s.Choices, view.Own)
			view.Care.ChoiceSet = view.Care.Choices.String()
		}
		if i.GoneOn != nil {
			s.Gone[i.ID] = view
			continue
		}
		placed[i.ID] = view
	}
	for _, c := range r.starts {
		if i := placed[c.Instrument]; i != nil {
			i.Care.Started[clocks.Key{Routine: c.Routine, Part: c.Part}] = c.StartedOn
			if c.Routine == all.Catalog.Inspection(i.Kind).Routine {
				i.Looked = c.StartedOn
			}
		}
	}
	for _, f := range r.findings {
		if i := placed[f.Instrument]; i != nil {
			i.Findings = append(i.Findings, f)
		}
	}
	for _, l := range r.looks {
		if i := placed[l.Instrument]; i != nil {
			i.Looked = max(i.Looked, day.Of(l.At.In(s.Zone)))
		}
	}
	for _, x := range r.reports {
		if i := placed[x.Instrument]; i != nil {
			i.Reports = append(i.Reports, x)
		}
	}
	for n := range r.handOvers {
		if i := placed[r.handOvers[n].Instrument]; i != nil {
			i.HandOver = &r.handOvers[n]
		}
	}
	for n := range r.holds {
		if i := placed[r.holds[n].Instrument]; i != nil {
			i.Hold = &r.holds[n]
			i.holdEnds = append(i.holdEnds, r.holds[n].EndedAt)
			i.Hold.Because = WaitsFor(*i.Hold, s.Zone)
		}
	}
	for n := range r.bench {
		if i := placed[r.bench[n].Instrument]; i != nil {
			i.Bench = &r.bench[n]
		}
	}
	for n := range r.jobs {
		if i := placed[r.jobs[n].Instrument]; i != nil {
			i.Job = &r.jobs[n]
			i.Care.Away = i.Away()
		}
	}
	for n := range r.promises {
		if i := placed[r.promises[n].Instrument]; i != nil {
			i.Promise = &r.promises[n]
		}
	}
	for n := range r.rentals {
		if i := placed[r.rentals[n].Instrument]; i != nil {
			i.Rental = &r.rentals[n]
		}
	}
	for _, l := range r.lives {
		if i := placed[l.Instrument]; i != nil {
			if i.Lives == nil {
				i.Lives = map[string]upkeeprows.PartLife{}
			}
			i.Lives[l.Part] = l
		}
	}
	for _, p := range r.planned {
		if i := placed[p.Instrument]; i != nil {
			i.Planned = append(i.Planned, p)
			if routine, ok := all.Catalog.Renewal(i.Kind, p.Part); ok {
				if i.Care.Planned == nil {
					i.Care.Planned = map[clocks.Key]day.Day{}
				}
				i.Care.Planned[clocks.Key{Routine: routine.Key, Part: p.Part}] = p.On
			}
		}
	}
	for _, f := range r.faults {
		if i := placed[f.Instrument]; i != nil {
			if i.Kit == nil {
				i.Kit = map[string]supplyrows.KitFault{}
			}
			i.Kit[f.Supply] = f
		}
	}
	return placed, nil
}

// freeAt is when the first of its holds ends by itself; zero when none does.
func (i *Instrument) freeAt() (first time.Time) {
	for _, end := range i.holdEnds {
		if end != nil && (first.IsZero() || end.Before(first)) {
			first = *end
		}
	}
	return first
}

// WaitsFor says what a held instrument waits for, and until when where that is known.
func WaitsFor(h lendingrows.Hold, zone *time.Location) string {
	if h.EndedAt == nil {
		return h.Because
	}
	return "dries until " + h.EndedAt.In(zone).Format("Mon 2 Jan, 15:04")
}

// play gives instruments the playing of their assignments.
func (s *Snapshot) play(placed map[uuid.UUID]*Instrument, assignments []instrumentrows.Assignment) error {
	rehearsals := map[uuid.UUID][]usage.Rehearsal{}
	for _, e := range s.Ensembles {
		for _, r := range e.Rehearsals {
			rehearsals[e.ID] = append(
				rehearsals[e.ID],
				usage.Rehearsal{Weekday: day.Weekday(r.Weekday), Minutes: float64(r.Minutes), PlayFactor: r.PlayFactor},
			)
		}
	}
	stretches := map[uuid.UUID][]usage.Stretch{}
	extras := map[uuid.UUID][]usage.Extra{}
	for n := range assignments {
		at := &assignments[n]
		i := placed[at.Instrument]
		if i == nil {
			continue
		}
		if at.Player != nil {
			i.HeldBy = append(i.HeldBy, *at.Player)
		}
		span := day.Span{From: at.StartsOn, To: s.Calendar.Span().To}
		if at.EndsOn != nil {
			span.To = *at.EndsOn
		}
		var week []usage.Rehearsal
		for _, e := range at.Ensembles {
			week = append(week, rehearsals[e]...)
		}
		habit, err := usage.NewHabit(week, at.PracticeMinutes, at.VacationShare, at.PracticeDaysPerWeek)
		if err != nil {
			return err
		}
		stretches[i.ID] = append(stretches[i.ID], usage.Stretch{Span: span, Habit: habit})
		for _, c := range s.Concerts {
			if span.Contains(c.HeldOn) &&
				slices.ContainsFunc(c.Ensembles, func(id uuid.UUID) bool { return slices.Contains(at.Ensembles, id) }) {
				extras[i.ID] = append(extras[i.ID], usage.Extra{Date: c.HeldOn, Minutes: float64(c.Minutes), PlayFactor: c.PlayFactor})
			}
		}
		if at.Holds(s.Today) {
			i.Habit, i.Care.HeavySweat, i.Care.Players = at, at.HeavySweat, at.Players
			if at.Player != nil && s.Players[*at.Player] != nil {
				i.Reeds = s.Players[*at.Player].ReedStrength
			}
		} else if span.To < s.Today {
			i.Care.Returned = max(i.Care.Returned, span.To)
			i.Ended = append(i.Ended, span.To)
		}
	}
	for _, i := range placed {
		i.Care.RestsSince = max(i.CareFrom, i.Care.Returned)
		if i.Habit != nil {
			i.Care.Returned, i.Care.RestsSince = 0, 0
		}
		i.Care.Playing = usage.NewPlaying(s.Calendar, stretches[i.ID], extras[i.ID])
	}
	return nil
}
