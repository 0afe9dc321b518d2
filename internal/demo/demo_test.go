package demo_test

import (
	"context"
	"io"
	"log/slog"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app"
	"solfeggio/internal/app/bench"
	"solfeggio/internal/app/school"
	"solfeggio/internal/demo"
	"solfeggio/internal/pgtest"
	"solfeggio/internal/sumtest"
)

// The same day gives the same school, whichever database it is made in, and that school has a believable morning.
func TestTheSameDayGivesTheSameSchool(t *testing.T) {
	ctx := context.Background()
	quiet := slog.New(slog.NewTextHandler(io.Discard, nil))
	now := time.Date(2027, 3, 10, 8, 0, 0, 0, time.UTC)
	var lists [2][]school.Listed
	for n := range lists {
		db := pgtest.Open(t)
		require.NoError(t, demo.Seed(ctx, db, now, quiet))
		require.NoError(t, demo.Seed(ctx, db, now, quiet), "a second start changes nothing")
		a := app.New(db, func() time.Time { return now }, quiet)
		director, err := a.Access.SignIn(ctx, demo.DirectorEmail, demo.Password, "here")
		require.NoError(t, err)
		lists[n], err = a.Inventory.Instruments(ctx, director)
		require.NoError(t, err)
		today, err := a.Today.Today(ctx, director, 25, 1)
		require.NoError(t, err)
		assert.NotEmpty(t, today.Box.Places)
		assert.Greater(t, today.Late, 0)
		assert.Less(t, today.Late+today.Due, 120)
		bench, err := a.Bench.Overview(ctx, director)
		require.NoError(t, err)
		assert.Equal(t, 7, held(bench), "what came back, and the trumpet with the dent; some had no player")
		assert.Equal(t, 2, bench.Products, "the wipes are out of date")
		records, err := a.Bench.Records(ctx, director, nil)
		require.NoError(t, err)
		assert.Len(t, records, 2)
		if n == 0 {
			sumtest.Agree(t, a, director)
		}
		for i := range lists[n] {
			lists[n][i].ID = lists[0][i].ID // ids are made new each time
		}
	}
	assert.Len(t, lists[0], 160)
	assert.Equal(t, lists[0], lists[1])
}

func held(b bench.Bench) (n int) {
	for _, f := range b.Waiting {
		if f.Held {
			n++
		}
	}
	return n
}
