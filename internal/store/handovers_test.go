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
	h := store.HandOver{
		ID: uuid.New(), Instrument: violin, Player: &player, GivenAt: given, DueBackOn: &due, Fit: []byte(`{"elbow": "ok"}`),
		Terms: "For {player}.",
		Kit: map[string]catalog.KitState{
			"mute": catalog.Missing,
		}, Signature: store.Signature{How: "screen", By: "R. Marchetti", At: &given, Strokes: [][][2]int{{{1, 2}, {3, 4}}, {{5, 6}}}},
	}
	in(t, db, a, func(tx *store.Tx) error {
		require.NoError(t, tx.PutPlayer(ctx, store.Player{ID: player, GivenName: "Ode"}))
		return tx.InsertHandOver(ctx, h)
	})
	read := func() (got store.HandOver) {
		require.NoError(t, db.Read(ctx, a, func(tx *store.Tx) (err error) {
			got, err = tx.HandOver(ctx, h.ID)
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
	again := store.HandOver{ID: uuid.New(), Instrument: violin, GivenAt: given}
	assert.Equal(t, "hand_over_open", refused(t, db, a, func(tx *store.Tx) error { return tx.InsertHandOver(ctx, again) }))
	early, back := given.Add(-time.Hour), given.Add(time.Hour)
	assert.Equal(
		t,
		"hand_over_check",
		refused(t, db, a, func(tx *store.Tx) error { return tx.CloseHandOver(ctx, store.HandOver{ID: h.ID, ReturnedAt: &early}) }),
	)
	in(t, db, a, func(tx *store.Tx) error {
		return tx.CloseHandOver(
			ctx,
			store.HandOver{ID: h.ID, ReturnedAt: &back, Reported: "It fell.", ReturnKit: map[string]catalog.KitState{"rosin": catalog.Low}},
		)
	})
	require.ErrorIs(
		t,
		db.Write(ctx, a, func(tx *store.Tx) error { return tx.CloseHandOver(ctx, store.HandOver{ID: h.ID, ReturnedAt: &back}) }),
		store.ErrStale,
	)
	assert.Equal(t, catalog.Low, read().ReturnKit["rosin"])
	in(t, db, a, func(tx *store.Tx) error { return tx.InsertHandOver(ctx, again) })
	assert.Equal(
		t,
		"hand_over_open",
		refused(t, db, a, func(tx *store.Tx) error { return tx.ReopenHandOver(ctx, h.ID) }),
		"another has it by now",
	)

	// A charge is made once; the player goes, and what was theirs with them.
	charge := store.Charge{ID: uuid.New(), HandOver: h.ID, AmountCents: 100, DecidedAt: given}
	in(t, db, a, func(tx *store.Tx) error { return tx.InsertCharge(ctx, charge) })
	charge.ID = uuid.New()
	assert.Equal(t, "charge_once", refused(t, db, a, func(tx *store.Tx) error { return tx.InsertCharge(ctx, charge) }))
	in(t, db, a, func(tx *store.Tx) error { return tx.ErasePlayer(ctx, player, 1) })
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
	of := store.Stocked{Supply: "rosin"}
	in(t, db, a, func(tx *store.Tx) error {
		require.NoError(t, tx.InsertLot(ctx, store.Lot{ID: lot, Stocked: of, ReceivedOn: today, Quantity: 3, Remaining: 3}))
		require.NoError(t, tx.PutSupplySetting(ctx, store.SupplySetting{Stocked: of, PackSize: 1}))
		require.NoError(
			t,
			tx.InsertOrder(ctx, store.Order{ID: order, PlacedOn: today, Lines: []store.OrderLine{{Stocked: of, Packs: 2, PackSize: 1}}}),
		)
		require.NoError(t, tx.SetKit(ctx, store.KitFault{Instrument: violin, Supply: "mute", State: catalog.Missing, NotedAt: given}, nil))
		require.NoError(t, tx.PutLetter(ctx, store.Letter{Key: "agreement", Wording: "Ours."}))
		require.NoError(t, tx.InsertNotice(ctx, store.Notice{ID: uuid.New(), About: "x", SentAt: given}))
		require.NoError(t, tx.PutRental(ctx, store.Rental{ID: uuid.New(), Instrument: violin, Owner: "Hollin Hire House", StartsOn: today}))
		require.NoError(t, tx.SetRentalPrices(ctx, []store.RentalPrice{{Kind: "violin", MonthlyCents: 1}}))
		_, err := tx.InsertHold(ctx, store.Hold{ID: uuid.New(), Instrument: violin, Because: "drying", BeganAt: given})
		require.NoError(t, err)
		return tx.InsertHandOver(ctx, store.HandOver{ID: uuid.New(), Instrument: violin, GivenAt: given})
	})
	lists := func(tx *store.Tx) map[string]func() (int, error) {
		return map[string]func() (int, error){
			"lots":       func() (int, error) { l, err := tx.Lots(ctx, nil); return len(l), err },
			"settings":   func() (int, error) { l, err := tx.SupplySettings(ctx); return len(l), err },
			"orders":     func() (int, error) { l, err := tx.Orders(ctx); return len(l), err },
			"kits":       func() (int, error) { l, err := tx.KitFaults(ctx); return len(l), err },
			"letters":    func() (int, error) { l, err := tx.Letters(ctx); return len(l), err },
			"notices":    func() (int, error) { l, err := tx.Notices(ctx, 10); return len(l), err },
			"rentals":    func() (int, error) { l, err := tx.RunningRentals(ctx); return len(l), err },
			"prices":     func() (int, error) { l, err := tx.RentalPrices(ctx); return len(l), err },
			"holds":      func() (int, error) { l, err := tx.OpenHolds(ctx, time.Now()); return len(l), err },
			"hand-overs": func() (int, error) { l, err := tx.OpenHandOvers(ctx); return len(l), err },
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
		"taking":    func(tx *store.Tx) error { return tx.SetLot(ctx, lot, 0) },
		"receiving": func(tx *store.Tx) error { return tx.ReceivePacks(ctx, order, of, 1) },
		"closing":   func(tx *store.Tx) error { return tx.CloseOrder(ctx, order, today) },
		"ending":    func(tx *store.Tx) error { return tx.EndRental(ctx, violin, today) },
		"leaving":   func(tx *store.Tx) error { return tx.LeaveSchool(ctx, violin, today, "stolen") },
	} {
		require.ErrorIs(t, db.Write(ctx, b, func(tx *store.Tx) error { tx.School = a; return forged(tx) }), store.ErrStale, name)
	}

	// And the drawer itself: never below nothing, never above what came in.
	assert.Equal(t, "supply_lot_remaining", refused(t, db, a, func(tx *store.Tx) error { return tx.SetLot(ctx, lot, -1) }))
	in(t, db, a, func(tx *store.Tx) error {
		require.NoError(t, tx.SetLot(ctx, lot, 2))
		return tx.PutBack(ctx, lot, 5)
	})
	require.NoError(t, db.Read(ctx, a, func(tx *store.Tx) error {
		lots, err := tx.Lots(ctx, &of)
		assert.EqualValues(t, 3, lots[0].Remaining)
		return err
	}))
	assert.Equal(t, "notice_once", refused(t, db, a, func(tx *store.Tx) error {
		return tx.InsertNotice(ctx, store.Notice{ID: uuid.New(), About: "x", SentAt: given})
	}))
	in(t, db, a, func(tx *store.Tx) error {
		isNew, err := tx.InsertHold(ctx, store.Hold{ID: uuid.New(), Instrument: violin, Because: "again", BeganAt: given})
		assert.False(t, isNew, "it is held already")
		return err
	})
}
