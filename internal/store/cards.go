package store

import (
	"context"
	"errors"
	"time"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/report"
)

// Card is the address of an instrument's care card.
type Card struct {
	Instrument uuid.UUID `db:"instrument_id"`
	Secret     string    `db:"secret"`
	MadeOn     day.Day   `db:"made_on"`
}

// Cards lists the cards of the instruments named, or of all.
func (tx *Tx) Cards(ctx context.Context, of ...uuid.UUID) ([]Card, error) {
	var list []Card
	where, args := only("instrument_id", of, tx.School)
	err := tx.tx.SelectContext(ctx, &list, `SELECT instrument_id, secret, made_on FROM card WHERE school_id = $1`+where, args...)
	return nonNil(list, named(err))
}

// PutCard gives an instrument a card; the address of the one before leads nowhere from then on.
func (tx *Tx) PutCard(ctx context.Context, c Card) error {
	_, err := tx.tx.ExecContext(ctx, `INSERT INTO card (school_id, instrument_id, secret, made_on) VALUES ($1, $2, $3, $4)
		ON CONFLICT (school_id, instrument_id) DO UPDATE SET secret = $3, made_on = $4`, tx.School, c.Instrument, c.Secret, c.MadeOn)
	return named(err)
}

// CardHolder is what an address of a card leads to.
type CardHolder struct {
	School     uuid.UUID `db:"school_id"`
	Instrument uuid.UUID `db:"instrument_id"`
	Revision   int64     `db:"revision"` // of the school
}

// CardHolder finds what an address leads to, in any school; ErrNotFound for one that leads nowhere.
func (db *DB) CardHolder(ctx context.Context, secret string) (CardHolder, error) {
	var h CardHolder
	err := db.somewhere(func(pool *sqlx.DB) error {
		return pool.GetContext(ctx, &h, `SELECT school_id, instrument_id, revision FROM card_instrument($1)`, secret)
	})
	return h, err
}

// CountReports counts a try to report under an address of a card and from an origin, with those since a moment.
func (db *DB) CountReports(ctx context.Context, secret, origin string, now, since time.Time) (byCard, byOrigin int, err error) {
	return db.count(ctx, `
		WITH old AS (DELETE FROM report_try WHERE at < $4),
		     this AS (INSERT INTO report_try (secret, origin, at) VALUES ($1, $2, $3))
		SELECT count(*) FILTER (WHERE secret = $1) + 1, count(*) FILTER (WHERE origin = $2) + 1
		FROM report_try WHERE at >= $4`, secret, origin, now, since)
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
func (tx *Tx) UnsettledReports(ctx context.Context, of ...uuid.UUID) ([]Report, error) {
	var list []Report
	where, args := only("r.instrument_id", of, tx.School)
	err := tx.tx.SelectContext(ctx, &list, `SELECT `+reportColumns+reportTable+` AND r.state IN ('open', 'seen')`+where+`
		ORDER BY r.reported_at, r.id`, args...)
	return nonNil(list, named(err))
}

// ReportsOf lists what was reported of an instrument since a day, the latest first.
func (tx *Tx) ReportsOf(ctx context.Context, instrument uuid.UUID, since time.Time) ([]Report, error) {
	var list []Report
	err := tx.tx.SelectContext(ctx, &list, `SELECT `+reportColumns+reportTable+` AND r.instrument_id = $2 AND r.reported_at >= $3
		ORDER BY r.reported_at DESC, r.id`,
		tx.School, instrument, since)
	return nonNil(list, named(err))
}

// Report reads one report.
func (tx *Tx) Report(ctx context.Context, id uuid.UUID) (Report, error) {
	var r Report
	err := tx.tx.GetContext(ctx, &r, `SELECT `+reportColumns+reportTable+` AND r.id = $2`, tx.School, id)
	return r, named(err)
}

// InsertReport keeps a report, and says under which id. One that was sent before stays as it is; where the same is open already, it
// counts there, and the worse word and a first picture are kept. isNew says that there is one more.
func (tx *Tx) InsertReport(ctx context.Context, r Report) (id uuid.UUID, isNew bool, err error) {
	if sent, err := tx.Report(ctx, r.ID); err == nil {
		return sent.ID, false, nil
	} else if !errors.Is(err, ErrNotFound) {
		return uuid.Nil, false, err
	}
	err = tx.tx.GetContext(ctx, &id, `
		INSERT INTO report (school_id, id, instrument_id, symptom, plays, reported_at, photo_id) VALUES ($1, $2, $3, $4, $5, $6, $7)
		ON CONFLICT (school_id, instrument_id, symptom) WHERE state = 'open'
		DO UPDATE SET said = report.said + 1, photo_id = coalesce(report.photo_id, excluded.photo_id),
			plays = CASE WHEN array_position(ARRAY['yes', 'badly', 'no'], excluded.plays) > array_position(ARRAY['yes', 'badly', 'no'], report.plays)
				THEN excluded.plays ELSE report.plays END
		RETURNING id`, tx.School, r.ID, r.Instrument, r.Symptom, r.Plays, r.ReportedAt, r.Photo)
	return id, id == r.ID, named(err)
}

// CarryReport keeps how far a report is that was not settled; ErrStale when somebody settled it already.
func (tx *Tx) CarryReport(ctx context.Context, r Report) error {
	return named(metOne(tx.tx.ExecContext(ctx, `UPDATE report SET state = $3, finding_id = $4, answer = $5, settled_at = $6, settled_by = $7
		WHERE school_id = $1 AND id = $2 AND (state IN ('open', 'seen') OR state = 'found' AND finding_id = $4)`,
		tx.School, r.ID, r.State, r.Finding, r.Answer, r.SettledAt, r.SettledBy)))
}

// ReopenReport takes a settling back.
func (tx *Tx) ReopenReport(ctx context.Context, id uuid.UUID) error {
	return named(metOne(tx.tx.ExecContext(ctx, `UPDATE report
		SET state = 'open', finding_id = NULL, answer = '', settled_at = NULL, settled_by = NULL
		WHERE school_id = $1 AND id = $2 AND state <> 'open'`, tx.School, id)))
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
func (tx *Tx) PutPackUp(ctx context.Context, p PackUp) error {
	_, err := tx.tx.ExecContext(ctx, `INSERT INTO pack_up (school_id, ensemble_id, id, phase, ends_at, ready) VALUES ($1, $2, $6, $3, $4, $5)
		ON CONFLICT (school_id, ensemble_id) DO UPDATE SET id = $6, phase = $3, ends_at = $4, ready = $5`,
		tx.School, p.Ensemble, p.Phase, p.EndsAt, asJSON[[]string]{append([]string{}, p.Ready...)}, p.ID)
	return named(err)
}

// PackUp reads how far an ensemble has come; ErrNotFound when it never began.
func (tx *Tx) PackUp(ctx context.Context, ensemble uuid.UUID) (PackUp, error) {
	var row struct {
		ID     uuid.UUID        `db:"id"`
		Phase  string           `db:"phase"`
		EndsAt time.Time        `db:"ends_at"`
		Ready  asJSON[[]string] `db:"ready"`
	}
	err := tx.tx.GetContext(ctx, &row, `SELECT id, phase, ends_at, ready FROM pack_up WHERE school_id = $1 AND ensemble_id = $2`,
		tx.School, ensemble)
	return PackUp{ensemble, row.ID, row.Phase, row.EndsAt, row.Ready.Of}, named(err)
}
