package store_test

import (
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/store"
	"solfeggio/internal/store/benchrows"
	"solfeggio/internal/store/schoolrows"
	"solfeggio/internal/store/supplyrows"
)

// A school from before keeps what it had: its products go on working, and of one that disinfects without alcohol it is asked what it is made
// of; where it had never chosen, the old defaults are written down and asked about once; ball ends in its cupboard are its own supply.
func TestASchoolFromBeforeKeepsWhatItHad(t *testing.T) {
	db, owner, migrations := before(t, 22)
	never, chose := uuid.New(), uuid.New()
	exec := executing(t, owner)
	oboe := uuid.New()
	for _, id := range []uuid.UUID{never, chose} {
		exec(`INSERT INTO school (school_id, name, time_zone, locale, currency) VALUES ($1, 'Quillhaven', 'UTC', 'en-GB', 'EUR')`, id)
	}
	for name, group := range map[string]string{
		"Brightwater 70": "alcohol", "Small Wipes": "alcohol-wipe", "Stillwater": "disinfectant", "Chin Clean": "antibacterial-cleaner",
	} {
		exec(`INSERT INTO product (school_id, id, name, product_group, contact_minutes, surfaces, supply)
			VALUES ($1, $2, $3, $4, 5, '{case-outside}', 'case-spray')`, never, uuid.New(), name, group)
	}
	exec(`INSERT INTO practice_choice (school_id, practice, option) VALUES ($1, 'profile', 'concert')`, chose)
	exec(`INSERT INTO instrument (school_id, id, tag, kind, body, care_from) VALUES ($1, $2, 'OB-01', 'oboe', 'wood', '2026-01-01')`, never, oboe)
	exec(`INSERT INTO kit_fault (school_id, instrument_id, supply, state, noted_at) VALUES ($1, $2, 'weighted-swab', 'missing', now())`, never, oboe)
	exec(`INSERT INTO supply_lot (school_id, id, supply, size, quantity, remaining, received_on) VALUES ($1, $2, 'ball-ends', '', 9, 9, '2026-01-01')`,
		never, uuid.New())
	_, err := migrations.Up(ctx)
	require.NoError(t, err)

	read := func(id uuid.UUID, see func(tx *store.Tx)) {
		require.NoError(t, db.Read(ctx, id, func(tx *store.Tx) error { see(tx); return nil }))
	}
	read(never, func(tx *store.Tx) {
		products, err := benchrows.Products(ctx, tx)
		require.NoError(t, err)
		made, asked := map[string][]string{}, map[string]bool{}
		for _, p := range products {
			made[p.Name], asked[p.Name] = p.MadeOf, p.Asked
		}
		assert.Equal(t, map[string][]string{
			"Brightwater 70": {"alcohol"}, "Small Wipes": {"alcohol"}, "Stillwater": {"unknown"}, "Chin Clean": {"antibacterial-cleaner"},
		}, made)
		assert.Equal(t, map[string]bool{"Brightwater 70": true, "Small Wipes": true, "Stillwater": false, "Chin Clean": true}, asked)
		school, err := schoolrows.GetSchool(ctx, tx)
		require.NoError(t, err)
		assert.Equal(t, "profile reed-when", school.AskedPractices)
		choices, err := schoolrows.SchoolChoices(ctx, tx)
		require.NoError(t, err)
		assert.Equal(t, catalog.Choices{"profile": "standard", "reed-when": "first"}, choices)
		faults, err := supplyrows.KitFaults(ctx, tx, oboe)
		require.NoError(t, err)
		assert.Equal(t, "oboe-swab", faults[0].Supply)
		lots, err := supplyrows.Lots(ctx, tx, nil)
		require.NoError(t, err)
		thing, ok := catalog.Embedded().Supply(lots[0].Supply)
		require.True(t, ok, lots[0].Supply)
		assert.True(t, thing.Own())
	})
	read(chose, func(tx *store.Tx) {
		school, err := schoolrows.GetSchool(ctx, tx)
		require.NoError(t, err)
		assert.Equal(t, "reed-when", school.AskedPractices, "what it chose itself is not asked about")
		choices, err := schoolrows.SchoolChoices(ctx, tx)
		require.NoError(t, err)
		assert.Equal(t, catalog.Choices{"profile": "concert", "reed-when": "first"}, choices)
	})

	// Once somebody has said it, nothing is asked any more, whichever side was taken.
	require.NoError(t, db.Write(ctx, never, func(tx *store.Tx) error { return schoolrows.SetSchoolChoice(ctx, tx, "profile", "standard") }))
	read(never, func(tx *store.Tx) {
		school, err := schoolrows.GetSchool(ctx, tx)
		require.NoError(t, err)
		assert.Equal(t, "reed-when", school.AskedPractices)
	})
	_, err = migrations.DownTo(ctx, 21)
	require.NoError(t, err)
	_, err = migrations.Up(ctx)
	require.NoError(t, err)
}
