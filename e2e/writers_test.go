package e2e

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const (
	campaignEmail    = "ines@quillhaven.example"
	campaignPassword = "copper lantern waltz"
)

// A caller talks to processes of the program as the browser does: a write keeps its key until there is an answer.
type caller struct {
	client *http.Client
	mu     sync.Mutex
	bases  []string
}

func newCaller(t *testing.T, bases ...string) *caller {
	t.Helper()
	jar, err := cookiejar.New(nil) // one for all: a session is known to every process
	require.NoError(t, err)
	return &caller{client: &http.Client{Jar: jar, Timeout: 25 * time.Second}, bases: bases}
}

// base is any of the processes.
func (c *caller) base() string {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.bases[rand.IntN(len(c.bases))]
}

// once sends one request. Status 0 stands for no answer.
func (c *caller) once(method, path, body, key string) (status int, answer []byte) {
	base := c.base()
	request, err := http.NewRequest(method, base+path, strings.NewReader(body))
	if err != nil {
		return 0, nil
	}
	request.Header.Set("Content-Type", "application/json")
	request.Header.Set("Origin", base)
	request.Header.Set("Sec-Fetch-Site", "same-origin")
	if key != "" {
		request.Header.Set("Idempotency-Key", key)
	}
	response, err := c.client.Do(request)
	if err != nil {
		return 0, nil
	}
	defer response.Body.Close()
	answer, err = io.ReadAll(response.Body)
	if err != nil {
		return 0, nil
	}
	return response.StatusCode, answer
}

// passing says that the same request may succeed later: no answer, or that of a server which could not.
func passing(status int) bool {
	return status == 0 || status == http.StatusServiceUnavailable || status == http.StatusBadGateway || status == http.StatusGatewayTimeout ||
		status == http.StatusInsufficientStorage
}

// until sends a request again under its key until there is an answer.
func (c *caller) until(t *testing.T, method, path, body string) []byte {
	t.Helper()
	var answer []byte
	key := uuid.NewString()
	require.Eventually(t, func() bool {
		var status int
		status, answer = c.once(method, path, body, key)
		assert.True(t, status < 300 || passing(status), "%s %s: %d %s", method, path, status, answer)
		return status >= 200 && status < 300
	}, time.Minute, 20*time.Millisecond, "%s %s is not answered", method, path)
	return answer
}

// A desk is a school in a database with an order of very much rosin, of which any number of people put packs into stock at once: a write
// that counts double if it is done twice.
type desk struct {
	*caller
	order      string
	attempts   atomic.Int64
	answered   atomic.Int64
	refused    atomic.Int64 // answers that were neither yes nor "later"
	longest    atomic.Int64 // from the first try of a write to its answer, in nanoseconds
	lastRefuse atomic.Value
	lastLater  atomic.Value // the last answer that meant "later"
}

// toldOfNoRoom reports whether somebody was told last that the database is full.
func (d *desk) toldOfNoRoom() bool {
	said, _ := d.lastLater.Load().(string)
	return strings.Contains(said, "The database has no room left")
}

// newDesk sets the school up by the program's own command line and its API.
func newDesk(t *testing.T, p *program, bases ...string) *desk {
	t.Helper()
	p.tool(campaignPassword+"\n", "school", "--name", "Quillhaven", "--director", "Ines Corvane", "--email", campaignEmail)
	d := &desk{caller: newCaller(t, bases...), order: uuid.NewString()}
	d.until(t, "POST", "/api/v1/session", fmt.Sprintf(`{"email":%q,"password":%q}`, campaignEmail, campaignPassword))
	order := `{"id":%q,"supplier":"Fenwater","lines":[{"supply":"rosin","size":"","packs":100000}]}`
	d.until(t, "POST", "/api/v1/supply-orders", fmt.Sprintf(order, d.order))
	return d
}

// work lets so many people put pack after pack into stock until ctx ends, and each finishes what was begun.
func (d *desk) work(ctx context.Context, people int) (finished func()) {
	var all sync.WaitGroup
	for range people {
		all.Go(func() {
			for ctx.Err() == nil {
				d.putOne()
			}
		})
	}
	return all.Wait
}

// mostPatience is how long somebody tries the same write again; beyond it the campaign is lost.
const mostPatience = 3 * time.Minute

// receive puts one pack into stock.
func (d *desk) receive(key string) (status int, answer []byte) {
	return d.once("POST", "/api/v1/supply-orders/"+d.order+"/receive", `{"lines":[{"supply":"rosin","size":"","packs":1}],"close":false}`, key)
}

func (d *desk) putOne() {
	key, began := uuid.NewString(), time.Now()
	for time.Since(began) < mostPatience {
		d.attempts.Add(1)
		status, answer := d.receive(key)
		switch {
		case status >= 200 && status < 300:
			d.answered.Add(1)
			for took, was := int64(time.Since(began)), d.longest.Load(); took > was && !d.longest.CompareAndSwap(was, took); was = d.longest.Load() {
			}
			return
		case !passing(status):
			d.refused.Add(1)
			d.lastRefuse.Store(fmt.Sprintf("%d %s", status, bytes.TrimSpace(answer)))
			return
		}
		d.lastLater.Store(string(answer))
		time.Sleep(20 * time.Millisecond)
	}
	d.refused.Add(1)
	d.lastRefuse.Store("no answer within " + mostPatience.String())
}

// counted compares what was answered with what stands in the database: packs received, what lies in stock, and the log, which must agree.
func (d *desk) counted(t *testing.T, c *cluster, database string) (lost, doubled int64) {
	t.Helper()
	require.Zero(t, d.refused.Load(), "%v", d.lastRefuse.Load())
	var packs, lots, told int64
	c.one(database, `SELECT received_packs FROM supply_order_line WHERE order_id = '`+d.order+`'`, &packs)
	c.one(database, `SELECT count(*) FROM supply_lot WHERE supply = 'rosin'`, &lots)
	c.one(database, `SELECT count(*) FROM event WHERE what = 'supplies-received'`, &told)
	require.Equal(t, packs, lots, "of a write only a half was kept")
	require.Equal(t, packs, told, "of a write only a half was kept")
	return max(0, d.answered.Load()-packs), max(0, packs-d.answered.Load())
}

// wins counts how many of several people who hand out the same instrument at once succeed.
func (d *desk) wins(t *testing.T, instrument string, players []string) int {
	t.Helper()
	var won atomic.Int64
	var all sync.WaitGroup
	for _, p := range players {
		all.Go(func() {
			pair := fmt.Sprintf(`{"pairs":[{"player_id":%q,"instrument_id":%q}]}`, p, instrument)
			status, _ := d.once("POST", "/api/v1/hand-outs", pair, uuid.NewString())
			if status >= 200 && status < 300 {
				won.Add(1)
			}
		})
	}
	all.Wait()
	return int(won.Load())
}

// list asks for a list of things with ids.
func (d *desk) list(t *testing.T, path string) (ids []string) {
	t.Helper()
	var things []struct{ ID string }
	require.NoError(t, json.Unmarshal(d.until(t, "GET", path, ""), &things))
	for _, thing := range things {
		ids = append(ids, thing.ID)
	}
	return ids
}
