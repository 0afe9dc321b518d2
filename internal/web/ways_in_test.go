package web_test

import (
	"context"
	"fmt"
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/pquerna/otp/totp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/access"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/pgtest"
)

const keySecret = "a-secret-of-at-least-32-characters-of-chance"

// A script signs in with a key and no cookie, may what the key may, and is refused when the key has ended.
func TestAScriptWithAKey(t *testing.T) {
	s := newSite(t, pgtest.Open(t))
	s.setUp()
	s.signIn()
	id := uuid.NewString()
	made := s.call("POST", "/api/v1/keys",
		fmt.Sprintf(`{"id":%q,"name":"nightly","role":"viewer","ends_on":"2026-11-25","secret":%q,"password":%q}`, id, keySecret, password))
	require.Equal(t, http.StatusNoContent, made.status, made.body)
	assert.NotContains(t, s.call("GET", "/api/v1/keys", "").body+s.log.String(), keySecret)

	script := &site{t, s.url, s.app, &http.Client{}, s.log, s.now}
	bearer := []string{"Authorization", "Bearer " + keySecret}
	assert.Equal(t, http.StatusUnauthorized, script.call("GET", "/api/v1/today", "").status)
	assert.Equal(t, http.StatusOK, script.call("GET", "/api/v1/today", "", bearer...).status)
	assert.Contains(t, script.call("GET", "/api/v1/session", "", bearer...).body, `"role":"viewer"`)
	assert.Equal(t, http.StatusForbidden, script.call("GET", "/api/v1/settings/people", "", bearer...).status)
	detail, _ := script.call("GET", "/api/v1/today", "", "Authorization", "Bearer "+keySecret+"x").problem(t)
	assert.Equal(t, "This key is not known, or it has ended.", detail)
	// A browser that is signed in and sends a key is who the key says.
	assert.Contains(t, s.call("GET", "/api/v1/session", "", bearer...).body, `"role":"viewer"`)

	require.Equal(t, http.StatusNoContent, s.call("DELETE", "/api/v1/keys/"+id, "").status)
	assert.Equal(t, http.StatusUnauthorized, script.call("GET", "/api/v1/today", "", bearer...).status)
}

// A key finds its address where a proxy says it, and keys, links, people and passwords are closed to it at every address of them.
func TestWhatIsClosedToAKey(t *testing.T) {
	s := newSite(t, pgtest.Open(t))
	director := s.setUp()
	s.signIn()
	id := uuid.NewString()
	made := s.call("POST", "/api/v1/keys",
		fmt.Sprintf(`{"id":%q,"name":"nightly","role":"director","ends_on":"2027-11-24","secret":%q,"password":%q}`, id, keySecret, password))
	require.Equal(t, http.StatusNoContent, made.status, made.body)
	script := &site{t, s.url, s.app, &http.Client{}, s.log, s.now}
	for route, body := range map[string]string{
		"POST /api/v1/keys": fmt.Sprintf(`{"id":%q,"name":"more","role":"viewer","ends_on":"2026-11-25","secret":%q,"password":%q}`,
			uuid.NewString(), keySecret+"2", password),
		"PUT /api/v1/keys/" + id:                                        fmt.Sprintf(`{"ends_on":"2027-01-01","password":%q}`, password),
		"DELETE /api/v1/keys/" + id:                                     "",
		"PUT /api/v1/settings/people/" + director.ID.String() + "/link": fmt.Sprintf(`{"secret":%q}`, keySecret),
		"PUT /api/v1/settings/people/" + uuid.NewString(): `{"id":"` + uuid.NewString() +
			`","name":"Jory Tamm","email":"jory@quillhaven.example","role":"director","active":true,"version":0,"password":"the first password"}`,
		"PUT /api/v1/session/password":                fmt.Sprintf(`{"old":%q,"password":"a fresh long password"}`, password),
		"PUT /api/v1/calendar-feed":                   fmt.Sprintf(`{"secret":%q}`, keySecret),
		"DELETE /api/v1/sessions/" + uuid.NewString(): "",
	} {
		method, path, _ := strings.Cut(route, " ")
		got := script.call(method, path, body, "Authorization", "Bearer "+keySecret)
		assert.Equal(t, http.StatusForbidden, got.status, "%s: %s", route, got.body)
	}
	assert.Contains(t, s.call("GET", "/api/v1/keys", "").body, `"last_used_from":"127.0.0.1"`)
}

// A new password ends all sessions but the one in which it was chosen.
func TestSessionsEndWithThePassword(t *testing.T) {
	s := newSite(t, pgtest.Open(t))
	s.setUp()
	s.signIn()
	elsewhere := s.visitor()
	elsewhere.signIn()
	require.Equal(t, http.StatusOK, elsewhere.call("GET", "/api/v1/session", "").status)
	changed := s.call("PUT", "/api/v1/session/password", fmt.Sprintf(`{"old":%q,"password":"a fresh long password"}`, password))
	require.Equal(t, http.StatusNoContent, changed.status, changed.body)
	assert.Equal(t, http.StatusOK, s.call("GET", "/api/v1/session", "").status)
	assert.Equal(t, http.StatusUnauthorized, elsewhere.call("GET", "/api/v1/session", "").status)

	// Guesses of the present password are counted like those at the door.
	for range 8 {
		s.call("PUT", "/api/v1/session/password", `{"old":"a guess","password":"something else long"}`)
	}
	assert.Equal(t, http.StatusTooManyRequests,
		s.call("PUT", "/api/v1/session/password", `{"old":"a guess","password":"something else long"}`).status)
}

func TestANewPasswordOverTheLine(t *testing.T) {
	s := newSite(t, pgtest.Open(t))
	director := s.setUp()
	jory := access.Colleague{ID: uuid.New(), Name: "Jory Tamm", Email: "jory@quillhaven.example", Role: journal.Helper, Active: true}
	require.NoError(t, s.app.Access.SaveColleague(context.Background(), director, jory, "the first password"))
	s.signIn()
	link := s.call("PUT", "/api/v1/settings/people/"+jory.ID.String()+"/link", fmt.Sprintf(`{"secret":%q}`, keySecret))
	require.Equal(t, http.StatusOK, link.status, link.body)
	assert.Contains(t, link.body, "2026-11-25T09:00:00Z")
	open := s.visitor()
	weak, places := open.call("POST", "/api/v1/new-password", fmt.Sprintf(`{"secret":%q,"password":"short"}`, keySecret)).problem(t)
	assert.Contains(t, places, "body.password", weak)
	got := open.call("POST", "/api/v1/new-password", fmt.Sprintf(`{"secret":%q,"password":"another long password"}`, keySecret))
	require.Equal(t, http.StatusOK, got.status, got.body)
	assert.Equal(t, `"jory@quillhaven.example"`, string(field(t, got.body, "email")))
	assert.Equal(t, http.StatusNotFound,
		open.call("POST", "/api/v1/new-password", fmt.Sprintf(`{"secret":%q,"password":"yet another password"}`, keySecret)).status)
}

// What a list does not know in a query is refused by its name; what it knows filters and pages.
func TestListsFilterAndPage(t *testing.T) {
	s, _ := violins(t)
	var tags []string
	for _, query := range []string{"?kind=violin&first=1&most=1", "?mark=late", "?room=Loft"} {
		got := s.call("GET", "/api/v1/instruments"+query, "")
		require.Equal(t, http.StatusOK, got.status, got.body)
		tags = append(tags, fmt.Sprint(countOf(got.body, `"tag":"VN-02"`), countOf(got.body, `"tag":`)))
	}
	assert.Equal(t, []string{"1 1", "0 0", "0 0"}, tags)
	_, places := s.call("GET", "/api/v1/instruments?knd=violin", "").problem(t)
	assert.Equal(t, "is not known here; it knows first, most, kind, mark, room, ensemble", places["query.knd"])
	_, places = s.call("GET", "/api/v1/header?x=1", "").problem(t)
	assert.Contains(t, places, "query.x")
	assert.Equal(t, 1, countOf(s.call("GET", "/api/v1/players?kind=violin&most=1", "").body, `"external_id":`))
}

func countOf(text, part string) int { return strings.Count(text, part) }

// Somebody sees where they are signed in, and signs out elsewhere; nobody sees or ends what is another's.
func TestOwnSessions(t *testing.T) {
	db := pgtest.Open(t)
	w := newWorld(t, db, "sessions@quillhaven.example")
	elsewhere := w.visitor()
	signIn := w.fill(`{"email":"{email}","password":"` + password + `"}`)
	require.Equal(t, 200, elsewhere.call("POST", "/api/v1/session", signIn, "User-Agent", "A tablet").status)
	list := w.call("GET", "/api/v1/sessions", "").body
	assert.Equal(t, 3, strings.Count(list, `"id"`))
	assert.Equal(t, 1, strings.Count(list, `"here":true`))
	tablet := regexp.MustCompile(`"id":"([^"]+)"[^}]*"device":"A tablet"`).FindStringSubmatch(list)[1]
	stranger := newWorld(t, db, "stranger@quillhaven.example")
	assert.Equal(t, 409, stranger.call("DELETE", "/api/v1/sessions/"+tablet, "").status)
	require.Equal(t, 200, elsewhere.call("GET", "/api/v1/session", "").status)
	require.Equal(t, 204, w.call("DELETE", "/api/v1/sessions/"+tablet, "").status)
	assert.Equal(t, 401, elsewhere.call("GET", "/api/v1/session", "").status)
	assert.Equal(t, 200, w.call("GET", "/api/v1/session", "").status)
}

// Where the school asks for a second factor, whoever has none chooses one first: nothing else is answered, not even from memory.
func TestASecondFactorThatTheSchoolAsksFor(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), email)
	require.Equal(t, http.StatusOK, w.call("GET", "/api/v1/instruments", "").status)
	school := strings.Replace(w.things["school"], `"second_factor":"chosen"`, `"second_factor":"everybody"`, 1)
	require.Less(t, w.call("PUT", "/api/v1/settings/school", school).status, 300)
	for _, path := range []string{"/api/v1/instruments", "/api/v1/today", "/api/v1/instruments.csv"} {
		assert.Equal(t, http.StatusForbidden, w.call("GET", path, "").status, path)
	}
	assert.Contains(t, w.call("GET", "/api/v1/session", "").body, `"lacks_factor":true`)
	picture := w.call("POST", "/api/v1/session/second-factor/picture", `{"secret":"`+factorSecret+`"}`)
	assert.Contains(t, picture.body, "otpauth://totp/Solfeggio:")
	require.Less(t, w.call("POST", "/api/v1/session/second-factor", w.fill(factorOn)).status, 300)
	assert.Contains(t, w.call("GET", "/api/v1/session", "").body, `"lacks_factor":false`)
	assert.Equal(t, http.StatusOK, w.call("GET", "/api/v1/today", "").status)

	fresh := w.visitor()
	asked := fresh.call("POST", "/api/v1/session", `{"email":"`+email+`","password":"`+password+`"}`)
	assert.Equal(t, http.StatusUnauthorized, asked.status)
	_, places := asked.problem(t)
	assert.Contains(t, places, "body.code")
	w.now = w.now.Add(time.Minute)
	code, err := totp.GenerateCode(factorSecret, w.now)
	require.NoError(t, err)
	in := fresh.call("POST", "/api/v1/session", `{"email":"`+email+`","password":"`+password+`","code":"`+code+`"}`)
	assert.Equal(t, http.StatusOK, in.status, in.body)
	assert.NotContains(t, w.log.String(), factorSecret)
}
