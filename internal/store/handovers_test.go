package store_test

import (
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/pgtest"
	"solfeggio/internal/store"
	"solfeggio/internal/store/instrumentrows"
	"solfeggio/internal/store/lendingrows"
	"solfeggio/internal/store/letterrows"
	"solfeggio/internal/store/playerrows"
	"solfeggio/internal/store/supplyrows"
)

var given = time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)

// in runs f in a transaction of a school and expects it to be kept.
func in(t *testing.T, db *store.DB, school uuid.UUID, f func(tx *store.Tx) error) {
	t.Helper()
	require.NoError(t, db.Write(ctx, school, f))
}

// refused runs f and names the rule of the database that it broke.
func refused(t *testing.T, db *store.DB, school uuid.UUID, f func(tx *store.Tx) error) string {
	t.Helper()
	var v *store.Violation
	require.ErrorAs(t, db.Write(ctx, school, f), &v)
	return v.Constraint
}

func TestAHandOverIsKeptWhole(t *testing.T) {
	db := pgtest.Open(t)
	a, violin, _, _ := school(t, db, "A")
	player, due := uuid.New(), today+200
	h := lendingrows.HandOver{
		ID: uuid.New(), Instrument: violin, Player: &player, GivenAt: given, DueBackOn: &due, Fit: []byte(`{"elbow": "ok"}`),
		Terms: "For {player}.",
		Kit: map[string]catalog.KitState{
			"mute": catalog.Missing,
		}, Signature: lendingrows.Signature{How: "screen", By: "R. Marchetti", At: &given, Strokes: [][][2]int{{{1, 2}, {3, 4}}, {{5, 6}}}},
	}
	in(t, db, a, func(tx *store.Tx) error {
		require.NoError(t, playerrows.PutPlayer(ctx, tx, playerrows.Player{ID: player, GivenName: "Ode"}))
		return lendingrows.InsertHandOver(ctx, tx, h)
	})
	read := func() (got lendingrows.HandOver) {
		require.NoError(t, db.Read(ctx, a, func(tx *store.Tx) (err error) {
			got, err = lendingrows.HandOverByID(ctx, tx, h.ID)
			return err
		}))
		return got
	}
	got := read()
	assert.JSONEq(t, string(h.Fit), string(got.Fit))
	assert.Equal(
		t,
		[]any{h.Kit, h.Terms, *h.DueBackOn, h.Signature.Strokes, h.Signature.By},
		[]any{got.Kit, got.Terms, *got.DueBackOn, got.Signature.Strokes, got.Signature.By},
	)

	// One answers for an instrument at a time, and a return lies after its hand-over.
	again := lendingrows.HandOver{ID: uuid.New(), Instrument: violin, GivenAt: given}
	assert.Equal(t, "hand_over_open", refused(t, db, a, func(tx *store.Tx) error { return lendingrows.InsertHandOver(ctx, tx, again) }))
	early, back := given.Add(-time.Hour), given.Add(time.Hour)
	assert.Equal(
		t,
		"hand_over_check",
		refused(t, db, a, func(tx *store.Tx) error {
			return lendingrows.CloseHandOver(ctx, tx, lendingrows.HandOver{ID: h.ID, ReturnedAt: &early})
		}),
	)
	in(t, db, a, func(tx *store.Tx) error {
		return lendingrows.CloseHandOver(
			ctx, tx,
			lendingrows.HandOver{ID: h.ID, ReturnedAt: &back, Reported: "It fell.", ReturnKit: map[string]catalog.KitState{"rosin": catalog.Low}},
		)
	})
	require.ErrorIs(
		t,
		db.Write(ctx, a, func(tx *store.Tx) error {
			return lendingrows.CloseHandOver(ctx, tx, lendingrows.HandOver{ID: h.ID, ReturnedAt: &back})
		}),
		store.ErrStale,
	)
	assert.Equal(t, catalog.Low, read().ReturnKit["rosin"])
	in(t, db, a, func(tx *store.Tx) error { return lendingrows.InsertHandOver(ctx, tx, again) })
	assert.Equal(
		t,
		"hand_over_open",
		refused(t, db, a, func(tx *store.Tx) error { return lendingrows.ReopenHandOver(ctx, tx, h.ID) }),
		"another has it by now",
	)

	// A charge is made once; the player goes, and what was theirs with them.
	charge := lendingrows.Charge{ID: uuid.New(), HandOver: h.ID, AmountCents: 100, DecidedAt: given}
	in(t, db, a, func(tx *store.Tx) error { return lendingrows.InsertCharge(ctx, tx, charge) })
	charge.ID = uuid.New()
	assert.Equal(t, "charge_once", refused(t, db, a, func(tx *store.Tx) error { return lendingrows.InsertCharge(ctx, tx, charge) }))
	in(t, db, a, func(tx *store.Tx) error { return playerrows.ErasePlayer(ctx, tx, player, 1) })
	got = read()
	assert.Nil(t, got.Player)
	assert.Equal(t, []any{"", "", 0, "screen"}, []any{got.Signature.By, got.Reported, len(got.Signature.Strokes), got.Signature.How})
}

// What stands in one school is nothing in another, in the new rooms of the house too.
func TestSchoolsKeepTheirDrawersApart(t *testing.T) {
	db := pgtest.Open(t)
	a, violin, _, _ := school(t, db, "A")
	b, _, _, _ := school(t, db, "B")
	lot, order := uuid.New(), uuid.New()
	of := supplyrows.Stocked{Supply: "rosin"}
	in(t, db, a, func(tx *store.Tx) error {
		require.NoError(t, supplyrows.InsertLot(ctx, tx, supplyrows.Lot{ID: lot, Stocked: of, ReceivedOn: today, Quantity: 3, Remaining: 3}))
		require.NoError(t, supplyrows.PutSupplySetting(ctx, tx, supplyrows.SupplySetting{Stocked: of, PackSize: 1}))
		require.NoError(
			t,
			supplyrows.InsertOrder(ctx, tx, supplyrows.Order{ID: order, PlacedOn: today, Lines: []supplyrows.OrderLine{{Stocked: of, Packs: 2, PackSize: 1}}}),
		)
		require.NoError(t, supplyrows.SetKit(ctx, tx, supplyrows.KitFault{Instrument: violin, Supply: "mute", State: catalog.Missing, NotedAt: given}, nil))
		require.NoError(t, letterrows.PutLetter(ctx, tx, letterrows.Letter{Key: "agreement", Wording: "Ours."}))
		require.NoError(t, letterrows.InsertNotice(ctx, tx, letterrows.Notice{ID: uuid.New(), About: "x", SentAt: given}))
		require.NoError(t, instrumentrows.PutRental(ctx, tx, instrumentrows.Rental{ID: uuid.New(), Instrument: violin, Owner: "Hollin Hire House", StartsOn: today}))
		require.NoError(t, instrumentrows.SetRentalPrices(ctx, tx, []instrumentrows.RentalPrice{{Kind: "violin", MonthlyCents: 1}}))
		_, err := lendingrows.InsertHold(ctx, tx, lendingrows.Hold{ID: uuid.New(), Instrument: violin, Because: "drying", BeganAt: given})
		require.NoError(t, err)
		return lendingrows.InsertHandOver(ctx, tx, lendingrows.HandOver{ID: uuid.New(), Instrument: violin, GivenAt: given})
	})
	lists := func(tx *store.Tx) map[string]func() (int, error) {
		return map[string]func() (int, error){
			"lots":       func() (int, error) { l, err := supplyrows.Lots(ctx, tx, nil); return len(l), err },
			"settings":   func() (int, error) { l, err := supplyrows.SupplySettings(ctx, tx); return len(l), err },
			"orders":     func() (int, error) { l, err := supplyrows.Orders(ctx, tx); return len(l), err },
			"kits":       func() (int, error) { l, err := supplyrows.KitFaults(ctx, tx); return len(l), err },
			"letters":    func() (int, error) { l, err := letterrows.Letters(ctx, tx); return len(l), err },
			"notices":    func() (int, error) { l, err := letterrows.Notices(ctx, tx, 10); return len(l), err },
			"rentals":    func() (int, error) { l, err := instrumentrows.RunningRentals(ctx, tx); return len(l), err },
			"prices":     func() (int, error) { l, err := instrumentrows.RentalPrices(ctx, tx); return len(l), err },
			"holds":      func() (int, error) { l, err := lendingrows.OpenHolds(ctx, tx, time.Now()); return len(l), err },
			"hand-overs": func() (int, error) { l, err := lendingrows.OpenHandOvers(ctx, tx); return len(l), err },
		}
	}
	for who, want := range map[uuid.UUID]int{a: 1, b: 0} {
		require.NoError(t, db.Read(ctx, who, func(tx *store.Tx) error {
			tx.School = a // forged for b
			for name, list := range lists(tx) {
				n, err := list()
				require.NoError(t, err)
				assert.Equal(t, want, n, name)
			}
			return nil
		}))
	}
	for name, forged := range map[string]func(tx *store.Tx) error{
		"taking":    func(tx *store.Tx) error { return supplyrows.SetLot(ctx, tx, lot, 0) },
		"receiving": func(tx *store.Tx) error { return supplyrows.ReceivePacks(ctx, tx, order, of, 1) },
		"closing":   func(tx *store.Tx) error { return supplyrows.CloseOrder(ctx, tx, order, today) },
		"ending":    func(tx *store.Tx) error { return instrumentrows.EndRental(ctx, tx, violin, today) },
		"leaving":   func(tx *store.Tx) error { return instrumentrows.LeaveSchool(ctx, tx, violin, today, "stolen") },
	} {
		require.ErrorIs(t, db.Write(ctx, b, func(tx *store.Tx) error { tx.School = a; return forged(tx) }), store.ErrStale, name)
	}

	// And the drawer itself: never below nothing, never above what came in.
	assert.Equal(t, "supply_lot_remaining", refused(t, db, a, func(tx *store.Tx) error { return supplyrows.SetLot(ctx, tx, lot, -1) }))
	in(t, db, a, func(tx *store.Tx) error {
		require.NoError(t, supplyrows.SetLot(ctx, tx, lot, 2))
		return supplyrows.PutBack(ctx, tx, lot, 5)
	})
	require.NoError(t, db.Read(ctx, a, func(tx *store.Tx) error {
		lots, err := supplyrows.Lots(ctx, tx, &of)
		assert.EqualValues(t, 3, lots[0].Remaining)
		return err
	}))
	assert.Equal(t, "notice_once", refused(t, db, a, func(tx *store.Tx) error {
		return letterrows.InsertNotice(ctx, tx, letterrows.Notice{ID: uuid.New(), About: "x", SentAt: given})
	}))
	in(t, db, a, func(tx *store.Tx) error {
		isNew, err := lendingrows.InsertHold(ctx, tx, lendingrows.Hold{ID: uuid.New(), Instrument: violin, Because: "again", BeganAt: given})
		assert.False(t, isNew, "it is held already")
		return err
	})
}
