package app_test

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/letters"
	"solfeggio/internal/app/roster"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/pgtest"
)

// Who left and gave everything back is forgotten; what the violin went through is not.
func TestErasingAPlayer(t *testing.T) {
	db, raw := pgtest.OpenBeside(t)
	h := newHouseOn(t, db, "ines@quillhaven.example")
	h.bring(threeViolins)
	h.roster(players, nil)
	ode := h.player("Ode Marchetti")
	soon := thisDay + 50
	given := h.handing(ode, "VN-01")
	given.DueBackOn = &soon
	_, err := h.Lending.HandOver(ctx, h.director, given)
	require.NoError(t, err)
	assert.Contains(t, fault(t, h.Roster.ErasePlayer(ctx, h.director, ode.ID), journal.Conflict).Message, "still here")
	h.now = h.now.AddDate(0, 0, 40)
	h.roster("external_id,given_name\np2,Ilse\n", func(f *roster.RosterFile) { f.MarkLeavers = true })
	assert.Contains(
		t,
		fault(t, h.Roster.ErasePlayer(ctx, h.director, ode.ID), journal.Conflict).Message,
		"still has VN-01. Take it back first.",
	)
	_, err = h.Letters.SendNotices(ctx, h.director, letters.Sending{About: []string{h.proposed()["due-back VN-01"].About}})
	require.NoError(t, err)
	_, err = h.Lending.Return(ctx, h.director, h.id("VN-01"), lending.Returning{Reported: "Ode Marchetti says it fell."})
	require.NoError(t, err)

	key := clocks.Key{Routine: "violin-strings", Part: "string-e"}
	worn := h.clock("VN-01", key)
	require.NotEmpty(t, worn)
	assert.Subset(t, h.said("VN-01"), []string{"Came back from Ode Marchetti", "Handed out to Ode Marchetti"})
	helper := h.director
	helper.Role = journal.Helper
	fault(t, h.Roster.ErasePlayer(ctx, helper, ode.ID), journal.Forbidden)
	require.NoError(t, h.Roster.ErasePlayer(ctx, h.director, ode.ID))
	fault(t, h.Roster.ErasePlayer(ctx, h.director, ode.ID), journal.NotFound)
	assert.Subset(t, h.said("VN-01"), []string{"Came back", "Handed out to a player"}, "it went out and came back, nobody knows with whom")
	assert.Equal(t, worn, h.clock("VN-01", key), "what was played on it still counts")
	list, err := h.Roster.Players(ctx, h.director)
	require.NoError(t, err)
	for _, p := range list {
		assert.NotEqual(t, ode.ID, p.ID)
	}

	// The name stands nowhere any more, in whatever table.
	var tables []string
	require.NoError(
		t,
		raw.Select(
			&tables,
			`SELECT relname FROM pg_class WHERE relkind = 'r' AND relnamespace = 'public'::regnamespace AND relname NOT IN ('goose_db_version')`,
		),
	)
	tx, err := raw.Beginx()
	require.NoError(t, err)
	defer func() { _ = tx.Rollback() }()
	_, err = tx.Exec(`SELECT set_config('solfeggio.school_id', $1, true)`, h.director.School.String())
	require.NoError(t, err)
	seen := 0
	for _, table := range tables {
		var rows []string
		require.NoError(t, tx.Select(&rows, `SELECT x::text FROM "`+table+`" x`), table)
		seen += len(rows)
		for _, row := range rows {
			assert.NotContains(t, row, "Marchetti", table)
		}
	}
	assert.Greater(t, seen, 10)
	var sheet bytes.Buffer
	require.NoError(t, h.Lending.Agreement(ctx, h.director, given.ID, &sheet), "the paper stays, without the name")
}
