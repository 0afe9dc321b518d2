package web

import (
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"path"
	"runtime/debug"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/promauto"
)

var durations = promauto.NewHistogramVec(prometheus.HistogramOpts{
	Name: "solfeggio_http_request_seconds", Help: "Time to answer a request.",
	Buckets: []float64{.005, .01, .025, .05, .1, .25, .5, 1, 5},
}, []string{"method", "route", "status"})

// observe writes one line a request, with an id that the answer carries too, and counts it.
func (s *server) observe(c *gin.Context) {
	id := uuid.NewString()
	c.Header("X-Request-Id", id)
	start := time.Now()
	c.Next()
	took := time.Since(start)
	at := c.FullPath()
	if at == "" {
		at = shapeOf(c.Request.URL.Path)
	}
	level := slog.LevelInfo
	if c.Writer.Status() >= http.StatusInternalServerError {
		level = slog.LevelError
	}
	s.log.Log(
		c,
		level,
		"request",
		"id",
		id,
		"method",
		c.Request.Method,
		"path",
		at,
		"status",
		c.Writer.Status(),
		"ms",
		took.Milliseconds(),
	)
	durations.WithLabelValues(methodLabel(c.Request.Method), c.FullPath(), strconv.Itoa(c.Writer.Status())).Observe(took.Seconds())
}

// shapeOf is what the log says of an address that no route knows: its beginning, where the program has addresses that begin so. What stands
// behind may be somebody's key, mistyped or asked for in another way.
func shapeOf(address string) string {
	first, rest, deeper := strings.Cut(strings.TrimPrefix(path.Clean("/"+address), "/"), "/")
	if !slices.Contains([]string{"", "api", "assets", "c", "calendar", "index.html", "favicon.ico"}, first) {
		first = "…"
	}
	if deeper && rest != "" {
		return "/" + first + "/…"
	}
	return "/" + first
}

// methodLabel is a method that is counted by its name; all that somebody invents count together.
func methodLabel(method string) string {
	switch method {
	case http.MethodGet, http.MethodHead, http.MethodPost, http.MethodPut, http.MethodDelete, http.MethodPatch, http.MethodOptions:
		return method
	}
	return "other"
}

// recovery turns a panic into an answer and a log line.
func (s *server) recovery() gin.HandlerFunc {
	return gin.CustomRecoveryWithWriter(io.Discard, func(c *gin.Context, fault any) {
		s.log.Error("panic", "error", fmt.Sprint(fault), "stack", string(debug.Stack()))
		if !c.Writer.Written() {
			writeProblem(c.Writer, http.StatusInternalServerError, unexpected)
		}
		c.Abort()
	})
}
