package restring

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"solfeggio/internal/core/day"
)

func TestSectionPlan(t *testing.T) {
	out, err := SectionPlan(SectionIn{
		Instruments: []Instrument{{"VN-01", 2, 10}, {"VN-02", 2, 10}, {"VC-01", 2, 45}},
		BenchMinutes: []Bench{
			{on("2026-12-10"), 60}, // too late to settle
			{on("2026-12-09"), 20},
			{on("2026-12-07"), 10},
			{on("2026-12-08"), 15},
		},
		Concert: on("2026-12-12"), SettleDays: 3, Mode: OneADay,
	})
	require.NoError(t, err)
	assert.True(t, out.Exact)
	assert.Equal(t, []string{"VC-01"}, out.Unplaced)
	assert.Equal(t, []SectionDay{
		{on("2026-12-07"), []Change{{"VN-02", 0}}},
		{on("2026-12-08"), []Change{{"VN-01", 0}}},
		{on("2026-12-09"), []Change{{"VN-01", 1}, {"VN-02", 1}}},
	}, out.Days)
}

func TestSectionPlanRefuses(t *testing.T) {
	good := func() SectionIn {
		return SectionIn{
			Instruments: []Instrument{
				{"VN-01", 4, 10},
				{"VN-02", 4, 10},
			}, BenchMinutes: []Bench{{on("2026-12-09"), 20}, {on("2026-12-08"), 15}},
			Concert: on("2026-12-12"), SettleDays: 3, Mode: OneADay,
		}
	}
	tests := []struct {
		path   string
		change func(*SectionIn)
	}{
		{"mode: ", func(in *SectionIn) { in.Mode = "" }},
		{"settle_days: ", func(in *SectionIn) { in.SettleDays = -3 }},
		{"instruments[1].id: ", func(in *SectionIn) { in.Instruments[1].ID = "VN-01" }},
		{"instruments[0].id: ", func(in *SectionIn) { in.Instruments[0].ID = "" }},
		{"instruments[1].strings: ", func(in *SectionIn) { in.Instruments[1].Strings = 0 }},
		{"instruments[1].minutes_per_string: ", func(in *SectionIn) { in.Instruments[1].MinutesPerString = 0 }},
		{"bench_minutes[1].date: ", func(in *SectionIn) { in.BenchMinutes[1].Date = on("2026-12-09") }},
		{"bench_minutes[0].minutes: ", func(in *SectionIn) { in.BenchMinutes[0].Minutes = -5 }},
	}
	for _, tt := range tests {
		in := good()
		tt.change(&in)
		_, err := SectionPlan(in)
		assert.ErrorContains(t, err, tt.path)
	}
	none := good()
	none.BenchMinutes = []Bench{}
	out, err := SectionPlan(none)
	require.NoError(t, err, "no time is no error: nothing fits")
	assert.Equal(t, []string{"VN-01", "VN-02"}, out.Unplaced)
}

// sectionOf draws a section that can still be searched by hand.
func sectionOf(t *rapid.T, instruments, days int) SectionIn {
	start := on("2026-12-01")
	in := SectionIn{
		Concert: start + 14, SettleDays: rapid.IntRange(0, 4).Draw(t, "settle"),
		Mode: rapid.SampledFrom([]Mode{OneADay, OneSitting}).Draw(t, "mode"),
	}
	for i := range rapid.IntRange(0, instruments).Draw(t, "instruments") {
		in.Instruments = append(in.Instruments, Instrument{
			fmt.Sprint("I", i), rapid.IntRange(1, 3).Draw(t, "strings"), float64(5 * rapid.IntRange(1, 3).Draw(t, "minutes")),
		})
	}
	for i := range rapid.IntRange(0, days).Draw(t, "days") {
		in.BenchMinutes = append(
			in.BenchMinutes,
			Bench{start + day.Day(2*i+rapid.IntRange(0, 1).Draw(t, "day")), float64(rapid.IntRange(0, 40).Draw(t, "bench"))},
		)
	}
	return in
}

// judge counts what a plan places and the days between its changes and the concert, and checks that it keeps the rules.
func judge(t require.TestingT, in SectionIn, out SectionOut) (placed, days int) {
	minutes := map[day.Day]float64{}
	for _, b := range in.BenchMinutes {
		minutes[b.Date] += b.Minutes
	}
	per, strings := map[string]float64{}, map[string]int{}
	for _, x := range in.Instruments {
		per[x.ID], strings[x.ID] = x.MinutesPerString, x.Strings
	}
	done := map[string]map[int]day.Day{}
	for _, d := range out.Days {
		assert.LessOrEqual(t, d.Date+day.Day(in.SettleDays), in.Concert, "settled before the concert")
		today := map[string]bool{}
		for _, c := range d.Changes {
			minutes[d.Date] -= per[c.ID]
			assert.False(t, in.Mode == OneADay && today[c.ID], "two on a day")
			today[c.ID] = true
			if done[c.ID] == nil {
				done[c.ID] = map[int]day.Day{}
			}
			done[c.ID][c.String] = d.Date
			days += int(in.Concert-d.Date) - in.SettleDays
		}
		assert.GreaterOrEqual(t, minutes[d.Date], -1e-9, "more than the bench has")
	}
	for id, changes := range done {
		assert.Len(t, changes, strings[id], "all of an instrument or none")
	}
	assert.Equal(t, len(in.Instruments), len(done)+len(out.Unplaced))
	return len(done), days
}

// exhaustive tries every choice of days for every instrument and returns the best count and its fewest days.
func exhaustive(in SectionIn) (placed, days int) {
	left := map[day.Day]float64{}
	for _, b := range in.BenchMinutes {
		if b.Date+day.Day(in.SettleDays) <= in.Concert {
			left[b.Date] = b.Minutes
		}
	}
	best, fewest := 0, 0
	var next func(i, placed, cost int)
	var pick func(i, wanted int, after day.Day, placed, cost int)
	next = func(i, placed, cost int) {
		if i == len(in.Instruments) {
			if placed > best || placed == best && cost < fewest {
				best, fewest = placed, cost
			}
			return
		}
		next(i+1, placed, cost)
		if in.Mode == OneADay {
			pick(i, in.Instruments[i].Strings, 0, placed, cost)
			return
		}
		x := in.Instruments[i]
		for d := range left {
			if need := float64(x.Strings) * x.MinutesPerString; need <= left[d] {
				left[d] -= need
				next(i+1, placed+1, cost+x.Strings*(int(in.Concert-d)-in.SettleDays))
				left[d] += need
			}
		}
	}
	pick = func(i, wanted int, after day.Day, placed, cost int) {
		if wanted == 0 {
			next(i+1, placed+1, cost)
			return
		}
		for d := range left {
			if d > after && in.Instruments[i].MinutesPerString <= left[d] {
				left[d] -= in.Instruments[i].MinutesPerString
				pick(i, wanted-1, d, placed, cost+int(in.Concert-d)-in.SettleDays)
				left[d] += in.Instruments[i].MinutesPerString
			}
		}
	}
	next(0, 0, 0)
	return best, fewest
}

func TestSectionPlanIsTheBestOfAll(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := sectionOf(t, 4, 5)
		out, err := SectionPlan(in)
		require.NoError(t, err)
		placed, days := judge(t, in, out)
		wantPlaced, wantDays := exhaustive(in)
		assert.True(t, out.Exact)
		assert.Equal(t, []int{wantPlaced, wantDays}, []int{placed, days})
	})
}

// A whole orchestra keeps the rules too, and filling alone places all that the level rule can.
func TestSectionPlanOfAnOrchestra(t *testing.T) {
	in := SectionIn{Concert: on("2026-12-12"), SettleDays: 3, Mode: OneADay}
	for i := range 40 {
		in.Instruments = append(in.Instruments, Instrument{fmt.Sprint("VN-", i), 4, 10})
	}
	for i := range 20 {
		in.BenchMinutes = append(in.BenchMinutes, Bench{on("2026-12-09") - day.Day(i), 45})
	}
	out, err := SectionPlan(in)
	require.NoError(t, err)
	placed, _ := judge(t, in, out)
	assert.Equal(t, 20, placed, "80 strings fit into 20 days of 45 minutes")
	assert.Len(t, out.Unplaced, 20)
}

func BenchmarkSectionPlan(b *testing.B) {
	in := SectionIn{Concert: on("2026-12-12"), SettleDays: 3, Mode: OneADay}
	for i := range 60 {
		in.Instruments = append(in.Instruments, Instrument{fmt.Sprint("VN-", i), 4, float64(8 + i%5)})
	}
	for i := range 40 {
		in.BenchMinutes = append(in.BenchMinutes, Bench{on("2026-12-09") - day.Day(i), 60})
	}
	for b.Loop() {
		if _, err := SectionPlan(in); err != nil {
			b.Fatal(err)
		}
	}
}
