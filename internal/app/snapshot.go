package app

import (
	"context"
	"fmt"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"github.com/google/uuid"
	lru "github.com/hashicorp/golang-lru/v2"

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
	worklist    *worklist
	heating     clocks.Heating
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
	holdEnds []*time.Time     // when its holds end, nil for one that somebody must end
	bench    *store.BenchItem // what is being done to it at the bench; nil when nothing is
	rental   *store.Rental    // whose it is; nil for the school's own
	reeds    string           // the strength that its player plays; empty while it is not known
	kit      map[string]store.KitFault
}

// snapshots keeps the latest snapshot of the schools used last. Whoever finds theirs old loads a new one; whoever
// comes meanwhile waits for it.
type snapshots struct {
	mu   sync.Mutex
	last *lru.Cache[uuid.UUID, *slot]
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

// maxSnapshots bounds the memory: a snapshot of 600 instruments takes about 4 MB. Who was asked for longest ago goes first.
const maxSnapshots = 256

func (s *snapshots) slot(school uuid.UUID) *slot {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.last == nil {
		s.last, _ = lru.New[uuid.UUID, *slot](maxSnapshots) // cannot fail with a size above 0
	}
	of, ok := s.last.Get(school)
	if !ok {
		of = &slot{}
		s.last.Add(school, of)
	}
	return of
}

type revisionKey struct{}

// AsOf says that the school had this revision when what is done under ctx was asked for, so that it is not looked up again. It is
// for reading only.
func AsOf(ctx context.Context, revision int64) context.Context {
	return context.WithValue(ctx, revisionKey{}, revision)
}

// Stamp names the state of a school at a revision, on its day, and to the minute where that matters: what is read of it is the same
// for the same stamp. It is false while this process does not have the school in that state.
func (a *App) Stamp(school uuid.UUID, revision int64, toTheMinute bool) (stamp string, current bool) {
	s := a.snapshots.slot(school).value.Load()
	if s == nil || s.school.Revision != revision || !a.holds(s) {
		return "", false
	}
	stamp = fmt.Sprintf("%d %d %d", revision, s.today, s.until.UnixNano())
	if toTheMinute {
		stamp += a.clockAt(s.school)
	}
	return stamp, true
}

// snapshot returns the school as it stands now.
func (a *App) snapshot(ctx context.Context, by Person) (*snapshot, error) {
	revision, known := ctx.Value(revisionKey{}).(int64)
	if !known {
		var err error
		if revision, err = a.db.Revision(ctx, by.School); err != nil {
			return nil, inPlainWords(err)
		}
	}
	slot := a.snapshots.slot(by.School)
	if s := slot.value.Load(); s != nil && s.school.Revision >= revision && a.holds(s) {
		return s, nil
	}
	slot.loading.Lock()
	defer slot.loading.Unlock()
	if s := slot.value.Load(); s != nil && s.school.Revision >= revision && a.holds(s) {
		return s, nil
	}
	var err error
	var s *snapshot
	if err := a.read(ctx, by, func(tx *store.Tx) error {
		s, err = a.caughtUp(ctx, tx, slot.value.Load(), 0)
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
	s, err := a.caughtUp(ctx, tx, slot.value.Load(), tx.Revision-1) // nothing was changed yet
	if err != nil {
		return nil, err
	}
	slot.keep(s)
	return s, nil
}

// holds reports whether what a snapshot says of the day and of holds that end by themselves is still so.
func (a *App) holds(s *snapshot) bool {
	return s.today == a.today(s.school) && (s.until.IsZero() || a.now().Before(s.until))
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
