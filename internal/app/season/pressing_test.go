package season

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/season"
)

// A school with more work than one plan takes has what matters planned: what somebody decided on, then what is due first, then what weighs
// most. What fits as a whole stays as it is.
func TestWhatPressesMostIsPlanned(t *testing.T) {
	today := day.MustParse("2026-11-24")
	make := func(name string, due day.Day, weighs float64) piece {
		return piece{id: name, Work: season.Work{Due: due, Consequence: weighs}}
	}
	all := []piece{
		make("later", today+60, 9), make("late long ago", today-90, 1), make("late and grave", today-1, 5), make("soon", today+7, 1),
		make("accepted", today+90, 1),
	}
	accepted := func(p piece) bool { return p.id == "accepted" }
	for most, want := range map[int]string{
		1: "[accepted]", 2: "[late and grave accepted]", 3: "[late long ago late and grave accepted]",
		4: "[late long ago late and grave soon accepted]", 5: "[later late long ago late and grave soon accepted]",
	} {
		var names []string
		for _, p := range mostPressing(all, most, today, accepted) {
			names = append(names, p.id)
		}
		assert.Equal(t, want, fmt.Sprint(names), "%d", most)
	}
}
