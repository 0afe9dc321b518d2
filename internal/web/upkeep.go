package web

import (
	"bytes"
	"context"
	"errors"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/preparing"
	"solfeggio/internal/app/upkeep"
)

// upkeepRoutes are strings, bows and reeds, and the plans that they need.
func (s *server) upkeepRoutes() {
	type beforeIn struct{ Body preparing.Preparing }
	handle(
		s,
		operation("before-concert", http.MethodPost, "/strings-reeds/before", "What must begin by when for a concert; nothing is kept"),
		func(ctx context.Context, by journal.Person, in *beforeIn) (out[preparing.Before], error) {
			b, err := s.app.Preparing.Before(ctx, by, in.Body)
			return out[preparing.Before]{b}, err
		},
	)
	type planIn struct {
		Repeatable
		Body preparing.StringPlan
	}
	handle(
		s,
		operation(
			"accept-plan",
			http.MethodPost,
			"/strings-reeds/plan",
			"Put changes on the plan, so that they stand on Today on their day",
		),
		func(ctx context.Context, by journal.Person, in *planIn) (nothing, error) {
			return nothing{}, s.app.Preparing.Accept(ctx, by, in.Body)
		},
	)
	type dropIn struct {
		Repeatable
		Body struct {
			Instruments []uuid.UUID `json:"instruments" minItems:"1" maxItems:"2000"`
		}
	}
	handle(
		s,
		operation("drop-plan", http.MethodPost, "/strings-reeds/plan/drop", "Take all that is planned for instruments off the plan"),
		func(ctx context.Context, by journal.Person, in *dropIn) (nothing, error) {
			return nothing{}, s.app.Preparing.Drop(ctx, by, in.Body.Instruments)
		},
	)
	handle(
		s,
		operation("strings", http.MethodGet, "/strings-reeds/strings", "All strings, instrument by instrument"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[[]upkeep.Strung], error) {
			list, err := s.app.Upkeep.Strings(ctx, by)
			return out[[]upkeep.Strung]{list}, err
		},
	)
	type guideIn struct {
		ByID
		Part string `query:"part" required:"true"`
	}
	handle(
		s,
		operation("change-guide", http.MethodGet, "/instruments/{id}/renewal", "How a part of an instrument is changed, step by step"),
		func(ctx context.Context, by journal.Person, in *guideIn) (out[upkeep.Guide], error) {
			g, err := s.app.Upkeep.Guide(ctx, by, in.ID, in.Part)
			return out[upkeep.Guide]{g}, err
		},
	)
	type renewIn struct {
		Repeatable
		ByID
		Body upkeep.Renewed
	}
	handle(
		s,
		operation("renew", http.MethodPost, "/instruments/{id}/renewal", "Record that a part was put on in place of another"),
		func(ctx context.Context, by journal.Person, in *renewIn) (out[upkeep.Renewing], error) {
			r, err := s.app.Upkeep.Renew(ctx, by, in.ID, in.Body)
			return out[upkeep.Renewing]{r}, err
		},
	)
	s.bowRoutes()
	s.reedRoutes()
	s.lastingRoutes()
	s.calendarRoutes()
}

func (s *server) bowRoutes() {
	handle(
		s,
		operation("bows", http.MethodGet, "/strings-reeds/bows", "All bows, their hair, and what to do when it is done"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[upkeep.Bows], error) {
			b, err := s.app.Upkeep.Bows(ctx, by)
			return out[upkeep.Bows]{b}, err
		},
	)
	type worthIn struct {
		Repeatable
		Versioned
		ByID
		Body upkeep.Worth
	}
	handle(
		s,
		operation("bow-worth", http.MethodPut, "/instruments/{id}/bow", "Say what the bow of an instrument is worth"),
		func(ctx context.Context, by journal.Person, in *worthIn) (nothing, error) {
			return nothing{}, s.app.Upkeep.SetWorth(ctx, by, in.ID, in.Body)
		},
	)
}

func (s *server) reedRoutes() {
	handle(
		s,
		operation("reeds", http.MethodGet, "/strings-reeds/reeds", "The reed boxes of all players"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[upkeep.Boxes], error) {
			b, err := s.app.Upkeep.Boxes(ctx, by)
			return out[upkeep.Boxes]{b}, err
		},
	)
	type openIn struct {
		Repeatable
		Body upkeep.Opening
	}
	handle(
		s,
		operation("open-reed", http.MethodPost, "/strings-reeds/reeds", "Put a new reed into a player's box"),
		func(ctx context.Context, by journal.Person, in *openIn) (out[journal.Changed], error) {
			c, err := s.app.Upkeep.Open(ctx, by, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
	type discardIn struct {
		Repeatable
		ByID
		Body upkeep.Discard
	}
	handle(
		s,
		operation("discard-reed", http.MethodPost, "/strings-reeds/reeds/{id}/discard", "Take a reed out of its box"),
		func(ctx context.Context, by journal.Person, in *discardIn) (out[journal.Changed], error) {
			c, err := s.app.Upkeep.ThrowAway(ctx, by, in.ID, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
	type programIn struct {
		Repeatable
		Versioned
		Body upkeep.BreakInMinutes
	}
	handle(
		s,
		operation("save-break-in", http.MethodPut, "/strings-reeds/break-in", "Say how reeds of a kind are broken in"),
		func(ctx context.Context, by journal.Person, in *programIn) (nothing, error) {
			return nothing{}, s.app.Upkeep.SetProgram(ctx, by, in.Body)
		},
	)
}

func (s *server) lastingRoutes() {
	handle(
		s,
		operation("lasting", http.MethodGet, "/strings-reeds/lasting", "How long what is renewed lasts here, beside the trade's figures"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[[]upkeep.Lasting], error) {
			list, err := s.app.Upkeep.Lasting(ctx, by)
			return out[[]upkeep.Lasting]{list}, err
		},
	)
	type acceptIn struct {
		Repeatable
		Versioned
		Body upkeep.Accepting
	}
	handle(
		s,
		operation(
			"accept-interval",
			http.MethodPut,
			"/strings-reeds/lasting",
			"Put a learned interval in place of the trade's, or go back",
		),
		func(ctx context.Context, by journal.Person, in *acceptIn) (out[upkeep.Lasting], error) {
			l, err := s.app.Upkeep.AcceptInterval(ctx, by, in.Body)
			return out[upkeep.Lasting]{l}, err
		},
	)
}

func (s *server) calendarRoutes() {
	download := operation("calendar-file", http.MethodGet, "/calendar.ics", "Concerts, planned work and due-back days as iCalendar")
	download.Responses = answers("iCalendar (RFC 5545)", "text/calendar")
	handle(s, download, func(ctx context.Context, by journal.Person, _ *struct{}) (file, error) {
		var text bytes.Buffer
		err := s.app.Preparing.Calendar(ctx, by, &text)
		return file{calendarType, `attachment; filename="solfeggio.ics"`, text.Bytes()}, err
	})
	handle(
		s,
		operation("calendar-feed", http.MethodGet, "/calendar-feed", "Whether the calendar has an address of its own"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[preparing.Feed], error) {
			f, err := s.app.Preparing.Feed(ctx, by)
			return out[preparing.Feed]{f}, err
		},
	)
	type shareIn struct {
		Repeatable
		Body preparing.Sharing
	}
	handle(
		s,
		operation("share-calendar", http.MethodPut, "/calendar-feed", "Give the calendar a new secret address, or end it"),
		func(ctx context.Context, by journal.Person, in *shareIn) (out[preparing.Feed], error) {
			f, err := s.app.Preparing.Share(ctx, by, in.Body)
			return out[preparing.Feed]{f}, err
		},
	)
}

const calendarType = "text/calendar; charset=utf-8"

// calendarFeed answers a calendar program, which cannot sign in, under the calendar's secret address.
func (s *server) calendarFeed(c *gin.Context) {
	secret, isCalendar := strings.CutSuffix(c.Param("secret"), ".ics")
	var text bytes.Buffer
	err := s.app.Preparing.FeedOf(c.Request.Context(), secret, &text)
	var fault *journal.Fault
	switch {
	case errors.As(err, &fault) && fault.Kind == journal.NotFound, !isCalendar:
		writeProblem(c.Writer, http.StatusNotFound, "There is no calendar at this address, or not any more.")
	case err != nil:
		s.log.Error("calendar", "error", err)
		writeProblem(c.Writer, http.StatusServiceUnavailable, away)
	default:
		c.Header("Cache-Control", noStore)
		c.Data(http.StatusOK, calendarType, text.Bytes())
	}
}
