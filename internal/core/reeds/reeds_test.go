package reeds

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"solfeggio/internal/core/day"
)

// The program of common practice, no published source.
var common = []float64{1, 5, 10, 20, 30}

func days(list ...string) []day.Day {
	var out []day.Day
	for _, s := range list {
		out = append(out, day.MustParse(s))
	}
	return out
}

func TestBreakIn(t *testing.T) {
	tests := []struct {
		name, opened string
		rest         []day.Day
		first, last  string
		ready        string
	}{
		{"five days in a row", "2026-12-01", nil, "2026-12-01", "2026-12-05", "2026-12-06"},
		{"a weekend without playing", "2026-12-03", days("2026-12-05", "2026-12-06"), "2026-12-03", "2026-12-09", "2026-12-10"},
		{"opened on a rest day", "2026-12-05", days("2026-12-06", "2026-12-05"), "2026-12-07", "2026-12-11", "2026-12-12"},
		{"ready on a rest day", "2026-12-01", days("2026-12-06"), "2026-12-01", "2026-12-05", "2026-12-06"},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			out, err := BreakIn(BreakInIn{day.MustParse(tt.opened), common, tt.rest})
			require.NoError(t, err)
			require.Len(t, out.Days, 5)
			assert.Equal(t, tt.first, out.Days[0].Date.String())
			assert.Equal(t, Playing{day.MustParse(tt.last), 30}, out.Days[4])
			assert.Equal(t, tt.ready, out.ReadyOn.String())
		})
	}
}

func TestProgramsThatCannotBe(t *testing.T) {
	for path, program := range map[string][]float64{
		"program_minutes: ": {}, "program_minutes[1]: 0 is": {5, 0}, "program_minutes[0]: -1 is": {-1},
		"program_minutes[2]: 1441 is": {5, 10, 1441},
	} {
		_, err := BreakIn(BreakInIn{ProgramMinutes: program})
		require.ErrorContains(t, err, path)
		_, err = LatestOpen(LatestOpenIn{ProgramMinutes: program})
		assert.ErrorContains(t, err, path)
	}
}

// Opened on the latest day the reed is free in time, opened on any later one it is not.
func TestLatestOpen(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		needed := day.MustParse("2026-12-12")
		program := common[:rapid.IntRange(1, 5).Draw(t, "days")]
		var rest []day.Day
		closed := map[day.Day]bool{}
		for range rapid.IntRange(0, 20).Draw(t, "rest") {
			d := needed - day.Day(rapid.IntRange(0, 25).Draw(t, "rest day"))
			rest, closed[d] = append(rest, d), true
		}
		out, err := LatestOpen(LatestOpenIn{needed, program, rest})
		require.NoError(t, err)
		assert.False(t, closed[out.OpenBy], "opened on a rest day")
		readyOn := func(opened day.Day) day.Day {
			b, err := BreakIn(BreakInIn{opened, program, rest})
			require.NoError(t, err)
			return b.ReadyOn
		}
		assert.LessOrEqual(t, readyOn(out.OpenBy), needed)
		for d := out.OpenBy + 1; d <= needed; d++ {
			assert.True(t, closed[d] || readyOn(d) > needed, d)
		}
	})
}

func TestRotate(t *testing.T) {
	today := day.MustParse("2026-12-10")
	played := func(s string) *day.Day { d := day.MustParse(s); return &d }
	out, err := Rotate(RotateIn{Today: today, Keep: 4, Reeds: []Reed{
		{"yesterday", Ready, 300, played("2026-12-09")},
		{"monday, much played", Ready, 400, played("2026-12-07")},
		{"monday, little played", Ready, 90, played("2026-12-07")},
		{"new", BreakingIn, 6, played("2026-12-09")},
		{"chipped", Worn, 500, played("2026-12-01")},
	}})
	require.NoError(t, err)
	assert.Equal(t, "monday, little played", *out.Play)
	assert.Equal(t, []string{"monday, little played", "monday, much played", "yesterday"}, out.Order)
	assert.Equal(t, []string{"chipped"}, out.Discard)
	assert.Equal(t, 0, out.OpenNew)

	out, err = Rotate(RotateIn{Today: today, Keep: 3, Reeds: []Reed{{"a", Ready, 9, played("2026-12-01")}, {"b", Ready, 9, nil}}})
	require.NoError(t, err)
	assert.Equal(t, []string{"b", "a"}, out.Order, "one never played since its break-in comes first")
	assert.Equal(t, 1, out.OpenNew)

	out, err = Rotate(RotateIn{Reeds: []Reed{}, Today: today, Keep: 3})
	require.NoError(t, err)
	assert.Equal(t, RotateOut{Order: []string{}, Discard: []string{}, OpenNew: 3}, out)
}

func TestRotateRefuses(t *testing.T) {
	today := day.MustParse("2026-12-10")
	tomorrow := today + 1
	tests := []struct {
		path string
		in   RotateIn
	}{
		{"keep: ", RotateIn{Today: today, Keep: -1}},
		{"reeds[0].id: ", RotateIn{Today: today, Reeds: []Reed{{"", Ready, 0, nil}}}},
		{"reeds[1].id: ", RotateIn{Today: today, Reeds: []Reed{{"a", Ready, 0, nil}, {"a", Worn, 0, nil}}}},
		{"reeds[0].state: ", RotateIn{Today: today, Reeds: []Reed{{"a", "soggy", 0, nil}}}},
		{"reeds[0].minutes_played: ", RotateIn{Today: today, Reeds: []Reed{{"a", Ready, -1, nil}}}},
		{"reeds[0].last_played: ", RotateIn{Today: today, Reeds: []Reed{{"a", Ready, 1, &tomorrow}}}},
	}
	for _, tt := range tests {
		_, err := Rotate(tt.in)
		assert.ErrorContains(t, err, tt.path)
	}
}
