package bench

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/store"
	"solfeggio/internal/store/benchrows"
	"solfeggio/internal/store/carerows"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/lendingrows"
	"solfeggio/internal/store/schoolrows"
	"solfeggio/internal/store/supplyrows"
)

// Tick says that a step is done, or that its active part is and its time runs.
type Tick struct {
	InstrumentID uuid.UUID `json:"instrument_id"`
	N            int       `json:"n"`
	Do           string    `json:"do" enum:"begin,done" doc:"begin: the surface is wet, the mouthpiece stands in the vessel; done: over"`
	Override     string    `json:"override,omitempty" maxLength:"300" doc:"Why it does not wait until its time is over; kept in the record under the name of who says so"`
}

// TickDetail is what the log keeps of a tick, so that it can be taken back.
type TickDetail struct {
	Run  uuid.UUID `json:"run"`
	N    int       `json:"n"`
	Step string    `json:"step"`
	Do   string    `json:"do"`
}

// Tick notes a step of one instrument. The server's clock keeps contact times: nothing is done before its time is over, unless a
// director or an assistant says why. Steps of an instrument are done in order, and each once, however many people tick.
func (r *Room) Tick(ctx context.Context, by journal.Person, id uuid.UUID, in Tick) (Ticked, error) {
	in.Override = strings.TrimSpace(in.Override)
	if in.Override != "" {
		if err := by.Need(journal.MayClearStops); err != nil {
			return Ticked{}, err
		}
	}
	return r.atBench(
		ctx,
		by,
		id,
		func(tx *store.Tx, s *school.Snapshot, run *benchrows.BenchRun, items []benchrows.BenchItem) ([]uuid.UUID, error) {
			n := slices.IndexFunc(items, func(i benchrows.BenchItem) bool { return i.Instrument == in.InstrumentID })
			if n < 0 || in.N < 0 || in.N >= len(items[n].Steps) {
				return nil, journal.Refuse("n", "there is no such step on this bench", in.N)
			}
			item := &items[n]
			if _, err := s.Instrument(item.Instrument); err != nil {
				return nil, &journal.Fault{Kind: journal.Conflict, Message: "It is not at the school any more. Take it off the bench."}
			}
			if !item.Open() {
				return nil, &journal.Fault{Kind: journal.Conflict, Message: "It is not on this bench any more."}
			}
			step := &item.Steps[in.N]
			if err := r.mayTick(ctx, tx, item, step, in); err != nil {
				return nil, err
			}
			now := r.schools.Now()
			if step.BegunAt == nil {
				step.BegunAt, step.BegunBy = &now, &by.ID
				r.timers.begin(keyOf(*step), r.Steady())
			}
			if in.Do == "done" || step.WaitMinutes == 0 {
				step.DoneAt, step.DoneBy = &now, &by.ID
				if r.tooEarly(*step) != "" {
					step.Override = in.Override
				}
			}
			if err := benchrows.SetBenchStep(ctx, tx, *step); err != nil {
				return nil, err
			}
			event, err := r.schools.Record(
				ctx,
				tx,
				by,
				eventrows.Event{What: eventrows.BenchTicked, Instrument: &item.Instrument},
				TickDetail{run.ID, step.N, step.Name, in.Do},
			)
			if err != nil {
				return nil, err
			}
			if in.N == len(item.Steps)-1 && step.DoneAt != nil {
				return nil, r.finishBench(ctx, tx, by, s, run, item)
			}
			return []uuid.UUID{event}, nil
		},
		in.Override != "",
	)
}

// mayTick says why a step must not be ticked now.
func (r *Room) mayTick(ctx context.Context, tx *store.Tx, item *benchrows.BenchItem, step *benchrows.BenchStep, in Tick) error {
	for _, before := range item.Steps[:in.N] {
		if before.DoneAt == nil {
			return &journal.Fault{Kind: journal.Conflict, Message: fmt.Sprintf("First comes: %s.", before.Name)}
		}
	}
	who := func(id *uuid.UUID) string {
		people, err := staffNames(ctx, tx)
		if err != nil || id == nil || people[*id] == "" {
			return "Somebody"
		}
		return people[*id]
	}
	school, err := schoolrows.GetSchool(ctx, tx)
	if err != nil {
		return err
	}
	zone := r.schools.Zone(school)
	switch {
	case step.DoneAt != nil:
		return &journal.Fault{
			Kind:    journal.Conflict,
			Message: fmt.Sprintf("%s ticked this at %s already.", who(step.DoneBy), step.DoneAt.In(zone).Format("15:04")),
		}
	case in.Do == "begin" && step.BegunAt != nil:
		return &journal.Fault{
			Kind:    journal.Conflict,
			Message: fmt.Sprintf("%s began this at %s; its time runs.", who(step.BegunBy), step.BegunAt.In(zone).Format("15:04")),
		}
	case in.Do == "done" && step.WaitMinutes > 0 && step.BegunAt == nil && in.Override == "":
		return &journal.Fault{
			Kind:    journal.Conflict,
			Message: fmt.Sprintf("Say first when it is wet or stands: then %d minutes run.", step.WaitMinutes),
		}
	case in.Do == "done" && step.BegunAt != nil && in.Override == "":
		if why := r.tooEarly(*step); why != "" {
			return &journal.Fault{Kind: journal.Conflict, Message: why}
		}
	}
	return nil
}

// BenchDetail is what the log keeps of an instrument that was finished at the bench.
type BenchDetail struct {
	Run      uuid.UUID             `json:"run"`
	Title    string                `json:"title"`
	Reason   catalog.Reason        `json:"reason"`
	Products []string              `json:"products" doc:"With their lots"`
	Override []string              `json:"overrides,omitempty"`
	FreeAt   *time.Time            `json:"free_at,omitempty"`
	Took     map[uuid.UUID]float64 `json:"took,omitempty" doc:"From stock, by lot"`
	Short    []string              `json:"short,omitempty" doc:"Of which there was less by the books"`
}

// finishBench lets an instrument go from the bench: its clocks begin again, what it took leaves the stock, and it is free when it has
// dried.
func (r *Room) finishBench(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	s *school.Snapshot,
	run *benchrows.BenchRun,
	item *benchrows.BenchItem,
) error {
	i, now := s.ByID[item.Instrument], r.schools.Now()
	routine, ok := r.schools.Catalog.Routine(item.Routine)
	if i == nil || !ok {
		return store.ErrNotFound
	}
	item.FinishedAt = &now
	if routine.StaysHeld == "" {
		item.FreeAt = new(now.Add(time.Duration(item.RestHours) * time.Hour))
	}
	if err := benchrows.SetBenchItem(ctx, tx, *item); err != nil {
		return err
	}
	if err := r.restartClocks(ctx, tx, by, s, i, routine); err != nil {
		return err
	}
	detail := BenchDetail{
		Run:      run.ID,
		Title:    routine.Title,
		Reason:   item.Reason,
		Products: []string{},
		FreeAt:   item.FreeAt,
		Took:     map[uuid.UUID]float64{},
	}
	if err := r.useUp(ctx, tx, s, i, routine, item, &detail); err != nil {
		return err
	}
	products, err := benchrows.Products(ctx, tx)
	if err != nil {
		return err
	}
	names := productNames(products)
	for _, step := range item.Steps {
		if step.Product != nil {
			if name := strings.TrimSuffix(names[*step.Product]+", lot "+step.Lot, ", lot "); !slices.Contains(detail.Products, name) {
				detail.Products = append(detail.Products, name)
			}
		}
		if step.Override != "" {
			detail.Override = append(detail.Override, step.Name+": "+step.Override)
		}
	}
	if err := r.afterBench(ctx, tx, by, i, routine, item, detail); err != nil {
		return err
	}
	_, err = r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.BenchDone, Instrument: &i.ID}, detail)
	return err
}

// restartClocks notes the care that was done: the routine itself where it keeps clocks, else those that it takes in.
func (r *Room) restartClocks(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	s *school.Snapshot,
	i *school.Instrument,
	routine *catalog.Routine,
) error {
	done := []*catalog.Routine{routine}
	if _, _, kept := routine.LimitsFor(i.Care.Choices); !kept && routine.Triggers == (catalog.Triggers{}) {
		done = nil
		for _, key := range routine.Implies {
			other, _ := r.schools.Catalog.Routine(key)
			done = append(done, other)
		}
	}
	for _, d := range done {
		for _, part := range d.Clocks() {
			key := clocks.Key{Routine: d.Key, Part: part}
			if !clocks.Has(r.schools.Catalog, i.Instrument.Kind, key) {
				continue
			}
			if started, err := carerows.ClockStartOf(ctx, tx, i.ID, key); err != nil {
				return err
			} else if started == s.Today {
				continue
			}
			if _, err := r.care.MarkDone(ctx, tx, by, i, key, s.Today); err != nil {
				return err
			}
		}
	}
	return nil
}

// useUp takes from stock what the work took, of a product from the lots that were poured if they hold enough.
func (r *Room) useUp(
	ctx context.Context,
	tx *store.Tx,
	s *school.Snapshot,
	i *school.Instrument,
	routine *catalog.Routine,
	item *benchrows.BenchItem,
	detail *BenchDetail,
) error {
	products, err := benchrows.Products(ctx, tx)
	if err != nil {
		return err
	}
	supplies := suppliesOf(products, item.Uses)
	units := r.demand.Takes(i, item.Reason, routine, supplies)
	of := make([]supplyrows.Stocked, 0, len(units))
	for key := range units {
		of = append(of, key)
	}
	slices.SortFunc(of, func(x, y supplyrows.Stocked) int {
		return cmp.Or(strings.Compare(x.Supply, y.Supply), strings.Compare(x.Size, y.Size))
	})
	for _, key := range of {
		lots, err := supply.GoingWith(ctx, tx, key)
		if err != nil {
			return err
		}
		poured := func(l supplyrows.Lot) bool {
			return supplies[key.Supply] &&
				slices.ContainsFunc(item.Steps, func(s benchrows.BenchStep) bool { return s.Product != nil && s.Lot == l.Lot })
		}
		slices.SortStableFunc(lots, func(x, y supplyrows.Lot) int { return count(poured(y)) - count(poured(x)) })
		took, short, err := supply.TakeFromStock(ctx, tx, lots, units[key], s.Today)
		if err != nil {
			return err
		}
		for lot, n := range took {
			detail.Took[lot] += n
		}
		if short > 1e-9 {
			supply, _ := r.schools.Catalog.Supply(key.Supply)
			detail.Short = append(detail.Short, supply.Name)
		}
	}
	return nil
}

// afterBench ends what the instrument was held for when it has dried, or says what it is held for now. Washing its cloths or getting
// it ready for a concert ends no hold.
func (r *Room) afterBench(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	i *school.Instrument,
	routine *catalog.Routine,
	item *benchrows.BenchItem,
	detail BenchDetail,
) error {
	holds, err := lendingrows.OpenHolds(ctx, tx, r.schools.Now(), i.ID)
	if err != nil {
		return err
	}
	how := strings.Join(append([]string{routine.Title}, detail.Products...), "; ")
	for _, h := range holds {
		switch {
		case h.EndedAt != nil, !item.Reason.MakesFit():
		case routine.StaysHeld != "":
			err = lendingrows.KeepHolding(ctx, tx, h.ID, lendingrows.Shop, routine.StaysHeld)
		default:
			err = lendingrows.EndHold(ctx, tx, h.ID, *item.FreeAt, &by.ID, how)
		}
		if err != nil {
			return err
		}
	}
	held := slices.ContainsFunc(holds, func(h lendingrows.Hold) bool { return h.EndedAt == nil })
	if held || routine.StaysHeld == "" && item.RestHours == 0 {
		return nil
	}
	hold := lendingrows.Hold{
		ID:         uuid.Must(uuid.NewV7()),
		Instrument: i.ID,
		Because:    cmp.Or(routine.StaysHeld, "rests after the bench"),
		BeganAt:    r.schools.Now(),
		BeganBy:    &by.ID,
	}
	if routine.StaysHeld != "" {
		hold.Awaits = lendingrows.Shop
	}
	if _, err := lendingrows.InsertHold(ctx, tx, hold); err != nil || routine.StaysHeld != "" {
		return err
	}
	return lendingrows.EndHold(ctx, tx, hold.ID, *item.FreeAt, &by.ID, how)
}

// undoTick takes a tick back while nothing was built on it.
func undoTick(ctx context.Context, tx *store.Tx, instrument uuid.UUID, d TickDetail) error {
	run, err := benchrows.BenchRunByID(ctx, tx, d.Run, true)
	if err != nil {
		return err
	}
	items, err := benchrows.BenchItems(ctx, tx, d.Run)
	if err != nil {
		return err
	}
	n := slices.IndexFunc(items, func(i benchrows.BenchItem) bool { return i.Instrument == instrument })
	if n < 0 || run.EndedAt != nil || !items[n].Open() {
		return &journal.Fault{Kind: journal.Conflict, Message: "It has left the bench since. Put it on again if something was forgotten."}
	}
	steps := items[n].Steps
	step := &steps[d.N]
	if d.N+1 < len(steps) && steps[d.N+1].BegunAt != nil || d.Do == "begin" && step.WaitMinutes > 0 && step.DoneAt != nil {
		return &journal.Fault{Kind: journal.Conflict, Message: "The next step was begun since; take that back first."}
	}
	if step.DoneAt, step.DoneBy, step.Override = nil, nil, ""; d.Do == "begin" || step.WaitMinutes == 0 {
		step.BegunAt, step.BegunBy = nil, nil
		step.Lot = poured(items, *step)
	}
	return benchrows.SetBenchStep(ctx, tx, *step)
}
