package catalog

import (
	"io/fs"
	"maps"
	"slices"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestEveryKindHasItsRoutines(t *testing.T) {
	c := Embedded()
	require.Len(t, c.Kinds, 7)
	for _, k := range c.Kinds {
		rhythms := map[string]bool{}
		for _, key := range k.Routines {
			r, ok := c.Routine(key)
			require.True(t, ok)
			rhythms[r.Rhythm] = true
			assert.NotEmpty(t, r.Tools, key)
		}
		for _, rhythm := range []string{"every time", "weekly", "monthly", "term", "yearly"} {
			assert.True(t, rhythms[rhythm], "%s has no %s routine", k.Key, rhythm)
		}
	}
}

func TestEveryRoutineBelongsToAKind(t *testing.T) {
	c := Embedded()
	used := map[string]bool{}
	for _, k := range c.Kinds {
		for _, r := range k.Routines {
			used[r] = true
		}
	}
	for _, r := range c.Routines {
		assert.True(t, used[r.Key], "%s is in no kind", r.Key)
		if r.Rhythm != "every time" {
			_, ok := r.Limits.For("concert")
			assert.True(t, ok, "%s has no interval", r.Key)
		}
	}
}

// The trade's table of intervals for strings; common practice, no published source, but for cello strings in the
// concert profile and planing there, which are from memory.
func TestIntervalsOfTheTrade(t *testing.T) {
	tests := []struct{ routine, classroom, standard, concert string }{
		{"violin-strings", "365 days", "180 days", "75 days"},
		{"cello-strings", "365 days", "330 days", "180 days"},
		{"bow-rehair", "365 days", "180 days or 200 h of playing", "120 days or 200 h of playing"},
		{"rosin-cake", "365 days", "365 days", "365 days"},
		{"peg-compound", "182 days", "182 days", "182 days"},
		{"fine-tuner-oil", "182 days", "182 days", "182 days"},
		{"luthier-check", "365 days", "365 days", "365 days"},
		{"fingerboard-planing", "", "540 days", "300 days"},
		{"brass-mouthpiece-wash", "7 days", "7 days", "7 days"},
		{"swab-wash", "30 days", "30 days", "30 days"},
	}
	for _, tt := range tests {
		r, ok := Embedded().Routine(tt.routine)
		require.True(t, ok, tt.routine)
		for profile, want := range map[string]string{"classroom": tt.classroom, "standard": tt.standard, "concert": tt.concert} {
			l, _ := r.Limits.For(profile)
			assert.Equal(t, want, l.String(), "%s, %s", tt.routine, profile)
		}
	}
}

// A fault in the data is found when it is loaded, and named.
func TestLoadRefuses(t *testing.T) {
	tests := []struct{ file, old, new, want string }{
		{"data/kinds/flute.yaml", "family: woodwind", "family: kazoo", "data/kinds/flute.yaml: family: "},
		{"data/kinds/flute.yaml", "tag_prefix: FL", "tag_prefix: FL\nmood: good", "mood: unknown field"},
		{"data/kinds/flute.yaml", "swab-wash,", "swab-wish,", `kind flute: no routine "swab-wish"`},
		{"data/kinds/flute.yaml", "kind: flute", "kind: cello", `"cello" stands there twice`},
		{"data/kinds/flute.yaml", "material: pads", "material: felt", `no material "felt"`},
		{"data/kinds/flute.yaml", "key: lip-plate", "key: lips", "keeps a clock on \"lip-plate\""},
		{"data/routines/brass.yaml", "place: sink", "place: bath", `no place "bath"`},
		{"data/routines/brass.yaml", "implies: [brass-mouthpiece-wash", "implies: [mouth", `implies "mouth"`},
		{"data/routines/brass.yaml", "limits: {every: {days: 7}}", "limits: {every: {}}", "routine brass-mouthpiece-wash: limits: base: give at least one"},
		{"data/routines/strings.yaml", "products: [barely-damp-cloth]", "products: [alcohol]", "brings alcohol to Bow stick, which bow stick and frog forbids"},
		{"data/routines/woodwind.yaml", "parts: [tenon-corks]\n        products: [cork-grease]", "parts: [tenon-corks]\n        products: [vinegar]", "brings vinegar to Tenon corks, which cork forbids"},
	}
	for _, tt := range tests {
		files := fstest.MapFS{}
		require.NoError(t, fs.WalkDir(data, "data", func(path string, d fs.DirEntry, err error) error {
			if err == nil && !d.IsDir() {
				text, _ := data.ReadFile(path)
				files[path] = &fstest.MapFile{Data: text}
			}
			return err
		}))
		require.Contains(t, slices.Collect(maps.Keys(files)), tt.file)
		text := string(files[tt.file].Data)
		require.Contains(t, text, tt.old, tt.file)
		files[tt.file] = &fstest.MapFile{Data: []byte(strings.Replace(text, tt.old, tt.new, 1))}
		_, err := load(files)
		assert.ErrorContains(t, err, tt.want)
	}
}
