package app_test

import (
	"context"
	"slices"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/bench"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/store/benchrows"
	"solfeggio/internal/store/supplyrows"
)

// atTheBench is a school with six instruments that came back, and what it takes to turn them over.
func atTheBench(t *testing.T) *house {
	h := newHouse(t)
	h.bring(returned)
	for _, tag := range []string{"CL-01", "CL-02", "FL-01", "TR-01", "SX-01", "VN-01"} {
		_, err := h.Lending.Return(ctx, h.director, h.id(tag), lending.Returning{})
		require.NoError(t, err)
	}
	for _, p := range []benchrows.Product{alcohol, wipes} {
		require.NoError(t, h.Products.SaveProduct(ctx, h.director, p))
	}
	far := thisDay + 300
	for of, units := range map[string]float64{"alcohol-70": 2, "wipes": 100} {
		_, err := h.Supply.CountStock(
			ctx,
			h.director,
			supply.Count{Stocked: supplyrows.Stocked{Supply: of}, Quantity: units, Lot: "L-" + of, ExpiresOn: &far},
		)
		require.NoError(t, err)
	}
	h.count("gloves", "", 50)
	return h
}

func (h *house) benching(reason catalog.Reason, tags ...string) bench.Benching {
	in := bench.Benching{People: 2}
	for _, tag := range tags {
		in.Instruments = append(in.Instruments, bench.OnBench{InstrumentID: h.id(tag), Reason: reason})
	}
	return in
}

func (h *house) begin(reason catalog.Reason, tags ...string) bench.BenchRun {
	h.t.Helper()
	run, err := h.BeginBench(ctx, h.director, h.benching(reason, tags...))
	require.NoError(h.t, err)
	return run
}

// A worked bench is what was done and how the work then stands, as a screen reads it.
type worked struct {
	bench.Ticked
	Run bench.BenchRun
}

// BeginBench begins and looks at the work.
func (h *house) BeginBench(ctx context.Context, by journal.Person, in bench.Benching) (bench.BenchRun, error) {
	begun, err := h.Bench.Begin(ctx, by, in)
	if err != nil {
		return bench.BenchRun{}, err
	}
	return h.Bench.Run(ctx, by, begun.ID)
}

// TickBench ticks and looks at the work.
func (h *house) TickBench(ctx context.Context, by journal.Person, run uuid.UUID, in bench.Tick) (worked, error) {
	did, err := h.Bench.Tick(ctx, by, run, in)
	return h.worked(by, run, did, err)
}

// ReplanBench plans afresh and looks at the work.
func (h *house) ReplanBench(ctx context.Context, by journal.Person, run uuid.UUID, in bench.Reworking) (worked, error) {
	did, err := h.Bench.Replan(ctx, by, run, in)
	return h.worked(by, run, did, err)
}

// PourBench takes another lot and looks at the work.
func (h *house) PourBench(ctx context.Context, by journal.Person, run uuid.UUID, in bench.Repouring) (worked, error) {
	did, err := h.Bench.Pour(ctx, by, run, in)
	return h.worked(by, run, did, err)
}

// TakeOffBench takes an instrument off and looks at the work.
func (h *house) TakeOffBench(ctx context.Context, by journal.Person, run uuid.UUID, in bench.TakingOff) (worked, error) {
	did, err := h.Bench.TakeOff(ctx, by, run, in)
	return h.worked(by, run, did, err)
}

// EndBench ends the work and looks at it.
func (h *house) EndBench(ctx context.Context, by journal.Person, run uuid.UUID) (worked, error) {
	did, err := h.Bench.End(ctx, by, run)
	return h.worked(by, run, did, err)
}

func item(t *testing.T, run bench.BenchRun, tag string) bench.BenchItem {
	t.Helper()
	n := slices.IndexFunc(run.Items, func(i bench.BenchItem) bool { return i.Tag == tag })
	require.GreaterOrEqual(t, n, 0, tag)
	return run.Items[n]
}

// next is the first step of an instrument that is not done.
func next(t *testing.T, run bench.BenchRun, tag string) bench.BenchStep {
	t.Helper()
	steps := item(t, run, tag).Steps
	n := slices.IndexFunc(steps, func(s bench.BenchStep) bool { return s.State != "done" })
	require.GreaterOrEqual(t, n, 0, "%s is done", tag)
	return steps[n]
}

func (h *house) step(run bench.BenchRun, tag, do, override string) (worked, error) {
	h.t.Helper()
	return h.TickBench(ctx, h.director, run.ID, bench.Tick{InstrumentID: h.id(tag), N: next(h.t, run, tag).N, Do: do, Override: override})
}

// through does all that is left to do to an instrument, waiting as long as must be, until a step of that name; to the end for none.
func (h *house) through(run bench.BenchRun, tag, until string) bench.BenchRun {
	h.t.Helper()
	for item(h.t, run, tag).State == "open" {
		s := next(h.t, run, tag)
		if s.Name == until {
			return run
		}
		if s.Wait > 0 && s.BegunAt == nil {
			got, err := h.step(run, tag, "begin", "")
			require.NoError(h.t, err)
			run = got.Run
			h.now = h.now.Add(time.Duration(s.Wait) * time.Minute)
		}
		got, err := h.step(run, tag, "done", "")
		require.NoError(h.t, err, s.Name)
		run = got.Run
	}
	return run
}
