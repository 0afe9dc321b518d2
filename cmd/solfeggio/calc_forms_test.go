package main

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"math"
	"net/http"
	"net/http/httptest"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app"
	"solfeggio/internal/core/calc"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/field"
	"solfeggio/internal/store"
	"solfeggio/internal/web"
)

// Each calculator in the forms that it documents: least, whole, with null where null means something, and forms that cannot be, with
// the field that is refused.
var forms = []struct{ name, input, refused string }{
	{
		"usage.minutes",
		`{"from":"2026-11-02","to":"2026-11-02","rehearsals":[],"breaks":[],"practice_minutes_per_week":0,"vacation_share":0}`,
		"",
	},
	{
		"usage.minutes",
		`{"from":"2026-11-02","to":"2026-11-08","rehearsals":[{"weekday":7,"minutes":50,"play_factor":1}],"breaks":[{"from":"2026-11-04","to":"2026-11-05"}],"practice_minutes_per_week":70,"vacation_share":0.25,"extra":[{"date":"2026-11-03","minutes":60,"play_factor":0.5}],"logged":[{"date":"2026-11-03","minutes":12}]}`,
		"",
	},
	{
		"usage.minutes",
		`{"from":"2026-11-08","to":"2026-11-02","rehearsals":[],"breaks":[],"practice_minutes_per_week":0,"vacation_share":0}`,
		"to",
	},
	{
		"usage.minutes",
		`{"from":"2026-11-02","to":"2026-11-08","rehearsals":[{"weekday":8,"minutes":50,"play_factor":1}],"breaks":[],"practice_minutes_per_week":0,"vacation_share":0}`,
		"rehearsals[0].weekday",
	},
	{"care.limit", `{"base":{"days":1}}`, ""},
	{"care.limit", `{"base":{}}`, "base"},
	{
		"care.limit",
		`{"base":{"days":180,"playing_hours":200,"sessions":40},"heavy_sweat":true,"players":3,"override":{"days":90},"learned_days":150}`,
		"",
	},
	{"care.limit", `{"base":{"days":180},"players":0}`, "players"},
	{
		"care.due",
		`{"started":"2026-11-02","today":"2026-11-08","limits":{"sessions":4},"usage":{"rehearsals":[],"breaks":[],"practice_minutes_per_week":0,"vacation_share":0}}`,
		"",
	},
	{
		"care.due",
		`{"started":"2026-11-02","today":"2026-11-08","limits":{"days":10},"usage":{"rehearsals":[],"breaks":[],"practice_minutes_per_week":0,"vacation_share":0,"practice_days_per_week":3},"opens_at":0.5,"late_at":2}`,
		"",
	},
	{
		"care.due",
		`{"started":"2026-11-02","today":"2026-11-08","limits":{},"usage":{"rehearsals":[],"breaks":[],"practice_minutes_per_week":0,"vacation_share":0}}`,
		"limits",
	},
	{"care.timebox", `{"minutes":25,"helpers":0,"tasks":[],"setups":{}}`, ""},
	{
		"care.timebox",
		`{"minutes":25,"helpers":1,"tasks":[{"id":"a","value":1,"minutes":5},{"id":"b","value":1,"minutes":5,"setup":"sink"}],"setups":{"sink":3}}`,
		"",
	},
	{"care.timebox", `{"minutes":25,"helpers":1,"tasks":[{"id":"a","value":1,"minutes":5,"setup":null}],"setups":{}}`, "tasks[0].setup"},
	{"condition.triage", `{"findings":[]}`, ""},
	{"condition.triage", `{"findings":[{"code":"x","severity":4,"action":"stop","avoidable":true,"touches_tone":true}]}`, ""},
	{
		"condition.triage",
		`{"findings":[{"code":"x","severity":5,"action":"stop","avoidable":true,"touches_tone":true}]}`,
		"findings[0].severity",
	},
	{"fit.size", `{"kind":"violin","arm_length_cm":56}`, ""},
	{"fit.size", `{"kind":"viola","arm_length_cm":56,"checks":{"scroll":"ok","elbow":"tight","fourth_finger":"relaxed"}}`, ""},
	{"fit.size", `{"kind":"cello","height_cm":140}`, ""},
	{"fit.size", `{"kind":"bass","height_cm":140,"checks":{"top_edge":"below","lowest_peg":"below"}}`, ""},
	{"fit.size", `{"kind":"cello","height_cm":140,"checks":{"elbow":"ok"}}`, "checks.elbow"},
	{"fit.size", `{"kind":"violin"}`, "arm_length_cm"},
	{"fit.growth", `{"measurements":[{"date":"2026-01-01","cm":50},{"date":"2026-07-01","cm":50}],"threshold_cm":56}`, ""},
	{
		"fit.growth",
		`{"measurements":[{"date":"2026-01-01","cm":50},{"date":"2026-01-01","cm":51}],"threshold_cm":56}`,
		"measurements[1].date",
	},
	{"assign.match", `{"cost":[]}`, ""},
	{"assign.match", `{"cost":[[1,null],[null,2],[3,null]]}`, ""},
	{"assign.match", `{"cost":[[null]]}`, ""},
	{"assign.match", `{"cost":[null]}`, "cost[0]"},
	{"assign.match", `{"cost":[[1,"2"]]}`, "cost[0][1]"},
	{
		"kits.forecast",
		`{"demand_per_week":0,"horizon_weeks":4,"lead_weeks":1,"stock":0,"pack_size":1,"service_level":0.9,"pack_price_cents":0}`,
		"",
	},
	{
		"kits.forecast",
		`{"demand_per_week":-1,"horizon_weeks":4,"lead_weeks":1,"stock":0,"pack_size":1,"service_level":0.9,"pack_price_cents":0}`,
		"demand_per_week",
	},
	{"hygiene.dilution", `{"volume_ml":100,"target_pct":70,"stock_pct":96}`, ""},
	{"hygiene.dilution", `{"volume_ml":110,"parts_stock":1,"parts_diluent":10}`, ""},
	{"hygiene.dilution", `{"volume_ml":110,"parts_stock":1,"parts_diluent":10,"target_pct":70,"stock_pct":96}`, "parts_stock"},
	{"hygiene.may-touch", `{"material":"hard-rubber","active":"soap","mouth":true}`, ""},
	{"hygiene.may-touch", `{"material":"shell","active":"unknown"}`, ""},
	{"hygiene.may-touch", `{"material":"shell","active":"unknown","mouth":null}`, "mouth"},
	{"hygiene.may-touch", `{"material":"brass","active":"quaternary-ammonium"}`, ""},
	{"hygiene.may-touch", `{"material":"custard","active":"soap"}`, "material"},
	{"hygiene.may-touch", `{"material":"brass","active":null}`, "active"},
	{"hygiene.may-touch", `{"material":"brass"}`, "active"},
	{"hygiene.may-touch", `{"material":"brass","active":"soap","mouth":"yes"}`, "mouth"},
	{"hygiene.supplies", `{"instruments":[{"kind":"flute","body":"metal","mouthpiece":false,"reeds":0}]}`, ""},
	{
		"hygiene.supplies",
		`{"instruments":[{"kind":"clarinet","body":"plastic","mouthpiece":true,"reeds":3}],"vessel":{"inner_diameter_mm":80,"cork_height_mm":45,"mouthpiece_volume_ml":9,"at_once":1}}`,
		"",
	},
	{"hygiene.supplies", `{"instruments":[{"kind":"flute","body":"glass","mouthpiece":false,"reeds":0}]}`, "instruments[0].body"},
	{"hygiene.bench", `{"people":1,"stations":{},"instruments":[]}`, ""},
	{
		"hygiene.bench",
		`{"people":1,"stations":{"sink":1},"deadline_minutes":10,"instruments":[{"id":"a","steps":[{"name":"wash","active_minutes":2,"wait_minutes":3,"max_wait_minutes":5,"station":"sink","station_held_while_waiting":true},{"name":"dry","active_minutes":1,"wait_minutes":0,"station_held_while_waiting":false}]}]}`,
		"",
	},
	{"hygiene.bench", `{"people":0,"stations":{},"instruments":[]}`, "people"},
	{"reeds.break-in", `{"opened":"2026-12-01","program_minutes":[1,5]}`, ""},
	{"reeds.break-in", `{"opened":"2026-12-01","program_minutes":[1.5],"rest_days":["2026-12-01","2026-12-01"]}`, ""},
	{"reeds.break-in", `{"opened":"2026-12-01","program_minutes":[],"rest_days":[]}`, "program_minutes"},
	{"reeds.break-in", `{"opened":"2026-12-01","program_minutes":[1],"rest_days":["1.12."]}`, "rest_days[0]"},
	{"reeds.latest-open", `{"needed_on":"2026-12-12","program_minutes":[1,5,10]}`, ""},
	{"reeds.latest-open", `{"needed_on":"2026-12-12","program_minutes":[1,-5]}`, "program_minutes[1]"},
	{"reeds.rotate", `{"reeds":[],"today":"2026-12-12","keep":0}`, ""},
	{
		"reeds.rotate",
		`{"reeds":[{"id":"a","state":"ready","minutes_played":9,"last_played":null},{"id":"b","state":"worn","minutes_played":9,"last_played":"2026-12-01"}],"today":"2026-12-12","keep":3}`,
		"",
	},
	{
		"reeds.rotate",
		`{"reeds":[{"id":"a","state":"soggy","minutes_played":9,"last_played":null}],"today":"2026-12-12","keep":3}`,
		"reeds[0].state",
	},
	{"strings.plan", `{"strings":4,"concert":"2026-12-12","settle_days":3,"mode":"one-sitting"}`, ""},
	{
		"strings.plan",
		`{"strings":4,"concert":"2026-12-12","settle_days":3,"mode":"one-a-day","start_by":"2026-12-01","not_before":"2026-11-20","no_work_days":["2026-12-01"]}`,
		"",
	},
	{"strings.plan", `{"strings":4,"concert":"2026-12-12","settle_days":3,"mode":"one-a-day","not_before":"2026-12-10"}`, "concert"},
	{"strings.plan", `{"strings":4,"concert":"2026-12-12","settle_days":3,"mode":"one-a-day","start_by":null}`, "start_by"},
	{"strings.section-plan", `{"instruments":[],"bench_minutes":[],"concert":"2026-12-12","settle_days":0,"mode":"one-a-day"}`, ""},
	{
		"strings.section-plan",
		`{"instruments":[{"id":"a","strings":2,"minutes_per_string":7.5}],"bench_minutes":[{"date":"2026-12-01","minutes":10},{"date":"2026-12-03","minutes":0},{"date":"2026-12-02","minutes":15}],"concert":"2026-12-12","settle_days":3,"mode":"one-a-day"}`,
		"",
	},
	{
		"strings.section-plan",
		`{"instruments":[{"id":"a","strings":0,"minutes_per_string":7}],"bench_minutes":[],"concert":"2026-12-12","settle_days":3,"mode":"one-sitting"}`,
		"instruments[0].strings",
	},
	{"bow.rosin", `{"practice_minutes_per_day":0}`, ""},
	{"bow.rosin", `{"practice_minutes_per_day":30.5}`, ""},
	{"bow.rosin", `{"practice_minutes_per_day":-1}`, "practice_minutes_per_day"},
	{"bow.rehair-or-new", `{"rehair_cents":6000,"bow_value_cents":9000,"straight":true}`, ""},
	{"bow.rehair-or-new", `{"rehair_cents":6000,"bow_value_cents":9000,"straight":true,"factor":1.5}`, ""},
	{"bow.rehair-or-new", `{"rehair_cents":-6000,"bow_value_cents":9000,"straight":true}`, "rehair_cents"},
	{"lifespan.estimate", `{"durations":[5],"ended":[false]}`, ""},
	{"lifespan.estimate", `{"durations":[5,6,7.5],"ended":[true,true,false],"quantile":0.5}`, ""},
	{"lifespan.estimate", `{"durations":[5,0],"ended":[true,true]}`, "durations[1]"},
	{"lifespan.compare", `{"a":{"durations":[5,6],"ended":[true,false]},"b":{"durations":[2],"ended":[true]}}`, ""},
	{"lifespan.compare", `{"a":{"durations":[5,6],"ended":[true]},"b":{"durations":[2],"ended":[true]}}`, "a.ended"},
	{
		"shop.repair-or-replace",
		`{"quote_cents":40000,"life_after_repair_years":5,"upkeep_cents_per_year":6000,"replacement_cents":150000,"replacement_life_years":15,"resale_cents":10000,"replacement_upkeep_cents_per_year":4000,"discount_rate":0.05}`,
		"",
	},
	{
		"shop.repair-or-replace",
		`{"quote_cents":40000,"life_after_repair_years":0,"upkeep_cents_per_year":6000,"replacement_cents":150000,"replacement_life_years":15,"resale_cents":10000,"replacement_upkeep_cents_per_year":4000,"discount_rate":0.05}`,
		"life_after_repair_years",
	},
	{"shop.turnaround", `{"jobs":[{"sent":"2026-11-01","back":null},{"sent":"2026-10-01","back":"2026-10-01"}],"today":"2026-11-24"}`, ""},
	{"plan.season", `{"weeks":1,"jobs":[],"bench_minutes":[0],"trips":[],"budget":[],"loaners":{},"seed":1,"iterations":0}`, ""},
	{
		"plan.season",
		`{"weeks":2,"jobs":[{"id":"a","place":"van","places":2,"opens":0,"due":0,"last":1,"minutes":0,"cost_cents":10,"weeks_out":1,"late_cents_per_week":5,"early_cents_per_week":0,"absent_cents_per_week":[1,1],"blocked_weeks":[0],"loaner":"tuba","pin":0}],"bench_minutes":[10,10],"trips":[{"week":0,"places":2,"fixed_cents":4}],"budget":[{"from":0,"to":1,"cents":10}],"loaners":{"tuba":1},"seed":-3,"iterations":5}`,
		"",
	},
	{"plan.season", `{"weeks":2,"jobs":[],"bench_minutes":[0],"trips":[],"budget":[],"loaners":{},"seed":1,"iterations":0}`, "bench_minutes"},
	{"shop.turnaround", `{"jobs":[],"today":"2026-11-24"}`, ""},
	{"shop.turnaround", `{"jobs":[{"sent":"2026-11-01"}],"today":"2026-11-24"}`, "jobs[0].back"},
	{"shop.economic-life", `{"price_cents":100,"resale_cents":[50,20],"upkeep_cents":[0,10],"discount_rate":0}`, ""},
	{"shop.economic-life", `{"price_cents":100,"resale_cents":[50,20],"upkeep_cents":[0],"discount_rate":0.1}`, "upkeep_cents"},
	{"shop.charge", `{"repair_cents":100,"age_years":1,"life_years":4,"avoidable":true}`, ""},
	{"shop.charge", `{"repair_cents":100,"age_years":1,"life_years":4,"avoidable":true,"share_pct":50,"cap_cents":20}`, ""},
	{"shop.charge", `{"repair_cents":100,"age_years":1,"life_years":4,"avoidable":true,"cap_cents":-1}`, "cap_cents"},
}

// What a calculator takes and refuses is the same through Go, the command line and HTTP, and so is its answer.
func TestCalculatorsThroughAllDoors(t *testing.T) {
	nowhere, err := store.Open("postgres://nobody@127.0.0.1:1/none") // a calculator asks no database
	require.NoError(t, err)
	handler, stop := web.New(app.New(nowhere, time.Now, quiet), fstest.MapFS{}, quiet, web.Options{})
	defer stop()
	server := httptest.NewServer(handler)
	defer server.Close()
	tried := map[string]bool{}
	for _, form := range forms {
		tried[form.name] = true
		c, err := calc.Find(form.name)
		require.NoError(t, err)
		out, refused := c.Call(context.Background(), []byte(form.input))
		line, status, lineErr := run(calcCommand(), form.input, form.name)
		response, err := http.Post(server.URL+"/api/v1/calc/"+form.name, "application/json", strings.NewReader(form.input))
		require.NoError(t, err)
		body, err := io.ReadAll(response.Body)
		require.NoError(t, err)
		require.NoError(t, response.Body.Close())
		if form.refused != "" {
			for _, err := range []error{refused, lineErr} {
				if assert.Error(t, err, form.input) {
					assert.True(t, strings.HasPrefix(err.Error(), form.refused+":"), "%s: %v", form.input, err)
				}
			}
			assert.Equal(t, 2, status)
			assert.Empty(t, line)
			assert.Equal(t, http.StatusUnprocessableEntity, response.StatusCode, form.input)
			assert.Contains(t, string(body), `"location":"body.`+form.refused+`"`)
			continue
		}
		require.NoError(t, refused, form.input)
		require.NoError(t, lineErr, form.input)
		want, err := json.Marshal(out)
		require.NoError(t, err)
		assert.JSONEq(t, string(want), line)
		assert.Equal(t, http.StatusOK, response.StatusCode, string(body))
		assert.JSONEq(t, string(want), string(body))
	}
	for _, c := range calc.All() {
		assert.True(t, tried[c.Name], "%s has no forms here", c.Name)
	}

	// Signed out, only small cases are worked out.
	large := bytes.Repeat([]byte(" "), 40<<10)
	response, err := http.Post(
		server.URL+"/api/v1/calc/shop.charge",
		"application/json",
		bytes.NewReader(append([]byte(`{"repair_cents":100,"age_years":1,"life_years":4,"avoidable":true}`), large...)),
	)
	require.NoError(t, err)
	require.NoError(t, response.Body.Close())
	assert.Equal(t, http.StatusUnauthorized, response.StatusCode)
}

// Every number of a form that can be, in turn, is made as large, as small or as odd as a schema lets through: the answer holds numbers that
// a browser reads exactly, or the field is refused by name.
func TestOneWildNumberAmongGoodOnes(t *testing.T) {
	wild := []string{"0", "-1", "1e-10", "1e-300", "1e300", "1e18", "-1e18", "9007199254740993", "9223372036854775807", "-9223372036854775806", "0.1",
		`"1969-12-01"`, `"0001-01-01"`, `"9999-12-31"`}
	for n, form := range forms {
		if form.refused != "" {
			continue
		}
		t.Run(fmt.Sprintf("%d %s", n, form.name), func(t *testing.T) {
			t.Parallel()
			c, err := calc.Find(form.name)
			require.NoError(t, err)
			var whole any
			require.NoError(t, json.Unmarshal([]byte(form.input), &whole))
			for _, leaf := range leaves(whole, nil) {
				for _, w := range wild {
					if strings.HasPrefix(w, `"`) != isDay(leaf.value) {
						continue
					}
					var odd any
					require.NoError(t, json.Unmarshal([]byte(form.input), &odd))
					input, err := json.Marshal(with(odd, leaf.path, json.RawMessage(w)))
					require.NoError(t, err)
					out, err := c.Call(context.Background(), input)
					if err != nil {
						assert.NotEmpty(t, field.Of(err).Path, "%s: %v", input, err)
						continue
					}
					text, err := json.Marshal(out)
					if !assert.NoError(t, err, "%s", input) {
						continue
					}
					for _, found := range numbers.FindAllStringSubmatch(string(text), -1) {
						number := found[1]
						v, err := strconv.ParseFloat(number, 64)
						assert.True(t, err == nil && math.Abs(v) <= field.MostExact, "%s\nholds %s: %s", input, number, text)
					}
				}
			}
		})
	}
}

// numbers are those of a JSON text outside of its strings, nearly: what stands behind a colon, a comma or a bracket.
var numbers = regexp.MustCompile(`(?:^|[:\[,])(-?[0-9][0-9.eE+-]*)`)

type leaf struct {
	path  []any // names and places
	value any
}

// leaves are the numbers and days of a JSON value.
func leaves(v any, path []any) (list []leaf) {
	at := func(step any) []any { return append(slices.Clone(path), step) }
	switch v := v.(type) {
	case map[string]any:
		for _, name := range slices.Sorted(maps.Keys(v)) {
			list = append(list, leaves(v[name], at(name))...)
		}
	case []any:
		for n, x := range v {
			list = append(list, leaves(x, at(n))...)
		}
	case float64:
		list = append(list, leaf{path, v})
	case string:
		if isDay(v) {
			list = append(list, leaf{path, v})
		}
	}
	return list
}

func isDay(v any) bool {
	text, ok := v.(string)
	_, err := day.Parse(text)
	return ok && err == nil
}

// with is a JSON value with another one at a path.
func with(v any, path []any, other any) any {
	if len(path) == 0 {
		return other
	}
	switch step := path[0].(type) {
	case string:
		object := v.(map[string]any)
		object[step] = with(object[step], path[1:], other)
	case int:
		list := v.([]any)
		list[step] = with(list[step], path[1:], other)
	}
	return v
}
