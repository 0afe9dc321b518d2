package season

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"solfeggio/internal/core/day"
)

var monday = day.MustParse("2026-11-23")

func calendar(concerts ...day.Day) Calendar {
	played := make([]bool, 20)
	for n := range played {
		played[n] = n != 5
	}
	return Calendar{Monday: monday, Weeks: 20, Concerts: concerts, Played: played}
}

func TestStringsSettleBeforeTheConcert(t *testing.T) {
	saturday := monday + 2*7 + 5
	j := calendar(saturday).Job("a",
		Work{Place: Bench, Opens: monday, Due: monday + 20, Late: monday + 60, SettleDays: 3, Minutes: 24, Consequence: 3})
	assert.Equal(t, []int{2}, j.BlockedWeeks, "changed on its Friday they would be a day old")
	assert.Equal(t, []int{0, 2}, []int{j.Opens, j.Due})
	assert.Equal(t, int64(300), j.LateCentsPerWeek)
	assert.Equal(t, int64(EarlyCents), j.EarlyCentsPerWeek)
	tuesday := monday + 2*7 + 1
	j = calendar(tuesday).Job("a", Work{Place: Bench, Opens: monday, Due: monday + 20, Late: monday + 60, SettleDays: 3, Consequence: 1})
	assert.Equal(t, []int{2}, j.BlockedWeeks, "Friday before is four days")
	j = calendar(tuesday).Job("a", Work{Place: Bench, Opens: monday, Due: monday + 20, Late: monday + 60, SettleDays: 5, Consequence: 1})
	assert.Equal(t, []int{1, 2}, j.BlockedWeeks)
}

func TestNothingIsAwayAtItsConcert(t *testing.T) {
	j := calendar(monday+4*7).Job("a", Work{
		Place: Van, Opens: monday, Due: monday + 30, Late: monday + 60, Cents: 6000, DaysAway: 10, Places: 2, LifeDays: 180,
		Loaner: "violin 4/4", Minutes: 45,
	})
	assert.Equal(t, []int{4}, j.BlockedWeeks)
	assert.Equal(t, 2, j.WeeksOut)
	assert.Equal(t, 2, *j.Places)
	assert.Zero(t, j.Minutes, "it is the shop's time")
	assert.Equal(t, int64(233), j.EarlyCentsPerWeek, "6,000 cents a 180 days are thrown away week by week")
	assert.Equal(t, []int64{400, 400, 800, 800, 800, 0, 400}, j.AbsentCentsPerWeek[:7], "dearer before the concert, nothing in the break")
}

// Whatever work comes, its job is one that the planner takes.
func TestEveryJobCanBePlanned(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		at := func(name string) day.Day { return monday + day.Day(rapid.IntRange(-400, 400).Draw(t, name)) }
		c := calendar(at("concert"))
		j := c.Job("a", Work{
			Place: rapid.SampledFrom([]Place{Bench, Van}).Draw(t, "place"), Opens: at("opens"), Due: at("due"), Late: at("late"),
			SettleDays: rapid.IntRange(0, 10).Draw(t, "settles"), Minutes: rapid.Float64Range(0, 90).Draw(t, "minutes"),
			Cents: rapid.Int64Range(0, 1e6).Draw(t, "cents"), DaysAway: rapid.IntRange(0, 60).Draw(t, "away"),
			LifeDays: rapid.IntRange(0, 900).Draw(t, "life"), Consequence: rapid.Float64Range(0, 50).Draw(t, "consequence"),
		})
		in := In{Weeks: c.Weeks, Jobs: []Job{j}, BenchMinutes: make([]float64, c.Weeks), Trips: []Trip{}, Budget: []Budget{},
			Loaners: map[string]int{}}
		if _, err := Plan(ctx, in); err != nil {
			t.Fatal(err)
		}
	})
}
