package catalog

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What a case holds beside the instrument; common practice, no published source.
func TestKitsOfTheTrade(t *testing.T) {
	c := Embedded()
	for kind, want := range map[string][]string{
		"flute": {"cleaning-rod", "body-swab", "head-joint-swab", "key-brush", "polishing-cloth"},
		"clarinet-b-flat": {"weighted-swab", "mouthpiece-brush", "cork-grease", "reed-clarinet", "reed-holder", "mouthpiece-patch",
			"mouthpiece-cap", "ligature"},
		"clarinet-bass":  {"reed-clarinet-bass", "floor-peg"},
		"alto-saxophone": {"saxophone-strap", "end-plug", "reed-saxophone-alto"},
		"trumpet": {"valve-oil", "slide-grease", "mouthpiece-brush", "snake", "casing-brush", "polishing-cloth", "sponge-mat",
			"mouthpiece-pouch"},
		"horn":               {"rotor-oil", "slide-grease"},
		"trombone":           {"slide-lubricant", "slide-spray"},
		"tuba":               {"tuba-stand"},
		"violin":             {"string-cloth", "rosin", "strings-violin", "peg-compound", "mute", "case-hygrometer", "humidifier"},
		"cello":              {"endpin-stop", "strings-cello"},
		"vibraphone":         {"mallets", "petroleum-jelly", "light-oil", "bar-cord"},
		"baritone-saxophone": {"reed-saxophone-baritone"},
	} {
		k, ok := c.Kind(kind)
		require.True(t, ok, kind)
		kit := c.KitOf(k)
		for _, supply := range want {
			_, in := kit.Item(supply)
			assert.True(t, in, "%s of a %s", supply, kind)
		}
	}
	reeds, _ := c.kits["clarinet"].Item("reed-clarinet")
	assert.Equal(t, 3, reeds.Wanted(), "one in use and two spares")
	cloths, _ := c.kits["violin"].Item("string-cloth")
	assert.Equal(t, 2, cloths.Wanted(), "one for strings, one for wood")
}

// Every supply is in a kit or used at the bench, and can be there or missing.
func TestEverySupplyIsUsed(t *testing.T) {
	c := Embedded()
	inKit := map[string]bool{}
	for _, k := range c.Kinds {
		for _, i := range c.KitOf(&k).Items {
			inKit[i.Supply] = true
		}
	}
	for _, s := range c.Supplies {
		assert.True(t, inKit[s.Key] != (s.AtBench || s.Single != nil), "%s", s.Key)
		assert.True(t, slices.Contains(s.States(), There) && slices.Contains(s.States(), Missing), s.Key)
		assert.Equal(t, s.RunsOut, slices.Contains(s.States(), Low), s.Key)
		assert.Equal(t, s.GetsWet, slices.Contains(s.States(), Wet), s.Key)
	}
	set, _ := c.Supply("strings-violin")
	assert.Equal(t, "3/4", set.In("3/4", "2.5"))
	rosin, _ := c.Supply("rosin")
	assert.Empty(t, rosin.In("3/4", "2.5"))
	assert.Equal(t, []string{"Violin strings 3/4", "Rosin cake"}, []string{set.Called("3/4"), rosin.Called("")})
}

// Every kind that is played with a reed has strengths, and no other.
func TestReedsHaveStrengths(t *testing.T) {
	c := Embedded()
	for _, k := range c.Kinds {
		reed := slices.ContainsFunc(c.KitOf(&k).Items, func(i KitItem) bool { return strings.HasPrefix(i.Supply, "reed-") && i.ToPlay })
		assert.Equal(t, reed, len(k.Strengths) > 0, k.Key)
	}
	reed, _ := c.Supply("reed-clarinet")
	assert.Equal(
		t,
		[]string{"2.5", "", ""},
		[]string{reed.In("", "2.5"), reed.In("", ""), reed.In("", "medium")},
		"an oboist's strength is none of a clarinet",
	)
	assert.Equal(
		t,
		[]string{"B-flat clarinet reed 2.5", "B-flat clarinet reed, any strength"},
		[]string{reed.Called("2.5"), reed.Called("")},
	)
	for _, wrong := range []Supply{{Pack: 1, BySize: true, Strengths: []string{"2"}}, {Pack: 1, Strengths: []string{"2", "2"}},
		{Pack: 1, Strengths: []string{""}}} {
		assert.ErrorContains(t, c.checkSupply(wrong), "strengths")
	}
}

func TestInText(t *testing.T) {
	for name, want := range map[string]string{"Valve oil": "valve oil", "B-flat clarinet reed": "B-flat clarinet reed", "": "", "A": "A"} {
		assert.Equal(t, want, InText(name))
	}
}

// A supply of a school's own is its key; what the catalogue has under that name, and what no name can be, is refused.
func TestASupplyOfTheSchoolsOwn(t *testing.T) {
	c := Embedded()
	key, err := c.OwnSupplyKey("  Saddle   soap ")
	require.NoError(t, err)
	assert.Equal(t, "own~Saddle soap", key)
	s, ok := c.Supply(key)
	require.True(t, ok)
	assert.Equal(t, []any{"Saddle soap", "piece", 1., true, "Saddle soap"}, []any{s.Name, s.Unit, s.Pack, s.Own(), s.Called("")})
	for name, want := range map[string]string{"valve OIL": "is known already, as Valve oil", "": "needs a name", "a~b": "needs a name",
		strings.Repeat("x", 41): "needs a name"} {
		_, err := c.OwnSupplyKey(name)
		require.ErrorContains(t, err, want, name)
	}
	for _, key := range []string{"own~", "own~Valve oil", "own~ Soap", "soap", "other~Soap"} {
		_, ok := c.Supply(key)
		assert.False(t, ok, key)
	}
	for _, s := range c.Supplies {
		assert.False(t, s.Own(), s.Key)
	}
	near, ok := c.SupplySpelled("Valve oyl")
	require.True(t, ok)
	assert.Equal(t, "valve-oil", near.Key)
	_, ok = c.SupplySpelled("Saddle soap")
	assert.False(t, ok)
}
