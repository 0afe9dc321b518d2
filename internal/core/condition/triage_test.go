package condition

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"solfeggio/internal/core/catalog"
)

func known(t testing.TB, codes ...string) TriageIn {
	in := TriageIn{}
	for _, code := range codes {
		f, ok := catalog.Embedded().Finding(code)
		require.True(t, ok, code)
		in.Findings = append(in.Findings, Of(f))
	}
	return in
}

// What each finding weighs is common practice, no published source.
func TestTriage(t *testing.T) {
	days := func(n int) *int { return &n }
	tests := []struct {
		codes  []string
		action Action
		grade  Grade
		due    *int
	}{
		{nil, None, Concert, nil},
		{[]string{"tarnish"}, None, Concert, nil},
		{[]string{"case-dirty"}, Habit, Concert, days(1)},
		{[]string{"string-worn"}, Director, Class, days(7)}, // small, but it is heard
		{[]string{"bare-wood"}, Shop, Concert, days(21)},    // small, and not heard
		{[]string{"sticky-pad"}, Director, Class, days(7)},
		{[]string{"neck-bent"}, Shop, Limping, days(21)},
		{[]string{"mouthpiece-stuck"}, ShopNow, Limping, days(2)},
		{[]string{"mouthpiece-stuck", "case-dirty"}, ShopNow, Limping, days(1)}, // the worst action, the nearest deadline
		{[]string{"open-seam"}, Stop, Silent, days(0)},
		{[]string{"string-worn", "open-seam", "bow-hair-worn"}, Stop, Silent, days(0)},
	}
	for _, tt := range tests {
		got, err := Triage(known(t, tt.codes...))
		require.NoError(t, err)
		assert.Equal(t, tt.action, got.Action, tt.codes)
		assert.Equal(t, tt.grade, got.Grade, tt.codes)
		assert.Equal(t, tt.due, got.DueDays, tt.codes)
		assert.NotEmpty(t, got.Why.Statement)
	}
}

// Open seam: slacken the strings, no glue. The gravest finding speaks first, and nothing is said twice.
func TestFirstAidOfTheGravestComesFirst(t *testing.T) {
	got, err := Triage(known(t, "string-worn", "open-seam", "crack"))
	require.NoError(t, err)
	assert.Contains(t, got.FirstAid[0], "Slacken all strings at once")
	assert.Equal(t, "No glue.", got.Never[0])
	unique := slices.Clone(got.Never)
	slices.Sort(unique)
	assert.Len(t, slices.Compact(unique), len(got.Never))
	assert.Equal(t, "open seam, crack", Stops(known(t, "string-worn", "open-seam", "crack").Findings))

	other, err := Triage(TriageIn{Findings: []Finding{{Code: "gremlins", Severity: 3, Action: Shop}}})
	require.NoError(t, err)
	assert.Empty(t, other.FirstAid, "a finding that the catalogue does not have is weighed all the same")
	assert.Equal(t, Limping, other.Grade)
}

func TestTriageRefuses(t *testing.T) {
	_, err := Triage(TriageIn{Findings: []Finding{{Severity: 1, Action: Shop}, {Severity: 5, Action: Shop}}})
	assert.EqualError(t, err, "findings[1].severity: 5 is no severity; use 0 to 4")
	_, err = Triage(TriageIn{Findings: []Finding{{Severity: 1, Action: "pray"}}})
	assert.ErrorContains(t, err, `findings[0].action: "pray" is no action`)
}

func anyFinding(t *rapid.T) Finding {
	return Finding{
		Code: rapid.SampledFrom([]string{"x", "open-seam", "string-worn"}).
			Draw(t, "code"),
		Severity: rapid.IntRange(0, 4).Draw(t, "severity"),
		Action: rapid.SampledFrom(Actions).
			Draw(t, "action"),
		Avoidable: rapid.Bool().Draw(t, "avoidable"), TouchesTone: rapid.Bool().Draw(t, "tone"),
	}
}

// Adding a finding never betters the grade, the action or the deadline, whatever was there before and in whatever order.
func TestTriageIsMonotone(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		findings := rapid.SliceOfN(rapid.Custom(anyFinding), 0, 6).Draw(t, "findings")
		before, err := Triage(TriageIn{findings})
		if err != nil {
			t.Fatal(err)
		}
		at := rapid.IntRange(0, len(findings)).Draw(t, "at")
		after, err := Triage(TriageIn{slices.Insert(slices.Clone(findings), at, anyFinding(t))})
		if err != nil {
			t.Fatal(err)
		}
		if slices.Index(Grades, after.Grade) < slices.Index(Grades, before.Grade) {
			t.Fatalf("grade %s became %s", before.Grade, after.Grade)
		}
		if slices.Index(Actions, after.Action) < slices.Index(Actions, before.Action) {
			t.Fatalf("action %s became %s", before.Action, after.Action)
		}
		if before.DueDays != nil && (after.DueDays == nil || *after.DueDays > *before.DueDays) {
			t.Fatalf("deadline %d became %v", *before.DueDays, after.DueDays)
		}
		for _, never := range before.Never {
			if !slices.Contains(after.Never, never) {
				t.Fatalf("the prohibition %q is gone", never)
			}
		}
	})
}

// A full triage: every finding that a violin can have, at once.
func BenchmarkTriage(b *testing.B) {
	violin, _ := catalog.Embedded().Kind("violin")
	in := TriageIn{}
	for _, f := range catalog.Embedded().FindingsOf(violin) {
		in.Findings = append(in.Findings, Of(f))
	}
	b.ReportMetric(float64(len(in.Findings)), "findings")
	for b.Loop() {
		if _, err := Triage(in); err != nil {
			b.Fatal(err)
		}
	}
}
