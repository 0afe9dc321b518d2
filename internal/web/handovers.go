package web

import (
	"bytes"
	"context"
	"net/http"

	"github.com/google/uuid"

	"solfeggio/internal/app/bench"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/fit"
	"solfeggio/internal/core/shop"
)

// dayOf reads a day of a query, nil when it is left out.
func dayOf(path, text string) (*day.Day, error) {
	if text == "" {
		return nil, nil
	}
	d, err := day.Parse(text)
	if err != nil {
		return nil, &journal.Fault{
			Kind:    journal.Invalid,
			Message: "Some fields cannot be used.",
			Fields:  []journal.Field{{Path: path, Message: err.Error(), Value: text}},
		}
	}
	return &d, nil
}

// handOverRoutes are handing out, taking back, and holding in between.
func (s *server) handOverRoutes() {
	type handOutIn struct {
		Repeatable
		Body lending.HandOut
	}
	handle(
		s,
		operation("hand-out", http.MethodPost, "/hand-outs", "Give instruments to players, all or none"),
		func(ctx context.Context, by journal.Person, in *handOutIn) (out[lending.HandedOut], error) {
			c, err := s.app.Lending.HandOut(ctx, by, in.Body)
			return out[lending.HandedOut]{c}, err
		},
	)
	type sheetIn struct {
		ByID
		Player       uuid.UUID `query:"player_id" required:"true"`
		Scroll       string    `query:"scroll" enum:",short,ok,past"`
		Elbow        string    `query:"elbow" enum:",tight,ok,wide"`
		FourthFinger string    `query:"fourth_finger" enum:",relaxed,stretched"`
		TopEdge      string    `query:"top_edge" enum:",below,ok,above"`
		LowestPeg    string    `query:"lowest_peg" enum:",below,ok,above"`
	}
	handle(
		s,
		operation("hand-over-sheet", http.MethodGet, "/instruments/{id}/hand-over", "All that one hand-over needs"),
		func(ctx context.Context, by journal.Person, in *sheetIn) (out[lending.HandOverSheet], error) {
			sheet, err := s.app.Lending.HandOverSheet(
				ctx,
				by,
				school.Pair{PlayerID: in.Player, InstrumentID: in.ID},
				fit.Checks{Scroll: in.Scroll, Elbow: in.Elbow, FourthFinger: in.FourthFinger, TopEdge: in.TopEdge, LowestPeg: in.LowestPeg},
			)
			return out[lending.HandOverSheet]{sheet}, err
		},
	)
	type handingIn struct {
		Repeatable
		Body lending.Handing
	}
	handle(
		s,
		operation("hand-over", http.MethodPost, "/hand-overs", "Hand one instrument out with what was looked at and agreed"),
		func(ctx context.Context, by journal.Person, in *handingIn) (out[journal.Changed], error) {
			c, err := s.app.Lending.HandOver(ctx, by, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
	type signIn struct {
		Repeatable
		ByID
		Body lending.Signing
	}
	handle(
		s,
		operation("sign", http.MethodPost, "/hand-overs/{id}/signature", "Note that the agreement was signed after the hand-over"),
		func(ctx context.Context, by journal.Person, in *signIn) (out[journal.Changed], error) {
			c, err := s.app.Lending.Sign(ctx, by, in.ID, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
	type draftIn struct {
		Player     uuid.UUID `query:"player_id" required:"true"`
		Instrument uuid.UUID `query:"instrument_id" required:"true"`
		DueBack    string    `query:"due_back_on" format:"date"`
	}
	const inline = `inline; filename="agreement.pdf"`
	draft := operation("draft-agreement", http.MethodGet, "/agreement.pdf", "The agreement of a pair, to be signed on paper")
	draft.Responses = answers("PDF", "application/pdf")
	handle(s, draft, func(ctx context.Context, by journal.Person, in *draftIn) (file, error) {
		dueBack, err := dayOf("due_back_on", in.DueBack)
		if err != nil {
			return file{}, err
		}
		var sheet bytes.Buffer
		err = s.app.Lending.DraftAgreement(ctx, by, school.Pair{PlayerID: in.Player, InstrumentID: in.Instrument}, dueBack, &sheet)
		return file{"application/pdf", inline, sheet.Bytes()}, err
	})
	agreed := operation(
		"agreement",
		http.MethodGet,
		"/hand-overs/{id}/agreement.pdf",
		"The agreement of a hand-over, in the words that were agreed",
	)
	agreed.Responses = answers("PDF", "application/pdf")
	handle(s, agreed, func(ctx context.Context, by journal.Person, in *ByID) (file, error) {
		var sheet bytes.Buffer
		err := s.app.Lending.Agreement(ctx, by, in.ID, &sheet)
		return file{"application/pdf", inline, sheet.Bytes()}, err
	})
	s.returnRoutes()
}

func (s *server) returnRoutes() {
	handle(
		s,
		operation("return-sheet", http.MethodGet, "/instruments/{id}/return", "What changed while an instrument was out"),
		func(ctx context.Context, by journal.Person, in *ByID) (out[lending.ReturnSheet], error) {
			sheet, err := s.app.Lending.ReturnSheet(ctx, by, in.ID)
			return out[lending.ReturnSheet]{sheet}, err
		},
	)
	type returnIn struct {
		Repeatable
		ByID
		Body lending.Returning
	}
	type returnsIn struct {
		Repeatable
		Body lending.Returns
	}
	handle(
		s,
		operation("return-unseen", http.MethodPost, "/returns", "Take instruments back together, without looking at them; all or none"),
		func(ctx context.Context, by journal.Person, in *returnsIn) (out[journal.Changed], error) {
			c, err := s.app.Lending.ReturnUnseen(ctx, by, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
	handle(
		s,
		operation("return", http.MethodPost, "/instruments/{id}/return", "Take an instrument back; it is held until its turnover is done"),
		func(ctx context.Context, by journal.Person, in *returnIn) (out[journal.Changed], error) {
			c, err := s.app.Lending.Return(ctx, by, in.ID, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
	type damageIn struct {
		ByID
		Body lending.Damage
	}
	handle(
		s,
		operation("propose-charge", http.MethodPost, "/instruments/{id}/charge", "What may be asked for a repair; nothing is changed"),
		func(ctx context.Context, by journal.Person, in *damageIn) (out[shop.ChargeOut], error) {
			c, err := s.app.Lending.ProposeCharge(ctx, by, in.ID, in.Body)
			return out[shop.ChargeOut]{c}, err
		},
	)
	type releaseIn struct {
		Repeatable
		ByID
		Body bench.Releasing
	}
	handle(
		s,
		operation("release", http.MethodPost, "/instruments/{id}/release", "Let a held instrument go"),
		func(ctx context.Context, by journal.Person, in *releaseIn) (out[journal.Changed], error) {
			c, err := s.app.Bench.Release(ctx, by, in.ID, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
	type kitIn struct {
		Repeatable
		ByID
		Body supply.KitCheck
	}
	handle(
		s,
		operation("check-kit", http.MethodPost, "/instruments/{id}/kit", "Note how a kit was found"),
		func(ctx context.Context, by journal.Person, in *kitIn) (out[journal.Changed], error) {
			c, err := s.app.Supply.CheckKit(ctx, by, in.ID, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
}
