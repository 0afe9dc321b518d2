package web

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"
	"golang.org/x/sync/semaphore"
)

// What may be in memory of what is being sent, so that nobody outside fills it. A body counts as it is read, so that a thousand lines that
// drip hold no more than what has dripped.
const (
	maxInFlight  = 64 << 20 // of all bodies together
	maxStrangers = 24 << 20 // of those of whoever is not signed in, so that these keep nobody else waiting
	maxOfCaller  = 32 << 20 // and of those from one address
	usualBody    = 1 << 20  // what a route takes that says nothing else
	smallBody    = 4 << 10  // a few words of a form
	piece        = 64 << 10 // what is counted at once
	bodyPatience = 20 * time.Second

	// MaxHeaderBytes is what the lines before a body may take.
	MaxHeaderBytes = 32 << 10

	openAtOnce   = 4                // requests of strangers that are answered at once, so that others are served meanwhile
	openPatience = 10 * time.Second // that a stranger waits for a turn
)

// The gate stands in front of every route, before anything is read.
type gate struct {
	takes     map[string]int64 // how many bytes of a body, by method and path as the router writes them
	inFlight  *semaphore.Weighted
	strangers *semaphore.Weighted
	open      *semaphore.Weighted

	mu      sync.Mutex
	callers map[string]*caller
}

// A caller is an address from which bodies are being sent.
type caller struct {
	inFlight *semaphore.Weighted
	requests int
}

func newGate() *gate {
	return &gate{
		takes:     map[string]int64{},
		inFlight:  semaphore.NewWeighted(maxInFlight),
		strangers: semaphore.NewWeighted(maxStrangers),
		open:      semaphore.NewWeighted(openAtOnce),
		callers:   map[string]*caller{},
	}
}

// learn takes over how much each operation of the API says that it reads. What no route says, it does not read.
func (g *gate) learn(api *huma.OpenAPI) {
	for path, item := range api.Paths {
		path = strings.NewReplacer("{", ":", "}", "").Replace(path)
		for method, op := range map[string]*huma.Operation{
			http.MethodPost: item.Post, http.MethodPut: item.Put, http.MethodPatch: item.Patch, http.MethodDelete: item.Delete,
		} {
			if op != nil && op.RequestBody != nil {
				takes := int64(usualBody)
				if op.MaxBodyBytes > 0 {
					takes = op.MaxBodyBytes
				}
				g.takes[method+" "+path] = takes
			}
		}
	}
}

// errBusy says that a body was not read because of the others.
var errBusy = errors.New("too much is being sent at once")

// pass lets a request through with a body that is bounded and counted.
func (s *server) pass(c *gin.Context) {
	g, r := s.gate, c.Request
	most := g.takes[r.Method+" "+c.FullPath()]
	switch {
	case most == 0:
		r.Body = http.NoBody // nobody reads it; the line is closed behind a long one
		c.Next()
	case r.ContentLength > most:
		c.Header("Connection", "close")
		writeProblem(c.Writer, http.StatusRequestEntityTooLarge, tooLarge(most))
		c.Abort()
	case r.ContentLength == 0:
		c.Next()
	default:
		from := c.ClientIP()
		who := g.enter(from)
		of := []*semaphore.Weighted{who.inFlight, g.inFlight}
		if _, stranger := s.signedIn(r.Context()); stranger != nil {
			of = []*semaphore.Weighted{who.inFlight, g.strangers}
		}
		body := &counted{Reader: http.MaxBytesReader(c.Writer, r.Body, most), ctx: r.Context(), of: of}
		r.Body = body
		defer func() {
			body.release()
			g.leave(from)
		}()
		c.Next()
	}
}

// tooLarge says that a body is longer than what is taken; 0 where nobody knows how much that is.
func tooLarge(most int64) string {
	if most == 0 {
		return "This is too large."
	}
	return "This is too large: " + sizeOf(most) + " are taken here."
}

// sizeOf writes a number of bytes for people.
func sizeOf(bytes int64) string {
	if bytes >= 1<<20 {
		return fmt.Sprintf("%d MB", bytes>>20)
	}
	return fmt.Sprintf("%d kB", bytes>>10)
}

func (g *gate) enter(from string) *caller {
	g.mu.Lock()
	defer g.mu.Unlock()
	who := g.callers[from]
	if who == nil {
		who = &caller{inFlight: semaphore.NewWeighted(maxOfCaller)}
		g.callers[from] = who
	}
	who.requests++
	return who
}

func (g *gate) leave(from string) {
	g.mu.Lock()
	defer g.mu.Unlock()
	if who := g.callers[from]; who != nil {
		if who.requests--; who.requests == 0 {
			delete(g.callers, from)
		}
	}
}

// strangers lets those who are not signed in through a few at a time: what is open to everybody is answered after what people work with.
// Files of the front end wait for nobody.
func (s *server) strangers(c *gin.Context) {
	path := c.FullPath()
	if path == "" || !isAPI(path) && !strings.Contains(path, ":secret") {
		return
	}
	if _, stranger := s.signedIn(c.Request.Context()); stranger == nil {
		return
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), openPatience)
	defer cancel()
	if err := s.gate.open.Acquire(ctx, 1); err != nil {
		c.Header("Retry-After", "5")
		writeProblem(c.Writer, http.StatusServiceUnavailable, busy.Detail)
		c.Abort()
		return
	}
	t := &turn{of: s.gate.open, held: true}
	defer t.rest()
	if body, ok := c.Request.Body.(*counted); ok {
		body.turn = t
	}
	c.Next()
}

// A turn is a stranger's among others. It is given up while nothing comes over the line, so that who drips keeps nobody waiting.
type turn struct {
	of   *semaphore.Weighted
	held bool
}

func (t *turn) rest() {
	if t.held {
		t.of.Release(1)
		t.held = false
	}
}

func (t *turn) again(ctx context.Context) error {
	waiting, cancel := context.WithTimeout(ctx, openPatience)
	defer cancel()
	if err := t.of.Acquire(waiting, 1); err != nil {
		return cmp.Or(ctx.Err(), errBusy)
	}
	t.held = true
	return nil
}

// counted is a body that is held against what all together may have in memory, until its request is over.
type counted struct {
	io.Reader
	ctx  context.Context
	of   []*semaphore.Weighted
	held int64
	read int64
	turn *turn // of a stranger, nil for whoever is signed in
}

// Read reads on once there is room for more.
func (b *counted) Read(p []byte) (int, error) {
	if len(p) == 0 {
		return 0, nil
	}
	if b.read == b.held {
		if err := b.hold(piece); err != nil {
			return 0, err
		}
	}
	if b.turn != nil {
		b.turn.rest()
	}
	n, err := b.Reader.Read(p[:min(int64(len(p)), b.held-b.read)])
	b.read += int64(n)
	if b.turn != nil {
		if waited := b.turn.again(b.ctx); waited != nil {
			return n, waited
		}
	}
	return n, err
}

func (b *counted) hold(n int64) error {
	ctx, cancel := context.WithTimeout(b.ctx, bodyPatience)
	defer cancel()
	for i, of := range b.of {
		if err := of.Acquire(ctx, n); err != nil {
			for _, before := range b.of[:i] {
				before.Release(n)
			}
			return cmp.Or(b.ctx.Err(), errBusy)
		}
	}
	b.held += n
	return nil
}

// Close leaves the rest unread.
func (b *counted) Close() error { return nil }

func (b *counted) release() {
	for _, of := range b.of {
		of.Release(b.held)
	}
	b.held, b.read = 0, 0
}
