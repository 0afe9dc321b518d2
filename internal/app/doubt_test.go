package app_test

import (
	"bytes"
	"io"
	"net"
	"net/url"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app"
	"solfeggio/internal/app/care"
	"solfeggio/internal/pgtest"
	"solfeggio/internal/store"
)

// A cutting line to the database breaks off at the next commit: before the server hears it, or before its answer is heard.
type cutting struct{ before, after atomic.Bool }

// through makes a line to a database and returns the address at its near end.
func (c *cutting) through(t *testing.T, address string) string {
	t.Helper()
	u, err := url.Parse(address)
	require.NoError(t, err)
	far := u.Host
	near, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	t.Cleanup(func() { _ = near.Close() })
	go func() {
		for {
			client, err := near.Accept()
			if err != nil {
				return
			}
			server, err := net.Dial("tcp", far)
			if err != nil {
				_ = client.Close()
				continue
			}
			go func() { _, _ = io.Copy(client, server); _ = client.Close() }()
			go c.carry(client, server)
		}
	}()
	u.Host = near.Addr().String()
	return u.String()
}

func (c *cutting) carry(client, server net.Conn) {
	defer server.Close()
	buffer := make([]byte, 64<<10)
	for {
		n, err := client.Read(buffer)
		if err != nil {
			return
		}
		commit := bytes.Contains(bytes.ToLower(buffer[:n]), []byte("commit\x00"))
		if commit && c.before.CompareAndSwap(true, false) {
			_ = client.Close()
			return
		}
		if commit && c.after.CompareAndSwap(true, false) {
			_ = client.Close()
			_, _ = server.Write(buffer[:n])
			time.Sleep(100 * time.Millisecond) // so that the server has the commit before the line is gone for it too
			return
		}
		if _, err := server.Write(buffer[:n]); err != nil {
			return
		}
	}
}

// When a commit is cut off nobody knows whether it was kept. It is looked up by its key, and the answer is true.
func TestACommitThatIsCutOff(t *testing.T) {
	address := pgtest.New(t)
	direct, err := store.Open(address)
	require.NoError(t, err)
	t.Cleanup(func() { _ = direct.Close() })
	h := newHouseOn(t, direct, "ines@quillhaven.example")
	h.bring("tag,kind,care_from\nTR-01,trumpet,2026-01-01\n")
	task := care.Finish{Tasks: []care.FinishTask{{InstrumentID: h.id("TR-01"), Key: bath}}}
	baths := func() (n int) {
		for _, sentence := range h.said("TR-01") {
			if strings.Contains(sentence, " done") {
				n++
			}
		}
		return n
	}

	line := &cutting{}
	db, err := store.Open(line.through(t, address))
	require.NoError(t, err)
	t.Cleanup(func() { _ = db.Close() })
	away := app.New(db, func() time.Time { return h.now }, quiet)

	lively := func() { // a connection that was cut must not be the next one's
		require.Eventually(
			t,
			func() bool { _, err := away.Today.Header(ctx, h.director); return err == nil && db.Ping(ctx) == nil },
			10*time.Second,
			60*time.Millisecond,
		)
	}
	line.before.Store(true)
	_, err = away.Care.Finish(request("a bath"), h.director, task)
	require.ErrorIs(t, err, store.ErrUnavailable, "looked up, it is known that nothing was kept")
	assert.NotErrorIs(t, err, store.ErrInDoubt)
	assert.Zero(t, baths())

	lively()
	line.after.Store(true)
	first, err := away.Care.Finish(request("a bath"), h.director, task)
	require.NoError(t, err, "looked up, it was kept")
	require.Len(t, first.Events, 1)
	assert.Equal(t, 1, baths())
	lively()
	again, err := away.Care.Finish(request("a bath"), h.director, task)
	require.NoError(t, err)
	assert.Equal(t, first, again)
	assert.Equal(t, 1, baths())

	// Without a key there is nothing to look up by, and that is said.
	h.now = h.now.AddDate(0, 0, 1)
	lively()
	line.after.Store(true)
	_, err = away.Care.Finish(ctx, h.director, task)
	require.ErrorIs(t, err, store.ErrInDoubt)
	require.Eventually(
		t,
		func() bool { return baths() == 2 },
		10*time.Second,
		20*time.Millisecond,
		"PostgreSQL got the commit and ends it alone",
	)
}
