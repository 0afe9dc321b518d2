package web_test

import (
	"encoding/json"
	"fmt"
	"maps"
	"math"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/pgtest"
)

// numbersIn lists the places of the numbers of a JSON value, and sets one of them.
func numbersIn(value any, path string, set func(json.Number), visit func(path string, set func(json.Number))) {
	switch v := value.(type) {
	case map[string]any:
		for _, name := range slices.Sorted(maps.Keys(v)) {
			numbersIn(v[name], path+"."+name, func(n json.Number) { v[name] = n }, visit)
		}
	case []any:
		for at := range v {
			numbersIn(v[at], fmt.Sprintf("%s[%d]", path, at), func(n json.Number) { v[at] = n }, visit)
		}
	case json.Number:
		visit(strings.TrimPrefix(path, "."), set)
	}
}

// asksEverything asks every question and says what broke, or counts below nothing.
func (w *world) asksEverything(t *testing.T, c contract, all []*operation, after string) {
	t.Helper()
	for _, o := range all {
		if o.method != http.MethodGet {
			continue
		}
		got := w.call(o.method, w.url(c, o), "")
		assert.Less(t, got.status, 500, "%s after %s: %s", o.OperationID, after, got.body)
		var answer any
		if json.Unmarshal([]byte(got.body), &answer) == nil {
			belowNothing(t, answer, o.OperationID, after)
		}
	}
}

// belowNothing looks for sums of money that ran over.
func belowNothing(t *testing.T, value any, path, after string) {
	switch v := value.(type) {
	case map[string]any:
		for name, inner := range v {
			if cents, ok := inner.(float64); ok && strings.HasSuffix(name, "_cents") && !strings.HasPrefix(name, "differs") {
				assert.GreaterOrEqual(t, cents, 0.0, "%s.%s after %s", path, name, after)
			}
			belowNothing(t, inner, path+"."+name, after)
		}
	case []any:
		for _, inner := range v {
			belowNothing(t, inner, path, after)
		}
	}
}

// The largest numbers that JSON can write, in every place where a number may stand: refused with the place, or taken without harm to any
// later question.
func TestNoNumberIsTooLarge(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), "large@quillhaven.example")
	c, all := readContract(t)
	tried, taken := 0, ""
	for _, o := range all {
		if o.method == http.MethodGet || strings.HasPrefix(o.path, "/api/v1/calc") {
			continue
		}
		body, kind := w.body(t, c, o)
		if kind != "application/json" {
			continue
		}
		places := map[string]bool{}
		read := func() (value any) {
			d := json.NewDecoder(strings.NewReader(body))
			d.UseNumber()
			require.NoError(t, d.Decode(&value))
			return value
		}
		numbersIn(read(), "", nil, func(path string, _ func(json.Number)) { places[path] = true })
		for _, place := range slices.Sorted(maps.Keys(places)) {
			for _, number := range []json.Number{"9223372036854775807", "-9223372036854775808", "1e300", "2147483647"} {
				tried++
				value := read()
				numbersIn(value, "", nil, func(path string, set func(json.Number)) {
					if path == place {
						set(number)
					}
				})
				text, err := json.Marshal(value)
				require.NoError(t, err)
				got := w.call(o.method, w.url(c, o), string(text), "Content-Type", kind, "Idempotency-Key", uuid.NewString())
				assert.Less(t, got.status, 500, "%s with %s = %s: %s", o.OperationID, place, number, got.body)
				if got.status < 300 {
					taken += fmt.Sprintf(" %s.%s=%s", o.OperationID, place, number)
				}
			}
		}
	}
	w.asksEverything(t, c, all, taken)
	assert.Greater(t, tried, 100)
}

// What is no number is refused by name, in every place of an address.
func TestWhatIsNoNumber(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), "nan@quillhaven.example")
	c, all := readContract(t)
	tried := 0
	for _, o := range all {
		for _, p := range o.Parameters {
			if kind := fmt.Sprint(p.Schema.Type); p.In != "query" || kind != "number" && kind != "integer" {
				continue
			}
			for _, number := range []string{"NaN", "Inf", "-Inf", "1e400", fmt.Sprint(math.MaxFloat64), "0x1p-2", "twelve", " "} {
				tried++
				at, err := url.Parse(w.url(c, o))
				require.NoError(t, err)
				query := at.Query()
				query.Set(p.Name, number)
				at.RawQuery = query.Encode()
				got := w.call(o.method, at.String(), "")
				assert.Equal(t, http.StatusUnprocessableEntity, got.status, "%s?%s=%s: %s", o.OperationID, p.Name, number, got.body)
				_, fields := got.problem(t)
				assert.Contains(t, fields, "query."+p.Name, number)
			}
		}
	}
	assert.Greater(t, tried, 20)
}

// A name that stands twice in an address is refused, unless it may: otherwise the second would be dropped without a word.
func TestANameThatStandsTwice(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), "twice@quillhaven.example")
	c, all := readContract(t)
	tried := 0
	for _, o := range all {
		for _, p := range o.Parameters {
			if p.In != "query" || p.Name == "classes" || p.Name == "years" { // names of a school's may hold commas
				continue
			}
			tried++
			value := url.QueryEscape(w.fill(c.text(p.Schema)))
			body, kind := w.body(t, c, o)
			got := w.call(o.method, w.url(c, o)+"&"+p.Name+"="+value+"&"+p.Name+"="+value, body, "Content-Type", kind)
			assert.Equal(t, http.StatusUnprocessableEntity, got.status, "%s, %s twice: %s", o.OperationID, p.Name, got.body)
		}
	}
	assert.Greater(t, tried, 30)
}

// A server's clock that was wrong and is set back leaves a record that lies in the future. Everything can still be asked, nothing breaks,
// and what was handed out a moment ago can be taken back.
func TestAClockSetBack(t *testing.T) {
	for name, back := range map[string]time.Duration{"a day": 24 * time.Hour, "a year": 365 * 24 * time.Hour} {
		t.Run(name, func(t *testing.T) {
			w := newWorld(t, pgtest.Open(t), "back@quillhaven.example")
			c, all := readContract(t)
			w.now = w.now.Add(-back)
			w.asksEverything(t, c, all, name)
			for _, o := range all {
				if o.method == http.MethodGet || strings.HasPrefix(o.path, "/api/v1/calc") || o.OperationID == "sign-out" {
					continue
				}
				body, kind := w.body(t, c, o)
				got := w.call(o.method, w.url(c, o), body, "Content-Type", kind)
				assert.Less(t, got.status, 500, "%s: %s", o.OperationID, got.body)
			}
		})
	}
}

// A school that was set up with a time zone too far east corrects it: today is yesterday again. What was handed out before can be given
// back at once.
func TestATimeZoneCorrectedWestward(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), "west@quillhaven.example")
	w.now = time.Date(2026, 11, 25, 2, 0, 0, 0, time.UTC)
	give := w.call("POST", "/api/v1/hand-outs", w.fill(`{"pairs":[{"player_id":"{ilse}","instrument_id":"{free}"}]}`))
	require.Less(t, give.status, 300, give.body)
	var settings map[string]any
	require.NoError(t, json.Unmarshal([]byte(w.things["school"]), &settings))
	settings["time_zone"] = "America/Halifax"
	text, err := json.Marshal(settings)
	require.NoError(t, err)
	saved := w.call("PUT", "/api/v1/settings/school", string(text))
	require.Less(t, saved.status, 300, saved.body)
	back := w.call("POST", w.fill("/api/v1/instruments/{free}/return"), `{}`)
	require.Less(t, back.status, 300, back.body)
	free := w.call("POST", w.fill("/api/v1/instruments/{free}/release"), `{"how":"Nobody had played it."}`)
	require.Less(t, free.status, 300, free.body)
	again := w.call("POST", "/api/v1/hand-outs", w.fill(`{"pairs":[{"player_id":"{ilse}","instrument_id":"{free}"}]}`))
	assert.Less(t, again.status, 300, again.body)
}
