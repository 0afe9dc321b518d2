// Package app holds what a person can do with Solfeggio, one file for each thing. A use case owns its transaction: it
// loads, asks core, saves, and records the event.
package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"time"
	_ "time/tzdata" // schools keep their own zones wherever the program runs

	"github.com/google/uuid"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
)

// App is the program without its interface.
type App struct {
	db        *store.DB
	catalog   *catalog.Catalog
	now       func() time.Time
	steady    func() time.Duration // since the start, whatever is done to the clock
	timers    timers
	hashing   hashing
	log       *slog.Logger
	snapshots snapshots
}

// New makes an App on a database; now is the clock.
func New(db *store.DB, now func() time.Time, log *slog.Logger) *App {
	start := now()
	steady := func() time.Duration { return now().Sub(start) } // by the monotonic reading of time.Now
	return &App{db: db, catalog: catalog.Embedded(), now: now, steady: steady, log: log, hashing: newHashing()}
}

// Now is the time by the program's clock.
func (a *App) Now() time.Time { return a.now() }

// Catalog is the catalogue in use.
func (a *App) Catalog() *catalog.Catalog { return a.catalog }

// Person is who is signed in.
type Person struct {
	School uuid.UUID `json:"-"`
	ID     uuid.UUID `json:"id"`
	Name   string    `json:"name"`
	Role   Role      `json:"role" enum:"director,assistant,helper,viewer"`
}

// Role is what a person may do.
type Role string

// The roles, from most to least.
const (
	Director  Role = "director"
	Assistant Role = "assistant"
	Helper    Role = "helper"
	Viewer    Role = "viewer"
)

// A Right is something that a role may do.
type Right string

// The rights.
const (
	MayFinishCare        Right = "finish care"
	MayInspect           Right = "inspect"
	MayClearStops        Right = "clear stops"
	MayChangeInstruments Right = "change instruments"
	MayChangeSettings    Right = "change settings"

	MayChangeOwnPassword Right = "change the own password" // everybody may, so it is not listed
)

var rights = map[Role][]Right{
	Director:  {MayFinishCare, MayInspect, MayClearStops, MayChangeInstruments, MayChangeSettings},
	Assistant: {MayFinishCare, MayInspect, MayClearStops, MayChangeInstruments},
	Helper:    {MayFinishCare, MayInspect},
}

// Rights lists what the person may do.
func (p Person) Rights() []Right { return append([]Right{}, rights[p.Role]...) }

func (p Person) need(r Right) error {
	if r == MayChangeOwnPassword {
		return nil
	}
	for _, has := range rights[p.Role] {
		if has == r {
			return nil
		}
	}
	return &Fault{Kind: Forbidden, Message: fmt.Sprintf("A %s may not %s; ask the director.", p.Role, r)}
}

// FaultKind says what sort of answer a fault needs.
type FaultKind int

// The kinds of faults that are a person's to mend.
const (
	Invalid FaultKind = iota
	Unauthorized
	Forbidden
	NotFound
	Conflict
	TooMany
	Busy
)

// A Fault is an error that a person can do something about. Its message is written for them.
type Fault struct {
	Kind    FaultKind
	Message string
	Fields  []Field
}

// A Field is one place in the input that cannot be used.
type Field struct {
	Path    string
	Message string
	Value   any
}

func (f *Fault) Error() string { return f.Message }

func invalid(path, message string, value any) error {
	return &Fault{Kind: Invalid, Message: "Some fields cannot be used.", Fields: []Field{{path, message, value}}}
}

// today is the day on the school's calendar.
func (a *App) today(s store.School) day.Day {
	return day.Of(a.now().In(a.zone(s)))
}

// zone is the school's time zone.
func (a *App) zone(s store.School) *time.Location {
	zone, err := time.LoadLocation(s.TimeZone)
	if err != nil {
		return time.UTC
	}
	return zone
}

// todayIn is the day on the calendar of the transaction's school.
func (a *App) todayIn(ctx context.Context, tx *store.Tx) (day.Day, error) {
	s, err := tx.GetSchool(ctx)
	return a.today(s), err
}

// inPlainWords turns what the store reports into faults that a person can act on.
func inPlainWords(err error) error {
	var v *store.Violation
	switch {
	case errors.Is(err, store.ErrNotFound):
		return &Fault{Kind: NotFound, Message: "This is not there, or not any more."}
	case errors.Is(err, store.ErrStale):
		return &Fault{Kind: Conflict, Message: "Somebody else changed this since you opened it. What you typed is still here; reload to see theirs, then save again."}
	case errors.Is(err, store.ErrCharacter):
		return &Fault{Kind: Invalid, Message: "A text holds a character that cannot be kept. Type it again."}
	case errors.Is(err, store.ErrOtherRequest):
		return &Fault{Kind: Conflict, Message: "This was sent before with other contents, or by somebody else."}
	case errors.As(err, &v):
		if f, ok := violations[v.Constraint]; ok {
			return f
		}
		return &Fault{Kind: Conflict, Message: "This contradicts something that is already kept (" + v.Constraint + ")."}
	}
	return err
}

var violations = map[string]*Fault{
	"term_overlap":   {Kind: Invalid, Message: "Two terms overlap.", Fields: []Field{{Path: "starts_on", Message: "lies in another term"}}},
	"ensemble_name":  {Kind: Invalid, Message: "There is an ensemble of that name already.", Fields: []Field{{Path: "name", Message: "is taken"}}},
	"person_email":   {Kind: Invalid, Message: "This e-mail address is taken.", Fields: []Field{{Path: "email", Message: "this e-mail address is taken"}}},
	"instrument_tag": {Kind: Invalid, Message: "There is an instrument with that tag already.", Fields: []Field{{Path: "tag", Message: "is taken"}}},
	"assignment_ensemble_school_id_ensemble_id_fkey": {Kind: Conflict, Message: "Instruments still play in this ensemble. Take them out first."},
	"concert_ensemble_school_id_ensemble_id_fkey":    {Kind: Invalid, Message: "One of the ensembles is not there any more.", Fields: []Field{{Path: "ensembles", Message: "holds an unknown ensemble"}}},
	"assignment_school_id_player_id_fkey":            {Kind: Conflict, Message: "That player was erased in the meantime."},
	"player_external_id":                             {Kind: Invalid, Message: "Another player has that id in the roster.", Fields: []Field{{Path: "external_id", Message: "is another player's"}}},
	"assignment_overlap":                             {Kind: Conflict, Message: "Somebody else handed it out in the meantime."},
	"player_ensemble_school_id_ensemble_id_fkey":     {Kind: Conflict, Message: "Players still belong to this ensemble. Take them out first."},
	"shelf_name":        {Kind: Invalid, Message: "There is a shelf of that name in the room already.", Fields: []Field{{Path: "name", Message: "is taken in this room"}}},
	"hand_over_open":    {Kind: Conflict, Message: "Somebody else handed it out in the meantime."},
	"hold_open":         {Kind: Conflict, Message: "It is held again since, for another reason."},
	"bench_item_open":   {Kind: Conflict, Message: "One of them lies on another bench already. Finish it there or take it off."},
	"product_name":      {Kind: Invalid, Message: "There is a product of that name already.", Fields: []Field{{Path: "name", Message: "is taken"}}},
	"charge_once":       {Kind: Conflict, Message: "This return was charged for already."},
	"notice_once":       {Kind: Conflict, Message: "This was sent already. Nothing was sent twice."},
	"rental_running":    {Kind: Conflict, Message: "It is rented under another contract already."},
	"finding_open":      {Kind: Conflict, Message: "The same was found again since, so it stands open as it is."},
	"event_undone_once": {Kind: Conflict, Message: "This was undone already."},
}

// read runs f on one unchanging view of the school.
func (a *App) read(ctx context.Context, by Person, f func(tx *store.Tx) error) error {
	return inPlainWords(a.db.Read(ctx, by.School, f))
}

// record adds an event that by did just now.
func (a *App) record(ctx context.Context, tx *store.Tx, by Person, e store.Event, detail any) (uuid.UUID, error) {
	text, err := json.Marshal(detail)
	if err != nil {
		return uuid.Nil, err
	}
	e.ID, e.At, e.Detail = uuid.Must(uuid.NewV7()), a.now(), text
	if by.ID != uuid.Nil {
		e.Person = &by.ID
	}
	return e.ID, tx.InsertEvent(ctx, e)
}
