package demo_test

import (
	"context"
	"fmt"
	"io"
	"log/slog"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app"
	"solfeggio/internal/app/today"
	"solfeggio/internal/demo"
	"solfeggio/internal/pgtest"
)

// Ten boxes of the demo school as a director reads them, kept in testdata/boxes.txt to be judged. Written anew with
// SOLFEGGIO_WRITE_BOXES=1; then read, and only kept if a director would agree.
func TestTenBoxesThatADirectorCouldJudge(t *testing.T) {
	ctx := context.Background()
	quiet := slog.New(slog.NewTextHandler(io.Discard, nil))
	tuesday := time.Date(2026, 11, 24, 7, 40, 0, 0, time.UTC)
	db := pgtest.Open(t)
	require.NoError(t, demo.Seed(ctx, db, tuesday, quiet))
	now := tuesday
	a := app.New(db, func() time.Time { return now }, quiet)
	director, err := a.Access.SignIn(ctx, demo.DirectorEmail, demo.Password, "here")
	require.NoError(t, err)

	var all strings.Builder
	for _, box := range []struct {
		when    string
		on      time.Time
		minutes float64
		helpers int
	}{
		{"an ordinary Tuesday", tuesday, 5, 0}, {"an ordinary Tuesday", tuesday, 25, 0}, {"an ordinary Tuesday", tuesday, 25, 1},
		{"an ordinary Tuesday", tuesday, 45, 0}, {"an ordinary Tuesday", tuesday, 90, 3},
		{"the week of the winter concert", tuesday.AddDate(0, 0, 13), 10, 0},
		{"the week of the winter concert", tuesday.AddDate(0, 0, 13), 25, 1},
		{"the week of the winter concert", tuesday.AddDate(0, 0, 13), 60, 2},
		{"a Wednesday in June", time.Date(2027, 6, 9, 7, 40, 0, 0, time.UTC), 25, 0},
		{"a Wednesday in June", time.Date(2027, 6, 9, 7, 40, 0, 0, time.UTC), 60, 3},
	} {
		now = box.on
		got, err := a.Today.Today(ctx, director, box.minutes, box.helpers)
		require.NoError(t, err)
		fmt.Fprintf(&all, "%.0f minutes, %d helpers, %s\n%s\n", box.minutes, box.helpers, box.when, written(got.Box))
	}
	const file = "testdata/boxes.txt"
	if os.Getenv("SOLFEGGIO_WRITE_BOXES") != "" {
		require.NoError(t, os.WriteFile(file, []byte(all.String()), 0o644))
	}
	judged, err := os.ReadFile(file)
	require.NoError(t, err)
	assert.Equal(t, string(judged), all.String())
}

func written(b today.Box) string {
	var text strings.Builder
	for _, place := range b.Places {
		fmt.Fprintf(&text, "  %s (%.0f min to set up)\n", place.Name, place.SetupMinutes)
		for _, task := range place.Tasks {
			fmt.Fprintf(
				&text,
				"    %-6s %3.0f min  %-8s %6.2f  %s %s\n",
				task.Tag,
				task.Minutes,
				task.State,
				task.Value,
				task.Title,
				task.PartName,
			)
		}
	}
	return text.String()
}
