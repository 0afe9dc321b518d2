package app

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
func (a *App) caughtUp(ctx context.Context, tx *store.Tx, known *snapshot, revision int64) (*snapshot, error) {
	if known == nil || !a.holds(known) {
		return a.load(ctx, tx, revision)
	}
	school, err := tx.GetSchool(ctx)
	if err != nil {
		return nil, err
	}
	if revision != 0 {
		school.Revision = revision
	}
	if known.school.Revision >= school.Revision {
		return known, nil
	}
	touched, err := tx.Touched(ctx, known.school.Revision, school.Revision)
	if err != nil {
		return nil, err
	}
	if touched.Whole || len(touched.Instruments)+len(touched.Players) > fewTouched {
		return a.load(ctx, tx, revision)
	}
	s := *known
	s.school = school
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
		s.byID, s.gone, s.reader = maps.Clone(s.byID), maps.Clone(s.gone), a.reader(&s)
		var r records
		if err := r.read(ctx, tx, a.now(), touched.Instruments...); err != nil {
			return nil, err
		}
		for _, id := range touched.Instruments {
			delete(s.byID, id)
			delete(s.gone, id)
		}
		if err := a.place(&s, &r); err != nil {
			return nil, err
		}
	}
	return &s, nil
}

// meet reads players anew. Instruments in their hands know what reeds they play.
func (s *snapshot) meet(ctx context.Context, tx *store.Tx, players []uuid.UUID) error {
	fresh, err := tx.Players(ctx, players...)
	if err != nil {
		return err
	}
	others := slices.DeleteFunc(slices.Clone(s.roster), func(p store.Player) bool { return slices.Contains(players, p.ID) })
	s.enrol(append(others, fresh...))
	byID, instruments := maps.Clone(s.byID), slices.Clone(s.instruments)
	for n, i := range s.instruments {
		if i.habit == nil || i.habit.Player == nil || !slices.Contains(players, *i.habit.Player) {
			continue
		}
		again := *i
		if again.reeds = ""; s.players[*i.habit.Player] != nil {
			again.reeds = s.players[*i.habit.Player].ReedStrength
		}
		byID[i.ID], instruments[n] = &again, &again
	}
	s.byID, s.instruments = byID, instruments
	return nil
}

// enrol sets the roster, by name.
func (s *snapshot) enrol(roster []store.Player) {
	slices.SortFunc(roster, func(x, y store.Player) int {
		return cmp.Or(strings.Compare(x.FamilyName, y.FamilyName), strings.Compare(x.GivenName, y.GivenName), slices.Compare(x.ID[:], y.ID[:]))
	})
	s.roster, s.players = roster, make(map[uuid.UUID]*store.Player, len(roster))
	for n := range roster {
		s.players[roster[n].ID] = &roster[n]
	}
}

// load reads the school and all its clocks, at a revision, 0 for the one that the transaction sees.
func (a *App) load(ctx context.Context, tx *store.Tx, revision int64) (*snapshot, error) {
	s := &snapshot{byID: map[uuid.UUID]*instrument{}, gone: map[uuid.UUID]*instrument{}, wordings: map[string]store.Letter{}, worklist: &worklist{}}
	var err error
	if s.school, err = tx.GetSchool(ctx); err != nil {
		return nil, err
	}
	if revision != 0 {
		s.school.Revision = revision
	}
	if s.terms, err = tx.Periods(ctx, store.Terms); err != nil {
		return nil, err
	}
	if s.breaks, err = tx.Periods(ctx, store.Breaks); err != nil {
		return nil, err
	}
	if s.ensembles, err = tx.Ensembles(ctx); err != nil {
		return nil, err
	}
	if s.concerts, err = tx.Concerts(ctx); err != nil {
		return nil, err
	}
	if s.choices, err = tx.SchoolChoices(ctx); err != nil {
		return nil, err
	}
	if s.shelves, err = tx.Shelves(ctx); err != nil {
		return nil, err
	}
	if s.rentalPrices, err = tx.RentalPrices(ctx); err != nil {
		return nil, err
	}
	letters, err := tx.Letters(ctx)
	if err != nil {
		return nil, err
	}
	for _, l := range letters {
		s.wordings[l.Key] = l
	}
	roster, err := tx.Players(ctx)
	if err != nil {
		return nil, err
	}
	s.enrol(roster)
	s.choices = a.catalog.Choose(s.choices)
	s.today, s.zone = a.today(s.school), a.zone(s.school)
	span := day.Span{From: s.today.AddYears(-yearsBack), To: s.today.AddYears(yearsAhead)}
	s.calendar = usage.NewCalendar(span, breakSpans(span, s.terms, s.breaks))
	if s.heating, err = heatingOf(s.school); err != nil {
		return nil, err
	}
	s.reader = a.reader(s)
	var r records
	if err := r.read(ctx, tx, a.now()); err != nil {
		return nil, err
	}
	return s, a.place(s, &r)
}

// reader reads the clocks of a school. It is used for one loading.
func (a *App) reader(s *snapshot) *clocks.Reader {
	return clocks.NewReader(a.catalog, clocks.Settings{
		TrackAll: s.school.PlayerCare == "tracked", Heating: s.heating,
		Thresholds: care.Thresholds{OpensAt: s.school.OpensAt, LateAt: s.school.LateAt},
	}, s.today)
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
	r.bench, err = tx.OpenBenchItems(ctx, of...)
	return err
}

// place puts instruments into the school as their records say, reads their clocks, and brings all into order.
func (a *App) place(s *snapshot, r *records) error {
	placed, err := a.instruments(s, r)
	if err != nil {
		return err
	}
	if err := s.play(placed, r.assignments); err != nil {
		return err
	}
	for _, i := range placed {
		if err := i.judge(); err != nil {
			return err
		}
		i.care.Concert = s.nextConcertOf(i)
		i.clocks = s.reader.Read(i.care)
		i.offered, i.held = s.reader.Offered(i.clocks, i.care)
		s.byID[i.ID] = i
	}
	s.instruments, s.until = slices.Collect(maps.Values(s.byID)), time.Time{}
	slices.SortFunc(s.instruments, func(x, y *instrument) int {
		return cmp.Or(x.kind.ScoreOrder-y.kind.ScoreOrder, strings.Compare(x.Tag, y.Tag))
	})
	for _, i := range s.instruments {
		if end := i.freeAt(); !end.IsZero() && (s.until.IsZero() || end.Before(s.until)) {
			s.until = end
		}
	}
	return nil
}

// instruments gives each instrument of the records what is its own. Those that left the school are put aside.
func (a *App) instruments(s *snapshot, r *records) (map[uuid.UUID]*instrument, error) {
	sound, err := condition.Triage(condition.TriageIn{})
	if err != nil {
		return nil, err
	}
	placed := map[uuid.UUID]*instrument{}
	for _, i := range r.instruments {
		kind, ok := a.catalog.Kind(i.Kind)
		if !ok {
			a.log.Warn("an instrument of a kind that the catalogue does not have", "tag", i.Tag, "kind", i.Kind)
			continue
		}
		view := &instrument{Instrument: i, kind: kind, triage: sound, own: r.own[i.ID], schoolChoices: s.choices,
			care: clocks.Instrument{Kind: i.Kind, CareFrom: i.CareFrom, Started: map[clocks.Key]day.Day{}, Choices: s.choices, Own: r.limits[i.ID]}}
		if view.own != nil {
			view.care.Choices = a.catalog.Choose(s.choices, view.own)
			view.care.ChoiceSet = view.care.Choices.String()
		}
		if i.GoneOn != nil {
			s.gone[i.ID] = view
			continue
		}
		placed[i.ID] = view
	}
	for _, c := range r.starts {
		if i := placed[c.Instrument]; i != nil {
			i.care.Started[clocks.Key{Routine: c.Routine, Part: c.Part}] = c.StartedOn
		}
	}
	for _, f := range r.findings {
		if i := placed[f.Instrument]; i != nil {
			i.findings = append(i.findings, f)
		}
	}
	for n := range r.handOvers {
		if i := placed[r.handOvers[n].Instrument]; i != nil {
			i.handOver = &r.handOvers[n]
		}
	}
	for n := range r.holds {
		if i := placed[r.holds[n].Instrument]; i != nil {
			i.hold = &r.holds[n]
			i.holdEnds = append(i.holdEnds, r.holds[n].EndedAt)
			i.hold.Because = waitsFor(*i.hold, s.zone)
		}
	}
	for n := range r.bench {
		if i := placed[r.bench[n].Instrument]; i != nil {
			i.bench = &r.bench[n]
		}
	}
	for n := range r.rentals {
		if i := placed[r.rentals[n].Instrument]; i != nil {
			i.rental = &r.rentals[n]
		}
	}
	for _, f := range r.faults {
		if i := placed[f.Instrument]; i != nil {
			if i.kit == nil {
				i.kit = map[string]store.KitFault{}
			}
			i.kit[f.Supply] = f
		}
	}
	return placed, nil
}

// freeAt is when the first of its holds ends by itself; zero when none does.
func (i *instrument) freeAt() (first time.Time) {
	for _, end := range i.holdEnds {
		if end != nil && (first.IsZero() || end.Before(first)) {
			first = *end
		}
	}
	return first
}

// waitsFor says what a held instrument waits for, and until when where that is known.
func waitsFor(h store.Hold, zone *time.Location) string {
	if h.EndedAt == nil {
		return h.Because
	}
	return "dries until " + h.EndedAt.In(zone).Format("Mon 2 Jan, 15:04")
}

// play gives instruments the playing of their assignments.
func (s *snapshot) play(placed map[uuid.UUID]*instrument, assignments []store.Assignment) error {
	rehearsals := map[uuid.UUID][]usage.Rehearsal{}
	for _, e := range s.ensembles {
		for _, r := range e.Rehearsals {
			rehearsals[e.ID] = append(rehearsals[e.ID], usage.Rehearsal{Weekday: day.Weekday(r.Weekday), Minutes: float64(r.Minutes), PlayFactor: r.PlayFactor})
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
			i.heldBy = append(i.heldBy, *at.Player)
		}
		span := day.Span{From: at.StartsOn, To: s.calendar.Span().To}
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
		for _, c := range s.concerts {
			if span.Contains(c.HeldOn) && slices.ContainsFunc(c.Ensembles, func(id uuid.UUID) bool { return slices.Contains(at.Ensembles, id) }) {
				extras[i.ID] = append(extras[i.ID], usage.Extra{Date: c.HeldOn, Minutes: float64(c.Minutes), PlayFactor: c.PlayFactor})
			}
		}
		if span.Contains(s.today) {
			i.habit, i.care.HeavySweat, i.care.Players = at, at.HeavySweat, at.Players
			if at.Player != nil && s.players[*at.Player] != nil {
				i.reeds = s.players[*at.Player].ReedStrength
			}
		} else if span.To < s.today {
			i.care.Returned = max(i.care.Returned, span.To)
			i.ended = append(i.ended, span.To)
		}
	}
	for _, i := range placed {
		i.care.RestsSince = max(i.CareFrom, i.care.Returned)
		if i.habit != nil {
			i.care.Returned, i.care.RestsSince = 0, 0
		}
		i.care.Playing = usage.NewPlaying(s.calendar, stretches[i.ID], extras[i.ID])
	}
	return nil
}
