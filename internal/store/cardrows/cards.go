// Package cardrows keeps care cards, reports of players, pack-up and drills.
package cardrows

import (
	"context"
	"errors"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/report"
	"solfeggio/internal/store/internal/query"
)

// Card is the address of an instrument's care card.
type Card struct {
	Instrument uuid.UUID `db:"instrument_id"`
	Secret     string    `db:"secret"`
	MadeOn     day.Day   `db:"made_on"`
}

// Cards lists the cards of the instruments named, or of all.
func Cards(ctx context.Context, tx *query.Tx, of ...uuid.UUID) ([]Card, error) {
	where, args := query.Only("instrument_id", of, tx.School)
	return query.List[Card](ctx, tx, `SELECT instrument_id, secret, made_on FROM card WHERE school_id = $1`+where, args...)
}

// PutCard gives an instrument a card; the address of the one before leads nowhere from then on.
func PutCard(ctx context.Context, tx *query.Tx, c Card) error {
	return query.Do(ctx, tx, `INSERT INTO card (school_id, instrument_id, secret, made_on) VALUES ($1, $2, $3, $4)
		ON CONFLICT (school_id, instrument_id) DO UPDATE SET secret = $3, made_on = $4`, tx.School, c.Instrument, c.Secret, c.MadeOn)
}

// Report is what a player said is wrong with an instrument.
type Report struct {
	ID         uuid.UUID    `db:"id" json:"id"`
	Instrument uuid.UUID    `db:"instrument_id" json:"instrument_id"`
	Symptom    string       `db:"symptom" json:"symptom"`
	Plays      Plays        `db:"plays" json:"plays" enum:"yes,badly,no" doc:"Whether the player can still play"`
	ReportedAt time.Time    `db:"reported_at" json:"reported_at"`
	Said       int          `db:"said" json:"said" doc:"How often it was said while it is open"`
	Photo      *uuid.UUID   `db:"photo_id" json:"photo_id,omitempty"`
	State      report.State `db:"state" json:"state" enum:"open,seen,found,answered,sound,mended"`
	Finding    *uuid.UUID   `db:"finding_id" json:"finding_id,omitempty"`
	Answer     string       `db:"answer" json:"answer"`
	SettledAt  *time.Time   `db:"settled_at" json:"settled_at,omitempty" doc:"When it was first more than open"`
	SettledBy  *uuid.UUID   `db:"settled_by" json:"-"`
	Cleared    bool         `db:"cleared" json:"cleared" doc:"The finding that was made of it is cleared"`
}

// Plays says whether a player can still play.
type Plays string

// Whether a player can play.
const (
	PlaysWell  Plays = "yes"
	PlaysBadly Plays = "badly"
	PlaysNot   Plays = "no"
)

const reportColumns = `r.id, r.instrument_id, r.symptom, r.plays, r.reported_at, r.said, r.photo_id, r.state, r.finding_id, r.answer,
	r.settled_at, r.settled_by,
	f.cleared_at IS NOT NULL AS cleared`

const reportTable = ` FROM report r LEFT JOIN finding f ON f.school_id = r.school_id AND f.id = r.finding_id WHERE r.school_id = $1`

// UnsettledReports lists what is not settled yet of the instruments named, or of all, the oldest first.
func UnsettledReports(ctx context.Context, tx *query.Tx, of ...uuid.UUID) ([]Report, error) {
	where, args := query.Only("r.instrument_id", of, tx.School)
	return query.List[Report](ctx, tx, `SELECT `+reportColumns+reportTable+` AND r.state IN ('open', 'seen')`+where+`
		ORDER BY r.reported_at, r.id`, args...)
}

// ReportsOf lists what was reported of an instrument since a day, the latest first.
func ReportsOf(ctx context.Context, tx *query.Tx, instrument uuid.UUID, since time.Time) ([]Report, error) {
	return query.List[Report](ctx, tx, `SELECT `+reportColumns+reportTable+` AND r.instrument_id = $2 AND r.reported_at >= $3
		ORDER BY r.reported_at DESC, r.id`,
		tx.School, instrument, since)
}

// ReportByID reads one report.
func ReportByID(ctx context.Context, tx *query.Tx, id uuid.UUID) (Report, error) {
	var r Report
	err := query.Get(ctx, tx, &r, `SELECT `+reportColumns+reportTable+` AND r.id = $2`, tx.School, id)
	return r, err
}

// InsertReport keeps a report, and says under which id. One that was sent before stays as it is; where the same is open already, it
// counts there, and the worse word and a first picture are kept. isNew says that there is one more.
func InsertReport(ctx context.Context, tx *query.Tx, r Report) (id uuid.UUID, isNew bool, err error) {
	if sent, err := ReportByID(ctx, tx, r.ID); err == nil {
		return sent.ID, false, nil
	} else if !errors.Is(err, query.ErrNotFound) {
		return uuid.Nil, false, err
	}
	err = query.Get(ctx, tx, &id, `
		INSERT INTO report (school_id, id, instrument_id, symptom, plays, reported_at, photo_id) VALUES ($1, $2, $3, $4, $5, $6, $7)
		ON CONFLICT (school_id, instrument_id, symptom) WHERE state = 'open'
		DO UPDATE SET said = report.said + 1, photo_id = coalesce(report.photo_id, excluded.photo_id),
			plays = CASE WHEN array_position(ARRAY['yes', 'badly', 'no'], excluded.plays) > array_position(ARRAY['yes', 'badly', 'no'], report.plays)
				THEN excluded.plays ELSE report.plays END
		RETURNING id`, tx.School, r.ID, r.Instrument, r.Symptom, r.Plays, r.ReportedAt, r.Photo)
	return id, id == r.ID, err
}

// CarryReport keeps how far a report is that was not settled; ErrStale when somebody settled it already.
func CarryReport(ctx context.Context, tx *query.Tx, r Report) error {
	return query.DoOne(ctx, tx, `UPDATE report SET state = $3, finding_id = $4, answer = $5, settled_at = $6, settled_by = $7
		WHERE school_id = $1 AND id = $2 AND (state IN ('open', 'seen') OR state = 'found' AND finding_id = $4)`,
		tx.School, r.ID, r.State, r.Finding, r.Answer, r.SettledAt, r.SettledBy)
}

// ReopenReport takes a settling back.
func ReopenReport(ctx context.Context, tx *query.Tx, id uuid.UUID) error {
	return query.DoOne(ctx, tx, `UPDATE report
		SET state = 'open', finding_id = NULL, answer = '', settled_at = NULL, settled_by = NULL
		WHERE school_id = $1 AND id = $2 AND state <> 'open'`, tx.School, id)
}

// PackUp is a rehearsal that is set up or packed up together, until a bell.
type PackUp struct {
	Ensemble uuid.UUID
	ID       uuid.UUID
	Phase    string // set-up or pack-up
	EndsAt   time.Time
	Ready    []string // sections
}

// PutPackUp keeps how far an ensemble has come, in place of what was before.
func PutPackUp(ctx context.Context, tx *query.Tx, p PackUp) error {
	return query.Do(ctx, tx, `INSERT INTO pack_up (school_id, ensemble_id, id, phase, ends_at, ready) VALUES ($1, $2, $6, $3, $4, $5)
		ON CONFLICT (school_id, ensemble_id) DO UPDATE SET id = $6, phase = $3, ends_at = $4, ready = $5`,
		tx.School, p.Ensemble, p.Phase, p.EndsAt, query.AsJSON(append([]string{}, p.Ready...)), p.ID)
}

// PackUpOf reads how far an ensemble has come; ErrNotFound when it never began.
func PackUpOf(ctx context.Context, tx *query.Tx, ensemble uuid.UUID) (PackUp, error) {
	var row struct {
		ID     uuid.UUID            `db:"id"`
		Phase  string               `db:"phase"`
		EndsAt time.Time            `db:"ends_at"`
		Ready  query.JSON[[]string] `db:"ready"`
	}
	err := query.Get(ctx, tx, &row, `SELECT id, phase, ends_at, ready FROM pack_up WHERE school_id = $1 AND ensemble_id = $2`,
		tx.School, ensemble)
	return PackUp{ensemble, row.ID, row.Phase, row.EndsAt, row.Ready.Of}, err
}
