package day

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestDayAgreesWithTheStandardLibrary(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(-40000, 60000).Draw(t, "days since 1970")
		want := time.Date(1970, 1, 1, 0, 0, 0, 0, time.UTC).AddDate(0, 0, n)
		got := Of(want)
		iso := int(want.Weekday())
		if iso == 0 {
			iso = 7
		}
		if got != unixEpoch+Day(n) || got.String() != want.Format("2006-01-02") || int(got.Weekday()) != iso {
			t.Fatalf("day %d: got %s weekday %d, want %s weekday %d", n, got, got.Weekday(), want.Format("2006-01-02"), iso)
		}
		back, err := Parse(got.String())
		if err != nil || back != got {
			t.Fatalf("%s does not read back: %v %v", got, back, err)
		}
	})
}

// No text is read as the day that stands for none, neither the start of 1970 nor the first that can be written.
func TestNoDayIsNone(t *testing.T) {
	assert.True(t, Day(0).IsZero())
	for _, text := range []string{"1970-01-01", "0000-01-01", "0001-01-01"} {
		d := MustParse(text)
		assert.False(t, d.IsZero(), text)
		assert.Equal(t, text, d.String())
	}
}

func TestPartsOfADay(t *testing.T) {
	for text, want := range map[string]Precision{"2026-11-24": Exact, "2026-11": ToMonth, "2026": ToYear} {
		d, p, err := ParsePart(text)
		require.NoError(t, err)
		assert.Equal(t, want, p)
		assert.Equal(t, text, p.In(d))
		assert.True(t, p.Begins(d))
		assert.Equal(t, p == Exact, p.Begins(d+1))
	}
	for _, bad := range []string{"", "26", "2026-13", "2026-11-24-1", "November 2026"} {
		_, _, err := ParsePart(bad)
		assert.ErrorContains(t, err, "is not a day", bad)
	}
}

func TestOfUsesTheCalendarOfTheTimesZone(t *testing.T) {
	east := time.FixedZone("east", 10*3600)
	assert.Equal(t, MustParse("2026-11-25"), Of(time.Date(2026, 11, 25, 2, 0, 0, 0, east)))
}

func TestJSON(t *testing.T) {
	var s Span
	require.NoError(t, json.Unmarshal([]byte(`{"from":"2026-02-28","to":"2026-03-01"}`), &s))
	assert.Equal(t, 2, s.Days())
	out, err := json.Marshal(s)
	require.NoError(t, err)
	assert.JSONEq(t, `{"from":"2026-02-28","to":"2026-03-01"}`, string(out))
	for _, bad := range []string{`{"from":"2026-02-30"}`, `{"from":"28.2.2026"}`, `{"from":20260228}`, `{"from":""}`} {
		assert.ErrorContains(t, json.Unmarshal([]byte(bad), &s), "is not a day", bad)
	}
}

func TestSpan(t *testing.T) {
	a := Span{MustParse("2026-11-02"), MustParse("2026-11-08")}
	assert.Equal(t, Span{MustParse("2026-11-05"), MustParse("2026-11-08")}, a.Clip(Span{MustParse("2026-11-05"), MustParse("2026-12-01")}))
	assert.Zero(t, a.Clip(Span{MustParse("2027-01-01"), MustParse("2027-02-01")}).Days())
	assert.Equal(t, MustParse("2025-03-01"), MustParse("2024-02-29").AddYears(1))
}
