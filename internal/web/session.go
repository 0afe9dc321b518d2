package web

import (
	"context"
	"errors"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"solfeggio/internal/app/access"
	"solfeggio/internal/app/journal"
)

// Session is who is signed in and what they may do.
type Session struct {
	Person journal.Person  `json:"person"`
	Rights []journal.Right `json:"rights" enum:"finish care,inspect,clear stops,change instruments,change settings"`
	Lacks  bool            `json:"lacks_factor" doc:"The school asks for a second factor, and nothing else can be done before one is chosen"`
}

// Reach is under which address the program stands on paper and in links.
type Reach struct {
	Address     string `json:"address" doc:"Before a path; empty where nobody elsewhere could open it"`
	Unreachable string `json:"unreachable" doc:"Why there is none, and who says one; empty else"`
}

type originKey struct{}

func (s *server) sessionRoutes() {
	type signIn struct {
		Body struct {
			Email    string        `json:"email" minLength:"1" maxLength:"200"`
			Password access.Secret `json:"password" minLength:"1" maxLength:"200"`
			Code     access.Secret `json:"code,omitempty" maxLength:"40" doc:"Of the telephone or from paper, where somebody has a second factor: asked for once the password was right"`
		}
	}
	huma.Register(s.api, huma.Operation{
		OperationID: "sign-in", Method: http.MethodPost, Path: "/api/v1/session", Summary: "Sign in",
		Errors:      []int{http.StatusUnauthorized, http.StatusUnprocessableEntity, http.StatusTooManyRequests, http.StatusServiceUnavailable},
		Middlewares: huma.Middlewares{s.fromWhere},
	}, func(ctx context.Context, in *signIn) (*out[Session], error) {
		p, err := s.app.Access.SignInWith(ctx, in.Body.Email, in.Body.Password, in.Body.Code, originOf(ctx))
		if err != nil {
			return nil, problem(s.log, err)
		}
		return s.letIn(ctx, p)
	})
	handle(
		s,
		operation("session", http.MethodGet, "/session", "Who is signed in"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[Session], error) {
			return out[Session]{Session{by, by.Rights(), visitOf(ctx).lacks}}, nil
		},
	)
	handle(
		s,
		operation("sessions", http.MethodGet, "/sessions", "Where one is signed in"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[[]access.SignedIn], error) {
			list, err := s.app.Access.Sessions(ctx, by)
			return out[[]access.SignedIn]{list}, err
		},
	)
	type endIn struct {
		Repeatable
		ByID
	}
	handle(
		s,
		operation("end-session", http.MethodDelete, "/sessions/{id}", "Sign out on one device"),
		func(ctx context.Context, by journal.Person, in *endIn) (nothing, error) {
			return nothing{}, s.app.Access.EndSession(ctx, by, in.ID)
		},
	)
	reach := operation("reach", http.MethodGet, "/reach", "The address that stands on paper and in links")
	reach.Middlewares = huma.Middlewares{s.withHost}
	handle(
		s,
		reach,
		func(ctx context.Context, _ journal.Person, _ *struct{}) (out[Reach], error) {
			at, err := s.app.Schools.Reach(askedAt(ctx))
			var fault *journal.Fault
			if errors.As(err, &fault) {
				return out[Reach]{Reach{Unreachable: fault.Message}}, nil
			}
			return out[Reach]{Reach{Address: at}}, err
		},
	)
	s.factorRoutes()
	s.passkeyRoutes()
	type newPassword struct {
		Body struct {
			Secret   access.Secret `json:"secret" maxLength:"100" doc:"Of the link"`
			Password access.Secret `json:"password" maxLength:"200"`
		}
	}
	type newlyKnown struct {
		Email string `json:"email" doc:"With which one signs in"`
	}
	huma.Register(s.api, huma.Operation{
		OperationID: "sign-in-anew", Method: http.MethodPost, Path: "/api/v1/new-password", Summary: "Choose a new password by a link",
		Errors: []int{http.StatusNotFound, http.StatusUnprocessableEntity, http.StatusServiceUnavailable},
	}, func(ctx context.Context, in *newPassword) (*out[newlyKnown], error) {
		email, err := s.app.Access.ByLink(ctx, in.Body.Secret, in.Body.Password)
		if err != nil {
			return nil, problem(s.log, err)
		}
		return &out[newlyKnown]{newlyKnown{email}}, nil
	})
	type forgotten struct {
		Body struct {
			Email string `json:"email" minLength:"1" maxLength:"200"`
		}
	}
	type sent struct {
		Mail bool `json:"mail" doc:"A letter is on its way to whoever has that address; false where no mail is set up"`
	}
	huma.Register(s.api, huma.Operation{
		OperationID: "sign-in-forgotten", Method: http.MethodPost, Path: "/api/v1/session/forgotten", Summary: "Ask for a link to choose another password",
		Errors:      []int{http.StatusTooManyRequests, http.StatusUnprocessableEntity, http.StatusServiceUnavailable},
		Middlewares: huma.Middlewares{s.fromWhere},
	}, func(ctx context.Context, in *forgotten) (*out[sent], error) {
		mail, err := s.app.Access.Forgotten(ctx, in.Body.Email, originOf(ctx))
		if err != nil {
			return nil, problem(s.log, err)
		}
		return &out[sent]{sent{mail}}, nil
	})
	huma.Register(s.api, huma.Operation{
		OperationID: "sign-out", Method: http.MethodDelete, Path: "/api/v1/session",
		Summary: "Sign out; whoever is signed out already stays so",
		Errors:  []int{http.StatusServiceUnavailable},
	}, func(ctx context.Context, _ *struct{}) (*nothing, error) {
		return &nothing{}, problem(s.log, s.sessions.Destroy(ctx))
	})
}

// letIn begins a session for somebody who has shown who they are.
func (s *server) letIn(ctx context.Context, p journal.Person) (*out[Session], error) {
	if err := s.sessions.RenewToken(ctx); err != nil {
		return nil, problem(s.log, err)
	}
	s.sessions.Put(ctx, sessionSchool, p.School.String())
	s.sessions.Put(ctx, sessionPerson, p.ID.String())
	if device, _ := ctx.Value(deviceKey{}).(string); device != "" {
		if err := s.app.Access.KeepDevice(ctx, p, device); err != nil {
			s.log.Warn("remembering a device", "error", err) // who signed in is in all the same
		}
	}
	lacks, err := s.app.Access.LacksFactor(ctx, p)
	if err != nil {
		return nil, problem(s.log, err)
	}
	return &out[Session]{Session{p, p.Rights(), lacks}}, nil
}
