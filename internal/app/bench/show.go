package bench

import (
	"cmp"
	"context"
	"math"
	"slices"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/products"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/store"
	"solfeggio/internal/store/benchrows"
	"solfeggio/internal/store/peoplerows"
)

// BenchRun is work at the bench as it stands at Now, by the server's clock.
type BenchRun struct {
	ID       uuid.UUID           `json:"id"`
	Now      time.Time           `json:"now" doc:"Timers are counted from it, not from the reader's own clock"`
	BeganAt  time.Time           `json:"began_at"`
	EndedAt  *time.Time          `json:"ended_at,omitempty"`
	FinishBy *time.Time          `json:"finish_by,omitempty" doc:"The bell"`
	OverAt   *time.Time          `json:"over_at,omitempty" doc:"When all is over as planned; left out when nothing is left to do"`
	People   int                 `json:"people"`
	Stations []StationHere       `json:"stations" doc:"That are used"`
	Pouring  []Pouring           `json:"pouring" doc:"Products that are still to be used"`
	Cautions []Warning           `json:"cautions"`
	Handling []products.Handling `json:"handling" doc:"What the labels of its products warn of"`
	Items    []BenchItem         `json:"items" doc:"In the order in which they came"`
}

// BenchItem is an instrument at the bench.
type BenchItem struct {
	InstrumentID uuid.UUID      `json:"instrument_id"`
	Tag          string         `json:"tag"`
	KindName     string         `json:"kind_name"`
	Reason       catalog.Reason `json:"reason" enum:"turnover,illness,mould,smoke,deep clean,concert,laundry"`
	Title        string         `json:"title"`
	State        string         `json:"state" enum:"open,finished,taken off"`
	TakenOff     string         `json:"taken_off" doc:"Why it left unfinished"`
	FinishedAt   *time.Time     `json:"finished_at,omitempty"`
	FreeAt       *time.Time     `json:"free_at,omitempty" doc:"When it has dried; left out where it stays held"`
	StaysHeld    string         `json:"stays_held"`
	Steps        []BenchStep    `json:"steps"`
}

// BenchStep is a step of it.
type BenchStep struct {
	N           int        `json:"n"`
	Name        string     `json:"name"`
	Do          string     `json:"do"`
	Reason      string     `json:"reason"`
	Caution     string     `json:"caution"`
	Gloves      string     `json:"gloves" enum:",new,off"`
	Gate        string     `json:"gate"`
	Station     string     `json:"station" doc:"Name of it"`
	StationKey  string     `json:"station_key"`
	Product     string     `json:"product" doc:"Empty where nothing stays wet"`
	Lot         string     `json:"lot"`
	Contact     int        `json:"contact_minutes"`
	Active      int        `json:"active_minutes"`
	Wait        int        `json:"wait_minutes"`
	MostWait    *int       `json:"most_wait_minutes,omitempty"`
	State       string     `json:"state" enum:"later,now,waiting,over,done" doc:"later: something comes before; waiting: its time runs; over: its time is over"`
	PlannedAt   *time.Time `json:"planned_at,omitempty"`
	Person      *int       `json:"person,omitempty" doc:"Who is to do it, from 0"`
	Place       *int       `json:"place,omitempty" doc:"Which of the stations, from 0"`
	BegunAt     *time.Time `json:"begun_at,omitempty"`
	OverAt      *time.Time `json:"over_at,omitempty" doc:"When its waiting is over"`
	LatestAt    *time.Time `json:"latest_at,omitempty" doc:"When the next step must have begun"`
	TooLong     bool       `json:"too_long" doc:"It has waited longer than it may"`
	DoneAt      *time.Time `json:"done_at,omitempty"`
	DoneBy      string     `json:"done_by"`
	Override    string     `json:"override" doc:"Why somebody did not wait"`
	OverrideBy  string     `json:"override_by"`
	KeptMinutes float64    `json:"kept_minutes" doc:"How long it stayed wet or soaked"`
}

// overAt is when the waiting of a step that was begun is over.
func overAt(s benchrows.BenchStep) time.Time {
	return s.BegunAt.Add(time.Duration(s.WaitMinutes) * time.Minute)
}

// Run shows how the work stands.
func (r *Room) Run(ctx context.Context, by journal.Person, id uuid.UUID) (BenchRun, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return BenchRun{}, err
	}
	var out BenchRun
	err = r.schools.Read(ctx, by, func(tx *store.Tx) error {
		run, err := benchrows.BenchRunByID(ctx, tx, id, false)
		if err != nil {
			return err
		}
		out, err = r.showRun(ctx, tx, s, run)
		return err
	})
	return out, err
}

func (r *Room) showRun(ctx context.Context, tx *store.Tx, s *school.Snapshot, run benchrows.BenchRun) (BenchRun, error) {
	now := r.schools.Now()
	out := BenchRun{
		ID:       run.ID,
		Now:      now,
		BeganAt:  run.BeganAt,
		EndedAt:  run.EndedAt,
		FinishBy: run.FinishBy,
		People:   run.People,
		Stations: []StationHere{},
		Cautions: []Warning{},
		Items:    []BenchItem{},
	}
	items, err := benchrows.BenchItems(ctx, tx, run.ID)
	if err != nil {
		return out, err
	}
	staff, err := staffNames(ctx, tx)
	if err != nil {
		return out, err
	}
	list, err := benchrows.Products(ctx, tx)
	if err != nil {
		return out, err
	}
	names := productNames(list)
	if out.Pouring, err = r.pouring(ctx, tx, list, items); err != nil {
		return out, err
	}
	out.Handling = products.HandlingOf(list, func(id uuid.UUID) bool {
		return slices.ContainsFunc(items, func(i benchrows.BenchItem) bool { return i.Uses(id) })
	})
	used := map[string]bool{}
	var warned warnings
	for _, i := range items {
		item := r.showItem(s, i, staff, names, now)
		for n, step := range i.Steps {
			used[step.Station] = true
			end := item.Steps[n].OverAt
			if step.BegunAt == nil && step.PlannedAt != nil {
				end = new(step.PlannedAt.Add(time.Duration(step.ActiveMinutes+step.WaitMinutes) * time.Minute))
			}
			if i.Open() && step.DoneAt == nil && end != nil && (out.OverAt == nil || end.After(*out.OverAt)) {
				out.OverAt = end
			}
		}
		if routine, ok := r.schools.Catalog.Routine(i.Routine); ok {
			warned.add(item.Tag, r.cautions(s, i.Instrument, routine))
		}
		out.Items = append(out.Items, item)
	}
	for _, p := range r.schools.Catalog.Stations() {
		if used[p.Key] {
			out.Stations = append(out.Stations, StationHere{p.Key, p.Name, run.Stations[p.Key]})
		}
	}
	out.Cautions = warned.said()
	return out, nil
}

// cautions are what must be read before an instrument's routine.
func (r *Room) cautions(s *school.Snapshot, id uuid.UUID, routine *catalog.Routine) []string {
	if i := cmp.Or(s.ByID[id], s.Gone[id]); i != nil {
		return r.schools.Cautions(i, routine)
	}
	return routine.Cautions
}

// staffNames are the people whom a record names.
func staffNames(ctx context.Context, tx *store.Tx) (map[uuid.UUID]string, error) {
	names := map[uuid.UUID]string{}
	staff, err := peoplerows.People(ctx, tx)
	for _, p := range staff {
		names[p.ID] = p.Name
	}
	return names, err
}

// productNames are the products that a record names.
func productNames(products []benchrows.Product) map[uuid.UUID]string {
	names := map[uuid.UUID]string{}
	for _, p := range products {
		names[p.ID] = p.Name
	}
	return names
}

func (r *Room) showItem(s *school.Snapshot, i benchrows.BenchItem, people, products map[uuid.UUID]string, now time.Time) BenchItem {
	item := BenchItem{
		InstrumentID: i.Instrument,
		Reason:       i.Reason,
		State:        "open",
		TakenOff:     i.TakenOff,
		FinishedAt:   i.FinishedAt,
		FreeAt:       i.FreeAt,
		Steps:        []BenchStep{},
	}
	if of := cmp.Or(s.ByID[i.Instrument], s.Gone[i.Instrument]); of != nil {
		item.Tag, item.KindName = of.Tag, of.Named()
	}
	if r, ok := r.schools.Catalog.Routine(i.Routine); ok {
		item.Title, item.StaysHeld = r.Title, r.StaysHeld
	}
	switch {
	case i.FinishedAt != nil:
		item.State = "finished"
	case i.TakenOff != "":
		item.State = "taken off"
	}
	before := true // everything before it is done
	for _, step := range i.Steps {
		shown := r.showStep(step, people, products, now)
		switch {
		case step.DoneAt != nil:
			shown.State = "done"
		case !before || !i.Open():
			shown.State = "later"
		case step.BegunAt == nil:
			shown.State = "now"
		case now.Before(overAt(step)):
			shown.State = "waiting"
		default:
			shown.State = "over"
		}
		before = before && step.DoneAt != nil
		item.Steps = append(item.Steps, shown)
	}
	return item
}

func (r *Room) showStep(step benchrows.BenchStep, people, products map[uuid.UUID]string, now time.Time) BenchStep {
	shown := BenchStep{
		N: step.N, Name: step.Name, Do: step.Instruction, Reason: step.Reason, Caution: step.Caution, Gloves: step.Gloves,
		Gate: step.Gate, StationKey: step.Station,
		Lot: step.Lot, Contact: step.ContactMinutes, Active: step.ActiveMinutes, Wait: step.WaitMinutes,
		MostWait: step.MostWaitMinutes, PlannedAt: step.PlannedAt,
		Person: step.PlannedPerson, Place: step.PlannedStation, BegunAt: step.BegunAt, DoneAt: step.DoneAt, Override: step.Override,
	}
	if p, ok := r.schools.Catalog.Place(step.Station); ok {
		shown.Station = p.Name
	}
	if step.Product != nil {
		shown.Product = products[*step.Product]
	}
	if step.DoneBy != nil {
		shown.DoneBy = people[*step.DoneBy]
		if step.Override != "" {
			shown.OverrideBy = shown.DoneBy
		}
	}
	if step.BegunAt == nil || step.WaitMinutes == 0 {
		return shown
	}
	shown.OverAt = new(overAt(step))
	shown.KeptMinutes = keptMinutes(step, now)
	if step.MostWaitMinutes != nil {
		shown.LatestAt = new(step.BegunAt.Add(time.Duration(*step.MostWaitMinutes) * time.Minute))
		shown.TooLong = shown.KeptMinutes > float64(*step.MostWaitMinutes)
	}
	return shown
}

// keptMinutes is how long a step that was begun has waited, in tenths and never rounded up.
func keptMinutes(s benchrows.BenchStep, now time.Time) float64 {
	if s.DoneAt != nil {
		now = *s.DoneAt
	}
	return math.Max(0, math.Floor(now.Sub(*s.BegunAt).Minutes()*10)/10)
}
