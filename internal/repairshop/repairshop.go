// Package repairshop is the interface between a school and a repair shop's computer: jobs and quotes as JSON over HTTP. Its document is
// openapi.yaml. No real shop is known to speak it: what answers is the simulated shop that ships with the program.
//
// A school makes the ids, so that whatever is sent twice is done once.
package repairshop

import (
	_ "embed"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
)

// OpenAPI is the document of the interface.
//
//go:embed openapi.yaml
var OpenAPI []byte

// Order is a job as a school gives it.
type Order struct {
	ID         uuid.UUID `json:"id"`
	School     string    `json:"school"`
	Instrument Described `json:"instrument"`
	Works      []string  `json:"works"`
	Asks       string    `json:"asks"`
	NotWanted  string    `json:"not_wanted"`
	Decides    string    `json:"decides"`
	Currency   string    `json:"currency"` // ISO 4217
}

// Described is an instrument as a shop needs to know it.
type Described struct {
	Tag  string `json:"tag"`
	Kind string `json:"kind"`
	Size string `json:"size"`
}

// State is how far a shop is.
type State string

// The states of a job at the shop.
const (
	Received State = "received"
	Quoted   State = "quoted"
	Agreed   State = "agreed"
	Declined State = "declined"
	InWork   State = "in work"
	Ready    State = "ready"
	Fetched  State = "fetched"
)

// Progress is what a shop says of a job.
type Progress struct {
	State   State    `json:"state"`
	Quote   *Quote   `json:"quote,omitempty"`
	ReadyOn *day.Day `json:"ready_on,omitempty"` // promised, or since when it is ready
	Result  *Result  `json:"result,omitempty"`
	Note    string   `json:"note,omitempty"`
}

// Quote is what the shop wants for a job.
type Quote struct {
	ID         uuid.UUID `json:"id"`
	Currency   string    `json:"currency"`
	Lines      []Priced  `json:"lines"`
	TotalCents int64     `json:"total_cents"`
	ValidUntil *day.Day  `json:"valid_until,omitempty"`
	Note       string    `json:"note,omitempty"`
}

// Priced is a line of a quote.
type Priced struct {
	Words string `json:"words"`
	Cents int64  `json:"cents"`
}

// Result is what the shop did.
type Result struct {
	Lines      []Done `json:"lines"`
	TotalCents int64  `json:"total_cents"`
}

// Done is a line of what was done.
type Done struct {
	Words  string `json:"words"`
	Mended bool   `json:"mended"`
	Cents  int64  `json:"cents"`
	Note   string `json:"note,omitempty"`
}

// Decision is what the school says to a quote.
type Decision struct {
	Quote  uuid.UUID `json:"quote"`
	Agreed bool      `json:"agreed"`
}
