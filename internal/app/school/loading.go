package school

import (
	"cmp"
	"context"
	"maps"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/condition"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/usage"
	"solfeggio/internal/store"
)

// fewTouched is up to how many instruments and players are read anew one by one; with more, all are.
const fewTouched = 200

// caughtUp is the school at a revision, 0 for the one that the transaction sees. What was known before is kept as far as no write
// since has touched it.
func (all *Schools) caughtUp(ctx context.Context, tx *store.Tx, known *Snapshot, revision int64) (*Snapshot, error) {
	if known == nil || !all.holds(known) {
		return all.load(ctx, tx, revision)
	}
	school, err := tx.GetSchool(ctx)
	if err != nil {
		return nil, err
	}
	if revision != 0 {
		school.Revision = revision
	}
	if known.School.Revision >= school.Revision {
		return known, nil
	}
	touched, err := tx.Touched(ctx, known.School.Revision, school.Revision)
	if err != nil {
		return nil, err
	}
	if touched.Whole || len(touched.Instruments)+len(touched.Players) > fewTouched {
		return all.load(ctx, tx, revision)
	}
	s := *known
	s.School = school
	if len(touched.Instruments)+len(touched.Players) == 0 {
		return &s, nil
	}
	s.worklist = &worklist{}
	if len(touched.Players) > 0 {
		if err := s.meet(ctx, tx, touched.Players); err != nil {
			return nil, err
		}
	}
	if len(touched.Instruments) > 0 {
		s.ByID, s.Gone, s.Reader = maps.Clone(s.ByID), maps.Clone(s.Gone), all.reader(&s)
		var r records
		if err := r.read(ctx, tx, all.Now(), touched.Instruments...); err != nil {
			return nil, err
		}
		for _, id := range touched.Instruments {
			delete(s.ByID, id)
			delete(s.Gone, id)
		}
		if err := all.place(&s, &r); err != nil {
			return nil, err
		}
	}
	return &s, nil
}

// meet reads players anew. Instruments in their hands know what reeds they play.
func (s *Snapshot) meet(ctx context.Context, tx *store.Tx, players []uuid.UUID) error {
	fresh, err := tx.Players(ctx, players...)
	if err != nil {
		return err
	}
	others := slices.DeleteFunc(slices.Clone(s.Roster), func(p store.Player) bool { return slices.Contains(players, p.ID) })
	s.enrol(append(others, fresh...))
	reeds, err := tx.Reeds(ctx, players...)
	if err != nil {
		return err
	}
	s.Reeds = maps.Clone(s.Reeds)
	for _, id := range players {
		delete(s.Reeds, id)
	}
	s.fillBoxes(reeds)
	byID, instruments := maps.Clone(s.ByID), slices.Clone(s.Instruments)
	for n, i := range s.Instruments {
		if i.Habit == nil || i.Habit.Player == nil || !slices.Contains(players, *i.Habit.Player) {
			continue
		}
		again := *i
		if again.Reeds = ""; s.Players[*i.Habit.Player] != nil {
			again.Reeds = s.Players[*i.Habit.Player].ReedStrength
		}
		byID[i.ID], instruments[n] = &again, &again
	}
	s.ByID, s.Instruments = byID, instruments
	return nil
}

// fillBoxes puts reeds into their players' boxes.
func (s *Snapshot) fillBoxes(reeds []store.Reed) {
	for _, r := range reeds {
		s.Reeds[r.Player] = append(s.Reeds[r.Player], r)
	}
}

// enrol sets the roster, by name.
func (s *Snapshot) enrol(roster []store.Player) {
	slices.SortFunc(roster, func(x, y store.Player) int {
		return cmp.Or(
			strings.Compare(x.FamilyName, y.FamilyName),
			strings.Compare(x.GivenName, y.GivenName),
			slices.Compare(x.ID[:], y.ID[:]),
		)
	})
	s.Roster, s.Players = roster, make(map[uuid.UUID]*store.Player, len(roster))
	for n := range roster {
		s.Players[roster[n].ID] = &roster[n]
	}
}

// load reads the school and all its clocks, at a revision, 0 for the one that the transaction sees.
func (all *Schools) load(ctx context.Context, tx *store.Tx, revision int64) (*Snapshot, error) {
	s := &Snapshot{
		ByID:     map[uuid.UUID]*Instrument{},
		Gone:     map[uuid.UUID]*Instrument{},
		Wordings: map[string]store.Letter{},
		Reeds:    map[uuid.UUID][]store.Reed{},
		worklist: &worklist{},
	}
	var err error
	if s.School, err = tx.GetSchool(ctx); err != nil {
		return nil, err
	}
	if revision != 0 {
		s.School.Revision = revision
	}
	if s.Terms, err = tx.Periods(ctx, store.Terms); err != nil {
		return nil, err
	}
	if s.Breaks, err = tx.Periods(ctx, store.Breaks); err != nil {
		return nil, err
	}
	if s.Ensembles, err = tx.Ensembles(ctx); err != nil {
		return nil, err
	}
	if s.Concerts, err = tx.Concerts(ctx); err != nil {
		return nil, err
	}
	if s.Choices, err = tx.SchoolChoices(ctx); err != nil {
		return nil, err
	}
	if s.Shelves, err = tx.Shelves(ctx); err != nil {
		return nil, err
	}
	if s.RentalPrices, err = tx.RentalPrices(ctx); err != nil {
		return nil, err
	}
	letters, err := tx.Letters(ctx)
	if err != nil {
		return nil, err
	}
	for _, l := range letters {
		s.Wordings[l.Key] = l
	}
	roster, err := tx.Players(ctx)
	if err != nil {
		return nil, err
	}
	s.enrol(roster)
	reeds, err := tx.Reeds(ctx)
	if err != nil {
		return nil, err
	}
	s.fillBoxes(reeds)
	if s.BreakIns, err = tx.BreakIns(ctx); err != nil {
		return nil, err
	}
	if s.Learned, err = tx.LearnedIntervals(ctx); err != nil {
		return nil, err
	}
	s.Choices = all.Catalog.Choose(s.Choices)
	s.Today, s.Zone = all.Today(s.School), all.Zone(s.School)
	span := day.Span{From: s.Today.AddYears(-yearsBack), To: s.Today.AddYears(yearsAhead)}
	s.Calendar = usage.NewCalendar(span, breakSpans(span, s.Terms, s.Breaks))
	if s.heating, err = HeatingOf(s.School); err != nil {
		return nil, err
	}
	s.Reader = all.reader(s)
	var r records
	if err := r.read(ctx, tx, all.Now()); err != nil {
		return nil, err
	}
	return s, all.place(s, &r)
}

// reader reads the clocks of a school. It is used for one loading.
func (all *Schools) reader(s *Snapshot) *clocks.Reader {
	learned := map[clocks.LearnedKey]clocks.Learned{}
	for _, l := range s.Learned {
		learned[clocks.LearnedKey{Kind: l.Kind, Routine: l.Routine}] = clocks.Learned{Days: l.Days, Observations: l.Observations}
	}
	return clocks.NewReader(all.Catalog, clocks.Settings{
		TrackAll: s.School.PlayerCare == "tracked", Heating: s.heating, Learned: learned,
		Thresholds: care.Thresholds{OpensAt: s.School.OpensAt, LateAt: s.School.LateAt}, Weights: weightsOf(s.School),
	}, s.Today)
}

// records are what is kept of instruments: how they are played and cared for, who answers for them, why they wait, whose they are,
// what their kits lack.
type records struct {
	instruments []store.Instrument
	assignments []store.Assignment
	starts      []store.ClockStart
	own         map[uuid.UUID]catalog.Choices
	limits      map[uuid.UUID]map[clocks.Key]care.Limits
	findings    []store.Finding
	handOvers   []store.HandOver
	holds       []store.Hold
	rentals     []store.Rental
	faults      []store.KitFault
	bench       []store.BenchItem
	lives       []store.PartLife
	planned     []store.PlannedChange
}

// read reads the records of the instruments named, or of all.
func (r *records) read(ctx context.Context, tx *store.Tx, now time.Time, of ...uuid.UUID) (err error) {
	if r.instruments, err = tx.Instruments(ctx, of...); err != nil {
		return err
	}
	if r.assignments, err = tx.Assignments(ctx, of...); err != nil {
		return err
	}
	if r.starts, err = tx.ClockStarts(ctx, of...); err != nil {
		return err
	}
	if r.own, err = tx.InstrumentChoices(ctx, of...); err != nil {
		return err
	}
	if r.limits, err = tx.OwnLimits(ctx, of...); err != nil {
		return err
	}
	if r.findings, err = tx.OpenFindings(ctx, of...); err != nil {
		return err
	}
	if r.handOvers, err = tx.OpenHandOvers(ctx, of...); err != nil {
		return err
	}
	if r.holds, err = tx.OpenHolds(ctx, now, of...); err != nil {
		return err
	}
	if r.rentals, err = tx.RunningRentals(ctx, of...); err != nil {
		return err
	}
	if r.faults, err = tx.KitFaults(ctx, of...); err != nil {
		return err
	}
	if r.lives, err = tx.OpenLives(ctx, of...); err != nil {
		return err
	}
	if r.planned, err = tx.PlannedChanges(ctx, of...); err != nil {
		return err
	}
	r.bench, err = tx.OpenBenchItems(ctx, of...)
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
		i.Care.Concert, i.Care.Rehearsal = s.nextConcertOf(i), s.nextRehearsalOf(i)
		i.Clocks = s.Reader.Read(i.Care)
		i.offered, i.NotOffered = s.Reader.Offered(i.Clocks, i.Care)
		s.ByID[i.ID] = i
	}
	s.Instruments, s.until = slices.Collect(maps.Values(s.ByID)), time.Time{}
	slices.SortFunc(s.Instruments, func(x, y *Instrument) int {
		return cmp.Or(x.Kind.ScoreOrder-y.Kind.ScoreOrder, strings.Compare(x.Tag, y.Tag))
	})
	for _, i := range s.Instruments {
		if end := i.freeAt(); !end.IsZero() && (s.until.IsZero() || end.Before(s.until)) {
			s.until = end
		}
	}
	return nil
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
		view := &Instrument{Instrument: i, Kind: kind, Triage: sound, Own: r.own[i.ID], SchoolChoices: s.Choices,
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
		}
	}
	for _, f := range r.findings {
		if i := placed[f.Instrument]; i != nil {
			i.Findings = append(i.Findings, f)
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
	for n := range r.rentals {
		if i := placed[r.rentals[n].Instrument]; i != nil {
			i.Rental = &r.rentals[n]
		}
	}
	for _, l := range r.lives {
		if i := placed[l.Instrument]; i != nil {
			if i.Lives == nil {
				i.Lives = map[string]store.PartLife{}
			}
			i.Lives[l.Part] = l
		}
	}
	for _, p := range r.planned {
		if i := placed[p.Instrument]; i != nil {
			i.Planned = append(i.Planned, p)
		}
	}
	for _, f := range r.faults {
		if i := placed[f.Instrument]; i != nil {
			if i.Kit == nil {
				i.Kit = map[string]store.KitFault{}
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
func WaitsFor(h store.Hold, zone *time.Location) string {
	if h.EndedAt == nil {
		return h.Because
	}
	return "dries until " + h.EndedAt.In(zone).Format("Mon 2 Jan, 15:04")
}

// play gives instruments the playing of their assignments.
func (s *Snapshot) play(placed map[uuid.UUID]*Instrument, assignments []store.Assignment) error {
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
		if span.Contains(s.Today) {
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
