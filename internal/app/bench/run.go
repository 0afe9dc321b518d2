package bench

import (
	"context"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/products"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/hygiene"
	"solfeggio/internal/core/schedule"
	"solfeggio/internal/store"
	"solfeggio/internal/store/benchrows"
	"solfeggio/internal/store/eventrows"
)

// Begun names the work that was begun.
type Begun struct {
	ID uuid.UUID `json:"id" doc:"Of the run"`
}

// Begin begins the work as it would go now. Instruments that cannot be done are named and stay where they are.
func (r *Room) Begin(ctx context.Context, by journal.Person, in Benching) (Begun, error) {
	var plan BenchPlan
	prepare := func() error {
		s, err := r.schools.Snapshot(ctx, by)
		if err != nil {
			return err
		}
		return r.schools.Read(ctx, by, func(tx *store.Tx) error {
			plan, err = r.planBench(ctx, tx, s, in)
			return err
		})
	}
	return school.WritePrepared(ctx, r.schools, by, journal.MayFinishCare, prepare, func(tx *store.Tx, s *school.Snapshot) (Begun, error) {
		owned, err := r.products.Owned(ctx, tx)
		if err != nil {
			return Begun{}, err
		}
		items, jobs, err := r.benchJobs(s, in, owned)
		switch {
		case err != nil:
			return Begun{}, err
		case len(jobs) == 0:
			return Begun{}, &journal.Fault{
				Kind:    journal.Conflict,
				Message: "Nothing of it can be begun: " + items[0].Tag + ". " + items[0].Cannot,
			}
		case !slices.EqualFunc(jobs, plan.jobs, sameJob):
			return Begun{}, journal.ErrOvertaken
		}
		stations, err := r.stationsOf(in.Stations)
		if err != nil {
			return Begun{}, err
		}
		run := benchrows.BenchRun{ID: uuid.Must(uuid.NewV7()), BeganAt: r.schools.Now(), BeganBy: &by.ID, People: in.People, Stations: stations}
		if in.Minutes != nil {
			run.FinishBy = new(run.BeganAt.Add(time.Duration(*in.Minutes) * time.Minute))
		}
		var kept []benchrows.BenchItem
		for n, j := range jobs {
			item := benchrows.BenchItem{
				Run:        run.ID,
				Instrument: j.i.ID,
				Position:   n,
				Reason:     j.reason,
				Routine:    j.procedure.Routine.Key,
				RestHours:  j.procedure.RestHours,
			}
			for k, step := range j.procedure.Steps {
				item.Steps = append(item.Steps, keptStep(step, k, owned))
			}
			kept = append(kept, item)
		}
		place(kept, plan.out, s, run.BeganAt)
		return Begun{run.ID}, benchrows.InsertBenchRun(ctx, tx, run, kept)
	})
}

// sameJob reports whether the same is done to the same instrument.
func sameJob(x, y benchJob) bool {
	return x.i.ID == y.i.ID && x.reason == y.reason && reflect.DeepEqual(x.procedure, y.procedure)
}

// keptStep is a step as a run keeps it, so that what was done can be read years later.
func keptStep(s hygiene.Step, n int, owned []products.OwnedProduct) benchrows.BenchStep {
	kept := benchrows.BenchStep{
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
func place(items []benchrows.BenchItem, out schedule.Out, s *school.Snapshot, now time.Time) {
	for _, t := range out.Tasks {
		for n := range items {
			if i := s.ByID[items[n].Instrument]; i == nil || i.Tag != t.ID {
				continue
			}
			for k := range items[n].Steps {
				if step := &items[n].Steps[k]; step.Name == t.Step && step.BegunAt == nil {
					step.PlannedAt, step.PlannedPerson, step.PlannedStation = new(
						now.Add(time.Duration(t.Start)*time.Minute),
					), t.Person, t.StationIndex
				}
			}
		}
	}
}

// Ticked is what was done at the bench.
type Ticked struct {
	Events []uuid.UUID `json:"events" doc:"What to undo"`
}

// Reworking changes who and what is at a bench, and plans what is left afresh.
type Reworking struct {
	People   int            `json:"people" minimum:"1" maximum:"50"`
	Stations map[string]int `json:"stations" doc:"How many there are now; those left out stay as they are"`
	Minutes  *int           `json:"minutes,omitempty" minimum:"1" maximum:"10000" doc:"Until the bell; left out for none"`
}

// Replan plans what is left from where it stands: with more or fewer people, or after an interruption.
func (r *Room) Replan(ctx context.Context, by journal.Person, id uuid.UUID, in Reworking) (Ticked, error) {
	return r.reschedule(ctx, by, id, func(run *benchrows.BenchRun) error {
		given, err := r.stationsOf(in.Stations)
		if err != nil {
			return err
		}
		for key, count := range given {
			if _, named := in.Stations[key]; named || run.Stations[key] == 0 {
				run.Stations[key] = count
			}
		}
		run.People, run.FinishBy = in.People, nil
		if in.Minutes != nil {
			run.FinishBy = new(r.schools.Now().Add(time.Duration(*in.Minutes) * time.Minute))
		}
		return nil
	})
}

// TakingOff says why an instrument leaves the bench unfinished.
type TakingOff struct {
	InstrumentID uuid.UUID `json:"instrument_id"`
	Because      string    `json:"because" maxLength:"200"`
}

// TakeOff takes an instrument off the bench before it is finished. It stays held if it was.
func (r *Room) TakeOff(ctx context.Context, by journal.Person, id uuid.UUID, in TakingOff) (Ticked, error) {
	if in.Because = strings.TrimSpace(in.Because); in.Because == "" {
		return Ticked{}, journal.Refuse("because", "say why it is taken off", in.Because)
	}
	return r.atBench(
		ctx,
		by,
		id,
		func(tx *store.Tx, s *school.Snapshot, run *benchrows.BenchRun, items []benchrows.BenchItem) ([]uuid.UUID, error) {
			for _, i := range items {
				if i.Instrument == in.InstrumentID && i.Open() {
					return nil, r.takeOff(ctx, tx, by, run, i, in.Because)
				}
			}
			return nil, &journal.Fault{Kind: journal.Conflict, Message: "It is not on this bench any more."}
		},
		true,
	)
}

// End ends the work. What is not finished is taken off, and stays held if it was.
func (r *Room) End(ctx context.Context, by journal.Person, id uuid.UUID) (Ticked, error) {
	return r.atBench(
		ctx,
		by,
		id,
		func(tx *store.Tx, s *school.Snapshot, run *benchrows.BenchRun, items []benchrows.BenchItem) ([]uuid.UUID, error) {
			for _, i := range items {
				if i.Open() {
					if err := r.takeOff(ctx, tx, by, run, i, "the work was ended before it was done"); err != nil {
						return nil, err
					}
				}
			}
			run.EndedAt = new(r.schools.Now())
			return nil, benchrows.SetBenchRun(ctx, tx, *run)
		},
		false,
	)
}

// LeftDetail is what the log keeps of an instrument that left the bench unfinished.
type LeftDetail struct {
	Run     uuid.UUID `json:"run"`
	Title   string    `json:"title"`
	Because string    `json:"because"`
}

func (r *Room) takeOff(ctx context.Context, tx *store.Tx, by journal.Person, run *benchrows.BenchRun, i benchrows.BenchItem, because string) error {
	i.TakenOff = because
	if err := benchrows.SetBenchItem(ctx, tx, i); err != nil {
		return err
	}
	routine, _ := r.schools.Catalog.Routine(i.Routine)
	_, err := r.schools.Record(
		ctx,
		tx,
		by,
		eventrows.Event{What: eventrows.BenchLeft, Instrument: &i.Instrument},
		LeftDetail{run.ID, routine.Title, because},
	)
	return err
}

// atBench changes an open run, one person after the other, and ends it when nothing is left. If asked, what is left is planned
// afresh; should that not succeed, the work goes on by the plan that there is.
func (r *Room) atBench(
	ctx context.Context,
	by journal.Person,
	id uuid.UUID,
	f func(tx *store.Tx, s *school.Snapshot, run *benchrows.BenchRun, items []benchrows.BenchItem) ([]uuid.UUID, error),
	afresh bool,
) (Ticked, error) {
	out, err := school.Write(ctx, r.schools, by, journal.MayFinishCare, func(tx *store.Tx, s *school.Snapshot) (Ticked, error) {
		run, items, err := openRun(ctx, tx, id)
		if err != nil {
			return Ticked{}, err
		}
		events, err := f(tx, s, &run, items)
		out := Ticked{append([]uuid.UUID{}, events...)}
		if err != nil || run.EndedAt != nil {
			return out, err
		}
		if items, err = benchrows.BenchItems(ctx, tx, id); err != nil || slices.ContainsFunc(items, benchrows.BenchItem.Open) {
			return out, err
		}
		run.EndedAt = new(r.schools.Now())
		return out, benchrows.SetBenchRun(ctx, tx, run)
	})
	if err == nil && afresh {
		if _, err := r.reschedule(journal.Unrepeated(ctx), by, id, nil); err != nil {
			r.schools.Log.Warn("planning a bench afresh", "run", id, "error", err)
		}
	}
	return out, err
}

// openRun reads a run that goes on, for one person after the other.
func openRun(ctx context.Context, tx *store.Tx, id uuid.UUID) (benchrows.BenchRun, []benchrows.BenchItem, error) {
	run, err := benchrows.BenchRunByID(ctx, tx, id, true)
	if err != nil {
		return run, nil, err
	}
	if run.EndedAt != nil {
		return run, nil, &journal.Fault{Kind: journal.Conflict, Message: "This work was ended."}
	}
	items, err := benchrows.BenchItems(ctx, tx, id)
	return run, items, err
}

// reschedule changes who and what is at a bench, where change is not nil, and plans the steps that are left from where the work
// stands: what is soaking or wet goes on at its time. Planning takes a while and holds nobody up; what is ticked meanwhile makes it
// begin anew.
func (r *Room) reschedule(ctx context.Context, by journal.Person, id uuid.UUID, change func(*benchrows.BenchRun) error) (Ticked, error) {
	var out schedule.Out
	var seen string
	var now time.Time
	stands := func(tx *store.Tx, lock bool) (benchrows.BenchRun, []benchrows.BenchItem, error) {
		run, err := benchrows.BenchRunByID(ctx, tx, id, lock)
		if err == nil && change != nil {
			err = change(&run)
		}
		if err != nil {
			return run, nil, err
		}
		items, err := benchrows.BenchItems(ctx, tx, id)
		return run, items, err
	}
	prepare := func() error {
		s, err := r.schools.Snapshot(ctx, by)
		if err != nil {
			return err
		}
		var run benchrows.BenchRun
		var items []benchrows.BenchItem
		if err := r.schools.Read(ctx, by, func(tx *store.Tx) (err error) {
			run, items, err = stands(tx, false)
			return err
		}); err != nil {
			return err
		}
		now, seen = r.schools.Now(), progress(items)
		out, err = r.scheduleRest(ctx, s, run, items, now)
		return err
	}
	return school.WritePrepared(ctx, r.schools, by, journal.MayFinishCare, prepare, func(tx *store.Tx, s *school.Snapshot) (Ticked, error) {
		run, items, err := stands(tx, true)
		switch {
		case err != nil:
			return Ticked{}, err
		case run.EndedAt != nil && change == nil:
			return Ticked{}, nil
		case run.EndedAt != nil:
			return Ticked{}, &journal.Fault{Kind: journal.Conflict, Message: "This work was ended."}
		case progress(items) != seen:
			return Ticked{}, journal.ErrOvertaken
		}
		place(items, out, s, now)
		for _, i := range items {
			for _, step := range i.Steps {
				if i.Open() && step.DoneAt == nil {
					if err := benchrows.SetBenchStep(ctx, tx, step); err != nil {
						return Ticked{}, err
					}
				}
			}
		}
		return Ticked{[]uuid.UUID{}}, benchrows.SetBenchRun(ctx, tx, run)
	})
}

// progress is how far the work is, to be compared.
func progress(items []benchrows.BenchItem) string {
	var b strings.Builder
	for _, i := range items {
		fmt.Fprint(&b, i.Instrument, i.Open())
		for _, s := range i.Steps {
			fmt.Fprint(&b, s.BegunAt != nil, s.DoneAt != nil)
		}
	}
	return b.String()
}

// scheduleRest puts the steps that are left into their time.
func (r *Room) scheduleRest(
	ctx context.Context,
	s *school.Snapshot,
	run benchrows.BenchRun,
	items []benchrows.BenchItem,
	now time.Time,
) (schedule.Out, error) {
	in := schedule.In{People: run.People, Stations: run.Stations}
	if run.FinishBy != nil {
		in.DeadlineMinutes = new(max(0, int(run.FinishBy.Sub(now).Minutes())))
	}
	for _, i := range items {
		if of := s.ByID[i.Instrument]; i.Open() && of != nil {
			in.Instruments = append(in.Instruments, left(i, of.Tag, now))
		}
	}
	out, err := schedule.Plan(ctx, in)
	if errors.Is(err, schedule.ErrOverdue) { // something waits too long already; the card says so
		for n := range in.Instruments {
			in.Instruments[n].NotAfterMinutes = nil
		}
		out, err = schedule.Plan(ctx, in)
	}
	if err != nil {
		return out, r.stationFault(err)
	}
	return out, nil
}

// left is the work that is left on an instrument. A step that waits comes first, takes nobody, and goes on now.
func left(i benchrows.BenchItem, tag string, now time.Time) schedule.Job {
	job := schedule.Job{ID: tag}
	for _, s := range i.Steps {
		if s.DoneAt != nil {
			continue
		}
		step := schedule.Step{
			Name:                    s.Name,
			ActiveMinutes:           s.ActiveMinutes,
			WaitMinutes:             s.WaitMinutes,
			MaxWaitMinutes:          s.MostWaitMinutes,
			Station:                 s.Station,
			StationHeldWhileWaiting: s.Held,
		}
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
