package app_test

import (
	"bytes"
	"encoding/csv"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/formats"
	"solfeggio/internal/store/supplyrows"
)

// From what players use to what is in the drawer. The figures are worked by hand from the catalogue.
func TestFromDemandToStock(t *testing.T) {
	h, ode, _ := desk(t)
	h.bring("tag,kind,care_from\nCL-01,clarinet-b-flat,2026-11-01\nCL-02,clarinet-b-flat,2026-11-01\n")
	_, err := h.Lending.HandOut(ctx, h.director, lending.HandOut{Pairs: []school.Pair{{PlayerID: ode.ID, InstrumentID: h.id("CL-01")}}})
	require.NoError(t, err)
	assert.InDelta(t, 0.1/5, h.line("cork-grease", "").PerWeek, 1e-9, "the player's weekly grease counts though no clock is kept of it")
	cents := int64(2000)
	require.NoError(
		t,
		h.Supply.SaveSupply(
			ctx,
			h.director,
			supplyrows.SupplySetting{
				Stocked:        supplyrows.Stocked{Supply: "reed-clarinet"},
				Supplier:       "Marsh & Cane",
				PackSize:       10,
				PackPriceCents: &cents,
				LeadWeeks:      2,
			},
		),
	)
	fault(
		t,
		h.Supply.SaveSupply(ctx, h.director, supplyrows.SupplySetting{Stocked: supplyrows.Stocked{Supply: "reed-clarinet"}, PackSize: 5}),
		journal.Conflict,
	)
	h.count("reed-clarinet", "", 3)
	line := h.line("reed-clarinet", "")
	perWeek := 1 + 3*7/365.
	assert.InDelta(
		t,
		perWeek,
		line.PerWeek,
		1e-9,
		"three in rotation for three weeks, one player, no breaks entered; three new ones at a turnover a year",
	)
	assert.InDelta(t, 14*perWeek, line.Forecast.Expected, 1e-9, "twelve weeks and two until they arrive")
	assert.EqualValues(t, 20, line.Forecast.Needed, "scipy.stats.poisson.ppf(0.9, 14*(1 + 21/365))")
	assert.EqualValues(t, 2, line.Forecast.OrderPacks)
	assert.InDelta(t, 3/perWeek, *line.LastsWeeks, 1e-9)

	h.check("CL-02", map[string]catalog.KitState{"reed-clarinet": catalog.Missing})
	line = h.line("reed-clarinet", "")
	assert.EqualValues(t, 3, line.Wanting)
	assert.InDelta(t, 14*perWeek+3, line.Forecast.Expected, 1e-9, "with the three that a kit lacks now")
	assert.InDelta(t, 0, *line.LastsWeeks, 1e-9)

	order, err := h.Supply.PlaceOrder(
		ctx,
		h.director,
		supply.Ordering{
			ID:       uuid.New(),
			Supplier: " Marsh & Cane ",
			Lines:    []supply.OrderingLine{{Stocked: line.Stocked, Packs: 2}, {Stocked: supplyrows.Stocked{Supply: "wipes"}, Packs: 1}},
		},
	)
	require.NoError(t, err)
	assert.Equal(t, "Marsh & Cane", order.Supplier)
	assert.EqualValues(t, 4000, order.Cents)
	assert.Equal(t, thisDay+14, *order.ExpectedOn)
	assert.EqualValues(t, 20, h.line("reed-clarinet", "").OnOrder)
	assert.Zero(t, h.line("reed-clarinet", "").Forecast.OrderPacks, "what is on its way is not ordered again")

	var text, book bytes.Buffer
	require.NoError(t, h.Supply.OrderFile(ctx, h.director, order.ID, formats.CSV(&text)))
	rows, err := csv.NewReader(&text).ReadAll()
	require.NoError(t, err)
	assert.Equal(t, []string{"Marsh & Cane", "B-flat clarinet reed, any strength", "2", "10", "reed", "20.00", "40.00", "EUR"}, rows[1])
	require.NoError(t, h.Supply.OrderFile(ctx, h.director, order.ID, formats.Workbook(&book, "order")))
	sheet, err := excelize.OpenReader(&book)
	require.NoError(t, err)
	inBook, err := sheet.GetRows("Order")
	require.NoError(t, err)
	assert.Equal(t, []string{"Marsh & Cane", "B-flat clarinet reed, any strength", "2", "10", "reed", "20", "40", "EUR"}, inBook[1])

	wipes := supplyrows.Stocked{Supply: "wipes"}
	_, err = h.Supply.Receive(ctx, h.director, order.ID, supply.Receiving{Lines: []supply.ReceivingLine{{Stocked: wipes, Packs: 1}}})
	assert.Equal(t, "lines[0].expires_on", fault(t, err, journal.Invalid).Fields[0].Path, "a disinfectant carries a date")
	until := thisDay + 300
	_, err = h.Supply.Receive(
		ctx,
		h.director,
		order.ID,
		supply.Receiving{
			Lines: []supply.ReceivingLine{{Stocked: wipes, Packs: 1, Lot: "W7", ExpiresOn: &until}, {Stocked: line.Stocked, Packs: 1}},
		},
	)
	require.NoError(t, err)
	assert.EqualValues(t, 13, h.line("reed-clarinet", "").InStock)
	assert.EqualValues(t, 10, h.line("reed-clarinet", "").OnOrder)
	rest, err := h.Supply.Receive(ctx, h.director, order.ID, supply.Receiving{Close: true})
	require.NoError(t, err)
	assert.NotNil(t, rest.ClosedOn, "the rest never came")
	assert.Zero(t, h.line("reed-clarinet", "").OnOrder)
	_, err = h.Supply.Receive(ctx, h.director, order.ID, supply.Receiving{})
	fault(t, err, journal.Conflict)
	_, err = h.Supply.PlaceOrder(
		ctx,
		h.director,
		supply.Ordering{ID: uuid.New(), Lines: []supply.OrderingLine{{Stocked: wipes, Packs: 1}, {Stocked: wipes, Packs: 2}}},
	)
	assert.Contains(t, fault(t, err, journal.Invalid).Fields[0].Message, "twice")
}

// Sizes of strings are stocked apart, and the cost of a kit is that of its things.
// An order of long ago that is still open counts, is listed, and takes what comes in, however many came after it.
func TestAnOldOrderIsStillOpen(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind,size,care_from,practice_minutes_per_week\nVN-01,violin,4/4,2026-11-01,60\n")
	rosin := supplyrows.Stocked{Supply: "rosin"}
	old := supply.Ordering{ID: uuid.New(), Supplier: "Marsh & Cane", Lines: []supply.OrderingLine{{Stocked: rosin, Packs: 3}}}
	_, err := h.Supply.PlaceOrder(ctx, h.director, old)
	require.NoError(t, err)
	h.now = h.now.AddDate(0, 0, 1)
	for range 205 {
		later, err := h.Supply.PlaceOrder(
			ctx,
			h.director,
			supply.Ordering{ID: uuid.New(), Supplier: "Marsh & Cane", Lines: []supply.OrderingLine{{Stocked: rosin, Packs: 1}}},
		)
		require.NoError(t, err)
		_, err = h.Supply.Receive(ctx, h.director, later.ID, supply.Receiving{Close: true})
		require.NoError(t, err)
	}
	assert.InDelta(t, 3, h.line("rosin", "").OnOrder, 1e-9)
	list, err := h.Supply.Orders(ctx, h.director)
	require.NoError(t, err)
	assert.Len(t, list, 201, "and of the closed ones the latest")
	assert.Equal(t, old.ID, list[200].ID)
	_, err = h.Supply.Receive(ctx, h.director, old.ID, supply.Receiving{Lines: []supply.ReceivingLine{{Stocked: rosin, Packs: 3}}})
	require.NoError(t, err)
}

// An order that was placed by mistake is taken back, as long as nothing of it has come.
func TestAnOrderIsTakenBack(t *testing.T) {
	h := newHouse(t)
	place := func() supply.PlacedOrder {
		o, err := h.Supply.PlaceOrder(ctx, h.director, supply.Ordering{
			ID: uuid.New(), Supplier: "Marsh & Cane", Lines: []supply.OrderingLine{{Stocked: supplyrows.Stocked{Supply: "wipes"}, Packs: 3}},
		})
		require.NoError(t, err)
		return o
	}
	mistake := place()
	_, err := h.Schools.Undo(ctx, h.director, school.Undo{Events: mistake.Events})
	require.NoError(t, err)
	assert.Zero(t, h.line("wipes", "").OnOrder)

	come := place()
	one := supply.ReceivingLine{Stocked: come.Lines[0].Stocked, Packs: 1, Lot: "Q-2208", ExpiresOn: new(thisDay + 300)}
	_, err = h.Supply.Receive(ctx, h.director, come.ID, supply.Receiving{Lines: []supply.ReceivingLine{one}})
	require.NoError(t, err)
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: come.Events})
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "has come")
	assert.Positive(t, h.line("wipes", "").OnOrder)
}
