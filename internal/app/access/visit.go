package access

import (
	"context"
	"errors"

	"solfeggio/internal/store"
)

// Visit is a session as it is kept: what a browser's visits have in common.
type Visit = store.Session

// FindVisit finds the session of a token, with the person if they may still sign in; false for none that has not run out.
func (r *Room) FindVisit(ctx context.Context, token string) (v Visit, found bool, err error) {
	v, err = r.schools.DB.Session(ctx, token, r.schools.Now())
	if errors.Is(err, store.ErrNotFound) {
		return Visit{}, false, nil
	}
	return v, err == nil, err
}

// KeepVisit keeps a session.
func (r *Room) KeepVisit(ctx context.Context, v Visit) error { return r.schools.DB.PutSession(ctx, v) }

// EndVisit ends the session of a token; there may be none.
func (r *Room) EndVisit(ctx context.Context, token string) error {
	return r.schools.DB.DeleteSession(ctx, token)
}

// ForgetVisits forgets the sessions that have run out.
func (r *Room) ForgetVisits(ctx context.Context) error {
	return r.schools.DB.DeleteExpiredSessions(ctx, r.schools.Now())
}
