package web_test

import (
	"context"
	"fmt"
	"strings"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/importing"
	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/shop"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store/shoprows"
)

// repairs puts a job in each state into the world, on a violin of its own: {job agreed} and the like.
func (w *world) repairs() {
	ctx := context.Background()
	must := func(err error) { w.t.Helper(); require.NoError(w.t, err) }
	var file strings.Builder
	file.WriteString("tag,kind,size,room,slot,care_from\n")
	names := []string{"change", "ask", "news", "quote", "agree", "call-off", "refuse", "book", "send", "unbook", "fetched", "check-in",
		"cancel", "drive"}
	for n := range names {
		fmt.Fprintf(&file, "JOB%02d,violin,4/4,Hall,,2026-11-01\n", n)
	}
	_, err := w.app.Importing.Import(ctx, w.by, importing.InstrumentFile{Content: []byte(file.String())})
	must(err)
	list, err := w.app.Inventory.Instruments(ctx, w.by)
	must(err)
	ids := map[string]uuid.UUID{}
	for _, i := range list {
		ids[i.Tag] = i.ID
	}
	at := shoprows.RepairShop{ID: uuid.New(), Name: "Quoin Street Strings", Trades: []string{"strings", "bows"}, Way: shoprows.ByMessage}
	other := shoprows.RepairShop{ID: uuid.New(), Name: "Tarn Lane Workshop", Trades: []string{"brass"}, Way: shoprows.ByMessage}
	must(w.app.Shop.SaveShop(ctx, w.by, at))
	must(w.app.Shop.SaveShop(ctx, w.by, other))
	w.put("shop", at.ID)
	w.put("other shop", other.ID)
	trips := map[string]uuid.UUID{}
	for n, name := range []string{"trip", "trip cancel", "trip drive"} {
		trip := shoprows.Trip{ID: uuid.New(), On: day.MustParse("2026-11-26") + day.Day(n), Places: 5}
		must(w.app.Shop.SaveTrip(ctx, w.by, trip))
		trips[name] = trip.ID
		w.put(name, trip.ID)
	}
	for n, name := range names {
		id, version := uuid.New(), 1
		w.put("job "+name, id)
		_, err := w.app.Shop.Want(ctx, w.by, shop.Wanting{
			ID: id, InstrumentID: ids[fmt.Sprintf("JOB%02d", n)], Origin: shoprows.ByHand, Asks: "It buzzes on the lowest string.",
		})
		must(err)
		// It is changed once, so that its shop is chosen: with nothing but words to go by, two shops could do it.
		_, err = w.app.Shop.Change(ctx, w.by, id,
			shop.Asking{At: shop.At{Version: version}, ShopID: &at.ID, Asks: "It buzzes.", Lines: []shoprows.JobLine{}})
		must(err)
		next := func(step func(at shop.At) error) {
			version++
			must(step(shop.At{Version: version}))
		}
		agree := func(at shop.At) error { _, err := w.app.Shop.Agree(ctx, w.by, id, at); return err }
		book := func(trip string) func(shop.At) error {
			return func(at shop.At) error {
				on := trips[trip]
				_, err := w.app.Shop.Book(ctx, w.by, id, shop.Booking{At: at, TripID: &on})
				return err
			}
		}
		send := func(at shop.At) error { _, err := w.app.Shop.Send(ctx, w.by, id, shop.Departure{At: at}); return err }
		switch name {
		case "refuse":
			next(func(at shop.At) error {
				_, err := w.app.Shop.TakeQuote(ctx, w.by, id, shop.Quoting{At: at, ID: uuid.New(), Currency: "EUR", TotalCents: 4000})
				return err
			})
		case "book", "send":
			next(agree)
		case "unbook":
			next(agree)
			next(book("trip"))
		case "fetched":
			next(agree)
			next(send)
		case "check-in":
			next(agree)
			next(send)
			next(func(at shop.At) error { _, err := w.app.Shop.Fetched(ctx, w.by, id, at); return err })
		case "cancel", "drive":
			next(agree)
			next(book("trip " + name))
		}
	}
	_, err = w.app.Inspection.ReportFinding(ctx, w.by, ids["RENTED"],
		inspection.Report{ID: uuid.New(), Found: inspection.Found{Code: "post-fallen"}})
	must(err)
}

func init() {
	job := func(name string, version int, more string) recipe {
		return recipe{id: "{job " + name + "}", body: fmt.Sprintf(`{"version":%d%s}`, version, more)}
	}
	for operation, r := range map[string]recipe{
		"shop-job":        {id: "{job agree}"},
		"job-sheet":       {id: "{job agree}"},
		"trip-sheet":      {id: "{trip}"},
		"want-repair":     {body: `{"id":"{new}","instrument_id":"{free}","origin":"hand","asks":"It buzzes."}`},
		"change-repair":   job("change", 2, `,"asks":"It hums.","not_wanted":"","decides":"","lines":[{"work":"hair","words":"","outcome":""}]`),
		"ask-shop":        job("ask", 2, ""),
		"shop-news":       job("news", 2, ""),
		"take-quote":      job("quote", 2, `,"id":"{new}","currency":"EUR","total_cents":4000`),
		"agree-repair":    job("agree", 2, ""),
		"call-off-repair": job("call-off", 2, ""),
		"refuse-quote":    job("refuse", 3, ""),
		"book-repair":     job("book", 3, `,"fetched_on":"2026-11-27"`),
		"send-repair":     job("send", 3, ""),
		"unbook-repair":   job("unbook", 4, ""),
		"fetch-repair":    job("fetched", 4, ""),
		"check-in":        job("check-in", 5, `,"lines":[],"total_cents":4000,"play_tested":true,"goes":"slot"`),
		"remember-repair": {body: `{"id":"{new}","instrument_id":"{free}","shop_id":"{shop}","works":["hair"],"sent_on":"2026-10-01","back_on":"2026-10-09","total_cents":6000}`},
		"tell-owner":      {id: "{rented}"},
		"save-trip":       {body: `{"id":"{new}","on":"2026-12-03","driver":"","places":4,"fixed_cents":0,"note":"","version":0}`},
		"cancel-trip":     {id: "{trip cancel}", body: `{"version":1}`},
		"drive-trip":      {id: "{trip drive}", body: `{"version":1}`},
		"save-shop":       {body: `{"id":"{new}","name":"Fen Yard Brass","trades":["brass"],"way":"message","address":"","phone":"","open_days":[1],"warranty_days":0,"notes":"","version":0}`},
		"plan-season":     {body: `{"pins":[],"anew":true}`},
		"accept-season":   {body: `{"pieces":[{"instrument_id":"{free}","work":"peg-compound","monday":"2026-11-30","pinned":true}]}`},
		"save-season":     {body: `{"term_minutes":90,"break_minutes":60,"van_every":4,"van_places":6,"van_cents":2000}`},
		"leave-shop":      {id: "{other shop}", body: `{"version":1}`},
	} {
		recipes[operation] = r
	}
}
