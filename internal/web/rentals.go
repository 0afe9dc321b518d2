package web

import (
	"context"
	"net/http"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/rentals"
)

// rentalRoutes are instruments of somebody else's, and instruments that leave the school.
func (s *server) rentalRoutes() {
	handle(
		s,
		operation("rentals", http.MethodGet, "/rentals", "Rented instruments and the prices for more"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[rentals.Rentals], error) {
			r, err := s.app.Rentals.Rentals(ctx, by)
			return out[rentals.Rentals]{r}, err
		},
	)
	type rentalIn struct {
		Repeatable
		ByID
		Body rentals.Rental
	}
	handle(
		s,
		operation("save-rental", http.MethodPut, "/instruments/{id}/rental", "Say that an instrument is rented, or change the contract"),
		func(ctx context.Context, by journal.Person, in *rentalIn) (nothing, error) {
			return nothing{}, s.app.Rentals.SaveRental(ctx, by, in.ID, in.Body)
		},
	)
	type exchangeIn struct {
		Repeatable
		ByID
		Body rentals.Exchange
	}
	handle(
		s,
		operation(
			"exchange-rental",
			http.MethodPost,
			"/instruments/{id}/exchange",
			"Take another instrument from its owner in place of this one",
		),
		func(ctx context.Context, by journal.Person, in *exchangeIn) (out[journal.Changed], error) {
			c, err := s.app.Rentals.ExchangeRental(ctx, by, in.ID, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
	type leaveIn struct {
		Repeatable
		ByID
		Body rentals.Leaving
	}
	handle(
		s,
		operation("leave", http.MethodPost, "/instruments/{id}/leave", "Take an instrument out of the school's lists; its file stays"),
		func(ctx context.Context, by journal.Person, in *leaveIn) (out[journal.Changed], error) {
			c, err := s.app.Rentals.Leave(ctx, by, in.ID, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
	type pricesIn struct {
		Repeatable
		Versioned
		Body struct {
			Prices []rentals.RentalPrice `json:"prices" maxItems:"300"`
		}
	}
	handle(
		s,
		operation("save-rental-prices", http.MethodPut, "/rentals/prices", "Put a list of prices in place of the present one"),
		func(ctx context.Context, by journal.Person, in *pricesIn) (nothing, error) {
			return nothing{}, s.app.Rentals.SaveRentalPrices(ctx, by, in.Body.Prices)
		},
	)
}
