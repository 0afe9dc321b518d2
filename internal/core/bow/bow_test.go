package bow

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Common practice, no published source: weekly up to a quarter of an hour a day, daily from an hour, in proportion between.
func TestRosin(t *testing.T) {
	for minutes, want := range map[float64]int{
		0: 0, 1: 1, 15: 1, 18: 1, 18.75: 2 /* 1.5 rounds up */, 18.74: 1, 26.25: 3, 37.5: 4, 45: 5, 56.2: 6, 56.25: 7, 60: 7, 240: 7,
	} {
		out, err := Rosin(RosinIn{minutes})
		require.NoError(t, err)
		assert.Equal(t, want, out.TimesPerWeek, minutes)
	}
	for _, minutes := range []float64{-1, 1441, math.NaN(), math.Inf(1)} {
		_, err := Rosin(RosinIn{minutes})
		assert.ErrorContains(t, err, "practice_minutes_per_day: ")
	}
}

func TestRehairOrNew(t *testing.T) {
	three, none, negative := 3.0, 0.0, -1.0
	tests := []struct {
		name string
		in   RehairIn
		want Choice
	}{
		{"worth exactly twice its hair", RehairIn{6000, 12000, true, nil, ""}, Rehair},
		{"worth a cent less", RehairIn{6000, 11999, true, nil, ""}, New},
		{"bent, however dear", RehairIn{6000, 90000, false, nil, ""}, New},
		{"the school wants three times", RehairIn{6000, 12000, true, &three, ""}, New},
		{"the school rehairs all that is straight", RehairIn{6000, 0, true, &none, ""}, Rehair},
	}
	for _, tt := range tests {
		out, err := RehairOrNew(tt.in)
		require.NoError(t, err)
		assert.Equal(t, tt.want, out.Choice, tt.name)
	}
	for path, in := range map[string]RehairIn{
		"rehair_cents: ": {RehairCents: -1}, "bow_value_cents: ": {BowValueCents: -1}, "factor: ": {Factor: &negative},
	} {
		_, err := RehairOrNew(in)
		assert.ErrorContains(t, err, path)
	}
}
