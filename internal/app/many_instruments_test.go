package app_test

import (
	"slices"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/school"
	"solfeggio/internal/store/schoolrows"
)

// Many instruments are changed at once, all or none, and each change can be undone; an ensemble's instruments come back together.
func TestManyInstrumentsAtOnce(t *testing.T) {
	h, ode, _ := desk(t)
	h.bring("tag,kind,room,slot,ensembles\nTR-07,trumpet,Store,A-01,\nVN-08,violin,Store,A-02,Brass\n")
	a, b := h.id("TR-07"), h.id("VN-08")
	s, err := h.Settings.Settings(ctx, h.director)
	require.NoError(t, err)
	brass := s.Ensembles[slices.IndexFunc(s.Ensembles, func(e schoolrows.Ensemble) bool { return e.Name == "Brass" })]
	maker, hall, price := "Corbeau", "Hall", int64(45000)
	change := inventory.ManyInstruments{Instruments: []uuid.UUID{a, b}, Maker: &maker, Room: &hall, PriceCents: &price,
		Join: []uuid.UUID{brass.ID}}
	changed, err := h.Inventory.ChangeMany(ctx, h.director, change)
	require.NoError(t, err)
	assert.Len(t, changed.Events, 3, "both changed, and one is played from now on")
	f, err := h.Inventory.File(ctx, h.director, a)
	require.NoError(t, err)
	assert.Equal(t, []any{"Corbeau", "Hall", "", int64(45000), []string{brass.Name}},
		[]any{f.Instrument.Maker, f.Instrument.Room, f.Instrument.Slot, *f.Instrument.PriceCents, f.Listed.Ensembles})
	again, err := h.Inventory.ChangeMany(ctx, h.director, change)
	require.NoError(t, err)
	assert.Empty(t, again.Events, "nothing had changed")

	_, err = h.Inventory.ChangeMany(ctx, h.director, inventory.ManyInstruments{Instruments: []uuid.UUID{a, uuid.New()}, Maker: &maker})
	fault(t, err, journal.Invalid)
	_, err = h.Inventory.ChangeMany(ctx, h.director, inventory.ManyInstruments{Instruments: []uuid.UUID{a, a}, Maker: &maker})
	fault(t, err, journal.Invalid)
	_, err = h.Inventory.ChangeMany(ctx, h.director, inventory.ManyInstruments{Instruments: []uuid.UUID{a}, Leave: []uuid.UUID{uuid.New()}})
	fault(t, err, journal.Invalid)

	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: changed.Events})
	require.NoError(t, err)
	f, err = h.Inventory.File(ctx, h.director, a)
	require.NoError(t, err)
	assert.Equal(t, []any{"", "Store", "A-01", []string{}},
		[]any{f.Instrument.Maker, f.Instrument.Room, f.Instrument.Slot, f.Listed.Ensembles})

	_, err = h.Lending.HandOver(ctx, h.director, h.handing(ode, "TR-07"))
	require.NoError(t, err)
	_, err = h.Lending.ReturnUnseen(ctx, h.director, lending.Returns{Instruments: []uuid.UUID{a, uuid.New()}})
	fault(t, err, journal.Invalid)
	back, err := h.Lending.ReturnUnseen(ctx, h.director, lending.Returns{Instruments: []uuid.UUID{a, b}})
	require.NoError(t, err)
	assert.Len(t, back.Events, 2)
	for _, id := range []uuid.UUID{a, b} {
		f, err := h.Inventory.File(ctx, h.director, id)
		require.NoError(t, err)
		assert.Equal(t, []any{false, "turnover: clean, disinfect, dry"}, []any{f.Listed.Played, f.Listed.Held})
	}
	_, err = h.Lending.ReturnUnseen(ctx, h.director, lending.Returns{Instruments: []uuid.UUID{a}})
	fault(t, err, journal.Conflict)

	// One that is stopped meanwhile stays when the return of all is undone, and that is said; its return stays in the timeline.
	h.inspect("VN-08", map[string]inspection.Found{"seams": {Code: "open-seam"}})
	undone, err := h.Schools.Undo(ctx, h.director, school.Undo{Events: back.Events})
	require.NoError(t, err)
	assert.Len(t, undone.Events, 1)
	require.Len(t, undone.Stays, 1)
	assert.Contains(t, undone.Stays[0], "VN-08")
	assert.Equal(t, []bool{true, false}, []bool{h.listed("TR-07").Played, h.listed("VN-08").Played})
	assert.Contains(t, h.said("VN-08"), "Came back")
}
