package peoplerows

import (
	"context"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/store/internal/query"
)

// SignIn is a session as its person sees it.
type SignIn struct {
	ID      uuid.UUID `db:"id"`
	Token   string    `db:"token"`
	BeganAt time.Time `db:"began_at"`
	Expiry  time.Time `db:"expiry"`
	Device  string    `db:"device"`
}

// SignIns lists the sessions of a person that have not run out, the latest first.
func SignIns(ctx context.Context, tx *query.Tx, person uuid.UUID, now time.Time) ([]SignIn, error) {
	return query.List[SignIn](ctx, tx, `SELECT id, token, began_at, expiry, device FROM sessions
		WHERE school_id = $1 AND person_id = $2 AND expiry > $3 ORDER BY began_at DESC, id`, tx.School, person, now)
}

// EndSignIn ends one session of a person.
func EndSignIn(ctx context.Context, tx *query.Tx, person, id uuid.UUID) error {
	return query.DoOne(ctx, tx, `DELETE FROM sessions WHERE school_id = $1 AND person_id = $2 AND id = $3`,
		tx.School, person, id)
}
