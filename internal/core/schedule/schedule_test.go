package schedule

import (
	"context"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// fits checks a plan against the words of the rule, without anything of the planner.
func fits(t require.TestingT, in In, out Out) {
	if h, ok := t.(interface{ Helper() }); ok {
		h.Helper()
	}
	at := map[string]Task{}
	type stretch struct{ from, to int }
	taken := map[string][]stretch{}
	take := func(who string, from, minutes int) {
		if minutes == 0 {
			return
		}
		for _, s := range taken[who] {
			require.False(t, from < s.to && s.from < from+minutes, "%s has two things to do at %d", who, from)
		}
		taken[who] = append(taken[who], stretch{from, from + minutes})
	}
	for _, task := range out.Tasks {
		at[task.ID+"/"+task.Step] = task
	}
	steps, over := 0, 0
	finished := []string{}
	for _, job := range in.Instruments {
		earliest, latest := orZero(job.NotBeforeMinutes), job.NotAfterMinutes
		for _, s := range job.Steps {
			task, ok := at[job.ID+"/"+s.Name]
			require.True(t, ok, "%s of %s is not in the plan", s.Name, job.ID)
			steps++
			require.GreaterOrEqual(t, task.Start, earliest, "%s of %s", s.Name, job.ID)
			if latest != nil {
				require.LessOrEqual(t, task.Start, *latest, "%s of %s", s.Name, job.ID)
			}
			require.Equal(t, s.ActiveMinutes > 0, task.Person != nil)
			if task.Person != nil {
				require.Less(t, *task.Person, in.People)
				take(fmt.Sprint("person ", *task.Person), task.Start, s.ActiveMinutes)
			}
			require.Equal(t, s.Station != "", task.StationIndex != nil)
			if task.StationIndex != nil {
				require.Less(t, *task.StationIndex, in.Stations[s.Station])
				held := s.ActiveMinutes
				if s.StationHeldWhileWaiting {
					held += s.WaitMinutes
				}
				take(fmt.Sprint(s.Station, *task.StationIndex), task.Start, held)
			}
			earliest, latest = task.Start+s.ActiveMinutes+s.WaitMinutes, nil
			if s.MaxWaitMinutes != nil {
				latest = new(task.Start + s.ActiveMinutes + *s.MaxWaitMinutes)
			}
		}
		if over = max(over, earliest); in.DeadlineMinutes != nil && earliest <= *in.DeadlineMinutes {
			finished = append(finished, job.ID)
		}
	}
	require.Len(t, out.Tasks, steps)
	require.Equal(t, over, out.MakespanMinutes)
	require.LessOrEqual(t, out.LowerBoundMinutes, out.MakespanMinutes)
	if in.DeadlineMinutes != nil {
		require.Equal(t, finished, *out.FinishedByDeadline)
	}
}

// drawn is a batch of chance.
func drawn(t *rapid.T, jobs, steps, minutes int) In {
	in := In{
		People:   rapid.IntRange(1, 3).Draw(t, "people"),
		Stations: map[string]int{"sink": rapid.IntRange(1, 2).Draw(t, "sinks"), "place": 1},
	}
	if rapid.Bool().Draw(t, "by the bell") {
		in.DeadlineMinutes = new(rapid.IntRange(0, jobs*steps*minutes/2).Draw(t, "deadline"))
	}
	for j := range rapid.IntRange(0, jobs).Draw(t, "jobs") {
		job := Job{ID: fmt.Sprint("i", j)}
		if rapid.IntRange(0, 3).Draw(t, "waits") == 0 {
			job.NotBeforeMinutes = new(rapid.IntRange(0, 4).Draw(t, "not before"))
		}
		for n := range rapid.IntRange(1, steps).Draw(t, "steps") {
			s := Step{
				Name: fmt.Sprint(
					"s",
					n,
				), ActiveMinutes: rapid.IntRange(0, minutes).Draw(t, "active"), WaitMinutes: rapid.IntRange(0, minutes).Draw(t, "wait"),
				Station: rapid.SampledFrom([]string{"", "sink", "place"}).
					Draw(t, "station"),
				StationHeldWhileWaiting: rapid.Bool().Draw(t, "held"),
			}
			if rapid.Bool().Draw(t, "at most") {
				s.MaxWaitMinutes = new(s.WaitMinutes + rapid.IntRange(0, minutes).Draw(t, "more"))
			}
			job.Steps = append(job.Steps, s)
		}
		in.Instruments = append(in.Instruments, job)
	}
	return in
}

func TestAPlanKeepsToTheRules(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := drawn(t, 12, 5, 6)
		orders := rapid.IntRange(0, 40).Draw(t, "orders")
		out, err := plan(context.Background(), in, orders)
		require.NoError(t, err)
		fits(t, in, out)
		again, err := plan(context.Background(), in, orders)
		require.NoError(t, err)
		require.Equal(t, out, again, "the same input gives the same plan")
	})
}

// exhaustive tries every start of every step, and returns how many can end by the deadline and how soon all is over then.
func exhaustive(in In) (finished, makespan int) {
	type use struct {
		what     string
		from, to int
	}
	horizon := 0
	for _, j := range in.Instruments {
		horizon += orZero(j.NotBeforeMinutes)
		for _, s := range j.Steps {
			horizon += s.ActiveMinutes + s.WaitMinutes
		}
	}
	finished, makespan = -1, horizon+1
	var uses []use
	room := func(what string, count, from, to int) bool {
		for t := from; t < to; t++ {
			n := 0
			for _, u := range uses {
				if u.what == what && u.from <= t && t < u.to {
					n++
				}
			}
			if n >= count {
				return false
			}
		}
		return true
	}
	var from func(j, n, earliest, latest, over, ended int)
	from = func(j, n, earliest, latest, over, ended int) {
		if in.DeadlineMinutes == nil && over >= makespan {
			return
		}
		if j == len(in.Instruments) {
			if ended > finished || ended == finished && over < makespan {
				finished, makespan = ended, over
			}
			return
		}
		job := in.Instruments[j]
		if n == len(job.Steps) {
			if in.DeadlineMinutes != nil && earliest <= *in.DeadlineMinutes {
				ended++
			}
			next := 0
			if j+1 < len(in.Instruments) {
				next = orZero(in.Instruments[j+1].NotBeforeMinutes)
			}
			from(j+1, 0, next, horizon, max(over, earliest), ended)
			return
		}
		s := job.Steps[n]
		for at := earliest; at <= min(latest, horizon-s.ActiveMinutes-s.WaitMinutes); at++ {
			held := s.ActiveMinutes
			if s.StationHeldWhileWaiting {
				held += s.WaitMinutes
			}
			if !room("people", in.People, at, at+s.ActiveMinutes) ||
				s.Station != "" && !room(s.Station, in.Stations[s.Station], at, at+held) {
				continue
			}
			kept := len(uses)
			uses = append(uses, use{"people", at, at + s.ActiveMinutes})
			if s.Station != "" {
				uses = append(uses, use{s.Station, at, at + held})
			}
			most := horizon
			if s.MaxWaitMinutes != nil {
				most = at + s.ActiveMinutes + *s.MaxWaitMinutes
			}
			from(j, n+1, at+s.ActiveMinutes+s.WaitMinutes, most, max(over, at+s.ActiveMinutes+s.WaitMinutes), ended)
			uses = uses[:kept]
		}
	}
	first := 0
	if len(in.Instruments) > 0 {
		first = orZero(in.Instruments[0].NotBeforeMinutes)
	}
	from(0, 0, first, horizon, 0, 0)
	return finished, makespan
}

// On small batches the plan is the best there is, but for a rare one: steps that hang together are put where they can begin soonest, and
// sometimes they had better begin a little later.
func TestSmallPlansAreTheBest(t *testing.T) {
	missed := 0
	rapid.Check(t, func(t *rapid.T) {
		in := drawn(t, 3, 3, 2)
		out, err := Plan(context.Background(), in)
		require.NoError(t, err)
		fits(t, in, out)
		finished, makespan := exhaustive(in)
		require.LessOrEqual(t, out.LowerBoundMinutes, makespan)
		done := finished
		if in.DeadlineMinutes != nil {
			done = len(*out.FinishedByDeadline)
		}
		require.LessOrEqual(t, done, finished)
		if done != finished || out.MakespanMinutes != makespan {
			require.LessOrEqual(t, out.MakespanMinutes, makespan+2)
			missed++
		}
	})
	assert.LessOrEqual(t, missed, 2, "of a hundred")
}

func TestBenchRefuses(t *testing.T) {
	ok := func() In {
		return In{
			People:      1,
			Stations:    map[string]int{"sink": 1},
			Instruments: []Job{{ID: "a", Steps: []Step{{Name: "wash", ActiveMinutes: 2, Station: "sink"}}}},
		}
	}
	tests := []struct {
		want   string
		change func(in *In)
	}{
		{"people: 0 cannot be", func(in *In) { in.People = 0 }},
		{"stations.sink: -1 cannot be", func(in *In) { in.Stations["sink"] = -1 }},
		{`instruments[0].steps[0].station: there is no "sink"`, func(in *In) { in.Stations["sink"] = 0 }},
		{"deadline_minutes: -5", func(in *In) { in.DeadlineMinutes = new(-5) }},
		{`instruments[1].id: "a"`, func(in *In) { in.Instruments = append(in.Instruments, in.Instruments[0]) }},
		{"instruments[0].steps: are none", func(in *In) { in.Instruments[0].Steps = nil }},
		{"instruments[0].steps[0].active_minutes: -2", func(in *In) { in.Instruments[0].Steps[0].ActiveMinutes = -2 }},
		{"instruments[0].steps[0].max_wait_minutes: 3 is less than the 5", func(in *In) {
			in.Instruments[0].Steps[0].WaitMinutes, in.Instruments[0].Steps[0].MaxWaitMinutes = 5, new(3)
		}},
		{"instruments[0].steps[1].name", func(in *In) {
			in.Instruments[0].Steps = append(in.Instruments[0].Steps, in.Instruments[0].Steps[0])
		}},
		{"more than 200000 minutes", func(in *In) {
			in.Instruments[0].Steps[0].WaitMinutes, in.Instruments[0].Steps[0].ActiveMinutes = 150_000, 150_000
		}},
		{"instruments[0]: with it there are more than 200000 minutes or 3000 steps", func(in *In) {
			in.Instruments[0].Steps = nil
			for n := range 3001 {
				in.Instruments[0].Steps = append(in.Instruments[0].Steps, Step{Name: fmt.Sprint(n)})
			}
		}},
		{"instruments: 301 are too many", func(in *In) { in.Instruments = make([]Job, 301) }},
		{"instruments[1].not_after_minutes: it cannot go on by then", func(in *In) {
			soak := Job{ID: "b", Steps: in.Instruments[0].Steps, NotAfterMinutes: new(0)}
			other := soak
			other.ID = "c"
			in.Instruments = append(in.Instruments, soak, other)
		}},
	}
	for _, tt := range tests {
		in := ok()
		tt.change(&in)
		_, err := Plan(context.Background(), in)
		assert.ErrorContains(t, err, tt.want)
	}
}

// A soak that is running goes on at its time, whatever else there is to do.
func TestBenchGoesOnFromWhereItStands(t *testing.T) {
	in := In{People: 1, Stations: map[string]int{}, Instruments: []Job{
		{ID: "new", Steps: []Step{{Name: "wipe", ActiveMinutes: 10}}},
		{ID: "soaking", NotBeforeMinutes: new(3), NotAfterMinutes: new(5), Steps: []Step{{Name: "rinse", ActiveMinutes: 1}}},
	}}
	out, err := Plan(context.Background(), in)
	require.NoError(t, err)
	fits(t, in, out)
	assert.Equal(t, 14, out.MakespanMinutes, "rinsed at 3, then the long one; 10 minutes do not fit before")
}

// The largest batch that is taken in is planned in a bearable time: hours of work for hundreds of instruments.
func TestTheLargestBatchIsPlanned(t *testing.T) {
	in := In{People: 2, Stations: map[string]int{"sink": 1}}
	for n := range mostJobs {
		job := Job{ID: fmt.Sprint("i", n)}
		for k := range mostSteps / mostJobs {
			job.Steps = append(
				job.Steps,
				Step{Name: fmt.Sprint(k), ActiveMinutes: 3 + k%3, WaitMinutes: 5, Station: []string{"", "sink"}[k%2]},
			)
		}
		in.Instruments = append(in.Instruments, job)
	}
	out, err := Plan(context.Background(), in)
	require.NoError(t, err)
	fits(t, in, out)
	assert.LessOrEqual(t, float64(out.MakespanMinutes), 1.05*float64(out.LowerBoundMinutes))
}

// An ending is a context that has ended once it was asked so often.
type ending struct {
	context.Context
	left *int
}

func (e ending) Err() error {
	if *e.left--; *e.left < 0 {
		return context.Canceled
	}
	return nil
}

// Whenever ctx ends, the best plan so far comes and says that it was cut.
func TestAPlanThatIsCutIsAPlan(t *testing.T) {
	in := In{People: 2, Stations: map[string]int{"sink": 1}}
	for n := range 9 {
		in.Instruments = append(in.Instruments, Job{ID: fmt.Sprint(n), Steps: []Step{
			{Name: "wash", ActiveMinutes: 3 + n%4, WaitMinutes: 5, Station: "sink"}, {Name: "dry", ActiveMinutes: 1 + n%3},
		}})
	}
	whole, err := Plan(context.Background(), in)
	require.NoError(t, err)
	for after := 0; ; after = 2*after + 1 {
		left := after
		out, err := Plan(ending{context.Background(), &left}, in)
		require.NoError(t, err)
		assert.GreaterOrEqual(t, out.MakespanMinutes, whole.MakespanMinutes)
		assert.Equal(t, whole.LowerBoundMinutes, out.LowerBoundMinutes)
		assert.Len(t, out.Tasks, 18)
		if !out.Cut {
			assert.Equal(t, whole, out)
			break
		}
	}
}
