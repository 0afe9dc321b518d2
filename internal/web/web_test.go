package web_test

import (
	"bytes"
	"compress/gzip"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app"
	"solfeggio/internal/app/access"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/pgtest"
	"solfeggio/internal/store"
	"solfeggio/internal/web"
)

const (
	email    = "ines@quillhaven.example"
	password = "copper lantern waltz"
)

var frontend = fstest.MapFS{"index.html": {Data: []byte("<title>Solfeggio</title>")}, "assets/app-1.js": {Data: []byte("1")},
	"assets/app-1.js.br": {Data: []byte("packed")}, "assets/app-1.js.gz": {Data: zipped("1")}}

// zipped packs a text as the build does.
func zipped(text string) []byte {
	var out bytes.Buffer
	w := gzip.NewWriter(&out)
	_, _ = w.Write([]byte(text)) // into memory, as is closing
	_ = w.Close()
	return out.Bytes()
}

// site is a server with one school, and a browser without a screen.
type site struct {
	t      testing.TB
	url    string
	app    *app.App
	client *http.Client
	log    *bytes.Buffer
	now    time.Time // what its clock says
}

func newSite(t testing.TB, db *store.DB) *site {
	t.Helper()
	log := &bytes.Buffer{}
	logger := slog.New(slog.NewTextHandler(log, nil))
	s := &site{t: t, log: log, now: time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)}
	s.app = app.New(db, func() time.Time { return s.now }, logger)
	s.app.Access.Cost = pgtest.QuickPasswords
	handler, stop := web.New(s.app, frontend, logger, web.Options{})
	server := httptest.NewServer(handler)
	t.Cleanup(func() { server.Close(); stop() })
	s.url, s.client = server.URL, &http.Client{Jar: newJar(t)}
	return s
}

func newJar(t testing.TB) http.CookieJar {
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	return jar
}

func (s *site) setUp() journal.Person {
	s.t.Helper()
	p, err := s.app.Access.SetUpSchool(context.Background(), access.NewSchool{
		School: pgtest.School(),
		Name:   "Ines Corvane", Email: email, Password: password,
	})
	require.NoError(s.t, err)
	return p
}

type answer struct {
	status  int
	headers http.Header
	body    string
}

func (a answer) problem(t testing.TB) (detail string, places map[string]string) {
	t.Helper()
	require.Equal(t, "application/problem+json", a.headers.Get("Content-Type"), a.body)
	var p struct {
		Status int
		Detail string
		Errors []struct{ Location, Message string }
	}
	require.NoError(t, json.Unmarshal([]byte(a.body), &p))
	assert.Equal(t, a.status, p.Status)
	places = map[string]string{}
	for _, e := range p.Errors {
		places[e.Location] = e.Message
	}
	return p.Detail, places
}

func (s *site) call(method, path, body string, headers ...string) answer {
	s.t.Helper()
	request, err := http.NewRequest(method, s.url+path, strings.NewReader(body))
	require.NoError(s.t, err)
	if body != "" {
		request.Header.Set("Content-Type", "application/json")
	}
	for n := 0; n < len(headers); n += 2 {
		request.Header.Set(headers[n], headers[n+1])
	}
	response, err := s.client.Do(request)
	require.NoError(s.t, err)
	defer response.Body.Close()
	text, err := io.ReadAll(response.Body)
	require.NoError(s.t, err)
	return answer{response.StatusCode, response.Header, string(text)}
}

func (s *site) signIn() {
	s.t.Helper()
	got := s.call("POST", "/api/v1/session", fmt.Sprintf(`{"email":%q,"password":%q}`, email, password))
	require.Equal(s.t, http.StatusOK, got.status, got.body)
}

func TestSession(t *testing.T) {
	s := newSite(t, pgtest.Open(t))
	s.setUp()
	detail, _ := s.call("GET", "/api/v1/today", "").problem(t)
	assert.Equal(t, "Please sign in.", detail)

	wrong := s.call("POST", "/api/v1/session", `{"email":"ines@quillhaven.example","password":"wrong-secret"}`)
	assert.Equal(t, http.StatusUnauthorized, wrong.status)
	assert.NotContains(t, wrong.body+s.log.String(), "wrong-secret")
	missing := s.call("POST", "/api/v1/session", `{"email":"ines@quillhaven.example","password":""}`)
	_, places := missing.problem(t)
	assert.Contains(t, places, "body.password")

	s.signIn()
	me := s.call("GET", "/api/v1/session", "")
	assert.JSONEq(t, `["finish care","inspect","clear stops","change instruments","change settings"]`, string(field(t, me.body, "rights")))
	cookies := s.call("POST", "/api/v1/session", fmt.Sprintf(`{"email":%q,"password":%q}`, email, password)).headers["Set-Cookie"]
	require.Len(t, cookies, 2, "the device and the session")
	assert.Contains(t, cookies[0], "solfeggio-device=")
	for _, cookie := range cookies {
		assert.Contains(t, cookie, "HttpOnly")
		assert.Regexp(t, "SameSite=(Lax|Strict)", cookie)
	}

	assert.Equal(t, http.StatusNoContent, s.call("DELETE", "/api/v1/session", "").status)
	assert.Equal(t, http.StatusUnauthorized, s.call("GET", "/api/v1/session", "").status)
}

func field(t testing.TB, body, name string) json.RawMessage {
	t.Helper()
	var all map[string]json.RawMessage
	require.NoError(t, json.Unmarshal([]byte(body), &all), body)
	return all[name]
}

func TestAnotherSiteCannotWrite(t *testing.T) {
	s := newSite(t, pgtest.Open(t))
	s.setUp()
	s.signIn()
	body := fmt.Sprintf(`{"id":%q,"name":"Fog","starts_on":"2026-12-01","ends_on":"2026-12-01","version":0}`, uuid.New())
	path := "/api/v1/settings/breaks/" + uuid.NewString()
	detail, _ := s.call("PUT", path, body, "Origin", "https://elsewhere.example", "Sec-Fetch-Site", "cross-site").problem(t)
	assert.Contains(t, detail, "another site")
	assert.Equal(t, http.StatusNoContent, s.call("PUT", path, body, "Sec-Fetch-Site", "same-origin").status)
}

func TestHeadersFilesAndUnknownAddresses(t *testing.T) {
	s := newSite(t, pgtest.Open(t))
	page := s.call("GET", "/room", "")
	assert.Equal(t, http.StatusOK, page.status)
	assert.Contains(t, page.body, "<title>Solfeggio")
	policy := page.headers.Get("Content-Security-Policy")
	assert.Contains(t, policy, "default-src 'none'")
	assert.NotContains(t, policy, "unsafe")
	assert.NotContains(t, policy, "http")
	assert.Equal(t, "DENY", page.headers.Get("X-Frame-Options"))
	assert.Contains(t, s.call("GET", "/assets/app-1.js", "").headers.Get("Cache-Control"), "immutable")
	for takes, body := range map[string]string{"gzip, deflate, br": "packed", "gzip, deflate": string(zipped("1")), "identity": "1"} {
		got := s.call("GET", "/assets/app-1.js", "", "Accept-Encoding", takes)
		assert.Equal(t, body, got.body)
		assert.Contains(t, got.headers.Get("Content-Type"), "javascript")
		assert.Equal(t, "Accept-Encoding", got.headers.Get("Vary"))
		assert.Equal(t, map[string]string{"packed": "br", string(zipped("1")): "gzip"}[body], got.headers.Get("Content-Encoding"))
	}
	assert.Equal(t, http.StatusNotFound, s.call("GET", "/assets/app-0.js", "").status, "a file that is gone is no page")
	assert.Equal(t, http.StatusOK, s.call("GET", "/room/add", "").status, "a page that the front end knows")

	for _, tt := range []struct {
		method, path string
		status       int
	}{{"GET", "/api/v1/nothing", 404}, {"PATCH", "/api/v1/today", 405}, {"POST", "/room", 404}} {
		got := s.call(tt.method, tt.path, "")
		assert.Equal(t, tt.status, got.status, tt.path)
		got.problem(t)
	}
	assert.Equal(t, "ok\n", s.call("GET", "/healthz", "").body)
	assert.Equal(t, "ready\n", s.call("GET", "/readyz", "").body)
	assert.NotContains(t, s.call("GET", "/metrics", "").body, "solfeggio_http_request_seconds", "what is counted is nobody's business here")
	assert.Equal(t, http.StatusMethodNotAllowed, s.call("BREW", "/api/v1/today", "").status)
	counted := httptest.NewRecorder()
	web.Metrics().ServeHTTP(counted, httptest.NewRequest("GET", "/", nil))
	assert.Contains(t, counted.Body.String(), `solfeggio_http_request_seconds_count{method="other"`)
	assert.NotContains(t, counted.Body.String(), "BREW", "invented methods are not counted one by one")
}

func TestALostReplyIsAnsweredAgain(t *testing.T) {
	s := newSite(t, pgtest.Open(t))
	director := s.setUp()
	s.signIn()
	imported := s.call("POST", "/api/v1/instruments/file", "tag,kind,care_from\nTR-01,trumpet,2026-01-01\n", "Content-Type",
		"application/octet-stream")
	require.Equal(t, http.StatusOK, imported.status, imported.body)
	list, err := s.app.Inventory.Instruments(context.Background(), director)
	require.NoError(t, err)
	body := fmt.Sprintf(`{"tasks":[{"instrument_id":%q,"routine":"valve-brass-bath","part":""}]}`, list[0].ID)
	key := uuid.NewString()
	first := s.call("POST", "/api/v1/care", body, "Idempotency-Key", key)
	again := s.call("POST", "/api/v1/care", body, "Idempotency-Key", key)
	require.Equal(t, http.StatusOK, first.status, first.body)
	assert.JSONEq(t, first.body, again.body)
	other := s.call("POST", "/api/v1/care", strings.Replace(body, "valve-brass-bath", "technician-check", 1), "Idempotency-Key", key)
	assert.Equal(t, http.StatusConflict, other.status)
	_, places := s.call("POST", "/api/v1/care", body, "Idempotency-Key", "not-an-id").problem(t)
	assert.Contains(t, places, "header.Idempotency-Key")
}

func TestBadInputNamesItsPlace(t *testing.T) {
	s := newSite(t, pgtest.Open(t))
	s.setUp()
	s.signIn()
	tests := []struct{ method, path, body, place string }{
		{"GET", "/api/v1/today?minutes=-1", "", "query.minutes"},
		{"GET", "/api/v1/instruments/nonsense", "", "path.id"},
		{"POST", "/api/v1/care", `{"tasks":[{"instrument_id":"x","routine":"a","part":""}]}`, "body.tasks[0].instrument_id"},
		{"POST", "/api/v1/care", `{"tasks":[],"mood":1}`, "body.mood"},
		{
			"PUT",
			"/api/v1/settings/terms/" + uuid.NewString(),
			fmt.Sprintf(`{"id":%q,"name":"Autumn","starts_on":"2026-12-01","ends_on":"2026-11-01","version":0}`, uuid.New()),
			"body.ends_on",
		},
		{
			"PUT",
			"/api/v1/settings/terms/" + uuid.NewString(),
			fmt.Sprintf(`{"id":%q,"name":"Autumn","starts_on":"1.12.2026","ends_on":"2026-11-01","version":0}`, uuid.New()),
			"body.starts_on",
		},
		{"POST", "/api/v1/calc/care.limit", `{"base":{"days":-1}}`, "body.base.days"},
	}
	for _, tt := range tests {
		got := s.call(tt.method, tt.path, tt.body)
		assert.GreaterOrEqual(t, got.status, 400, tt.path)
		assert.Less(t, got.status, 500, tt.path)
		detail, places := got.problem(t)
		assert.NotEmpty(t, detail)
		found := false
		for place := range places {
			found = found || strings.HasPrefix(place, tt.place)
		}
		assert.True(t, found, "%s: %s", tt.path, got.body)
	}
	assert.Equal(t, http.StatusNotFound, s.call("GET", "/api/v1/instruments/"+uuid.NewString(), "").status)
	big := s.call("POST", "/api/v1/instruments/file", strings.Repeat("rubbish ", 1<<20), "Content-Type", "application/octet-stream")
	detail, _ := big.problem(t)
	assert.Contains(t, detail, "5 MB")
}

func TestCalculators(t *testing.T) {
	s := newSite(t, pgtest.Open(t))
	assert.Contains(t, s.call("GET", "/api/v1/calc", "").body, `"care.timebox"`)
	got := s.call("POST", "/api/v1/calc/care.timebox", `{"minutes":25,"helpers":0,"tasks":[{"id":"a","value":1,"minutes":5}],"setups":{}}`)
	assert.Equal(t, http.StatusOK, got.status)
	assert.JSONEq(t, `{"chosen":["a"],"value":1,"used_minutes":5,"next":null,"exact":true}`, got.body)
	assert.Equal(t, http.StatusNotFound, s.call("POST", "/api/v1/calc/care.guess", `{}`).status)
}

func TestTheDatabaseIsAway(t *testing.T) {
	db, err := store.Open("postgres://nobody@127.0.0.1:1/none?sslmode=disable&connect_timeout=2")
	require.NoError(t, err)
	s := newSite(t, db)
	got := s.call("POST", "/api/v1/session", `{"email":"a@b.example","password":"secret-word"}`)
	assert.Equal(t, http.StatusServiceUnavailable, got.status)
	detail, _ := got.problem(t)
	assert.Contains(t, detail, "The database does not answer just now")
	assert.NotContains(t, got.body, "127.0.0.1", "nothing of the inside is told")
	assert.Equal(t, http.StatusServiceUnavailable, s.call("GET", "/readyz", "").status)
	assert.Equal(t, http.StatusOK, s.call("GET", "/healthz", "").status)
	assert.Equal(t, http.StatusOK, s.call("GET", "/", "").status, "the page itself needs no database")
}

// Sessions go by the program's clock, which stands elsewhere than the machine's when SOLFEGGIO_NOW says so: they last as long there.
func TestSessionsGoByTheProgramsClock(t *testing.T) {
	for _, years := range []int{-30, 30} {
		s := newSite(t, pgtest.Open(t))
		s.setUp()
		s.now = s.now.AddDate(years, 0, 0)
		s.signIn()
		assert.Equal(t, http.StatusOK, s.call("GET", "/api/v1/session", "").status, years)
		assert.Contains(t, s.call("GET", "/api/v1/sessions", "").body, s.now.Format("2006-01-02"), years)
		s.now = s.now.AddDate(0, 0, 15)
		assert.Equal(t, http.StatusUnauthorized, s.call("GET", "/api/v1/session", "").status, years)
	}
}
