package season

import (
	"context"
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

// quiet is a job of a season of four weeks that nothing presses.
func quiet(id string, place Place) Job {
	return Job{
		ID: id, Place: place, Opens: 0, Due: 1, Last: 3, Minutes: 30, WeeksOut: 1, LateCentsPerWeek: 100, EarlyCentsPerWeek: 10,
		AbsentCentsPerWeek: []int64{0, 0, 0, 0}, BlockedWeeks: []int{},
	}
}

func four(jobs ...Job) In {
	return In{
		Weeks: 4, Jobs: jobs, BenchMinutes: []float64{30, 30, 30, 30}, Trips: []Trip{{Week: 2, Places: 2, FixedCents: 40}},
		Budget:  []Budget{},
		Loaners: map[string]int{"violin": 1},
	}
}

func TestPlan(t *testing.T) {
	at := func(w int) *int { return &w }
	name := "violin"
	tests := []struct {
		name  string
		in    In
		weeks []*int
		parts Parts
	}{
		{"two of the same week: one a week early", four(quiet("a", Bench), quiet("b", Bench)), []*int{at(1), at(0)}, Parts{Early: 10}},
		{
			"a trip is paid once", four(quiet("a", Van), quiet("b", Van)), []*int{at(2), at(2)}, Parts{Late: 200, Trips: 40},
		},
		{
			"no place left: it waits, and costs its lateness to the end",
			func() In { in := four(quiet("a", Van), quiet("b", Van)); in.Trips[0].Places = 1; return in }(),
			[]*int{at(2), nil}, Parts{Late: 100, Trips: 40, Unplaced: 300},
		},
		{
			"away in a blocked week with a loaner only",
			func() In {
				j := quiet("a", Bench)
				j.BlockedWeeks, j.Loaner, j.AbsentCentsPerWeek = []int{0, 1, 2, 3}, &name, []int64{70, 70, 70, 70}
				return four(j)
			}(),
			[]*int{at(1)}, Parts{},
		},
		{
			"money binds",
			func() In {
				a, b := quiet("a", Bench), quiet("b", Bench)
				a.CostCents, b.CostCents, b.Minutes = 500, 500, 0
				in := four(a, b)
				in.Budget = []Budget{{0, 1, 500}, {2, 2, 0}}
				return in
			}(),
			[]*int{at(1), at(3)}, Parts{Late: 200},
		},
		{
			"a pin is kept", func() In { j := quiet("a", Bench); j.Pin = at(3); return four(j) }(), []*int{at(3)}, Parts{Late: 200},
		},
		{"nothing to do", four(), []*int{}, Parts{}},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			out, err := Plan(ctx, tt.in)
			require.NoError(t, err)
			weeks := []*int{}
			for _, p := range out.Placements {
				weeks = append(weeks, p.Week)
				assert.NotEmpty(t, p.Why.Statement)
			}
			assert.Equal(t, tt.weeks, weeks)
			assert.Equal(t, tt.parts, out.Parts)
			assert.Equal(t, out.TotalCents, out.LowerBoundCents)
		})
	}
}

func TestPlanSaysWhy(t *testing.T) {
	out, err := Plan(ctx, four(quiet("a", Bench), quiet("b", Bench)))
	require.NoError(t, err)
	assert.Equal(t, "Week 0: before it, it is not open (from week 0); week 1 has no room: the bench in week 1 is full.",
		out.Placements[1].Why.Statement)
	in := four(quiet("a", Van), quiet("b", Van))
	in.Trips[0].Places = 1
	out, err = Plan(ctx, in)
	require.NoError(t, err)
	assert.Equal(t, "Week 2: week 1 has no trip; week 3 has no trip.", out.Placements[0].Why.Statement)
	assert.Equal(t, "It waits: in its best week, 2, there is no room: the trip of week 2 is full.", out.Placements[1].Why.Statement)
}

func TestPlanRefuses(t *testing.T) {
	minus, far, unknown := -1, 9, "tuba"
	tests := []struct {
		path   string
		change func(*In)
	}{
		{"weeks: ", func(in *In) { in.Weeks = 0 }},
		{"bench_minutes: ", func(in *In) { in.BenchMinutes = nil }},
		{"bench_minutes[2]: ", func(in *In) { in.BenchMinutes[2] = -1 }},
		{"trips[0].week: ", func(in *In) { in.Trips[0].Week = 4 }},
		{"trips[1].week: ", func(in *In) { in.Trips = append(in.Trips, in.Trips[0]) }},
		{"budget[0].to: ", func(in *In) { in.Budget = []Budget{{2, 1, 5}} }},
		{"loaners.violin: ", func(in *In) { in.Loaners["violin"] = -1 }},
		{"iterations: ", func(in *In) { in.Iterations = -1 }},
		{"jobs[1].id: ", func(in *In) { in.Jobs[1].ID = "a" }},
		{"jobs[0].last: ", func(in *In) { in.Jobs[0].Opens = 4 }},
		{"jobs[0].weeks_out: ", func(in *In) { in.Jobs[0].WeeksOut = 0 }},
		{"jobs[0].places: ", func(in *In) { in.Jobs[0].Places = &minus }},
		{"jobs[0].absent_cents_per_week: ", func(in *In) { in.Jobs[0].AbsentCentsPerWeek = []int64{1} }},
		{"jobs[0].blocked_weeks[0]: ", func(in *In) { in.Jobs[0].BlockedWeeks = []int{4} }},
		{"jobs[0].loaner: ", func(in *In) { in.Jobs[0].Loaner = &unknown }},
		{"jobs[0].pin: a in week 9 ", func(in *In) { in.Jobs[0].Pin = &far }},
		{"jobs[1].pin: b in week 1 does not fit beside", func(in *In) {
			one := 1
			in.Jobs[0].Pin, in.Jobs[1].Pin = &one, &one
		}},
	}
	for _, tt := range tests {
		in := four(quiet("a", Bench), quiet("b", Bench))
		tt.change(&in)
		_, err := Plan(ctx, in)
		assert.ErrorContains(t, err, tt.path)
	}
}

// Pins that need not hold are given up where they clash, and the others keep their weeks; a clash is seen without trying every way to lend.
func TestMend(t *testing.T) {
	one := 1
	a, b := quiet("a", Bench), quiet("b", Bench)
	a.Pin, b.Pin = &one, &one
	in := four(a, b)
	out, given, err := Mend(ctx, in, func(n int) bool { return n == 1 })
	require.NoError(t, err)
	assert.Equal(t, []int{0}, given)
	assert.Equal(t, 1, *out.Placements[1].Week)
	assert.NotEqual(t, 1, *out.Placements[0].Week)
	_, given, err = Mend(ctx, in, func(int) bool { return false })
	require.NoError(t, err)
	assert.Equal(t, []int{1}, given)
	far := 9
	in.Jobs[0].Pin = &far
	_, given, err = Mend(ctx, in, func(int) bool { return false })
	require.NoError(t, err)
	assert.Equal(t, []int{0}, given, "a week in which it cannot be at all")

	violin := "violin"
	in = four(b, b)
	in.Jobs[1].ID, in.Trips[0].Places, in.Loaners = "clash", 60, map[string]int{violin: 60}
	two := 2
	for n := range 60 {
		van := quiet(fmt.Sprint("van ", n), Van)
		van.Loaner, van.Pin = &violin, &two
		in.Jobs = append(in.Jobs, van)
	}
	_, err = Plan(ctx, in)
	assert.ErrorContains(t, err, "jobs[1].pin")
}

// Of a plan that is pinned as a whole nothing can cost less, and where a tenth of it is let go the bound stays below the plan that follows,
// and is no lower than without the pins.
func TestPinsAreKept(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 6))
	for range 12 {
		in := drawn(r, 40, 20)
		for n := range in.Jobs {
			in.Jobs[n].Loaner = nil
		}
		free, err := Plan(ctx, in)
		require.NoError(t, err)
		placed := in
		placed.Jobs = nil
		for n, p := range free.Placements {
			if p.Week != nil {
				j := in.Jobs[n]
				j.Pin = p.Week
				placed.Jobs = append(placed.Jobs, j)
			}
		}
		all, err := Plan(ctx, placed)
		require.NoError(t, err)
		assert.Equal(t, all.TotalCents, all.LowerBoundCents)
		for n := 0; n < len(placed.Jobs); n += 10 {
			placed.Jobs[n].Pin = nil
		}
		most, err := Plan(ctx, placed)
		require.NoError(t, err)
		assert.Equal(t, cost(t, placed, most), most.TotalCents)
		assert.LessOrEqual(t, most.TotalCents, all.TotalCents)
		assert.LessOrEqual(t, most.LowerBoundCents, most.TotalCents)
		for n := range placed.Jobs {
			placed.Jobs[n].Pin = nil
		}
		none, err := Plan(ctx, placed)
		require.NoError(t, err)
		assert.GreaterOrEqual(t, most.LowerBoundCents, none.LowerBoundCents-1)
	}
}

// What is pinned to its week may still lend something there or not: whichever it is when the rest is improved, every rule is kept.
func TestPinsMayLend(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 2))
	for range 100 {
		in := drawn(r, 40, 20)
		in.Loaners["horn"], in.Iterations = 1, 0
		first, err := Plan(ctx, in)
		require.NoError(t, err)
		for n := 0; n < len(in.Jobs); n += 2 {
			in.Jobs[n].Pin = first.Placements[n].Week
		}
		in.Iterations = 200
		out, err := Plan(ctx, in)
		require.NoError(t, err)
		assert.Equal(t, cost(t, in, out), out.TotalCents)
		assert.LessOrEqual(t, out.LowerBoundCents, out.TotalCents)
	}
}

// Minutes that no school has are planned all the same, in no more memory than others.
func TestPlanOfEnormousWeeks(t *testing.T) {
	in := drawn(rand.New(rand.NewPCG(2, 2)), 60, 10)
	in.Budget = []Budget{}
	for w := range in.BenchMinutes {
		in.BenchMinutes[w] = []float64{1e15, 3_000_001, 90}[w%3]
	}
	for n := range in.Jobs {
		in.Jobs[n].Minutes = []float64{1e12, 2_000_003, 45}[n%3]
	}
	out, err := Plan(ctx, in)
	require.NoError(t, err)
	assert.Equal(t, cost(t, in, out), out.TotalCents)
	assert.LessOrEqual(t, out.LowerBoundCents, out.TotalCents)
}

// drawn is a season by chance, in which everything is short.
func drawn(r *rand.Rand, jobs, weeks int) In {
	in := In{Weeks: weeks, Loaners: map[string]int{"violin": 1, "horn": r.IntN(2)}, Budget: []Budget{}, Seed: 5, Iterations: 200}
	for w := range weeks {
		in.BenchMinutes = append(in.BenchMinutes, float64(10*r.IntN(8)))
		if r.IntN(3) == 0 {
			in.Trips = append(in.Trips, Trip{w, 1 + r.IntN(3), int64(r.IntN(400))})
		}
	}
	if r.IntN(2) == 0 { // where money is not counted, work at the bench takes nothing but minutes
		in.Budget = append(in.Budget, Budget{0, weeks - 1, int64(300 * jobs / 2)}, Budget{weeks / 3, weeks / 2, 400})
	}
	for n := range jobs {
		opens := r.IntN(weeks)
		j := Job{
			ID: fmt.Sprint("j", n), Place: []Place{Bench, Van}[r.IntN(2)], Opens: opens, Due: opens + r.IntN(weeks),
			Last:    opens + r.IntN(weeks),
			Minutes: float64(10 * r.IntN(6)), CostCents: int64(r.IntN(500)), WeeksOut: 1 + r.IntN(3),
			LateCentsPerWeek: int64(r.IntN(200)), EarlyCentsPerWeek: int64(r.IntN(30)), BlockedWeeks: []int{},
		}
		for w := range weeks {
			j.AbsentCentsPerWeek = append(j.AbsentCentsPerWeek, int64(r.IntN(60)))
			if r.IntN(6) == 0 {
				j.BlockedWeeks = append(j.BlockedWeeks, w)
			}
		}
		if r.IntN(2) == 0 {
			name := []string{"violin", "horn"}[r.IntN(2)]
			j.Loaner = &name
		}
		if r.IntN(3) == 0 {
			places := 1 + r.IntN(2)
			j.Places = &places
		}
		in.Jobs = append(in.Jobs, j)
	}
	return in
}

// Of large seasons: every rule is kept, the sum is right, the bound is below, and the same seed gives the same plan.
func TestPlansOfLargeSeasonsKeepTheRules(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 1))
	for range 12 {
		in := drawn(r, 40, 20)
		out, err := Plan(ctx, in)
		require.NoError(t, err)
		assert.Equal(t, cost(t, in, out), out.TotalCents)
		assert.LessOrEqual(t, out.LowerBoundCents, out.TotalCents)
		again, err := Plan(ctx, in)
		require.NoError(t, err)
		assert.Equal(t, out, again)
		without := in
		without.Iterations = 0
		first, err := Plan(ctx, without)
		require.NoError(t, err)
		assert.LessOrEqual(t, out.TotalCents, first.TotalCents, "improving makes nothing worse")
	}
}

// cost works out from the rules what a plan costs, and checks that it keeps them.
func cost(t *testing.T, in In, out Out) (total int64) {
	minutes, places, loaned := make([]float64, in.Weeks), map[int]int{}, map[string][]int{}
	money := make([]int64, in.Weeks)
	for name := range in.Loaners {
		loaned[name] = make([]int, in.Weeks)
	}
	for n, p := range out.Placements {
		j := in.Jobs[n]
		if p.Week == nil {
			total += int64(max(0, in.Weeks-j.Due)) * j.LateCentsPerWeek
			continue
		}
		s := *p.Week
		assert.True(t, s >= j.Opens && s <= j.Last && s+j.WeeksOut <= in.Weeks)
		total += int64(max(0, s-j.Due))*j.LateCentsPerWeek + int64(max(0, j.Due-s))*j.EarlyCentsPerWeek
		money[s] += j.CostCents
		if j.Place == Bench {
			minutes[s] += j.Minutes
		} else if j.Places != nil {
			places[s] += *j.Places
		} else {
			places[s]++
		}
		for w := s; w < s+j.WeeksOut; w++ {
			if p.Loaner {
				loaned[*j.Loaner][w]++
				continue
			}
			assert.NotContains(t, j.BlockedWeeks, w)
			total += j.AbsentCentsPerWeek[w]
		}
	}
	for w := range in.Weeks {
		assert.LessOrEqual(t, minutes[w], in.BenchMinutes[w])
	}
	for _, trip := range in.Trips {
		assert.LessOrEqual(t, places[trip.Week], trip.Places)
		if places[trip.Week] > 0 {
			total += trip.FixedCents
		}
		delete(places, trip.Week)
	}
	assert.Empty(t, places, "on a trip that does not go")
	for _, b := range in.Budget {
		spent := int64(0)
		for w := b.From; w <= b.To; w++ {
			spent += money[w]
		}
		assert.LessOrEqual(t, spent, b.Cents)
	}
	for name, weeks := range loaned {
		for _, n := range weeks {
			assert.LessOrEqual(t, n, in.Loaners[name])
		}
	}
	return total
}

// BenchmarkPlan plans seasons by chance on 40 weeks, in which everything is short.
func BenchmarkPlan(b *testing.B) {
	for _, jobs := range []int{400, 2000} {
		b.Run(fmt.Sprint(jobs), func(b *testing.B) {
			benchmark(b, func(r *rand.Rand) In {
				in := drawn(r, jobs, 40)
				in.Iterations = Iterations(jobs)
				return in
			})
		})
	}
}

// benchmark plans one season after the other and says how far above their bounds the plans stand, on average and at the most.
func benchmark(b *testing.B, draw func(r *rand.Rand) In) {
	sum, most, n := 0., 0., 0
	for b.Loop() {
		out, err := Plan(ctx, draw(rand.New(rand.NewPCG(7, uint64(n)))))
		require.NoError(b, err)
		above := float64(out.TotalCents) / float64(out.LowerBoundCents)
		sum, most, n = sum+above, max(most, above), n+1
	}
	b.ReportMetric(sum/float64(n), "times-the-bound")
	b.ReportMetric(most, "at-most")
}

// shaped draws a season like the demo's: mostly short work at the bench, some long; a sixth goes to a shop, is away for a week or three,
// and must be back for the concerts.
func shaped(r *rand.Rand, jobs, weeks int, benchMinutes float64) In {
	in := In{Weeks: weeks, Loaners: map[string]int{"flute": 1, "cello": 1, "violin": 3, "tuba": 0}, Budget: []Budget{}, Seed: 1,
		Iterations: Iterations(jobs)}
	concerts := []int{weeks / 13, weeks * 3 / 5, weeks * 6 / 7}
	for w := range weeks {
		in.BenchMinutes = append(in.BenchMinutes, benchMinutes)
		if w%3 == 0 {
			in.Trips = append(in.Trips, Trip{w, 16, 2400})
		}
	}
	kinds := []string{"flute", "cello", "violin", "tuba"}
	for n := range jobs {
		due := r.IntN(weeks + 4)
		j := Job{
			ID: fmt.Sprint(n), Place: Bench, Opens: max(0, due-1-r.IntN(8)), Due: min(due, weeks-1),
			Last: min(weeks-1, due+4+r.IntN(14)), WeeksOut: 1,
			Minutes:          []float64{3, 3, 4, 4, 6, 8, 8, 8, 10, 10, 24, 25, 32, 53}[r.IntN(14)],
			LateCentsPerWeek: []int64{100, 300, 300, 600, 600, 600, 600, 1200, 1200}[r.IntN(9)], EarlyCentsPerWeek: 20,
			AbsentCentsPerWeek: make([]int64, weeks), BlockedWeeks: []int{},
		}
		j.Opens = min(j.Opens, j.Last)
		if n%6 == 0 {
			kind := kinds[r.IntN(len(kinds))]
			j.Place, j.Minutes, j.CostCents, j.WeeksOut, j.Loaner = Van, 0, int64(5500+500*r.IntN(9)), 1+2*r.IntN(2), &kind
			j.EarlyCentsPerWeek, j.LateCentsPerWeek, j.BlockedWeeks = []int64{20, 123, 233}[r.IntN(3)], []int64{300, 600}[r.IntN(2)], concerts
			j.Opens, j.Last = max(0, j.Opens-6), weeks-1
			for w := range weeks {
				j.AbsentCentsPerWeek[w] = 400
			}
		}
		in.Jobs = append(in.Jobs, j)
	}
	return in
}

// BenchmarkShaped plans 400 jobs on 40 weeks of the demo's shape, from weeks with room to spare to weeks that are short by half.
func BenchmarkShaped(b *testing.B) {
	for _, minutes := range []float64{300, 150, 110, 90} {
		b.Run(fmt.Sprint(minutes), func(b *testing.B) {
			benchmark(b, func(r *rand.Rand) In { return shaped(r, 400, 40, minutes) })
		})
	}
}

// BenchmarkSizes plans seasons of any size, of three shapes: by chance, the demo's with room, and with weeks that are short by half.
func BenchmarkSizes(b *testing.B) {
	for _, jobs := range []int{5, 6, 7, 8, 10, 12, 15, 20, 40, 100, 400, 1100, 2000} {
		roomy := max(20, 0.75*float64(jobs))
		for name, draw := range map[string]func(*rand.Rand) In{
			"chance": func(r *rand.Rand) In { in := drawn(r, jobs, 40); in.Iterations = Iterations(jobs); return in },
			"roomy":  func(r *rand.Rand) In { return shaped(r, jobs, 40, roomy) },
			"short":  func(r *rand.Rand) In { return shaped(r, jobs, 40, 0.3*roomy) },
		} {
			b.Run(fmt.Sprintf("%d-%s", jobs, name), func(b *testing.B) { benchmark(b, draw) })
		}
	}
}
