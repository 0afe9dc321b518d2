package app_test

import (
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/preparing"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/upkeep"
	"solfeggio/internal/core/day"
)

// A box of reeds on the way to the concert, day by day: weekends are left out, a tired one does not serve, a beginner's only one is
// excused.
func TestABoxOfReeds(t *testing.T) {
	h := rehearsing(t)
	senna := h.player("Senna Tamm").ID
	chair := func() upkeep.Chair { return h.before(preparing.Preparing{MinutesADay: 40}).Reeds[0].Chairs[0] }
	assert.Equal(t, []any{"open", "open one by Mon 7 Dec"}, []any{chair().State, chair().Says})
	open := func(id uuid.UUID, daysAgo int) error {
		on := thisDay - day.Day(daysAgo)
		_, err := h.Upkeep.Open(ctx, h.director, upkeep.Opening{ID: id, PlayerID: senna, OpenedOn: &on})
		return err
	}
	only := uuid.New()
	require.NoError(t, open(only, 0))
	assert.Equal(t, []any{true, "one reed, played freely; hand out two"}, []any{chair().Excused, chair().Says})
	assert.True(t, chair().Reeds[0].Today, "it is free at once")

	require.NoError(t, open(uuid.New(), 20))
	c := chair()
	assert.False(t, c.Excused)
	assert.Equal(t, []any{1, 1.0, "breaking-in"}, []any{c.Reeds[0].Day, c.Reeds[0].Minutes, string(c.Reeds[0].State)})
	assert.Equal(t, "ready, two spares short", c.Says, "the older one will be tired by then")
	h.now = h.now.AddDate(0, 0, 6) // Monday 30 November, the fifth playing day
	assert.Equal(t, []any{5, 30.0, 0.8}, []any{chair().Reeds[0].Day, chair().Reeds[0].Minutes, chair().Reeds[0].Share})
	h.now = h.now.AddDate(0, 0, 1)
	assert.Equal(t, "ready", string(chair().Reeds[0].State))
	assert.Greater(t, chair().Reeds[1].MinutesPlayed, 0.0)
	assert.True(t, chair().Reeds[0].Today, "it has rested longest")

	assert.Equal(
		t,
		"place",
		fault(t, second(h.Upkeep.Open(ctx, h.director, upkeep.Opening{ID: uuid.New(), PlayerID: senna, Place: 1})),
			journal.Invalid).Fields[0].Path,
	)
	assert.Equal(t, "id", fault(t, open(only, 0), journal.Invalid).Fields[0].Path, "opened twice")
	assert.Equal(t, "opened_on", fault(t, open(uuid.New(), -30), journal.Invalid).Fields[0].Path)
	assert.Equal(
		t,
		"player_id",
		fault(t, second(h.Upkeep.Open(ctx, h.director, upkeep.Opening{ID: uuid.New(), PlayerID: h.player("Ode Marchetti").ID})),
			journal.Invalid).Fields[0].Path,
	)

	gone, err := h.Upkeep.ThrowAway(ctx, h.director, only, upkeep.Discard{Cause: "chipped"})
	require.NoError(t, err)
	assert.Len(t, chair().Reeds, 1)
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: gone.Events})
	require.NoError(t, err)
	assert.Len(t, chair().Reeds, 2)

	_, err = h.Upkeep.Open(ctx, h.director, upkeep.Opening{ID: uuid.New(), PlayerID: senna, Synthetic: true, Strength: "2.5"})
	require.NoError(t, err)
	s := chair().Reeds[2]
	assert.Equal(t, []any{"ready", true, (*day.Day)(nil)}, []any{string(s.State), s.Serves, s.TiredOn}, "free at once, and it does not tire")
	iron := upkeep.Opening{ID: uuid.New(), PlayerID: senna, Strength: "iron"}
	assert.Equal(t, "strength", fault(t, second(h.Upkeep.Open(ctx, h.director, iron)), journal.Invalid).Fields[0].Path)

	require.NoError(t, h.Upkeep.SetProgram(ctx, h.director, upkeep.BreakInMinutes{Supply: "reed-clarinet", Minutes: []float64{10, 20}}))
	h.now = h.now.AddDate(0, 0, -6) // the second of two days
	assert.Equal(t, []any{2, 20.0}, []any{chair().Reeds[0].Day, chair().Reeds[0].Minutes})
	assert.Equal(
		t,
		"minutes",
		fault(t, h.Upkeep.SetProgram(ctx, h.director, upkeep.BreakInMinutes{Supply: "reed-clarinet", Minutes: []float64{0}}),
			journal.Invalid).Fields[0].Path,
	)
}

func second[T any](_ T, err error) error { return err }
