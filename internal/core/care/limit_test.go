package care

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"solfeggio/internal/core/why"
)

// 180 days or 200 h for bow hair, 0.7 for heavy sweat and 1/√k for k players: common practice, no source.
func TestLimit(t *testing.T) {
	four := 4
	three := 3
	bowHair := Limits{Days: f(180), PlayingHours: f(200)}
	tests := []struct {
		name  string
		in    LimitIn
		want  Limits
		basis why.Kind
	}{
		{"as it stands", LimitIn{Base: bowHair}, bowHair, why.CommonPractice},
		{
			"heavy sweat shortens all",
			LimitIn{Base: bowHair, HeavySweat: true},
			Limits{Days: f(126), PlayingHours: f(140)},
			why.CommonPractice,
		},
		{
			"four players halve the days only",
			LimitIn{Base: bowHair, Players: &four},
			Limits{Days: f(90), PlayingHours: f(200)},
			why.CommonPractice,
		},
		{
			"three players, rounded down from 103.9",
			LimitIn{Base: bowHair, Players: &three},
			Limits{Days: f(103), PlayingHours: f(200)},
			why.CommonPractice,
		},
		{"learned here", LimitIn{Base: bowHair, LearnedDays: f(150)}, Limits{Days: f(150), PlayingHours: f(200)}, why.LearnedHere},
		{
			"the instrument's own limit beats the learned one",
			LimitIn{Base: bowHair, LearnedDays: f(150), Override: &Limits{Days: f(90)}},
			Limits{Days: f(90)},
			why.SchoolSetting,
		},
		{
			"and is shortened like any other",
			LimitIn{Base: bowHair, Override: &Limits{Days: f(100)}, HeavySweat: true, Players: &four},
			Limits{Days: f(35)},
			why.SchoolSetting,
		},
		{"never less than a day", LimitIn{Base: Limits{Days: f(1)}, HeavySweat: true}, Limits{Days: f(1)}, why.CommonPractice},
		{"seven tenths of ten days is seven", LimitIn{Base: Limits{Days: f(10)}, HeavySweat: true}, Limits{Days: f(7)}, why.CommonPractice},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			got, err := Limit(tt.in)
			require.NoError(t, err)
			assert.Equal(t, tt.want.String(), got.Limits.String())
			assert.Equal(t, tt.basis, got.Why.Basis.Kind)
		})
	}
}

func TestLimitNamesTheFieldItRefuses(t *testing.T) {
	zero := 0
	tests := map[string]LimitIn{
		"base: ":                  {},
		"base.playing_hours: ":    {Base: Limits{PlayingHours: f(-1)}},
		"override: ":              {Base: Limits{Days: f(1)}, Override: &Limits{}},
		"override.days: ":         {Base: Limits{Days: f(1)}, Override: &Limits{Days: f(0)}},
		"learned_days: ":          {Base: Limits{Days: f(1)}, LearnedDays: f(0)},
		"players: 0 is no number": {Base: Limits{Days: f(1)}, Players: &zero},
	}
	for field, in := range tests {
		_, err := Limit(in)
		assert.ErrorContains(t, err, field)
	}
}

// Sweat and sharing only ever shorten a limit, days stay whole and at least one, and hours are not touched by sharing.
func TestLimitOnlyShortens(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		days, hours := rapid.Float64Range(0.1, 4000).Draw(t, "days"), rapid.Float64Range(0.1, 4000).Draw(t, "hours")
		players := rapid.IntRange(1, 50).Draw(t, "players")
		in := LimitIn{Base: Limits{Days: &days, PlayingHours: &hours}, Players: &players}
		calm, err := Limit(in)
		require.NoError(t, err)
		in.HeavySweat = true
		sweaty, err := Limit(in)
		require.NoError(t, err)
		require.LessOrEqual(t, *sweaty.Limits.Days, *calm.Limits.Days)
		require.LessOrEqual(t, *calm.Limits.Days, max(1, days))
		require.GreaterOrEqual(t, *sweaty.Limits.Days, 1.0)
		require.Equal(t, math.Trunc(*sweaty.Limits.Days), *sweaty.Limits.Days)
		require.InDelta(t, hours, *calm.Limits.PlayingHours, 1e-9)
		require.InDelta(t, hours*0.7, *sweaty.Limits.PlayingHours, 1e-9)
	})
}

// Whichever limit is reached soonest brings a clock round: hours beat days for who plays much.
func TestAClockComesRoundByItsSoonestLimit(t *testing.T) {
	days, hours, sessions := 70., 6., 5.
	assert.Equal(t, 0.1, Limits{Days: &days}.AWeek(3, 4))
	assert.Equal(t, 0.5, Limits{Days: &days, PlayingHours: &hours}.AWeek(3, 4))
	assert.Equal(t, 0.8, Limits{Days: &days, PlayingHours: &hours, Sessions: &sessions}.AWeek(3, 4))
	assert.Zero(t, Limits{}.AWeek(3, 4))
}
