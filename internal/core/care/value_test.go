package care

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// The product's own sum: no source but ours.
func TestValue(t *testing.T) {
	tests := []struct {
		name        string
		wear        float64
		consequence Consequence
		want        float64
	}{
		{"just opened: not worth a minute", 0.75, 5, 0},
		{"half-way from opening to due", 0.875, 4, 1},
		{"due", 1, 4, 4},
		{"late, and damage follows", 1.5, 4, 6},
		{"late, and only looks suffer", 1.5, 1, 1.5},
		{"forgotten for years", 20, 1, 3},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			assert.InDelta(t, tt.want, Value(tt.wear, DefaultThresholds, tt.consequence), 0.005)
			assert.Contains(t, ValueWhy(tt.wear, DefaultThresholds, tt.consequence).Statement, "Worth")
		})
	}
	assert.Zero(t, Value(0.99, Thresholds{OpensAt: 1, LateAt: 1.25}, 5), "a school that never opens early")
}
