package web_test

import (
	"context"
	"fmt"
	"log/slog"
	"net/http"
	"runtime"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app"
	"solfeggio/internal/app/access"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/pgtest"
)

// An answer is asked for again with its tag. It is sent only when it is another one, also after a write of whatever sort.
func TestAnUnchangedAnswerIsNotSentAgain(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), email)
	for _, path := range []string{"/api/v1/header", "/api/v1/session", "/api/v1/today", "/api/v1/instruments", "/api/v1/supplies",
		"/api/v1/instruments/" + w.things["free"]} {
		first := w.call("GET", path, "")
		require.Equal(t, http.StatusOK, first.status)
		tag := first.headers.Get("ETag")
		require.NotEmpty(t, tag, path)
		assert.Equal(t, "private, no-store", first.headers.Get("Cache-Control"))
		assert.NotEmpty(t, first.headers.Get("Content-Security-Policy"))
		second := w.call("GET", path, "")
		assert.Equal(t, first.body, second.body)
		same := w.call("GET", path, "", "If-None-Match", tag)
		assert.Equal(t, http.StatusNotModified, same.status, path)
		assert.Empty(t, same.body)

		require.Less(
			t,
			w.call(
				"POST",
				"/api/v1/supplies/count",
				`{"supply":"rosin","size":"","quantity":`+map[bool]string{true: "7", false: "8"}[path == "/api/v1/supplies"]+`}`,
			).status,
			300,
		)
		after := w.call("GET", path, "", "If-None-Match", tag)
		if path == "/api/v1/supplies" {
			assert.Equal(t, http.StatusOK, after.status)
			assert.NotEqual(t, tag, after.headers.Get("ETag"))
		} else if path != "/api/v1/session" { // which does not read the school, and so does not know how old it is
			assert.Equal(t, http.StatusNotModified, after.status, "%s says what it said before", path)
			assert.Equal(t, first.body, w.call("GET", path, "").body)
		}
	}
	for _, path := range []string{"/api/v1/bench", "/api/v1/bench/runs/" + w.things["run"], "/api/v1/players.csv"} {
		assert.Empty(t, w.call("GET", path, "").headers.Get("ETag"), "%s is of the moment, or a file", path)
	}
}

// What is remembered for one person is not shown to another who may see less, and nothing to whoever was let go.
func TestAnswersAreRememberedForWhoMaySeeThem(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), email)
	require.Equal(t, http.StatusOK, w.call("GET", "/api/v1/players", "").status)
	require.Equal(t, http.StatusOK, w.call("GET", "/api/v1/settings/people", "").status)
	assert.Contains(t, w.call("GET", "/api/v1/players", "").body, `"arm_length_cm":60`)
	helper := access.Colleague{ID: uuid.New(), Name: "Pell Arrowby", Email: "pell@quillhaven.example", Role: journal.Helper, Active: true}
	require.NoError(t, w.app.Access.SaveColleague(context.Background(), w.by, helper, "a long password"))
	theirs := w.visitor()
	require.Equal(
		t,
		http.StatusOK,
		theirs.call("POST", "/api/v1/session", `{"email":"pell@quillhaven.example","password":"a long password"}`).status,
	)
	assert.NotContains(t, theirs.call("GET", "/api/v1/players", "").body, `"arm_length_cm":60`)
	assert.Equal(t, http.StatusForbidden, theirs.call("GET", "/api/v1/settings/people", "").status)
	assert.Contains(t, theirs.call("GET", "/api/v1/session", "").body, "Pell Arrowby")
	assert.Contains(t, w.call("GET", "/api/v1/session", "").body, "Ines Corvane")

	helper.Active, helper.Version = false, 1
	require.NoError(t, w.app.Access.SaveColleague(context.Background(), w.by, helper, ""))
	assert.Equal(t, http.StatusUnauthorized, theirs.call("GET", "/api/v1/players", "").status, "let go, they are out at once")
	require.Equal(t, http.StatusNoContent, w.call("DELETE", "/api/v1/session", "").status)
	assert.Equal(t, http.StatusUnauthorized, w.call("GET", "/api/v1/players", "").status)
}

// visitor is another browser at the same server.
func (s *site) visitor() *site {
	return &site{s.t, s.url, s.app, &http.Client{Jar: newJar(s.t)}, s.log, s.now}
}

// Whatever is asked, and in however many pages, what is remembered takes the room that there is for it and no more.
func TestWhatIsRememberedTakesNoMoreRoomThanThereIs(t *testing.T) {
	s, director, _ := large(t, 600, 1)
	before := memory()
	got := 0
	for n := range 400 {
		got += len(s.call("GET", fmt.Sprintf("/api/v1/instruments?most=%d", 99_000+n), "").body)
	}
	require.Greater(t, got, 100<<20, "bytes, so that they would not all have room")
	assert.Less(t, memory()-before, 70., "MB")

	fresh := app.New(s.app.Schools.DB, s.app.Schools.Now, slog.New(slog.DiscardHandler))
	before = memory()
	snapshot, err := fresh.Schools.Snapshot(context.Background(), director)
	require.NoError(t, err)
	assert.Less(t, memory()-before, float64(snapshot.Bytes())/(1<<20), "MB: what was reckoned for a school suffices")
	runtime.KeepAlive(fresh)
}
