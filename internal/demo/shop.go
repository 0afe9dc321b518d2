package demo

import (
	"context"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/school"
	"solfeggio/internal/app/shop"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store/shoprows"
)

// Two invented shops: one for what is blown and struck, one for what is bowed, which is the simulated one.
const (
	windShop   = "Tarn Lane Workshop"
	stringShop = "Quoin Street Strings"
)

// oldBills are repairs of the last two years, from the director's notebook: days ago, for how many days, the work, what it cost.
var oldBills = []struct {
	shop      string
	tag       string
	ago, days int
	work      string
	cents     int64
}{
	{windShop, "CL-02", 620, 12, "woodwind-yearly", 5200},
	{windShop, "CL-08", 540, 9, "pads", 4800},
	{windShop, "FL-02", 480, 15, "woodwind-yearly", 5600},
	{windShop, "SX-03", 410, 21, "pads", 7400},
	{windShop, "TR-03", 390, 8, "valve-work", 6900},
	{windShop, "TB-01", 330, 18, "hand-slide", 9900},
	{windShop, "CL-09", 300, 11, "tenon-cork", 2400},
	{windShop, "TU-03", 260, 33, "dents", 12500},
	{windShop, "SX-01", 150, 14, "woodwind-yearly", 6100},
	{windShop, "HN-02", 120, 17, "rotor-linkage", 4100},
	{windShop, "CL-15", 75, 10, "pads", 5300},
	{stringShop, "VN-02", 420, 6, "bridge-new", 10500},
	{stringShop, "VC-02", 350, 13, "strings-yearly", 7900},
	{stringShop, "VN-07", 210, 7, "hair", 5800},
	{stringShop, "VA-02", 140, 9, "hair", 6000},
}

// repairs names the shops, their old bills, and how things stand with the jobs of this autumn.
func (s *seeder) repairs(ctx context.Context, at func(daysAgo int) time.Time) error {
	ids, err := s.ids(ctx)
	if err != nil {
		return err
	}
	promise, shops := 14, map[string]uuid.UUID{}
	for _, add := range []shoprows.RepairShop{
		{
			Name: windShop, Trades: []string{"woodwind", "brass", "percussion"}, Way: shoprows.ByMessage, Address: "counter@tarnlane.example",
			Phone: "555 0177", OpenDays: []int{2, 3, 4, 5}, PromiseDays: &promise, WarrantyDays: 90,
			Notes: "Ring the yard bell for the tuba.",
		},
		{
			Name: stringShop, Trades: []string{catalog.Strings, "bows"}, Way: shoprows.ByService, Address: "bench@quoinstreet.example",
			Phone: "555 0163", OpenDays: []int{1, 2, 4, 5}, WarrantyDays: 60,
		},
	} {
		add.ID = uuid.Must(uuid.NewV7())
		shops[add.Name] = add.ID
		if err := s.app.Shop.SaveShop(ctx, s.director, add); err != nil {
			return err
		}
	}
	for _, b := range oldBills {
		past := shop.Past{
			ID: uuid.Must(uuid.NewV7()), InstrumentID: ids[b.tag], ShopID: shops[b.shop], Works: []string{b.work},
			SentOn: s.today - day.Day(b.ago), BackOn: s.today - day.Day(b.ago-b.days), TotalCents: b.cents,
		}
		if _, err := s.app.Shop.Remember(ctx, s.director, past); err != nil {
			return fmt.Errorf("the bill for %s: %w", b.tag, err)
		}
	}
	if err := s.away(ctx, at); err != nil {
		return err
	}
	return s.underWay(ctx, at)
}

// away are two spare instruments at the shop: one longer than it should be, one a few days.
func (s *seeder) away(ctx context.Context, at func(daysAgo int) time.Time) error {
	for _, a := range []struct {
		kind, asks string
		ago        int
	}{
		{"trumpet", "The third slide sticks in the cold.", 40},
		{"alto-saxophone", "Low notes warble; look over the low pads.", 5},
	} {
		at(a.ago)
		id, err := s.spare(ctx, a.kind)
		if err != nil {
			return err
		}
		job := uuid.Must(uuid.NewV7())
		want := shop.Wanting{ID: job, InstrumentID: id, Origin: shoprows.ByHand, Asks: a.asks}
		if _, err := s.app.Shop.Want(ctx, s.director, want); err != nil {
			return err
		}
		if err := s.giveTo(ctx, job, windShop); err != nil {
			return err
		}
		if _, err := s.app.Shop.Agree(ctx, s.director, job, shop.At{Version: 2}); err != nil {
			return err
		}
		if _, err := s.app.Shop.Send(ctx, s.director, job, shop.Departure{At: shop.At{Version: 3}}); err != nil {
			return err
		}
	}
	at(0)
	return nil
}

// spare is an instrument of a kind in nobody's hands, the last of them.
func (s *seeder) spare(ctx context.Context, kind string) (uuid.UUID, error) {
	list, err := s.app.Inventory.Instruments(ctx, s.director)
	if err != nil {
		return uuid.Nil, err
	}
	for _, i := range slices.Backward(list) {
		if i.Kind == kind && !i.Played && i.Held == "" && i.Stopped == "" && !i.Rented && i.Mark != school.AtShop {
			return i.ID, nil
		}
	}
	return uuid.Nil, fmt.Errorf("no %s is spare", kind)
}

// giveTo chooses the shop of a job.
func (s *seeder) giveTo(ctx context.Context, job uuid.UUID, name string) error {
	view, err := s.app.Shop.View(ctx, s.director, job)
	if err != nil {
		return err
	}
	for _, at := range view.Shops {
		if at.Name == name {
			_, err := s.app.Shop.Change(ctx, s.director, job, shop.Asking{
				At: shop.At{Version: view.Job.Version}, ShopID: &at.ID, Asks: view.Job.Asks, NotWanted: view.Job.NotWanted,
				Decides: view.Job.Decides, Lines: view.Job.Lines,
			})
			return err
		}
	}
	return fmt.Errorf("no shop %s for the job", name)
}

// underWay are a quote for the tuba, and what rides with the van next Thursday.
func (s *seeder) underWay(ctx context.Context, at func(daysAgo int) time.Time) error {
	board, err := s.app.Shop.Board(ctx, s.director)
	if err != nil {
		return err
	}
	thursday := s.today + 1
	for thursday.Weekday() != 4 {
		thursday++
	}
	trip := shoprows.Trip{
		ID: uuid.Must(uuid.NewV7()), On: thursday, Driver: "Pell Arrowby", Places: 6, FixedCents: 2400, Note: "After the third lesson.",
	}
	if err := s.app.Shop.SaveTrip(ctx, s.director, trip); err != nil {
		return err
	}
	for _, l := range board.Suggested {
		job := uuid.Must(uuid.NewV7())
		want := func() error {
			_, err := s.app.Shop.Want(ctx, s.director, shop.Wanting{
				ID: job, InstrumentID: l.InstrumentID, Origin: l.Origin, Findings: l.Findings, Care: l.Care,
			})
			return err
		}
		switch l.Tag {
		case "TU-02":
			at(9)
			if err := want(); err != nil {
				return err
			}
			if _, err := s.app.Shop.Ask(ctx, s.director, job, shop.At{Version: 1}); err != nil {
				return err
			}
			at(4)
			until := s.today + 6
			if _, err := s.app.Shop.TakeQuote(ctx, s.director, job, shop.Quoting{
				At: shop.At{Version: 2}, ID: uuid.Must(uuid.NewV7()), Currency: "EUR", TotalCents: 26500, ValidUntil: &until,
				Lines: []shoprows.QuoteLine{{Words: "Tube patched, first bend", Cents: 21500}, {Words: "Slides gone over", Cents: 4000}},
				Note:  "Two weeks, if it comes this month.",
			}); err != nil {
				return err
			}
		case "TB-03", "CO-01":
			at(0)
			if err := want(); err != nil {
				return err
			}
			if _, err := s.app.Shop.Agree(ctx, s.director, job, shop.At{Version: 1}); err != nil {
				return err
			}
			if _, err := s.app.Shop.Book(ctx, s.director, job, shop.Booking{At: shop.At{Version: 2}, TripID: &trip.ID}); err != nil {
				return err
			}
		}
	}
	at(0)
	return nil
}
