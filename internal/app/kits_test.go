package app_test

import (
	"math"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/store/supplyrows"
)

func (h *house) check(tag string, states map[string]catalog.KitState) {
	h.t.Helper()
	_, err := h.Supply.CheckKit(ctx, h.director, h.id(tag), supply.KitCheck{States: states})
	require.NoError(h.t, err)
}

func (h *house) count(of, size string, quantity float64) {
	h.t.Helper()
	_, err := h.Supply.CountStock(ctx, h.director, supply.Count{Stocked: supplyrows.Stocked{Supply: of, Size: size}, Quantity: quantity})
	require.NoError(h.t, err)
}

// line finds a supply in the list for twelve weeks at nine in ten.
func (h *house) line(of, size string) supply.SupplyLine {
	h.t.Helper()
	all, err := h.Supply.Supplies(ctx, h.director, 12, 0.9)
	require.NoError(h.t, err)
	for _, l := range all.Lines {
		if l.Supply == of && l.Size == size {
			return l
		}
	}
	require.Fail(h.t, "no supply "+of)
	return supply.SupplyLine{}
}

func TestARefillRound(t *testing.T) {
	h, ode, _ := desk(t)
	h.bring("tag,kind,room,slot,care_from\nCL-01,clarinet-b-flat,Store,A-02,2026-11-01\nCL-02,clarinet-b-flat,Store,A-01,2026-11-01\n")
	_, err := h.Lending.HandOut(ctx, h.director, lending.HandOut{Pairs: []school.Pair{{PlayerID: ode.ID, InstrumentID: h.id("CL-01")}}})
	require.NoError(t, err)
	h.check("CL-02", map[string]catalog.KitState{"weighted-swab": catalog.Wet})
	h.check("CL-01", map[string]catalog.KitState{"reed-clarinet": catalog.Missing, "cork-grease": catalog.Low})
	h.count("reed-clarinet", "", 5)

	round, err := h.Supply.RefillRound(ctx, h.director)
	require.NoError(t, err)
	require.Len(t, round, 2)
	assert.Equal(t, []string{"CL-01", "CL-02"}, []string{round[0].Tag, round[1].Tag}, "who cannot play comes first")
	assert.Equal(t, 3, round[0].Things[0].Takes)
	assert.EqualValues(t, 5, round[0].Things[0].InStock)
	blocked, err := h.Today.Today(ctx, h.director, 25, 0)
	require.NoError(t, err)
	require.Len(t, blocked.CannotPlay, 1)
	assert.Equal(
		t,
		[]string{"CL-01", "Ode Marchetti", "Missing: B-flat clarinet reed"},
		[]string{blocked.CannotPlay[0].Tag, blocked.CannotPlay[0].Holder, blocked.CannotPlay[0].Because},
	)

	done, err := h.Supply.Refill(ctx, h.director, supply.Refill{Things: blocked.CannotPlay[0].Lacks})
	require.NoError(t, err)
	assert.Empty(t, done.Short)
	assert.EqualValues(t, 2, h.line("reed-clarinet", "").InStock)
	again, err := h.Supply.Refill(ctx, h.director, supply.Refill{Things: blocked.CannotPlay[0].Lacks})
	require.NoError(t, err)
	assert.Empty(t, again.Events, "somebody was quicker; nothing is taken twice")
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: done.Events})
	require.NoError(t, err)
	assert.EqualValues(t, 5, h.line("reed-clarinet", "").InStock, "back in the drawer")

	grease, err := h.Supply.Refill(
		ctx,
		h.director,
		supply.Refill{Things: []supply.ThingOfKit{{InstrumentID: h.id("CL-01"), Supply: "cork-grease"}}},
	)
	require.NoError(t, err)
	assert.Equal(t, []string{"Cork grease"}, grease.Short, "by the books there was none")
	h.check("CL-01", map[string]catalog.KitState{"cork-grease": catalog.Missing})
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: grease.Events})
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "looked at again")
	for path, thing := range map[string]supply.ThingOfKit{"things[0].instrument_id": {InstrumentID: uuid.New(), Supply: "mute"},
		"things[0].supply": {InstrumentID: h.id("CL-01"), Supply: "mute"}} {
		_, err := h.Supply.Refill(ctx, h.director, supply.Refill{Things: []supply.ThingOfKit{thing}})
		assert.Equal(t, path, fault(t, err, journal.Invalid).Fields[0].Path)
	}
}

// Two people at two drawers take what there is, and no more.
func TestStockIsTakenOnce(t *testing.T) {
	h, _, _ := desk(t)
	for _, tag := range []string{"VN-01", "VN-02", "VN-03"} {
		h.check(tag, map[string]catalog.KitState{"rosin": catalog.Missing})
	}
	h.count("rosin", "", 2)
	var short sync.Map
	var all sync.WaitGroup
	for _, tag := range []string{"VN-01", "VN-02", "VN-03"} {
		id := h.id(tag)
		all.Go(func() {
			got, err := h.another().Supply.Refill(
				ctx,
				h.director,
				supply.Refill{Things: []supply.ThingOfKit{{InstrumentID: id, Supply: "rosin"}}},
			)
			assert.NoError(t, err)
			if len(got.Short) > 0 {
				short.Store(tag, true)
			}
		})
	}
	all.Wait()
	n := 0
	short.Range(func(any, any) bool { n++; return true })
	assert.Equal(t, 1, n, "the third finds an empty drawer")
	assert.Zero(t, h.line("rosin", "").InStock)
}

// What is soonest out of date goes first, what is out of date not at all.
func TestDatesOfLots(t *testing.T) {
	h, _, _ := desk(t)
	of := supplyrows.Stocked{Supply: "rosin"}
	soon, later := thisDay+10, thisDay+400
	for _, c := range []supply.Count{{Stocked: of, Quantity: 1, Lot: "L", ExpiresOn: &later},
		{Stocked: of, Quantity: 2, Lot: "S", ExpiresOn: &soon}} {
		_, err := h.Supply.CountStock(ctx, h.director, c)
		require.NoError(t, err)
	}
	past := thisDay - 1
	_, err := h.Supply.CountStock(ctx, h.director, supply.Count{Stocked: of, Quantity: 1, ExpiresOn: &past})
	assert.Equal(t, "expires_on", fault(t, err, journal.Invalid).Fields[0].Path)
	for _, wrong := range []supplyrows.Stocked{{Supply: "magic"}, {Supply: "rosin", Size: "4/4"}, {Supply: "strings-violin"}} {
		_, err := h.Supply.CountStock(ctx, h.director, supply.Count{Stocked: wrong, Quantity: 1})
		fault(t, err, journal.Invalid)
	}
	h.check("VN-01", map[string]catalog.KitState{"rosin": catalog.Missing})
	_, err = h.Supply.Refill(ctx, h.director, supply.Refill{Things: []supply.ThingOfKit{{InstrumentID: h.id("VN-01"), Supply: "rosin"}}})
	require.NoError(t, err)
	line := h.line("rosin", "")
	require.Len(t, line.Lots, 1)
	assert.Equal(t, "L", line.Lots[0].Lot)
	h.now = h.now.AddDate(2, 0, 0)
	line = h.line("rosin", "")
	assert.Equal(t, []float64{0, 1}, []float64{line.InStock, line.OutOfDate})
	h.count("rosin", "", 0)
	assert.Zero(t, h.line("rosin", "").OutOfDate, "written off with the count")
}

// Most instruments come back in June, and so the bench needs its gloves then: two pairs a turnover.
func TestTurnoversAreExpectedWhenInstrumentsAreDueBack(t *testing.T) {
	h, ode, _ := desk(t)
	h.bring("tag,kind,care_from\nCL-01,clarinet-b-flat,2026-11-01\n")
	due := thisDay + 100
	_, err := h.Lending.HandOut(
		ctx,
		h.director,
		lending.HandOut{DueBackOn: &due, Pairs: []school.Pair{{PlayerID: ode.ID, InstrumentID: h.id("CL-01")}}},
	)
	require.NoError(t, err)
	gloves := func(weeks float64) float64 {
		got, err := h.Supply.Supplies(ctx, h.director, weeks, 0.9)
		require.NoError(t, err)
		for _, l := range got.Lines {
			if l.Supply == "gloves" {
				return weeks * l.PerWeek
			}
		}
		return 0
	}
	assert.Zero(t, gloves(14), "98 days")
	assert.InDelta(t, 2, gloves(15), 1e-9)
	h.now = h.now.AddDate(0, 0, 200)
	assert.InDelta(t, 2, gloves(1), 1e-9, "it is overdue and may come any day")
}

// Each player's reeds are of a strength: demand, stock and refills go by it, price and supplier hold for all strengths until one has
// its own, and where nobody knows the strength any reed will do.
func TestReedsGoByThePlayersStrength(t *testing.T) {
	h, _, _ := desk(t)
	h.bring("tag,kind,care_from\nCL-01,clarinet-b-flat,2026-11-01\nCL-02,clarinet-b-flat,2026-11-01\nCL-03,clarinet-b-flat,2026-11-01\n")
	h.roster(
		"external_id,given_name,instrument,reed_strength\nc1,Fen,B-flat clarinet,2\nc2,Bram,B-flat clarinet,3\nc3,Tiva,B-flat clarinet,\n",
		nil,
	)
	for name, tag := range map[string]string{"Fen": "CL-01", "Bram": "CL-02", "Tiva": "CL-03"} {
		_, err := h.Lending.HandOut(
			ctx,
			h.director,
			lending.HandOut{Pairs: []school.Pair{{PlayerID: h.player(name).ID, InstrumentID: h.id(tag)}}},
		)
		require.NoError(t, err)
	}
	general, own := int64(2000), int64(2400)
	of := func(size string) supplyrows.Stocked { return supplyrows.Stocked{Supply: "reed-clarinet", Size: size} }
	require.NoError(
		t,
		h.Supply.SaveSupply(
			ctx,
			h.director,
			supplyrows.SupplySetting{Stocked: of(""), Supplier: "Marsh & Cane", PackSize: 10, PackPriceCents: &general, LeadWeeks: 2},
		),
	)
	require.NoError(
		t,
		h.Supply.SaveSupply(
			ctx,
			h.director,
			supplyrows.SupplySetting{Stocked: of("3"), Supplier: "Reed Barn", PackSize: 5, PackPriceCents: &own, LeadWeeks: 1},
		),
	)
	_, err := h.Supply.CountStock(ctx, h.director, supply.Count{Stocked: of("9"), Quantity: 1})
	assert.Equal(t, "size", fault(t, err, journal.Invalid).Fields[0].Path)
	h.count("reed-clarinet", "2", 4)
	h.count("reed-clarinet", "3", 1)
	all, err := h.Supply.Supplies(ctx, h.director, 12, 0.9)
	require.NoError(t, err)
	var names []string
	for _, l := range all.Lines {
		if l.Supply == "reed-clarinet" {
			names = append(names, l.Name)
		}
	}
	assert.Equal(t, []string{"B-flat clarinet reed 2", "B-flat clarinet reed 3"}, names, "from soft to hard")
	soft, hard := h.line("reed-clarinet", "2"), h.line("reed-clarinet", "3")
	assert.Equal(t, []any{"Marsh & Cane", 10., 4.}, []any{soft.Supplier, soft.PackSize, soft.InStock})
	assert.Equal(t, []any{"Reed Barn", 5., 1.}, []any{hard.Supplier, hard.PackSize, hard.InStock})
	assert.InDelta(t, 2*(1+3*7/365.), soft.PerWeek, 1e-9, "Tiva's are counted with those that most play, of two alike the softer")
	assert.InDelta(t, 1+3*7/365., hard.PerWeek, 1e-9)
	order, err := h.Supply.PlaceOrder(
		ctx,
		h.director,
		supply.Ordering{ID: uuid.New(), Supplier: "Marsh & Cane", Lines: []supply.OrderingLine{{Stocked: of("2"), Packs: 3}}},
	)
	require.NoError(t, err)
	assert.EqualValues(t, 6000, order.Cents)
	soft.SupplySetting.Supplier = "Reed Barn"
	require.NoError(t, h.Supply.SaveSupply(ctx, h.director, soft.SupplySetting), "it becomes the strength's own")

	refill := func(tag string) supply.Refilled {
		h.check(tag, map[string]catalog.KitState{"reed-clarinet": catalog.Missing})
		got, err := h.Supply.Refill(
			ctx,
			h.director,
			supply.Refill{Things: []supply.ThingOfKit{{InstrumentID: h.id(tag), Supply: "reed-clarinet"}}},
		)
		require.NoError(t, err)
		return got
	}
	left := func() []float64 {
		return []float64{h.line("reed-clarinet", "2").InStock, h.line("reed-clarinet", "3").InStock}
	}
	assert.Empty(t, refill("CL-01").Short)
	assert.Equal(t, []float64{1, 1}, left())
	assert.Equal(t, []string{"B-flat clarinet reed"}, refill("CL-02").Short, "softer ones are no use")
	assert.Equal(t, []float64{1, 0}, left())
	h.count("reed-clarinet", "3", 2)
	assert.Empty(t, refill("CL-03").Short, "any will do")
	assert.Equal(t, []float64{0, 0}, left())
}

func TestSizesAndCosts(t *testing.T) {
	h, ode, ilse := desk(t)
	_, err := h.Lending.HandOut(
		ctx,
		h.director,
		lending.HandOut{
			Pairs: []school.Pair{{PlayerID: ode.ID, InstrumentID: h.id("VN-01")}, {PlayerID: ilse.ID, InstrumentID: h.id("VN-02")}},
		},
	)
	require.NoError(t, err)
	long, err := h.Supply.Supplies(ctx, h.director, 26, 0.9)
	require.NoError(t, err)
	for _, size := range []string{"4/4", "3/4", "1/4"} {
		assert.Zero(t, h.line("strings-violin", size).PerWeek, "strings of three weeks last the twelve of the order: %s", size)
		n := slices.IndexFunc(long.Lines, func(l supply.SupplyLine) bool { return l.Supply == "strings-violin" && l.Size == size })
		assert.InDelta(t, 1/26., long.Lines[n].PerWeek, 1e-9, "and all four run out within half a year")
	}
	cents := int64(1300)
	require.NoError(
		t,
		h.Supply.SaveSupply(
			ctx,
			h.director,
			supplyrows.SupplySetting{Stocked: supplyrows.Stocked{Supply: "rosin"}, PackSize: 2, PackPriceCents: &cents, LeadWeeks: 1},
		),
	)
	all, err := h.Supply.Supplies(ctx, h.director, 12, 0.9)
	require.NoError(t, err)
	require.Len(t, all.Costs, 1)
	c := all.Costs[0]
	assert.Equal(
		t,
		[]any{"Violin", 2, int64(650), int64(math.Round(650 * 52 * 7 / 365.))},
		[]any{c.KindName, c.Players, c.KitCents, c.YearCents},
	)
	assert.Equal(t, len(catalog.Embedded().KitOf(mustKind(t, "violin")).Items)-1, c.Unpriced)
	assert.True(t, strings.HasPrefix(h.line("rosin", "").Why.Statement, "3 instruments use"), "one that nobody plays hardens too")
}
