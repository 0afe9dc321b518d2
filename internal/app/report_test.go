package app_test

import (
	"context"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/cards"
	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/shop"
	"solfeggio/internal/core/card"
	"solfeggio/internal/core/report"
	"solfeggio/internal/store/cardrows"
	"solfeggio/internal/store/shoprows"
)

// A pupil's report goes along with whatever people do, and none of it leaves it open.
func TestEveryWayOnCarriesTheReport(t *testing.T) {
	type school = *workshop
	peg := "peg-slips" // the symptom, and a finding to which it leads
	note := func(code string) func(school) {
		return func(w school) {
			_, err := w.Inspection.ReportFinding(ctx, w.director, w.id("VN-01"), inspection.Report{ID: uuid.New(), Found: inspection.Found{Code: code}})
			require.NoError(t, err)
		}
	}
	clear := func(w school) {
		for _, f := range w.file("VN-01").Findings {
			_, err := w.Inspection.ClearFinding(ctx, w.director, f.ID, inspection.Clearing{How: "Chalk."})
			require.NoError(t, err)
		}
	}
	for name, x := range map[string]struct {
		do    []func(school)
		state report.State
		told  string
	}{
		"nobody does anything":         {nil, report.Open, "Sent, nobody has looked yet"},
		"a finding is noted":           {[]func(school){note(peg)}, report.Found, "Seen: somebody will look at it"},
		"and it is cleared":            {[]func(school){note(peg), clear}, report.Found, "Mended"},
		"something else is noted":      {[]func(school){note("open-seam")}, report.Seen, "Seen: somebody will look at it"},
		"it is looked over and right":  {[]func(school){clear, func(w school) { w.inspect("VN-01", nil) }}, report.Sound, "Looked over: nothing wrong was found"},
		"another one is lent":          {[]func(school){lend}, report.Seen, "Seen: somebody will look at it"},
		"it comes back":                {[]func(school){comesBack}, report.Seen, "Seen: somebody will look at it"},
		"a shop is to see it":          {[]func(school){wanted}, report.Seen, "Seen: it goes to a shop"},
		"the shop has it":              {[]func(school){wanted, sent}, report.Seen, "At the shop until about 8 December"},
		"it is back from the shop":     {[]func(school){wanted, sent, fetched}, report.Seen, "Back from the shop, to be tried first"},
		"it is checked in":             {[]func(school){wanted, sent, fetched, checkedIn}, report.Mended, "Mended"},
		"the shop mends what is noted": {[]func(school){note(peg), clear, wanted, sent, fetched, checkedIn}, report.Found, "Mended"},
		"a word":                       {[]func(school){answer}, report.Answered, ""},
		"a look, and a word":           {[]func(school){lend, answer}, report.Answered, ""},
	} {
		t.Run(name, func(t *testing.T) {
			w := newWorkshop(t)
			_, err := w.Cards.Make(ctx, w.director, cards.Making{Instruments: []uuid.UUID{w.id("VN-01")}})
			require.NoError(t, err)
			secret, id := w.secret("VN-01"), uuid.New()
			require.NoError(t, w.Cards.Say(ctx, secret, cards.Saying{ID: id, Symptom: peg, Plays: cardrows.PlaysNot, Origin: "10.0.0.1"}))
			for _, do := range x.do {
				do(w)
			}
			page, err := w.Cards.Page(ctx, secret, card.English)
			require.NoError(t, err)
			require.Len(t, page.Reports, 1)
			assert.Equal(t, x.told, page.Reports[0].Became)
			today, err := w.Today.Today(ctx, w.director, 20, 0)
			require.NoError(t, err)
			assert.Equal(t, x.state == report.Open, len(today.Reports) == 1, "Today shows what nobody has looked at")
			list, err := w.Cards.Reports(ctx, w.director)
			require.NoError(t, err)
			assert.Equal(t, !x.state.Settled(), len(list) == 1)
			if !x.state.Settled() {
				assert.Equal(t, x.state, list[0].State)
			}
		})
	}
}

func lend(w *workshop) {
	_, err := w.Lending.Lend(ctx, w.director, w.id("VN-01"), lending.Lending{LoanerID: w.id("VN-02")})
	require.NoError(w.t, err)
}

func comesBack(w *workshop) {
	_, err := w.Lending.Return(ctx, w.director, w.id("VN-01"), lending.Returning{})
	require.NoError(w.t, err)
}

func answer(w *workshop) {
	list, err := w.Cards.Reports(ctx, w.director)
	require.NoError(w.t, err)
	_, err = w.Cards.Settle(ctx, w.director, list[0].ID, cards.Settling{Answer: "Push it in while you turn."})
	require.NoError(w.t, err)
}

func wanted(w *workshop) {
	_, err := w.Shop.Want(ctx, w.director, shop.Wanting{ID: jobOf(w), InstrumentID: w.id("VN-01"), Origin: shoprows.ByHand, Asks: "The pegs."})
	require.NoError(w.t, err)
	w.must(w.Shop.Change(ctx, w.director, jobOf(w), shop.Asking{At: w.at(jobOf(w)), ShopID: &w.message.ID, Asks: "The pegs.", Lines: w.view(jobOf(w)).Job.Lines}))
}

// jobOf names the job of a workshop's violin, the same each time.
func jobOf(w *workshop) uuid.UUID { return w.seam }

func sent(w *workshop) {
	w.must(w.Shop.Agree(ctx, w.director, jobOf(w), w.at(jobOf(w))))
	trip := shoprows.Trip{ID: uuid.New(), On: thisDay, Places: 1}
	require.NoError(w.t, w.Shop.SaveTrip(ctx, w.director, trip))
	w.must(w.Shop.Book(ctx, w.director, jobOf(w), shop.Booking{At: w.at(jobOf(w)), TripID: &trip.ID}))
	w.must(w.Shop.Drive(ctx, w.director, trip.ID, shop.Driving{At: tripVersion(w, trip.ID)}))
}

func fetched(w *workshop) { w.must(w.Shop.Fetched(ctx, w.director, jobOf(w), w.at(jobOf(w)))) }

func checkedIn(w *workshop) {
	in := shop.CheckingIn{At: w.at(jobOf(w)), PlayTested: true, Goes: shop.ToPlayer, Lines: []shop.CheckedLine{}}
	w.must(w.Shop.CheckIn(ctx, w.director, jobOf(w), in))
}

// Two people settle one report at once: one of them does, and the other reads that it was settled.
func TestAReportIsSettledOnce(t *testing.T) {
	w := newWorkshop(t)
	_, err := w.Cards.Make(ctx, w.director, cards.Making{Instruments: []uuid.UUID{w.id("VN-01")}})
	require.NoError(t, err)
	require.NoError(t, w.Cards.Say(ctx, w.secret("VN-01"), cards.Saying{ID: uuid.New(), Symptom: "peg-slips", Plays: cardrows.PlaysNot, Origin: "10.0.0.1"}))
	list, err := w.Cards.Reports(ctx, w.director)
	require.NoError(t, err)
	both := make(chan error, 2)
	within, stop := context.WithTimeout(ctx, time.Minute)
	defer stop()
	for _, in := range []cards.Settling{{Answer: "Play on."}, {Finding: "peg-slips"}} {
		go func() {
			_, err := w.Cards.Settle(within, w.director, list[0].ID, in)
			both <- err
		}()
	}
	one, other := <-both, <-both
	assert.NotEqual(t, one == nil, other == nil, "%v, %v", one, other)
}
