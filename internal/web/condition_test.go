package web_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"image"
	"image/jpeg"
	"net/http"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/importing"
	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/school"
	"solfeggio/internal/formats"
	"solfeggio/internal/pgtest"
)

// violin is a site with one violin, and its address in the API.
func violin(t *testing.T) (*site, string) {
	s := newSite(t, pgtest.Open(t))
	director := s.setUp()
	_, err := s.app.Importing.Import(context.Background(), director,
		importing.InstrumentFile{Content: []byte("tag,kind,size,care_from\nVN-01,violin,4/4,2026-11-01\n")})
	require.NoError(t, err)
	s.signIn()
	var list []school.Listed
	require.NoError(t, json.Unmarshal([]byte(s.call("GET", "/api/v1/instruments", "").body), &list))
	return s, "/api/v1/instruments/" + list[0].ID.String()
}

func TestPhotographsOverTheLine(t *testing.T) {
	s, at := violin(t)
	var picture bytes.Buffer
	require.NoError(t, jpeg.Encode(&picture, image.NewGray(image.Rect(0, 0, 30, 20)), nil))
	id := uuid.NewString()
	raw := []string{"Content-Type", "application/octet-stream"}
	sent := s.call("POST", at+"/photos?photo="+id, picture.String(), raw...)
	require.Equal(t, http.StatusOK, sent.status, sent.body)
	got := s.call("GET", "/api/v1/photos/"+id+"?thumbnail=true", "")
	assert.Equal(t, "image/jpeg", got.headers.Get("Content-Type"))
	assert.Contains(t, got.headers.Get("Cache-Control"), "private")
	_, err := jpeg.Decode(strings.NewReader(got.body))
	require.NoError(t, err)

	fake := s.call("POST", at+"/photos?photo="+uuid.NewString(), "%PDF-1.7 not a picture", raw...)
	assert.Equal(t, http.StatusUnprocessableEntity, fake.status)
	_, places := fake.problem(t)
	assert.Contains(t, places["body.picture"], "is not a JPEG or PNG photograph")
	huge := s.call("POST", at+"/photos?photo="+uuid.NewString(), strings.Repeat("x", formats.MaxPhotoBytes+2000), raw...)
	assert.Equal(t, http.StatusRequestEntityTooLarge, huge.status)
	assert.Equal(t, http.StatusUnprocessableEntity, s.call("POST", at+"/photos?photo=seven", picture.String(), raw...).status)
	assert.Equal(t, http.StatusNotFound, s.call("GET", "/api/v1/photos/"+uuid.NewString(), "").status)

	s.client.Jar = nil
	assert.Equal(t, http.StatusUnauthorized, s.call("GET", "/api/v1/photos/"+id, "").status, "nobody sees a photograph without signing in")
}

func TestAnInspectionOverTheLine(t *testing.T) {
	s, at := violin(t)
	var sheet inspection.Sheet
	require.NoError(t, json.Unmarshal([]byte(s.call("GET", at+"/check", "").body), &sheet))
	answers := []string{}
	for _, p := range sheet.Points {
		found := `[]`
		if p.Key == "seams" {
			found = `[{"code":"open-seam","note":"Lower bout."}]`
		}
		answers = append(answers, fmt.Sprintf(`{"point":%q,"findings":%s}`, p.Key, found))
	}
	walk := func(edition string) string {
		return fmt.Sprintf(
			`{"id":%q,"edition":%q,"began_at":"2026-11-24T08:50:00Z","answers":[%s]}`,
			uuid.NewString(),
			edition,
			strings.Join(answers, ","),
		)
	}
	old := s.call("POST", at+"/inspections", walk("yesterday"))
	assert.Equal(t, http.StatusConflict, old.status)
	_, places := old.problem(t)
	assert.Contains(t, places, "body.edition")

	body, once := walk(sheet.Edition), []string{"Idempotency-Key", uuid.NewString()}
	first := s.call("POST", at+"/inspections", body, once...)
	require.Equal(t, http.StatusOK, first.status, first.body)
	assert.Equal(t, `"stop"`, string(field(t, string(field(t, first.body, "triage")), "action")))
	assert.Equal(t, first.body, s.call("POST", at+"/inspections", body, once...).body, "a lost reply is answered again")
	again := s.call("POST", at+"/inspections", walk(sheet.Edition))
	assert.Equal(t, http.StatusConflict, again.status)
	_, places = again.problem(t)
	assert.Contains(t, places, "body.last_seen")
	assert.Equal(
		t,
		http.StatusUnprocessableEntity,
		s.call("POST", at+"/inspections", strings.Replace(walk(sheet.Edition), `"began_at"`, `"begun"`, 1)).status,
	)

	var walls []inventory.Wall
	require.NoError(t, json.Unmarshal([]byte(s.call("GET", "/api/v1/room", "").body), &walls))
	assert.Equal(t, []string{"VN-01"}, walls[0].Elsewhere)
	assert.Contains(t, s.call("GET", "/api/v1/instruments", "").body, `"mark":"stopped"`)
}

func TestDiagnosisOverTheLine(t *testing.T) {
	s, at := violin(t)
	assert.Contains(t, s.call("GET", at+"/diagnosis?symptom=buzz&answers=nn", "").body, `"number":3`)
	assert.Contains(t, s.call("GET", at+"/diagnosis?symptom=buzz&answers=y", "").body, `"code":"open-seam"`)
	for _, wrong := range []string{"symptom=buzz&answers=maybe", "answers=y", "symptom=gurgle", "symptom=buzz&answers=yy"} {
		assert.Equal(t, http.StatusUnprocessableEntity, s.call("GET", at+"/diagnosis?"+wrong, "").status, wrong)
	}
	assert.Equal(t, http.StatusNotFound, s.call("GET", "/api/v1/instruments/"+uuid.NewString()+"/diagnosis?symptom=buzz", "").status)
}

func TestChoicesMovesAndShelvesNameTheirFaults(t *testing.T) {
	s, at := violin(t)
	tests := []struct{ method, path, body, place string }{
		{"PUT", "/api/v1/practices?version=000000000000", `{"choices":{"varnish":"beer"}}`, "body.choices.varnish"},
		{"PUT", at + "/practice?version=000000000000", `{"practice":"weather","option":"fine"}`, "body.option"},
		{"PUT", at + "/limit?version=000000000000", `{"routine":"violin-strings","part":"string-e","limits":{"days":-1}}`, "body.limits"},
		{"PUT", at + "/limit?version=000000000000", `{"routine":"valve-brass-bath","part":""}`, "body.routine"},
		{"POST", "/api/v1/moves", `{"moves":[]}`, "body.moves"},
		{
			"POST",
			"/api/v1/moves",
			fmt.Sprintf(`{"moves":[{"instrument_id":%q,"room":"Store","slot":""}]}`, uuid.NewString()),
			"body.moves[0].instrument_id",
		},
		{
			"PUT",
			"/api/v1/shelves",
			fmt.Sprintf(`{"id":%q,"room":"Store","rack":"","name":"A shelf","position":0,"slots":3,"version":0}`, uuid.NewString()),
			"body.name",
		},
		{
			"PUT",
			"/api/v1/shelves",
			fmt.Sprintf(`{"id":%q,"room":"Store","rack":"","name":"A","position":0,"slots":0,"version":0}`, uuid.NewString()),
			"body.slots",
		},
		{"POST", "/api/v1/stocktakes", fmt.Sprintf(`{"id":%q,"room":"Cellar"}`, uuid.NewString()), "body.room"},
	}
	for _, tt := range tests {
		got := s.call(tt.method, tt.path, tt.body)
		assert.Equal(t, http.StatusUnprocessableEntity, got.status, tt.body)
		_, places := got.problem(t)
		assert.Contains(t, places, tt.place, tt.body)
	}
}
