package store

import (
	"context"
	"time"

	"github.com/google/uuid"
)

// Letter is the school's own wording of an agreement or a notice.
type Letter struct {
	Key     string `db:"key"`
	Wording string `db:"wording"`
	Version int    `db:"version"` // 0 for one that was never saved
}

// Letters lists what the school words itself.
func (tx *Tx) Letters(ctx context.Context) ([]Letter, error) {
	var list []Letter
	err := tx.tx.SelectContext(ctx, &list, `SELECT key, wording, version FROM letter WHERE school_id = $1 ORDER BY key`, tx.School)
	return nonNil(list, named(err))
}

// PutLetter saves a wording if its version is the current one.
func (tx *Tx) PutLetter(ctx context.Context, l Letter) error {
	if l.Version == 0 {
		return named(
			metOne(
				tx.tx.ExecContext(
					ctx,
					`INSERT INTO letter (school_id, key, wording) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING`,
					tx.School,
					l.Key,
					l.Wording,
				),
			),
		)
	}
	return named(
		metOne(
			tx.tx.ExecContext(
				ctx,
				`UPDATE letter SET wording = $3, version = version + 1 WHERE school_id = $1 AND key = $2 AND version = $4`,
				tx.School,
				l.Key,
				l.Wording,
				l.Version,
			),
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
func (tx *Tx) Notices(ctx context.Context, most int) ([]Notice, error) {
	var list []Notice
	err := tx.tx.SelectContext(ctx, &list, `SELECT `+noticeColumns+` FROM notice WHERE school_id = $1
		ORDER BY sent_at DESC, id DESC LIMIT $2`, tx.School, most)
	return nonNil(list, named(err))
}

// Notice reads one.
func (tx *Tx) Notice(ctx context.Context, id uuid.UUID) (n Notice, err error) {
	err = tx.tx.GetContext(ctx, &n, `SELECT `+noticeColumns+` FROM notice WHERE school_id = $1 AND id = $2`, tx.School, id)
	return n, named(err)
}

// NoticesAbout tells about which of these something was written.
func (tx *Tx) NoticesAbout(ctx context.Context, about []string) (map[string]bool, error) {
	var found []string
	err := tx.tx.SelectContext(ctx, &found, `SELECT about FROM notice WHERE school_id = $1 AND about = ANY($2)`, tx.School, about)
	written := make(map[string]bool, len(found))
	for _, of := range found {
		written[of] = true
	}
	return written, named(err)
}

// InsertNotice puts a message into the outbox; the constraint notice_once refuses a second one about the same.
func (tx *Tx) InsertNotice(ctx context.Context, n Notice) error {
	_, err := tx.tx.ExecContext(
		ctx,
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
	return named(err)
}
