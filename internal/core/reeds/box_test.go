package reeds

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/core/day"
)

func TestStand(t *testing.T) {
	opened := day.MustParse("2026-12-03") // a Thursday
	weekend := days("2026-12-05", "2026-12-06")
	held := Held{Opened: opened, Program: common, Tires: 28}
	tests := []struct {
		name    string
		on      string
		held    Held
		excused bool
		want    Standing
	}{
		{"its first day", "2026-12-03", held, false, Standing{State: BreakingIn, Day: 1, Minutes: 1}},
		{"rests on Saturday", "2026-12-05", held, false, Standing{State: BreakingIn, Share: 0.4, Behind: 6}},
		{"its last day", "2026-12-09", held, false, Standing{State: BreakingIn, Day: 5, Minutes: 30, Share: 0.8, Behind: 36}},
		{"free on the day after", "2026-12-10", held, false, Standing{State: Ready, Share: 1, Behind: 66}},
		{"tired after four weeks of taking turns", "2027-01-07", held, false, Standing{State: Worn, Share: 1, Behind: 66}},
		{"a beginner's only one", "2026-12-03", held, true, Standing{State: Ready, Share: 1}},
		{"one that needs no break-in and does not tire", "2027-12-03", Held{Opened: opened}, false, Standing{State: Ready, Share: 1}},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			got, err := tt.held.Stand(day.MustParse(tt.on), weekend, tt.excused)
			require.NoError(t, err)
			got.ReadyOn, got.TiredOn = 0, nil
			assert.Equal(t, tt.want, got)
		})
	}
	got, err := held.Stand(opened, weekend, false)
	require.NoError(t, err)
	assert.Equal(t, []string{"2026-12-10", "2027-01-07"}, []string{got.ReadyOn.String(), got.TiredOn.String()})
	assert.False(t, got.ServesOn(day.MustParse("2026-12-09")))
	assert.True(t, got.ServesOn(day.MustParse("2027-01-06")))
	assert.False(t, got.ServesOn(day.MustParse("2027-01-07")))
}

// Three reeds take turns on playing days; each has rested for two of them when it is played again.
func TestTurns(t *testing.T) {
	monday := day.MustParse("2026-12-07")
	free := Standing{ReadyOn: monday}
	late := Standing{ReadyOn: monday + 2}
	got, err := Turns([]Reed{{ID: "a", State: Ready}, {ID: "b", State: Ready}, {ID: "c", State: Ready}},
		map[string]Standing{"a": free, "b": free, "c": late}, monday+8, days("2026-12-12", "2026-12-13"), 40)
	require.NoError(t, err)
	// Mon a, Tue b, Wed c, Thu a, Fri b, Mon c
	assert.Equal(t, []float64{80, 80, 80}, []float64{got[0].MinutesPlayed, got[1].MinutesPlayed, got[2].MinutesPlayed})
	assert.Equal(t, []day.Day{monday + 3, monday + 4, monday + 7}, []day.Day{*got[0].LastPlayed, *got[1].LastPlayed, *got[2].LastPlayed})
}
