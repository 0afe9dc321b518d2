package care

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

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
		{"heavy sweat shortens all", LimitIn{Base: bowHair, HeavySweat: true}, Limits{Days: f(126), PlayingHours: f(140)}, why.CommonPractice},
		{"four players halve the days only", LimitIn{Base: bowHair, Players: &four}, Limits{Days: f(90), PlayingHours: f(200)}, why.CommonPractice},
		{"three players, rounded down from 103.9", LimitIn{Base: bowHair, Players: &three}, Limits{Days: f(103), PlayingHours: f(200)}, why.CommonPractice},
		{"learned here", LimitIn{Base: bowHair, LearnedDays: f(150)}, Limits{Days: f(150), PlayingHours: f(200)}, why.LearnedHere},
		{"the instrument's own limit beats the learned one", LimitIn{Base: bowHair, LearnedDays: f(150), Override: &Limits{Days: f(90)}}, Limits{Days: f(90)}, why.SchoolSetting},
		{"and is shortened like any other", LimitIn{Base: bowHair, Override: &Limits{Days: f(100)}, HeavySweat: true, Players: &four}, Limits{Days: f(35)}, why.SchoolSetting},
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
