// Package letterrows keeps the wordings of letters and the notices that were written.
package letterrows

import (
	"context"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/store/internal/query"
)

// Letter is the school's own wording of an agreement or a notice.
type Letter struct {
	Key     string `db:"key"`
	Wording string `db:"wording"`
	Version int    `db:"version"` // 0 for one that was never saved
}

// Letters lists what the school words itself.
func Letters(ctx context.Context, tx *query.Tx) ([]Letter, error) {
	return query.List[Letter](ctx, tx, `SELECT key, wording, version FROM letter WHERE school_id = $1 ORDER BY key`, tx.School)
}

// PutLetter saves a wording if its version is the current one.
func PutLetter(ctx context.Context, tx *query.Tx, l Letter) error {
	if l.Version == 0 {
		return query.MetOne(
			query.Exec(
				ctx, tx,
				`INSERT INTO letter (school_id, key, wording) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING`,
				tx.School,
				l.Key,
				l.Wording,
			),
		)
	}
	return query.MetOne(
		query.Exec(
			ctx, tx,
			`UPDATE letter SET wording = $3, version = version + 1 WHERE school_id = $1 AND key = $2 AND version = $4`,
			tx.School,
			l.Key,
			l.Wording,
			l.Version,
		),
	)
}

// Notice is a message in the simulated outbox.
type Notice struct {
	ID          uuid.UUID  `db:"id" json:"id"`
	Letter      string     `db:"letter" json:"letter"`
	About       string     `db:"about" json:"about" doc:"What it is about; nothing is written twice about the same"`
	Player      *uuid.UUID `db:"player_id" json:"player_id,omitempty"`
	Instrument  *uuid.UUID `db:"instrument_id" json:"instrument_id,omitempty"`
	AddressedTo string     `db:"addressed_to" json:"addressed_to"`
	Subject     string     `db:"subject" json:"subject"`
	Body        string     `db:"body" json:"body"`
	SentAt      time.Time  `db:"sent_at" json:"sent_at"`
	SentBy      *uuid.UUID `db:"sent_by" json:"-"`
}

const noticeColumns = `id, letter, about, player_id, instrument_id, addressed_to, subject, body, sent_at, sent_by`

// Notices lists the latest of the outbox, so many at the most.
func Notices(ctx context.Context, tx *query.Tx, most int) ([]Notice, error) {
	return query.List[Notice](ctx, tx, `SELECT `+noticeColumns+` FROM notice WHERE school_id = $1
		ORDER BY sent_at DESC, id DESC LIMIT $2`, tx.School, most)
}

// NoticeByID reads one.
func NoticeByID(ctx context.Context, tx *query.Tx, id uuid.UUID) (n Notice, err error) {
	err = query.Get(ctx, tx, &n, `SELECT `+noticeColumns+` FROM notice WHERE school_id = $1 AND id = $2`, tx.School, id)
	return n, err
}

// NoticesAbout tells about which of these something was written.
func NoticesAbout(ctx context.Context, tx *query.Tx, about []string) (map[string]bool, error) {
	var found []string
	err := query.Select(ctx, tx, &found, `SELECT about FROM notice WHERE school_id = $1 AND about = ANY($2)`, tx.School, about)
	written := make(map[string]bool, len(found))
	for _, of := range found {
		written[of] = true
	}
	return written, err
}

// InsertNotice puts a message into the outbox; the constraint notice_once refuses a second one about the same.
func InsertNotice(ctx context.Context, tx *query.Tx, n Notice) error {
	return query.Do(
		ctx, tx,
		`INSERT INTO notice (school_id, `+noticeColumns+`) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11)`,
		tx.School,
		n.ID,
		n.Letter,
		n.About,
		n.Player,
		n.Instrument,
		n.AddressedTo,
		n.Subject,
		n.Body,
		n.SentAt,
		n.SentBy,
	)
}
