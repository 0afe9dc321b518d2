package store_test

import (
	"context"
	"database/sql"
	"errors"
	"slices"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/pgtest"
	"solfeggio/internal/store"
	"solfeggio/internal/store/carerows"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/instrumentrows"
	"solfeggio/internal/store/schoolrows"
)

var (
	ctx   = context.Background()
	today = day.MustParse("2026-11-24")
)

// school makes a school with one violin, one term and one event, and returns their ids.
func school(t *testing.T, db *store.DB, name string) (id, violin, term, event uuid.UUID) {
	t.Helper()
	id, violin, term, event = uuid.New(), uuid.New(), uuid.New(), uuid.New()
	require.NoError(t, db.Write(ctx, id, func(tx *store.Tx) error {
		require.NoError(
			t,
			schoolrows.InsertSchool(
				ctx, tx,
				schoolrows.School{
					ID:            id,
					Name:          name,
					TimeZone:      "UTC",
					Locale:        "en-GB",
					Currency:      "EUR",
					PlayerCare:    "trusted",
					OpensAt:       0.75,
					LateAt:        1.25,
					HeatingBegins: "10-15",
					HeatingEnds:   "04-15",
				},
			),
		)
		require.NoError(
			t,
			instrumentrows.InsertInstrument(ctx, tx, instrumentrows.Instrument{ID: violin, Tag: "VN-01", Kind: "violin", Body: "varnish", CareFrom: today}),
		)
		require.NoError(t, schoolrows.PutPeriod(ctx, tx, schoolrows.Terms, schoolrows.Period{ID: term, Name: "Autumn", StartsOn: today, EndsOn: today + 50}))
		require.NoError(t, eventrows.InsertEvents(ctx, tx, eventrows.Event{ID: event, At: time.Now(), Instrument: &violin, What: eventrows.CareDone}))
		return carerows.InsertCompletion(
			ctx, tx,
			carerows.Completion{
				Event:      event,
				Instrument: violin,
				DoneOn:     today,
				Clocks:     []clocks.Key{{Routine: "bow-rehair", Part: "bow-hair"}},
			},
		)
	}))
	return id, violin, term, event
}

func TestSchoolsSeeNothingOfEachOther(t *testing.T) {
	db, raw := pgtest.OpenBeside(t)
	a, _, _, _ := school(t, db, "A")
	b, violin, term, event := school(t, db, "B")

	require.NoError(t, db.Read(ctx, a, func(tx *store.Tx) error {
		tx.School = b // a forged id in every query that follows; the wall is in the database
		_, err := schoolrows.GetSchool(ctx, tx)
		require.ErrorIs(t, err, store.ErrNotFound)
		_, err = instrumentrows.InstrumentByID(ctx, tx, violin)
		require.ErrorIs(t, err, store.ErrNotFound)
		_, err = eventrows.EventByID(ctx, tx, event)
		require.ErrorIs(t, err, store.ErrNotFound)
		for name, list := range map[string]func() (int, error){
			"instruments": func() (int, error) { l, err := instrumentrows.Instruments(ctx, tx); return len(l), err },
			"terms":       func() (int, error) { l, err := schoolrows.Periods(ctx, tx, schoolrows.Terms); return len(l), err },
			"clocks":      func() (int, error) { l, err := carerows.ClockStarts(ctx, tx); return len(l), err },
			"timeline":    func() (int, error) { l, err := eventrows.Timeline(ctx, tx, violin, 9); return len(l), err },
		} {
			n, err := list()
			require.NoError(t, err)
			assert.Zero(t, n, name)
		}
		return nil
	}))
	require.ErrorIs(t, db.Write(ctx, a, func(tx *store.Tx) error {
		tx.School = b
		return schoolrows.DeletePeriod(ctx, tx, schoolrows.Terms, term, 1)
	}), store.ErrStale)
	assert.ErrorContains(t, db.Write(ctx, a, func(tx *store.Tx) error {
		tx.School = b
		return instrumentrows.InsertInstrument(ctx, tx, instrumentrows.Instrument{ID: uuid.New(), Tag: "VN-02", Kind: "violin", Body: "varnish", CareFrom: today})
	}), "row-level security")

	// Without a school there is nothing at all.
	var n int
	require.NoError(t, raw.GetContext(ctx, &n, `SELECT count(*) FROM instrument`))
	assert.Zero(t, n)
}

// Whatever tables come: each carries school_id first in its keys and stands behind its wall, but for the three that
// are read before a school is known.
func TestEveryTableStandsBehindItsWall(t *testing.T) {
	outside := map[string]bool{"sessions": true, "sign_in_attempt": true, "report_try": true, "goose_db_version": true}
	_, raw := pgtest.OpenBeside(t)
	var tables []struct {
		Name   string `db:"relname"`
		Walled bool   `db:"walled"`
	}
	require.NoError(t, raw.Select(&tables, `
		SELECT c.relname, c.relrowsecurity AND EXISTS (SELECT FROM pg_policy p WHERE p.polrelid = c.oid) AS walled
		FROM pg_class c WHERE c.relkind = 'r' AND c.relnamespace = 'public'::regnamespace`))
	require.Greater(t, len(tables), 10)
	for _, table := range tables {
		assert.True(t, table.Walled || outside[table.Name], "%s has no row-level security", table.Name)
	}
	// By these one finds the school.
	byNobody := []string{"person_email", "calendar_feed_digest", "password_link_digest", "access_key_digest", "card_secret"}
	var indexes []struct {
		Table  string `db:"tablename"`
		Name   string `db:"indexname"`
		Define string `db:"indexdef"`
	}
	require.NoError(t, raw.Select(&indexes, `SELECT tablename, indexname, indexdef FROM pg_indexes WHERE schemaname = 'public'`))
	for _, i := range indexes {
		if !outside[i.Table] && !slices.Contains(byNobody, i.Name) {
			assert.Contains(t, i.Define, "(school_id", "%s does not begin with school_id", i.Name)
		}
	}
}

// A table either tells what a write to it touched of that which processes keep of a school, or is kept by none of them.
func TestEveryTableTellsWhatItTouches(t *testing.T) {
	_, raw := pgtest.OpenBeside(t)
	notKept := []string{
		"access_key", "bench_run", "bench_step", "calendar_feed", "card", "charge", "drill_box", "drill_count", "known_device", "pack_up", "paper_code", "passkey", "second_factor",
		"report_try", "completion", "event", "goose_db_version", "inspection", "notice", "password_link", "person", "photo", "product",
		"product_sheet", "request",
		"sessions", "shop_quote", "sign_in_attempt", "stocktake", "stocktake_scan", "supply_lot", "supply_order", "supply_order_line",
		"supply_setting", "touched", "season_plan",
		"assignment_ensemble", // which is written with its assignment
	}
	var silent []string
	require.NoError(t, raw.Select(&silent, `SELECT relname FROM pg_class c WHERE relkind = 'r' AND relnamespace = 'public'::regnamespace
		AND NOT EXISTS (SELECT FROM pg_trigger t WHERE t.tgrelid = c.oid AND t.tgname = 'touched') ORDER BY relname`))
	assert.ElementsMatch(t, notKept, silent, "give it the trigger of migration 8, or say here that nobody keeps it in memory")
}

func TestTheLogIsOnlyAddedTo(t *testing.T) {
	db, raw := pgtest.OpenBeside(t)
	a, _, _, event := school(t, db, "A")
	for _, statement := range []string{`UPDATE event SET what = 'nothing'`, `DELETE FROM event`} {
		tx, err := raw.BeginTx(ctx, nil)
		require.NoError(t, err)
		_, err = tx.Exec(`SELECT set_config('solfeggio.school_id', $1, true)`, a.String())
		require.NoError(t, err)
		_, err = tx.Exec(statement)
		assert.ErrorContains(t, err, "permission denied", statement)
		require.NoError(t, tx.Rollback())
	}
	// One thing is undone once.
	undo := func() error {
		return db.Write(ctx, a, func(tx *store.Tx) error {
			return eventrows.InsertEvents(ctx, tx, eventrows.Event{ID: uuid.New(), At: time.Now(), What: eventrows.Undone, Undoes: &event})
		})
	}
	require.NoError(t, undo())
	var v *store.Violation
	require.ErrorAs(t, undo(), &v)
	assert.Equal(t, "event_undone_once", v.Constraint)
}

func TestAnInstrumentIsInOneHandAtATime(t *testing.T) {
	db := pgtest.Open(t)
	a, violin, _, _ := school(t, db, "A")
	var wait sync.WaitGroup
	faults := make([]error, 6)
	for n := range faults {
		wait.Go(func() {
			faults[n] = db.Write(ctx, a, func(tx *store.Tx) error {
				return instrumentrows.PutAssignments(
					ctx, tx,
					instrumentrows.Assignment{ID: uuid.New(), Instrument: violin, StartsOn: today + day.Day(n), PracticeDaysPerWeek: 5, Players: 1},
				)
			})
		})
	}
	wait.Wait()
	kept := 0
	for _, err := range faults {
		var v *store.Violation
		if err == nil {
			kept++
		} else {
			require.ErrorAs(t, err, &v)
			assert.Equal(t, "assignment_overlap", v.Constraint)
		}
	}
	assert.Equal(t, 1, kept)
}

func TestAClockIsNeverTurnedBackAndUndoingFindsWhatRemains(t *testing.T) {
	db := pgtest.Open(t)
	a, violin, _, _ := school(t, db, "A")
	rehair := clocks.Key{Routine: "bow-rehair", Part: "bow-hair"}
	event := uuid.New()
	started := func() (d day.Day) {
		require.NoError(t, db.Read(ctx, a, func(tx *store.Tx) (err error) { d, err = carerows.ClockStartOf(ctx, tx, violin, rehair); return err }))
		return d
	}
	require.NoError(t, db.Write(ctx, a, func(tx *store.Tx) error {
		require.NoError(t, eventrows.InsertEvents(ctx, tx, eventrows.Event{ID: event, At: time.Now(), Instrument: &violin, What: eventrows.CareDone}))
		return carerows.InsertCompletion(
			ctx, tx,
			carerows.Completion{Event: event, Instrument: violin, DoneOn: today - 90, Clocks: []clocks.Key{rehair}},
		)
	}))
	assert.Equal(t, today, started(), "care remembered later was done earlier")
	require.NoError(t, db.Write(ctx, a, func(tx *store.Tx) error { return carerows.UndoCompletion(ctx, tx, event) }))
	assert.Equal(t, today, started())
}

func TestStaleAndMissing(t *testing.T) {
	db := pgtest.Open(t)
	a, violin, term, _ := school(t, db, "A")
	assert.ErrorIs(t, db.Write(ctx, a, func(tx *store.Tx) error {
		return schoolrows.PutPeriod(ctx, tx, schoolrows.Terms, schoolrows.Period{ID: term, Name: "x", StartsOn: today, EndsOn: today, Version: 7})
	}), store.ErrStale)
	assert.ErrorIs(t, db.Write(ctx, a, func(tx *store.Tx) error {
		return instrumentrows.UpdateInstruments(ctx, tx, instrumentrows.Instrument{ID: violin, Tag: "VN-01", Body: "varnish", CareFrom: today, Version: 2})
	}), store.ErrStale)
	var v *store.Violation
	require.ErrorAs(t, db.Write(ctx, a, func(tx *store.Tx) error {
		return schoolrows.PutPeriod(ctx, tx, schoolrows.Terms, schoolrows.Period{ID: uuid.New(), Name: "y", StartsOn: today + 50, EndsOn: today + 60})
	}), &v)
	assert.Equal(t, "term_overlap", v.Constraint)
}

func TestADatabaseThatIsAway(t *testing.T) {
	db, err := store.Open("postgres://nobody@127.0.0.1:1/none?sslmode=disable&connect_timeout=2")
	require.NoError(t, err)
	err = db.Read(ctx, uuid.New(), func(*store.Tx) error { return nil })
	assert.ErrorIs(t, err, store.ErrUnavailable)
	_, err = store.Open("this is no address")
	assert.ErrorContains(t, err, "reading the database address")
}

func TestManyMigrateAtOnce(t *testing.T) {
	url := pgtest.New(t)
	direct, err := sql.Open("pgx", url)
	require.NoError(t, err)
	defer direct.Close()
	_, err = direct.Exec(`DROP SCHEMA public CASCADE; CREATE SCHEMA public`)
	require.NoError(t, err)
	var wait sync.WaitGroup
	faults := make([]error, 4)
	for n := range faults {
		wait.Go(func() { faults[n] = store.Migrate(ctx, url) })
	}
	wait.Wait()
	assert.NoError(t, errors.Join(faults...))
}
