package web

import (
	"context"
	"net/http"

	"solfeggio/internal/app/access"
	"solfeggio/internal/app/journal"
)

func (s *server) factorRoutes() {
	handle(
		s,
		operation("second-factor", http.MethodGet, "/session/second-factor", "How one's own second factor stands"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[access.SecondFactor], error) {
			f, err := s.app.Access.OwnFactor(ctx, by)
			return out[access.SecondFactor]{f}, err
		},
	)
	type factorPictureIn struct {
		Body struct {
			Secret access.Secret `json:"secret" maxLength:"32"`
		}
	}
	handle(
		s,
		operation("picture-second-factor", http.MethodPost, "/session/second-factor/picture", "A secret as a telephone takes it; nothing is kept"),
		func(ctx context.Context, by journal.Person, in *factorPictureIn) (out[access.FactorAddress], error) {
			a, err := s.app.Access.AddressOf(ctx, by, in.Body.Secret)
			return out[access.FactorAddress]{a}, err
		},
	)
	type factorOnIn struct {
		Repeatable
		Body access.NewFactor
	}
	handle(
		s,
		operation("turn-on-second-factor", http.MethodPost, "/session/second-factor", "Choose a second factor"),
		func(ctx context.Context, by journal.Person, in *factorOnIn) (nothing, error) {
			return nothing{}, s.app.Access.TurnOnFactor(ctx, by, in.Body)
		},
	)
	type factorOffIn struct {
		Repeatable
		Body struct {
			Password access.Secret `json:"password" maxLength:"200"`
			Code     access.Secret `json:"code" maxLength:"40" doc:"Of the telephone or from paper"`
		}
	}
	handle(
		s,
		operation("turn-off-second-factor", http.MethodPost, "/session/second-factor/off", "Do without a second factor, or choose another after"),
		func(ctx context.Context, by journal.Person, in *factorOffIn) (nothing, error) {
			return nothing{}, s.app.Access.TurnOffFactor(ctx, by, in.Body.Password, in.Body.Code)
		},
	)
	type factorLostIn struct {
		Repeatable
		ByID
		Body struct {
			Password access.Secret `json:"password" maxLength:"200" doc:"The director's own"`
		}
	}
	handle(
		s,
		operation("drop-second-factor", http.MethodPost, "/settings/people/{id}/no-second-factor",
			"Let somebody in again who has lost their telephone and their paper"),
		func(ctx context.Context, by journal.Person, in *factorLostIn) (nothing, error) {
			return nothing{}, s.app.Access.DropFactorOf(ctx, by, in.ID, in.Body.Password)
		},
	)
}
