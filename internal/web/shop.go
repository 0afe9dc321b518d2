package web

import (
	"bytes"
	"context"
	"net/http"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/shop"
)

// shopRoutes are repairs: jobs, quotes, trips and shops.
func (s *server) shopRoutes() {
	handle(
		s,
		offering(operation("shop", http.MethodGet, "/shop", "All that is at shops, on the way there, or should be")),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[shop.Board], error) {
			b, err := s.app.Shop.Board(ctx, by)
			return out[shop.Board]{b}, err
		},
	)
	handle(
		s,
		offering(operation("shop-job", http.MethodGet, "/shop/jobs/{id}", "A job, and what can be done with it next")),
		func(ctx context.Context, by journal.Person, in *ByID) (out[shop.JobView], error) {
			j, err := s.app.Shop.View(ctx, by, in.ID)
			return out[shop.JobView]{j}, err
		},
	)
	type wantIn struct {
		Repeatable
		Body shop.Wanting
	}
	handle(
		s,
		operation("want-repair", http.MethodPost, "/shop/jobs", "Make a job for a shop"),
		func(ctx context.Context, by journal.Person, in *wantIn) (out[journal.Changed], error) {
			c, err := s.app.Shop.Want(ctx, by, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
	type pastIn struct {
		Repeatable
		Body shop.Past
	}
	handle(
		s,
		operation("remember-repair", http.MethodPost, "/shop/past", "Note a repair from before the program was used"),
		func(ctx context.Context, by journal.Person, in *pastIn) (out[journal.Changed], error) {
			c, err := s.app.Shop.Remember(ctx, by, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
	onJob(s, "change-repair", http.MethodPut, "", "Change what a job asks of the shop", s.shop().Change)
	onJob(s, "ask-shop", http.MethodPost, "/ask", "Ask the shop for a quote", s.shop().Ask)
	onJob(s, "shop-news", http.MethodPost, "/news", "Ask the simulated shop how far a job is", s.shop().News)
	onJob(s, "take-quote", http.MethodPost, "/quote", "Take a quote down", s.shop().TakeQuote)
	onJob(s, "agree-repair", http.MethodPost, "/agree", "Agree to a repair", s.shop().Agree)
	onJob(s, "refuse-quote", http.MethodPost, "/refuse", "Refuse a quote", s.shop().Refuse)
	onJob(s, "book-repair", http.MethodPost, "/book", "Put a job on a trip, or note when the shop fetches it", s.shop().Book)
	onJob(s, "unbook-repair", http.MethodPost, "/unbook", "Take a job off its trip", s.shop().Unbook)
	onJob(s, "send-repair", http.MethodPost, "/send", "Let an instrument leave for the shop", s.shop().Send)
	onJob(s, "fetch-repair", http.MethodPost, "/fetched", "Note that an instrument is back", s.shop().Fetched)
	onJob(s, "check-in", http.MethodPost, "/check-in", "Check an instrument in that is back", s.shop().CheckIn)
	onJob(s, "call-off-repair", http.MethodPost, "/call-off", "Call a job off", s.shop().CallOff)
	sheet := operation("job-sheet", http.MethodGet, "/shop/jobs/{id}/sheet.pdf", "The sheet that goes with an instrument to the shop")
	sheet.Responses = answers("PDF, A4", "application/pdf")
	handle(s, sheet, func(ctx context.Context, by journal.Person, in *ByID) (file, error) {
		var text bytes.Buffer
		err := s.app.Shop.JobSheet(ctx, by, in.ID, &text)
		return file{"application/pdf", `inline; filename="job-sheet.pdf"`, text.Bytes()}, err
	})
	type ownerIn struct {
		Repeatable
		ByID
	}
	handle(
		s,
		operation("tell-owner", http.MethodPost, "/instruments/{id}/tell-owner", "Tell the owner of a rented instrument what was found on it"),
		func(ctx context.Context, by journal.Person, in *ownerIn) (out[journal.Changed], error) {
			c, err := s.app.Shop.TellOwner(ctx, by, in.ID)
			return out[journal.Changed]{c}, err
		},
	)
	s.shopTripRoutes()
}

// shop is the room; while only the document of the API is written there is none.
func (s *server) shop() *shop.Room {
	if s.app == nil {
		return nil
	}
	return s.app.Shop
}

// onJob registers a step of a job.
func onJob[Body any](
	s *server,
	id, method, path, summary string,
	f func(ctx context.Context, by journal.Person, id uuid.UUID, in Body) (journal.Changed, error),
) {
	type stepIn struct {
		Repeatable
		ByID
		Body Body
	}
	handle(
		s,
		operation(id, method, "/shop/jobs/{id}"+path, summary),
		func(ctx context.Context, by journal.Person, in *stepIn) (out[journal.Changed], error) {
			c, err := f(ctx, by, in.ID, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
}

func (s *server) shopTripRoutes() {
	type tripIn struct {
		Repeatable
		Body shop.Trip
	}
	handle(
		s,
		operation("save-trip", http.MethodPut, "/shop/trips", "Plan a trip, or change one"),
		func(ctx context.Context, by journal.Person, in *tripIn) (nothing, error) {
			return nothing{}, s.app.Shop.SaveTrip(ctx, by, in.Body)
		},
	)
	type cancelIn struct {
		Repeatable
		ByID
		Body shop.At
	}
	handle(
		s,
		operation("cancel-trip", http.MethodPost, "/shop/trips/{id}/cancel", "Call a trip off"),
		func(ctx context.Context, by journal.Person, in *cancelIn) (out[journal.Changed], error) {
			c, err := s.app.Shop.CancelTrip(ctx, by, in.ID, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
	type driveIn struct {
		Repeatable
		ByID
		Body shop.Driving
	}
	handle(
		s,
		operation("drive-trip", http.MethodPost, "/shop/trips/{id}/drive", "Let all that rides on a trip leave today"),
		func(ctx context.Context, by journal.Person, in *driveIn) (out[journal.Changed], error) {
			c, err := s.app.Shop.Drive(ctx, by, in.ID, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
	sheet := operation("trip-sheet", http.MethodGet, "/shop/trips/{id}/sheet.pdf",
		"What is loaded in which order, and a sheet for each counter")
	sheet.Responses = answers("PDF, A4", "application/pdf")
	handle(s, sheet, func(ctx context.Context, by journal.Person, in *ByID) (file, error) {
		var text bytes.Buffer
		err := s.app.Shop.TripSheet(ctx, by, in.ID, &text)
		return file{"application/pdf", `inline; filename="trip.pdf"`, text.Bytes()}, err
	})
	type shopIn struct {
		Repeatable
		Body shop.RepairShop
	}
	handle(
		s,
		operation("save-shop", http.MethodPut, "/shop/shops", "Add a shop, or change one"),
		func(ctx context.Context, by journal.Person, in *shopIn) (nothing, error) {
			return nothing{}, s.app.Shop.SaveShop(ctx, by, in.Body)
		},
	)
	handle(
		s,
		operation("leave-shop", http.MethodPost, "/shop/shops/{id}/leave", "Give a shop nothing more"),
		func(ctx context.Context, by journal.Person, in *cancelIn) (nothing, error) {
			return nothing{}, s.app.Shop.LeaveShop(ctx, by, in.ID, in.Body)
		},
	)
}
