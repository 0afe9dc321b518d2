// Package lendingrows keeps hand-overs, holds and charges.
package lendingrows

import (
	"cmp"
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store/internal/query"
)

// HandOver is a stretch in which one player answers for an instrument. ReturnedAt nil means that it is out.
type HandOver struct {
	ID         uuid.UUID
	Instrument uuid.UUID
	Player     *uuid.UUID // nil once the player was erased
	GivenAt    time.Time
	GivenBy    *uuid.UUID
	DueBackOn  *day.Day
	Fit        json.RawMessage
	Kit        map[string]catalog.KitState // what was not in order, by supply
	Terms      string
	Known      string // of its condition, a sentence a line
	Signature  Signature
	ReturnedAt *time.Time
	ReturnedBy *uuid.UUID
	ReturnKit  map[string]catalog.KitState
	Reported   string
}

// Signature is how an agreement was signed; the zero one was not.
type Signature struct {
	How     string     `json:"how" enum:",screen,paper"`
	By      string     `json:"by"`
	At      *time.Time `json:"at,omitempty"`
	Strokes [][][2]int `json:"strokes,omitempty" doc:"Points from 0 to 1000 across and down"`
}

type handOverRow struct {
	School     uuid.UUID                               `db:"school_id"`
	ID         uuid.UUID                               `db:"id"`
	Instrument uuid.UUID                               `db:"instrument_id"`
	Player     *uuid.UUID                              `db:"player_id"`
	GivenAt    time.Time                               `db:"given_at"`
	GivenBy    *uuid.UUID                              `db:"given_by"`
	DueBackOn  *day.Day                                `db:"due_back_on"`
	Fit        query.JSON[json.RawMessage]             `db:"fit"`
	Kit        query.JSON[map[string]catalog.KitState] `db:"kit"`
	Terms      string                                  `db:"terms"`
	Known      string                                  `db:"known"`
	SignedHow  string                                  `db:"signed_how"`
	SignedBy   string                                  `db:"signed_by"`
	SignedAt   *time.Time                              `db:"signed_at"`
	Strokes    query.JSON[[][][2]int]                  `db:"signature"`
	ReturnedAt *time.Time                              `db:"returned_at"`
	ReturnedBy *uuid.UUID                              `db:"returned_by"`
	ReturnKit  query.JSON[map[string]catalog.KitState] `db:"return_kit"`
	Reported   string                                  `db:"reported"`
}

const handOverColumns = `id, instrument_id, player_id, given_at, given_by, due_back_on, fit, kit, terms, known, signed_how, signed_by,
	signed_at, signature, returned_at, returned_by, return_kit, reported`

func (r handOverRow) handOver() HandOver {
	return HandOver{
		ID:         r.ID,
		Instrument: r.Instrument,
		Player:     r.Player,
		GivenAt:    r.GivenAt,
		GivenBy:    r.GivenBy,
		DueBackOn:  r.DueBackOn,
		Fit:        r.Fit.Of,
		Kit:        r.Kit.Of,
		Terms:      r.Terms,
		Known:      r.Known,
		Signature:  Signature{How: r.SignedHow, By: r.SignedBy, At: r.SignedAt, Strokes: r.Strokes.Of},
		ReturnedAt: r.ReturnedAt,
		ReturnedBy: r.ReturnedBy,
		ReturnKit:  r.ReturnKit.Of,
		Reported:   r.Reported,
	}
}

// InsertHandOver keeps a hand-over.
func InsertHandOver(ctx context.Context, tx *query.Tx, h HandOver) error {
	if h.Fit == nil {
		h.Fit = json.RawMessage(`{}`)
	}
	return query.NamedDo(
		ctx, tx,
		`
		INSERT INTO hand_over (school_id, id, instrument_id, player_id, given_at, given_by, due_back_on, fit, kit, terms, known, signed_how,
		signed_by, signed_at, signature)
		VALUES (:school_id, :id, :instrument_id, :player_id, :given_at, :given_by, :due_back_on, :fit, :kit, :terms, :known, :signed_how,
		:signed_by, :signed_at, :signature)`,
		handOverRow{
			School: tx.School, ID: h.ID, Instrument: h.Instrument, Player: h.Player, GivenAt: h.GivenAt, GivenBy: h.GivenBy, DueBackOn: h.DueBackOn,
			Fit: query.AsJSON(h.Fit), Kit: kitAsJSON(h.Kit), Terms: h.Terms, Known: h.Known, SignedHow: h.Signature.How, SignedBy: h.Signature.By,
			SignedAt: h.Signature.At, Strokes: query.AsJSON(h.Signature.Strokes),
		},
	)
}

// kitAsJSON is a kit in which everything is in order where none is given.
func kitAsJSON(kit map[string]catalog.KitState) query.JSON[map[string]catalog.KitState] {
	if kit == nil {
		kit = map[string]catalog.KitState{}
	}
	return query.AsJSON(kit)
}

// HandOverByID reads one hand-over.
func HandOverByID(ctx context.Context, tx *query.Tx, id uuid.UUID) (HandOver, error) {
	var r handOverRow
	if err := query.Get(ctx, tx, &r, `SELECT `+handOverColumns+` FROM hand_over WHERE school_id = $1 AND id = $2`,
		tx.School, id); err != nil {
		return HandOver{}, err
	}
	return r.handOver(), nil
}

// OpenHandOvers lists the hand-overs of instruments that are out: of those named, or of all.
func OpenHandOvers(ctx context.Context, tx *query.Tx, of ...uuid.UUID) ([]HandOver, error) {
	var rows []handOverRow
	where, args := query.Only("instrument_id", of, tx.School)
	if err := query.Select(ctx, tx, &rows, `SELECT `+handOverColumns+` FROM hand_over
		WHERE school_id = $1 AND returned_at IS NULL`+where+` ORDER BY given_at, id`, args...); err != nil {
		return nil, err
	}
	list := make([]HandOver, len(rows))
	for n, r := range rows {
		list[n] = r.handOver()
	}
	return list, nil
}

// CloseHandOver ends a hand-over as h says; ErrStale when it was ended already.
func CloseHandOver(ctx context.Context, tx *query.Tx, h HandOver) error {
	return query.DoOne(ctx, tx, `UPDATE hand_over SET returned_at = $3, returned_by = $4, return_kit = $5, reported = $6
		WHERE school_id = $1 AND id = $2 AND returned_at IS NULL`, tx.School, h.ID, h.ReturnedAt, h.ReturnedBy, kitAsJSON(h.ReturnKit),
		h.Reported)
}

// ReopenHandOver takes a return back.
func ReopenHandOver(ctx context.Context, tx *query.Tx, id uuid.UUID) error {
	return query.DoOne(ctx, tx, `UPDATE hand_over SET returned_at = NULL, returned_by = NULL, return_kit = '{}', reported = ''
		WHERE school_id = $1 AND id = $2 AND returned_at IS NOT NULL`, tx.School, id)
}

// DeleteHandOver takes a hand-over back that was made by mistake.
func DeleteHandOver(ctx context.Context, tx *query.Tx, id uuid.UUID) error {
	if _, err := query.Exec(ctx, tx, `UPDATE photo SET hand_over_id = NULL WHERE school_id = $1 AND hand_over_id = $2`,
		tx.School, id); err != nil {
		return err
	}
	return query.DoOne(ctx, tx, `DELETE FROM hand_over WHERE school_id = $1 AND id = $2 AND returned_at IS NULL`, tx.School, id)
}

// SignHandOver notes that the agreement of a hand-over was signed; terms are what was agreed where that was left open until
// now. ErrStale when it was signed already.
func SignHandOver(ctx context.Context, tx *query.Tx, id uuid.UUID, s Signature, terms string) error {
	return query.MetOne(
		query.Exec(
			ctx, tx,
			`UPDATE hand_over SET signed_how = $3, signed_by = $4, signed_at = $5, signature = $6, terms = coalesce(nullif(terms, ''), $7)
		WHERE school_id = $1 AND id = $2 AND signed_how = ''`,
			tx.School,
			id,
			s.How,
			s.By,
			s.At,
			query.AsJSON(s.Strokes),
			terms,
		),
	)
}

// Awaited is what a held instrument waits for.
type Awaited string

// What is waited for.
const (
	Bench Awaited = "bench" // to be made ready
	Shop  Awaited = "shop"  // the bench has done what it can
)

// Hold is why an instrument waits.
type Hold struct {
	ID         uuid.UUID  `db:"id"`
	Instrument uuid.UUID  `db:"instrument_id"`
	Because    string     `db:"because"` // for people
	Awaits     Awaited    `db:"awaits"`
	BeganAt    time.Time  `db:"began_at"`
	BeganBy    *uuid.UUID `db:"began_by"`
	EndedAt    *time.Time `db:"ended_at"` // in the future while it dries or rests
}

// OpenHolds lists the holds of the instruments named, or of all, that are not over at a time. What an instrument waits for
// without an end comes last.
func OpenHolds(ctx context.Context, tx *query.Tx, at time.Time, of ...uuid.UUID) ([]Hold, error) {
	where, args := query.Only("instrument_id", of, tx.School, at)
	return query.List[Hold](ctx, tx, `SELECT id, instrument_id, because, awaits, began_at, began_by, ended_at FROM hold
		WHERE school_id = $1 AND (ended_at IS NULL OR ended_at > $2)`+where+` ORDER BY ended_at NULLS LAST, id`, args...)
}

// KeepHolding lets an open hold wait for something else; ErrStale when it is over.
func KeepHolding(ctx context.Context, tx *query.Tx, id uuid.UUID, awaits Awaited, because string) error {
	return query.MetOne(
		query.Exec(
			ctx, tx,
			`UPDATE hold SET awaits = $3, because = $4 WHERE school_id = $1 AND id = $2 AND ended_at IS NULL`,
			tx.School,
			id,
			awaits,
			because,
		),
	)
}

// InsertHold holds an instrument, for the bench if nothing else is said; one that is held already stays as it is, and false is returned.
func InsertHold(ctx context.Context, tx *query.Tx, h Hold) (bool, error) {
	result, err := query.Exec(
		ctx, tx,
		`INSERT INTO hold (school_id, id, instrument_id, because, awaits, began_at, began_by) VALUES ($1, $2, $3, $4, $5, $6, $7)
		ON CONFLICT (school_id, instrument_id) WHERE ended_at IS NULL DO NOTHING`,
		tx.School,
		h.ID,
		h.Instrument,
		h.Because,
		cmp.Or(h.Awaits, Bench),
		h.BeganAt,
		h.BeganBy,
	)
	if err != nil {
		return false, err
	}
	n, err := result.RowsAffected()
	return n == 1, err
}

// EndHold lets an instrument go; ErrStale when it was not held any more.
func EndHold(ctx context.Context, tx *query.Tx, id uuid.UUID, at time.Time, by *uuid.UUID, how string) error {
	return query.MetOne(
		query.Exec(
			ctx, tx,
			`UPDATE hold SET ended_at = $3, ended_by = $4, how = $5 WHERE school_id = $1 AND id = $2 AND (ended_at IS NULL OR ended_at > $3)`,
			tx.School,
			id,
			at,
			by,
			how,
		),
	)
}

// ResumeHold takes the end of a hold back.
func ResumeHold(ctx context.Context, tx *query.Tx, id uuid.UUID) error {
	return query.MetOne(
		query.Exec(
			ctx, tx,
			`UPDATE hold SET ended_at = NULL, ended_by = NULL, how = '' WHERE school_id = $1 AND id = $2 AND ended_at IS NOT NULL`,
			tx.School,
			id,
		),
	)
}

// Charge is what a player is asked to pay after a return.
type Charge struct {
	ID            uuid.UUID  `db:"id" json:"id"`
	HandOver      uuid.UUID  `db:"hand_over_id" json:"hand_over_id"`
	RepairCents   int64      `db:"repair_cents" json:"repair_cents"`
	ProposedCents int64      `db:"proposed_cents" json:"proposed_cents"`
	AmountCents   int64      `db:"amount_cents" json:"amount_cents"`
	Reason        string     `db:"reason" json:"reason"`
	DecidedAt     time.Time  `db:"decided_at" json:"decided_at"`
	DecidedBy     *uuid.UUID `db:"decided_by" json:"-"`
}

// InsertCharge keeps a charge.
func InsertCharge(ctx context.Context, tx *query.Tx, c Charge) error {
	return query.Do(
		ctx, tx,
		`INSERT INTO charge (school_id, id, hand_over_id, repair_cents, proposed_cents, amount_cents, reason, decided_at, decided_by)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)`,
		tx.School,
		c.ID,
		c.HandOver,
		c.RepairCents,
		c.ProposedCents,
		c.AmountCents,
		c.Reason,
		c.DecidedAt,
		c.DecidedBy,
	)
}

// DeleteCharge takes a charge back with the return that it came from.
func DeleteCharge(ctx context.Context, tx *query.Tx, id uuid.UUID) error {
	return query.Do(ctx, tx, `DELETE FROM charge WHERE school_id = $1 AND id = $2`, tx.School, id)
}

// ChargedReturn is a charge with the player and the instrument.
type ChargedReturn struct {
	Charge
	Player     *uuid.UUID `db:"player_id"`
	Instrument uuid.UUID  `db:"instrument_id"`
}

// Charges lists what was charged, the latest first.
func Charges(ctx context.Context, tx *query.Tx) ([]ChargedReturn, error) {
	return query.List[ChargedReturn](ctx, tx,
		`SELECT c.id, c.hand_over_id, c.repair_cents, c.proposed_cents, c.amount_cents, c.reason, c.decided_at, c.decided_by, h.player_id,
			h.instrument_id
		FROM charge c JOIN hand_over h ON h.school_id = c.school_id AND h.id = c.hand_over_id
		WHERE c.school_id = $1 ORDER BY c.decided_at DESC`,
		tx.School,
	)
}
