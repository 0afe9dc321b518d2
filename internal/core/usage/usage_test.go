package usage

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"solfeggio/internal/core/day"
)

var (
	monday = day.MustParse("2026-11-02")
	friday = day.MustParse("2026-11-13")
)

// Worked by hand; the play factor of 0.6 and the vacation share of 0.25 are common practice, no source.
func TestMinutes(t *testing.T) {
	tuesdayAndThursday := []Rehearsal{{2, 50, 0.6}, {4, 40, 0.5}}
	tests := []struct {
		name                string
		in                  In
		rehearsal, practice float64
	}{
		{
			"two weeks less a weekend",
			In{From: monday, To: friday, Rehearsals: tuesdayAndThursday, PracticeMinutesPerWeek: 70, VacationShare: 0.25},
			2*30 + 2*20,
			12 * 10,
		},
		{
			"a single day without a rehearsal",
			In{From: monday, To: monday, Rehearsals: tuesdayAndThursday, PracticeMinutesPerWeek: 70},
			0,
			10,
		},
		{
			"a break takes the second week's rehearsals and most of its practice",
			In{
				From:                   monday,
				To:                     friday,
				Rehearsals:             tuesdayAndThursday,
				Breaks:                 []day.Span{{From: monday + 7, To: monday + 40}, {From: monday + 8, To: monday + 9}},
				PracticeMinutesPerWeek: 70,
				VacationShare:          0.25,
			},
			30 + 20, 7*10 + 5*2.5,
		},
		{"two rehearsals alike count twice", In{From: monday, To: friday, Rehearsals: []Rehearsal{{1, 30, 1}, {1, 30, 1}}}, 4 * 30, 0},
		{
			"a concert in the break counts, one outside the span does not",
			In{
				From:   monday,
				To:     friday,
				Breaks: []day.Span{{From: monday, To: friday}},
				Extra:  []Extra{{monday + 3, 90, 0.5}, {friday + 1, 90, 0.5}},
			},
			45, 0,
		},
		{
			"logs replace the practice of their day and add up",
			In{
				From:                   monday,
				To:                     friday,
				PracticeMinutesPerWeek: 70,
				Logged:                 []Log{{monday, 25}, {monday, 5}, {friday, 0}, {friday + 1, 500}},
			},
			0, 10*10 + 30,
		},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			got, err := Minutes(tt.in)
			require.NoError(t, err)
			assert.InDelta(t, tt.rehearsal, got.RehearsalMinutes, Tolerance)
			assert.InDelta(t, tt.practice, got.PracticeMinutes, Tolerance)
			assert.InDelta(t, tt.rehearsal+tt.practice, got.TotalMinutes, Tolerance)
		})
	}
}

func TestMinutesNamesTheFieldItRefuses(t *testing.T) {
	ok := In{From: monday, To: friday}
	tests := map[string]func(*In){
		"to":                        func(in *In) { in.To = monday - 1 },
		"rehearsals[1].weekday":     func(in *In) { in.Rehearsals = []Rehearsal{{1, 1, 1}, {8, 1, 1}} },
		"rehearsals[0].minutes":     func(in *In) { in.Rehearsals = []Rehearsal{{1, -1, 1}} },
		"rehearsals[0].play_factor": func(in *In) { in.Rehearsals = []Rehearsal{{1, 1, 1.1}} },
		"breaks[0].to":              func(in *In) { in.Breaks = []day.Span{{From: friday, To: monday}} },
		"practice_minutes_per_week": func(in *In) { in.PracticeMinutesPerWeek = math.Inf(1) },
		"vacation_share":            func(in *In) { in.VacationShare = math.NaN() },
		"extra[0].minutes":          func(in *In) { in.Extra = []Extra{{monday, math.NaN(), 1}} },
		"logged[0].minutes":         func(in *In) { in.Logged = []Log{{monday, -5}} },
	}
	for field, spoil := range tests {
		in := ok
		spoil(&in)
		_, err := Minutes(in)
		assert.ErrorContains(t, err, field+": ", field)
	}
}

func drawIn(t *rapid.T) In {
	in := In{From: monday + day.Day(rapid.IntRange(0, 400).Draw(t, "from"))}
	in.To = in.From + day.Day(rapid.IntRange(0, 500).Draw(t, "length"))
	in.PracticeMinutesPerWeek = float64(rapid.IntRange(0, 600).Draw(t, "practice"))
	in.VacationShare = rapid.Float64Range(0, 1).Draw(t, "vacation share")
	for range rapid.IntRange(0, 4).Draw(t, "rehearsals") {
		in.Rehearsals = append(in.Rehearsals, Rehearsal{
			day.Weekday(
				rapid.IntRange(1, 7).Draw(t, "weekday"),
			), float64(rapid.IntRange(0, 120).Draw(t, "minutes")), rapid.Float64Range(0, 1).Draw(t, "factor"),
		})
	}
	for range rapid.IntRange(0, 4).Draw(t, "breaks") {
		from := monday + day.Day(rapid.IntRange(-50, 900).Draw(t, "break"))
		in.Breaks = append(in.Breaks, day.Span{From: from, To: from + day.Day(rapid.IntRange(0, 60).Draw(t, "days"))})
	}
	for range rapid.IntRange(0, 3).Draw(t, "extras") {
		in.Extra = append(in.Extra, Extra{in.From + day.Day(rapid.IntRange(-5, 505).Draw(t, "on")), 90, 0.7})
	}
	for range rapid.IntRange(0, 3).Draw(t, "logs") {
		in.Logged = append(
			in.Logged,
			Log{in.From + day.Day(rapid.IntRange(-5, 505).Draw(t, "on")), float64(rapid.IntRange(0, 90).Draw(t, "logged"))},
		)
	}
	return in
}

func TestMinutesProperties(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := drawIn(t)
		whole, err := Minutes(in)
		require.NoError(t, err)
		assert.InDelta(t, whole.RehearsalMinutes+whole.PracticeMinutes, whole.TotalMinutes, 1e-9)

		// A span played in two halves is played as long as in one.
		cut := in.From + day.Day(rapid.IntRange(0, int(in.To-in.From)).Draw(t, "cut"))
		a, b := in, in
		a.To, b.From = cut, cut+1
		first, err := Minutes(a)
		require.NoError(t, err)
		if b.From <= b.To {
			second, err := Minutes(b)
			require.NoError(t, err)
			assert.InDelta(t, whole.TotalMinutes, first.TotalMinutes+second.TotalMinutes, 1e-6)
		}

		// A break over everything leaves the extras only.
		in.Breaks = append(in.Breaks, day.Span{From: in.From, To: in.To})
		in.Extra = nil
		closed, err := Minutes(in)
		require.NoError(t, err)
		assert.Zero(t, closed.RehearsalMinutes)
	})
}

func TestBreaksBetweenTerms(t *testing.T) {
	d := day.MustParse
	year := day.Span{From: d("2026-08-01"), To: d("2027-07-31")}
	autumn, spring := day.Span{From: d("2026-09-01"), To: d("2026-12-18")}, day.Span{From: d("2027-01-04"), To: d("2027-06-11")}
	assert.Nil(t, BreaksBetweenTerms(year, nil), "a school that has not entered its terms is in session")
	assert.Equal(t, []day.Span{
		{
			From: d("2026-08-01"),
			To:   d("2026-08-31"),
		}, {From: d("2026-12-19"), To: d("2027-01-03")}, {From: d("2027-06-12"), To: d("2027-07-31")},
	}, BreaksBetweenTerms(year, []day.Span{spring, autumn}))
}

func TestPlayingAcrossHolders(t *testing.T) {
	cal := NewCalendar(day.Span{From: monday, To: monday + 100}, nil)
	band, err := NewHabit([]Rehearsal{{2, 60, 0.5}}, 0, 0, 0)
	require.NoError(t, err)
	keen, err := NewHabit(nil, 420, 0, 7)
	require.NoError(t, err)
	p := NewPlaying(
		cal,
		[]Stretch{{day.Span{From: monday, To: monday + 6}, band}, {day.Span{From: monday + 14, To: monday + 20}, keen}},
		[]Extra{{monday + 2, 120, 0.5}},
	)
	assert.Equal(t, Amount{Hours: 0.5 + 7 + 1, Sessions: 1 + 7}, p.Over(day.Span{From: monday, To: monday + 100}))
	assert.Equal(t, Amount{}, p.Over(day.Span{From: monday + 7, To: monday + 13}), "nobody has it between two holders")
}
