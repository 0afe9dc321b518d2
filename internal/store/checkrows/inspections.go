// Package checkrows keeps inspections, findings and photographs.
package checkrows

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/core/condition"
	"solfeggio/internal/store/internal/query"
)

// Inspection is a finished walk along an instrument.
type Inspection struct {
	ID         uuid.UUID       `db:"id" json:"id"`
	Instrument uuid.UUID       `db:"instrument_id" json:"instrument_id"`
	Person     *uuid.UUID      `db:"person_id" json:"-"`
	PersonName *string         `db:"person_name" json:"person_name,omitempty"`
	Template   string          `db:"template" json:"template"`
	Edition    string          `db:"edition" json:"edition"`
	BeganAt    time.Time       `db:"began_at" json:"began_at"`
	EndedAt    time.Time       `db:"ended_at" json:"ended_at"`
	Grade      condition.Grade `db:"grade" json:"grade" enum:"concert,class,limping,silent"`
	Answers    json.RawMessage `db:"answers" json:"-"`
}

// InsertInspection keeps a walk.
func InsertInspection(ctx context.Context, tx *query.Tx, i Inspection) error {
	return query.Do(ctx, tx, `
		INSERT INTO inspection (school_id, id, instrument_id, person_id, template, edition, began_at, ended_at, grade, answers)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`,
		tx.School, i.ID, i.Instrument, i.Person, i.Template, i.Edition, i.BeganAt, i.EndedAt, i.Grade, string(i.Answers))
}

// LatestInspection reads the last walk along an instrument; ErrNotFound when there was none.
func LatestInspection(ctx context.Context, tx *query.Tx, instrument uuid.UUID) (Inspection, error) {
	var i Inspection
	err := query.Get(ctx, tx, &i, `
		SELECT i.id, i.instrument_id, i.person_id, p.name AS person_name, i.template, i.edition, i.began_at, i.ended_at, i.grade, i.answers
		FROM inspection i LEFT JOIN person p ON p.school_id = i.school_id AND p.id = i.person_id
		WHERE i.school_id = $1 AND i.instrument_id = $2 ORDER BY i.ended_at DESC, i.id DESC LIMIT 1`, tx.School, instrument)
	return i, err
}

// A Look is when somebody walked along an instrument last.
type Look struct {
	Instrument uuid.UUID `db:"instrument_id"`
	At         time.Time `db:"ended_at"`
	By         string    `db:"by"` // empty where that is not known
}

// LastLooks lists the last walk along each instrument, of those named or of all, along which somebody has walked. It says nothing of who.
func LastLooks(ctx context.Context, tx *query.Tx, of ...uuid.UUID) ([]Look, error) {
	where, args := query.Only("i.id", of, tx.School)
	return query.List[Look](ctx, tx, `SELECT i.id AS instrument_id, x.ended_at FROM instrument i
		CROSS JOIN LATERAL (SELECT ended_at FROM inspection x WHERE x.school_id = i.school_id AND x.instrument_id = i.id
			ORDER BY ended_at DESC LIMIT 1) x
		WHERE i.school_id = $1 AND i.gone_on IS NULL`+where, args...)
}

// LookBefore reads the last walk along an instrument up to a moment; ErrNotFound when there was none.
func LookBefore(ctx context.Context, tx *query.Tx, instrument uuid.UUID, at time.Time) (l Look, err error) {
	err = query.Get(ctx, tx, &l, `SELECT i.instrument_id, i.ended_at, coalesce(p.name, '') AS by
		FROM inspection i LEFT JOIN person p ON p.school_id = i.school_id AND p.id = i.person_id
		WHERE i.school_id = $1 AND i.instrument_id = $2 AND i.ended_at <= $3 ORDER BY i.ended_at DESC, i.id DESC LIMIT 1`,
		tx.School, instrument, at)
	return l, err
}

// A KnownFault is a finding that was open at a moment, with who found it.
type KnownFault struct {
	Code  string    `db:"code"`
	Since time.Time `db:"found_at"`
	By    string    `db:"by"` // empty where that is not known
}

// FaultsAt lists what was known and open on an instrument at a moment, the oldest first.
func FaultsAt(ctx context.Context, tx *query.Tx, instrument uuid.UUID, at time.Time) ([]KnownFault, error) {
	return query.List[KnownFault](ctx, tx, `SELECT f.code, f.found_at, coalesce(p.name, '') AS by
		FROM finding f LEFT JOIN person p ON p.school_id = f.school_id AND p.id = f.found_by
		WHERE f.school_id = $1 AND f.instrument_id = $2 AND f.found_at <= $3 AND (f.cleared_at IS NULL OR f.cleared_at > $3)
		ORDER BY f.found_at, f.id`, tx.School, instrument, at)
}

// Finding is something found on an instrument, open until it is cleared.
type Finding struct {
	ID          uuid.UUID        `db:"id" json:"id"`
	Instrument  uuid.UUID        `db:"instrument_id" json:"instrument_id"`
	Inspection  *uuid.UUID       `db:"inspection_id" json:"-"`
	Code        string           `db:"code" json:"code"`
	Point       string           `db:"point" json:"point" doc:"Where it was found, empty outside an inspection"`
	Severity    int              `db:"severity" json:"severity"`
	Action      condition.Action `db:"action" json:"action" enum:"none,habit,director,shop,shop-now,stop"`
	Avoidable   bool             `db:"avoidable" json:"avoidable"`
	TouchesTone bool             `db:"touches_tone" json:"touches_tone"`
	Measured    *float64         `db:"measured" json:"measured,omitempty"`
	Note        string           `db:"note" json:"note"`
	FoundAt     time.Time        `db:"found_at" json:"found_at"`
	FoundBy     *uuid.UUID       `db:"found_by" json:"-"`
	ClearedAt   *time.Time       `db:"cleared_at" json:"cleared_at,omitempty"`
	ClearedBy   *uuid.UUID       `db:"cleared_by" json:"-"`
	ClearedHow  string           `db:"cleared_how" json:"cleared_how,omitempty"`
}

// ForTriage is the finding as triage sees it.
func (f Finding) ForTriage() condition.Finding {
	return condition.Finding{Code: f.Code, Severity: f.Severity, Action: f.Action, Avoidable: f.Avoidable, TouchesTone: f.TouchesTone}
}

const findingColumns = `id, instrument_id, inspection_id, code, point, severity, action, avoidable, touches_tone, measured, note,
	found_at, found_by, cleared_at, cleared_by, cleared_how`

// OpenFindings lists the open findings of the instruments named, or of all, the oldest first.
func OpenFindings(ctx context.Context, tx *query.Tx, of ...uuid.UUID) ([]Finding, error) {
	where, args := query.Only("instrument_id", of, tx.School)
	return query.List[Finding](ctx, tx, `SELECT `+findingColumns+` FROM finding
		WHERE school_id = $1 AND cleared_at IS NULL`+where+` ORDER BY found_at, id`, args...)
}

// FindingsSince lists what was found on an instrument after a moment and what was cleared after it, the oldest first.
func FindingsSince(ctx context.Context, tx *query.Tx, instrument uuid.UUID, since time.Time) ([]Finding, error) {
	return query.List[Finding](ctx, tx, `SELECT `+findingColumns+` FROM finding
		WHERE school_id = $1 AND instrument_id = $2 AND (found_at > $3 OR cleared_at > $3) ORDER BY found_at, id`, tx.School, instrument, since)
}

// FindingByID reads one finding.
func FindingByID(ctx context.Context, tx *query.Tx, id uuid.UUID) (Finding, error) {
	var f Finding
	err := query.Get(ctx, tx, &f, `SELECT `+findingColumns+` FROM finding WHERE school_id = $1 AND id = $2`, tx.School, id)
	return f, err
}

// InsertFinding keeps a finding. One that is open already at that point stays as it is, and its id is returned with new
// false.
func InsertFinding(ctx context.Context, tx *query.Tx, f Finding) (id uuid.UUID, isNew bool, err error) {
	err = query.Get(
		ctx, tx,
		&id,
		`
		INSERT INTO finding (school_id, id, instrument_id, inspection_id, code, point, severity, action, avoidable, touches_tone, measured,
		note, found_at, found_by)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14)
		ON CONFLICT (school_id, instrument_id, code, point) WHERE cleared_at IS NULL
		DO UPDATE SET measured = coalesce(excluded.measured, finding.measured),
			note = CASE WHEN excluded.note = '' OR position(excluded.note IN finding.note) > 0 THEN finding.note
				ELSE concat_ws(E'\n', nullif(finding.note, ''), excluded.note) END
		RETURNING id`,
		tx.School,
		f.ID,
		f.Instrument,
		f.Inspection,
		f.Code,
		f.Point,
		f.Severity,
		f.Action,
		f.Avoidable,
		f.TouchesTone,
		f.Measured,
		f.Note,
		f.FoundAt,
		f.FoundBy,
	)
	return id, id == f.ID, err
}

// ClearFinding closes an open finding; ErrStale when it was closed already.
func ClearFinding(ctx context.Context, tx *query.Tx, id uuid.UUID, at time.Time, by *uuid.UUID, how string) error {
	return query.DoOne(ctx, tx, `UPDATE finding SET cleared_at = $3, cleared_by = $4, cleared_how = $5
		WHERE school_id = $1 AND id = $2 AND cleared_at IS NULL`, tx.School, id, at, by, how)
}

// ReopenFinding takes a closing back.
func ReopenFinding(ctx context.Context, tx *query.Tx, id uuid.UUID) error {
	return query.DoOne(ctx, tx, `UPDATE finding SET cleared_at = NULL, cleared_by = NULL, cleared_how = ''
		WHERE school_id = $1 AND id = $2 AND cleared_at IS NOT NULL`, tx.School, id)
}

// Photo is a picture of a finding, without its bytes.
type Photo struct {
	ID         uuid.UUID  `db:"id" json:"id"`
	Instrument uuid.UUID  `db:"instrument_id" json:"-"`
	Finding    *uuid.UUID `db:"finding_id" json:"finding_id,omitempty"`
	HandOver   *uuid.UUID `db:"hand_over_id" json:"hand_over_id,omitempty"`
	TakenAt    time.Time  `db:"taken_at" json:"taken_at"`
	Person     *uuid.UUID `db:"person_id" json:"-"`
	Width      int        `db:"width" json:"width"`
	Height     int        `db:"height" json:"height"`
	Portrait   bool       `db:"portrait" json:"portrait" doc:"Of the whole instrument, to know it again"`
}

// InsertPhoto keeps a picture; one that was sent before is left as it is.
func InsertPhoto(ctx context.Context, tx *query.Tx, p Photo, full, thumbnail []byte) error {
	return query.Do(ctx, tx, `
		INSERT INTO photo (school_id, id, instrument_id, taken_at, person_id, width, height, portrait, full_size, thumbnail)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10) ON CONFLICT DO NOTHING`,
		tx.School, p.ID, p.Instrument, p.TakenAt, p.Person, p.Width, p.Height, p.Portrait, full, thumbnail)
}

// AttachPhoto ties a picture of the instrument to a finding of it; ErrStale when there is no such picture.
func AttachPhoto(ctx context.Context, tx *query.Tx, photo, instrument, finding uuid.UUID) error {
	return query.DoOne(ctx, tx, `UPDATE photo SET finding_id = $4 WHERE school_id = $1 AND id = $2 AND instrument_id = $3`,
		tx.School, photo, instrument, finding)
}

// KeepPhoto ties a picture of the instrument to a hand-over of it; ErrStale when there is no such picture.
func KeepPhoto(ctx context.Context, tx *query.Tx, photo, instrument, handOver uuid.UUID) error {
	return query.DoOne(ctx, tx, `UPDATE photo SET hand_over_id = $4 WHERE school_id = $1 AND id = $2 AND instrument_id = $3`,
		tx.School, photo, instrument, handOver)
}

// Photos lists the pictures of an instrument.
func Photos(ctx context.Context, tx *query.Tx, instrument uuid.UUID) ([]Photo, error) {
	return query.List[Photo](ctx, tx,
		`SELECT id, instrument_id, finding_id, hand_over_id, taken_at, person_id, width, height, portrait FROM photo
		WHERE school_id = $1 AND instrument_id = $2 ORDER BY taken_at, id`,
		tx.School,
		instrument,
	)
}

// DropPortrait takes a portrait away; ErrStale when there is none.
func DropPortrait(ctx context.Context, tx *query.Tx, id uuid.UUID) error {
	return query.DoOne(ctx, tx, `DELETE FROM photo WHERE school_id = $1 AND id = $2 AND portrait`, tx.School, id)
}

// PhotoBytes reads a picture as JPEG.
func PhotoBytes(ctx context.Context, tx *query.Tx, id uuid.UUID, thumbnail bool) ([]byte, error) {
	var b []byte
	column := "full_size"
	if thumbnail {
		column = "thumbnail"
	}
	err := query.Get(ctx, tx, &b, `SELECT `+column+` FROM photo WHERE school_id = $1 AND id = $2`, tx.School, id)
	return b, err
}
