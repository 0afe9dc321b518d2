package calc

import (
	"context"
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestCall(t *testing.T) {
	c, err := Find("usage.minutes")
	require.NoError(t, err)
	out, err := c.Call(
		context.Background(),
		[]byte(
			`{"from":"2026-11-02","to":"2026-11-08","rehearsals":[{"weekday":2,"minutes":50,"play_factor":0.6}],"breaks":[],"practice_minutes_per_week":70,"vacation_share":0.25}`,
		),
	)
	require.NoError(t, err)
	b, err := json.Marshal(out)
	require.NoError(t, err)
	assert.JSONEq(t, `{"rehearsal_minutes":30,"practice_minutes":70,"total_minutes":100}`, string(b))
}

func TestCallNamesTheFieldByItsPath(t *testing.T) {
	tests := []struct{ name, in, want string }{
		{"usage.minutes", ``, "$: the input is empty"},
		{"usage.minutes", `{"from":`, "$: the input is not JSON"},
		{"usage.minutes", `{} {}`, "$: something stands after"},
		{"usage.minutes", `[]`, "$: got array, want object"},
		{
			"usage.minutes",
			`{"to":"2026-11-08","rehearsals":[],"breaks":[],"practice_minutes_per_week":70,"vacation_share":0}`,
			"from: missing",
		},
		{
			"usage.minutes",
			`{"from":"2026-11-02","to":"2026-11-08","rehearsals":[],"breaks":[],"practice_minutes_per_week":70,"vacation_share":0,"mood":1}`,
			"mood: unknown field",
		},
		{
			"usage.minutes",
			`{"from":"2026-11-02","to":"2026-11-08","rehearsals":[{"weekday":2,"minutes":50,"play_factor":0.6},{"weekday":2,"minutes":"50","play_factor":0.6}],"breaks":[],"practice_minutes_per_week":70,"vacation_share":0}`,
			"rehearsals[1].minutes: got string, want number",
		},
		{
			"usage.minutes",
			`{"from":"2.11.2026","to":"2026-11-08","rehearsals":[],"breaks":[],"practice_minutes_per_week":70,"vacation_share":0}`,
			`from: "2.11.2026" is not a day`,
		},
		{
			"usage.minutes",
			`{"from":"2026-02-30","to":"2026-11-08","rehearsals":[],"breaks":[],"practice_minutes_per_week":70,"vacation_share":0}`,
			`from: "2026-02-30" is not a day`,
		},
		{
			"usage.minutes",
			`{"from":"2026-11-02","to":"2026-11-08","rehearsals":null,"breaks":[],"practice_minutes_per_week":70,"vacation_share":0}`,
			"rehearsals: got null, want array",
		},
		{
			"care.due",
			`{"started":"2026-11-02","today":"2026-11-08","limits":{"days":1e999},"usage":{"rehearsals":[],"breaks":[],"practice_minutes_per_week":0,"vacation_share":0}}`,
			"limits.days: number 1e999 does not fit",
		},
		{"care.limit", `{"base":{"days":30},"players":1.5}`, "players: got number, want integer"},
		{
			"condition.triage",
			`{"findings":[{"code":"x","severity":9,"action":"none","avoidable":false,"touches_tone":false}]}`,
			"findings[0].severity: ",
		},
		{
			"condition.triage",
			`{"findings":[{"code":"x","severity":1,"action":"pray","avoidable":false,"touches_tone":false}]}`,
			"findings[0].action: ",
		},
		{
			"condition.triage",
			`{"findings":[{"code":"x","severity":1,"action":"none","touches_tone":false}]}`,
			"findings[0].avoidable: missing",
		},
		{"fit.size", `{"kind":"kazoo","arm_length_cm":50}`, "kind: "},
		{"fit.size", `{"kind":"violin","height_cm":150}`, "arm_length_cm: missing"},
		{"fit.growth", `{"measurements":[{"date":"2026-01-01","cm":50}],"threshold_cm":56}`, "measurements: 1 is not enough"},
		{"assign.match", `{"cost":[[1,2],[3]]}`, "cost[1]: has 1 entries"},
		{"assign.match", `{"cost":[[1,"2"]]}`, "cost[0][1]: "},
		{
			"kits.forecast",
			`{"demand_per_week":1,"horizon_weeks":1,"lead_weeks":1,"stock":0,"pack_size":1,"service_level":1,"pack_price_cents":5}`,
			"service_level: 1 is not between",
		},
		{"reeds.break-in", `{"opened":"2026-12-01","program_minutes":[]}`, "program_minutes: "},
		{"reeds.latest-open", `{"needed_on":"2026-12-01","program_minutes":[5],"rest_days":null}`, "rest_days: got null, want array"},
		{
			"reeds.rotate", `{"reeds":[{"id":"a","state":"ready","minutes_played":0}],"today":"2026-12-01","keep":3}`,
			"reeds[0].last_played: missing",
		},
		{"strings.plan", `{"strings":4,"concert":"2026-12-12","settle_days":3,"mode":"all"}`, "mode: "},
		{"strings.plan", `{"strings":1.5,"concert":"2026-12-12","settle_days":3,"mode":"one-a-day"}`, "strings: got number, want integer"},
		{
			"strings.section-plan",
			`{"instruments":[{"id":"a","strings":4,"minutes_per_string":1e999}],"bench_minutes":[],"concert":"2026-12-12","settle_days":3,"mode":"one-a-day"}`,
			"instruments[0].minutes_per_string: number 1e999 does not fit",
		},
		{"bow.rosin", `{"practice_minutes_per_day":-5}`, "practice_minutes_per_day: -5 is"},
		{"bow.rehair-or-new", `{"rehair_cents":6000,"bow_value_cents":9000}`, "straight: missing"},
		{"lifespan.estimate", `{"durations":[5,null],"ended":[true,true]}`, "durations[1]: got null, want number"},
		{"lifespan.compare", `{"a":{"durations":[5],"ended":[true]},"b":{"durations":[],"ended":[]}}`, "b.durations: "},
		{"shop.charge", `{"repair_cents":-1,"age_years":1,"life_years":1,"avoidable":true}`, "repair_cents: -1 is no price"},
		{"hygiene.dilution", `{"volume_ml":100,"target_pct":70,"stock_pct":60}`, "target_pct: 70 is stronger"},
		{"hygiene.supplies", `{"instruments":[{"kind":"flute","body":"glass","mouthpiece":false,"reeds":0}]}`, "instruments[0].body: "},
		{
			"hygiene.bench",
			`{"people":1,"stations":{},"instruments":[{"id":"a","steps":[{"name":"wash","active_minutes":2.5,"wait_minutes":0,"station_held_while_waiting":false}]}]}`,
			"instruments[0].steps[0].active_minutes: got number, want integer",
		},
		{
			"care.timebox",
			`{"minutes":25,"helpers":0,"tasks":[{"id":"a","value":1,"minutes":5,"setup":"sink"}],"setups":{}}`,
			`tasks[0].setup: "sink" is not among setups`,
		},
	}
	for _, tt := range tests {
		c, err := Find(tt.name)
		require.NoError(t, err)
		_, err = c.Call(context.Background(), []byte(tt.in))
		assert.ErrorContains(t, err, tt.want, tt.in)
	}
}

func TestFindUnknown(t *testing.T) {
	_, err := Find("care.guess")
	assert.EqualError(t, err, `there is no calculator "care.guess"`)
}
