package app_test

import (
	"bytes"
	"errors"
	"fmt"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/bench"
	"solfeggio/internal/app/importing"
	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/rentals"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/shop"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/condition"
	"solfeggio/internal/formats"
	"solfeggio/internal/pgtest"
	"solfeggio/internal/store/instrumentrows"
	"solfeggio/internal/store/shoprows"
)

// The states in which an instrument goes into nobody's hands.
var states = []struct {
	name  string
	enter func(h *house, k *knocking)
}{
	{"free", nil},
	{"stopped", func(h *house, k *knocking) {
		_, err := h.Inspection.ReportFinding(
			ctx,
			h.director,
			k.id,
			inspection.Report{ID: uuid.New(), Found: inspection.Found{Code: "open-seam"}},
		)
		require.NoError(h.t, err)
	}},
	{"held", func(h *house, k *knocking) {
		_, err := h.Lending.HandOut(
			ctx,
			h.director,
			lending.HandOut{Pairs: []school.Pair{{PlayerID: h.player("Ilse Quandt").ID, InstrumentID: k.id}}},
		)
		require.NoError(h.t, err)
		_, err = h.Lending.Return(ctx, h.director, k.id, lending.Returning{})
		require.NoError(h.t, err)
	}},
	{"on the bench", func(h *house, k *knocking) {
		_, err := h.BeginBench(ctx, h.director, h.benching(catalog.Turnover, knocked))
		require.NoError(h.t, err)
	}},
	{"in other hands", func(h *house, k *knocking) {
		_, err := h.Lending.HandOut(
			ctx,
			h.director,
			lending.HandOut{Pairs: []school.Pair{{PlayerID: h.player("Ilse Quandt").ID, InstrumentID: k.id}}},
		)
		require.NoError(h.t, err)
	}},
	{"at the shop", func(h *house, k *knocking) { h.sendAway(k.id) }},
	{"back from the shop and not checked in", func(h *house, k *knocking) {
		_, err := h.Shop.Fetched(ctx, h.director, h.sendAway(k.id), shop.At{Version: 3})
		require.NoError(h.t, err)
	}},
	{"not at the school any more", func(h *house, k *knocking) {
		_, err := h.Rentals.Leave(ctx, h.director, k.id, rentals.Leaving{How: "sold"})
		require.NoError(h.t, err)
	}},
}

// sendAway gives an instrument to a shop, and says the job.
func (h *house) sendAway(instrument uuid.UUID) uuid.UUID {
	h.t.Helper()
	at := shoprows.RepairShop{ID: uuid.New(), Name: "Quoin Street Strings", Trades: []string{"strings"}, Way: shoprows.ByMessage}
	require.NoError(h.t, h.Shop.SaveShop(ctx, h.director, at))
	job := shop.Wanting{ID: uuid.New(), InstrumentID: instrument, Origin: shoprows.ByHand, Asks: "It buzzes."}
	_, err := h.Shop.Want(ctx, h.director, job)
	require.NoError(h.t, err)
	_, err = h.Shop.Agree(ctx, h.director, job.ID, shop.At{Version: 1})
	require.NoError(h.t, err)
	_, err = h.Shop.Send(ctx, h.director, job.ID, shop.Departure{At: shop.At{Version: 2}})
	require.NoError(h.t, err)
	return job.ID
}

// Nothing that is stopped, held, at a shop, on the bench, in other hands or gone comes into a player's hands, whatever way is tried.
func TestNoDoorLetsOutWhatMustStay(t *testing.T) {
	db := pgtest.Open(t)
	for _, state := range states {
		for _, d := range doors {
			t.Run(state.name+"/"+d.name, func(t *testing.T) {
				h, ode, _ := deskOn(t, newHouseOn(t, db, state.name+d.name+"@quillhaven.example"))
				require.NoError(t, h.Products.SaveProduct(ctx, h.director, wipes))
				h.count("wipes", "", 100)
				_, err := h.Inventory.ChangeInstrument(
					ctx,
					h.director,
					h.id("VN-02"),
					lending.Change{Instrument: h.file("VN-02").Instrument, Habit: playing(nil)},
				)
				require.NoError(t, err)
				k := &knocking{ode: ode, id: h.id(knocked)}
				if d.prepare != nil {
					d.prepare(h, k)
				}
				if state.enter != nil {
					state.enter(h, k)
				}
				k.before = h.fileOf(k.id)
				err = d.knock(h, k)
				after := h.fileOf(k.id)
				if state.enter == nil {
					assert.Equal(t, d.opens, after.Habit != nil, "%v", err)
					return
				}
				var refused *journal.Fault
				require.True(t, err == nil || errors.As(err, &refused), "%v", err)
				assert.Equal(t, k.before.Habit, after.Habit)
				assert.Equal(t, k.before.Listed.Holder, after.Listed.Holder)
				assert.Equal(t, k.before.Listed.Held, after.Listed.Held)
			})
		}
	}
}

// Whatever a director does with three violins by any way that there is, no violin comes into new hands unless it was free: sound, not
// held, not on the bench. Between two players lies a turnover.
func TestBetweenTwoPlayersLiesATurnover(t *testing.T) {
	db := pgtest.Open(t)
	opened := 0
	for seed := range uint64(25) {
		r := rand.New(rand.NewPCG(seed, 7))
		h, ode, ilse := deskOn(t, newHouseOn(t, db, fmt.Sprintf("ines-%d@quillhaven.example", seed)))
		tags := []string{"VN-01", "VN-02", "VN-03"}
		var events []uuid.UUID
		var file string
		for n := range 25 {
			tag := pick(r, tags)
			before := map[string]inventory.File{}
			for _, each := range tags {
				before[each] = h.file(each)
			}
			player := pick(r, []*uuid.UUID{&ode.ID, &ilse.ID, nil})
			changed, deed, err := journal.Changed{}, "", error(nil)
			switch r.IntN(11) {
			case 0:
				deed = "hand out"
				if player != nil {
					var out lending.HandedOut
					out, err = h.Lending.HandOut(
						ctx,
						h.director,
						lending.HandOut{Pairs: []school.Pair{{PlayerID: *player, InstrumentID: h.id(tag)}}},
					)
					changed.Events = out.Events
				}
			case 1:
				deed = "return"
				changed, err = h.Lending.Return(ctx, h.director, h.id(tag), lending.Returning{})
			case 2:
				deed = "change"
				changed, err = h.Inventory.ChangeInstrument(
					ctx,
					h.director,
					h.id(tag),
					lending.Change{Instrument: before[tag].Instrument, Habit: playing(player)},
				)
			case 3:
				deed = "take away by hand"
				changed, err = h.Inventory.ChangeInstrument(ctx, h.director, h.id(tag), lending.Change{Instrument: before[tag].Instrument})
			case 4:
				deed = "lend"
				changed, err = h.Lending.Lend(ctx, h.director, h.id(tag), lending.Lending{LoanerID: h.id(pick(r, tags))})
			case 5:
				deed = "report"
				_, err = h.Inspection.ReportFinding(
					ctx,
					h.director,
					h.id(tag),
					inspection.Report{ID: uuid.New(), Found: inspection.Found{Code: "open-seam"}},
				)
			case 6:
				deed = "clear"
				for _, f := range before[tag].Findings {
					_, err = h.Inspection.ClearFinding(ctx, h.director, f.ID, inspection.Clearing{How: "Mended."})
				}
			case 7:
				deed = "release"
				_, err = h.Bench.Release(ctx, h.director, h.id(tag), bench.Releasing{How: "Wiped."})
			case 8:
				deed = "export"
				var csv bytes.Buffer
				err = h.Importing.Export(ctx, h.director, formats.CSV(&csv))
				file = csv.String()
			case 9:
				if deed = "import"; file != "" {
					err = h.bringAgain(file)
				}
			case 10:
				if deed = "undo"; len(events) > 0 {
					_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: []uuid.UUID{pick(r, events)}})
				}
			}
			var refused *journal.Fault
			require.True(t, err == nil || errors.As(err, &refused), "%s: %v", deed, err)
			events = append(events, changed.Events...)
			for _, each := range tags {
				was, is := before[each], h.file(each)
				wentOut := is.Habit != nil && (was.Habit == nil || is.Listed.Played && is.Listed.Holder != was.Listed.Holder)
				if !wentOut {
					continue
				}
				opened++
				where := fmt.Sprintf("deed %d, %s of %s: %s", n, deed, tag, each)
				require.Empty(t, was.Listed.Stopped, where)
				require.Nil(t, was.Bench, where)
				require.Empty(t, is.Listed.Held, where)
				if deed != "undo" { // which ends the hold of what it undoes
					require.Empty(t, was.Listed.Held, where)
				}
				require.Empty(t, was.Listed.Holder, where)
			}
			if r.IntN(6) == 0 {
				h.now = h.now.Add(24 * time.Hour)
			}
		}
	}
	assert.Greater(t, opened, 25)
}

// A form or a file from before somebody's hand-out takes nothing away from them.
func TestWhatIsOldChangesNothing(t *testing.T) {
	h, ode, _ := desk(t)
	old := h.file(knocked)
	var csv bytes.Buffer
	require.NoError(t, h.Importing.Export(ctx, h.director, formats.CSV(&csv)))
	_, err := h.Lending.HandOut(ctx, h.director, lending.HandOut{Pairs: []school.Pair{{PlayerID: ode.ID, InstrumentID: h.id(knocked)}}})
	require.NoError(t, err)
	_, err = h.Inventory.ChangeInstrument(ctx, h.director, h.id(knocked), lending.Change{Instrument: old.Instrument})
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "Somebody else changed this")

	report, err := h.Importing.Import(ctx, h.director, importing.InstrumentFile{Content: csv.Bytes()})
	require.NoError(t, err)
	require.Len(t, report.Faults, 1, "the other rows say what is so")
	assert.Equal(t, "version", report.Faults[0].Column)
	emptied := h.bringAgain("tag,kind,ensembles,practice_minutes_per_week\n" + knocked + ",violin,,0\n")
	assert.Contains(t, fault(t, emptied, journal.Conflict).Message, "is in the hands of Ode Marchetti")
	_, err = h.Lending.Return(ctx, h.director, h.id(knocked), lending.Returning{})
	require.NoError(t, err, "and the return is still open")

	_, err = h.Rentals.Leave(ctx, h.director, h.id(knocked), rentals.Leaving{How: "sold"})
	require.NoError(t, err)
	assert.Contains(
		t,
		fault(t, h.bringAgain("tag,kind,version\n"+knocked+",violin,0a1b2c3d\n"), journal.Conflict).Message,
		"has left the school since",
	)
}

// What went out is not undone days later, as if nobody had played it; and who left gets nothing back.
func TestUndoingKnowsWhatHappenedSince(t *testing.T) {
	h, ode, _ := desk(t)
	out, err := h.Lending.HandOut(ctx, h.director, lending.HandOut{Pairs: []school.Pair{{PlayerID: ode.ID, InstrumentID: h.id(knocked)}}})
	require.NoError(t, err)
	h.now = h.now.Add(48 * time.Hour)
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: out.Events})
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "Take it back instead")
	back, err := h.Lending.Return(ctx, h.director, h.id(knocked), lending.Returning{})
	require.NoError(t, err)
	left := h.player(ode.Name).Player
	gone := thisDay
	left.LeftOn = &gone
	require.NoError(t, h.Roster.SavePlayer(ctx, h.director, left))
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: back.Events})
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "has left")
	_, err = h.Inventory.ChangeInstrument(
		ctx,
		h.director,
		h.id(knocked),
		lending.Change{Instrument: h.file(knocked).Instrument, Habit: playing(&ode.ID)},
	)
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "held")
	h.let(knocked)
	_, err = h.Inventory.ChangeInstrument(
		ctx,
		h.director,
		h.id(knocked),
		lending.Change{Instrument: h.file(knocked).Instrument, Habit: playing(&ode.ID)},
	)
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "has left")
}

// What lies on the bench does not leave the school, and only what cleans ends the wait for a turnover.
func TestTheBenchKeepsWhatItHas(t *testing.T) {
	h := atTheBench(t)
	run := h.begin(catalog.Turnover, "VN-01")
	_, err := h.Rentals.Leave(ctx, h.director, h.id("VN-01"), rentals.Leaving{How: "sold"})
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "lies on the bench")
	require.NoError(
		t,
		h.Rentals.SaveRental(ctx, h.director, h.id("VN-01"), instrumentrows.Rental{ID: uuid.New(), Owner: "Marl & Daughter", StartsOn: thisDay}),
	)
	_, err = h.Rentals.ExchangeRental(ctx, h.director, h.id("VN-01"), rentals.Exchange{ID: uuid.New(), Tag: "VN-99"})
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "lies on the bench")
	h.through(run, "VN-01", "")
	assert.Equal(t, condition.Concert, h.listed("VN-01").Grade)
}
