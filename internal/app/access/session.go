package access

import "context"

type sessionKey struct{}

// InSession says in which session ctx is carried out, by its token as it is kept, so that ending a person's sessions spares that one.
func InSession(ctx context.Context, token string) context.Context {
	return context.WithValue(ctx, sessionKey{}, token)
}

func sessionOf(ctx context.Context) string {
	token, _ := ctx.Value(sessionKey{}).(string)
	return token
}
