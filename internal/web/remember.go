package web

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"solfeggio/internal/app/journal"
)

// Answers are remembered as they go over the line, compressed as their reader takes them, for as long as nothing was written to the
// school. A question that was asked before costs finding out who asks, and no more; whoever has the answer already is told so.
const (
	answersBytes    = 48 << 20 // of all schools together
	mostAnswerBytes = 1 << 20
)

// What else than the school's own records an answer may depend on. Paths as gin writes them; what stands in neither list depends on
// nothing else.
var (
	byTheMinute = map[string]bool{"/api/v1/today": true, "/api/v1/pack-up/board": true} // rehearsals of today pass
	// Times run; keys are one's own; answers on cards count aside.
	notKept = map[string]bool{
		"/api/v1/bench": true, "/api/v1/bench/runs/:id": true, "/api/v1/pack-up": true, "/api/v1/keys": true,
		"/api/v1/sessions": true, "/api/v1/reach": true, "/api/v1/session/passkeys": true,
		"/api/v1/session/second-factor": true, "/api/v1/settings/people": true, "/api/v1/habits": true,
		"/api/v1/drill": true,
	}
)

// A remembered answer and the state of the school to which it belongs.
type remembered struct {
	stamp, etag string
	header      http.Header
	body        []byte
}

// bytes is about what it takes in memory, with its place among the others.
func (a remembered) bytes(key string) int64 {
	return int64(len(key)+len(a.stamp)+len(a.etag)+len(a.body)) + 1<<10
}

// remember answers from memory where it can, and keeps what it could not.
func (s *server) remember(c *gin.Context) {
	v := visitOf(c.Request.Context())
	path := c.FullPath()
	if c.Request.Method != http.MethodGet || !v.signedIn || v.lacks || !isAPI(path) || notKept[path] {
		c.Next()
		return
	}
	key := answerKey(c.Request, v.person)
	stamp, current := s.app.Schools.Stamp(v.person.School, v.revision, byTheMinute[path])
	if current {
		if known, ok := s.answers.Get(key); ok && known.stamp == stamp {
			known.send(c)
			return
		}
	}
	held := &recorder{ResponseWriter: c.Writer, status: http.StatusOK}
	func() {
		c.Writer = held
		defer func() { c.Writer = held.ResponseWriter }() // after a panic too, whose answer is not kept
		c.Next()
	}()
	if held.status == http.StatusOK && strings.HasPrefix(held.Header().Get("Content-Type"), "application/json") &&
		held.body.Len() <= mostAnswerBytes {
		// The school may have been read by the way; what was answered is as of that reading if nothing was written since.
		if stamp, current = s.app.Schools.Stamp(v.person.School, v.revision, byTheMinute[path]); current {
			// The tag is of what is said alone: what a write left as it was is not sent again.
			sum := sha256.Sum256(append([]byte(key), held.body.Bytes()...))
			answer := remembered{stamp, `"` + hex.EncodeToString(sum[:10]) + `"`, http.Header{}, bytes.Clone(held.body.Bytes())}
			for _, name := range []string{"Content-Type", "Content-Encoding"} {
				if value := held.Header().Get(name); value != "" {
					answer.header.Set(name, value)
				}
			}
			s.answers.Add(key, answer, answer.bytes(key))
			held.Header().Del("Content-Length")
			answer.send(c)
			return
		}
	}
	held.flush()
}

// answerKey tells answers apart: by school, by what the asker may see, by the question, and by how it may be compressed.
func answerKey(r *http.Request, by journal.Person) string {
	parts := []string{by.School.String(), string(by.Role), r.URL.RequestURI()}
	if strings.HasPrefix(r.URL.Path, "/api/v1/session") {
		parts = append(parts, by.ID.String())
	}
	if strings.Contains(r.Header.Get("Accept-Encoding"), "gzip") {
		parts = append(parts, "gzip")
	}
	return strings.Join(parts, "\n")
}

// send writes the answer, or says that the asker has it.
func (a remembered) send(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("ETag", a.etag)
	h.Set("Cache-Control", noStore)
	h.Add("Vary", "Accept-Encoding")
	if c.GetHeader("If-None-Match") == a.etag {
		h.Del("Content-Type")
		h.Del("Content-Encoding")
		c.Status(http.StatusNotModified)
		c.Writer.WriteHeaderNow()
		c.Abort()
		return
	}
	for name := range a.header {
		h.Set(name, a.header.Get(name))
	}
	h.Set("Content-Length", strconv.Itoa(len(a.body)))
	c.Status(http.StatusOK)
	_, _ = c.Writer.Write(a.body)
	c.Abort()
}

// A recorder holds an answer back until it is known whether it is kept.
type recorder struct {
	gin.ResponseWriter
	status int
	body   bytes.Buffer
}

// Write keeps what would be written.
func (r *recorder) Write(b []byte) (int, error) { return r.body.Write(b) }

// WriteString keeps what would be written.
func (r *recorder) WriteString(text string) (int, error) { return r.body.WriteString(text) }

// WriteHeader keeps the status.
func (r *recorder) WriteHeader(status int) { r.status = status }

// WriteHeaderNow waits.
func (r *recorder) WriteHeaderNow() {}

// Status is what was written.
func (r *recorder) Status() int { return r.status }

// Written reports whether there is an answer.
func (r *recorder) Written() bool { return r.body.Len() > 0 }

// Size is what was written so far.
func (r *recorder) Size() int { return r.body.Len() }

// Flush waits.
func (r *recorder) Flush() {}

// flush writes what was held back.
func (r *recorder) flush() {
	r.Header().Set("Content-Length", strconv.Itoa(r.body.Len()))
	r.ResponseWriter.WriteHeader(r.status)
	_, _ = r.ResponseWriter.Write(r.body.Bytes())
}
