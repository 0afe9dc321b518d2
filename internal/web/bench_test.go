package web_test

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app"
	"solfeggio/internal/core/assign"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/formats"
	"solfeggio/internal/pgtest"
	"solfeggio/internal/store"
)

// instruments writes a file of n instruments of all kinds, whose clocks stand anywhere from new to a fifth over
// their limits: about one in six is due.
func instruments(n int) []byte {
	today := day.MustParse("2026-11-24")
	all := catalog.Embedded()
	columns := []string{"tag", "kind", "ensembles", "practice_minutes_per_week", "care_from", "room", "slot"}
	for _, r := range all.Routines {
		if limits, ok := r.Limits.For("standard"); ok && limits.Days != nil && len(r.When) == 0 {
			columns = append(columns, "last:"+r.Key)
		}
	}
	var rows [][]string
	for i := range n {
		kind := all.Kinds[i%len(all.Kinds)]
		row := []string{fmt.Sprintf("IN-%04d", i), kind.Key, fmt.Sprintf("Ensemble %d", i%4), fmt.Sprint(60 + i%90), "2025-01-01", fmt.Sprintf("Room %d", i/1000), app.SlotName(fmt.Sprintf("S%d", i%1000/50), i%50+1)}
		for c, name := range columns[7:] {
			r, _ := all.Routine(strings.TrimPrefix(name, "last:"))
			limits, _ := r.Limits.For("standard")
			last := ""
			if slices.Contains(kind.Routines, r.Key) {
				last = (today - day.Day(*limits.Days*1.2*float64((i*7+c*13)%100)/100)).String()
			}
			row = append(row, last)
		}
		rows = append(rows, row)
	}
	var file bytes.Buffer
	if err := formats.WriteTable(&file, columns, rows); err != nil {
		panic(err)
	}
	return file.Bytes()
}

// BenchmarkToday asks for Today at 600 instruments with 8 clients at once, through HTTP, sessions and PostgreSQL.
// "quiet" is the usual case: nobody wrote since the last question. In "busy" every tenth question is preceded by a
// tick, so that the clocks are loaded and read afresh.
func BenchmarkToday(b *testing.B) {
	for name, writeEvery := range map[string]int{"quiet": 0, "busy": 10} {
		b.Run(name, func(b *testing.B) {
			s := newSite(b, pgtest.Open(b))
			director := s.setUp()
			ctx := context.Background()
			report, err := s.app.Import(ctx, director, bytes.NewReader(instruments(600)), false)
			require.NoError(b, err)
			require.Empty(b, report.Faults)
			s.signIn()
			s.client.Transport = &http.Transport{MaxIdleConnsPerHost: 8}
			list, err := s.app.Instruments(ctx, director)
			require.NoError(b, err)

			const clients = 8
			took := make([][]time.Duration, clients)
			b.ResetTimer()
			var wait sync.WaitGroup
			for c := range clients {
				wait.Go(func() {
					for n := c; n < b.N; n += clients {
						if writeEvery > 0 && n%writeEvery == 0 {
							task := app.FinishTask{InstrumentID: list[n%len(list)].ID, Key: clocks.Key{Routine: "technician-check"}}
							_, _ = s.app.Finish(app.WithRequest(ctx, app.Request{ID: uuid.New()}), director, app.Finish{Tasks: []app.FinishTask{task}})
						}
						start := time.Now()
						response, err := s.client.Get(s.url + "/api/v1/today?minutes=25&helpers=1")
						if err != nil || response.StatusCode != http.StatusOK {
							b.Errorf("today: %v %v", err, response)
							return
						}
						_, _ = io.Copy(io.Discard, response.Body)
						_ = response.Body.Close()
						took[c] = append(took[c], time.Since(start))
					}
				})
			}
			wait.Wait()
			b.StopTimer()
			all := slices.Concat(took...)
			slices.Sort(all)
			b.ReportMetric(float64(all[len(all)*95/100].Microseconds())/1000, "p95-ms")
		})
	}
}

// BenchmarkRoom asks for all that the Room shows of 5,000 instruments: the list and the walls, as the browser does, compressed.
func BenchmarkRoom(b *testing.B) {
	s := newSite(b, pgtest.Open(b))
	director := s.setUp()
	ctx := context.Background()
	for room := range 5 {
		for shelf := range 20 {
			require.NoError(b, s.app.SaveShelf(ctx, director, store.Shelf{ID: uuid.New(), Room: fmt.Sprintf("Room %d", room), Name: fmt.Sprintf("S%d", shelf), Position: shelf, Slots: 50}))
		}
	}
	report, err := s.app.Import(ctx, director, bytes.NewReader(instruments(5000)), false)
	require.NoError(b, err)
	require.Empty(b, report.Faults)
	s.signIn()
	// Asked for by hand, so that the bytes are counted as they come over the line.
	s.client.Transport = &http.Transport{DisableCompression: true}
	bytesSent := 0
	ask := func() {
		bytesSent = 0
		for _, path := range []string{"/api/v1/instruments", "/api/v1/room"} {
			request, err := http.NewRequestWithContext(ctx, http.MethodGet, s.url+path, nil)
			require.NoError(b, err)
			request.Header.Set("Accept-Encoding", "gzip")
			response, err := s.client.Do(request)
			require.NoError(b, err)
			require.Equal(b, http.StatusOK, response.StatusCode)
			n, err := io.Copy(io.Discard, response.Body)
			require.NoError(b, err)
			_ = response.Body.Close()
			bytesSent += int(n)
		}
	}
	ask()
	for b.Loop() {
		ask()
	}
	b.ReportMetric(float64(bytesSent)/1000, "kB")
}

// BenchmarkPropose asks who should get what when 600 players wait for 600 free instruments, with a hundred pairs ruled out.
func BenchmarkPropose(b *testing.B) {
	s := newSite(b, pgtest.Open(b))
	director := s.setUp()
	ctx := context.Background()
	var file, roster strings.Builder
	file.WriteString("tag,kind,size,care_from\n")
	roster.WriteString("external_id,given_name,instrument,arm_length_cm,height_cm\n")
	for n := range 600 {
		kind := []string{"violin", "viola", "cello", "flute", "clarinet-b-flat", "trumpet"}[n%6]
		size := map[string]string{"violin": []string{"1/2", "3/4", "4/4"}[n%3], "viola": "14", "cello": "4/4"}[kind]
		fmt.Fprintf(&file, "IN-%03d,%s,%s,2026-11-01\n", n, kind, size)
		fmt.Fprintf(&roster, "p%d,Player %d,%s,%d,%d\n", n, n, kind, 50+n%15, 130+n%40)
	}
	report, err := s.app.Import(ctx, director, strings.NewReader(file.String()), false)
	require.NoError(b, err)
	require.Empty(b, report.Faults)
	brought, err := s.app.ImportRoster(ctx, director, app.RosterFile{Content: []byte(roster.String())})
	require.NoError(b, err)
	require.Equal(b, 600, brought.Added)
	wish := app.Wish{Weights: assign.Weights{Size: 1, Grade: 1, Kept: 1, Rental: 1, Travel: 1, Kit: 1}}
	first, err := s.app.Propose(ctx, director, wish)
	require.NoError(b, err)
	for _, p := range first.Pairs[:100] {
		wish.Refusals = append(wish.Refusals, p.Pair)
	}
	for b.Loop() {
		got, err := s.app.Propose(ctx, director, wish)
		require.NoError(b, err)
		require.Len(b, got.Pairs, len(first.Pairs))
	}
}

// BenchmarkHandOver hands one instrument out with its checks, its kit and a signature, takes it back and lets it go again,
// through HTTP, sessions and PostgreSQL, at 600 instruments.
func BenchmarkHandOver(b *testing.B) {
	s := newSite(b, pgtest.Open(b))
	director := s.setUp()
	ctx := context.Background()
	_, err := s.app.Import(ctx, director, bytes.NewReader(instruments(600)), false)
	require.NoError(b, err)
	_, err = s.app.Import(ctx, director, strings.NewReader("tag,kind,size,care_from\nZZ-01,violin,4/4,2026-11-01\n"), false)
	require.NoError(b, err)
	_, err = s.app.ImportRoster(ctx, director, app.RosterFile{Content: []byte("given_name,arm_length_cm\nOde,60\n")})
	require.NoError(b, err)
	s.signIn()
	list, err := s.app.Instruments(ctx, director)
	require.NoError(b, err)
	free := slices.IndexFunc(list, func(i app.Listed) bool { return i.Tag == "ZZ-01" })
	players, err := s.app.Players(ctx, director)
	require.NoError(b, err)
	on := "/api/v1/instruments/" + list[free].ID.String()
	for b.Loop() {
		for _, call := range [][2]string{{"/api/v1/hand-overs", handing(players[0].ID, list[free].ID)}, {on + "/return", "{}"}, {on + "/release", `{"how":"Wiped dry."}`}} {
			got := s.call("POST", call[0], call[1])
			require.Equal(b, http.StatusOK, got.status, got.body)
		}
	}
}

// BenchmarkSupplies works out stock, demand and order of a school of 600 instruments.
func BenchmarkSupplies(b *testing.B) {
	s := newSite(b, pgtest.Open(b))
	director := s.setUp()
	_, err := s.app.Import(context.Background(), director, bytes.NewReader(instruments(600)), false)
	require.NoError(b, err)
	for b.Loop() {
		got, err := s.app.Supplies(context.Background(), director, 12, 0.9)
		require.NoError(b, err)
		require.NotEmpty(b, got.Lines)
	}
}
