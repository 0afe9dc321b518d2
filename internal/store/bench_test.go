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
)

func spray() store.Product {
	return store.Product{
		ID:             uuid.New(),
		Name:           "Stillwater",
		MadeOf:         []string{"quaternary-ammonium"},
		ContactMinutes: 5,
		Surfaces:       []string{"case-outside", "bore"},
		Supply:         "case-spray",
	}
}

// benched is a run with one violin and two steps, the first with a product.
func benched(run, violin uuid.UUID, p store.Product) (store.BenchRun, []store.BenchItem) {
	return store.BenchRun{ID: run, BeganAt: given, People: 2, Stations: store.Stations{"sink": 1}},
		[]store.BenchItem{{Instrument: violin, Reason: catalog.Turnover, Routine: "strings-turnover", Steps: []store.BenchStep{
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
		latest, err := tx.LatestBenchRun(ctx)
		require.NoError(t, err)
		assert.Nil(t, latest)
		require.NoError(t, tx.PutProduct(ctx, p))
		return tx.InsertBenchRun(ctx, r, items)
	})
	read := func() (got store.BenchItem) {
		require.NoError(t, db.Read(ctx, a, func(tx *store.Tx) error {
			list, err := tx.BenchItems(ctx, run)
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
	assert.Equal(t, "bench_item_open", refused(t, db, a, func(tx *store.Tx) error { return tx.InsertBenchRun(ctx, other, again) }))
	early := got.Steps[1]
	early.DoneAt = new(given)
	assert.Equal(t, "bench_step_order", refused(t, db, a, func(tx *store.Tx) error { return tx.SetBenchStep(ctx, early) }))
	over := given.Add(10 * time.Minute)
	step := got.Steps[0]
	step.BegunAt, step.DoneAt, step.Override = new(given), &over, "the nurse said so"
	in(t, db, a, func(tx *store.Tx) error { return tx.SetBenchStep(ctx, step) })
	assert.Equal(t, "the nurse said so", read().Steps[0].Override)

	// Of another school nothing is seen and nothing changed.
	require.NoError(t, db.Read(ctx, b, func(tx *store.Tx) error {
		tx.School = a
		for name, list := range map[string]func() (int, error){
			"products": func() (int, error) { l, err := tx.Products(ctx); return len(l), err },
			"runs":     func() (int, error) { l, err := tx.OpenBenchRuns(ctx); return len(l), err },
			"items":    func() (int, error) { l, err := tx.OpenBenchItems(ctx); return len(l), err },
			"finished": func() (int, error) {
				l, err := tx.FinishedBenchItems(ctx, nil, given, over.Add(time.Hour), 9)
				return len(l), err
			},
		} {
			n, err := list()
			require.NoError(t, err)
			assert.Zero(t, n, name)
		}
		_, err := tx.BenchRun(ctx, run, false)
		require.ErrorIs(t, err, store.ErrNotFound)
		return nil
	}))
	for name, forged := range map[string]func(tx *store.Tx) error{
		"ticking":  func(tx *store.Tx) error { return tx.SetBenchStep(ctx, step) },
		"ending":   func(tx *store.Tx) error { return tx.SetBenchRun(ctx, r) },
		"leaving":  func(tx *store.Tx) error { return tx.SetBenchItem(ctx, got) },
		"changing": func(tx *store.Tx) error { p := p; p.Version = 1; return tx.PutProduct(ctx, p) },
	} {
		require.ErrorIs(t, db.Write(ctx, b, func(tx *store.Tx) error { tx.School = a; return forged(tx) }), store.ErrStale, name)
	}

	// Finished, it is found by its time and may come again.
	got.FinishedAt, got.FreeAt = &over, &over
	in(t, db, a, func(tx *store.Tx) error {
		require.NoError(t, tx.SetBenchItem(ctx, got))
		for most, want := range map[time.Duration]int{0: 0, time.Second: 1} {
			list, err := tx.FinishedBenchItems(ctx, &violin, given, over.Add(most), 9)
			require.NoError(t, err)
			assert.Len(t, list, want, "to, but not including")
		}
		return tx.InsertBenchRun(ctx, other, again)
	})
	both := read()
	both.TakenOff = "dropped"
	assert.Equal(t, "bench_item_ends_once", refused(t, db, a, func(tx *store.Tx) error { return tx.SetBenchItem(ctx, both) }))
}

func TestALabelHoldsInTheDatabaseToo(t *testing.T) {
	db := pgtest.Open(t)
	a, _, _, _ := school(t, db, "A")
	p := spray()
	in(t, db, a, func(tx *store.Tx) error { return tx.PutProduct(ctx, p) })
	for rule, change := range map[string]func(p *store.Product){
		"product_contact_minutes_check": func(p *store.Product) { p.ContactMinutes = 0 },
		"product_surfaces_check":        func(p *store.Product) { p.Surfaces = []string{} },
		"product_strength_pct_check":    func(p *store.Product) { p.StrengthPct = new(101.) },
		"product_name":                  func(p *store.Product) { p.Name = "STILLWATER" },
	} {
		other := spray()
		other.Name = "Another"
		change(&other)
		assert.Equal(t, rule, refused(t, db, a, func(tx *store.Tx) error { return tx.PutProduct(ctx, other) }))
	}
	p.Version, p.Retired = 1, true
	in(t, db, a, func(tx *store.Tx) error {
		require.NoError(t, tx.PutProduct(ctx, p))
		require.NoError(t, tx.PutProduct(ctx, spray()), "a name is free again once its product is not used any more")
		vessel, err := tx.SoakVessel(ctx)
		require.NoError(t, err)
		assert.Nil(t, vessel)
		want := hygiene.Vessel{InnerDiameterMM: 110, CorkHeightMM: 62, MouthpieceVolumeML: 14.5, AtOnce: 4}
		require.NoError(t, tx.SetSoakVessel(ctx, want))
		vessel, err = tx.SoakVessel(ctx)
		require.NoError(t, err)
		assert.Equal(t, &want, vessel)
		list, err := tx.Products(ctx)
		assert.Equal(t, []string{"case-outside", "bore"}, list[1].Surfaces)
		return err
	})
}

// A hold that ends in an hour holds until then, and nobody needs to end it.
func TestAHoldThatEndsLater(t *testing.T) {
	db := pgtest.Open(t)
	a, violin, _, _ := school(t, db, "A")
	hold := store.Hold{ID: uuid.New(), Instrument: violin, Because: "turnover", BeganAt: given}
	in(t, db, a, func(tx *store.Tx) error {
		_, err := tx.InsertHold(ctx, hold)
		require.NoError(t, err)
		require.NoError(t, tx.KeepHolding(ctx, hold.ID, store.Shop, "mould"))
		return tx.EndHold(ctx, hold.ID, given.Add(time.Hour), nil, "dry")
	})
	require.NoError(t, db.Read(ctx, a, func(tx *store.Tx) error {
		list, err := tx.OpenHolds(ctx, given, violin)
		assert.Equal(t, store.Shop, list[0].Awaits)
		return err
	}))
	for after, want := range map[time.Duration]int{59 * time.Minute: 1, time.Hour: 0} {
		require.NoError(t, db.Read(ctx, a, func(tx *store.Tx) error {
			list, err := tx.OpenHolds(ctx, given.Add(after), violin)
			assert.Len(t, list, want, after)
			return err
		}))
	}
	require.ErrorIs(
		t,
		db.Write(ctx, a, func(tx *store.Tx) error { return tx.KeepHolding(ctx, hold.ID, store.Shop, "again") }),
		store.ErrStale,
	)
	in(t, db, a, func(tx *store.Tx) error {
		isNew, err := tx.InsertHold(ctx, store.Hold{ID: uuid.New(), Instrument: violin, Because: "another return", BeganAt: given})
		require.NoError(t, err)
		assert.True(t, isNew, "what dries can be held for something else too")
		list, err := tx.OpenHolds(ctx, given, violin)
		require.Len(t, list, 2)
		assert.Equal(t, "another return", list[1].Because, "what has no end stands last")
		return err
	})
}
