package web_test

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"

	"solfeggio/internal/pgtest"
)

// No paper and no link names an address that nobody elsewhere could open.
func TestPaperNamesNoAddressOfThisMachine(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), email)
	print := w.fill("/api/v1/cards.pdf?instruments={out}")
	assert.Equal(t, http.StatusOK, w.call("GET", print, "").status)
	assert.Contains(t, w.call("GET", "/api/v1/reach", "").body, `"address":"https://solfeggio.quillhaven.example"`)
	w.app.Schools.Address = ""
	got := w.call("GET", print, "")
	assert.Equal(t, http.StatusConflict, got.status)
	assert.Contains(t, got.body, "SOLFEGGIO_PUBLIC_URL")
	assert.Contains(t, w.call("GET", "/api/v1/reach", "").body, `"address":"","unreachable":"http://127.0.0.1:`)
}
