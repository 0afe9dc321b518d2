package school

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/condition"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/usage"
	"solfeggio/internal/kept"
	"solfeggio/internal/store"
	"solfeggio/internal/store/benchrows"
	"solfeggio/internal/store/cardrows"
	"solfeggio/internal/store/checkrows"
	"solfeggio/internal/store/instrumentrows"
	"solfeggio/internal/store/lendingrows"
	"solfeggio/internal/store/letterrows"
	"solfeggio/internal/store/playerrows"
	"solfeggio/internal/store/schoolrows"
	"solfeggio/internal/store/seasonrows"
	"solfeggio/internal/store/shoprows"
	"solfeggio/internal/store/supplyrows"
	"solfeggio/internal/store/upkeeprows"
)

// The calendar of a snapshot reaches this far back and ahead. Clocks are projected ten years from their start, so a
// clock that starts today needs a little more than ten.
const (
	yearsBack  = 15
	yearsAhead = 11
)

// A snapshot is a school on one day as one revision of its data has it, with every clock read. It is read-only.
type Snapshot struct {
	School      schoolrows.School
	Today       day.Day
	Zone        *time.Location
	until       time.Time // when a hold ends by itself, so that the snapshot is old; zero for never
	Terms       []schoolrows.Period
	Breaks      []schoolrows.Period
	Ensembles   []schoolrows.Ensemble
	Concerts    []schoolrows.Concert
	Calendar    *usage.Calendar
	Instruments []*Instrument // in score order, then by tag
	ByID        map[uuid.UUID]*Instrument
	worklist    *worklist
	blocks      []*Block
	heating     clocks.Heating
	Reader      *clocks.Reader // after loading, for explaining only
	Choices     catalog.Choices
	Moved       catalog.Moved // things of kits that the school keeps elsewhere than usual
	Shelves     []instrumentrows.Shelf
	Roster      []playerrows.Player // by name, those who left too
	Players     map[uuid.UUID]*playerrows.Player
	Gone        map[uuid.UUID]*Instrument    // instruments that left the school, for their files only
	Wordings    map[string]letterrows.Letter // the school's own, by key

	RentalPrices []instrumentrows.RentalPrice
	Reeds        map[uuid.UUID][]upkeeprows.Reed // in the boxes of players, by place
	BreakIns     map[string][]float64            // the school's own, by supply
	Learned      []upkeeprows.LearnedInterval
	Shops        []shoprows.RepairShop // to which work is given, by name
	Trips        []shoprows.Trip       // from today on, and those that were never driven, by day
	Season       []seasonrows.SeasonPiece
	SeasonSet    *seasonrows.SeasonSettings // nil while the school has set none
}

// An instrument in a snapshot.
type Instrument struct {
	instrumentrows.Instrument
	Kind       *catalog.Kind
	Habit      *instrumentrows.Assignment // how it is played today; nil when nobody plays it
	Care       clocks.Instrument
	Clocks     []clocks.Clock
	offered    []clocks.Clock // what the time box may offer of them
	doings     *doings
	NotOffered map[clocks.Key]string // and why it does not offer others

	Own           catalog.Choices // what was chosen for this instrument alone
	SchoolChoices catalog.Choices
	Moved         catalog.Moved
	Findings      []checkrows.Finding // open ones
	Triage        condition.TriageOut
	Looked        day.Day // when somebody walked along it last, or ticked its term check; zero for never

	HeldBy   []uuid.UUID             // players who had it, the latest last
	Ended    []day.Day               // when assignments of it ended, the latest last
	HandOver *lendingrows.HandOver   // who answers for it now; nil when nobody does
	Hold     *lendingrows.Hold       // why it waits; nil when it does not
	holdEnds []*time.Time            // when its holds end, nil for one that somebody must end
	Bench    *benchrows.BenchItem    // what is being done to it at the bench; nil when nothing is
	Rental   *instrumentrows.Rental  // whose it is; nil for the school's own
	Job      *shoprows.Job           // for a repair shop, while it is open
	Promise  *instrumentrows.Promise // to a player, one that has run out too
	Reeds    string                  // the strength that its player plays; empty while it is not known
	Kit      map[string]supplyrows.KitFault
	missing  int                            // things from its case, as the school has it
	Lives    map[string]upkeeprows.PartLife // of what is on it now, by part
	Planned  []upkeeprows.PlannedChange     // by day
	Reports  []cardrows.Report              // of players, that nobody has looked at yet
}

// snapshots keeps the latest snapshot of the schools used last. Whoever finds theirs old loads a new one; whoever
// comes meanwhile waits for it.
type snapshots struct {
	mu   sync.Mutex
	last *kept.Things[uuid.UUID, *slot]
}

type slot struct {
	loading sync.Mutex // held while somebody reads the school anew, so that others wait for it
	value   atomic.Pointer[Snapshot]
}

// keep puts a snapshot in the place of an older one, and what it takes on the bill.
func (s *snapshots) keep(school uuid.UUID, fresh *Snapshot) {
	of := s.slot(school)
	for {
		old := of.value.Load()
		if old != nil && old.School.Revision > fresh.School.Revision {
			return
		}
		if of.value.CompareAndSwap(old, fresh) {
			s.mu.Lock()
			defer s.mu.Unlock()
			s.last.Add(school, of, min(fresh.Bytes(), snapshotBytes)) // one that is larger is kept alone
			return
		}
	}
}

const (
	snapshotBytes   = 512 << 20 // what all snapshots may take
	calendarBytes   = 256 << 10 // what one takes of itself, mostly its calendar of 26 years,
	instrumentBytes = 8 << 10   // for an instrument with its clocks and what is known of it,
	playerBytes     = 1 << 10   // and for a player
)

// Bytes is about what the snapshot takes in memory, rather more than less.
func (s *Snapshot) Bytes() int64 {
	return int64(calendarBytes + instrumentBytes*(len(s.Instruments)+len(s.Gone)) + playerBytes*len(s.Roster))
}

func (s *snapshots) slot(school uuid.UUID) *slot {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.last == nil {
		s.last = kept.For[uuid.UUID, *slot](snapshotBytes)
	}
	of, ok := s.last.Get(school)
	if !ok {
		of = &slot{}
		s.last.Add(school, of, 0)
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
func (all *Schools) Stamp(school uuid.UUID, revision int64, toTheMinute bool) (stamp string, current bool) {
	s := all.snapshots.slot(school).value.Load()
	if s == nil || s.School.Revision != revision || !all.holds(s) {
		return "", false
	}
	stamp = fmt.Sprintf("%d %d %d", revision, s.Today, s.until.UnixNano())
	if toTheMinute {
		stamp += all.ClockAt(s.School)
	}
	return stamp, true
}

// Snapshot returns the school as it stands now.
func (all *Schools) Snapshot(ctx context.Context, by journal.Person) (*Snapshot, error) {
	revision, known := ctx.Value(revisionKey{}).(int64)
	if !known {
		var err error
		if revision, err = all.DB.Revision(ctx, by.School); err != nil {
			return nil, journal.InPlainWords(err)
		}
	}
	slot := all.snapshots.slot(by.School)
	if s := slot.value.Load(); s != nil && s.School.Revision >= revision && all.holds(s) {
		return s, nil
	}
	slot.loading.Lock()
	defer slot.loading.Unlock()
	if s := slot.value.Load(); s != nil && s.School.Revision >= revision && all.holds(s) {
		return s, nil
	}
	var err error
	var s *Snapshot
	if err := all.Read(ctx, by, func(tx *store.Tx) error {
		s, err = all.caughtUp(ctx, tx, slot.value.Load(), 0)
		return err
	}); err != nil {
		return nil, err
	}
	all.snapshots.keep(by.School, s)
	return s, nil
}

// current returns the school as a write finds it. It never waits for a reader, who may be waiting for a connection.
func (all *Schools) current(ctx context.Context, tx *store.Tx) (*Snapshot, error) {
	slot := all.snapshots.slot(tx.School)
	if s := slot.value.Load(); s != nil && s.School.Revision == tx.Revision-1 && all.holds(s) {
		return s, nil
	}
	s, err := all.caughtUp(ctx, tx, slot.value.Load(), tx.Revision-1) // nothing was changed yet
	if err != nil {
		return nil, err
	}
	all.snapshots.keep(tx.School, s)
	return s, nil
}

// holds reports whether what a snapshot says of the day and of holds that end by themselves is still so.
func (all *Schools) holds(s *Snapshot) bool {
	return s.Today == all.Today(s.School) && (s.until.IsZero() || all.Now().Before(s.until))
}

// breakSpans are the days without rehearsals: the breaks, and what lies between the terms.
func breakSpans(span day.Span, terms, breaks []schoolrows.Period) []day.Span {
	spans := func(list []schoolrows.Period) (out []day.Span) {
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
func (s *Snapshot) nextConcertOf(i *Instrument) day.Day {
	if i.Habit != nil {
		for _, c := range s.Concerts { // by day
			if c.HeldOn >= s.Today &&
				slices.ContainsFunc(c.Ensembles, func(id uuid.UUID) bool { return slices.Contains(i.Habit.Ensembles, id) }) {
				return c.HeldOn
			}
		}
	}
	return 0
}

// nextRehearsalOf is the day of the instrument's next rehearsal within a fortnight, zero when there is none.
func (s *Snapshot) nextRehearsalOf(i *Instrument) day.Day {
	if i.Habit == nil {
		return 0
	}
	for on := s.Today; on < s.Today+stripDays; on++ {
		if s.Calendar.IsBreak(on) {
			continue
		}
		for _, e := range s.Ensembles {
			if slices.Contains(i.Habit.Ensembles, e.ID) &&
				slices.ContainsFunc(e.Rehearsals, func(r schoolrows.Rehearsal) bool { return day.Weekday(r.Weekday) == on.Weekday() }) {
				return on
			}
		}
	}
	return 0
}

// weightsOf are what counts how much at the school.
func weightsOf(s schoolrows.School) care.Weights {
	return care.Weights{s.WeighConvenience, s.WeighSound, s.WeighPlaying, s.WeighHarm, s.WeighHealth}
}

// ConsequenceWeight is how much a consequence counts at the school.
func (s *Snapshot) ConsequenceWeight(c care.Consequence) float64 { return weightsOf(s.School).Of(c) }

// EnsembleNames lists the names of ensembles in the order of the school's list.
func (s *Snapshot) EnsembleNames(ids []uuid.UUID) []string {
	names := []string{}
	for _, e := range s.Ensembles {
		if slices.Contains(ids, e.ID) {
			names = append(names, e.Name)
		}
	}
	return names
}

// Judge works out the instrument's grade from its open findings.
func (i *Instrument) Judge() (err error) {
	if len(i.Findings) == 0 {
		if i.NeverSeen() {
			i.Triage.Why.Statement = "Nobody has looked it over here yet. Until then it counts as sound."
		}
		return nil
	}
	in := condition.TriageIn{}
	for _, f := range i.Findings {
		in.Findings = append(in.Findings, f.ForTriage())
	}
	i.Triage, err = condition.Triage(in)
	i.Care.Stopped = condition.Stops(in.Findings)
	return err
}

// NeverSeen reports whether nobody is known to have looked the instrument over, so that its grade is a guess.
func (i *Instrument) NeverSeen() bool { return i.Looked.IsZero() && len(i.Findings) == 0 }

// HeatingOf reads the school's heating season.
func HeatingOf(s schoolrows.School) (h clocks.Heating, err error) {
	if h.Begins, err = clocks.ParseYearDay(s.HeatingBegins); err != nil {
		return h, journal.Refuse("heating_begins", err.Error(), s.HeatingBegins)
	}
	if h.Ends, err = clocks.ParseYearDay(s.HeatingEnds); err != nil {
		return h, journal.Refuse("heating_ends", err.Error(), s.HeatingEnds)
	}
	return h, nil
}

// Asked lists the practices whose defaults have changed since the school began and of which nobody has said yet what is to hold.
func (s *Snapshot) Asked() []string { return strings.Fields(s.School.AskedPractices) }
