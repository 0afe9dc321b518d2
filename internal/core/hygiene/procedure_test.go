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

func everywhere(c *catalog.Catalog) (keys []string) {
	for _, s := range c.Surfaces {
		keys = append(keys, s.Key)
	}
	return keys
}

// disinfectants are all that a product of a school may be made of.
var disinfectants = []string{"alcohol", "chlorine", "peroxide", "quaternary-ammonium", "acid", "unknown", "antibacterial-cleaner"}

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

// What does not dry off is rinsed off: the plan gets the step with its minutes and its sink. Alcohol dries, and no sink is asked for.
func TestARinseIsPlannedWhereTheProductAsksForIt(t *testing.T) {
	quat := Product{"q", "Clearwell Quat", []string{"quaternary-ammonium"}, 10, []string{"reed-mouthpiece", "metal-mouthpiece"}, true}
	both := Product{"b", "Twofold Spray", []string{"alcohol", "quaternary-ammonium"}, 2, []string{"reed-mouthpiece"}, true}
	for _, tt := range []struct {
		kind, body string
		product    Product
		rinsed     bool
	}{
		{"clarinet-b-flat", "plastic", owned()[0], false},
		{"clarinet-b-flat", "plastic", quat, true},
		{"clarinet-b-flat", "plastic", both, true},
		{"trumpet", "lacquer", owned()[0], false},
		{"trumpet", "lacquer", quat, true},
	} {
		products := []Product{tt.product, owned()[1], {"o", "Brightwater Rest", []string{"alcohol"}, 1, []string{"body-outside", "bore"}, true}}
		_, p := prepare(t, tt.kind, tt.body, products)
		require.Empty(t, p.Cannot, tt.product.Name)
		at := slices.IndexFunc(p.Steps, func(s Step) bool { return s.Name == "Mouthpiece" })
		names := []string{p.Steps[at+1].Name}
		if tt.rinsed {
			names = append(names, p.Steps[at+2].Name)
			assert.Equal(t, "sink", p.Steps[at+1].Station)
			assert.Equal(t, 1, p.Steps[at+1].Active)
			assert.Contains(t, p.Steps[at+1].Do, "drinking water")
			assert.Equal(t, []string{"Rinse the mouthpiece", "Dry the mouthpiece"}, names, tt.product.Name)
		} else {
			assert.Equal(t, []string{"Dry the mouthpiece"}, names, tt.product.Name)
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

// After an illness a shared chin rest is cleaned away from the instrument, or it is said that it was not.
func TestAChinRestAfterAnIllness(t *testing.T) {
	c := catalog.Embedded()
	k, _ := c.Kind("violin")
	wipes := Product{"p", "Small Wipes", []string{"alcohol"}, 1, []string{"contact-points"}, true}
	for _, tt := range []struct {
		board    string
		products []Product
		says     string
	}{
		{"ebony", append(owned(), wipes), "Take the chin rest off"},
		{"ebony", owned(), "Not cleaned"},
		{"unknown", append(owned(), wipes), "Not cleaned"},
	} {
		of := catalog.Subject{Kind: k, Body: "varnish", Choices: c.Choose(catalog.Choices{"board-surface": tt.board})}
		p := Prepare(c, c.BenchRoutines(k, catalog.Illness)[0], of, catalog.Illness, tt.products, nil)
		require.Empty(t, p.Cannot)
		s := step(t, p, "Chin rest after an illness")
		assert.Contains(t, s.Do, tt.says, tt.board)
		assert.Equal(t, tt.says == "Not cleaned", s.Gate != "", tt.board)
	}
}

func usualStations(c *catalog.Catalog) map[string]int {
	stations := map[string]int{}
	for _, s := range c.Stations() {
		stations[s.Key] = s.Usual
	}
	return stations
}

// owned is what the school of the tests has.
func owned() []Product {
	return []Product{
		{"a", "Brightwater 70", []string{"alcohol"}, 1, []string{"reed-mouthpiece", "metal-mouthpiece", "body-outside", "bore", "lip-plate"}, true},
		{"w", "Calm Case Wipes", []string{"quaternary-ammonium"}, 4, []string{"case-outside", "case-lining"}, true},
	}
}

func prepare(t *testing.T, kind, body string, products []Product) (*catalog.Catalog, Procedure) {
	c := catalog.Embedded()
	k, ok := c.Kind(kind)
	require.True(t, ok)
	of := catalog.Subject{Kind: k, Body: body, Choices: c.Choose()}
	return c, Prepare(c, c.BenchRoutines(k, catalog.Turnover)[0], of, catalog.Turnover, products, nil)
}

func step(t *testing.T, p Procedure, name string) Step {
	n := slices.IndexFunc(p.Steps, func(s Step) bool { return s.Name == name })
	require.GreaterOrEqual(t, n, 0, name)
	return p.Steps[n]
}

func TestEachMaterialGetsItsOwn(t *testing.T) {
	_, plastic := prepare(t, "clarinet-b-flat", "plastic", owned())
	require.Empty(t, plastic.Cannot)
	assert.Equal(t, "Brightwater 70", step(t, plastic, "Bore").Product.Name)
	assert.Zero(t, plastic.RestHours)
	assert.Equal(t, 4, step(t, plastic, "Case outside").Wait)
	assert.Equal(t, 25, step(t, plastic, "Case inside").Wait, "drying takes longer than the contact")

	_, wood := prepare(t, "clarinet-b-flat", "wood", owned())
	require.Empty(t, wood.Cannot)
	bore := step(t, wood, "Bore")
	assert.Nil(t, bore.Product)
	assert.Equal(t, "Draw a dry swab through the bore, and nothing else.", bore.Do)
	assert.Contains(t, bore.Gate, "No alcohol here")
	assert.Equal(t, 72, wood.RestHours)
	assert.NotNil(t, step(t, wood, "Mouthpiece").Product, "its mouthpiece is hard rubber all the same")

	_, lacquer := prepare(t, "alto-saxophone", "lacquer", owned())
	require.Empty(t, lacquer.Cannot)
	assert.Contains(t, step(t, lacquer, "Outside of the joints").Gate, "lacquer")

	_, violin := prepare(t, "violin", "varnish", owned())
	require.Empty(t, violin.Cannot)
	for _, s := range violin.Steps {
		if !strings.HasPrefix(s.Name, "Case") && s.Name != "Underside" {
			assert.Nil(t, s.Product, s.Name)
		}
	}
}

func TestWhatCannotBeDoneSaysWhatWouldDo(t *testing.T) {
	tests := []struct {
		what    string
		change  func(p []Product) []Product
		because string
	}{
		{"nothing owned", func([]Product) []Product { return nil }, "Case outside: the school has no product for the outside of a case."},
		{
			"no contact time",
			func(p []Product) []Product { p[1].ContactMinutes = 0; return p },
			"Calm Case Wipes: Nobody has entered the contact time from its label.",
		},
		{
			"out of date",
			func(p []Product) []Product { p[0].InDate = false; return p },
			"Brightwater 70: None of it is in stock and in date.",
		},
		{
			"for no surface",
			func(p []Product) []Product { p[1].Surfaces = nil; return p },
			"Calm Case Wipes: Its label does not name the outside of a case.",
		},
	}
	for _, tt := range tests {
		_, p := prepare(t, "clarinet-b-flat", "plastic", tt.change(owned()))
		assert.Contains(t, p.Cannot, tt.because, tt.what)
		assert.Contains(t, p.Cannot, "What would do: alcohol", tt.what)
	}
}

// Whoever has nothing yet hears of everything at once, not of the next thing after each purchase.
func TestAllThatIsLackingIsSaidAtOnce(t *testing.T) {
	_, p := prepare(t, "clarinet-b-flat", "plastic", nil)
	var lacks []string
	for _, l := range p.Lacks {
		lacks = append(lacks, l.Surface)
		assert.NotEmpty(t, l.WouldDo, l.Name)
	}
	assert.Subset(t, lacks, []string{"case-outside", "reed-mouthpiece", "bore"})
	_, has := prepare(t, "clarinet-b-flat", "plastic", owned())
	assert.Empty(t, has.Lacks)
}

func TestAWishIsKeptWhereTheMaterialAllows(t *testing.T) {
	c := catalog.Embedded()
	k, _ := c.Kind("clarinet-b-flat")
	products := append(owned(), Product{"s", "Slow Alcohol", []string{"alcohol"}, 9, []string{"reed-mouthpiece", "bore"}, true})
	p := Prepare(
		c,
		c.BenchRoutines(k, catalog.Turnover)[0],
		catalog.Subject{Kind: k, Body: "plastic", Choices: c.Choose()},
		catalog.Turnover,
		products,
		map[string]string{"bore": "s"},
	)
	assert.Equal(t, "Slow Alcohol", step(t, p, "Bore").Product.Name)
	assert.Equal(t, "Brightwater 70", step(t, p, "Mouthpiece").Product.Name, "the shortest contact where nobody wishes")
	ill := Prepare(
		c,
		c.BenchRoutines(k, catalog.Illness)[0],
		catalog.Subject{Kind: k, Body: "plastic", Choices: c.Choose()},
		catalog.Illness,
		products,
		nil,
	)
	assert.Equal(t, "Ask the nurse", ill.Steps[0].Name)
	assert.NotEqual(t, "Ask the nurse", p.Steps[0].Name)
}

// A batch of June: forty winds and strings, four people. The plan is held against its bound, and the benchmark measures it.
func june() schedule.In {
	c := catalog.Embedded()
	in := schedule.In{People: 4, Stations: usualStations(c)}
	kinds := []string{
		"clarinet-b-flat",
		"flute",
		"trumpet",
		"alto-saxophone",
		"violin",
		"trombone",
		"horn",
		"clarinet-b-flat",
		"cello",
		"oboe",
	}
	for n := range 40 {
		k, _ := c.Kind(kinds[n%len(kinds)])
		p := Prepare(
			c,
			c.BenchRoutines(k, catalog.Turnover)[0],
			catalog.Subject{Kind: k, Body: k.Bodies[0], Choices: c.Choose()},
			catalog.Turnover,
			owned(),
			nil,
		)
		in.Instruments = append(in.Instruments, p.Job(fmt.Sprint("i", n)))
	}
	return in
}

func TestAPlanOfFortyIsNearItsBound(t *testing.T) {
	for _, in := range []schedule.In{june(),
		func() schedule.In { in := june(); in.Stations["sink"], in.Stations["drying"] = 3, 4; return in }()} {
		out, err := schedule.Plan(context.Background(), in)
		require.NoError(t, err)
		assert.LessOrEqual(
			t,
			float64(out.MakespanMinutes),
			1.05*float64(out.LowerBoundMinutes),
			"%d minutes, bound %d by %s",
			out.MakespanMinutes,
			out.LowerBoundMinutes,
			out.BoundBy,
		)
	}
}

func BenchmarkBenchOfForty(b *testing.B) {
	in := june()
	for b.Loop() {
		if _, err := schedule.Plan(context.Background(), in); err != nil {
			b.Fatal(err)
		}
	}
}
