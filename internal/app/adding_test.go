package app_test

import (
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/importing"
	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/clocks"
)

// An instrument added by hand has all its clocks at once, the next tag counts on, and a mistake is undone for as long as nothing hangs
// on it.
func TestAddAnInstrument(t *testing.T) {
	h := newHouse(t)
	next := func(kind string) string {
		list, err := h.Inventory.Addables(ctx, h.director)
		require.NoError(t, err)
		for _, k := range list {
			if k.Key == kind {
				return k.NextTag
			}
		}
		return "no such kind"
	}
	assert.Empty(t, next("violin"))
	violin := inventory.Adding{ID: uuid.New(), Kind: "violin", Tag: " vn-09 ", Size: "4/4", Maker: "Oriel"}
	added, err := h.Inventory.Add(ctx, h.director, violin)
	require.NoError(t, err)
	file := h.file("VN-09")
	assert.Equal(t, []string{"violin", "4/4", "varnish", "Oriel"},
		[]string{file.Instrument.Kind, file.Instrument.Size, file.Instrument.Body, file.Instrument.Maker})
	assert.NotEmpty(t, file.Parts)
	assert.Equal(t, []string{"Added to the school's instruments"}, h.said("VN-09"))
	assert.Equal(t, "VN-10", next("violin"))

	for path, change := range map[string]func(*inventory.Adding){
		"instrument.kind":        func(in *inventory.Adding) { in.Kind = "" },
		"instrument.tag":         func(in *inventory.Adding) { in.Tag = "VN-09" },
		"instrument.size":        func(in *inventory.Adding) { in.Size = "9/8" },
		"instrument.body":        func(in *inventory.Adding) { in.Body = "silver-plate" },
		"instrument.acquired_on": func(in *inventory.Adding) { in.AcquiredOn = new(thisDay + 1) },
		"instrument.price_cents": func(in *inventory.Adding) { in.PriceCents = new(int64(-1)) },
	} {
		in := violin
		in.ID, in.Tag = uuid.New(), "VN-11"
		change(&in)
		_, err := h.Inventory.Add(ctx, h.director, in)
		assert.Equal(t, path, fault(t, err, journal.Invalid).Fields[0].Path)
	}

	// In a player's hands it cannot be as if it had never come; back again it can, and the tag is free.
	h.roster("external_id,given_name,family_name,instrument\np1,Ode,Marchetti,violin\n", nil)
	pairs := []school.Pair{{PlayerID: h.player("Ode Marchetti").ID, InstrumentID: violin.ID}}
	out, err := h.Lending.HandOut(ctx, h.director, lending.HandOut{Pairs: pairs})
	require.NoError(t, err)
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: added.Events})
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "is in a player's hands")
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: out.Events})
	require.NoError(t, err)
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: added.Events})
	require.NoError(t, err)
	violin.ID = uuid.New()
	again, err := h.Inventory.Add(ctx, h.director, violin)
	require.NoError(t, err)
	assert.True(t, h.file("VN-09").Timeline[0].Undoable)
	h.now = h.now.AddDate(0, 0, 1)
	_, err = h.tick(h.director, "VN-09", clocks.Key{Routine: "peg-compound", Part: "pegs"})
	require.NoError(t, err)
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: again.Events})
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "has a history")
	assert.False(t, h.file("VN-09").Timeline[1].Undoable, "it came in a day ago")

	// A file that was a mistake goes the same way; a dry run leaves nothing to undo.
	dry, err := h.Importing.Import(ctx, h.director, importing.InstrumentFile{Content: []byte("tag,kind\nTR-01,trumpet\n"), DryRun: true})
	require.NoError(t, err)
	assert.Equal(t, 1, dry.Added)
	assert.Empty(t, dry.Events)
	report := h.bring("tag,kind\nTR-01,trumpet\nTR-02,trumpet\n")
	require.Len(t, report.Events, 2)
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: report.Events})
	require.NoError(t, err)
	list, err := h.Inventory.Instruments(ctx, h.director)
	require.NoError(t, err)
	assert.Len(t, list, 1)
}
