package web

import (
	"context"
	"net/http"

	"solfeggio/internal/app"
	"solfeggio/internal/store"
)

// rentalRoutes are instruments of somebody else's, and instruments that leave the school.
func (s *server) rentalRoutes() {
	handle(s, operation("rentals", http.MethodGet, "/rentals", "Rented instruments and the prices for more"), func(ctx context.Context, by app.Person, _ *struct{}) (out[app.Rentals], error) {
		r, err := s.app.Rentals(ctx, by)
		return out[app.Rentals]{r}, err
	})
	type rentalIn struct {
		Repeatable
		ByID
		Body store.Rental
	}
	handle(s, operation("save-rental", http.MethodPut, "/instruments/{id}/rental", "Say that an instrument is rented, or change the contract"), func(ctx context.Context, by app.Person, in *rentalIn) (nothing, error) {
		return nothing{}, s.app.SaveRental(ctx, by, in.ID, in.Body)
	})
	type exchangeIn struct {
		Repeatable
		ByID
		Body app.Exchange
	}
	handle(s, operation("exchange-rental", http.MethodPost, "/instruments/{id}/exchange", "Take another instrument from its owner in place of this one"), func(ctx context.Context, by app.Person, in *exchangeIn) (out[app.Changed], error) {
		c, err := s.app.ExchangeRental(ctx, by, in.ID, in.Body)
		return out[app.Changed]{c}, err
	})
	type leaveIn struct {
		Repeatable
		ByID
		Body app.Leaving
	}
	handle(s, operation("leave", http.MethodPost, "/instruments/{id}/leave", "Take an instrument out of the school's lists; its file stays"), func(ctx context.Context, by app.Person, in *leaveIn) (out[app.Changed], error) {
		c, err := s.app.Leave(ctx, by, in.ID, in.Body)
		return out[app.Changed]{c}, err
	})
	type pricesIn struct {
		Repeatable
		Body struct {
			Prices []store.RentalPrice `json:"prices" maxItems:"300"`
		}
	}
	handle(s, operation("save-rental-prices", http.MethodPut, "/rentals/prices", "Put a list of prices in place of the present one"), func(ctx context.Context, by app.Person, in *pricesIn) (nothing, error) {
		return nothing{}, s.app.SaveRentalPrices(ctx, by, in.Body.Prices)
	})
}
