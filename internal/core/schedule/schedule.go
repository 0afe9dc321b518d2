// Package schedule decides who does which step when, so that all is over soonest: a job shop with several people and stations of each
// sort, steps that wait between a least and a most time, and no preemption.
//
// Blocks of steps are put into their time one after another (the serial schedule generation scheme of project scheduling), the result
// is right-justified and put early again, and orders are searched until the lower bound is reached or the tries are used up.
package schedule

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"

	"solfeggio/internal/core/field"
)

// In is the input of the calculator hygiene.bench. All times are whole minutes from the start of the work.
type In struct {
	People          int            `json:"people" doc:"1 or more, each able to do any step"`
	Stations        map[string]int `json:"stations" doc:"How many there are of each: sinks, tables, soak vessels, drying places"`
	DeadlineMinutes *int           `json:"deadline_minutes,omitempty" doc:"Finish as many as can be by then, before anything else"`
	Instruments     []Job          `json:"instruments"`
}

// A Job is the work on one instrument, its steps in order.
type Job struct {
	ID               string `json:"id" doc:"Unique"`
	Steps            []Step `json:"steps"`
	NotBeforeMinutes *int   `json:"not_before_minutes,omitempty" doc:"Earliest start of its first step"`
	NotAfterMinutes  *int   `json:"not_after_minutes,omitempty" doc:"Latest start of its first step, where a soak or a contact time is running"`
}

// A Step takes a person for its active minutes and nobody while it waits. The next step begins when both are over and, where
// there is a most, not later than active and most.
type Step struct {
	Name                    string `json:"name" doc:"Unique within the instrument"`
	ActiveMinutes           int    `json:"active_minutes"`
	WaitMinutes             int    `json:"wait_minutes"`
	MaxWaitMinutes          *int   `json:"max_wait_minutes,omitempty" doc:"No less than wait_minutes"`
	Station                 string `json:"station,omitempty"`
	StationHeldWhileWaiting bool   `json:"station_held_while_waiting" doc:"It is taken until the waiting ends, not only while somebody works there"`
}

// Out is its result.
type Out struct {
	MakespanMinutes    int       `json:"makespan_minutes" doc:"Until the last waiting is over"`
	LowerBoundMinutes  int       `json:"lower_bound_minutes" doc:"No order of work can be shorter"`
	BoundBy            string    `json:"bound_by" doc:"What the bound comes from: instrument, people or the name of a station; empty without work"`
	Tasks              []Task    `json:"tasks" doc:"By start"`
	FinishedByDeadline *[]string `json:"finished_by_deadline,omitempty"`
	Busy               []Busy    `json:"busy" doc:"How much of the time people and stations are taken, the fullest first; where several are nearly full the bound cannot be reached"`
	Cut                bool      `json:"cut" doc:"The search was ended before it had done all its steps; it is the best plan so far"`
}

// Busy is how full the people or the stations of one sort are.
type Busy struct {
	What string  `json:"what" doc:"people or the name of a station"`
	Pct  float64 `json:"pct" doc:"Of all their time until everything is over"`
}

// A Task is a step in its place.
type Task struct {
	ID           string `json:"id"`
	Step         string `json:"step"`
	Start        int    `json:"start"`
	Person       *int   `json:"person" doc:"Null where nobody is needed"`
	StationIndex *int   `json:"station_index" doc:"Null without a station"`
}

// ErrOverdue says that something that waits cannot go on in its time, with the people and stations there are.
var ErrOverdue = errors.New("it cannot go on by then with these people and stations")

// NoStation is the error that a step needs a station of which there is none.
type NoStation string

func (n NoStation) Error() string { return fmt.Sprintf("there is no %q", string(n)) }

// Bounds of what is planned at once.
const (
	mostPeople   = 1000
	mostStations = 10_000 // of one sort
	mostJobs     = 300
	mostSteps    = 3000
	mostMinutes  = 200_000 // of all steps together, some months
)

// Plan is the calculator hygiene.bench: who does which step when, so that all is over soonest or, with a deadline, as many
// instruments as can be are finished by then. The same input gives the same plan.
//
// When ctx ends, the best plan so far is given, which says so (Cut).
func Plan(ctx context.Context, in In) (Out, error) { return plan(ctx, in, usual) }

// plan tries so many orders besides the sensible ones; usual stands for what is usual.
func plan(ctx context.Context, in In, orders int) (Out, error) {
	if err := in.check(); err != nil {
		return Out{}, err
	}
	m := newModel(in)
	out := Out{}
	out.LowerBoundMinutes, out.BoundBy = m.lowerBound()
	best, err := m.search(ctx, out.LowerBoundMinutes, orders)
	if err != nil {
		return Out{}, err
	}
	out.MakespanMinutes, out.Cut = best.makespan, ctx.Err() != nil
	out.Tasks, out.Busy = m.seat(best), m.busy(best.makespan)
	if in.DeadlineMinutes != nil {
		finished := []string{}
		for j := range m.jobs {
			if best.ends[j] <= *in.DeadlineMinutes {
				finished = append(finished, in.Instruments[j].ID)
			}
		}
		out.FinishedByDeadline = &finished
	}
	return out, nil
}

func (in In) check() error {
	if in.People < 1 || in.People > mostPeople {
		return field.Errorf("people", "%d cannot be; use 1 to %d", in.People, mostPeople)
	}
	for name, count := range in.Stations {
		if count < 0 || count > mostStations {
			return field.Errorf("stations."+name, "%d cannot be; use 0 or more", count)
		}
	}
	if in.DeadlineMinutes != nil && *in.DeadlineMinutes < 0 {
		return field.Errorf("deadline_minutes", "%d cannot be; use 0 or more", *in.DeadlineMinutes)
	}
	if len(in.Instruments) > mostJobs {
		return field.Errorf("instruments", "%d are too many at once", len(in.Instruments))
	}
	total, steps, seen := 0, 0, map[string]bool{}
	for n, job := range in.Instruments {
		at := fmt.Sprintf("instruments[%d]", n)
		if job.ID == "" || seen[job.ID] {
			return field.Errorf(at+".id", "%q is empty or stands there twice", job.ID)
		}
		seen[job.ID] = true
		minutes, err := job.check(at, in.Stations)
		if err != nil {
			return err
		}
		total, steps = total+minutes, steps+len(job.Steps)
		if total > mostMinutes || steps > mostSteps {
			return field.Errorf(at, "with it there are more than %d minutes or %d steps to plan", mostMinutes, mostSteps)
		}
	}
	return nil
}

// check reports what is wrong with the work on one instrument, and how many minutes it can take.
func (j Job) check(at string, stations map[string]int) (total int, err error) {
	if len(j.Steps) == 0 {
		return 0, field.Errorf(at+".steps", "are none")
	}
	before, after := orZero(j.NotBeforeMinutes), j.NotAfterMinutes
	switch {
	case before < 0 || before > mostMinutes:
		return 0, field.Errorf(at+".not_before_minutes", "%d cannot be; use 0 or more", before)
	case after != nil && *after < before:
		return 0, field.Errorf(at+".not_after_minutes", "%d is before it may begin", *after)
	}
	total = before
	names := map[string]bool{}
	for n, s := range j.Steps {
		at := fmt.Sprintf("%s.steps[%d]", at, n)
		switch {
		case s.Name == "" || names[s.Name]:
			return 0, field.Errorf(at+".name", "%q is empty or stands there twice", s.Name)
		case s.ActiveMinutes < 0 || s.ActiveMinutes > mostMinutes:
			return 0, field.Errorf(at+".active_minutes", "%d cannot be; use 0 or more", s.ActiveMinutes)
		case s.WaitMinutes < 0 || s.WaitMinutes > mostMinutes:
			return 0, field.Errorf(at+".wait_minutes", "%d cannot be; use 0 or more", s.WaitMinutes)
		case s.MaxWaitMinutes != nil && *s.MaxWaitMinutes < s.WaitMinutes:
			return 0, field.Errorf(at+".max_wait_minutes", "%d is less than the %d to wait", *s.MaxWaitMinutes, s.WaitMinutes)
		case s.Station != "" && stations[s.Station] < 1:
			return 0, &field.Error{Path: at + ".station", Message: NoStation(s.Station).Error(), Kind: NoStation(s.Station)}
		}
		names[s.Name] = true
		total += s.ActiveMinutes + s.WaitMinutes
	}
	return total, nil
}

func orZero(v *int) int {
	if v == nil {
		return 0
	}
	return *v
}

// seat gives each step a person and a station. Whoever has begun an instrument goes on with it where that can be; as starts
// are taken in order, somebody is always free.
func (m *model) seat(s schedule) []Task {
	type step struct{ job, n, start int }
	var steps []step
	for j, starts := range s.starts {
		for n, start := range starts {
			steps = append(steps, step{j, n, start})
		}
	}
	slices.SortStableFunc(steps, func(a, b step) int {
		return a.start - b.start
	})
	free := make([]seats, len(m.counts))
	for r, count := range m.counts {
		free[r] = newSeats(count, len(m.jobs))
	}
	tasks := make([]Task, 0, len(steps))
	for _, at := range steps {
		work := m.jobs[at.job].steps[at.n]
		named := m.in.Instruments[at.job]
		task := Task{ID: named.ID, Step: named.Steps[at.n].Name, Start: at.start}
		if work.active > 0 {
			task.Person = new(free[people].take(at.job, at.start, work.active))
		}
		if work.station >= 0 {
			task.StationIndex = new(free[work.station].take(at.job, at.start, work.occupied))
		}
		tasks = append(tasks, task)
	}
	return tasks
}

// busy lists what is used at all.
func (m *model) busy(makespan int) []Busy {
	minutes := make([]int, len(m.counts))
	for _, j := range m.jobs {
		for _, w := range j.steps {
			minutes[people] += w.active
			if w.station >= 0 {
				minutes[w.station] += w.occupied
			}
		}
	}
	list := []Busy{}
	for r, taken := range minutes {
		if taken > 0 {
			list = append(list, Busy{m.names[r], 100 * float64(taken) / float64(makespan*m.counts[r])})
		}
	}
	slices.SortStableFunc(list, func(a, b Busy) int { return cmp.Compare(b.Pct, a.Pct) })
	return list
}

// seats are the people or the places of one sort.
type seats struct {
	until []int // when each is free
	load  []int
	last  []int // which one a job had last; -1 for none
}

func newSeats(count, jobs int) seats {
	s := seats{make([]int, count), make([]int, count), make([]int, jobs)}
	for j := range s.last {
		s.last[j] = -1
	}
	return s
}

func (s *seats) take(job, start, minutes int) int {
	best := s.last[job]
	if minutes == 0 {
		return max(best, 0)
	}
	if best < 0 || s.until[best] > start {
		best = -1
		for n := range s.until {
			if s.until[n] <= start && (best < 0 || s.load[n] < s.load[best]) {
				best = n
			}
		}
	}
	s.until[best] = start + minutes
	s.load[best] += minutes
	s.last[job] = best
	return best
}
