package store_test

import (
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/hygiene"
	"solfeggio/internal/pgtest"
	"solfeggio/internal/store"
	"solfeggio/internal/store/benchrows"
	"solfeggio/internal/store/lendingrows"
)

func spray() benchrows.Product {
	return benchrows.Product{
		ID:             uuid.New(),
		Name:           "Stillwater",
		MadeOf:         []string{"quaternary-ammonium"},
		ContactMinutes: 5,
		Surfaces:       []string{"case-outside", "bore"},
		Supply:         "case-spray",
	}
}

// benched is a run with one violin and two steps, the first with a product.
func benched(run, violin uuid.UUID, p benchrows.Product) (benchrows.BenchRun, []benchrows.BenchItem) {
	return benchrows.BenchRun{ID: run, BeganAt: given, People: 2, Stations: benchrows.Stations{"sink": 1}},
		[]benchrows.BenchItem{{Instrument: violin, Reason: catalog.Turnover, Routine: "strings-turnover", Steps: []benchrows.BenchStep{
			{
				N:              0,
				Name:           "Wipe",
				Instruction:    "Wipe it.",
				ActiveMinutes:  2,
				WaitMinutes:    5,
				Surface:        "case-outside",
				Product:        &p.ID,
				ContactMinutes: 5,
				Lot:            "L-1",
				Station:        "table",
				Held:           true,
			},
			{N: 1, Name: "Dry", Instruction: "Dry it.", ActiveMinutes: 1},
		}}}
}

func TestARunIsKeptAsItBegan(t *testing.T) {
	db := pgtest.Open(t)
	a, violin, _, _ := school(t, db, "A")
	b, _, _, _ := school(t, db, "B")
	p, run := spray(), uuid.New()
	r, items := benched(run, violin, p)
	in(t, db, a, func(tx *store.Tx) error {
		latest, err := benchrows.LatestBenchRun(ctx, tx)
		require.NoError(t, err)
		assert.Nil(t, latest)
		require.NoError(t, benchrows.PutProduct(ctx, tx, p))
		return benchrows.InsertBenchRun(ctx, tx, r, items)
	})
	read := func() (got benchrows.BenchItem) {
		require.NoError(t, db.Read(ctx, a, func(tx *store.Tx) error {
			list, err := benchrows.BenchItems(ctx, tx, run)
			require.Len(t, list, 1)
			got = list[0]
			return err
		}))
		return got
	}
	got := read()
	assert.True(t, got.Open())
	require.Len(t, got.Steps, 2)
	assert.Equal(
		t,
		[]any{"Wipe", "L-1", 5, true},
		[]any{got.Steps[0].Name, got.Steps[0].Lot, got.Steps[0].ContactMinutes, got.Steps[0].Held},
	)

	// It lies on one bench at a time, and a step is not done before it was begun.
	other, again := benched(uuid.New(), violin, p)
	assert.Equal(t, "bench_item_open", refused(t, db, a, func(tx *store.Tx) error { return benchrows.InsertBenchRun(ctx, tx, other, again) }))
	early := got.Steps[1]
	early.DoneAt = new(given)
	assert.Equal(t, "bench_step_order", refused(t, db, a, func(tx *store.Tx) error { return benchrows.SetBenchStep(ctx, tx, early) }))
	over := given.Add(10 * time.Minute)
	step := got.Steps[0]
	step.BegunAt, step.DoneAt, step.Override = new(given), &over, "the nurse said so"
	in(t, db, a, func(tx *store.Tx) error { return benchrows.SetBenchStep(ctx, tx, step) })
	assert.Equal(t, "the nurse said so", read().Steps[0].Override)

	// Of another school nothing is seen and nothing changed.
	require.NoError(t, db.Read(ctx, b, func(tx *store.Tx) error {
		tx.School = a
		for name, list := range map[string]func() (int, error){
			"products": func() (int, error) { l, err := benchrows.Products(ctx, tx); return len(l), err },
			"runs":     func() (int, error) { l, err := benchrows.OpenBenchRuns(ctx, tx); return len(l), err },
			"items":    func() (int, error) { l, err := benchrows.OpenBenchItems(ctx, tx); return len(l), err },
			"finished": func() (int, error) {
				l, err := benchrows.FinishedBenchItems(ctx, tx, nil, given, over.Add(time.Hour), 9)
				return len(l), err
			},
		} {
			n, err := list()
			require.NoError(t, err)
			assert.Zero(t, n, name)
		}
		_, err := benchrows.BenchRunByID(ctx, tx, run, false)
		require.ErrorIs(t, err, store.ErrNotFound)
		return nil
	}))
	for name, forged := range map[string]func(tx *store.Tx) error{
		"ticking":  func(tx *store.Tx) error { return benchrows.SetBenchStep(ctx, tx, step) },
		"ending":   func(tx *store.Tx) error { return benchrows.SetBenchRun(ctx, tx, r) },
		"leaving":  func(tx *store.Tx) error { return benchrows.SetBenchItem(ctx, tx, got) },
		"changing": func(tx *store.Tx) error { p := p; p.Version = 1; return benchrows.PutProduct(ctx, tx, p) },
	} {
		require.ErrorIs(t, db.Write(ctx, b, func(tx *store.Tx) error { tx.School = a; return forged(tx) }), store.ErrStale, name)
	}

	// Finished, it is found by its time and may come again.
	got.FinishedAt, got.FreeAt = &over, &over
	in(t, db, a, func(tx *store.Tx) error {
		require.NoError(t, benchrows.SetBenchItem(ctx, tx, got))
		for most, want := range map[time.Duration]int{0: 0, time.Second: 1} {
			list, err := benchrows.FinishedBenchItems(ctx, tx, &violin, given, over.Add(most), 9)
			require.NoError(t, err)
			assert.Len(t, list, want, "to, but not including")
		}
		return benchrows.InsertBenchRun(ctx, tx, other, again)
	})
	both := read()
	both.TakenOff = "dropped"
	assert.Equal(t, "bench_item_ends_once", refused(t, db, a, func(tx *store.Tx) error { return benchrows.SetBenchItem(ctx, tx, both) }))
}

func TestALabelHoldsInTheDatabaseToo(t *testing.T) {
	db := pgtest.Open(t)
	a, _, _, _ := school(t, db, "A")
	p := spray()
	in(t, db, a, func(tx *store.Tx) error { return benchrows.PutProduct(ctx, tx, p) })
	for rule, change := range map[string]func(p *benchrows.Product){
		"product_contact_minutes_check": func(p *benchrows.Product) { p.ContactMinutes = 0 },
		"product_surfaces_check":        func(p *benchrows.Product) { p.Surfaces = []string{} },
		"product_strength_pct_check":    func(p *benchrows.Product) { p.StrengthPct = new(101.) },
		"product_name":                  func(p *benchrows.Product) { p.Name = "STILLWATER" },
	} {
		other := spray()
		other.Name = "Another"
		change(&other)
		assert.Equal(t, rule, refused(t, db, a, func(tx *store.Tx) error { return benchrows.PutProduct(ctx, tx, other) }))
	}
	p.Version, p.Retired = 1, true
	in(t, db, a, func(tx *store.Tx) error {
		require.NoError(t, benchrows.PutProduct(ctx, tx, p))
		require.NoError(t, benchrows.PutProduct(ctx, tx, spray()), "a name is free again once its product is not used any more")
		vessel, err := benchrows.SoakVessel(ctx, tx)
		require.NoError(t, err)
		assert.Nil(t, vessel)
		want := hygiene.Vessel{InnerDiameterMM: 110, CorkHeightMM: 62, MouthpieceVolumeML: 14.5, AtOnce: 4}
		require.NoError(t, benchrows.SetSoakVessel(ctx, tx, want))
		vessel, err = benchrows.SoakVessel(ctx, tx)
		require.NoError(t, err)
		assert.Equal(t, &want, vessel)
		list, err := benchrows.Products(ctx, tx)
		assert.Equal(t, []string{"case-outside", "bore"}, list[1].Surfaces)
		return err
	})
}

// A hold that ends in an hour holds until then, and nobody needs to end it.
func TestAHoldThatEndsLater(t *testing.T) {
	db := pgtest.Open(t)
	a, violin, _, _ := school(t, db, "A")
	hold := lendingrows.Hold{ID: uuid.New(), Instrument: violin, Because: "turnover", BeganAt: given}
	in(t, db, a, func(tx *store.Tx) error {
		_, err := lendingrows.InsertHold(ctx, tx, hold)
		require.NoError(t, err)
		require.NoError(t, lendingrows.KeepHolding(ctx, tx, hold.ID, lendingrows.Shop, "mould"))
		return lendingrows.EndHold(ctx, tx, hold.ID, given.Add(time.Hour), nil, "dry")
	})
	require.NoError(t, db.Read(ctx, a, func(tx *store.Tx) error {
		list, err := lendingrows.OpenHolds(ctx, tx, given, violin)
		assert.Equal(t, lendingrows.Shop, list[0].Awaits)
		return err
	}))
	for after, want := range map[time.Duration]int{59 * time.Minute: 1, time.Hour: 0} {
		require.NoError(t, db.Read(ctx, a, func(tx *store.Tx) error {
			list, err := lendingrows.OpenHolds(ctx, tx, given.Add(after), violin)
			assert.Len(t, list, want, after)
			return err
		}))
	}
	require.ErrorIs(
		t,
		db.Write(ctx, a, func(tx *store.Tx) error { return lendingrows.KeepHolding(ctx, tx, hold.ID, lendingrows.Shop, "again") }),
		store.ErrStale,
	)
	in(t, db, a, func(tx *store.Tx) error {
		isNew, err := lendingrows.InsertHold(ctx, tx, lendingrows.Hold{ID: uuid.New(), Instrument: violin, Because: "another return", BeganAt: given})
		require.NoError(t, err)
		assert.True(t, isNew, "what dries can be held for something else too")
		list, err := lendingrows.OpenHolds(ctx, tx, given, violin)
		require.Len(t, list, 2)
		assert.Equal(t, "another return", list[1].Because, "what has no end stands last")
		return err
	})
}
