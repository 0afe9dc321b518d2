package peoplerows

import (
	"context"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/store/internal/query"
)

// Passkey is a public key of a device with which a person signs in.
type Passkey struct {
	ID         uuid.UUID `db:"id"`
	Person     uuid.UUID `db:"person_id"`
	Name       string    `db:"name"`
	Device     []byte    `db:"device"`     // the credential's own id
	Credential []byte    `db:"credential"` // JSON, as package access reads it
	AddedOn    day.Day   `db:"added_on"`
	UsedOn     *day.Day  `db:"used_on"`
}

// Passkeys lists a person's, the oldest first.
func Passkeys(ctx context.Context, tx *query.Tx, person uuid.UUID) (list []Passkey, err error) {
	err = query.Select(ctx, tx, &list, `SELECT id, person_id, name, device, credential, added_on, used_on FROM passkey
		WHERE school_id = $1 AND person_id = $2 ORDER BY id`, tx.School, person)
	return list, err
}

// AddPasskey keeps a new one.
func AddPasskey(ctx context.Context, tx *query.Tx, k Passkey) error {
	return query.Do(ctx, tx, `INSERT INTO passkey (school_id, id, person_id, name, device, credential, added_on)
		VALUES ($1, $2, $3, $4, $5, $6, $7)`, tx.School, k.ID, k.Person, k.Name, k.Device, string(k.Credential), k.AddedOn)
}

// UsePasskey notes that one was used, and what its device has counted since.
func UsePasskey(ctx context.Context, tx *query.Tx, k Passkey, on day.Day) error {
	return query.DoOne(ctx, tx, `UPDATE passkey SET credential = $3, used_on = $4 WHERE school_id = $1 AND id = $2`,
		tx.School, k.ID, string(k.Credential), on)
}

// DropPasskey takes one of a person's away; ErrStale when it is not theirs.
func DropPasskey(ctx context.Context, tx *query.Tx, person, id uuid.UUID) error {
	return query.DoOne(ctx, tx, `DELETE FROM passkey WHERE school_id = $1 AND person_id = $2 AND id = $3`, tx.School, person, id)
}
