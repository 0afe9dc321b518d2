package web

import (
	"errors"
	"log/slog"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"
)

// What one request may take, so that nobody keeps the others waiting.
const (
	maxOpenCalcBytes = 32 << 10         // a calculator's input without a sign-in
	maxCalcBytes     = 8 << 20          // and with one
	calcTime         = 5 * time.Second  // a search gives the best that it has found by then
	calcWait         = 40 * time.Second // for those before it
	calcAtOnce       = 2

	// A year is planned beside the calculators, which are open to everybody, and for longer: whoever waits for it is signed in.
	planTime    = 30 * time.Second
	plansAtOnce = 2

	photoTime = 5 * time.Minute // to send a photograph over a slow line; everything else has the server's minute
)

// calculatePath is the address of the calculators as the router writes it.
const calculatePath = "/api/v1/calc/:name"

// patient gives who sends a photograph the time that it takes over a slow line.
func patient(c *gin.Context) {
	if c.Request.Method == http.MethodPost && (strings.HasSuffix(c.FullPath(), "/photos") || strings.HasSuffix(c.FullPath(), "/report")) {
		until := time.Now().Add(photoTime)
		line := http.NewResponseController(c.Writer)
		if err := errors.Join(line.SetReadDeadline(until), line.SetWriteDeadline(until)); err != nil {
			slog.Warn("more time for a photograph", "error", err)
		}
	}
}

// briefly keeps what a calculator reads from somebody who is not signed in short, before any of it is read.
func (s *server) briefly(c *gin.Context) {
	if c.FullPath() != calculatePath {
		return
	}
	_, stranger := s.signedIn(c.Request.Context())
	switch {
	case stranger == nil:
	case c.Request.ContentLength > maxOpenCalcBytes:
		writeFault(c.Writer, s.log, stranger)
		c.Abort()
	default: // how long it is may not have been said
		c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, maxOpenCalcBytes)
	}
}

// busy says that others are served first.
var busy = &huma.ErrorModel{
	Status: http.StatusServiceUnavailable,
	Title:  http.StatusText(http.StatusServiceUnavailable),
	Detail: "Too much is being worked out just now, or this takes too long. Nothing was changed; try again in a moment, or with less.",
}
