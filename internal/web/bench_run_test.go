package web_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/bench"
	"solfeggio/internal/app/products"
)

func TestTheBenchOverTheLine(t *testing.T) {
	s, ids := violins(t)
	put := func(body string) answer { return s.call("PUT", "/api/v1/products", body) }
	product := `{"id":"` + uuid.NewString() + `","name":"Stillwater","made_of":["quaternary-ammonium"],"contact_minutes":5,"registered_use":"","surfaces":["case-outside"],"hazards":"","safety_sheet":"","supply":"case-spray","retired":false,"version":0}`
	for place, change := range map[string][2]string{
		"body.contact_minutes": {`"contact_minutes":5`, `"contact_minutes":0`},
		"body.surfaces":        {`["case-outside"]`, `[]`},
		"body.surfaces[0]":     {`"case-outside"`, `"the moon"`},
		"body.made_of[0]":      {`"quaternary-ammonium"`, `"soap"`},
		"body.made_of[1]":      {`["quaternary-ammonium"]`, `["acid","chlorine"]`},
		"body.supply":          {`"case-spray"`, `"rosin"`},
	} {
		_, places := put(strings.Replace(product, change[0], change[1], 1)).problem(t)
		assert.Contains(t, places, place)
	}
	_, places := put(strings.Replace(product, `"contact_minutes":5,`, ``, 1)).problem(t)
	assert.NotEmpty(t, places, "a contact time is not left out")
	require.Less(t, put(product).status, 300)

	batch := `{"people":1,"stations":{},"instruments":[{"instrument_id":"` + ids["VN-01"].String() + `","reason":"turnover"}]}`
	plan := s.call("POST", "/api/v1/bench/plan", batch)
	require.Equal(t, http.StatusOK, plan.status, plan.body)
	assert.Contains(t, plan.body, "None of it is in stock and in date.")
	refused, _ := s.call("POST", "/api/v1/bench/runs", batch).problem(t)
	assert.Contains(t, refused, "Nothing of it can be begun: VN-01")
	require.Equal(
		t,
		http.StatusOK,
		s.call(
			"POST",
			"/api/v1/supplies/count",
			`{"supply":"case-spray","size":"","quantity":2,"lot":"S-77","expires_on":"2027-06-30"}`,
		).status,
	)
	for place, change := range map[string][2]string{
		"body.stations.moon":                {`"stations":{}`, `"stations":{"moon":1}`},
		"body.stations.table":               {`"stations":{}`, `"stations":{"table":0}`},
		"body.instruments[0].reason":        {`"turnover"`, `"boredom"`},
		"body.instruments[0].instrument_id": {ids["VN-01"].String(), uuid.NewString()},
		"body.people":                       {`"people":1`, `"people":0`},
	} {
		_, places := s.call("POST", "/api/v1/bench/plan", strings.Replace(batch, change[0], change[1], 1)).problem(t)
		assert.Contains(t, places, place)
	}

	key := []string{"Idempotency-Key", uuid.NewString()}
	begun := s.call("POST", "/api/v1/bench/runs", batch, key...)
	require.Equal(t, http.StatusOK, begun.status, begun.body)
	var run bench.BenchRun
	require.NoError(t, json.Unmarshal([]byte(begun.body), &run))
	assert.JSONEq(t, begun.body, s.call("POST", "/api/v1/bench/runs", batch, key...).body, "the reply was lost and the same is sent again")
	at := "/api/v1/bench/runs/" + run.ID.String()

	// A lost reply and a second tap are two things: the one is answered again, the other is refused.
	tick := func(n int, do, more string) string {
		return fmt.Sprintf(`{"instrument_id":%q,"n":%d,"do":%q%s}`, ids["VN-01"], n, do, more)
	}
	first := []string{"Idempotency-Key", uuid.NewString()}
	got := s.call("POST", at+"/tick", tick(0, "begin", ""), first...)
	require.Equal(t, http.StatusOK, got.status, got.body)
	assert.JSONEq(
		t,
		string(field(t, got.body, "events")),
		string(field(t, s.call("POST", at+"/tick", tick(0, "begin", ""), first...).body, "events")),
	)
	twice, _ := s.call("POST", at+"/tick", tick(0, "begin", "")).problem(t)
	assert.Contains(t, twice, "began this at 09:00")
	soon, _ := s.call("POST", at+"/tick", tick(0, "done", "")).problem(t)
	assert.Contains(t, soon, "must wait 5 min more")
	_, places = s.call("POST", at+"/tick", tick(99, "begin", "")).problem(t)
	assert.Contains(t, places, "body.n")
	assert.Equal(t, http.StatusNotFound, s.call("POST", "/api/v1/bench/runs/"+uuid.NewString()+"/tick", tick(0, "begin", "")).status)

	over := s.call("POST", at+"/tick", tick(0, "done", `,"override":"a test of the bell"`))
	require.Equal(t, http.StatusOK, over.status, over.body)
	assert.Contains(t, s.call("GET", at, "").body, `"override_by":"Ines Corvane"`)
	require.Equal(t, http.StatusOK, s.call("POST", at+"/plan", `{"people":2,"stations":{"table":2}}`).status)
	_, places = s.call("POST", at+"/take-off", `{"instrument_id":"`+ids["VN-01"].String()+`","because":" "}`).problem(t)
	assert.Contains(t, places, "body.because")
	ended := s.call("POST", at+"/end", "")
	require.Equal(t, http.StatusOK, ended.status, ended.body)
	assert.Contains(t, s.call("GET", at, "").body, "the work was ended before it was done")

	_, places = s.call("PUT", "/api/v1/soak-vessel?version=000000000000", `{"inner_diameter_mm":100,"cork_height_mm":5,"mouthpiece_volume_ml":10,"at_once":2}`).
		problem(t)
	assert.Contains(t, places, "body.cork_height_mm")
	text := s.call("GET", "/api/v1/bench/records.csv?from=2026-11-01&to=2026-11-30", "")
	assert.Contains(t, text.headers.Get("Content-Type"), "text/csv")
	assert.Contains(t, text.body, "contact_minutes_required")
	for path, place := range map[string]string{"?from=soon": "query.from", "?from=2026-11-02&to=2026-11-01": "query.to"} {
		_, places := s.call("GET", "/api/v1/bench/records.csv"+path, "").problem(t)
		assert.Contains(t, places, place)
	}
}

// A safety sheet comes back as it was sent, to anybody of the school; a wrong file changes nothing.
func TestSafetySheetsOverTheLine(t *testing.T) {
	s, _ := violins(t)
	id := uuid.NewString()
	product := `{"id":"` + id + `","name":"Stillwater","made_of":["quaternary-ammonium"],"contact_minutes":5,"registered_use":"","surfaces":["case-outside"],"hazards":"Irritates eyes","safety_sheet":"","supply":"case-spray","retired":false,"version":0}`
	require.Less(t, s.call("PUT", "/api/v1/products", product).status, 300)
	at := "/api/v1/products/" + id + "/safety-sheet"
	assert.Equal(t, http.StatusNotFound, s.call("GET", at, "").status)
	send := func(at, sheet string) answer {
		var listed products.Products
		require.NoError(t, json.Unmarshal([]byte(s.call("GET", "/api/v1/products", "").body), &listed))
		return s.call("PUT", at+"?version="+listed.Products[0].SheetVersion, sheet, "Content-Type", "application/octet-stream", "Idempotency-Key", uuid.NewString())
	}
	for _, sheet := range []string{"%PDF-1.7\nfirst", "%PDF-1.7\nsecond"} {
		require.Less(t, send(at, sheet).status, 300)
		got := s.call("GET", at, "")
		assert.Equal(t, []string{sheet, "application/pdf"}, []string{got.body, got.headers.Get("Content-Type")})
	}
	for _, wrong := range []string{"GIF89a", "", "%PDF" + strings.Repeat("-", products.MaxSheetBytes)} {
		got := send(at, wrong)
		assert.GreaterOrEqual(t, got.status, 400)
		assert.Less(t, got.status, 500)
	}
	_, places := send(at, "GIF89a").problem(t)
	assert.Contains(t, places, "body.sheet")
	assert.Equal(t, "%PDF-1.7\nsecond", s.call("GET", at, "").body)
	assert.Equal(t, http.StatusConflict, send("/api/v1/products/"+uuid.NewString()+"/safety-sheet", "%PDF-1.7").status)
	var products products.Products
	require.NoError(t, json.Unmarshal([]byte(s.call("GET", "/api/v1/products", "").body), &products))
	assert.True(t, products.Products[0].SheetOnFile)
}
