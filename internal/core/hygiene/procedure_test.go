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
	"solfeggio/internal/core/schedule"
)

func everywhere(c *catalog.Catalog) (keys []string) {
	for _, s := range c.Surfaces {
		keys = append(keys, s.Key)
	}
	return keys
}

var disinfectants = []string{"alcohol", "alcohol-wipe", "disinfectant", "antibacterial-cleaner"}

// bearsNot lists what disinfects and must not touch a material, in words of its own (common practice, no published source).
var bearsNot = map[string][]string{
	"varnish": disinfectants[:3], "wood": disinfectants[:3], "bow-hair": disinfectants, "bare-wood": disinfectants, "pads": disinfectants,
	"lacquer": {"alcohol", "alcohol-wipe"}, "wood-stick": {"alcohol", "alcohol-wipe"}, "bar-wood": disinfectants, "felt": disinfectants,
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
				), Name: fmt.Sprint("Product ", n), Group: rapid.SampledFrom(disinfectants).Draw(t, "group"),
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
				n := slices.IndexFunc(r.Steps, func(step catalog.Step) bool { return step.Bench != nil && step.Do == s.Do })
				for _, key := range r.Steps[n].Parts {
					part, _ := kind.Part(key)
					require.NotContains(t, bearsNot[part.MaterialOf(of)], s.Product.Group, "%s (%s), %s", kind.Name, of.Body, s.Do)
				}
			}
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
		{"a", "Brightwater 70", "alcohol", 1, []string{"reed-mouthpiece", "metal-mouthpiece", "body-outside", "bore", "lip-plate"}, true},
		{"w", "Calm Case Wipes", "disinfectant", 4, []string{"case-outside", "case-lining"}, true},
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
	assert.Equal(t, "Bore with a dry swab only.", bore.Do)
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
	products := append(owned(), Product{"s", "Slow Alcohol", "alcohol", 9, []string{"reed-mouthpiece", "bore"}, true})
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
