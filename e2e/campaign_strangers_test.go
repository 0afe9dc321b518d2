package e2e

import (
	"context"
	"io"
	"net/http"
	"regexp"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/web"
)

// zeros are bytes without end.
type zeros struct{}

func (zeros) Read(p []byte) (int, error) { return len(p), nil }

// Whoever is not signed in sends what they like to every route that the router has, over a hundred connections at once: 20 MB, whose length
// is said or not. Memory stays within bounds, and whoever works is answered.
func TestCampaignOfStrangers(t *testing.T) {
	const connections, sent, bound = 100, 20 << 20, 250 << 20
	_, programs, d := served(t, 1)
	d.until(t, "POST", "/api/v1/instruments/file", "tag,kind,size,care_from\nVN-01,violin,4/4,2026-11-01\n")
	today := func() time.Duration {
		began := time.Now()
		status, answer := d.once("GET", "/api/v1/today", "", "")
		require.Equal(t, http.StatusOK, status, string(answer))
		return time.Since(began)
	}
	today()
	before := peakMemory(t, programs[0])

	place := regexp.MustCompile(`[:*][a-z_]+`)
	var routes [][2]string
	for _, r := range web.Routes() {
		routes = append(routes, [2]string{r.Method, place.ReplaceAllStringFunc(r.Path, func(string) string { return uuid.NewString() })})
	}
	require.Greater(t, len(routes), 150)
	client := &http.Client{Transport: &http.Transport{MaxIdleConnsPerHost: connections}}
	ctx, stop := context.WithTimeout(context.Background(), campaignTime(t, 5*time.Second))
	defer stop()
	var storm sync.WaitGroup
	var asked atomic.Int64
	for n := range connections {
		storm.Go(func() {
			for k := n; ctx.Err() == nil; k++ {
				r := routes[k%len(routes)]
				request, err := http.NewRequestWithContext(ctx, r[0], d.bases[0]+r[1], io.LimitReader(zeros{}, sent))
				if err != nil {
					continue
				}
				request.Header.Set("Content-Type", []string{"application/json", "multipart/form-data; boundary=x"}[k%2])
				if k%3 > 0 {
					request.ContentLength = sent
				}
				if answer, err := client.Do(request); err == nil {
					_, _ = io.Copy(io.Discard, answer.Body) // however it ends
					_ = answer.Body.Close()
				} // else the line was closed on it, which is right
				asked.Add(1)
			}
		})
	}
	slowest, times := time.Duration(0), 0
	for ctx.Err() == nil {
		slowest = max(slowest, today())
		times++
		time.Sleep(50 * time.Millisecond)
	}
	storm.Wait()
	grown := peakMemory(t, programs[0]) - before
	t.Logf("| every route, %d connections, 20 MB each, not signed in: %d asked | + %d MB | %.2f s, the slowest of %d |",
		connections, asked.Load(), grown>>20, slowest.Seconds(), times)
	assert.Less(t, grown, int64(bound))
}
