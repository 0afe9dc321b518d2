package app_test

import (
	"bytes"
	"os/exec"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/preparing"
)

// The calendar read by python3-icalendar: its secret opens it, a new secret closes the old, and no player stands in it.
func TestTheCalendarIsRead(t *testing.T) {
	h := rehearsing(t)
	require.NoError(
		t,
		h.Preparing.Accept(ctx, h.director, preparing.StringPlan{Changes: plannedOf(h.before(preparing.Preparing{MinutesADay: 40}).Changes)}),
	)
	old, fresh := strings.Repeat("a", 32), strings.Repeat("b1_", 11)
	share := func(secret string) {
		_, err := h.Preparing.Share(ctx, h.director, preparing.Sharing{Secret: secret})
		require.NoError(t, err)
	}
	share(old)
	var text bytes.Buffer
	require.NoError(t, h.Preparing.FeedOf(ctx, old, &text))
	assert.NotContains(t, text.String(), "Marchetti")
	assert.Equal(t, []string{
		"2026-12-04 Change 1 string", "2026-12-07 Change 1 string", "2026-12-08 Change 1 string", "2026-12-09 Change 1 string",
		"2026-12-12 Winter concert",
	}, readCalendar(t, text.Bytes()))
	share(fresh)
	assert.Equal(t, "This is not there, or not any more.", fault(t, h.Preparing.FeedOf(ctx, old, &text), journal.NotFound).Message)
	text.Reset()
	require.NoError(t, h.Preparing.FeedOf(ctx, fresh, &text))
	assert.Len(t, readCalendar(t, text.Bytes()), 5)
	share("")
	assert.Error(t, h.Preparing.FeedOf(ctx, fresh, &text))
	assert.Equal(
		t,
		"secret",
		fault(t, second(h.Preparing.Share(ctx, h.director, preparing.Sharing{Secret: "short"})), journal.Invalid).Fields[0].Path,
	)
}

// readCalendar lists the whole days of an iCalendar file.
func readCalendar(t *testing.T, file []byte) []string {
	t.Helper()
	cmd := exec.Command("/usr/bin/python3", "-c", `
import sys
from icalendar import Calendar
events = Calendar.from_ical(sys.stdin.buffer.read()).walk("VEVENT")
uids = [str(e["UID"]) for e in events]
assert len(uids) == len(set(uids)), uids
print("\n".join(sorted(f'{e["DTSTART"].dt} {e["SUMMARY"]}' for e in events)))`)
	cmd.Stdin = bytes.NewReader(file)
	out, err := cmd.CombinedOutput()
	require.NoError(t, err, string(out))
	return strings.Split(strings.TrimSpace(string(out)), "\n")
}
