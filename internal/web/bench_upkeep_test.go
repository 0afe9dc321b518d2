package web_test

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/importing"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/preparing"
	"solfeggio/internal/app/roster"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/upkeep"
	"solfeggio/internal/core/day"
	"solfeggio/internal/pgtest"
	"solfeggio/internal/store/schoolrows"
)

// BenchmarkUpkeep works out afresh what must begin before a concert of 600 instruments, half of them with strings, half with three reeds
// in a box; and the boxes themselves.
func BenchmarkUpkeep(b *testing.B) {
	s := newSite(b, pgtest.Open(b))
	director := s.setUp()
	ctx := context.Background()
	var file, players strings.Builder
	file.WriteString("tag,kind,size,care_from\n")
	players.WriteString("external_id,given_name,ensembles,instrument\n")
	for n := range 600 {
		kind, size := "violin", "4/4"
		if n%2 == 1 {
			kind, size = "clarinet-b-flat", ""
		}
		fmt.Fprintf(&file, "IN-%03d,%s,%s,2026-0%d-01\n", n, kind, size, 4+n%6)
		fmt.Fprintf(&players, "p%d,Player %d,Orchestra,%s\n", n, n, kind)
	}
	report, err := s.app.Importing.Import(ctx, director, importing.InstrumentFile{Content: []byte(file.String())})
	require.NoError(b, err)
	require.Empty(b, report.Faults)
	_, err = s.app.Roster.ImportRoster(ctx, director, roster.RosterFile{Content: []byte(players.String())})
	require.NoError(b, err)
	list, err := s.app.Inventory.Instruments(ctx, director)
	require.NoError(b, err)
	here, err := s.app.Roster.Players(ctx, director)
	require.NoError(b, err)
	slices.SortFunc(here, func(x, y roster.ListedPlayer) int { return strings.Compare(x.Kind, y.Kind) })
	slices.SortFunc(list, func(x, y school.Listed) int { return strings.Compare(x.Kind, y.Kind) })
	give := lending.HandOut{}
	for n, p := range here {
		give.Pairs = append(give.Pairs, school.Pair{PlayerID: p.ID, InstrumentID: list[n].ID})
	}
	_, err = s.app.Lending.HandOut(ctx, director, give)
	require.NoError(b, err)
	settings, err := s.app.Settings.Settings(ctx, director)
	require.NoError(b, err)
	today := day.Of(s.now)
	require.NoError(b, s.app.Settings.SaveConcert(ctx, director, schoolrows.Concert{
		ID: uuid.New(), Name: "Winter", HeldOn: today + 18, Minutes: 90, PlayFactor: 0.6, Ensembles: []uuid.UUID{settings.Ensembles[0].ID},
	}))
	for n, p := range here {
		for k := range 3 {
			on := today - day.Day(3+7*k+n%5)
			if p.Kind != "violin" {
				_, err := s.app.Upkeep.Open(ctx, director, upkeep.Opening{ID: uuid.New(), PlayerID: p.ID, OpenedOn: &on})
				require.NoError(b, err)
			}
		}
	}
	b.Run("before", func(b *testing.B) {
		for b.Loop() {
			got, err := s.app.Preparing.Before(ctx, director, preparing.Preparing{MinutesADay: 240})
			require.NoError(b, err)
			require.NotEmpty(b, got.Changes)
		}
	})
	b.Run("boxes", func(b *testing.B) {
		for b.Loop() {
			_, err := s.app.Upkeep.Boxes(ctx, director)
			require.NoError(b, err)
		}
	})
	b.Run("header", func(b *testing.B) {
		for b.Loop() {
			_, err := s.app.Today.Header(ctx, director)
			require.NoError(b, err)
		}
	})
}
