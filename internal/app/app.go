// Package app is the program without its interface: the rooms in which a person works, wired to each other.
package app

import (
	"context"
	"log/slog"
	"time"

	"solfeggio/internal/app/access"
	"solfeggio/internal/app/bench"
	"solfeggio/internal/app/cards"
	"solfeggio/internal/app/care"
	"solfeggio/internal/app/demand"
	"solfeggio/internal/app/importing"
	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/letters"
	"solfeggio/internal/app/placing"
	"solfeggio/internal/app/preparing"
	"solfeggio/internal/app/products"
	"solfeggio/internal/app/rentals"
	"solfeggio/internal/app/roster"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/season"
	"solfeggio/internal/app/settings"
	"solfeggio/internal/app/shop"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/app/today"
	"solfeggio/internal/app/upkeep"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/store"
)

// App holds the rooms.
type App struct {
	Schools    *school.Schools
	Access     *access.Room
	Settings   *settings.Room
	Care       *care.Room
	Inspection *inspection.Room
	Demand     *demand.Room
	Supply     *supply.Room
	Roster     *roster.Room
	Placing    *placing.Room
	Letters    *letters.Room
	Lending    *lending.Room
	Products   *products.Room
	Bench      *bench.Room
	Upkeep     *upkeep.Room
	Preparing  *preparing.Room
	Shop       *shop.Room
	Season     *season.Room
	Cards      *cards.Room
	Inventory  *inventory.Room
	Importing  *importing.Room
	Rentals    *rentals.Room
	Today      *today.Room
}

// New makes an App on a database; now is the clock.
func New(db *store.DB, now func() time.Time, log *slog.Logger) *App {
	a := &App{Schools: school.New(&journal.Journal{DB: db, Now: now, Log: log}, catalog.Embedded())}
	a.Settings = settings.New(a.Schools)
	a.Care = care.New(a.Schools)
	a.Inspection = inspection.New(a.Schools)
	a.Demand = demand.New(a.Schools)
	a.Supply = supply.New(a.Schools, a.Demand)
	a.Roster = roster.New(a.Schools)
	a.Placing = placing.New(a.Schools)
	a.Access = access.New(a.Schools)
	a.Letters = letters.New(a.Schools, a.Supply)
	a.Lending = lending.New(a.Schools, a.Inspection, a.Supply)
	a.Products = products.New(a.Schools)
	a.Bench = bench.New(a.Schools, a.Supply, a.Demand, a.Care, a.Products)
	a.Inventory = inventory.New(a.Schools, a.Inspection, a.Supply, a.Lending, a.Settings)
	a.Importing = importing.New(a.Schools, a.Inventory, a.Lending, a.Settings, a.Care)
	a.Rentals = rentals.New(a.Schools, a.Lending)
	a.Upkeep = upkeep.New(a.Schools, a.Care, a.Supply)
	a.Preparing = preparing.New(a.Schools, a.Upkeep)
	a.Shop = shop.New(a.Schools, a.Inspection, a.Letters, a.Lending, a.Bench, a.Care, a.Placing)
	a.Season = season.New(a.Schools, a.Shop, a.Placing)
	a.Cards = cards.New(a.Schools, a.Inspection, a.Upkeep)
	a.Today = today.New(a.Schools, a.Preparing, a.Shop, a.Season, a.Cards, a.Placing)
	return a
}

// Ping asks whether somebody can be served.
func (a *App) Ping(ctx context.Context) error { return a.Schools.DB.Ping(ctx) }
