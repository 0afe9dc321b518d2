package web_test

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app"
	"solfeggio/internal/app/access"
	"solfeggio/internal/app/care"
	"solfeggio/internal/app/importing"
	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/placing"
	"solfeggio/internal/app/roster"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/season"
	"solfeggio/internal/core/assign"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/formats"
	"solfeggio/internal/pgtest"
	"solfeggio/internal/store/instrumentrows"
	"solfeggio/internal/store/seasonrows"
)

// instruments writes a file of n instruments of all kinds, whose clocks stand anywhere from new to a fifth over
// their limits: about one in six is due.
func instruments(n int) []byte { return instrumentsFrom(0, n) }

// instrumentsFrom writes some of them.
func instrumentsFrom(first, n int) []byte {
	today := day.MustParse("2026-11-24")
	all := catalog.Embedded()
	columns := []string{"tag", "kind", "ensembles", "practice_minutes_per_week", "care_from", "room", "slot"}
	for _, r := range all.Routines {
		if limits, ok := r.Limits.For("standard"); ok && limits.Days != nil && len(r.When) == 0 {
			columns = append(columns, "last:"+r.Key)
		}
	}
	var rows [][]string
	for i := first; i < n; i++ {
		kind := all.Kinds[i%len(all.Kinds)]
		row := []string{
			fmt.Sprintf("IN-%04d", i),
			kind.Key,
			fmt.Sprintf("Ensemble %d", i%4),
			fmt.Sprint(60 + i%90),
			"2025-01-01",
			fmt.Sprintf("Room %d", i/1000),
			inventory.SlotName(fmt.Sprintf("S%d", i%1000/50), i%50+1),
		}
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

// timed asks for something and returns how long that took, and the tag of the answer. With the tag of the last answer it asks as a
// browser does.
func (s *site) timed(path, tag string) (time.Duration, string) {
	request, err := http.NewRequest(http.MethodGet, s.url+path, nil)
	require.NoError(s.t, err)
	if tag != "" {
		request.Header.Set("If-None-Match", tag)
	}
	start := time.Now()
	response, err := s.client.Do(request)
	require.NoError(s.t, err)
	_, err = io.Copy(io.Discard, response.Body)
	require.NoError(s.t, err)
	_ = response.Body.Close()
	require.Contains(s.t, []int{http.StatusOK, http.StatusNotModified}, response.StatusCode, path)
	return time.Since(start), response.Header.Get("ETag")
}

// share is the time within which a share of all questions is answered, in milliseconds.
func share(all []time.Duration, of float64) float64 {
	slices.Sort(all)
	return float64(all[int(float64(len(all)-1)*of)].Microseconds()) / 1000
}

// crowd lets clients ask at once, n questions in all.
func crowd(clients, n int, ask func(client, question int) time.Duration) []time.Duration {
	took := make([][]time.Duration, clients)
	var wait sync.WaitGroup
	for c := range clients {
		wait.Go(func() {
			for q := c; q < n; q += clients {
				took[c] = append(took[c], ask(c, q))
			}
		})
	}
	wait.Wait()
	return slices.Concat(took...)
}

// large is a site with a school of so many instruments, signed in.
func large(b testing.TB, n, clients int) (*site, journal.Person, []school.Listed) {
	s := newSite(b, pgtest.Open(b))
	director := s.setUp()
	for first := 0; first < n; first += 5000 { // a file has so many rows at most
		report, err := s.app.Importing.Import(context.Background(), director,
			importing.InstrumentFile{Content: instrumentsFrom(first, min(n, first+5000))})
		require.NoError(b, err)
		require.Empty(b, report.Faults)
	}
	s.signIn()
	s.client.Transport = &http.Transport{MaxIdleConnsPerHost: clients}
	list, err := s.app.Inventory.Instruments(context.Background(), director)
	require.NoError(b, err)
	return s, director, list
}

func (s *site) tick(director journal.Person, of school.Listed) {
	task := care.FinishTask{InstrumentID: of.ID, Key: clocks.Key{Routine: "technician-check"}}
	_, err := s.app.Care.Finish(
		journal.WithRequest(context.Background(), journal.Request{ID: uuid.New()}),
		director,
		care.Finish{Tasks: []care.FinishTask{task}},
	)
	if err != nil { // not every kind has this routine
		_, err = s.app.Inventory.Move(
			context.Background(),
			director,
			inventory.Moves{Moves: []inventory.Move{{InstrumentID: of.ID, Room: "Room", Slot: uuid.NewString()[:8]}}},
		)
	}
	require.NoError(s.t, err)
}

// BenchmarkToday asks for Today at 600 instruments with 8 clients at once, through HTTP, sessions and PostgreSQL, beside the plain
// question whether the database answers. "quiet" is the usual case: nobody wrote since the last question. In "busy" every tenth
// question is preceded by a write.
func BenchmarkToday(b *testing.B) {
	for name, writeEvery := range map[string]int{"quiet": 0, "busy": 10} {
		b.Run(name, func(b *testing.B) {
			const clients = 8
			s, director, list := large(b, 600, clients)
			tags := make([]string, clients)
			b.ResetTimer()
			took := crowd(clients, b.N, func(c, q int) (t time.Duration) {
				if writeEvery > 0 && q%writeEvery == 0 {
					s.tick(director, list[q%len(list)])
				}
				t, tags[c] = s.timed("/api/v1/today?minutes=25&helpers=1", tags[c])
				return t
			})
			b.StopTimer()
			plain := crowd(clients, b.N, func(int, int) time.Duration { t, _ := s.timed("/readyz", ""); return t })
			b.ReportMetric(share(took, 0.95), "p95-ms")
			b.ReportMetric(share(took, 0.5), "median-ms")
			b.ReportMetric(share(plain, 0.95), "readyz-p95-ms")
			b.ReportMetric(share(plain, 0.5), "readyz-median-ms")
		})
	}
}

// BenchmarkViews asks for what the views show of 600 instruments while nobody writes, with 8 clients, in turn with the plain question.
func BenchmarkViews(b *testing.B) {
	const clients = 8
	s, _, _ := large(b, 600, clients)
	paths := []string{
		"/readyz",
		"/api/v1/session",
		"/api/v1/header",
		"/api/v1/today",
		"/api/v1/instruments",
		"/api/v1/room",
		"/api/v1/supplies",
		"/api/v1/players",
		"/api/v1/due",
	}
	took := make(map[string][]time.Duration)
	for _, path := range paths {
		_, tag := s.timed(path, "")
		_, tag = s.timed(path, tag)
		ask := func(int, int) time.Duration { t, _ := s.timed(path, tag); return t }
		crowd(clients, 50*clients, ask) // until every connection has met the question
		took[path] = crowd(clients, 500*clients, ask)
	}
	for b.Loop() {
		s.timed("/readyz", "")
	}
	for _, path := range paths {
		b.ReportMetric(share(took[path], 0.5), strings.TrimPrefix(strings.TrimPrefix(path, "/api/v1"), "/")+"-ms")
	}
}

// BenchmarkSchools asks 8 and 128 schools in turn for their top line.
func BenchmarkSchools(b *testing.B) {
	for _, n := range []int{8, 128} {
		b.Run(fmt.Sprint(n), func(b *testing.B) {
			s := newSite(b, pgtest.Open(b))
			var directors []journal.Person
			for range n {
				by, err := s.app.Access.SetUpSchool(context.Background(), access.NewSchool{
					School: pgtest.School(),
					Name:   "Ines Corvane", Email: uuid.NewString() + "@quillhaven.example", Password: password,
				})
				require.NoError(b, err)
				_, err = s.app.Importing.Import(context.Background(), by, importing.InstrumentFile{Content: instruments(60)})
				require.NoError(b, err)
				_, err = s.app.Today.Today(context.Background(), by, 25, 1)
				require.NoError(b, err)
				directors = append(directors, by)
			}
			for q := 0; b.Loop(); q++ {
				_, err := s.app.Today.Header(context.Background(), directors[q%n])
				require.NoError(b, err)
			}
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
			require.NoError(
				b,
				s.app.Inventory.SaveShelf(
					ctx,
					director,
					instrumentrows.Shelf{
						ID:       uuid.New(),
						Room:     fmt.Sprintf("Room %d", room),
						Name:     fmt.Sprintf("S%d", shelf),
						Position: shelf,
						Slots:    50,
					},
				),
			)
		}
	}
	report, err := s.app.Importing.Import(ctx, director, importing.InstrumentFile{Content: instruments(5000)})
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
	var file, players strings.Builder
	file.WriteString("tag,kind,size,care_from\n")
	players.WriteString("external_id,given_name,instrument,arm_length_cm,height_cm\n")
	for n := range 600 {
		kind := []string{"violin", "viola", "cello", "flute", "clarinet-b-flat", "trumpet"}[n%6]
		size := map[string]string{"violin": []string{"1/2", "3/4", "4/4"}[n%3], "viola": "14", "cello": "4/4"}[kind]
		fmt.Fprintf(&file, "IN-%03d,%s,%s,2026-11-01\n", n, kind, size)
		fmt.Fprintf(&players, "p%d,Player %d,%s,%d,%d\n", n, n, kind, 50+n%15, 130+n%40)
	}
	report, err := s.app.Importing.Import(ctx, director, importing.InstrumentFile{Content: []byte(file.String())})
	require.NoError(b, err)
	require.Empty(b, report.Faults)
	brought, err := s.app.Roster.ImportRoster(ctx, director, roster.RosterFile{Content: []byte(players.String())})
	require.NoError(b, err)
	require.Equal(b, 600, brought.Added)
	wish := placing.Wish{Weights: assign.Weights{Size: 1, Grade: 1, Kept: 1, Rental: 1, Travel: 1, Kit: 1}}
	first, err := s.app.Placing.Propose(ctx, director, wish)
	require.NoError(b, err)
	for _, p := range first.Pairs[:100] {
		wish.Refusals = append(wish.Refusals, p.Pair)
	}
	for b.Loop() {
		got, err := s.app.Placing.Propose(ctx, director, wish)
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
	_, err := s.app.Importing.Import(ctx, director, importing.InstrumentFile{Content: instruments(600)})
	require.NoError(b, err)
	_, err = s.app.Importing.Import(ctx, director,
		importing.InstrumentFile{Content: []byte("tag,kind,size,care_from\nZZ-01,violin,4/4,2026-11-01\n")})
	require.NoError(b, err)
	_, err = s.app.Roster.ImportRoster(ctx, director, roster.RosterFile{Content: []byte("given_name,arm_length_cm\nOde,60\n")})
	require.NoError(b, err)
	s.signIn()
	list, err := s.app.Inventory.Instruments(ctx, director)
	require.NoError(b, err)
	free := slices.IndexFunc(list, func(i school.Listed) bool { return i.Tag == "ZZ-01" })
	players, err := s.app.Roster.Players(ctx, director)
	require.NoError(b, err)
	on := "/api/v1/instruments/" + list[free].ID.String()
	for b.Loop() {
		for _, call := range [][2]string{{"/api/v1/hand-overs", handing(players[0].ID, list[free].ID)}, {on + "/return", "{}"},
			{on + "/release", `{"how":"Wiped dry."}`}} {
			got := s.call("POST", call[0], call[1])
			require.Equal(b, http.StatusOK, got.status, got.body)
		}
	}
}

// BenchmarkSupplies works out stock, demand and order of a school of 600 instruments.
func BenchmarkSupplies(b *testing.B) {
	s := newSite(b, pgtest.Open(b))
	director := s.setUp()
	_, err := s.app.Importing.Import(context.Background(), director, importing.InstrumentFile{Content: instruments(600)})
	require.NoError(b, err)
	for b.Loop() {
		got, err := s.app.Supply.Supplies(context.Background(), director, 12, 0.9)
		require.NoError(b, err)
		require.NotEmpty(b, got.Lines)
	}
}

// BenchmarkSeason plans the year of a school of 600 instruments: afresh, after one change that keeps what was accepted, and asked again.
func BenchmarkSeason(b *testing.B) {
	s := newSite(b, pgtest.Open(b))
	director := s.setUp()
	ctx := context.Background()
	_, err := s.app.Importing.Import(ctx, director, importing.InstrumentFile{Content: instruments(600)})
	require.NoError(b, err)
	list, err := s.app.Inventory.Instruments(ctx, director)
	require.NoError(b, err)
	first, err := s.app.Season.Plan(ctx, director, season.Planning{})
	require.NoError(b, err)
	plan := season.Accepted{}
	for _, p := range first.Pieces {
		if p.Week != nil {
			plan.Pieces = append(plan.Pieces, seasonrows.SeasonPiece{
				Instrument: p.InstrumentID, Work: p.Work, Monday: first.Weeks[*p.Week].Monday,
			})
		}
	}
	require.NoError(b, s.app.Season.Accept(ctx, director, plan))
	for name, ask := range map[string]func(n int) season.Planning{
		"afresh": func(n int) season.Planning {
			settings := first.Settings
			settings.TermMinutes += n // so that no answer is known yet
			return season.Planning{Anew: true, Settings: &settings}
		},
		"after-a-move": func(n int) season.Planning {
			return season.Planning{Pins: []season.Pin{{ID: first.Pieces[n%len(first.Pieces)].ID, Week: first.Pieces[n%len(first.Pieces)].Due}}}
		},
		"after-a-move-at-once": func(n int) season.Planning {
			return season.Planning{AtOnce: true, Pins: []season.Pin{{ID: first.Pieces[n%len(first.Pieces)].ID, Week: first.Pieces[n%len(first.Pieces)].Due}}}
		},
		"in-another-process": func(int) season.Planning {
			s.app = app.New(s.app.Schools.DB, time.Now, slog.New(slog.DiscardHandler))
			return season.Planning{AtOnce: true}
		},
		"again": func(int) season.Planning { return season.Planning{} },
		"after-another-write": func(n int) season.Planning {
			move := inventory.Move{InstrumentID: list[n%len(list)].ID, Room: "Room", Slot: fmt.Sprint("A", n)}
			_, err := s.app.Inventory.Move(ctx, director, inventory.Moves{Moves: []inventory.Move{move}})
			require.NoError(b, err)
			return season.Planning{}
		},
	} {
		b.Run(name, func(b *testing.B) {
			b.ReportMetric(float64(len(first.Pieces)), "pieces")
			for n := 0; b.Loop(); n++ {
				_, _ = s.app.Season.Plan(ctx, director, ask(n)) // a move that cannot be is refused, which takes as long
			}
		})
	}
}
