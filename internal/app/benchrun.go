package app

import (
	"context"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/core/hygiene"
	"solfeggio/internal/store"
)

// BeginBench begins the work as it would go now. Instruments that cannot be done are named and stay where they are.
func (a *App) BeginBench(ctx context.Context, by Person, in Benching) (BenchRun, error) {
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return BenchRun{}, err
	}
	var plan BenchPlan
	if err := a.read(ctx, by, func(tx *store.Tx) error { // before anything is locked, since it takes a while
		plan, err = a.planBench(ctx, tx, s, in)
		return err
	}); err != nil {
		return BenchRun{}, err
	}
	id, err := write(ctx, a, by, MayFinishCare, "begin-bench", in, func(tx *store.Tx) (uuid.UUID, error) {
		if len(plan.jobs) == 0 {
			return uuid.Nil, &Fault{Kind: Conflict, Message: "Nothing of it can be begun: " + plan.Items[0].Tag + ". " + plan.Items[0].Cannot}
		}
		stations, err := a.stationsOf(in.Stations)
		if err != nil {
			return uuid.Nil, err
		}
		owned, err := a.owned(ctx, tx)
		if err != nil {
			return uuid.Nil, err
		}
		run := store.BenchRun{ID: uuid.Must(uuid.NewV7()), BeganAt: a.now(), BeganBy: &by.ID, People: in.People, Stations: stations}
		if in.Minutes != nil {
			run.FinishBy = new(run.BeganAt.Add(time.Duration(*in.Minutes) * time.Minute))
		}
		var items []store.BenchItem
		for n, j := range plan.jobs {
			item := store.BenchItem{Run: run.ID, Instrument: j.i.ID, Position: n, Reason: j.reason, Routine: j.procedure.Routine.Key, RestHours: j.procedure.RestHours}
			for k, step := range j.procedure.Steps {
				item.Steps = append(item.Steps, keptStep(step, k, owned))
			}
			items = append(items, item)
		}
		place(items, plan.out, s, run.BeganAt)
		return run.ID, tx.InsertBenchRun(ctx, run, items)
	})
	if err != nil {
		return BenchRun{}, err
	}
	return a.BenchRun(ctx, by, id)
}

// keptStep is a step as a run keeps it, so that what was done can be read years later.
func keptStep(s hygiene.Step, n int, owned []OwnedProduct) store.BenchStep {
	kept := store.BenchStep{
		N: n, Name: s.Name, Instruction: s.Do, Reason: s.Reason, Caution: s.Caution, Gloves: s.Gloves, Gate: s.Gate, Station: s.Station,
		ActiveMinutes: s.Active, WaitMinutes: s.Wait, MostWaitMinutes: s.MostWait, Held: s.Held, Surface: s.Surface,
	}
	if s.Product == nil {
		return kept
	}
	for _, p := range owned {
		if p.ID.String() == s.Product.ID {
			kept.Product, kept.Lot, kept.ContactMinutes = &p.ID, p.Lot, p.ContactMinutes
		}
	}
	return kept
}

// place writes a schedule onto the steps that it plans.
func place(items []store.BenchItem, out hygiene.BenchOut, s *snapshot, now time.Time) {
	for _, t := range out.Tasks {
		for n := range items {
			if i := s.byID[items[n].Instrument]; i == nil || i.Tag != t.ID {
				continue
			}
			for k := range items[n].Steps {
				if step := &items[n].Steps[k]; step.Name == t.Step && step.BegunAt == nil {
					step.PlannedAt, step.PlannedPerson, step.PlannedStation = new(now.Add(time.Duration(t.Start)*time.Minute)), t.Person, t.StationIndex
				}
			}
		}
	}
}

// Ticked is how the work stands after something was done, and what to undo.
type Ticked struct {
	Run    BenchRun    `json:"run"`
	Events []uuid.UUID `json:"events"`
}

// Reworking changes who and what is at a bench, and plans what is left afresh.
type Reworking struct {
	People   int            `json:"people" minimum:"1" maximum:"50"`
	Stations map[string]int `json:"stations" doc:"How many there are now; those left out stay as they are"`
	Minutes  *int           `json:"minutes,omitempty" minimum:"1" maximum:"10000" doc:"Until the bell; left out for none"`
}

// ReplanBench plans what is left from where it stands: with more or fewer people, or after an interruption.
func (a *App) ReplanBench(ctx context.Context, by Person, id uuid.UUID, in Reworking) (Ticked, error) {
	return a.atBench(ctx, by, "replan-bench", id, in, func(tx *store.Tx, s *snapshot, run *store.BenchRun, _ []store.BenchItem) ([]uuid.UUID, error) {
		given, err := a.stationsOf(in.Stations)
		if err != nil {
			return nil, err
		}
		for key, count := range given {
			if _, named := in.Stations[key]; named || run.Stations[key] == 0 {
				run.Stations[key] = count
			}
		}
		run.People, run.FinishBy = in.People, nil
		if in.Minutes != nil {
			run.FinishBy = new(a.now().Add(time.Duration(*in.Minutes) * time.Minute))
		}
		return nil, tx.SetBenchRun(ctx, *run)
	}, true)
}

// TakingOff says why an instrument leaves the bench unfinished.
type TakingOff struct {
	InstrumentID uuid.UUID `json:"instrument_id"`
	Because      string    `json:"because" maxLength:"200"`
}

// TakeOffBench takes an instrument off the bench before it is finished. It stays held if it was.
func (a *App) TakeOffBench(ctx context.Context, by Person, id uuid.UUID, in TakingOff) (Ticked, error) {
	if in.Because = strings.TrimSpace(in.Because); in.Because == "" {
		return Ticked{}, invalid("because", "say why it is taken off", in.Because)
	}
	return a.atBench(ctx, by, "take-off-bench", id, in, func(tx *store.Tx, s *snapshot, run *store.BenchRun, items []store.BenchItem) ([]uuid.UUID, error) {
		for _, i := range items {
			if i.Instrument == in.InstrumentID && i.Open() {
				return nil, a.takeOff(ctx, tx, by, run, i, in.Because)
			}
		}
		return nil, &Fault{Kind: Conflict, Message: "It is not on this bench any more."}
	}, true)
}

// EndBench ends the work. What is not finished is taken off, and stays held if it was.
func (a *App) EndBench(ctx context.Context, by Person, id uuid.UUID) (Ticked, error) {
	return a.atBench(ctx, by, "end-bench", id, nil, func(tx *store.Tx, s *snapshot, run *store.BenchRun, items []store.BenchItem) ([]uuid.UUID, error) {
		for _, i := range items {
			if i.Open() {
				if err := a.takeOff(ctx, tx, by, run, i, "the work was ended before it was done"); err != nil {
					return nil, err
				}
			}
		}
		run.EndedAt = new(a.now())
		return nil, tx.SetBenchRun(ctx, *run)
	}, false)
}

// LeftDetail is what the log keeps of an instrument that left the bench unfinished.
type LeftDetail struct {
	Run     uuid.UUID `json:"run"`
	Title   string    `json:"title"`
	Because string    `json:"because"`
}

func (a *App) takeOff(ctx context.Context, tx *store.Tx, by Person, run *store.BenchRun, i store.BenchItem, because string) error {
	i.TakenOff = because
	if err := tx.SetBenchItem(ctx, i); err != nil {
		return err
	}
	r, _ := a.catalog.Routine(i.Routine)
	_, err := a.record(ctx, tx, by, store.Event{What: store.BenchLeft, Instrument: &i.Instrument}, LeftDetail{run.ID, r.Title, because})
	return err
}

// atBench changes an open run, one person after the other, plans what is left afresh if asked, and ends the run when nothing is
// left.
func (a *App) atBench(ctx context.Context, by Person, operation string, id uuid.UUID, in any, f func(tx *store.Tx, s *snapshot, run *store.BenchRun, items []store.BenchItem) ([]uuid.UUID, error), afresh bool) (Ticked, error) {
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return Ticked{}, err
	}
	events, err := write(ctx, a, by, MayFinishCare, operation, map[string]any{"id": id, "in": in}, func(tx *store.Tx) ([]uuid.UUID, error) {
		run, err := tx.BenchRun(ctx, id, true)
		if err != nil {
			return nil, err
		}
		if run.EndedAt != nil {
			return nil, &Fault{Kind: Conflict, Message: "This work was ended."}
		}
		items, err := tx.BenchItems(ctx, id)
		if err != nil {
			return nil, err
		}
		events, err := f(tx, s, &run, items)
		if err != nil {
			return nil, err
		}
		if items, err = tx.BenchItems(ctx, id); err != nil || run.EndedAt != nil {
			return events, err
		}
		if !slices.ContainsFunc(items, store.BenchItem.Open) {
			run.EndedAt = new(a.now())
			return events, tx.SetBenchRun(ctx, run)
		}
		if afresh {
			err = a.replan(ctx, tx, s, run, items)
		}
		return events, err
	})
	if err != nil {
		return Ticked{}, err
	}
	out := Ticked{Events: append([]uuid.UUID{}, events...)}
	out.Run, err = a.BenchRun(ctx, by, id)
	return out, err
}

// replan plans the steps that are left from where the work stands: what is soaking or wet goes on at its time.
func (a *App) replan(ctx context.Context, tx *store.Tx, s *snapshot, run store.BenchRun, items []store.BenchItem) error {
	now := a.now()
	in := hygiene.BenchIn{People: run.People, Stations: run.Stations}
	if run.FinishBy != nil {
		in.DeadlineMinutes = new(max(0, int(run.FinishBy.Sub(now).Minutes())))
	}
	for _, i := range items {
		if of := s.byID[i.Instrument]; i.Open() && of != nil {
			in.Instruments = append(in.Instruments, left(i, of.Tag, now))
		}
	}
	out, err := hygiene.Bench(in)
	if err != nil && strings.Contains(err.Error(), "not_after_minutes") { // something waits too long already; the card says so
		for n := range in.Instruments {
			in.Instruments[n].NotAfterMinutes = nil
		}
		out, err = hygiene.Bench(in)
	}
	if err != nil {
		return a.stationFault(err)
	}
	place(items, out, s, now)
	for _, i := range items {
		for _, step := range i.Steps {
			if i.Open() && step.DoneAt == nil {
				if err := tx.SetBenchStep(ctx, step); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

// left is the work that is left on an instrument. A step that waits comes first, takes nobody, and goes on now.
func left(i store.BenchItem, tag string, now time.Time) hygiene.BenchJob {
	job := hygiene.BenchJob{ID: tag}
	for _, s := range i.Steps {
		if s.DoneAt != nil {
			continue
		}
		step := hygiene.BenchStep{Name: s.Name, ActiveMinutes: s.ActiveMinutes, WaitMinutes: s.WaitMinutes, MaxWaitMinutes: s.MostWaitMinutes, Station: s.Station, StationHeldWhileWaiting: s.Held}
		if s.BegunAt != nil {
			gone := max(0, int(now.Sub(*s.BegunAt).Minutes()))
			step.ActiveMinutes, step.WaitMinutes = 0, max(0, s.WaitMinutes-gone)
			if s.MostWaitMinutes != nil {
				step.MaxWaitMinutes = new(max(step.WaitMinutes, *s.MostWaitMinutes-gone))
			}
			if !s.Held {
				step.Station = ""
			}
			job.NotAfterMinutes = new(0)
		}
		job.Steps = append(job.Steps, step)
	}
	return job
}
