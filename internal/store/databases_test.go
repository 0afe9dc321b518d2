package store_test

import (
	"context"
	"net"
	"net/url"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/pgtest"
	"solfeggio/internal/store"
	"solfeggio/internal/store/instrumentrows"
	"solfeggio/internal/store/peoplerows"
	"solfeggio/internal/store/schoolrows"
)

// deadLine is a line to a database that can fall silent: what is said on it is swallowed, and nobody is told.
type deadLine struct{ silent atomic.Bool }

func (l *deadLine) to(t *testing.T, address string) string {
	t.Helper()
	u, err := url.Parse(address)
	require.NoError(t, err)
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	t.Cleanup(func() { _ = listener.Close() })
	server := u.Host
	go func() {
		for {
			near, err := listener.Accept()
			if err != nil {
				return
			}
			far, err := net.Dial("tcp", server)
			if err != nil {
				_ = near.Close()
				continue
			}
			go l.carry(far, near)
			go l.carry(near, far)
		}
	}()
	u.Host = listener.Addr().String()
	return u.String()
}

func (l *deadLine) carry(to, from net.Conn) {
	defer to.Close()
	some := make([]byte, 32<<10)
	for {
		n, err := from.Read(some)
		if err != nil {
			return
		}
		if !l.silent.Load() {
			if _, err := to.Write(some[:n]); err != nil {
				return
			}
		}
	}
}

// Schools lie in two databases. Each is found where it is, by all ways in; who is in neither is in neither; and a database that is
// away takes only its own schools with it.
func TestSchoolsInTwoDatabases(t *testing.T) {
	t.Parallel()
	near, far := pgtest.New(t), pgtest.New(t)
	first, err := store.Open(near)
	require.NoError(t, err)
	defer first.Close()
	second, err := store.Open(far)
	require.NoError(t, err)
	defer second.Close()
	a, _, _, _ := school(t, first, "A")
	b, _, _, _ := school(t, second, "B")
	person := func(db *store.DB, school uuid.UUID, email string) peoplerows.Person {
		p := peoplerows.Person{School: school, ID: uuid.New(), Email: email, Name: "Ines Corvane", Role: "director", Hash: "x", Active: true}
		require.NoError(t, db.Write(ctx, school, func(tx *store.Tx) error { return peoplerows.PutPerson(ctx, tx, p) }))
		return p
	}
	inA, inB := person(first, a, "a@quillhaven.example"), person(second, b, "b@quillhaven.example")

	line := &deadLine{}
	both, err := store.Open(near, line.to(t, far))
	require.NoError(t, err)
	defer both.Close()
	require.NoError(t, both.Ping(ctx))
	instruments := func(db *store.DB, school uuid.UUID) (n int, err error) {
		err = db.Read(ctx, school, func(tx *store.Tx) error {
			list, err := instrumentrows.Instruments(ctx, tx)
			n = len(list)
			return err
		})
		return n, err
	}
	for _, school := range []uuid.UUID{a, b} {
		n, err := instruments(both, school)
		require.NoError(t, err)
		assert.Equal(t, 1, n)
	}
	n, err := instruments(both, uuid.New())
	require.NoError(t, err)
	assert.Zero(t, n, "a school that is nowhere")

	now := time.Now()
	for _, p := range []peoplerows.Person{inA, inB} {
		got, err := both.SignInCandidate(ctx, p.Email)
		require.NoError(t, err)
		assert.Equal(t, p.School, got.School)
		require.NoError(t, both.PutSession(ctx,
			store.Session{Token: p.Email, Data: []byte("{}"), Expiry: now.Add(time.Hour), School: &p.School, Person: &p.ID, BeganAt: now}))
		session, err := both.Session(ctx, p.Email, now)
		require.NoError(t, err)
		assert.Equal(t, p.ID, *session.Person)
	}
	_, err = first.Session(ctx, inB.Email, now)
	require.ErrorIs(t, err, store.ErrNotFound, "a session lies with its school")
	_, err = both.SignInCandidate(ctx, "nobody@quillhaven.example")
	require.ErrorIs(t, err, store.ErrNotFound)
	for range 2 {
		_, _, err = both.CountSignIns(ctx, inB.Email, "10.0.0.1", now, now.Add(-time.Minute))
		require.NoError(t, err)
	}
	byEmail, byOrigin, err := both.CountSignIns(ctx, inB.Email, "10.0.0.1", now, now.Add(-time.Minute))
	require.NoError(t, err)
	assert.Equal(t, []int{3, 3}, []int{byEmail, byOrigin})
	require.NoError(t, both.ForgetSignIns(ctx, inB.Email, inB.Email))
	byEmail, _, err = both.CountSignIns(ctx, inB.Email, "10.0.0.1", now, now.Add(-time.Minute))
	require.NoError(t, err)
	assert.Equal(t, 1, byEmail)

	line.silent.Store(true)
	n, err = instruments(both, a)
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	patience, stop := context.WithTimeout(ctx, time.Minute) // the operating system alone would wait a quarter of an hour
	defer stop()
	_, err = both.SignInCandidate(patience, inA.Email)
	require.NoError(t, err)
	_, err = instruments(both, b)
	require.ErrorIs(t, err, store.ErrUnavailable)
	// Nobody knows whether the database that is away knows them; that is said long before patience is out.
	_, err = both.SignInCandidate(patience, "nobody@quillhaven.example")
	require.ErrorIs(t, err, store.ErrUnavailable)
	require.NoError(t, patience.Err())
	require.NoError(t, both.Ping(ctx), "somebody can be served")
	assert.Error(t, both.DeleteSession(ctx, inB.Email), "it is not known to be ended")
}

// A standby says that it can only be read, and is not taken for one that is away.
func TestADatabaseThatCanOnlyBeRead(t *testing.T) {
	address := pgtest.New(t)
	db, err := store.Open(address)
	require.NoError(t, err)
	a, _, _, _ := school(t, db, "A")
	require.NoError(t, db.Close())
	standby, err := store.Open(address + "&default_transaction_read_only=on")
	require.NoError(t, err)
	defer standby.Close()
	require.NoError(t, standby.Read(ctx, a, func(tx *store.Tx) error { _, err := instrumentrows.Instruments(ctx, tx); return err }))
	err = standby.Write(ctx, a, func(*store.Tx) error { return nil })
	require.ErrorIs(t, err, store.ErrReadOnly)
	assert.NotErrorIs(t, err, store.ErrUnavailable)
}

// Who holds a school up, as a process that hangs in a write, holds up the others for seconds. They are told that they wait for somebody, and
// nothing of theirs was kept.
func TestAWriteThatHangs(t *testing.T) {
	t.Parallel()
	db := pgtest.Open(t)
	a, _, _, _ := school(t, db, "A")
	holds, free := make(chan struct{}), make(chan struct{})
	done := make(chan error)
	go func() {
		done <- db.Write(ctx, a, func(*store.Tx) error { close(holds); <-free; return nil })
	}()
	<-holds
	err := db.Write(ctx, a, func(tx *store.Tx) error {
		return schoolrows.PutPeriod(ctx, tx, schoolrows.Breaks, schoolrows.Period{ID: uuid.New(), Name: "Fog", StartsOn: today, EndsOn: today})
	})
	require.ErrorIs(t, err, store.ErrWaiting)
	assert.NotErrorIs(t, err, store.ErrUnavailable)
	close(free)
	require.NoError(t, <-done)
	require.NoError(t, db.Read(ctx, a, func(tx *store.Tx) error {
		breaks, err := schoolrows.Periods(ctx, tx, schoolrows.Breaks)
		assert.Empty(t, breaks)
		return err
	}))
}
