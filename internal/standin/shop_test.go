package standin

import (
	"context"
	"net/http"
	"net/http/httptest"
	"slices"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/core/shop"
	"solfeggio/internal/repairshop"
)

var ctx = context.Background()

func order(id uuid.UUID) repairshop.Order {
	return repairshop.Order{
		ID: id, School: "Quillhaven Community School", Works: []string{"Pads", "Corks", "Regulation"}, Currency: "EUR",
		Instrument: repairshop.Described{Tag: "CL-05", Kind: "B-flat clarinet"},
	}
}

// A job goes its whole way: nothing is said before its time, and what is asked twice is done once.
func TestAJobAtTheSimulatedShop(t *testing.T) {
	now := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	s := &Shop{Seed: 3, Day: 24 * time.Hour, Now: func() time.Time { return now }}
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	c := repairshop.NewClient(server.URL)
	id := uuid.MustParse("0d4e0ff1-6c6b-4b6e-9d1c-3c1f1f6c2b11")
	_, err := c.News(ctx, id)
	require.ErrorIs(t, err, repairshop.ErrUnknown)
	_, err = c.Give(ctx, order(id))
	require.NoError(t, err)
	now = now.AddDate(0, 0, 4)
	p, err := c.Give(ctx, order(id))
	require.NoError(t, err)
	require.Equal(t, repairshop.Quoted, p.State)
	require.Len(t, p.Quote.Lines, 3)
	again, err := c.News(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, p.Quote, again.Quote, "the same quote, however often it is asked for")
	_, err = c.Decide(ctx, id, repairshop.Decision{Quote: uuid.New(), Agreed: true})
	require.Error(t, err, "of another quote")
	p, err = c.Decide(ctx, id, repairshop.Decision{Quote: p.Quote.ID, Agreed: true})
	require.NoError(t, err)
	assert.Equal(t, repairshop.Agreed, p.State)
	p, err = c.HandOver(ctx, id)
	require.NoError(t, err)
	require.Equal(t, repairshop.InWork, p.State)
	assert.Nil(t, p.Result)
	now = now.AddDate(0, 0, 40)
	p, err = c.News(ctx, id)
	require.NoError(t, err)
	require.Equal(t, repairshop.Ready, p.State)
	assert.Len(t, p.Result.Lines, 3)
	p, err = c.Fetch(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, repairshop.Fetched, p.State)
}

// As real ones do it errs now and then, and not always: of many jobs some add up wrongly, some come late, some leave a line undone.
func TestItErrsNowAndThen(t *testing.T) {
	now := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	s := &Shop{Seed: 1, Now: func() time.Time { return now }}
	var wrong, late, undone int
	const jobs = 400
	for range jobs {
		j := s.take(order(uuid.New()), 0)
		var lines []int64
		for _, l := range j.quote.Lines {
			lines = append(lines, l.Cents)
		}
		wrong += count(shop.QuoteDiffers(lines, j.quote.TotalCents) != 0)
		late += count(j.isLate > 0)
		undone += count(slices.ContainsFunc(j.result.Lines, func(d repairshop.Done) bool { return !d.Mended }))
	}
	for _, n := range []int{wrong, late, undone} {
		assert.Greater(t, n, jobs/30)
		assert.Less(t, n, jobs/2)
	}
	id := uuid.New()
	one, other := s.take(order(id), 0), (&Shop{Seed: 1, Now: s.Now}).take(order(id), 0)
	assert.Equal(t, one, other, "the same seed, the same shop")
	assert.NotEqual(t, one.quote, (&Shop{Seed: 2, Now: s.Now}).take(order(id), 0).quote)
}

func count(b bool) int {
	if b {
		return 1
	}
	return 0
}

// What a shop's computer may answer instead of what it should: each is refused with words, and none is taken for a job.
func TestTheClientTakesNoRubbish(t *testing.T) {
	for says, answer := range map[string]http.HandlerFunc{
		"not with JSON":  func(w http.ResponseWriter, _ *http.Request) { _, _ = w.Write([]byte("<p>Under construction</p>")) },
		"cannot be read": asJSON(`{"state":`),
		"unknown state":  asJSON(`{"state":"painted"}`),
		"no id":          asJSON(`{"state":"quoted","quote":{"currency":"EUR","total_cents":5}}`),
		"cannot be":      asJSON(`{"state":"quoted","quote":{"id":"0d4e0ff1-6c6b-4b6e-9d1c-3c1f1f6c2b11","total_cents":-5}}`),
		"too many lines": asJSON(`{"state":"ready","result":{"lines":[` + repeat(`{"words":"x"}`, 51) + `]}}`),
		"too long":       asJSON(`{"state":"ready","note":"` + string(slices.Repeat([]byte("x"), 300<<10)) + `"}`),
		"answered 500":   func(w http.ResponseWriter, _ *http.Request) { w.WriteHeader(http.StatusInternalServerError) },
		"answered 302": func(w http.ResponseWriter, r *http.Request) {
			http.Redirect(w, r, "http://127.0.0.1:1/", http.StatusFound)
		},
		"result.lines[0]":  asJSON(`{"state":"ready","result":{"lines":[{"words":"x","cents":-1}]}}`),
		"quote.lines[0]":   asJSON(`{"state":"quoted","quote":{"id":"0d4e0ff1-6c6b-4b6e-9d1c-3c1f1f6c2b11","lines":[{"words":"\u0000","cents":1}]}}`),
		"connection reset": func(w http.ResponseWriter, _ *http.Request) { hangUp(w) },
	} {
		server := httptest.NewServer(answer)
		_, err := repairshop.NewClient(server.URL).News(ctx, uuid.New())
		if assert.Error(t, err, says) && says != "connection reset" {
			assert.ErrorContains(t, err, says)
		}
		server.Close()
	}
	_, err := repairshop.NewClient("http://127.0.0.1:1").News(ctx, uuid.New())
	require.ErrorContains(t, err, "asking the shop", "nobody is there")
}

func asJSON(text string) http.HandlerFunc {
	return func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "application/json")
		_, _ = w.Write([]byte(text))
	}
}

func repeat(text string, n int) string {
	out := text
	for range n - 1 {
		out += "," + text
	}
	return out
}

func hangUp(w http.ResponseWriter) {
	if line, _, err := http.NewResponseController(w).Hijack(); err == nil {
		_ = line.Close()
	}
}
