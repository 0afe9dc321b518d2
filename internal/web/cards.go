package web

import (
	"bytes"
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
	"github.com/google/uuid"

	"solfeggio/internal/app/cards"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/drill"
)

type hostKey struct{}

// withHost lets a handler know under which address the program was asked, for what is printed and for passkeys.
func (s *server) withHost(ctx huma.Context, next func(huma.Context)) {
	scheme := "http://"
	if r := humagin.Unwrap(ctx).Request; r.TLS != nil || s.secure {
		scheme = "https://"
	}
	next(huma.WithValue(ctx, hostKey{}, scheme+humagin.Unwrap(ctx).Request.Host))
}

func askedAt(ctx context.Context) string {
	at, _ := ctx.Value(hostKey{}).(string)
	return at
}

func (s *server) cardRoutes() {
	handle(
		s,
		operation("cards", http.MethodGet, "/cards", "Care cards of all instruments"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[cards.Deck], error) {
			d, err := s.app.Cards.Deck(ctx, by)
			return out[cards.Deck]{d}, err
		},
	)
	type makeIn struct {
		Repeatable
		Body cards.Making
	}
	handle(
		s,
		operation("make-cards", http.MethodPost, "/cards", "Give instruments a care card with an address of its own"),
		func(ctx context.Context, by journal.Person, in *makeIn) (out[cards.Made], error) {
			m, err := s.app.Cards.Make(ctx, by, in.Body)
			return out[cards.Made]{m}, err
		},
	)
	type printIn struct {
		Instruments []string `query:"instruments" required:"true" maxItems:"5000" doc:"Ids of those that have a card"`
		Size        string   `query:"size" default:"a6" maxLength:"20"`
		Language    string   `query:"language" default:"en" maxLength:"10"`
	}
	op := operation("print-cards", http.MethodGet, "/cards.pdf", "Care cards as PDF")
	op.Responses = answers("Cards, as many on a sheet as it has room for", "application/pdf")
	op.Middlewares = huma.Middlewares{s.withHost}
	handle(s, op, func(ctx context.Context, by journal.Person, in *printIn) (file, error) {
		instruments, err := idsIn("instruments", in.Instruments)
		if err != nil {
			return file{}, err
		}
		at, err := s.app.Schools.Reach(askedAt(ctx))
		if err != nil {
			return file{}, err
		}
		var pdf bytes.Buffer
		err = s.app.Cards.Print(ctx, by, cards.Printing{Instruments: instruments, Size: in.Size, Language: in.Language, At: at}, &pdf)
		return file{"application/pdf", `inline; filename="cards.pdf"`, pdf.Bytes()}, err
	})
	type cardIn struct {
		ByID
		Language string `query:"language" default:"en" maxLength:"10"`
	}
	handle(
		s,
		operation("card", http.MethodGet, "/instruments/{id}/card", "The care card of an instrument"),
		func(ctx context.Context, by journal.Person, in *cardIn) (out[cards.OneCard], error) {
			c, err := s.app.Cards.Card(ctx, by, in.ID, in.Language)
			return out[cards.OneCard]{c}, err
		},
	)
	handle(
		s,
		operation("reports", http.MethodGet, "/reports", "What players reported on their cards and nobody has looked at yet"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[[]cards.ReportRow], error) {
			list, err := s.app.Cards.Reports(ctx, by)
			return out[[]cards.ReportRow]{list}, err
		},
	)
	type settleIn struct {
		Repeatable
		ByID
		Body cards.Settling
	}
	handle(
		s,
		operation("settle-report", http.MethodPost, "/reports/{id}", "Make a finding of a report, or answer it"),
		func(ctx context.Context, by journal.Person, in *settleIn) (out[cards.Settled], error) {
			settled, err := s.app.Cards.Settle(ctx, by, in.ID, in.Body)
			return out[cards.Settled]{settled}, err
		},
	)
	s.togetherRoutes()
}

// togetherRoutes are what a class does together in front of the projector, and what is learned of it.
func (s *server) togetherRoutes() {
	type boardIn struct {
		Ensemble uuid.UUID `query:"ensemble" required:"true"`
		Phase    string    `query:"phase" default:"pack-up" enum:"set-up,pack-up"`
		Language string    `query:"language" default:"en" maxLength:"10"`
	}
	handle(
		s,
		operation("board", http.MethodGet, "/pack-up/board", "What all sections of an ensemble do side by side, before or after playing"),
		func(ctx context.Context, by journal.Person, in *boardIn) (out[cards.PackUpBoard], error) {
			b, err := s.app.Cards.Board(ctx, by, in.Ensemble, cards.Phase(in.Phase), in.Language)
			return out[cards.PackUpBoard]{b}, err
		},
	)
	type progressIn struct {
		Ensemble uuid.UUID `query:"ensemble" required:"true"`
	}
	handle(
		s,
		operation("progress", http.MethodGet, "/pack-up", "How far an ensemble has come"),
		func(ctx context.Context, by journal.Person, in *progressIn) (out[cards.Progress], error) {
			p, err := s.app.Cards.Progress(ctx, by, in.Ensemble)
			return out[cards.Progress]{p}, err
		},
	)
	type beginIn struct {
		Repeatable
		Body cards.Progress
	}
	handle(
		s,
		operation("keep-progress", http.MethodPut, "/pack-up", "Keep how far an ensemble has come"),
		func(ctx context.Context, by journal.Person, in *beginIn) (out[cards.Progress], error) {
			p, err := s.app.Cards.Begin(ctx, by, in.Body)
			return out[cards.Progress]{p}, err
		},
	)
	type classIn struct {
		Ensemble uuid.UUID `query:"ensemble" required:"true"`
		Kind     string    `query:"kind" maxLength:"60" doc:"Key of one that is played there; left out for the first"`
		Last     string    `query:"last" maxLength:"120" doc:"Id of the question asked just now"`
		Language string    `query:"language" default:"en" maxLength:"10"`
	}
	handle(
		s,
		operation("class", http.MethodGet, "/drill", "The next question for a class"),
		func(ctx context.Context, by journal.Person, in *classIn) (out[cards.Class], error) {
			c, err := s.app.Cards.Class(ctx, by, in.Ensemble, in.Kind, in.Last, in.Language)
			return out[cards.Class]{c}, err
		},
	)
	type handsIn struct {
		Repeatable
		Body cards.Hands
	}
	handle(
		s,
		operation("count-hands", http.MethodPost, "/drill", "Keep how a class answered"),
		func(ctx context.Context, by journal.Person, in *handsIn) (out[drill.Known], error) {
			b, err := s.app.Cards.Count(ctx, by, in.Body)
			return out[drill.Known]{b}, err
		},
	)
	handle(
		s,
		operation("habits", http.MethodGet, "/habits", "What players' habits cost, and which to teach next"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[cards.Habits], error) {
			h, err := s.app.Cards.Habits(ctx, by)
			return out[cards.Habits]{h}, err
		},
	)
	type lessonIn struct {
		Kind string `path:"kind" maxLength:"100"`
	}
	handle(
		s,
		operation("lesson", http.MethodGet, "/lessons/{kind}", "How a kind of instrument is put together, for the first day"),
		func(ctx context.Context, by journal.Person, in *lessonIn) (out[cards.Lesson], error) {
			l, err := s.app.Cards.Lesson(ctx, by, in.Kind)
			return out[cards.Lesson]{l}, err
		},
	)
}
