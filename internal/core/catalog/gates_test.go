package catalog

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// never lists what must not meet, in words of its own: the check does not ask the catalogue's lists of what a material
// forbids, but what each product is made of. Common practice, no published source.
var never = []struct {
	what      string
	materials []string
	products  []string
}{
	{"alcohol on varnish", []string{"varnish"}, []string{"alcohol", "alcohol-wipe", "denatured-alcohol"}},
	{"household polish or spray on varnish", []string{"varnish"}, []string{"household-polish", "spray", "rosin-remover", "standing-water"}},
	{
		"alcohol, water or heat in a wooden bore",
		[]string{"wood"},
		[]string{"alcohol", "alcohol-wipe", "denatured-alcohol", "water", "soap", "lukewarm-water", "hot-water", "soaking", "heat"},
	},
	{"vinegar on cork", []string{"cork"}, []string{"vinegar", "soaking"}},
	{
		"liquid on pads",
		[]string{"pads"},
		[]string{
			"water",
			"soap",
			"lukewarm-water",
			"hot-water",
			"damp-cloth",
			"alcohol",
			"alcohol-wipe",
			"denatured-alcohol",
			"vinegar",
			"oil",
			"valve-oil",
			"light-oil",
			"instrument-cleaner",
			"spray",
		},
	},
	{
		"a treated cloth inside a bore",
		[]string{"silver-plate", "solid-silver", "lacquer", "brass", "plastic", "wood", "pads"},
		[]string{"treated-cloth-inside"},
	},
	{"hot water on hard rubber", []string{"hard-rubber"}, []string{"hot-water"}},
	{
		"denatured alcohol or abrasive on lacquer",
		[]string{"lacquer"},
		[]string{"denatured-alcohol", "alcohol", "paste", "abrasive", "steel-wool"},
	},
	{
		"anything wet on bow hair or bare wood",
		[]string{"bow-hair", "bare-wood"},
		[]string{
			"water",
			"soap",
			"lukewarm-water",
			"damp-cloth",
			"alcohol",
			"alcohol-wipe",
			"instrument-cleaner",
			"oil",
			"light-oil",
			"rosin-remover",
		},
	},
	{"oil on felt or cord", []string{"felt", "cord"}, []string{"petroleum-jelly", "light-oil", "penetrating-oil", "oil", "rotor-oil"}},
	{"pliers or bare metal on brass", []string{"brass"}, []string{"pliers", "bare-metal-brush"}},
}

// wet is what leaves a body wet, when an open seam or bare wood drinks it.
var wet = []string{
	"water",
	"soap",
	"lukewarm-water",
	"damp-cloth",
	"alcohol",
	"alcohol-wipe",
	"instrument-cleaner",
	"antibacterial-cleaner",
	"spray",
	"rosin-remover",
}

// Whatever sides a school takes, no routine of any kind in any material brings what must not meet.
func TestNoRoutineEverHarms(t *testing.T) {
	c := Embedded()
	rapid.Check(t, func(t *rapid.T) {
		choices := Choices{}
		for _, p := range c.Practices {
			choices[p.Key] = rapid.SampledFrom(p.Options).Draw(t, p.Key).Key
		}
		dry := rapid.Bool().Draw(t, "an open seam")
		for i := range c.Kinds {
			kind := &c.Kinds[i]
			for _, body := range kind.Bodies {
				of := Subject{Kind: kind, Body: body, Choices: choices}
				if dry {
					of.DryOnly = "Open seam"
				}
				for _, key := range kind.Routines {
					r, _ := c.Routine(key)
					resolved, _ := c.Resolve(r, of)
					for _, s := range resolved.Steps {
						checkStep(t, of, key, s)
					}
				}
			}
		}
	})
}

func checkStep(t *rapid.T, of Subject, routine string, s ResolvedStep) {
	kind, body, dry := of.Kind, of.Body, of.DryOnly != ""
	for _, key := range s.Parts {
		part, _ := kind.Part(key)
		material := part.MaterialOf(of)
		for _, product := range s.Products {
			for _, n := range never {
				if slices.Contains(n.materials, material) && slices.Contains(n.products, product) {
					t.Fatalf("%s (%s), %s: %s: %s", kind.Name, body, routine, n.what, s.Do)
				}
			}
			if dry && part.Material == "body" && slices.Contains(wet, product) {
				t.Fatalf("%s, %s: %s on a body with an open seam: %s", kind.Name, routine, product, s.Do)
			}
		}
	}
}

// A material wins over a choice, and the step says so and what is done instead.
func TestAGateSaysWhy(t *testing.T) {
	c := Embedded()
	violin, _ := c.Kind("violin")
	clean, _ := c.Routine("strings-deep-clean")
	choices := c.Choose(Choices{"varnish": "damp-cloth"})
	body := func(of Subject) ResolvedStep {
		resolved, ok := c.Resolve(clean, of)
		require.True(t, ok)
		n := slices.IndexFunc(resolved.Steps, func(s ResolvedStep) bool { return slices.Contains(s.Parts, "body") && s.Instead != "" })
		require.GreaterOrEqual(t, n, 0)
		return resolved.Steps[n]
	}
	sound := body(Subject{Kind: violin, Body: "varnish", Choices: choices})
	assert.Contains(t, sound.Do, "well wrung cloth")
	assert.Empty(t, sound.Gate)
	open := body(Subject{Kind: violin, Body: "varnish", Choices: choices, DryOnly: "Open seam"})
	assert.Equal(t, "Body with a dry microfibre cloth only.", open.Do)
	assert.Equal(t, "No well wrung damp cloth until it is mended: Open seam.", open.Gate)
	assert.Empty(t, open.Products)

	polish, _ := c.Routine("silver-polish")
	flute, _ := c.Kind("flute")
	_, wanted := c.Resolve(polish, Subject{Kind: flute, Body: "silver-plate", Choices: c.Choose()})
	assert.False(t, wanted, "the default leaves tarnish to the shop")
}
