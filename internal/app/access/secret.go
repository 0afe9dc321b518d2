package access

import (
	"context"
	"crypto/sha256"

	"solfeggio/internal/app/journal"
)

// secretLength is the least length of a secret that a client makes: 32 characters of 64 are 192 bits.
const secretLength = 32

// digestOf is what is kept of a secret, so that nobody reads it off a copy of the database. It needs no slow hash: nobody guesses it.
func digestOf(secret Secret) ([]byte, error) {
	if len(secret) < secretLength {
		return nil, journal.Refuse("secret", "is too short to be a secret", nil)
	}
	sum := sha256.Sum256([]byte(secret))
	return sum[:], nil
}

type sessionKey struct{}

// InSession says in which session ctx is carried out, by its token as it is kept, so that ending a person's sessions spares that one.
func InSession(ctx context.Context, token string) context.Context {
	return context.WithValue(ctx, sessionKey{}, token)
}

func sessionOf(ctx context.Context) string {
	token, _ := ctx.Value(sessionKey{}).(string)
	return token
}
