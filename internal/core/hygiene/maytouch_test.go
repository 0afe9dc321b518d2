package hygiene

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/field"
	"solfeggio/internal/core/schedule"
)

// mayTouch is the table of what bears what, written down a second time (from memory: what makers of such products print).
var mayTouch = map[string]string{
	"plastic": "alcohol chlorine peroxide quaternary-ammonium acid soap", "hard-rubber": "alcohol quaternary-ammonium acid soap",
	"brass": "alcohol quaternary-ammonium soap", "copper": "alcohol quaternary-ammonium soap", "bronze": "alcohol quaternary-ammonium soap",
	"bar-metal": "alcohol quaternary-ammonium soap", "fittings": "alcohol quaternary-ammonium soap",
	"frame": "alcohol quaternary-ammonium soap", "stand": "alcohol quaternary-ammonium soap", "lacquer": "quaternary-ammonium soap",
	"silver-plate": "alcohol soap", "nickel-plate": "alcohol soap", "solid-silver": "alcohol soap", "metal-string": "alcohol",
	"ebony": "alcohol", "cloth": "alcohol quaternary-ammonium soap",
	"case-outside": "alcohol peroxide quaternary-ammonium soap unknown", "case-lining": "alcohol quaternary-ammonium",
}

func everywhere(c *catalog.Catalog) (keys []string) {
	for _, s := range c.Surfaces {
		keys = append(keys, s.Key)
	}
	return keys
}

func bears(material, active string) bool {
	return slices.Contains(strings.Fields(mayTouch[material]), active)
}

// The calculator answers by the table for every material and active that there is.
func TestMayTouchIsTheTable(t *testing.T) {
	materials := []string{"case-outside", "case-lining"}
	for _, m := range catalog.Embedded().Materials {
		materials = append(materials, m.Key)
	}
	for known := range mayTouch {
		require.Contains(t, materials, known)
	}
	for _, material := range materials {
		for _, active := range []string{"alcohol", "chlorine", "peroxide", "quaternary-ammonium", "acid", "soap", "unknown"} {
			for _, mouth := range []bool{false, true} {
				out, err := MayTouch(MayTouchIn{material, active, mouth})
				require.NoError(t, err)
				after := catalog.NothingAfter
				switch {
				case !bears(material, active):
				case active == "alcohol" || strings.HasPrefix(material, "case-"):
					after = catalog.DryAfter
				default:
					after = catalog.RinseAndDry
				}
				assert.Equal(t, bears(material, active), out.Allowed, "%s on %s", active, material)
				assert.Equal(t, after, out.After, "%s on %s", active, material)
				assert.Equal(t, mouth, strings.Contains(out.Why.Statement, "touches a mouth"))
			}
		}
	}
	_, err := MayTouch(MayTouchIn{Material: "custard", Active: "soap"})
	assert.Equal(t, "material", field.Of(err).Path)
	_, err = MayTouch(MayTouchIn{Material: "reed-mouthpiece", Active: "soap"})
	assert.Equal(t, "material", field.Of(err).Path, "a surface of an instrument is no material: its parts are")
	_, err = MayTouch(MayTouchIn{Material: "brass", Active: "gin"})
	assert.Equal(t, "active", field.Of(err).Path)
}

// Over the whole catalogue, whatever the school owns and chose: nothing touches what does not bear it, a surface stays wet for the
// time on the label, and what cannot be done says what would do.
func TestNothingTouchesWhatDoesNotBearIt(t *testing.T) {
	c := catalog.Embedded()
	rapid.Check(t, func(t *rapid.T) {
		var products []Product
		for n := range rapid.IntRange(0, 4).Draw(t, "products") {
			products = append(products, Product{
				ID: fmt.Sprint(
					n,
				), Name: fmt.Sprint("Product ", n), MadeOf: rapid.SliceOfNDistinct(rapid.SampledFrom(disinfectants), 1, 2, rapid.ID[string]).
						Draw(t, "made of"),
				ContactMinutes: rapid.IntRange(0, 10).Draw(t, "contact"),
				Surfaces: rapid.SliceOfDistinct(rapid.SampledFrom(everywhere(c)), rapid.ID[string]).
					Draw(t, "label"),
				InDate: rapid.IntRange(0, 3).Draw(t, "in date") > 0,
			})
		}
		choices := catalog.Choices{}
		for _, p := range c.Practices {
			choices[p.Key] = rapid.SampledFrom(p.Options).Draw(t, p.Key).Key
		}
		kind := &c.Kinds[rapid.IntRange(0, len(c.Kinds)-1).Draw(t, "kind")]
		of := catalog.Subject{Kind: kind, Body: rapid.SampledFrom(kind.Bodies).Draw(t, "body"), Choices: choices}
		reason := rapid.SampledFrom(catalog.Reasons).Draw(t, "reason")
		wanted := map[string]string{}
		for _, s := range everywhere(c) {
			wanted[s] = fmt.Sprint(rapid.IntRange(0, 4).Draw(t, "wanted"))
		}
		for _, key := range kind.Routines {
			r, _ := c.Routine(key)
			resolved, _ := c.Resolve(r, of)
			for _, s := range resolved.Steps {
				for _, product := range s.Products {
					g, _ := c.ProductGroup(product)
					for _, part := range s.Parts {
						p, _ := kind.Part(part)
						require.True(t, g.Active == "" || bears(p.MaterialOf(of), g.Active), "%s (%s): %s on %s: %s",
							kind.Name, of.Body, product, p.Name, s.Do)
					}
				}
			}
		}
		for _, r := range c.BenchRoutines(kind, reason) {
			p := Prepare(c, r, of, reason, products, wanted)
			names := map[string]bool{}
			for _, s := range p.Steps {
				require.False(t, names[s.Name], "%s stands twice in %s", s.Name, r.Key)
				names[s.Name] = true
				require.NotEmpty(t, s.Do)
				if s.Product == nil {
					continue
				}
				require.Positive(t, s.Product.ContactMinutes)
				require.True(t, s.Product.InDate)
				require.GreaterOrEqual(t, s.Wait, s.Product.ContactMinutes)
				require.Contains(t, s.Product.Surfaces, s.Surface)
				touched := s.Parts
				if len(touched) == 0 {
					touched = []string{s.Surface}
				}
				for _, key := range touched {
					material := key
					if part, ok := kind.Part(key); ok {
						material = part.MaterialOf(of)
					}
					for _, made := range s.Product.MadeOf {
						require.True(t, made == "antibacterial-cleaner" || bears(material, made), "%s (%s): %s on %s: %s",
							kind.Name, of.Body, made, material, s.Do)
					}
				}
			}
			nothingStaysNearAMouth(t, kind, p)
			if p.Cannot == "" {
				_, err := schedule.Plan(
					context.Background(),
					schedule.In{People: 1, Stations: usualStations(c), Instruments: []schedule.Job{p.Job("a")}},
				)
				require.NoError(t, err)
			}
		}
	})
}

// nothingStaysNearAMouth walks a procedure: what is brought to a part is rinsed off before anything else comes to it, unless it is alcohol,
// which dries; and what touches a mouth ends rinsed and dried.
func nothingStaysNearAMouth(t *rapid.T, kind *catalog.Kind, p Procedure) {
	lies, wet := map[string]string{}, map[string]bool{}
	for _, s := range p.Steps {
		for _, part := range s.Parts {
			var brought []string
			for _, product := range s.Brings {
				switch product {
				case "alcohol", "chlorine", "peroxide", "quaternary-ammonium", "acid", "vinegar", "soap", "unknown":
					brought = append(brought, product)
				case "clean-water":
					require.Contains(t, strings.ToLower(s.Do), "water", "a rinse says what with")
					lies[part], wet[part] = "", true
				case "air", "dry-cloth", "swab":
					wet[part] = false
					if lies[part] == "alcohol" {
						lies[part] = ""
					}
				}
				if slices.Contains(brought, product) {
					wet[part] = true
				}
			}
			if len(brought) > 0 && !slices.Contains(s.Brings, "clean-water") {
				before := lies[part]
				require.True(t, before == "" || before == "alcohol" || slices.Contains(brought, before),
					"%s: %v upon %s and no rinse between: %s", kind.Name, brought, before, s.Do)
				lies[part] = "alcohol"
				for _, product := range brought {
					if product != "alcohol" {
						lies[part] = product
					}
				}
			}
		}
	}
	if p.Cannot != "" {
		return
	}
	for _, part := range kind.Parts {
		if part.Mouth {
			require.Empty(t, lies[part.Key], "%s: left on what touches a mouth: %s", kind.Name, part.Name)
			require.False(t, wet[part.Key], "%s: %s goes away wet", kind.Name, part.Name)
		}
	}
}

// A product of which nobody has said what it is made of goes onto the outside of a case and nowhere else, and is said to.
func TestTheUnknownStaysOutside(t *testing.T) {
	everything := Product{"u", "Old Bottle", []string{"unknown"}, 5, everywhere(catalog.Embedded()), true}
	_, p := prepare(t, "clarinet-b-flat", "plastic", []Product{everything})
	for _, s := range p.Steps {
		if s.Product != nil {
			assert.Equal(t, "case-outside", s.Surface, s.Do)
		}
	}
	assert.Contains(t, p.Cannot, "Old Bottle: Nobody has said what it is made of")
	assert.NotContains(t, p.Cannot, "something that the label does not name")
}

// Bleach reaches no plated ring, and no key work beside a bore, though the plastic itself would bear it.
func TestBleachStaysAwayFromPlating(t *testing.T) {
	bleach := Product{"c", "Strong Bleach", []string{"chlorine"}, 5, []string{"body-outside", "bore", "reed-mouthpiece"}, true}
	_, p := prepare(t, "clarinet-b-flat", "plastic", append(owned()[1:], bleach, Product{
		"a", "Brightwater 70", []string{"alcohol"}, 1, []string{"reed-mouthpiece"}, true,
	}))
	for _, name := range []string{"Outside of the joints", "Bore"} {
		s := step(t, p, name)
		assert.Nil(t, s.Product, name)
		assert.Contains(t, s.Gate, "No chlorine bleach here", name)
	}
	_, recorder := prepare(t, "recorder", "plastic", append(owned(), bleach))
	assert.NotNil(t, step(t, recorder, "Outside").Product, "a plastic recorder has no metal")
}
