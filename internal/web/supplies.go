package web

import (
	"context"
	"net/http"

	"solfeggio/internal/app/demand"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/formats"
)

// supplyRoutes are kits to refill, stock, orders.
func (s *server) supplyRoutes() {
	handle(
		s,
		operation("refill-round", http.MethodGet, "/kits/refill", "Kits with something to put in order"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[[]supply.KitToRefill], error) {
			list, err := s.app.Supply.RefillRound(ctx, by)
			return out[[]supply.KitToRefill]{list}, err
		},
	)
	type refillIn struct {
		Repeatable
		Body supply.Refill
	}
	handle(
		s,
		operation("refill", http.MethodPost, "/kits/refill", "Note things of kits as put in order; they are taken from stock"),
		func(ctx context.Context, by journal.Person, in *refillIn) (out[supply.Refilled], error) {
			r, err := s.app.Supply.Refill(ctx, by, in.Body)
			return out[supply.Refilled]{r}, err
		},
	)
	handle(
		s,
		operation("kit-tiers", http.MethodGet, "/kits", "The kits of this school's kinds, and where each thing is kept"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[[]demand.KitTiers], error) {
			list, err := s.app.Demand.KitTiers(ctx, by)
			return out[[]demand.KitTiers]{list}, err
		},
	)
	type moveIn struct {
		Repeatable
		Versioned
		Body demand.KitMove
	}
	handle(
		s,
		operation("move-in-kit", http.MethodPut, "/kits", "Keep a thing of a kit in every case, in a full kit or in the cupboard"),
		func(ctx context.Context, by journal.Person, in *moveIn) (nothing, error) {
			return nothing{}, s.app.Demand.MoveInKit(ctx, by, in.Body)
		},
	)
	handle(
		s,
		operation("profile-years", http.MethodGet, "/practices/profile-years", "What keeping the clocks of each profile takes in a year"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[demand.ProfileYears], error) {
			years, err := s.app.Demand.ProfileYears(ctx, by)
			return out[demand.ProfileYears]{years}, err
		},
	)
	type suppliesIn struct {
		Horizon float64 `query:"horizon_weeks" default:"12" minimum:"1" maximum:"104" doc:"How long an order is to last"`
		Service float64 `query:"service_level" default:"0.9" exclusiveMinimum:"0" exclusiveMaximum:"1" doc:"How sure it should be that it lasts"`
	}
	handle(
		s,
		operation("supplies", http.MethodGet, "/supplies", "Stock, demand, what to order and what kits cost"),
		func(ctx context.Context, by journal.Person, in *suppliesIn) (out[supply.Supplies], error) {
			list, err := s.app.Supply.Supplies(ctx, by, in.Horizon, in.Service)
			return out[supply.Supplies]{list}, err
		},
	)
	type settingIn struct {
		Repeatable
		Body supply.SupplySetting
	}
	handle(
		s,
		operation("save-supply", http.MethodPut, "/supplies", "Say how a supply is bought"),
		func(ctx context.Context, by journal.Person, in *settingIn) (nothing, error) {
			return nothing{}, s.app.Supply.SaveSupply(ctx, by, in.Body)
		},
	)
	type nameIn struct {
		Repeatable
		Body supply.OwnSupply
	}
	handle(
		s,
		operation("name-supply", http.MethodPost, "/supplies", "Add a supply of the school's own"),
		func(ctx context.Context, by journal.Person, in *nameIn) (nothing, error) {
			return nothing{}, s.app.Supply.NameSupply(ctx, by, in.Body)
		},
	)
	type fileIn struct {
		Repeatable
		Reading
		DryRun  bool   `query:"dry_run"`
		RawBody []byte `contentType:"application/octet-stream"`
	}
	upload := operation("import-supplies", http.MethodPost, "/supplies/file",
		"Read suppliers, prices and stock from a CSV file or a workbook, all or nothing")
	upload.MaxBodyBytes = formats.MaxRosterBytes + 1024
	handle(s, upload, func(ctx context.Context, by journal.Person, in *fileIn) (out[supply.FileReport], error) {
		reading, err := in.read()
		if err != nil {
			return out[supply.FileReport]{}, err
		}
		report, err := s.app.Supply.Import(ctx, by, supply.File{Content: in.RawBody, Reading: reading, DryRun: in.DryRun})
		return out[supply.FileReport]{report}, err
	})
	tableRoutes(s, tableOf[struct{}]{
		"export-supplies", "/supplies", "Suppliers, prices and stock, as a file that can come in again",
		func(ctx context.Context, by journal.Person, _ *struct{}, write formats.Writer) error {
			return s.app.Supply.Export(ctx, by, write)
		},
	})
	type countIn struct {
		Repeatable
		Body supply.Count
	}
	handle(
		s,
		operation("count-stock", http.MethodPost, "/supplies/count", "Bring the books to what was counted"),
		func(ctx context.Context, by journal.Person, in *countIn) (out[journal.Changed], error) {
			c, err := s.app.Supply.CountStock(ctx, by, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
	s.orderRoutes()
}

func (s *server) orderRoutes() {
	handle(
		s,
		operation("orders", http.MethodGet, "/supply-orders", "Orders, the latest first"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[[]supply.PlacedOrder], error) {
			list, err := s.app.Supply.Orders(ctx, by)
			return out[[]supply.PlacedOrder]{list}, err
		},
	)
	type orderIn struct {
		Repeatable
		Body supply.Ordering
	}
	handle(
		s,
		operation("place-order", http.MethodPost, "/supply-orders", "Keep an order as it was placed"),
		func(ctx context.Context, by journal.Person, in *orderIn) (out[supply.PlacedOrder], error) {
			o, err := s.app.Supply.PlaceOrder(ctx, by, in.Body)
			return out[supply.PlacedOrder]{o}, err
		},
	)
	type receiveIn struct {
		Repeatable
		ByID
		Body supply.Receiving
	}
	handle(
		s,
		operation("receive", http.MethodPost, "/supply-orders/{id}/receive", "Put goods of an order into stock"),
		func(ctx context.Context, by journal.Person, in *receiveIn) (out[supply.PlacedOrder], error) {
			o, err := s.app.Supply.Receive(ctx, by, in.ID, in.Body)
			return out[supply.PlacedOrder]{o}, err
		},
	)
	tableRoutes(s, tableOf[ByID]{
		"order", "/supply-orders/{id}/order", "An order for its supplier",
		func(ctx context.Context, by journal.Person, in *ByID, write formats.Writer) error {
			return s.app.Supply.OrderFile(ctx, by, in.ID, write)
		},
	})
}
