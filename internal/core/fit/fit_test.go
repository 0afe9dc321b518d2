package fit

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
)

func cm(v float64) *float64 { return &v }

// The chart is from memory; a value on a boundary goes to the larger size. The checks are common practice.
func TestSize(t *testing.T) {
	tests := []struct {
		kind        string
		cm          float64
		checks      *Checks
		size, chart string
	}{
		{
			"violin",
			30,
			nil,
			"1/16",
			"1/16",
		}, {"violin", 38.5, nil, "1/10", "1/10"}, {"violin", 50.9, nil, "1/4", "1/4"}, {"violin", 51, nil, "1/2", "1/2"},
		{"violin", 59.5, nil, "4/4", "4/4"}, {"violin", 70, nil, "4/4", "4/4"},
		{"viola", 53.9, nil, "12", "12"}, {"viola", 64, nil, "15.5", "15.5"}, {"viola", 67, nil, "16", "16"},
		{"cello", 114.9, nil, "1/8", "1/8"}, {"cello", 140, nil, "3/4", "3/4"}, {"cello", 152, nil, "4/4", "4/4"},
		{"bass", 124, nil, "1/8", "1/8"}, {"bass", 150, nil, "3/4", "3/4"},
		{"violin", 57, &Checks{Scroll: "ok", Elbow: "ok", FourthFinger: "relaxed"}, "3/4", "3/4"},
		{
			"violin",
			57,
			&Checks{Scroll: "short"},
			"1/2",
			"3/4",
		}, {"violin", 57, &Checks{Elbow: "wide"}, "1/2", "3/4"}, {"violin", 57, &Checks{FourthFinger: "stretched"}, "1/2", "3/4"},
		{"violin", 57, &Checks{Scroll: "past", Elbow: "tight"}, "4/4", "3/4"}, {"violin", 57, &Checks{Scroll: "past"}, "3/4", "3/4"},
		{
			"violin",
			57,
			&Checks{Scroll: "past", Elbow: "tight", FourthFinger: "stretched"},
			"1/2",
			"3/4",
		}, // too big wins
		{
			"cello",
			145,
			&Checks{TopEdge: "above"},
			"1/2",
			"3/4",
		}, {"cello", 145, &Checks{LowestPeg: "above", TopEdge: "below"}, "1/2", "3/4"}, // either is too big
		{
			"cello",
			145,
			&Checks{LowestPeg: "below"},
			"3/4",
			"3/4",
		}, {"cello", 145, &Checks{LowestPeg: "below", TopEdge: "below"}, "4/4", "3/4"}, // both are too small
		{"bass", 100, &Checks{TopEdge: "above"}, "1/8", "1/8"}, {"bass", 160, &Checks{TopEdge: "below", LowestPeg: "below"}, "3/4", "3/4"},
		{"violin", 30, &Checks{Scroll: "short"}, "1/16", "1/16"}, {"violin", 70, &Checks{Scroll: "past", Elbow: "tight"}, "4/4", "4/4"},
	}
	for _, tt := range tests {
		in := SizeIn{Kind: tt.kind, Checks: tt.checks}
		if MeasureOf(tt.kind) == "height_cm" {
			in.HeightCM = cm(tt.cm)
		} else {
			in.ArmLengthCM = cm(tt.cm)
		}
		got, err := Size(in)
		require.NoError(t, err)
		assert.Equal(t, []string{tt.size, tt.chart}, []string{got.Size, got.ChartSize}, "%s %v %+v", tt.kind, tt.cm, tt.checks)
	}
}

func TestSizeRefuses(t *testing.T) {
	for want, in := range map[string]SizeIn{
		`kind: "lute" has no chart`: {Kind: "lute"}, "arm_length_cm: missing": {Kind: "violin", HeightCM: cm(150)},
		"height_cm: missing":                       {Kind: "cello"},
		"arm_length_cm: -3":                        {Kind: "violin", ArmLengthCM: cm(-3)},
		"height_cm: 1200":                          {Kind: "violin", ArmLengthCM: cm(50), HeightCM: cm(1200)},
		`checks.top_edge: is no check of a violin`: {Kind: "violin", ArmLengthCM: cm(50), Checks: &Checks{TopEdge: "ok"}},
		`checks.elbow: is no check of a cello`:     {Kind: "cello", HeightCM: cm(150), Checks: &Checks{Elbow: "ok"}},
		`checks.lowest_peg: "high"`:                {Kind: "cello", HeightCM: cm(150), Checks: &Checks{LowestPeg: "high"}},
		`checks.scroll: "far"`:                     {Kind: "violin", ArmLengthCM: cm(50), Checks: &Checks{Scroll: "far"}},
	} {
		_, err := Size(in)
		assert.ErrorContains(t, err, want)
	}
}

func TestNext(t *testing.T) {
	next, from, ok := Next("violin", "1/2")
	assert.True(t, ok)
	assert.Equal(t, "3/4", next)
	assert.InDelta(t, 56, from, 1e-9)
	_, _, ok = Next("cello", "4/4")
	assert.False(t, ok)
}

func on(s string) *day.Day { d := day.MustParse(s); return &d }

func TestGrowth(t *testing.T) {
	points := func(list ...any) (m []Measurement) {
		for n := 0; n < len(list); n += 2 {
			m = append(m, Measurement{day.MustParse(list[n].(string)), list[n+1].(float64)})
		}
		return m
	}
	// 0.01 cm a day; 1 cm more takes 100 days, and between 76.9 and 142.9 with the slope 30 % off either way, counted from
	// the mean of the two measurements, where the line stands at 50.5.
	two, err := Growth(GrowthIn{points("2026-01-01", 50., "2026-04-11", 51.), 52})
	require.NoError(t, err)
	assert.InDelta(t, 3.6525, two.CMPerYear, 1e-9)
	assert.Equal(t, GrowthOut{two.CMPerYear, on("2026-07-20"), on("2026-06-16"), on("2026-09-23")}, two)

	exact, err := Growth(GrowthIn{points("2026-01-01", 50., "2026-01-11", 51., "2026-01-21", 52.), 53})
	require.NoError(t, err)
	assert.Equal(
		t,
		[]*day.Day{on("2026-01-31"), on("2026-01-31"), on("2026-01-31")},
		[]*day.Day{exact.ReachesOn, exact.LowOn, exact.HighOn},
		"a perfect line has no error",
	)

	past, err := Growth(GrowthIn{points("2026-01-01", 50., "2026-04-11", 51.), 50.2})
	require.NoError(t, err)
	assert.True(t, *past.LowOn <= *past.ReachesOn && *past.ReachesOn <= *past.HighOn, "also for a size that was outgrown")
	still, err := Growth(GrowthIn{points("2026-01-01", 50., "2026-04-11", 50.), 52})
	require.NoError(t, err)
	assert.Equal(t, GrowthOut{}, still)
}

// Worked example of simple regression: x 0…4 days, y 50, 52, 51, 54, 53 give b = 0.8 and, from the residuals, a standard error
// of √(3.6/3/10) = 0.3464 (textbook formulas, computed by hand).
func TestGrowthBandIsOneStandardError(t *testing.T) {
	var m []Measurement
	for n, y := range []float64{50, 52, 51, 54, 53} {
		m = append(m, Measurement{day.MustParse("2026-01-01") + day.Day(n), y})
	}
	got, err := Growth(GrowthIn{m, 60})
	require.NoError(t, err)
	// Mean 52 on day 2: 8 cm at 0.8, 1.1464 and 0.4536 a day take 10, 6.98 and 17.64 days.
	assert.Equal(t, []*day.Day{on("2026-01-13"), on("2026-01-10"), on("2026-01-21")}, []*day.Day{got.ReachesOn, got.LowOn, got.HighOn})
}

func TestGrowthRefuses(t *testing.T) {
	d := day.MustParse("2026-01-01")
	for want, in := range map[string]GrowthIn{
		"measurements: 1 is not enough":                     {[]Measurement{{d, 50}}, 56},
		"measurements[1].date: 2026-01-01 is measured":      {[]Measurement{{d, 50}, {d, 51}}, 56},
		"measurements[0].cm: 0 is no length":                {[]Measurement{{d, 0}, {d + 1, 51}}, 56},
		"threshold_cm: -1 is no length of a person; use ce": {[]Measurement{{d, 50}, {d + 1, 51}}, -1},
	} {
		_, err := Growth(in)
		assert.ErrorContains(t, err, want)
	}
}

// A later threshold is never reached sooner, and the band holds the day.
func TestGrowthHoldsItsPromises(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var m []Measurement
		at := day.MustParse("2026-01-01")
		for range rapid.IntRange(2, 6).Draw(t, "measurements") {
			at += day.Day(rapid.IntRange(1, 90).Draw(t, "days"))
			m = append(m, Measurement{at, rapid.Float64Range(40, 70).Draw(t, "cm")})
		}
		threshold := rapid.Float64Range(40, 80).Draw(t, "threshold")
		near, err := Growth(GrowthIn{m, threshold})
		if err != nil {
			t.Fatal(err)
		}
		far, _ := Growth(GrowthIn{m, threshold + 1})
		if near.ReachesOn != nil && far.ReachesOn != nil && *far.ReachesOn < *near.ReachesOn {
			t.Fatalf("%s before %s", far.ReachesOn, near.ReachesOn)
		}
		if near.ReachesOn != nil &&
			(near.LowOn != nil && *near.LowOn > *near.ReachesOn || near.HighOn != nil && *near.HighOn < *near.ReachesOn) {
			t.Fatalf("%v outside %v to %v", near.ReachesOn, near.LowOn, near.HighOn)
		}
	})
}

// Nobody taller gets a smaller size, what is seen in the hand moves it by one at most, and too big always wins.
func TestSizeHoldsItsPromises(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		kind := rapid.SampledFrom([]string{"violin", "viola", "cello", "bass"}).Draw(t, "kind")
		at := func(v float64, c *Checks) (size, chart int) {
			in := SizeIn{Kind: kind, Checks: c, ArmLengthCM: &v, HeightCM: &v}
			got, err := Size(in)
			if err != nil {
				t.Fatal(err)
			}
			find := func(name string) int {
				chart, _ := chartNamed(kind)
				return chart.At(name)
			}
			return find(got.Size), find(got.ChartSize)
		}
		v := rapid.Float64Range(20, 220).Draw(t, "cm")
		checks := Checks{
			TopEdge:   rapid.SampledFrom([]string{"", "below", "ok", "above"}).Draw(t, "top edge"),
			LowestPeg: rapid.SampledFrom([]string{"", "below", "ok", "above"}).Draw(t, "lowest peg"),
		}
		if MeasureOf(kind) == "arm_length_cm" {
			checks = Checks{
				Scroll: rapid.SampledFrom([]string{"", "short", "ok", "past"}).
					Draw(t, "scroll"),
				Elbow:        rapid.SampledFrom([]string{"", "tight", "ok", "wide"}).Draw(t, "elbow"),
				FourthFinger: rapid.SampledFrom([]string{"", "relaxed", "stretched"}).Draw(t, "finger"),
			}
		}
		size, chart := at(v, &checks)
		if taller, _ := at(v+rapid.Float64Range(0, 50).Draw(t, "more"), &checks); taller < size {
			t.Fatalf("taller gets %d instead of %d", taller, size)
		}
		if off := size - chart; off < -1 || off > 1 ||
			(checks.FourthFinger == "stretched" || checks.TopEdge == "above" || checks.LowestPeg == "above") && off > 0 {
			t.Fatalf("%+v moves it by %d", checks, off)
		}
	})
}

// The catalogue lists the sizes there are, the chart when each fits; they are the same sizes in the same order.
func TestChartsHaveTheSizesOfTheCatalogue(t *testing.T) {
	charted := 0
	for _, k := range catalog.Embedded().Kinds {
		chart, ok := ChartOf(k.Key)
		if !ok {
			continue
		}
		charted++
		var sizes []string
		of, _ := chartNamed(chart)
		for _, s := range of.Steps {
			sizes = append(sizes, s.Size)
		}
		assert.Equal(t, k.Sizes, sizes, k.Key)
	}
	assert.Equal(t, 4, charted)
}

// Common practice, no published source: too big at one sign, fitting only when all three checks say so.
func TestInHand(t *testing.T) {
	for _, tt := range []struct {
		size   string
		checks Checks
		fits   string
		said   bool
	}{
		{"3/4", Checks{}, "3/4", false},
		{"3/4", Checks{Scroll: "ok", Elbow: "ok"}, "3/4", false},
		{"3/4", Checks{Scroll: "ok", Elbow: "ok", FourthFinger: "relaxed"}, "3/4", true},
		{"3/4", Checks{Elbow: "wide"}, "1/2", true},
		{"3/4", Checks{Scroll: "short", Elbow: "tight"}, "1/2", true},
		{"3/4", Checks{Scroll: "past"}, "3/4", false},
		{"3/4", Checks{Scroll: "past", Elbow: "tight"}, "4/4", true},
		{"4/4", Checks{Scroll: "past", Elbow: "tight"}, "4/4", true},
		{"1/16", Checks{FourthFinger: "stretched"}, "1/16", true},
		{"7/8", Checks{Elbow: "wide"}, "", false},
	} {
		fits, said := InHand("violin", tt.size, tt.checks)
		assert.Equal(t, []any{tt.fits, tt.said}, []any{fits, said}, "%s %v", tt.size, tt.checks)
	}
	assert.ErrorContains(t, Checks{Elbow: "odd"}.Check("violin"), "elbow")
	assert.NoError(t, Checks{}.Check("cello"))
}
