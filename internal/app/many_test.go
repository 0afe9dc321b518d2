package app_test

import (
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/roster"
	"solfeggio/internal/app/school"
)

// Many players change at once, all or none, and become again what they were as long as nobody changed them since.
func TestManyPlayersAtOnce(t *testing.T) {
	h := newHouse(t)
	h.roster("external_id,given_name,grade_year,instrument,reed_strength,ensembles\n1,Ode,7,clarinet-b-flat,2.5,Wind band\n2,Ilse,7,oboe,,\n3,Bram,8,,,Wind band\n", nil)
	ode, ilse, bram := h.player("Ode"), h.player("Ilse"), h.player("Bram")
	settings, err := h.Settings.Settings(ctx, h.director)
	require.NoError(t, err)
	band := settings.Ensembles[0].ID
	all := []uuid.UUID{ode.ID, ilse.ID, bram.ID}
	_, err = h.Roster.ChangeMany(ctx, h.director, roster.Many{Players: append(all, uuid.New()), GradeYear: new("9")})
	fault(t, err, journal.Invalid)
	_, err = h.Roster.ChangeMany(ctx, h.director, roster.Many{Players: all, Kind: new("kazoo")})
	fault(t, err, journal.Invalid)
	_, err = h.Roster.ChangeMany(ctx, h.director, roster.Many{Players: all, Join: []uuid.UUID{uuid.New()}})
	fault(t, err, journal.Invalid)
	assert.Equal(t, "7", h.player("Ode").GradeYear)

	moved, err := h.Roster.ChangeMany(ctx, h.director,
		roster.Many{Players: all, GradeYear: new("9"), Kind: new("flute"), Join: []uuid.UUID{band}, Left: new(true)})
	require.NoError(t, err)
	for _, name := range []string{"Ode", "Ilse", "Bram"} {
		p := h.player(name)
		assert.Equal(t, []any{"9", "flute", "", []string{"Wind band"}}, []any{p.GradeYear, p.Kind, p.ReedStrength, p.EnsembleNames}, name)
		assert.NotNil(t, p.LeftOn)
	}
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: moved.Events})
	require.NoError(t, err)
	again := h.player("Ode")
	assert.Equal(t, []any{"7", "clarinet-b-flat", "2.5"}, []any{again.GradeYear, again.Kind, again.ReedStrength})
	assert.Empty(t, h.player("Ilse").EnsembleNames)
	assert.Nil(t, h.player("Bram").LeftOn)

	out, err := h.Roster.ChangeMany(ctx, h.director, roster.Many{Players: all, Leave: []uuid.UUID{band}})
	require.NoError(t, err)
	changed := h.player("Bram").Player
	changed.Notes = "by hand"
	require.NoError(t, h.Roster.SavePlayer(ctx, h.director, changed))
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: out.Events})
	fault(t, err, journal.Conflict)
	none, err := h.Roster.ChangeMany(ctx, h.director, roster.Many{Players: all, Leave: []uuid.UUID{band}})
	require.NoError(t, err)
	assert.Empty(t, none.Events, "nothing had changed")
}
