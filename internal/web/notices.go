package web

import (
	"bytes"
	"context"
	"net/http"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/letters"
)

// noticeRoutes are what is written to players, and how it is worded.
func (s *server) noticeRoutes() {
	handle(
		s,
		operation("notices", http.MethodGet, "/notices", "What could be written now, and the simulated outbox"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[letters.Notices], error) {
			n, err := s.app.Letters.Notices(ctx, by)
			return out[letters.Notices]{n}, err
		},
	)
	type sendIn struct {
		Repeatable
		Body letters.Sending
	}
	handle(
		s,
		operation("send-notices", http.MethodPost, "/notices", "Put notices into the simulated outbox, all or none"),
		func(ctx context.Context, by journal.Person, in *sendIn) (out[journal.Changed], error) {
			c, err := s.app.Letters.SendNotices(ctx, by, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
	message := operation("message", http.MethodGet, "/notices/{id}/message.eml", "A notice of the outbox as an Internet message")
	message.Responses = answers("RFC 5322", "message/rfc822")
	handle(s, message, func(ctx context.Context, by journal.Person, in *ByID) (file, error) {
		var text bytes.Buffer
		err := s.app.Letters.Message(ctx, by, in.ID, &text)
		return file{"message/rfc822", `attachment; filename="notice.eml"`, text.Bytes()}, err
	})
	handle(
		s,
		operation("letters", http.MethodGet, "/letters", "How agreements and notices are worded"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[[]letters.SchoolLetter], error) {
			l, err := s.app.Letters.Letters(ctx, by)
			return out[[]letters.SchoolLetter]{l}, err
		},
	)
	type wordingIn struct {
		Repeatable
		Body letters.Wording
	}
	handle(
		s,
		operation("save-wording", http.MethodPut, "/letters", "Word a letter differently from now on"),
		func(ctx context.Context, by journal.Person, in *wordingIn) (nothing, error) {
			return nothing{}, s.app.Letters.SaveWording(ctx, by, in.Body)
		},
	)
}
