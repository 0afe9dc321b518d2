package web_test

import (
	"bufio"
	"bytes"
	"context"
	"fmt"
	"io"
	"mime/multipart"
	"net"
	"net/http"
	"net/http/httptest"
	"net/url"
	"regexp"
	"runtime"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/pgtest"
	"solfeggio/internal/web"
)

// at fills the places of a route's path with what leads nowhere.
func at(r gin.RouteInfo) string {
	return regexp.MustCompile(`[:*][a-z_]+`).ReplaceAllStringFunc(r.Path, func(name string) string {
		if strings.Contains(name, "name") {
			return "care.due"
		}
		return uuid.NewString()
	})
}

// endless is so many bytes, with how many of them were taken.
type endless struct {
	left, taken int64
	mu          sync.Mutex
}

func (e *endless) Read(p []byte) (int, error) {
	e.mu.Lock()
	defer e.mu.Unlock()
	if e.left == 0 {
		return 0, io.EOF
	}
	n := min(int64(len(p)), e.left)
	e.left, e.taken = e.left-n, e.taken+n
	return int(n), nil
}

// memory is what the process holds after cleaning up.
func memory() float64 {
	runtime.GC()
	var m runtime.MemStats
	runtime.ReadMemStats(&m)
	return float64(m.HeapAlloc) / (1 << 20)
}

// Whatever route a stranger sends 20 MB to, said or unsaid how long it is, nothing of it is kept, and nothing but a small refusal comes back.
// Routes are those that the router has.
func TestNoRouteReadsWhatStrangersSend(t *testing.T) {
	s := newSite(t, pgtest.Open(t))
	s.setUp()
	routes := web.Routes()
	require.Greater(t, len(routes), 150)
	before, most := memory(), 0.
	client := &http.Client{Transport: &http.Transport{DisableKeepAlives: true}}
	for n, r := range append(routes, gin.RouteInfo{Method: "POST", Path: "/nowhere"}, gin.RouteInfo{Method: "PUT", Path: "/"}) {
		for _, said := range []bool{true, false} {
			body := &endless{left: 20 << 20}
			request, err := http.NewRequestWithContext(context.Background(), r.Method, s.url+at(r), body)
			require.NoError(t, err)
			request.Header.Set("Content-Type", "multipart/form-data; boundary=x")
			if said {
				request.ContentLength = 20 << 20
			} else {
				request.ContentLength = -1
			}
			answer, err := client.Do(request)
			if err == nil {
				_, _ = io.Copy(io.Discard, answer.Body) // however it ends
				_ = answer.Body.Close()
				assert.Less(t, answer.StatusCode, 500, "%s %s", r.Method, r.Path)
			} // else the line was closed on it, which is right
			body.mu.Lock()
			assert.Less(t, body.taken, int64(16<<20), "%s %s took nearly all of it", r.Method, r.Path)
			body.mu.Unlock()
		}
		if n%40 == 0 {
			most = max(most, memory()-before)
		}
	}
	assert.Less(t, max(most, memory()-before), 250., "MB")
}

// A hundred lines that drip into every route that takes something keep nobody waiting: those who are signed in read Today, and a stranger
// signs in.
func TestWhoDripsKeepsNobodyWaiting(t *testing.T) {
	s := newSite(t, pgtest.Open(t))
	s.setUp()
	require.Less(t, s.call("POST", "/api/v1/session", `{"email":"`+email+`","password":"`+password+`"}`).status, 300)
	where, err := url.Parse(s.url)
	require.NoError(t, err)
	before := memory()
	var dripping []net.Conn
	t.Cleanup(func() {
		for _, line := range dripping {
			_ = line.Close()
		}
	})
	var open []gin.RouteInfo
	for _, r := range web.Routes() {
		if r.Method == http.MethodPost {
			open = append(open, r)
		}
	}
	for n := range 100 {
		line, err := (&net.Dialer{}).DialContext(context.Background(), "tcp", where.Host)
		require.NoError(t, err)
		dripping = append(dripping, line)
		r := open[n%len(open)]
		if n%2 == 0 {
			r = gin.RouteInfo{Path: "/api/v1/session"}
		}
		_, err = fmt.Fprintf(line, "POST %s HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: 2000\r\n\r\n{", at(r))
		require.NoError(t, err)
	}
	assert.Equal(t, http.StatusOK, s.call("GET", "/api/v1/today?minutes=25&helpers=0", "").status)
	fresh := *s
	fresh.client = &http.Client{Jar: newJar(t)}
	assert.Less(t, fresh.call("POST", "/api/v1/session", `{"email":"`+email+`","password":"`+password+`"}`).status, 300)
	assert.Less(t, memory()-before, 250., "MB")
}

// A form of several parts is read only for a card that there is.
func TestAFormForNoCardIsNotRead(t *testing.T) {
	s := newSite(t, pgtest.Open(t))
	s.setUp()
	var form bytes.Buffer
	w := multipart.NewWriter(&form)
	part, err := w.CreateFormField("question")
	require.NoError(t, err)
	_, err = part.Write(bytes.Repeat([]byte("a"), 8<<20))
	require.NoError(t, err)
	require.NoError(t, w.Close())
	for _, path := range []string{"/c/nowhere/practise", "/c/nowhere/ready", "/c/nowhere/report"} {
		request, err := http.NewRequestWithContext(context.Background(), http.MethodPost, s.url+path, bytes.NewReader(form.Bytes()))
		require.NoError(t, err)
		request.Header.Set("Content-Type", w.FormDataContentType())
		answer, err := s.client.Do(request)
		require.NoError(t, err)
		_ = answer.Body.Close()
		assert.Contains(t, []int{http.StatusNotFound, http.StatusRequestEntityTooLarge}, answer.StatusCode, path)
	}
}

// What is too long is told with what is taken there, whether its length was said before or came to light while it was read.
func TestATooLongBodyIsToldAsThat(t *testing.T) {
	s := newSite(t, pgtest.Open(t))
	s.setUp()
	s.signIn()
	for _, long := range []struct {
		path, kind string
		bytes      int
		takes      string
	}{
		{"/api/v1/shop/jobs", "application/json", 1<<20 + 1, "1 MB are taken here"},
		{"/api/v1/instruments/" + uuid.NewString() + "/photos?photo=" + uuid.NewString(), "application/octet-stream", 12<<20 + 2000, "12 MB are taken here"},
	} {
		for _, said := range []bool{true, false} {
			var body io.Reader = strings.NewReader(strings.Repeat(" ", long.bytes))
			if !said {
				body = struct{ io.Reader }{body}
			}
			request, err := http.NewRequestWithContext(context.Background(), http.MethodPost, s.url+long.path, body)
			require.NoError(t, err)
			request.Header.Set("Content-Type", long.kind)
			got, err := s.client.Do(request)
			require.NoError(t, err)
			text, err := io.ReadAll(got.Body)
			require.NoError(t, err)
			require.NoError(t, got.Body.Close())
			assert.Equal(t, http.StatusRequestEntityTooLarge, got.StatusCode)
			assert.Contains(t, string(text), long.takes, "%s, length said: %t", long.path, said)
		}
	}
}

// However an address with somebody's key is asked for, the log and the counters hold its shape only.
func TestNoKeyIsLogged(t *testing.T) {
	s := newSite(t, pgtest.Open(t))
	s.setUp()
	const secret = "kq3wz8xr5ty7vb2n"
	where, err := url.Parse(s.url)
	require.NoError(t, err)
	asked := 0
	for _, r := range web.Routes() {
		if !strings.Contains(r.Path, ":secret") {
			continue
		}
		path := strings.ReplaceAll(r.Path, ":secret", secret)
		for _, form := range []string{
			path, "/" + path, path + "/", strings.ToUpper(path[:3]) + path[3:], "/./" + path, path + "/x/y", strings.Replace(path, "/", "/%2e/", 1), "/x" + path,
			"/" + secret, path + "?a=" + secret,
		} {
			for _, method := range []string{"GET", "HEAD", "POST", "PUT", "DELETE", "PATCH", "OPTIONS", "PROPFIND", "TRACE", "LOCK"} {
				line, err := (&net.Dialer{}).DialContext(context.Background(), "tcp", where.Host)
				require.NoError(t, err)
				_, err = fmt.Fprintf(line, "%s %s HTTP/1.1\r\nHost: x\r\nConnection: close\r\nContent-Length: 0\r\n\r\n", method, form)
				require.NoError(t, err)
				require.NoError(t, line.SetReadDeadline(time.Now().Add(time.Minute)))
				_, err = bufio.NewReader(line).ReadString('\n')
				require.NoError(t, err, "%s %s", method, form)
				require.NoError(t, line.Close())
				asked++
			}
		}
	}
	assert.Greater(t, asked, 300)
	assert.NotContains(t, s.log.String(), secret)
	counted := httptest.NewRecorder()
	web.Metrics().ServeHTTP(counted, httptest.NewRequestWithContext(context.Background(), http.MethodGet, "/metrics", nil))
	assert.NotContains(t, counted.Body.String(), secret)
	assert.Equal(t, "/c/…", web.ShapeOf("//c/"+secret))
}
