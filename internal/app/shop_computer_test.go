package app_test

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/http/httptest"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/shop"
	coreshop "solfeggio/internal/core/shop"
	"solfeggio/internal/repairshop"
	"solfeggio/internal/standin"
	"solfeggio/internal/store/shoprows"
)

// The simulated shop is asked over HTTP: its quote comes by itself, what it did is known at the check-in, and a line that it left is open.
func TestTheSimulatedShop(t *testing.T) {
	w := newWorkshop(t)
	id := w.want(w.service)
	refused := fault(t, second(w.Shop.Ask(ctx, w.director, id, w.at(id))), journal.Conflict)
	assert.Contains(t, refused.Message, "No simulated shop is connected")
	server := httptest.NewServer((&standin.Shop{Seed: 9, Now: func() time.Time { return w.now }}).Handler())
	defer server.Close()
	w.Shop.Service = repairshop.NewClient(server.URL)
	w.must(w.Shop.Ask(ctx, w.director, id, w.at(id)))
	v := w.view(id)
	require.Equal(t, coreshop.Quoted, v.Job.State, "its days take no time")
	require.Len(t, v.Quotes, 1)
	assert.True(t, v.Quotes[0].ByService)
	w.must(w.Shop.Agree(ctx, w.director, id, w.at(id)))
	w.must(w.Shop.Send(ctx, w.director, id, shop.Departure{At: w.at(id)}))
	w.must(w.Shop.News(ctx, w.director, id, w.at(id)))
	v = w.view(id)
	require.NotNil(t, v.Job.ReadyOn)
	assert.Len(t, v.Told, 2)
	assert.NotNil(t, v.ToldCents)
	w.must(w.Shop.News(ctx, w.director, id, w.at(id)))
	assert.Equal(t, v.Job.Version, w.view(id).Job.Version, "no news changes nothing")
}

// A service that answers as it is told to, and remembers what it was told.
type saying struct {
	repairshop.Progress
	err  error
	told []string
}

func (s *saying) says(what string) (repairshop.Progress, error) {
	s.told = append(s.told, what)
	return s.Progress, s.err
}

func (s *saying) Give(context.Context, repairshop.Order) (repairshop.Progress, error) {
	return s.says("give")
}
func (s *saying) News(context.Context, uuid.UUID) (repairshop.Progress, error) { return s.says("news") }
func (s *saying) Decide(_ context.Context, _ uuid.UUID, d repairshop.Decision) (repairshop.Progress, error) {
	return s.says(fmt.Sprintf("agreed %t", d.Agreed))
}
func (s *saying) Withdraw(context.Context, uuid.UUID) (repairshop.Progress, error) {
	return s.says("withdraw")
}
func (s *saying) HandOver(context.Context, uuid.UUID) (repairshop.Progress, error) {
	return s.says("handed over")
}
func (s *saying) Fetch(context.Context, uuid.UUID) (repairshop.Progress, error) {
	return s.says("fetched")
}

// What was kept stays kept when the shop's computer cannot be told of it: the job says so, and asking for news tells it all, in order.
func TestAShopThatHasNotHeard(t *testing.T) {
	w := newWorkshop(t)
	id := w.want(w.service)
	computer := &saying{err: errors.New("rubbish")}
	w.Shop.Service = computer
	w.must(w.Shop.Ask(ctx, w.director, id, w.at(id)))
	v := w.view(id)
	assert.Equal(t, coreshop.Asked, v.Job.State)
	assert.True(t, v.Job.Untold)
	assert.Contains(t, v.Row.Says, "has not heard")
	assert.True(t, v.Row.Alert)
	refused := fault(t, second(w.Shop.News(ctx, w.director, id, w.at(id))), journal.Conflict)
	assert.Contains(t, refused.Message, "does not answer")

	dollars := repairshop.Quote{ID: uuid.New(), Currency: "USD", TotalCents: 5}
	computer.err, computer.Progress = nil, repairshop.Progress{State: repairshop.Quoted, Quote: &dollars}
	w.must(w.Shop.News(ctx, w.director, id, w.at(id)))
	v = w.view(id)
	assert.False(t, v.Job.Untold)
	assert.Empty(t, v.Quotes, "money that is not the school's is not taken")
	assert.Contains(t, v.Row.Says, "quoted in USD")

	euros := repairshop.Quote{ID: uuid.New(), Currency: "EUR", TotalCents: 5}
	computer.Progress.Quote = &euros
	w.must(w.Shop.News(ctx, w.director, id, w.at(id)))
	computer.err, computer.told = errors.New("away"), nil
	w.must(w.Shop.Agree(ctx, w.director, id, w.at(id)))
	w.must(w.Shop.Send(ctx, w.director, id, shop.Departure{At: w.at(id)}))
	assert.Equal(t, []string{"agreed true", "agreed true"}, computer.told, "it was tried once a step")
	computer.err, computer.told = nil, nil
	w.must(w.Shop.News(ctx, w.director, id, w.at(id)))
	assert.Equal(t, []string{"agreed true", "handed over"}, computer.told)
	assert.False(t, w.view(id).Job.Untold)
}

// What is refused here is not heard there.
func TestAShopIsToldOnlyOfWhatWasKept(t *testing.T) {
	w := newWorkshop(t)
	id := w.want(w.service)
	until := thisDay
	computer := &saying{Progress: repairshop.Progress{State: repairshop.Quoted,
		Quote: &repairshop.Quote{ID: uuid.New(), Currency: "EUR", TotalCents: 5, ValidUntil: &until}}}
	w.Shop.Service = computer
	w.must(w.Shop.Ask(ctx, w.director, id, w.at(id)))
	w.now, computer.told = w.now.AddDate(0, 0, 2), nil
	refused := fault(t, second(w.Shop.Agree(ctx, w.director, id, w.at(id))), journal.Conflict)
	assert.Contains(t, refused.Message, "ran out")
	w.must(w.Shop.Refuse(ctx, w.director, id, w.at(id)))
	past := thisDay
	fault(t, second(w.Shop.Send(ctx, w.director, id, shop.Departure{At: w.at(id), ExpectedOn: &past})), journal.Invalid)
	fault(t, second(w.Shop.Agree(ctx, w.director, id, shop.At{Version: 1})), journal.Conflict)
	assert.Equal(t, []string{"withdraw"}, computer.told)
}

// A shop that has lost a job hears that it has, and nothing of how it goes on elsewhere.
func TestAShopThatLostAJob(t *testing.T) {
	w := newWorkshop(t)
	id := w.want(w.service)
	computer := &saying{}
	w.Shop.Service = computer
	w.must(w.Shop.Ask(ctx, w.director, id, w.at(id)))
	computer.err = errors.New("away")
	w.must(w.Shop.Change(ctx, w.director, id, shop.Asking{At: w.at(id), ShopID: &w.message.ID, Lines: w.view(id).Job.Lines}))
	w.must(w.Shop.Send(ctx, w.director, id, shop.Departure{At: w.at(id)}))
	require.True(t, w.view(id).Job.Untold)
	computer.err, computer.told = nil, nil
	w.must(w.Shop.News(ctx, w.director, id, w.at(id)))
	assert.Equal(t, []string{"withdraw"}, computer.told)
	assert.False(t, w.view(id).Job.Untold)
}

// Who chooses another shop for a job takes it from the first with what that quoted: nobody is held to another's price, the first is told,
// and a job that is on its way keeps its shop.
func TestAnotherShopHasAnotherPrice(t *testing.T) {
	w := newWorkshop(t)
	for _, state := range []coreshop.State{coreshop.Asked, coreshop.Quoted, coreshop.Agreed} {
		t.Run(string(state), func(t *testing.T) {
			id := w.want(w.message)
			w.must(w.Shop.Ask(ctx, w.director, id, w.at(id)))
			if state != coreshop.Asked {
				w.must(w.Shop.TakeQuote(ctx, w.director, id, shop.Quoting{At: w.at(id), ID: uuid.New(), Currency: "EUR", TotalCents: 77_700}))
			}
			if state == coreshop.Agreed {
				w.must(w.Shop.Agree(ctx, w.director, id, w.at(id)))
			}
			before := w.view(id).Job
			events := w.must(w.Shop.Change(ctx, w.director, id, shop.Asking{At: w.at(id), ShopID: &w.service.ID, Lines: before.Lines}))
			v := w.view(id)
			assert.Equal(t, coreshop.Wanted, v.Job.State)
			assert.NotEqual(t, int64(77_700), v.Row.Cents)
			assert.Nil(t, v.Job.AgreedCents)
			assert.Nil(t, v.Job.QuoteCents)
			outbox, err := w.Letters.Notices(ctx, w.director)
			require.NoError(t, err)
			assert.Contains(t, outbox.Sent[0].Body, "not have it done", "the first shop is told")
			_, err = w.Schools.Undo(ctx, w.director, school.Undo{Events: events})
			require.NoError(t, err)
			now := w.view(id).Job
			assert.Equal(t, before.State, now.State)
			assert.Equal(t, before.QuoteCents, now.QuoteCents)
			assert.Equal(t, before.AgreedCents, now.AgreedCents)
			w.must(w.Shop.CallOff(ctx, w.director, id, shop.CallingOff{At: w.at(id)}))
		})
	}
}

// A job that is booked keeps its shop: without one the board and the sheet of its trip could not say where it goes.
func TestABookedJobKeepsItsShop(t *testing.T) {
	w := newWorkshop(t)
	id := w.want(w.message)
	w.must(w.Shop.Agree(ctx, w.director, id, w.at(id)))
	trip := shoprows.Trip{ID: uuid.New(), On: thisDay + 2, Places: 3}
	require.NoError(t, w.Shop.SaveTrip(ctx, w.director, trip))
	w.must(w.Shop.Book(ctx, w.director, id, shop.Booking{At: w.at(id), TripID: &trip.ID}))
	for _, to := range []*uuid.UUID{nil, &w.service.ID} {
		f := fault(t, second(w.Shop.Change(ctx, w.director, id, shop.Asking{At: w.at(id), ShopID: to, Asks: "x"})), journal.Invalid)
		require.Len(t, f.Fields, 1)
		assert.Equal(t, "shop_id", f.Fields[0].Path)
	}
	_, err := w.Shop.Board(ctx, w.director)
	require.NoError(t, err)
	require.NoError(t, w.Shop.TripSheet(ctx, w.director, trip.ID, io.Discard))
}
