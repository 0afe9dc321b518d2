package web_test

import (
	"encoding/json"
	"net/http"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/letters"
)

// handing is a hand-over with its checks, a gap in the kit and a signature.
func handing(player, instrument uuid.UUID) string {
	return `{"id":"` + uuid.NewString() + `",` + strings.Trim(pair(player, instrument), "{}") + `,"due_back_on":"2027-06-30",
		"checks":{"scroll":"ok","elbow":"ok","fourth_finger":"relaxed"},"kit":{"mute":"missing"},
		"signature":{"how":"screen","by":"R. Marchetti","strokes":[[[100,500],[400,300],[700,600]]]}}`
}

func TestAHandOverOverTheLine(t *testing.T) {
	s, ids := violins(t)
	ode, violin := ids["Ode Marchetti"], ids["VN-01"]
	on := "/api/v1/instruments/" + violin.String()
	sheet := s.call("GET", on+"/hand-over?player_id="+ode.String()+"&elbow=wide", "")
	require.Equal(t, http.StatusOK, sheet.status, sheet.body)
	var fit lending.FitSheet
	require.NoError(t, json.Unmarshal(field(t, sheet.body, "fit"), &fit))
	assert.Equal(t, []any{"3/4", 1}, []any{fit.Fits, fit.Apart})
	_, places := s.call("GET", on+"/hand-over?player_id="+ode.String()+"&elbow=odd", "").problem(t)
	assert.Contains(t, places, "query.elbow")
	draft := s.call("GET", "/api/v1/agreement.pdf?player_id="+ode.String()+"&instrument_id="+violin.String()+"&due_back_on=2027-06-30", "")
	assert.Equal(t, "application/pdf", draft.headers.Get("Content-Type"))
	_, places = s.call("GET", "/api/v1/agreement.pdf?player_id="+ode.String()+"&instrument_id="+violin.String()+"&due_back_on=soon", "").
		problem(t)
	assert.Contains(t, places, "query.due_back_on")

	// The reply is lost and the same is sent again: it is handed out once, and signed once.
	body := handing(ode, violin)
	key := []string{"Idempotency-Key", uuid.NewString()}
	first := s.call("POST", "/api/v1/hand-overs", body, key...)
	require.Equal(t, http.StatusOK, first.status, first.body)
	assert.JSONEq(t, first.body, s.call("POST", "/api/v1/hand-overs", body, key...).body)
	other := strings.Replace(body, "R. Marchetti", "Somebody else", 1)
	assert.Equal(t, http.StatusConflict, s.call("POST", "/api/v1/hand-overs", other, key...).status, "the same key with other contents")
	for place, change := range map[string][2]string{
		"body.signature.by":      {"R. Marchetti", " "},
		"body.signature.strokes": {`[[[100,500],[400,300],[700,600]]]`, `[[[1,1]]]`},
		"body.kit.mute":          {`"missing"`, `"low"`},
		"body.due_back_on":       {"2027-06-30", "2020-01-01"},
	} {
		_, places := s.call("POST", "/api/v1/hand-overs", strings.Replace(handing(ids["Ilse Quandt"], ids["VN-02"]), change[0], change[1], 1)).
			problem(t)
		assert.Contains(t, places, place)
	}
	file := s.call("GET", on, "")
	var out inventory.FileHandOver
	require.NoError(t, json.Unmarshal(field(t, file.body, "hand_over"), &out))
	assert.Equal(t, "R. Marchetti", out.SignedBy)
	paper := s.call("GET", "/api/v1/hand-overs/"+out.ID.String()+"/agreement.pdf", "")
	assert.Equal(t, "application/pdf", paper.headers.Get("Content-Type"))

	changed := s.call("GET", on+"/return", "")
	require.Equal(t, http.StatusOK, changed.status, changed.body)
	assert.Contains(t, changed.body, `"went_out":"missing"`)
	assert.Equal(t, http.StatusOK, s.call("POST", on+"/return", `{"reported":"Fell."}`).status)
	assert.Equal(t, http.StatusConflict, s.call("GET", on+"/return", "").status)
	held, _ := s.call("POST", "/api/v1/hand-overs", handing(ids["Ilse Quandt"], violin)).problem(t)
	assert.Contains(t, held, "is held")
	assert.Equal(t, http.StatusOK, s.call("POST", on+"/release", `{"how":"Wiped."}`).status)
}

func TestOrdersAndNoticesOverTheLine(t *testing.T) {
	s, ids := violins(t)
	id := uuid.NewString()
	placed := s.call(
		"POST",
		"/api/v1/supply-orders",
		`{"id":"`+id+`","supplier":"Lissom Strings","lines":[{"supply":"rosin","size":"","packs":3}]}`,
	)
	require.Equal(t, http.StatusOK, placed.status, placed.body)
	text := s.call("GET", "/api/v1/supply-orders/"+id+"/order.csv", "")
	assert.Contains(t, text.headers.Get("Content-Type"), "text/csv")
	assert.Contains(t, text.body, "Lissom Strings,Rosin cake,3,1,cake")
	book := s.call("GET", "/api/v1/supply-orders/"+id+"/order.xlsx", "")
	assert.True(t, strings.HasPrefix(book.body, "PK"), "a workbook is a zip archive")
	assert.Equal(t, http.StatusNotFound, s.call("GET", "/api/v1/supply-orders/"+uuid.NewString()+"/order.csv", "").status)
	for place, body := range map[string]string{
		"body.lines[0].supply":     `{"lines":[{"supply":"mute","size":"","packs":1}],"close":false}`,
		"body.lines[0].packs":      `{"lines":[{"supply":"rosin","size":"","packs":0}],"close":false}`,
		"body.lines[0].expires_on": `{"lines":[{"supply":"rosin","size":"","packs":1,"expires_on":"2020-01-01"}],"close":false}`,
	} {
		_, places := s.call("POST", "/api/v1/supply-orders/"+id+"/receive", body).problem(t)
		assert.Contains(t, places, place)
	}

	require.Equal(t, http.StatusOK, s.call("POST", "/api/v1/hand-overs", handing(ids["Ode Marchetti"], ids["VN-01"])).status)
	var all letters.Notices
	require.NoError(t, json.Unmarshal([]byte(s.call("GET", "/api/v1/notices", "").body), &all))
	require.Len(t, all.Proposed, 1)
	about, err := json.Marshal(all.Proposed[0].About)
	require.NoError(t, err)
	assert.Equal(t, http.StatusOK, s.call("POST", "/api/v1/notices", `{"about":[`+string(about)+`]}`).status)
	assert.Equal(t, http.StatusConflict, s.call("POST", "/api/v1/notices", `{"about":[`+string(about)+`]}`).status)
	require.NoError(t, json.Unmarshal([]byte(s.call("GET", "/api/v1/notices", "").body), &all))
	message := s.call("GET", "/api/v1/notices/"+all.Sent[0].ID.String()+"/message.eml", "")
	assert.Equal(t, "message/rfc822", message.headers.Get("Content-Type"))
	assert.Contains(t, message.body, "simulated")
}
