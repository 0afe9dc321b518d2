package web

import (
	"context"
	"net/http"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/season"
	"solfeggio/internal/store"
)

// seasonRoutes are the year's plan.
func (s *server) seasonRoutes() {
	type planIn struct{ Body season.Planning }
	handle(
		s,
		operation("plan-season", http.MethodPost, "/season/plan", "Lay the season's work on its weeks; nothing is kept"),
		func(ctx context.Context, by journal.Person, in *planIn) (out[season.Score], error) {
			ctx, cancel := context.WithTimeout(ctx, calcTime)
			defer cancel()
			if err := s.calculating.Acquire(ctx, 1); err != nil {
				return out[season.Score]{}, tooBusy
			}
			defer s.calculating.Release(1)
			score, err := s.app.Season.Plan(ctx, by, in.Body)
			if ctx.Err() != nil {
				return out[season.Score]{}, tooBusy
			}
			return out[season.Score]{score}, err
		},
	)
	type acceptIn struct {
		Repeatable
		Body season.Accepted
	}
	handle(
		s,
		operation("accept-season", http.MethodPut, "/season", "Put a plan in the place of the present one"),
		func(ctx context.Context, by journal.Person, in *acceptIn) (nothing, error) {
			return nothing{}, s.app.Season.Accept(ctx, by, in.Body)
		},
	)
	type settingsIn struct {
		Repeatable
		Body store.SeasonSettings
	}
	handle(
		s,
		operation("save-season", http.MethodPut, "/season/settings", "Say what the weeks of a season hold"),
		func(ctx context.Context, by journal.Person, in *settingsIn) (nothing, error) {
			return nothing{}, s.app.Season.SaveSettings(ctx, by, in.Body)
		},
	)
	handle(
		s,
		operation("readiness", http.MethodGet, "/season/readiness", "Who will be ready for which concert"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[[]season.Readiness], error) {
			list, err := s.app.Season.Readiness(ctx, by)
			return out[[]season.Readiness]{list}, err
		},
	)
}

var tooBusy = &journal.Fault{Kind: journal.Busy, Message: "The server is working on other plans. Try again in a moment."}
