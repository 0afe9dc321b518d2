package web

import (
	"bytes"
	"context"
	"net/http"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/season"
	"solfeggio/internal/formats"
)

// seasonRoutes are the year's plan.
func (s *server) seasonRoutes() {
	type planIn struct{ Body season.Planning }
	handle(
		s,
		operation("plan-season", http.MethodPost, "/season/plan", "Lay the season's work on its weeks; nothing is kept"),
		func(ctx context.Context, by journal.Person, in *planIn) (out[season.Score], error) {
			var score season.Score
			err := s.planning(ctx, in.Body.AtOnce, func(ctx context.Context, atOnce bool) (err error) {
				in.Body.AtOnce = atOnce
				score, err = s.app.Season.Plan(ctx, by, in.Body)
				return err
			})
			return out[season.Score]{score}, err
		},
	)
	type acceptIn struct {
		Repeatable
		Versioned
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
		Versioned
		Body season.Settings
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
		offering(operation("readiness", http.MethodGet, "/season/readiness", "Who will be ready for which concert")),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[[]season.Readiness], error) {
			list, err := s.app.Season.Readiness(ctx, by)
			return out[[]season.Readiness]{list}, err
		},
	)
	type paperIn struct {
		Paper formats.Paper `query:"paper" enum:"a3,a4" default:"a3"`
	}
	score := operation("score-sheet", http.MethodGet, "/season/score.pdf", "The season as it stands, for the wall")
	score.Responses = answers("PDF, A3 or A4 across", "application/pdf")
	handle(s, score, func(ctx context.Context, by journal.Person, in *paperIn) (file, error) {
		var text bytes.Buffer
		err := s.planning(ctx, false, func(ctx context.Context, atOnce bool) error {
			return s.app.Season.ScoreSheet(ctx, by, in.Paper, atOnce, &text)
		})
		return file{"application/pdf", `inline; filename="season.pdf"`, text.Bytes()}, err
	})
	chairs := operation("readiness-sheet", http.MethodGet, "/season/readiness.pdf", "Who will be ready for which concert, on paper")
	chairs.Responses = answers("PDF, A4", "application/pdf")
	handle(s, chairs, func(ctx context.Context, by journal.Person, _ *struct{}) (file, error) {
		var text bytes.Buffer
		err := s.app.Season.ReadinessSheet(ctx, by, &text)
		return file{"application/pdf", `inline; filename="ready.pdf"`, text.Bytes()}, err
	})
}

// planning plans when few others do, in bounded time: with what has been found by then. Who need not wait, or has waited too long for the
// others, gets what is known of the plan at once.
func (s *server) planning(ctx context.Context, atOnce bool, plan func(ctx context.Context, atOnce bool) error) error {
	if !atOnce {
		wait, cancel := context.WithTimeout(ctx, planTime)
		defer cancel()
		if s.plans.Acquire(wait, 1) == nil {
			defer s.plans.Release(1)
			ctx, cancel = context.WithTimeout(ctx, planTime)
			defer cancel()
			return plan(ctx, false)
		}
	}
	return plan(ctx, true)
}
