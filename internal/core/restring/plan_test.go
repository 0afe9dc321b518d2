package restring

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"solfeggio/internal/core/day"
)

func on(s string) day.Day    { return day.MustParse(s) }
func day1(s string) *day.Day { d := on(s); return &d }

func TestPlan(t *testing.T) {
	tests := []struct {
		name                   string
		in                     PlanIn
		first, settled, latest string
	}{
		{
			"a set over four days, three to settle",
			PlanIn{Strings: 4, Concert: on("2026-12-12"), SettleDays: 3, Mode: OneADay},
			"2026-12-06",
			"2026-12-12",
			"2026-12-06",
		},
		{
			"one sitting",
			PlanIn{Strings: 4, Concert: on("2026-12-12"), SettleDays: 3, Mode: OneSitting},
			"2026-12-09",
			"2026-12-12",
			"2026-12-09",
		},
		{
			"nothing to settle: on the day itself",
			PlanIn{Strings: 1, Concert: on("2026-12-12"), Mode: OneADay},
			"2026-12-12",
			"2026-12-12",
			"2026-12-12",
		},
		{
			"a weekend without work in the middle",
			PlanIn{
				Strings:    4,
				Concert:    on("2026-12-12"),
				SettleDays: 3,
				Mode:       OneADay,
				NoWorkDays: []day.Day{on("2026-12-05"), on("2026-12-06")},
			},
			"2026-12-04", "2026-12-12", "2026-12-04",
		},
		{
			"begun earlier, as asked",
			PlanIn{Strings: 2, Concert: on("2026-12-12"), SettleDays: 3, Mode: OneADay, StartBy: day1("2026-12-01")},
			"2026-12-01", "2026-12-05", "2026-12-08",
		},
		{
			"asked to begin on a day without work: the one before",
			PlanIn{
				Strings:    2,
				Concert:    on("2026-12-12"),
				SettleDays: 3,
				Mode:       OneADay,
				StartBy:    day1("2026-12-01"),
				NoWorkDays: []day.Day{on("2026-12-01")},
			},
			"2026-11-30", "2026-12-05", "2026-12-08",
		},
		{
			"just in time",
			PlanIn{Strings: 4, Concert: on("2026-12-12"), SettleDays: 3, Mode: OneADay, NotBefore: day1("2026-12-06")},
			"2026-12-06",
			"2026-12-12",
			"2026-12-06",
		},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			out, err := Plan(tt.in)
			require.NoError(t, err)
			assert.Equal(
				t,
				[]string{tt.first, tt.settled, tt.latest},
				[]string{out.Days[0].Date.String(), out.SettledOn.String(), out.LatestStart.String()},
			)
		})
	}
}

func TestPlanRefuses(t *testing.T) {
	good := PlanIn{Strings: 4, Concert: on("2026-12-12"), SettleDays: 3, Mode: OneADay}
	tests := []struct {
		path   string
		change func(*PlanIn)
	}{
		{"strings: ", func(in *PlanIn) { in.Strings = 0 }},
		{"settle_days: ", func(in *PlanIn) { in.SettleDays = -1 }},
		{"mode: ", func(in *PlanIn) { in.Mode = "at once" }},
		{"concert: no plan fits", func(in *PlanIn) { in.NotBefore = day1("2026-12-07") }},
		{"concert: no plan fits", func(in *PlanIn) { in.NotBefore, in.StartBy = day1("2026-12-03"), day1("2026-12-01") }},
		{"concert: no plan fits", func(in *PlanIn) {
			in.NotBefore = day1("2026-12-01")
			for d := on("2026-12-01"); d < in.Concert; d++ {
				in.NoWorkDays = append(in.NoWorkDays, d)
			}
		}},
	}
	for _, tt := range tests {
		in := good
		tt.change(&in)
		_, err := Plan(in)
		assert.ErrorContains(t, err, tt.path)
	}
}

// Against every first day there is: the plan is on successive working days, in time, and a later one would not be.
func TestPlanIsTheLatest(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		start := on("2026-11-01")
		in := PlanIn{
			Strings: rapid.IntRange(1, 5).Draw(t, "strings"), Concert: start + 40, SettleDays: rapid.IntRange(0, 6).Draw(t, "settle"),
			Mode: rapid.SampledFrom([]Mode{OneADay, OneSitting}).Draw(t, "mode"),
		}
		closed := map[day.Day]bool{}
		for range rapid.IntRange(0, 25).Draw(t, "closed") {
			d := start + day.Day(rapid.IntRange(0, 45).Draw(t, "day"))
			closed[d] = true
			in.NoWorkDays = append(in.NoWorkDays, d)
		}
		if rapid.Bool().Draw(t, "early") {
			d := start + day.Day(rapid.IntRange(0, 45).Draw(t, "start by"))
			in.StartBy = &d
		}
		d := start + day.Day(rapid.IntRange(0, 40).Draw(t, "not before"))
		in.NotBefore = &d
		latest := day.Day(0)
		for first := *in.NotBefore; first <= in.Concert && (in.StartBy == nil || first <= *in.StartBy); first++ {
			last, n := first, 1
			for ; in.Mode == OneADay && n < in.Strings; n++ {
				for last++; closed[last]; last++ {
				}
			}
			if !closed[first] && last+day.Day(in.SettleDays) <= in.Concert {
				latest = first
			}
		}
		out, err := Plan(in)
		if latest == 0 {
			assert.ErrorContains(t, err, "concert: ")
			return
		}
		require.NoError(t, err)
		assert.Equal(t, latest, out.Days[0].Date)
		total := 0
		for i, x := range out.Days {
			total += x.Strings
			assert.False(t, closed[x.Date])
			for between := out.Days[max(0, i-1)].Date + 1; between < x.Date; between++ {
				assert.True(t, closed[between], "a working day left out")
			}
		}
		assert.Equal(t, in.Strings, total)
		assert.LessOrEqual(t, out.SettledOn, in.Concert)
	})
}
