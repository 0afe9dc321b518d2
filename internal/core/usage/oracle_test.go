//go:build oracle

package usage

import (
	"bytes"
	"encoding/json"
	"os/exec"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// An independent reading of the rule, day by day, in Debian's python3.
const dayByDay = `
import json, sys
from datetime import date, timedelta
def one(c):
    d, end = date.fromisoformat(c["from"]), date.fromisoformat(c["to"])
    breaks = [(date.fromisoformat(b["from"]), date.fromisoformat(b["to"])) for b in c["breaks"] or []]
    rehearsal = practice = 0.0
    while d <= end:
        off = any(a <= d <= b for a, b in breaks)
        if not off:
            rehearsal += sum(r["minutes"] * r["play_factor"] for r in c["rehearsals"] or [] if r["weekday"] == d.isoweekday())
        rehearsal += sum(x["minutes"] * x["play_factor"] for x in c.get("extra", []) if x["date"] == d.isoformat())
        logs = [l["minutes"] for l in c.get("logged", []) if l["date"] == d.isoformat()]
        practice += sum(logs) if logs else c["practice_minutes_per_week"] / 7 * (c["vacation_share"] if off else 1)
        d += timedelta(days=1)
    return {"rehearsal_minutes": rehearsal, "practice_minutes": practice, "total_minutes": rehearsal + practice}
json.dump([one(c) for c in json.load(sys.stdin)], sys.stdout)
`

func TestMinutesAgreesWithPython(t *testing.T) {
	cases := make([]In, 300)
	draw := rapid.Custom(drawIn)
	for i := range cases {
		cases[i] = draw.Example(i)
	}
	input, err := json.Marshal(cases)
	require.NoError(t, err)
	cmd := exec.Command("/usr/bin/python3", "-c", dayByDay)
	cmd.Stdin = bytes.NewReader(input)
	output, err := cmd.Output()
	require.NoError(t, err)
	var want []Out
	require.NoError(t, json.Unmarshal(output, &want))
	require.Len(t, want, len(cases))
	for i, in := range cases {
		got, err := Minutes(in)
		require.NoError(t, err)
		assert.InDelta(t, want[i].RehearsalMinutes, got.RehearsalMinutes, 1e-6, "%+v", in)
		assert.InDelta(t, want[i].PracticeMinutes, got.PracticeMinutes, 1e-6, "%+v", in)
	}
}
