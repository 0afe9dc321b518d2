// Package eventrows keeps the log of a school, and the answers to requests that may come once more.
package eventrows

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/store/internal/query"
)

// What an event says happened.
const (
	Imported          = "imported"
	InstrumentAdded   = "instrument-added"
	InstrumentChanged = "instrument-changed"
	CareDone          = "care-done"
	Undone            = "undone"
	SettingsChanged   = "settings-changed"
	Inspected         = "inspected"
	FindingMade       = "finding-made"
	FindingCleared    = "finding-cleared"
	Reported          = "reported"
	ReportSettled     = "report-settled"
	NotFound          = "not-found"
	OwnChoice         = "own-choice"
	HandedOut         = "handed-out"
	Returned          = "returned"
	Promised          = "promised"
	PromiseEnded      = "promise-ended"
	HoldEnded         = "hold-ended"
	Agreed            = "agreed"
	KitChecked        = "kit-checked"
	KitRefilled       = "kit-refilled"
	PlayersChanged    = "players-changed"
	StockChanged      = "stock-changed"
	SuppliesOrdered   = "supplies-ordered"
	SuppliesReceived  = "supplies-received"
	NoticeSent        = "notice-sent"
	RentalChanged     = "rental-changed"
	LeftSchool        = "left-school"
	BenchTicked       = "bench-ticked"
	BenchDone         = "bench-done"
	BenchLeft         = "bench-left"
	ReedOpened        = "reed-opened"
	ReedEnded         = "reed-ended"
	StringTaken       = "string-taken"
	JobMade           = "job-made"
	JobChanged        = "job-changed"
	JobMoved          = "job-moved"
	OwnerTold         = "owner-told"
)

// Event is one entry of the log.
type Event struct {
	ID         uuid.UUID       `db:"id"`
	At         time.Time       `db:"at"`
	Person     *uuid.UUID      `db:"person_id"`
	PersonName *string         `db:"person_name"`
	Instrument *uuid.UUID      `db:"instrument_id"`
	What       string          `db:"what"`
	Detail     json.RawMessage `db:"detail"`
	Undoes     *uuid.UUID      `db:"undoes"`
	UndoesWhat *string         `db:"undoes_what"`
	UndoneBy   *uuid.UUID      `db:"undone_by"`
}

// InsertEvents adds to the log. A nil Detail is an empty object.
func InsertEvents(ctx context.Context, tx *query.Tx, list ...Event) error {
	ids, details := make([]uuid.UUID, len(list)), make([]string, len(list))
	at, people, instruments := make([]time.Time, len(list)), make([]*uuid.UUID, len(list)), make([]*uuid.UUID, len(list))
	what, undoes := make([]string, len(list)), make([]*uuid.UUID, len(list))
	for n, e := range list {
		ids[n], at[n], people[n], instruments[n], what[n], undoes[n] = e.ID, e.At, e.Person, e.Instrument, e.What, e.Undoes
		if details[n] = string(e.Detail); e.Detail == nil {
			details[n] = `{}`
		}
	}
	return query.Do(ctx, tx, `INSERT INTO event (school_id, id, at, person_id, instrument_id, what, detail, undoes)
		SELECT $1, * FROM unnest($2::uuid[], $3::timestamptz[], $4::uuid[], $5::uuid[], $6::text[], $7::jsonb[], $8::uuid[])`,
		tx.School, ids, at, people, instruments, what, details, undoes)
}

const eventColumns = `e.id, e.at, e.person_id, p.name AS person_name, e.instrument_id, e.what, e.detail, e.undoes,
	o.what AS undoes_what, u.id AS undone_by
	FROM event e
	LEFT JOIN person p ON p.school_id = e.school_id AND p.id = e.person_id
	LEFT JOIN event u ON u.school_id = e.school_id AND u.undoes = e.id
	LEFT JOIN event o ON o.school_id = e.school_id AND o.id = e.undoes`

// EventByID reads one event.
func EventByID(ctx context.Context, tx *query.Tx, id uuid.UUID) (Event, error) {
	var e Event
	err := query.Get(ctx, tx, &e, `SELECT `+eventColumns+` WHERE e.school_id = $1 AND e.id = $2`, tx.School, id)
	return e, err
}

// Timeline lists the latest events of an instrument, the newest first. Single ticks at the bench are not among them: what they come to
// is.
func Timeline(ctx context.Context, tx *query.Tx, instrument uuid.UUID, limit int) ([]Event, error) {
	return query.List[Event](ctx, tx, `SELECT `+eventColumns+`
		WHERE e.school_id = $1 AND e.instrument_id = $2 AND e.what <> 'bench-ticked'
			AND o.what IS DISTINCT FROM 'bench-ticked'
		ORDER BY e.at DESC, e.id DESC LIMIT $3`, tx.School, instrument, limit)
}

// ErrOtherRequest says that an id was used before for something else.
var ErrOtherRequest = errors.New("this request id was used before for another request")

// Answered looks up what was answered to a request of a person; it reports false for one that is new.
func Answered(ctx context.Context, tx *query.Tx, id, person uuid.UUID, operation string, fingerprint []byte) (json.RawMessage, bool, error) {
	var r struct {
		Person      uuid.UUID       `db:"person_id"`
		Operation   string          `db:"operation"`
		Fingerprint []byte          `db:"fingerprint"`
		Response    json.RawMessage `db:"response"`
	}
	err := query.Get(
		ctx, tx,
		&r,
		`SELECT person_id, operation, fingerprint, response FROM request WHERE school_id = $1 AND id = $2`,
		tx.School,
		id,
	)
	switch {
	case errors.Is(err, query.ErrNotFound):
		return nil, false, nil
	case err != nil:
		return nil, false, err
	case r.Person != person || r.Operation != operation || !bytes.Equal(r.Fingerprint, fingerprint):
		return nil, false, ErrOtherRequest
	}
	return r.Response, true, nil
}

// AmendAnswer changes the answer to a request that was kept.
func AmendAnswer(ctx context.Context, tx *query.Tx, id uuid.UUID, response json.RawMessage) error {
	return query.Do(ctx, tx, `UPDATE request SET response = $3 WHERE school_id = $1 AND id = $2`, tx.School, id, string(response))
}

// answersKept is how long a reply may be lost before its request counts as new.
const answersKept = 7 * 24 * time.Hour

// SaveAnswer keeps the answer to a request, and forgets those of long ago.
func SaveAnswer(
	ctx context.Context, tx *query.Tx,
	id, person uuid.UUID,
	operation string,
	fingerprint []byte,
	response json.RawMessage,
	at time.Time,
) error {
	if _, err := query.Exec(ctx, tx, `DELETE FROM request WHERE school_id = $1 AND at < $2`, tx.School, at.Add(-answersKept)); err != nil {
		return err
	}
	return query.Do(ctx, tx, `INSERT INTO request (school_id, id, person_id, operation, fingerprint, response, at)
		VALUES ($1, $2, $3, $4, $5, $6, $7)`, tx.School, id, person, operation, fingerprint, string(response), at)
}
