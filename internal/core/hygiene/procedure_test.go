package hygiene

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/core/catalog"
)

// disinfectants are all that a product of a school may be made of.
var disinfectants = []string{"alcohol", "chlorine", "peroxide", "quaternary-ammonium", "acid", "unknown", "antibacterial-cleaner"}

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
