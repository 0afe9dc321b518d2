package web

import (
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
)

// What one request may take, so that nobody keeps the others waiting.
const (
	maxOpenCalcBytes = 32 << 10 // a calculator's input without a sign-in
	maxCalcBytes     = 8 << 20  // and with one
	calcTime         = 10 * time.Second
	calcAtOnce       = 2
)

// busy says that others are served first.
var busy = &huma.ErrorModel{
	Status: http.StatusServiceUnavailable,
	Title:  http.StatusText(http.StatusServiceUnavailable),
	Detail: "Too much is being worked out just now, or this takes too long. Nothing was changed; try again in a moment, or with less.",
}
