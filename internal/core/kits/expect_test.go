package kits

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
)

// Our own reading; worked by hand over a span of 73 days, a fifth of a year.
func TestTurnovers(t *testing.T) {
	span := day.Span{From: 1000, To: 1072}
	on := func(d day.Day) *day.Day { return &d }
	for _, tt := range []struct {
		says string
		stay Stay
		want float64
	}{
		{"never out", Stay{}, 0},
		{"stands there, came back five times", Stay{LastYear: 5}, 1},
		{"no day was agreed", Stay{Played: true}, 0.2},
		{"no day was agreed, came back twice", Stay{Played: true, LastYear: 2}, 0.4},
		{"due back on the last day", Stay{Played: true, DueBack: on(1072)}, 1},
		{"due back a day later", Stay{Played: true, DueBack: on(1073)}, 0},
		{"overdue", Stay{Played: true, DueBack: on(900)}, 1},
		{"due back, and one of six was the year's own", Stay{Played: true, DueBack: on(1010), LastYear: 6}, 2},
	} {
		assert.InDelta(t, tt.want, Turnovers(tt.stay, span), 1e-9, tt.says)
	}
}

func TestUsualStrength(t *testing.T) {
	s := &catalog.Supply{Strengths: []string{"2", "2.5", "3"}}
	for _, tt := range []struct {
		players map[string]int
		want    string
	}{
		{nil, ""}, {map[string]int{"2.5": 1}, "2.5"}, {map[string]int{"2": 1, "3": 4}, "3"},
		{map[string]int{"3": 2, "2.5": 2}, "2.5"}, {map[string]int{"soft": 9}, ""},
	} {
		assert.Equal(t, tt.want, UsualStrength(s, tt.players), "%v", tt.players)
	}
}
