package web

import (
	"context"
	"encoding/json"
	"log/slog"
	"net/http"
	"strings"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/google/uuid"

	"solfeggio/internal/app/access"
	"solfeggio/internal/app/journal"
)

// A visit is who sends a request, and how often their school had been written to when it came. It is found together with the
// session, in one question to the database.
type visit struct {
	person   journal.Person
	revision int64
	signedIn bool
	lacks    bool   // a second factor, which the school asks for: nothing else is done before
	browser  string // as it calls itself
}

type visitKey struct{}

func withVisit(r *http.Request) context.Context {
	return context.WithValue(r.Context(), visitKey{}, &visit{browser: r.UserAgent()})
}

func visitOf(ctx context.Context) *visit {
	if v, ok := ctx.Value(visitKey{}).(*visit); ok {
		return v
	}
	return &visit{}
}

// plainCodec writes a session as JSON, which is read many times quicker than what the session manager would write. Values are texts.
type plainCodec struct{}

type plainSession struct {
	Deadline time.Time      `json:"deadline"`
	Values   map[string]any `json:"values"`
}

// Encode writes a session.
func (plainCodec) Encode(deadline time.Time, values map[string]any) ([]byte, error) {
	return json.Marshal(plainSession{deadline, values})
}

// Decode reads a session.
func (plainCodec) Decode(data []byte) (time.Time, map[string]any, error) {
	var s plainSession
	err := json.Unmarshal(data, &s)
	if s.Values == nil {
		s.Values = map[string]any{}
	}
	return s.Deadline, s.Values, err
}

// sessionStore keeps the sessions of the session manager, each with whose it is.
type sessionStore struct {
	kept  *access.Room
	codec scs.Codec
	now   func() time.Time
}

// FindCtx finds a session, and notes who it belongs to in the visit of ctx.
func (s *sessionStore) FindCtx(ctx context.Context, token string) (data []byte, found bool, err error) {
	got, found, err := s.kept.FindVisit(ctx, token)
	switch {
	case err != nil || !found:
		return nil, false, err
	case got.Person != nil:
		v := visitOf(ctx)
		v.person = journal.Person{School: *got.School, ID: *got.Person, Name: got.Name, Role: journal.Role(got.Role), Session: token}
		v.revision, v.signedIn, v.lacks = got.Revision, true, got.Lacks
	}
	return got.Data, true, nil
}

// mostBrowser is how much is kept of what a browser calls itself.
const mostBrowser = 200

// CommitCtx keeps a session for as long as the session manager says, which reckons by the machine's clock, on the program's own.
func (s *sessionStore) CommitCtx(ctx context.Context, token string, data []byte, expiry time.Time) error {
	_, values, err := s.codec.Decode(data)
	if err != nil {
		return err
	}
	browser := []rune(strings.ToValidUTF8(visitOf(ctx).browser, ""))
	now := s.now()
	kept := access.Visit{
		Token: token, Data: data, Expiry: now.Add(time.Until(expiry)), BeganAt: now, Device: string(browser[:min(len(browser), mostBrowser)]),
	}
	for name, into := range map[string]**uuid.UUID{sessionSchool: &kept.School, sessionPerson: &kept.Person} {
		if text, ok := values[name].(string); ok {
			id, err := uuid.Parse(text)
			if err != nil {
				return err
			}
			*into = &id
		}
	}
	return s.kept.KeepVisit(ctx, kept)
}

// DeleteCtx ends a session.
func (s *sessionStore) DeleteCtx(ctx context.Context, token string) error {
	return s.kept.EndVisit(ctx, token)
}

// Find, Commit and Delete are for callers without a context, of which there are none here.
func (s *sessionStore) Find(token string) ([]byte, bool, error) {
	return s.FindCtx(context.Background(), token)
}

// Commit is CommitCtx without a context.
func (s *sessionStore) Commit(token string, data []byte, expiry time.Time) error {
	return s.CommitCtx(context.Background(), token, data, expiry)
}

// Delete is DeleteCtx without a context.
func (s *sessionStore) Delete(token string) error {
	return s.DeleteCtx(context.Background(), token)
}

// forget deletes now and then what has run out, until ctx ends.
func (s *sessionStore) forget(ctx context.Context, log *slog.Logger) {
	tick := time.NewTicker(5 * time.Minute)
	defer tick.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
			if err := s.kept.ForgetVisits(ctx); err != nil && ctx.Err() == nil {
				log.Warn("forgetting old sessions", "error", err)
			}
		}
	}
}
