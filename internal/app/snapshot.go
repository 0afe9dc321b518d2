package app

import (
	"context"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
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

// The calendar of a snapshot reaches this far back and ahead. Clocks are projected ten years from their start, so a
// clock that starts today needs a little more than ten.
const (
	yearsBack  = 15
	yearsAhead = 11
)

// A snapshot is a school on one day as one revision of its data has it, with every clock read. It is read-only.
type snapshot struct {
	school      store.School
	today       day.Day
	zone        *time.Location
	until       time.Time // when a hold ends by itself, so that the snapshot is old; zero for never
	terms       []store.Period
	breaks      []store.Period
	ensembles   []store.Ensemble
	concerts    []store.Concert
	calendar    *usage.Calendar
	instruments []*instrument // in score order, then by tag
	byID        map[uuid.UUID]*instrument
	due, ready  []Task // most worth first
	strip       []StripDay
	count       map[care.State]int
	reader      *clocks.Reader // after loading, for explaining only
	choices     catalog.Choices
	shelves     []store.Shelf
	roster      []store.Player // by name, those who left too
	players     map[uuid.UUID]*store.Player
	gone        map[uuid.UUID]*instrument // instruments that left the school, for their files only
	wordings    map[string]store.Letter   // the school's own, by key

	rentalPrices []store.RentalPrice
}

// An instrument in a snapshot.
type instrument struct {
	store.Instrument
	kind    *catalog.Kind
	habit   *store.Assignment // how it is played today; nil when nobody plays it
	care    clocks.Instrument
	clocks  []clocks.Clock
	offered []clocks.Clock        // what the time box may offer of them
	held    map[clocks.Key]string // and why it does not offer others

	own           catalog.Choices // what was chosen for this instrument alone
	schoolChoices catalog.Choices
	findings      []store.Finding // open ones
	triage        condition.TriageOut

	heldBy   []uuid.UUID      // players who had it, the latest last
	ended    []day.Day        // when assignments of it ended, the latest last
	handOver *store.HandOver  // who answers for it now; nil when nobody does
	hold     *store.Hold      // why it waits; nil when it does not
	bench    *store.BenchItem // what is being done to it at the bench; nil when nothing is
	rental   *store.Rental    // whose it is; nil for the school's own
	reeds    string           // the strength that its player plays; empty while it is not known
	kit      map[string]store.KitFault
}

// snapshots keeps the latest snapshot of the schools used last. Whoever finds theirs old loads a new one; whoever
// comes meanwhile waits for it.
type snapshots struct {
	mu   sync.Mutex
	last map[uuid.UUID]*slot
}

type slot struct {
	loading sync.Mutex // held while somebody reads the school anew, so that others wait for it
	value   atomic.Pointer[snapshot]
}

// keep puts a snapshot in the place of an older one.
func (s *slot) keep(fresh *snapshot) {
	for {
		old := s.value.Load()
		if old != nil && old.school.Revision > fresh.school.Revision || s.value.CompareAndSwap(old, fresh) {
			return
		}
	}
}

// maxSnapshots bounds the memory: a snapshot of 600 instruments takes about 4 MB.
const maxSnapshots = 64

func (s *snapshots) slot(school uuid.UUID) *slot {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.last == nil || len(s.last) > maxSnapshots && s.last[school] == nil {
		s.last = map[uuid.UUID]*slot{}
	}
	if s.last[school] == nil {
		s.last[school] = &slot{}
	}
	return s.last[school]
}

// snapshot returns the school as it stands now.
func (a *App) snapshot(ctx context.Context, by Person) (*snapshot, error) {
	revision, err := a.db.Revision(ctx, by.School)
	if err != nil {
		return nil, inPlainWords(err)
	}
	slot := a.snapshots.slot(by.School)
	slot.loading.Lock()
	defer slot.loading.Unlock()
	if s := slot.value.Load(); s != nil && s.school.Revision >= revision && a.holds(s) {
		return s, nil
	}
	var s *snapshot
	if err := a.read(ctx, by, func(tx *store.Tx) error {
		s, err = a.load(ctx, tx)
		return err
	}); err != nil {
		return nil, err
	}
	slot.keep(s)
	return s, nil
}

// current returns the school as a write finds it. It never waits for a reader, who may be waiting for a connection.
func (a *App) current(ctx context.Context, tx *store.Tx) (*snapshot, error) {
	slot := a.snapshots.slot(tx.School)
	if s := slot.value.Load(); s != nil && s.school.Revision == tx.Revision-1 && a.holds(s) {
		return s, nil
	}
	s, err := a.load(ctx, tx)
	if err != nil {
		return nil, err
	}
	s.school.Revision = tx.Revision - 1 // nothing was changed yet
	slot.keep(s)
	return s, nil
}

// holds reports whether what a snapshot says of the day and of holds that end by themselves is still so.
func (a *App) holds(s *snapshot) bool {
	return s.today == a.today(s.school) && (s.until.IsZero() || a.now().Before(s.until))
}

// load reads the school and all its clocks.
func (a *App) load(ctx context.Context, tx *store.Tx) (*snapshot, error) {
	s := &snapshot{byID: map[uuid.UUID]*instrument{}, gone: map[uuid.UUID]*instrument{}, players: map[uuid.UUID]*store.Player{}, wordings: map[string]store.Letter{}}
	var assignments []store.Assignment
	var starts []store.ClockStart
	var instruments []store.Instrument
	var own map[uuid.UUID]catalog.Choices
	var limits map[uuid.UUID]map[clocks.Key]care.Limits
	var findings []store.Finding
	var around surroundings
	var err error
	if s.school, err = tx.GetSchool(ctx); err != nil {
		return nil, err
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
	if instruments, err = tx.Instruments(ctx); err != nil {
		return nil, err
	}
	if assignments, err = tx.Assignments(ctx, nil); err != nil {
		return nil, err
	}
	if starts, err = tx.ClockStarts(ctx); err != nil {
		return nil, err
	}
	if s.choices, err = tx.SchoolChoices(ctx); err != nil {
		return nil, err
	}
	if own, err = tx.InstrumentChoices(ctx); err != nil {
		return nil, err
	}
	if limits, err = tx.OwnLimits(ctx); err != nil {
		return nil, err
	}
	if findings, err = tx.OpenFindings(ctx, nil); err != nil {
		return nil, err
	}
	if s.shelves, err = tx.Shelves(ctx); err != nil {
		return nil, err
	}
	if s.roster, err = tx.Players(ctx); err != nil {
		return nil, err
	}
	if err = around.read(ctx, tx, a.now()); err != nil {
		return nil, err
	}
	s.today, s.zone = a.today(s.school), a.zone(s.school)
	span := day.Span{From: s.today.AddYears(-yearsBack), To: s.today.AddYears(yearsAhead)}
	s.calendar = usage.NewCalendar(span, breakSpans(span, s.terms, s.breaks))
	heating, err := heatingOf(s.school)
	if err != nil {
		return nil, err
	}
	s.reader = clocks.NewReader(a.catalog, clocks.Settings{
		TrackAll: s.school.PlayerCare == "tracked", Heating: heating,
		Thresholds: care.Thresholds{OpensAt: s.school.OpensAt, LateAt: s.school.LateAt},
	}, s.today)
	for n := range s.roster {
		s.players[s.roster[n].ID] = &s.roster[n]
	}
	s.choices = a.catalog.Choose(s.choices)
	sound, err := condition.Triage(condition.TriageIn{})
	if err != nil {
		return nil, err
	}
	for _, i := range instruments {
		kind, ok := a.catalog.Kind(i.Kind)
		if !ok {
			a.log.Warn("an instrument of a kind that the catalogue does not have", "tag", i.Tag, "kind", i.Kind)
			continue
		}
		view := &instrument{Instrument: i, kind: kind, triage: sound, own: own[i.ID], schoolChoices: s.choices,
			care: clocks.Instrument{Kind: i.Kind, CareFrom: i.CareFrom, Started: map[clocks.Key]day.Day{}, Choices: s.choices, Own: limits[i.ID]}}
		if view.own != nil {
			view.care.Choices = a.catalog.Choose(s.choices, view.own)
			view.care.ChoiceSet = view.care.Choices.String()
		}
		if i.GoneOn != nil {
			s.gone[i.ID] = view
			continue
		}
		s.instruments = append(s.instruments, view)
		s.byID[i.ID] = view
	}
	around.settle(s)
	for _, c := range starts {
		if i := s.byID[c.Instrument]; i != nil {
			i.care.Started[clocks.Key{Routine: c.Routine, Part: c.Part}] = c.StartedOn
		}
	}
	if err := s.play(assignments); err != nil {
		return nil, err
	}
	for _, f := range findings {
		if i := s.byID[f.Instrument]; i != nil {
			i.findings = append(i.findings, f)
		}
	}
	for _, i := range s.instruments {
		if err := i.judge(); err != nil {
			return nil, err
		}
		i.care.Concert = s.nextConcertOf(i)
		i.clocks = s.reader.Read(i.care)
		i.offered, i.held = s.reader.Offered(i.clocks, i.care)
	}
	slices.SortFunc(s.instruments, func(x, y *instrument) int {
		if x.kind.ScoreOrder != y.kind.ScoreOrder {
			return x.kind.ScoreOrder - y.kind.ScoreOrder
		}
		return strings.Compare(x.Tag, y.Tag)
	})
	s.sortTasks()
	return s, nil
}

// breakSpans are the days without rehearsals: the breaks, and what lies between the terms.
func breakSpans(span day.Span, terms, breaks []store.Period) []day.Span {
	spans := func(list []store.Period) (out []day.Span) {
		for _, p := range list {
			out = append(out, day.Span{From: p.StartsOn, To: p.EndsOn})
		}
		return out
	}
	// Days before the first and after the last term that was entered are not known to be holidays, only those between.
	inside := span
	if len(terms) > 0 {
		inside = day.Span{From: terms[0].StartsOn, To: terms[0].EndsOn}
		for _, t := range terms {
			inside.To = max(inside.To, t.EndsOn)
		}
	}
	return append(spans(breaks), usage.BreaksBetweenTerms(inside.Clip(span), spans(terms))...)
}

// play gives each instrument the playing of its assignments.
func (s *snapshot) play(assignments []store.Assignment) error {
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
		i := s.byID[at.Instrument]
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
	for _, i := range s.instruments {
		i.care.RestsSince = max(i.CareFrom, i.care.Returned)
		if i.habit != nil {
			i.care.Returned, i.care.RestsSince = 0, 0
		}
		i.care.Playing = usage.NewPlaying(s.calendar, stretches[i.ID], extras[i.ID])
	}
	return nil
}

// nextConcertOf is the day of the instrument's next concert, zero when there is none.
func (s *snapshot) nextConcertOf(i *instrument) day.Day {
	if i.habit != nil {
		for _, c := range s.concerts { // by day
			if c.HeldOn >= s.today && slices.ContainsFunc(c.Ensembles, func(id uuid.UUID) bool { return slices.Contains(i.habit.Ensembles, id) }) {
				return c.HeldOn
			}
		}
	}
	return 0
}

// ensembleNames lists the names of ensembles in the order of the school's list.
func (s *snapshot) ensembleNames(ids []uuid.UUID) []string {
	names := []string{}
	for _, e := range s.ensembles {
		if slices.Contains(ids, e.ID) {
			names = append(names, e.Name)
		}
	}
	return names
}

// judge works out the instrument's grade from its open findings.
func (i *instrument) judge() (err error) {
	if len(i.findings) == 0 {
		return nil
	}
	in := condition.TriageIn{}
	for _, f := range i.findings {
		in.Findings = append(in.Findings, f.ForTriage())
	}
	i.triage, err = condition.Triage(in)
	i.care.Stopped = condition.Stops(in.Findings)
	return err
}

// dryOnly names the finding because of which nothing wet may touch the body, empty for none.
func (a *App) dryOnly(i *instrument) string {
	for _, f := range i.findings {
		if kind, ok := a.catalog.Finding(f.Code); ok && kind.DryOnly {
			return kind.Name
		}
	}
	return ""
}

// heatingOf reads the school's heating season.
func heatingOf(s store.School) (h clocks.Heating, err error) {
	if h.Begins, err = clocks.ParseYearDay(s.HeatingBegins); err != nil {
		return h, invalid("heating_begins", err.Error(), s.HeatingBegins)
	}
	if h.Ends, err = clocks.ParseYearDay(s.HeatingEnds); err != nil {
		return h, invalid("heating_ends", err.Error(), s.HeatingEnds)
	}
	return h, nil
}
