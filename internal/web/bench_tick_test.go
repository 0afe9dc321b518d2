package web_test

import (
	"context"
	"fmt"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/inventory"
	"solfeggio/internal/store/schoolrows"
)

// BenchmarkTick ticks care off, and reads what was changed by it, in large schools.
func BenchmarkTick(b *testing.B) {
	for _, n := range []int{600, 5000, 20000} {
		b.Run(fmt.Sprint(n), func(b *testing.B) {
			s, director, list := large(b, n, 1)
			for q := 0; b.Loop(); q++ {
				s.tick(director, list[q%len(list)])
			}
		})
	}
}

// BenchmarkAfterTick asks, after each tick, for what a director may look at next: the medians of the first question for each.
func BenchmarkAfterTick(b *testing.B) {
	paths := []string{
		"/api/v1/header", "/api/v1/today?minutes=25&helpers=1", "/api/v1/due?most=200", "/api/v1/instruments", "/api/v1/room",
		"/api/v1/bench", "/api/v1/supplies",
	}
	for _, n := range []int{600, 5000, 20000} {
		b.Run(fmt.Sprint(n), func(b *testing.B) {
			s, director, list := large(b, n, 1)
			first := map[string]time.Duration{}
			for _, path := range paths {
				first[path], _ = s.timed(path, "")
			}
			took := map[string][]time.Duration{}
			for q := 0; b.Loop(); q++ {
				for _, path := range paths {
					s.tick(director, list[q*7%len(list)])
					t, _ := s.timed(path, "")
					took[path] = append(took[path], t)
				}
			}
			for _, path := range paths {
				name := regexp.MustCompile(`\w+$`).FindString(strings.Split(path, "?")[0])
				b.ReportMetric(share(took[path], 0.5), name+"-ms")
				b.ReportMetric(float64(first[path].Microseconds())/1000, name+"-first-ms")
			}
		})
	}
}

// BenchmarkMany changes 5,000 instruments at once, as far as one change may name, while somebody else ticks care off: how long that takes,
// and the longest that the other waits.
func BenchmarkMany(b *testing.B) {
	s, director, list := large(b, 5000, 1)
	ctx := context.Background()
	brass := uuid.New()
	require.NoError(b, s.app.Settings.SaveEnsemble(ctx, director, schoolrows.Ensemble{ID: brass, Name: "Brass", Rehearsals: []schoolrows.Rehearsal{}}))
	var all []uuid.UUID
	for _, i := range list {
		all = append(all, i.ID)
	}
	for name, change := range map[string]func(n int) inventory.ManyInstruments{
		"maker": func(n int) inventory.ManyInstruments {
			maker := fmt.Sprint("Corbeau ", n)
			return inventory.ManyInstruments{Maker: &maker}
		},
		"room": func(n int) inventory.ManyInstruments {
			room := fmt.Sprint("Hall ", n)
			return inventory.ManyInstruments{Room: &room}
		},
		"ensemble": func(n int) inventory.ManyInstruments {
			if n%2 == 1 {
				return inventory.ManyInstruments{Leave: []uuid.UUID{brass}}
			}
			return inventory.ManyInstruments{Join: []uuid.UUID{brass}}
		},
	} {
		b.Run(name, func(b *testing.B) {
			var longest time.Duration
			for n := 0; b.Loop(); n++ {
				done := make(chan struct{})
				var wait sync.WaitGroup
				wait.Go(func() {
					for q := 0; ; q++ {
						select {
						case <-done:
							return
						default:
							start := time.Now()
							s.tick(director, list[q%len(list)])
							longest = max(longest, time.Since(start))
						}
					}
				})
				in := change(n)
				in.Instruments = all
				_, err := s.app.Inventory.ChangeMany(ctx, director, in)
				require.NoError(b, err)
				close(done)
				wait.Wait()
			}
			b.ReportMetric(float64(longest.Milliseconds()), "longest-other-ms")
		})
	}
}
