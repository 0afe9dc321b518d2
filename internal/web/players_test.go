package web_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/access"
	"solfeggio/internal/app/importing"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/placing"
	"solfeggio/internal/app/roster"
	"solfeggio/internal/formats"
	"solfeggio/internal/pgtest"
)

const rosterFile = "Nr,Vorname,Nachname,instrument,arm_length_cm\n1,Ode,Marchetti,violin,60\n2,Ilse,Quandt,violin,57\n"

var raw = []string{"Content-Type", "application/octet-stream"}

// violins is a site with two violins and two players, and their ids by tag and name.
func violins(t *testing.T) (*site, map[string]uuid.UUID) {
	s := newSite(t, pgtest.Open(t))
	director := s.setUp()
	_, err := s.app.Importing.Import(context.Background(), director,
		importing.InstrumentFile{Content: []byte("tag,kind,size,care_from\nVN-01,violin,4/4,2026-11-01\nVN-02,violin,3/4,2026-11-01\n")})
	require.NoError(t, err)
	s.signIn()
	reading := url.QueryEscape(`{"columns":{"Nr":"external_id","Vorname":"given_name","Nachname":"family_name"}}`)
	sent := s.call("POST", "/api/v1/players/roster?reading="+reading, rosterFile, raw...)
	require.Equal(t, http.StatusOK, sent.status, sent.body)
	assert.Equal(t, "2", string(field(t, sent.body, "added")))
	ids := map[string]uuid.UUID{}
	for _, p := range s.players() {
		ids[p.Name] = p.ID
	}
	list, err := s.app.Inventory.Instruments(context.Background(), director)
	require.NoError(t, err)
	for _, i := range list {
		ids[i.Tag] = i.ID
	}
	return s, ids
}

func (s *site) players() (list []roster.ListedPlayer) {
	s.t.Helper()
	require.NoError(s.t, json.Unmarshal([]byte(s.call("GET", "/api/v1/players", "").body), &list))
	return list
}

func pair(player, instrument uuid.UUID) string {
	return fmt.Sprintf(`{"player_id":%q,"instrument_id":%q}`, player, instrument)
}

func TestARosterOverTheLine(t *testing.T) {
	s, _ := violins(t)
	dry := s.call("POST", "/api/v1/players/roster?dry_run=true", "given_name\nBram\n", raw...)
	assert.Equal(t, "1", string(field(t, dry.body, "added")))
	assert.Len(t, s.players(), 2, "a dry run keeps nothing")
	_, places := s.call("POST", "/api/v1/players/roster?reading=given_name", rosterFile, raw...).problem(t)
	assert.Contains(t, places, "query.reading")
	large := s.call("POST", "/api/v1/players/roster", strings.Repeat("x", formats.MaxRosterBytes+2000), raw...)
	assert.Equal(t, http.StatusRequestEntityTooLarge, large.status)
	for _, wrong := range []string{"PK\x03\x04", "\xff\xd8\xff\xe0 a photograph", "given_name\n\"Ode\n"} {
		got := s.call("POST", "/api/v1/players/roster", wrong, raw...)
		if got.status == http.StatusOK {
			assert.NotEqual(t, "[]", string(field(t, got.body, "faults")), "%q", wrong)
		} else {
			assert.Equal(t, http.StatusUnprocessableEntity, got.status, "%q: %s", wrong, got.body)
		}
	}
	assert.Len(t, s.players(), 2)
}

func TestPlayersOverTheLine(t *testing.T) {
	s, ids := violins(t)
	ode := s.players()[0].Player
	require.Equal(t, ids["Ode Marchetti"], ode.ID)
	ode.Notes = "Left-handed."
	body, err := json.Marshal(ode)
	require.NoError(t, err)
	key := []string{"Idempotency-Key", uuid.NewString()}
	first := s.call("PUT", "/api/v1/players", string(body), key...)
	require.Equal(t, http.StatusNoContent, first.status, first.body)
	assert.Equal(t, http.StatusNoContent, s.call("PUT", "/api/v1/players", string(body), key...).status, "a lost reply is answered again")
	stale := s.call("PUT", "/api/v1/players", string(body))
	assert.Equal(t, http.StatusConflict, stale.status, "another desk has the old version")
	for place, change := range map[string][2]string{
		"body.given_name":       {`"given_name":"Ode"`, `"given_name":" "`},
		"body.notes":            {`"notes":"Left-handed."`, `"notes":"` + strings.Repeat("x", 501) + `"`},
		"body.measurements[0]":  {`"arm_length_cm":60`, `"arm_length_cm":-60`},
		"body.transport":        {`"transport":""`, `"transport":"broom"`},
		"body.practice_minutes": {`"practice_minutes_per_week":60`, `"practice_minutes_per_week":-1`},
	} {
		require.Contains(t, string(body), change[0])
		got := s.call("PUT", "/api/v1/players", strings.Replace(string(body), change[0], change[1], 1))
		assert.Equal(t, http.StatusUnprocessableEntity, got.status, place)
		_, places := got.problem(t)
		found := false
		for at := range places {
			found = found || strings.HasPrefix(at, place)
		}
		assert.True(t, found, "%s: %s", place, got.body)
	}

	kept := s.call("GET", "/api/v1/players.csv", "")
	assert.Equal(t, "text/csv; charset=utf-8", kept.headers.Get("Content-Type"))
	assert.Contains(t, kept.body, "1,Ode,Marchetti,,,violin,,,60,,60,\n")

	// A helper sees who plays what, and no more; and changes nothing.
	require.NoError(
		t,
		s.app.Access.SaveColleague(
			context.Background(),
			director(t, s),
			access.Colleague{ID: uuid.New(), Name: "Pell Arrowby", Email: "pell@quillhaven.example", Role: journal.Helper, Active: true},
			"a long password",
		),
	)
	require.Equal(
		t,
		http.StatusOK,
		s.call("POST", "/api/v1/session", `{"email":"pell@quillhaven.example","password":"a long password"}`).status,
	)
	seen := s.players()[0]
	assert.Equal(t, []string{"Ode Marchetti", "", ""}, []string{seen.Name, seen.Notes, seen.Guardian})
	assert.Empty(t, seen.Measurements)
	assert.Equal(t, "4/4", seen.Size.Size)
	for _, c := range [][2]string{{"PUT /api/v1/players", string(body)},
		{"POST /api/v1/hand-outs", `{"pairs":[` + pair(ids["Ode Marchetti"], ids["VN-01"]) + `]}`},
		{"POST /api/v1/instruments/" + ids["VN-01"].String() + "/return", "{}"}} {
		method, path, _ := strings.Cut(c[0], " ")
		assert.Equal(t, http.StatusForbidden, s.call(method, path, c[1]).status, path)
	}
	assert.Equal(t, http.StatusForbidden, s.call("POST", "/api/v1/players/roster", rosterFile, raw...).status)
	assert.Equal(t, http.StatusForbidden, s.call("GET", "/api/v1/players.csv", "").status)
}

func director(t *testing.T, s *site) journal.Person {
	t.Helper()
	p, err := s.app.Access.SignIn(context.Background(), email, password, "test")
	require.NoError(t, err)
	return p
}

func TestHandingOutOverTheLine(t *testing.T) {
	s, ids := violins(t)
	ode, ilse := ids["Ode Marchetti"], ids["Ilse Quandt"]
	proposed := s.call("POST", "/api/v1/proposals", `{"weights":{"size":1,"grade":1,"kept":1,"rental":1,"travel":1,"kit":1}}`)
	var p placing.Proposal
	require.NoError(t, json.Unmarshal([]byte(proposed.body), &p))
	require.Len(t, p.Pairs, 2)
	assert.Equal(t, ids["VN-01"], p.Pairs[0].InstrumentID)
	for place, body := range map[string]string{
		"body.pins[0]": `{"weights":{"size":1,"grade":1,"kept":1,"rental":1,"travel":1,"kit":1},"pins":[` + pair(uuid.New(),
			ids["VN-01"]) + `]}`,
		"body.weights.size": `{"weights":{"size":-1,"grade":1,"kept":1,"rental":1,"travel":1,"kit":1}}`,
	} {
		_, places := s.call("POST", "/api/v1/proposals", body).problem(t)
		assert.Contains(t, places, place)
	}

	key := []string{"Idempotency-Key", uuid.NewString()}
	body := `{"pairs":[` + pair(ode, ids["VN-01"]) + `]}`
	first := s.call("POST", "/api/v1/hand-outs", body, key...)
	require.Equal(t, http.StatusOK, first.status, first.body)
	assert.JSONEq(t, first.body, s.call("POST", "/api/v1/hand-outs", body, key...).body, "a lost reply is answered again")
	detail, _ := s.call("POST", "/api/v1/hand-outs", `{"pairs":[`+pair(ilse, ids["VN-01"])+`]}`).problem(t)
	assert.Contains(t, detail, "VN-01")
	_, places := s.call("POST", "/api/v1/hand-outs", `{"pairs":[]}`).problem(t)
	assert.Contains(t, places, "body.pairs")
	twice := s.call("POST", "/api/v1/hand-outs", `{"pairs":[`+pair(ilse, ids["VN-02"])+`,`+pair(ode, ids["VN-02"])+`]}`)
	assert.Equal(t, http.StatusConflict, twice.status, "one violin for two")
	assert.Empty(t, s.players()[1].Holds, "and nobody has it then")

	back := "/api/v1/instruments/" + ids["VN-01"].String() + "/return"
	key = []string{"Idempotency-Key", uuid.NewString()}
	require.Equal(t, http.StatusOK, s.call("POST", back, "{}", key...).status)
	assert.Equal(t, http.StatusOK, s.call("POST", back, "{}", key...).status)
	assert.Equal(t, http.StatusConflict, s.call("POST", back, "{}").status, "it is back already")
	assert.Equal(t, http.StatusNotFound, s.call("POST", "/api/v1/instruments/"+uuid.NewString()+"/return", "{}").status)
}

func TestSizeOrderAndLabelsOverTheLine(t *testing.T) {
	s, ids := violins(t)
	require.Equal(t, http.StatusOK, s.call("POST", "/api/v1/hand-outs", `{"pairs":[`+pair(ids["Ode Marchetti"], ids["VN-02"])+`]}`).status)
	order := s.call("GET", "/api/v1/size-order", "").body
	assert.JSONEq(t, `"2027-09-20"`, string(field(t, order, "until")))
	var who []placing.Outgrowing
	require.NoError(t, json.Unmarshal(field(t, order, "who"), &who))
	require.Len(t, who, 1)
	assert.Equal(t, []string{"Ode Marchetti", "3/4", "4/4"}, []string{who[0].Player, who[0].Holds, who[0].Next})
	_, places := s.call("GET", "/api/v1/size-order?until=soon", "").problem(t)
	assert.Contains(t, places, "query.until")

	sheet := s.call("GET", "/api/v1/labels.pdf?tags=VN-01,VN-02&sheet=a4-24&skip=23", "")
	require.Equal(t, http.StatusOK, sheet.status, sheet.body)
	assert.Equal(t, "application/pdf", sheet.headers.Get("Content-Type"))
	assert.Equal(t, 2, bytes.Count([]byte(sheet.body), []byte("/Type /Page\n")), "the second label begins a page")
	for place, query := range map[string]string{"query.tags": "", "query.tags[0]": "tags=XX-9", "query.sheet": "tags=VN-01&sheet=a9",
		"query.skip": "tags=VN-01&skip=24"} {
		got := s.call("GET", "/api/v1/labels.pdf?"+query, "")
		assert.Equal(t, http.StatusUnprocessableEntity, got.status, query)
		_, places := got.problem(t)
		assert.Contains(t, places, place)
	}
}

// All that is kept of a player comes as one file, for those who may change players.
func TestAllThatIsKeptOfAPlayer(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), "kept@quillhaven.example")
	got := w.call("GET", w.fill("/api/v1/players/{ode}/data"), "")
	require.Equal(t, 200, got.status, got.body)
	assert.Contains(t, got.headers.Get("Content-Disposition"), "attachment")
	var kept map[string][]map[string]any
	require.NoError(t, json.Unmarshal([]byte(got.body), &kept))
	assert.Equal(t, "Marchetti", kept["player"][0]["family_name"])
	for _, table := range []string{"assignment", "hand_over", "player_ensemble", "player_measurement", "event"} {
		assert.NotEmpty(t, kept[table], table)
	}
	assert.NotContains(t, got.body, "Quandt", "nothing of others")
	assert.Equal(t, 404, w.call("GET", "/api/v1/players/"+uuid.NewString()+"/data", "").status)
}
