package care

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// The product's own sum: no source but ours.
func TestValue(t *testing.T) {
	soon, later := 1, 20
	in := func(c Consequence) Stakes { return Stakes{Consequence: c, Played: true} }
	tests := []struct {
		name   string
		wear   float64
		stakes Stakes
		want   float64
	}{
		{"just opened: not worth a minute", 0.75, in(Health), 0},
		{"half-way from opening to due", 0.875, in(Harm), 3},
		{"due", 1, in(Harm), 12},
		{"late, and the instrument is harmed", 1.5, in(Harm), 18},
		{"late, and only convenience suffers", 1.5, in(Convenience), 1.5},
		{"forgotten for years", 20, in(Convenience), 3},
		{"nobody plays it", 1, Stakes{Consequence: Harm}, 7.2},
		{"a rehearsal tomorrow", 1, Stakes{Consequence: Playing, Played: true, RehearsalIn: &soon, ConcertIn: &later}, 7.5},
		{"a concert tomorrow stands above it", 1, Stakes{Consequence: Playing, Played: true, RehearsalIn: &soon, ConcertIn: &soon}, 9},
		{"four players share it", 1, Stakes{Consequence: Playing, Played: true, Players: 4, RehearsalIn: &later}, 12},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			assert.InDelta(t, tt.want, Value(tt.wear, DefaultThresholds, UsualWeights, tt.stakes), 0.005)
			assert.Contains(t, ValueWhy(tt.wear, DefaultThresholds, UsualWeights, tt.stakes).Statement, "Worth")
		})
	}
	assert.Zero(t, Value(0.99, Thresholds{OpensAt: 1, LateAt: 1.25}, UsualWeights, in(Health)), "a school that never opens early")
	assert.Equal(t, 2., Value(1, DefaultThresholds, Weights{2, 3, 6, 12, 20}, in(Convenience)), "a school that weighs otherwise")
}
