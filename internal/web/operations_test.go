package web_test

import (
	"context"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/access"
	"solfeggio/internal/app/importing"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/pgtest"
	"solfeggio/internal/store/schoolrows"
)

// Nobody reads or writes anything without signing in, but for the calculators, which hold nothing of a school.
func TestEveryOperationAsksWhoIsThere(t *testing.T) {
	s := newSite(t, pgtest.Open(t))
	s.setUp()
	c, all := readContract(t)
	for _, o := range all {
		body, kind := c.body(t, o)
		got := s.call(o.method, c.url(o, uuid.NewString()), body, "Content-Type", kind)
		if len(o.Security) == 0 {
			assert.True(
				t,
				strings.HasPrefix(o.OperationID, "sign-") || strings.HasPrefix(o.path, "/api/v1/calc"),
				"%s is open to everybody",
				o.OperationID,
			)
			continue
		}
		assert.Equal(t, http.StatusUnauthorized, got.status, "%s: %s", o.OperationID, got.body)
	}
}

// A viewer changes nothing but the own password. What is asked is well formed, so it is the right that is missing.
func TestAViewerWritesNothing(t *testing.T) {
	s, at := violin(t)
	id := strings.TrimPrefix(at, "/api/v1/instruments/")
	require.NoError(
		t,
		s.app.Access.SaveColleague(
			context.Background(),
			director(t, s),
			access.Colleague{ID: uuid.New(), Name: "Jory Tamm", Email: "jory@quillhaven.example", Role: journal.Viewer, Active: true},
			"a long password",
		),
	)
	require.Equal(
		t,
		http.StatusOK,
		s.call("POST", "/api/v1/session", `{"email":"jory@quillhaven.example","password":"a long password"}`).status,
	)
	c, all := readContract(t)
	own := []string{"sign-in", "sign-in-forgotten", "sign-out", "change-password", "propose", "before-concert",
		"plan-season"} // a proposal and a plan change nothing, and a link is one's own
	refused := 0
	for _, o := range all {
		if o.method == http.MethodGet || slices.Contains(own, o.OperationID) || strings.HasPrefix(o.path, "/api/v1/calc") {
			continue
		}
		body, kind := c.body(t, o)
		got := s.call(o.method, c.url(o, id), body, "Content-Type", kind)
		switch got.status {
		case http.StatusForbidden:
			refused++
		case http.StatusNotFound, http.StatusUnprocessableEntity, http.StatusConflict: // what it names is not there, which is asked first
		default:
			assert.Fail(t, "a viewer wrote", "%s: %d %s", o.OperationID, got.status, got.body)
		}
	}
	assert.Greater(t, refused, 15)
}

// Ids of another school lead nowhere, whatever is asked of them.
func TestIdsOfAnotherSchool(t *testing.T) {
	db := pgtest.Open(t)
	other := newSite(t, db)
	stranger, err := other.app.Access.SetUpSchool(context.Background(), access.NewSchool{
		School: schoolrows.School{
			ID:         uuid.New(),
			Name:       "Oriel",
			TimeZone:   "UTC",
			Locale:     "en-GB",
			Currency:   "EUR",
			PlayerCare: "trusted",
			OpensAt:    0.75,
			LateAt:     1.25,
		},
		Name: "Sabin Holt", Email: "sabin@oriel.example", Password: "a long password",
	})
	require.NoError(t, err)
	_, err = other.app.Importing.Import(context.Background(), stranger,
		importing.InstrumentFile{Content: []byte("tag,kind,size,care_from\nVN-77,violin,4/4,2026-11-01\n")})
	require.NoError(t, err)
	theirs, err := other.app.Inventory.Instruments(context.Background(), stranger)
	require.NoError(t, err)

	s := newSite(t, db)
	s.setUp()
	s.signIn()
	c, all := readContract(t)
	tried := 0
	for _, o := range all {
		if !strings.Contains(o.path, "{id}") {
			continue
		}
		tried++
		body, kind := c.body(t, o)
		got := s.call(o.method, c.url(o, theirs[0].ID.String()), body, "Content-Type", kind)
		if o.method == http.MethodPut && got.status == http.StatusNoContent {
			continue // it made something of its own school, with an id that happens to be theirs
		}
		assert.Contains(
			t,
			[]int{http.StatusNotFound, http.StatusUnprocessableEntity, http.StatusConflict},
			got.status,
			"%s: %s",
			o.OperationID,
			got.body,
		)
		assert.NotContains(t, got.body, "VN-77")
	}
	assert.Greater(t, tried, 15)
	now, err := other.app.Inventory.Instruments(context.Background(), stranger)
	require.NoError(t, err)
	assert.Equal(t, theirs, now)
}

// Whatever arrives as a body is refused with a reason or taken, and never breaks the server.
func TestNoBodyBreaksTheServer(t *testing.T) {
	s, at := violin(t)
	id := strings.TrimPrefix(at, "/api/v1/instruments/")
	c, all := readContract(t)
	for n, o := range slices.Concat(all, all) {
		c.full = n >= len(all)
		if o.RequestBody == nil || strings.HasPrefix(o.OperationID, "sign-") || o.OperationID == "change-password" {
			continue
		}
		body, kind := c.body(t, o)
		for _, spoiled := range []string{
			"", "{", "[]", "null", `"text"`, "{}", `{"a":` + strings.Repeat("[", 2000), body[:len(body)/2], body + body,
			strings.ReplaceAll(body, `"`, `'`), strings.ReplaceAll(body, ":0", ":1e308"), strings.ReplaceAll(body, ":0", ":-1"),
			strings.ReplaceAll(body, `"Aa1"`, `"\u0000"`), strings.ReplaceAll(body, `"Aa1"`, `"`+strings.Repeat("é", 5000)+`"`),
			strings.ReplaceAll(body, "2026-", "0000-"), strings.ReplaceAll(body, "2026-", "9999-"),
			strings.ReplaceAll(body, "[]", "[null]"), body,
		} {
			got := s.call(o.method, c.url(o, id), spoiled, "Content-Type", kind)
			assert.Less(t, got.status, 500, "%s with %.80q: %s", o.OperationID, spoiled, got.body)
			if got.status >= 400 {
				detail, _ := got.problem(t)
				assert.NotEmpty(t, detail)
			}
		}
	}
	assert.NotContains(t, s.log.String(), "unexpected")
	got := s.call("POST", "/api/v1/session", `{"email":"\u0000","password":"\u0000"}`)
	assert.Equal(t, http.StatusUnprocessableEntity, got.status, got.body)
}

// What somebody sends again under the same key is answered as the first time, whatever happened since; and done once.
func TestEveryWriteCanBeSentAgain(t *testing.T) {
	db, raw := pgtest.OpenBeside(t)
	c, all := readContract(t)
	questions := []string{"propose", "plan-bench", "propose-charge", "before-concert", "plan-season", "calculate", "picture-second-factor",
		"ask-passkey", "sign-in-question"} // which change nothing
	const answered = "sign-in-by-passkey" // whose answer lets nobody in a second time
	for _, o := range all {
		if o.method == http.MethodGet || slices.Contains(questions, o.OperationID) || o.OperationID == answered {
			continue
		}
		t.Run(o.OperationID, func(t *testing.T) {
			w := newWorld(t, db, o.OperationID+"@quillhaven.example")
			url, key := w.url(c, o), uuid.NewString()
			body, kind := w.body(t, c, o)
			body, first := w.plant(t, c, o, body, kind, func(body string) answer {
				return w.call(o.method, url, body, "Content-Type", kind, "Idempotency-Key", key)
			})
			require.Less(t, first.status, 300, "give it a recipe in world_test.go: %s %s %s", url, body, first.body)
			once := w.written(t, raw)
			w.passes(t, raw)
			again := w.call(o.method, url, body, "Content-Type", kind, "Idempotency-Key", key)
			assert.Equal(t, first.status, again.status, again.body)
			assert.Equal(t, first.body, again.body)
			assert.Equal(t, once, w.written(t, raw), "it was done twice")
			defer w.forgets(t, raw)
			if o.RequestBody == nil || strings.HasPrefix(o.OperationID, "sign-") {
				return
			}
			other := w.call(
				o.method,
				strings.ReplaceAll(url, "mapping", "leavers=true&mapping"),
				strings.NewReplacer("Wiped", "Washed", `"people":1`, `"people":2`, "VN-77", "VN-78", "Tove", "Tova", "a long", "another long",
					"a longer", "another longer").
					Replace(body)+
					" ",
				"Content-Type",
				kind,
				"Idempotency-Key",
				key,
			)
			if other.status < 300 {
				assert.Equal(t, first.body, other.body, "the same but for its layout")
			} else {
				assert.Equal(t, http.StatusConflict, other.status, other.body)
			}
		})
	}
}

// inSchool runs SQL on the rows of the world's school.
func (w *world) inSchool(t *testing.T, raw *sqlx.DB, into *int, sql string) {
	t.Helper()
	tx, err := raw.Beginx()
	require.NoError(t, err)
	defer tx.Rollback() //nolint:errcheck // after Commit there is nothing to roll back
	_, err = tx.Exec(`SELECT set_config('solfeggio.school_id', $1, true)`, w.by.School.String())
	require.NoError(t, err)
	if into != nil {
		require.NoError(t, tx.Get(into, sql))
	} else {
		_, err = tx.Exec(sql)
		require.NoError(t, err)
	}
	require.NoError(t, tx.Commit())
}

// written counts what the log holds.
func (w *world) written(t *testing.T, raw *sqlx.DB) (n int) {
	w.inSchool(t, raw, &n, `SELECT count(*) FROM event`)
	return n
}

// passes lets so much happen that nothing of what a write was about is as it was.
func (w *world) passes(t *testing.T, raw *sqlx.DB) {
	for _, sql := range []string{
		`UPDATE instrument SET gone_on = '2026-11-24', version = version + 1`,
		`UPDATE player SET left_on = '2026-11-24', version = version + 1`,
		`UPDATE supply_order SET closed_on = '2026-11-24'`, `UPDATE bench_run SET ended_at = now()`,
		`UPDATE stocktake SET ended_at = now()`,
		`UPDATE supply_lot SET remaining = 0`, `UPDATE school SET revision = revision + 1, version = version + 1`,
	} {
		w.inSchool(t, raw, nil, sql)
	}
}

// Every operation takes valid values for each of its parameters, alone and all together, and none of them breaks the server.
func TestEveryOperationTakesWhatItDocuments(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), email)
	c, all := readContract(t)
	for _, o := range all {
		if o.method != http.MethodGet { // whose bodies TestEveryWriteCanBeSentAgain sends
			continue
		}
		var optional []string
		for _, p := range o.Parameters {
			if p.In == "query" && !p.Required {
				optional = append(optional, p.Name)
			}
		}
		tries := [][]string{{}, optional}
		for _, name := range optional {
			tries = append(tries, []string{name})
		}
		for _, with := range tries {
			url := w.url(c, o, with...)
			got := w.call(o.method, url, "")
			if o.OperationID == "labels" && !slices.Contains(with, "tags") && !slices.Contains(with, "players") {
				assert.Equal(t, http.StatusUnprocessableEntity, got.status, "which says that something to print must be named")
				continue
			}
			assert.Equal(t, http.StatusOK, got.status, "%s: %.300s", url, got.body)
		}
		for _, p := range o.Parameters {
			if p.In != "query" {
				continue
			}
			for _, value := range p.Schema.Enum {
				url := w.url(c, o) + "&" + p.Name + "=" + fmt.Sprint(value)
				got := w.call(o.method, url, "")
				assert.Less(t, got.status, 500, "%s: %.300s", url, got.body)
			}
		}
	}
	assert.NotContains(t, w.log.String(), "panic")
	assert.Equal(
		t,
		http.StatusUnauthorized,
		newSite(t, pgtest.Open(t)).call("GET", "/api/v1/labels.pdf?players="+uuid.NewString(), "").status,
	)
}
