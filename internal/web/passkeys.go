package web

import (
	"context"
	"encoding/json"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"solfeggio/internal/app/access"
	"solfeggio/internal/app/journal"
)

// sessionCeremony is under what a session keeps a question to a device until it is answered.
const sessionCeremony = "ceremony"

// strangersSession is how long a session lasts of somebody who was asked for a passkey and has not answered.
const strangersSession = 10 * time.Minute

// DeviceQuestion is what a browser asks a device.
type DeviceQuestion struct {
	Options json.RawMessage `json:"options" doc:"As PublicKeyCredential.parseCreationOptionsFromJSON() and parseRequestOptionsFromJSON() take them"`
}

func (s *server) passkeyRoutes() {
	handle(
		s,
		operation("passkeys", http.MethodGet, "/session/passkeys", "One's own passkeys"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[[]access.Passkey], error) {
			list, err := s.app.Access.Passkeys(ctx, by)
			return out[[]access.Passkey]{list}, err
		},
	)
	ask := operation("ask-passkey", http.MethodPost, "/session/passkeys/question", "Ask a device for a passkey; nothing is kept but the question")
	ask.Middlewares = huma.Middlewares{s.withHost}
	handle(
		s,
		ask,
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[DeviceQuestion], error) {
			q, err := s.app.Access.AskForPasskey(ctx, by, askedAt(ctx))
			if err != nil {
				return out[DeviceQuestion]{}, err
			}
			return out[DeviceQuestion]{DeviceQuestion{q.Options}}, s.keepCeremony(ctx, q.Ceremony)
		},
	)
	type passkeyIn struct {
		Repeatable
		Body access.NewPasskey
	}
	add := operation("add-passkey", http.MethodPost, "/session/passkeys", "Keep a passkey that a device made")
	add.Middlewares = huma.Middlewares{s.withHost}
	handle(
		s,
		add,
		func(ctx context.Context, by journal.Person, in *passkeyIn) (nothing, error) {
			return nothing{}, s.app.Access.AddPasskey(ctx, by, askedAt(ctx), s.ceremony(ctx), in.Body)
		},
	)
	type dropPasskeyIn struct {
		Repeatable
		ByID
		Body struct {
			Password access.Secret `json:"password" maxLength:"200" doc:"One's own, once more"`
		}
	}
	handle(
		s,
		operation("drop-passkey", http.MethodPost, "/session/passkeys/{id}/away", "Take one's own passkey away"),
		func(ctx context.Context, by journal.Person, in *dropPasskeyIn) (nothing, error) {
			return nothing{}, s.app.Access.DropPasskey(ctx, by, in.ID, in.Body.Password)
		},
	)
	huma.Register(s.api, huma.Operation{
		OperationID: "sign-in-question", Method: http.MethodPost, Path: "/api/v1/session/question", Summary: "Ask a device to sign in with a passkey",
		Errors:      []int{http.StatusConflict, http.StatusTooManyRequests, http.StatusServiceUnavailable},
		Middlewares: huma.Middlewares{s.fromWhere},
	}, func(ctx context.Context, _ *struct{}) (*out[DeviceQuestion], error) {
		q, err := s.app.Access.AskToSignIn(ctx, askedAt(ctx), originOf(ctx))
		if err == nil {
			err = s.keepCeremony(ctx, q.Ceremony)
		}
		if err != nil {
			return nil, problem(s.log, err)
		}
		if !visitOf(ctx).signedIn {
			s.sessions.SetDeadline(ctx, time.Now().Add(strangersSession).UTC())
		}
		return &out[DeviceQuestion]{DeviceQuestion{q.Options}}, nil
	})
	type byPasskey struct {
		Body struct {
			Answer json.RawMessage `json:"answer" doc:"A PublicKeyCredential as its toJSON() writes it"`
		}
	}
	huma.Register(s.api, huma.Operation{
		OperationID: "sign-in-by-passkey", Method: http.MethodPost, Path: "/api/v1/session/answer", Summary: "Sign in with a passkey",
		Errors:      []int{http.StatusUnauthorized, http.StatusConflict, http.StatusUnprocessableEntity, http.StatusServiceUnavailable},
		Middlewares: huma.Middlewares{s.fromWhere},
	}, func(ctx context.Context, in *byPasskey) (*out[Session], error) {
		p, err := s.app.Access.SignInByPasskey(ctx, askedAt(ctx), originOf(ctx), s.ceremony(ctx), in.Body.Answer)
		if err != nil {
			return nil, problem(s.log, err)
		}
		s.sessions.Remove(ctx, sessionCeremony) // a question is answered once
		return s.letIn(ctx, p)
	})
}

func (s *server) keepCeremony(ctx context.Context, c access.Ceremony) error {
	text, err := json.Marshal(c)
	s.sessions.Put(ctx, sessionCeremony, string(text))
	return err
}

// ceremony is what a device was asked last from this browser; the zero value where nothing was.
func (s *server) ceremony(ctx context.Context) (c access.Ceremony) {
	_ = json.Unmarshal([]byte(s.sessions.GetString(ctx, sessionCeremony)), &c)
	return c
}
