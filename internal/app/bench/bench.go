package bench

import (
	"cmp"
	"context"
	"slices"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/products"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/store"
	"solfeggio/internal/store/benchrows"
	"solfeggio/internal/store/lendingrows"
)

// Bench is what waits for the bench, what goes on there, and what it has.
type Bench struct {
	Waiting  []ForBench    `json:"waiting" doc:"Held instruments first, then what is due and done at the bench, each once for a reason"`
	Runs     []OpenRun     `json:"runs" doc:"That go on, the latest first"`
	Resting  []Resting     `json:"resting" doc:"What is finished and dries"`
	People   int           `json:"people" doc:"As last time"`
	Stations []StationHere `json:"stations"`
	Products int           `json:"products" doc:"That can be used now"`
}

// ForBench is an instrument that waits for the bench.
type ForBench struct {
	InstrumentID uuid.UUID      `json:"instrument_id"`
	Tag          string         `json:"tag"`
	KindName     string         `json:"kind_name"`
	Room         string         `json:"room"`
	Slot         string         `json:"slot"`
	Held         bool           `json:"held" doc:"It goes into nobody's hands until it was on the bench"`
	Because      string         `json:"because"`
	Reason       catalog.Reason `json:"reason" enum:"turnover,illness,mould,smoke,deep clean,concert,laundry"`
	Title        string         `json:"title" doc:"What is done"`
	Minutes      int            `json:"minutes" doc:"That take a person"`
}

// OpenRun is work that goes on.
type OpenRun struct {
	ID          uuid.UUID `json:"id"`
	BeganAt     time.Time `json:"began_at"`
	Instruments int       `json:"instruments"`
	Open        int       `json:"open" doc:"That are not finished"`
}

// Resting is an instrument that is finished and dries.
type Resting struct {
	InstrumentID uuid.UUID `json:"instrument_id"`
	Tag          string    `json:"tag"`
	KindName     string    `json:"kind_name"`
	FreeAt       time.Time `json:"free_at"`
}

// StationHere is how many of a station there are.
type StationHere struct {
	Key   string `json:"key"`
	Name  string `json:"name"`
	Count int    `json:"count"`
}

// usualPeople are at a bench: the director and a helper.
const usualPeople = 2

// Overview shows what waits for the bench and what goes on there.
func (r *Room) Overview(ctx context.Context, by journal.Person) (Bench, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return Bench{}, err
	}
	out := Bench{Waiting: r.forBench(s), Runs: []OpenRun{}, Resting: []Resting{}, People: usualPeople, Stations: []StationHere{}}
	counts := benchrows.Stations{}
	err = r.schools.Read(ctx, by, func(tx *store.Tx) error {
		runs, err := benchrows.OpenBenchRuns(ctx, tx)
		if err != nil {
			return err
		}
		for _, r := range runs {
			items, err := benchrows.BenchItems(ctx, tx, r.ID)
			if err != nil {
				return err
			}
			open := OpenRun{ID: r.ID, BeganAt: r.BeganAt, Instruments: len(items)}
			for _, i := range items {
				if i.Open() {
					open.Open++
				}
			}
			out.Runs = append(out.Runs, open)
		}
		if last, err := benchrows.LatestBenchRun(ctx, tx); err != nil {
			return err
		} else if last != nil {
			out.People, counts = last.People, last.Stations
		}
		owned, err := r.products.Owned(ctx, tx)
		for _, p := range products.Usable(owned) {
			if p.InDate {
				out.Products++
			}
		}
		return err
	})
	if err != nil {
		return out, err
	}
	for _, i := range s.Instruments {
		if i.Hold != nil && i.Hold.EndedAt != nil {
			out.Resting = append(out.Resting, Resting{i.ID, i.Tag, i.Named(), *i.Hold.EndedAt})
		}
	}
	slices.SortStableFunc(out.Resting, func(x, y Resting) int { return x.FreeAt.Compare(y.FreeAt) })
	for _, p := range r.schools.Catalog.Stations() {
		here := StationHere{p.Key, p.Name, p.Usual}
		if count, ok := counts[p.Key]; ok {
			here.Count = count
		}
		out.Stations = append(out.Stations, here)
	}
	return out, nil
}

// forBench lists what waits, and why: what is held, what was found in a case, and what is due and done at the bench.
func (r *Room) forBench(s *school.Snapshot) []ForBench {
	list := []ForBench{}
	add := func(i *school.Instrument, reason catalog.Reason, because string) {
		routines := r.schools.Catalog.BenchRoutines(i.Kind, reason)
		if i.Bench != nil || waitsElsewhere(i) || len(routines) == 0 ||
			slices.ContainsFunc(list, func(f ForBench) bool { return f.InstrumentID == i.ID && f.Reason == reason }) {
			return
		}
		r := routines[0]
		list = append(list, ForBench{i.ID, i.Tag, i.Named(), i.Room, i.Slot, i.Hold != nil, because, reason, r.Title, int(r.Minutes)})
	}
	for _, i := range s.Instruments {
		for _, f := range i.Findings {
			if kind, ok := r.schools.Catalog.Finding(f.Code); ok && kind.Bench != "" {
				add(i, kind.Bench, kind.Name)
			}
		}
		if i.Hold != nil && i.Hold.EndedAt == nil && !slices.ContainsFunc(list, func(f ForBench) bool { return f.InstrumentID == i.ID }) {
			add(i, catalog.Turnover, i.Hold.Because)
		}
	}
	for _, t := range s.Work().Ready {
		if t.State != care.Due && t.State != care.Late {
			continue
		}
		i := s.ByID[t.InstrumentID]
		r, _ := r.schools.Catalog.Routine(t.Routine)
		if i.Hold == nil && len(r.Bench) > 0 {
			add(i, r.Bench[0], r.Title+" is "+string(t.State))
		}
	}
	slices.SortStableFunc(list, func(x, y ForBench) int {
		return cmp.Or(count(y.Held)-count(x.Held), slices.Index(catalog.Reasons, x.Reason)-slices.Index(catalog.Reasons, y.Reason))
	})
	return list
}

// waitsElsewhere reports whether the instrument is not here, or the bench has done what it can, as with mould, and it is held for what
// comes next.
func waitsElsewhere(i *school.Instrument) bool {
	return i.Away() || i.Hold != nil && i.Hold.Awaits == lendingrows.Shop
}

func count(yes bool) int {
	if yes {
		return 1
	}
	return 0
}
