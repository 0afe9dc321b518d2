package app_test

import (
	"slices"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/bench"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store/supplyrows"
)

func TestTwoPeopleTickTheSameStep(t *testing.T) {
	h := atTheBench(t)
	run := h.begin(catalog.Turnover, "FL-01")
	id := h.id("FL-01")
	errs := make([]error, 8)
	var wait sync.WaitGroup
	for n := range errs {
		wait.Go(func() {
			_, errs[n] = h.another().Bench.Tick(ctx, h.director, run.ID, bench.Tick{InstrumentID: id, N: 0, Do: "begin"})
		})
	}
	wait.Wait()
	ticked := 0
	for _, err := range errs {
		if err == nil {
			ticked++
		} else {
			fault(t, err, journal.Conflict)
		}
	}
	assert.Equal(t, 1, ticked)
}

// Several people put overlapping batches on their benches at once: no instrument lies on two, and a refused batch keeps nothing.
func TestTwoPeopleBeginWithTheSameInstrument(t *testing.T) {
	h := atTheBench(t)
	batches := [][]string{{"CL-01", "FL-01"}, {"FL-01", "TR-01"}, {"TR-01", "SX-01"}, {"SX-01", "CL-01"}}
	in := make([]bench.Benching, len(batches))
	for n, tags := range batches {
		in[n] = h.benching(catalog.Turnover, tags...)
	}
	runs, errs := make([]bench.Begun, len(in)), make([]error, len(in))
	var wait sync.WaitGroup
	for n := range in {
		wait.Go(func() { runs[n], errs[n] = h.another().Bench.Begin(ctx, h.director, in[n]) })
	}
	wait.Wait()
	on := map[string]int{}
	begun := 0
	for n := range in {
		if errs[n] != nil {
			fault(t, errs[n], journal.Conflict)
			continue
		}
		begun++
		run, err := h.Bench.Run(ctx, h.director, runs[n].ID)
		require.NoError(t, err)
		for _, i := range run.Items {
			on[i.Tag]++
		}
	}
	assert.Positive(t, begun)
	for tag, times := range on {
		assert.Equal(t, 1, times, tag)
	}
	list, err := h.Bench.Overview(ctx, h.director)
	require.NoError(t, err)
	assert.Len(t, list.Runs, begun)
}

// One ends the work while others tick: each tick is in the record or refused, and nothing of it is left open.
func TestTheWorkIsEndedWhileOthersTick(t *testing.T) {
	h := atTheBench(t)
	tags := []string{"CL-01", "FL-01", "TR-01", "SX-01", "VN-01"}
	run := h.begin(catalog.Turnover, tags...)
	errs := make([]error, len(tags))
	ids := map[string]uuid.UUID{}
	for _, tag := range tags {
		ids[tag] = h.id(tag)
	}
	var wait sync.WaitGroup
	for n, tag := range tags {
		wait.Go(func() {
			_, errs[n] = h.another().Bench.Tick(ctx, h.director, run.ID, bench.Tick{InstrumentID: ids[tag], N: 0, Do: "begin"})
		})
	}
	wait.Go(func() {
		_, err := h.another().Bench.End(ctx, h.director, run.ID)
		assert.NoError(t, err)
	})
	wait.Wait()
	run, err := h.Bench.Run(ctx, h.director, run.ID)
	require.NoError(t, err)
	require.NotNil(t, run.EndedAt)
	for n, tag := range tags {
		i := item(t, run, tag)
		assert.Equal(t, "taken off", i.State)
		assert.Equal(t, errs[n] == nil, i.Steps[0].BegunAt != nil, "%s: what was answered is what is kept", tag)
		assert.NotEmpty(t, h.listed(tag).Held)
	}
}

// A bottle is empty in the middle of the work: what was begun keeps its lot, all that comes after is from the other, and nothing is
// poured from a lot that is not there, is out of date, or is of another product.
func TestABottleIsEmpty(t *testing.T) {
	h := atTheBench(t)
	far, past := thisDay+200, thisDay+1
	for lot, until := range map[string]day.Day{"L-2": far, "L-old": past} {
		all := h.line("wipes", "").InStock
		_, err := h.Supply.CountStock(
			ctx,
			h.director,
			supply.Count{Stocked: supplyrows.Stocked{Supply: "wipes"}, Quantity: all + 20, Lot: lot, ExpiresOn: &until},
		)
		require.NoError(t, err)
	}
	run := h.begin(catalog.Turnover, "FL-01", "CL-01")
	lots := func(run bench.BenchRun) (begun, later []string) {
		for _, i := range run.Items {
			for _, s := range i.Steps {
				switch {
				case s.Product != wipes.Name:
				case s.BegunAt != nil:
					begun = append(begun, s.Lot)
				default:
					later = append(later, s.Lot)
				}
			}
		}
		return begun, slices.Compact(later)
	}
	got, err := h.step(run, "FL-01", "begin", "")
	require.NoError(t, err)
	begun, later := lots(got.Run)
	assert.Equal(t, [][]string{{"L-old"}, {"L-old"}}, [][]string{begun, later}, "soonest out of date first")
	n := slices.IndexFunc(got.Run.Pouring, func(p bench.Pouring) bool { return p.ProductID == wipes.ID })
	require.GreaterOrEqual(t, n, 0)
	assert.Equal(
		t,
		bench.Pouring{ProductID: wipes.ID, Product: wipes.Name, Lot: "L-old", Lots: []string{"L-2", "L-wipes"}},
		got.Run.Pouring[n],
	)

	other, err := h.PourBench(ctx, h.director, run.ID, bench.Repouring{ProductID: wipes.ID, Lot: "L-2"})
	require.NoError(t, err)
	begun, later = lots(other.Run)
	assert.Equal(t, [][]string{{"L-old"}, {"L-2"}}, [][]string{begun, later})
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: got.Events})
	require.NoError(t, err)
	taken, err := h.Bench.Run(ctx, h.director, run.ID)
	require.NoError(t, err)
	begun, later = lots(taken)
	assert.Empty(t, begun)
	assert.Equal(t, []string{"L-2"}, later, "what was not wet after all is wetted from the new bottle")
	got, err = h.step(taken, "FL-01", "begin", "")
	require.NoError(t, err)
	same, err := h.PourBench(ctx, h.director, run.ID, bench.Repouring{ProductID: wipes.ID, Lot: "L-2"})
	require.NoError(t, err)
	assert.Equal(t, got.Run.Items, same.Run.Items)

	refused := func(product uuid.UUID, lot string) string {
		_, err := h.PourBench(ctx, h.director, run.ID, bench.Repouring{ProductID: product, Lot: lot})
		return fault(t, err, journal.Invalid).Fields[0].Path
	}
	assert.Equal(t, "lot", refused(wipes.ID, "L-alcohol-70"))
	assert.Equal(t, "lot", refused(wipes.ID, ""))
	assert.Equal(t, "product_id", refused(uuid.New(), "L-2"))
	h.now = h.now.AddDate(0, 0, 3)
	assert.Equal(t, "lot", refused(wipes.ID, "L-old"), "it is out of date now")
	ended, err := h.EndBench(ctx, h.director, run.ID)
	require.NoError(t, err)
	assert.Empty(t, ended.Run.Pouring)
	_, err = h.PourBench(ctx, h.director, run.ID, bench.Repouring{ProductID: wipes.ID, Lot: "L-2"})
	fault(t, err, journal.Conflict)
}

// Somebody sets the server's clock ahead by an hour in the middle of a contact time: the surface stays wet as long as the label says.
// A few milliseconds between two clocks hold nobody up, and an override says in the record that nobody waited.
func TestAClockThatIsSetAheadCutsNoContactTimeShort(t *testing.T) {
	h := atTheBench(t)
	steady := time.Duration(0)
	h.Bench.Steady = func() time.Duration { return steady }
	run := h.begin(catalog.Turnover, "FL-01", "CL-01", "VN-01")
	for _, tag := range []string{"FL-01", "CL-01", "VN-01"} {
		_, err := h.step(run, tag, "begin", "")
		require.NoError(t, err)
	}
	run, err := h.Bench.Run(ctx, h.director, run.ID)
	require.NoError(t, err)
	h.now, steady = h.now.Add(time.Hour), time.Minute
	_, err = h.step(run, "FL-01", "done", "")
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "was set ahead. Case outside began 60 s ago and must wait 3 min more.")
	got, err := h.step(run, "CL-01", "done", "the case was dry before")
	require.NoError(t, err)
	assert.Equal(t, "the case was dry before", item(t, got.Run, "CL-01").Steps[0].Override)
	steady = 4*time.Minute - time.Second
	_, err = h.step(run, "FL-01", "done", "")
	require.NoError(t, err)

	h.App = h.another() // which saw nothing begin and has the wall clock alone
	_, err = h.step(run, "VN-01", "done", "")
	require.NoError(t, err)
}

// What was poured is what leaves the stock, though another lot is sooner out of date.
func TestStockLeavesTheBottleThatWasPoured(t *testing.T) {
	h := atTheBench(t)
	soon := thisDay + 30
	_, err := h.Supply.CountStock(
		ctx,
		h.director,
		supply.Count{Stocked: supplyrows.Stocked{Supply: "wipes"}, Quantity: 150, Lot: "L-soon", ExpiresOn: &soon},
	)
	require.NoError(t, err)
	run := h.begin(catalog.Turnover, "VN-01")
	poured, err := h.PourBench(ctx, h.director, run.ID, bench.Repouring{ProductID: wipes.ID, Lot: "L-wipes"})
	require.NoError(t, err)
	h.through(poured.Run, "VN-01", "")
	left := map[string]float64{}
	for _, l := range h.line("wipes", "").Lots {
		left[l.Lot] = l.Remaining
	}
	assert.InDelta(t, 50, left["L-soon"], 1e-9)
	assert.Less(t, left["L-wipes"], 100.)
}
