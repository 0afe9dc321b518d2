package care

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/usage"
)

func f(v float64) *float64 { return &v }

func TestDueOf(t *testing.T) {
	start := day.MustParse("2026-01-05") // a Monday
	week := Usage{
		Rehearsals:             []usage.Rehearsal{{Weekday: 1, Minutes: 100, PlayFactor: 0.6}},
		PracticeMinutesPerWeek: 420,
		VacationShare:          0.25,
	}
	tests := []struct {
		name    string
		today   day.Day
		limits  Limits
		usage   Usage
		state   State
		wear    float64
		dueOn   string
		binding Binding
		elapsed Elapsed
	}{
		// Bow hair: 180 days or 200 h, whichever first (common practice, no source). 8 h a week reach 200 h in 25 weeks.
		{
			"bow hair, eight hours a week: the hours come first",
			start + 70,
			Limits{Days: f(180), PlayingHours: f(200)},
			week,
			Fresh,
			0.4,
			"2026-06-29",
			ByPlayingHours,
			Elapsed{70, 80, 10 + 50},
		},
		{
			"bow hair that nobody plays: the days",
			start + 135,
			Limits{Days: f(180), PlayingHours: f(200)},
			Usage{PracticeDaysPerWeek: f(0)},
			Opening,
			0.75,
			"2026-07-04",
			ByDays,
			Elapsed{135, 0, 0},
		},
		{"on the last day it is due", start + 180, Limits{Days: f(180)}, Usage{}, Due, 1, "2026-07-04", ByDays, Elapsed{180, 0, 128}},
		{
			"at a quarter over it is still due",
			start + 225,
			Limits{Days: f(180)},
			Usage{},
			Due,
			1.25,
			"2026-07-04",
			ByDays,
			Elapsed{225, 0, 160},
		},
		{
			"a day later it is late",
			start + 226,
			Limits{Days: f(180)},
			Usage{},
			Late,
			226. / 180,
			"2026-07-04",
			ByDays,
			Elapsed{226, 0, 161},
		},
		{
			"a tie goes to the days",
			start,
			Limits{Days: f(7), Sessions: f(7)},
			Usage{PracticeDaysPerWeek: f(7)},
			Fresh,
			0,
			"2026-01-12",
			ByDays,
			Elapsed{},
		},
		{
			"sessions: a rehearsal and five practice days a week",
			start + 7,
			Limits{Sessions: f(12)},
			week,
			Fresh,
			0.5,
			"2026-01-19",
			BySessions,
			Elapsed{7, 8, 6},
		},
		{"never within ten years", start + 400, Limits{PlayingHours: f(1)}, Usage{}, Fresh, 0, "", ByPlayingHours, Elapsed{400, 0, 285}},
		{"ten years to the day", start, Limits{Days: f(3652)}, Usage{}, Fresh, 0, "2036-01-05", ByDays, Elapsed{}},
		{"ten years and a day", start, Limits{Days: f(3653)}, Usage{}, Fresh, 0, "", ByDays, Elapsed{}},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			got, err := DueOf(DueIn{Started: start, Today: tt.today, Limits: tt.limits, Usage: tt.usage})
			require.NoError(t, err)
			dueOn := ""
			if got.DueOn != nil {
				dueOn = got.DueOn.String()
			}
			assert.Equal(t, tt.dueOn, dueOn)
			assert.Equal(t, tt.state, got.State)
			assert.Equal(t, tt.binding, got.Binding)
			assert.InDelta(t, tt.wear, got.Wear, 1e-9)
			assert.InDelta(t, tt.elapsed.PlayingHours, got.Elapsed.PlayingHours, 1e-9)
			got.Elapsed.PlayingHours = tt.elapsed.PlayingHours
			assert.Equal(t, tt.elapsed, got.Elapsed)
			assert.NotEmpty(t, got.Why.Statement)
		})
	}
}

func TestDueOfNamesTheFieldItRefuses(t *testing.T) {
	start := day.MustParse("2026-01-05")
	tests := map[string]DueIn{
		"today: ":           {Started: start, Today: start - 1, Limits: Limits{Days: f(1)}},
		"limits: ":          {Started: start, Today: start},
		"limits.sessions: ": {Started: start, Today: start, Limits: Limits{Sessions: f(0)}},
		"opens_at: ":        {Started: start, Today: start, Limits: Limits{Days: f(1)}, OpensAt: f(1.5)},
		"late_at: ":         {Started: start, Today: start, Limits: Limits{Days: f(1)}, LateAt: f(0.5)},
		"usage.practice_days_per_week: ": {
			Started: start,
			Today:   start,
			Limits:  Limits{Days: f(1)},
			Usage:   Usage{PracticeDaysPerWeek: f(8)},
		},
		"usage.rehearsals[0].weekday: ": {
			Started: start,
			Today:   start,
			Limits:  Limits{Days: f(1)},
			Usage:   Usage{Rehearsals: []usage.Rehearsal{{}}},
		},
		"usage.breaks[0].to: ": {
			Started: start,
			Today:   start,
			Limits:  Limits{Days: f(1)},
			Usage:   Usage{Breaks: []day.Span{{From: start, To: start - 1}}},
		},
		"usage.practice_minutes_per_week: ": {
			Started: start,
			Today:   start,
			Limits:  Limits{Days: f(1)},
			Usage:   Usage{PracticeMinutesPerWeek: -1},
		},
	}
	for field, in := range tests {
		_, err := DueOf(in)
		assert.ErrorContains(t, err, field)
	}
}

func drawUsage(t *rapid.T, start day.Day) Usage {
	u := Usage{
		PracticeMinutesPerWeek: float64(rapid.IntRange(0, 500).Draw(t, "practice")),
		VacationShare:          rapid.Float64Range(0, 1).Draw(t, "vacation share"),
		PracticeDaysPerWeek:    f(float64(rapid.IntRange(0, 7).Draw(t, "practice days"))),
	}
	for range rapid.IntRange(0, 3).Draw(t, "rehearsals") {
		u.Rehearsals = append(
			u.Rehearsals,
			usage.Rehearsal{
				Weekday:    day.Weekday(rapid.IntRange(1, 7).Draw(t, "weekday")),
				Minutes:    float64(rapid.IntRange(0, 120).Draw(t, "minutes")),
				PlayFactor: 0.6,
			},
		)
	}
	for range rapid.IntRange(0, 3).Draw(t, "breaks") {
		from := start + day.Day(rapid.IntRange(-20, 400).Draw(t, "break"))
		u.Breaks = append(u.Breaks, day.Span{From: from, To: from + day.Day(rapid.IntRange(0, 70).Draw(t, "days"))})
	}
	return u
}

// The day found by halving is the day found by stepping from the start, one day at a time, through usage.Minutes;
// and while nothing is done no clock runs backwards.
func TestDueOnAgreesWithSteppingDayByDay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		start := day.MustParse("2026-08-20") + day.Day(rapid.IntRange(0, 200).Draw(t, "start"))
		u := drawUsage(t, start)
		var l Limits
		which := rapid.IntRange(1, 7).Draw(t, "limits")
		if which&1 != 0 {
			l.Days = f(float64(rapid.IntRange(1, 200).Draw(t, "days limit")))
		}
		if which&2 != 0 {
			l.PlayingHours = f(rapid.Float64Range(0.5, 80).Draw(t, "hours limit"))
		}
		if which&4 != 0 {
			l.Sessions = f(float64(rapid.IntRange(1, 120).Draw(t, "sessions limit")))
		}
		got, err := DueOf(DueIn{Started: start, Today: start, Limits: l, Usage: u})
		require.NoError(t, err)

		// Wear only ever grows, and stepping finds the first day on which it is full.
		var stepped *day.Day
		wear := 0.0
		for d := start + 1; d <= start+250; d++ {
			now, err := DueOf(DueIn{Started: start, Today: d, Limits: l, Usage: u})
			require.NoError(t, err)
			require.GreaterOrEqual(t, now.Wear, wear, "wear fell on %s", d)
			wear = now.Wear
			played, err := usage.Minutes(
				usage.In{
					From:                   start + 1,
					To:                     d,
					Rehearsals:             u.Rehearsals,
					Breaks:                 u.Breaks,
					PracticeMinutesPerWeek: u.PracticeMinutesPerWeek,
					VacationShare:          u.VacationShare,
				},
			)
			require.NoError(t, err)
			require.InDelta(t, played.TotalMinutes/60, now.Elapsed.PlayingHours, 1e-9)
			if stepped == nil && now.Wear >= 1-1e-9 {
				stepped = &d
			}
		}
		if stepped != nil {
			require.NotNil(t, got.DueOn)
			require.Equal(t, *stepped, *got.DueOn)
		} else if got.DueOn != nil {
			require.Greater(t, *got.DueOn, start+250)
		}
	})
}

func TestReadOutlivesItsJSON(t *testing.T) {
	out, err := DueOf(DueIn{Started: day.MustParse("2026-01-05"), Today: day.MustParse("2026-01-06"), Limits: Limits{PlayingHours: f(5)}})
	require.NoError(t, err)
	b, err := json.Marshal(out)
	require.NoError(t, err)
	assert.Contains(t, string(b), `"due_on":null`)
}

// The first day of 1970 is a day like any other.
func TestDueOnTheFirstDayOf1970(t *testing.T) {
	month := 31.0
	out, err := DueOf(DueIn{Started: day.MustParse("1969-12-01"), Today: day.MustParse("1969-12-02"), Limits: Limits{Days: &month}})
	require.NoError(t, err)
	require.NotNil(t, out.DueOn)
	assert.Equal(t, "1970-01-01", out.DueOn.String())
}
