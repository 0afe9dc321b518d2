package catalog

import (
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"slices"
	"strings"
	"sync"

	"github.com/goccy/go-yaml"
	"github.com/goccy/go-yaml/parser"

	"solfeggio/internal/core/field"
	"solfeggio/internal/core/schema"
	"solfeggio/internal/core/spelling"
)

//go:embed data
var data embed.FS

// A Catalog is all that is known, ready for look-up. It is read-only.
type Catalog struct {
	Contents
	kinds     map[string]*Kind
	called    map[string]*Kind // by key and by every name, as spelling.Fold has it
	materials map[string]*Material
	products  map[string]*ProductGroup
	places    map[string]*Place
	routines  map[string]*Routine
	practices map[string]*Practice
	findings  map[string]*FindingKind
	templates map[string]*Template
	symptoms  map[string]*Symptom
	supplies  map[string]*Supply
	kits      map[string]*Kit
	surfaces  map[string]*Surface
	charts    map[string]*SizeChart
	roles     map[Role]*Supply
	trades    map[string]*Trade
	repairs   map[string]*Repair
	mistakes  map[string]*Mistake
	actives   map[string]*Active
	sayings   map[string][][]string // ways to say a finding, in words, by its code
	defaults  Choices
}

// Contents are what any file under data may hold, and all of them together.
type Contents struct {
	Kinds      []Kind         `json:"kinds,omitempty"` // in score order
	Materials  []Material     `json:"materials,omitempty"`
	Products   []ProductGroup `json:"products,omitempty"`
	Places     []Place        `json:"places,omitempty"`
	Routines   []Routine      `json:"routines,omitempty"`
	Practices  []Practice     `json:"practices,omitempty"`
	Findings   []FindingKind  `json:"findings,omitempty"`
	Templates  []Template     `json:"templates,omitempty"`
	Symptoms   []Symptom      `json:"symptoms,omitempty"`
	Supplies   []Supply       `json:"supplies,omitempty"`
	Kits       []Kit          `json:"kits,omitempty"`
	Surfaces   []Surface      `json:"surfaces,omitempty"`
	SizeCharts []SizeChart    `json:"size_charts,omitempty"`
	Endings    []Ending       `json:"endings,omitempty"`
	Tensions   []Tension      `json:"tensions,omitempty"`
	Hints      []Hint         `json:"hints,omitempty"`
	Trades     []Trade        `json:"trades,omitempty"`
	Repairs    []Repair       `json:"repairs,omitempty"`
	Names      []Naming       `json:"names,omitempty"`
	Sayings    []Saying       `json:"said,omitempty"`
	Likenesses []Likeness     `json:"likenesses,omitempty"`
	Mistakes   []Mistake      `json:"mistakes,omitempty"`
	Actives    []Active       `json:"actives,omitempty"`

	Disinfecting []string `json:"disinfecting,omitempty" doc:"Cautions before whatever disinfects"`
	NothingBears []string `json:"nothing_bears,omitempty" doc:"Product groups that no part of any instrument bears"`
}

// Embedded is the catalogue that ships with the program. It is checked when it is first used; a fault in it is a
// programming error and panics, so that it shows at the start and in the tests.
var Embedded = sync.OnceValue(func() *Catalog {
	c, err := load(data)
	if err != nil {
		panic(fmt.Sprintf("catalogue: %v", err))
	}
	return c
})

func load(fsys fs.FS) (*Catalog, error) {
	c := &Catalog{}
	shape := schema.Of[Contents]()
	err := fs.WalkDir(fsys, "data", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		text, err := fs.ReadFile(fsys, path)
		if err != nil {
			return err
		}
		asJSON, err := yaml.YAMLToJSON(text)
		if err != nil {
			return fmt.Errorf("%s: %w", path, err)
		}
		f, err := shape.Read(asJSON)
		if err != nil {
			return fmt.Errorf("%s:%d: %w", path, lineOf(text, field.Of(err).Path), err)
		}
		c.Kinds = append(c.Kinds, f.Kinds...)
		c.Materials = append(c.Materials, f.Materials...)
		c.Products = append(c.Products, f.Products...)
		c.Places = append(c.Places, f.Places...)
		c.Routines = append(c.Routines, f.Routines...)
		c.Practices = append(c.Practices, f.Practices...)
		c.Findings = append(c.Findings, f.Findings...)
		c.Templates = append(c.Templates, f.Templates...)
		c.Symptoms = append(c.Symptoms, f.Symptoms...)
		c.Supplies = append(c.Supplies, f.Supplies...)
		c.Kits = append(c.Kits, f.Kits...)
		c.Surfaces = append(c.Surfaces, f.Surfaces...)
		c.SizeCharts = append(c.SizeCharts, f.SizeCharts...)
		c.Endings = append(c.Endings, f.Endings...)
		c.Tensions = append(c.Tensions, f.Tensions...)
		c.Hints = append(c.Hints, f.Hints...)
		c.Trades = append(c.Trades, f.Trades...)
		c.Repairs = append(c.Repairs, f.Repairs...)
		c.Names = append(c.Names, f.Names...)
		c.Sayings = append(c.Sayings, f.Sayings...)
		c.Likenesses = append(c.Likenesses, f.Likenesses...)
		c.Mistakes = append(c.Mistakes, f.Mistakes...)
		c.Actives = append(c.Actives, f.Actives...)
		c.Disinfecting = append(c.Disinfecting, f.Disinfecting...)
		c.NothingBears = append(c.NothingBears, f.NothingBears...)
		return nil
	})
	if err != nil {
		return nil, err
	}
	unlike := c.alike()
	slices.SortStableFunc(c.Kinds, func(a, b Kind) int { return a.ScoreOrder - b.ScoreOrder })
	if err := errors.Join(c.index(), unlike); err != nil {
		return nil, err
	}
	return c, c.check()
}

// lineOf is the line on which a place of a YAML text begins; of a place that is not there, that of what it is missing from.
func lineOf(text []byte, place string) int {
	file, err := parser.ParseBytes(text, 0)
	if err != nil {
		return 1
	}
	for ; place != ""; place = place[:max(0, strings.LastIndexAny(place, ".["))] {
		path, err := yaml.PathString("$." + place)
		if err != nil {
			continue
		}
		if node, err := path.FilterFile(file); err == nil && node != nil && node.GetToken() != nil {
			return node.GetToken().Position.Line
		}
	}
	return 1
}

// index makes the look-ups. A key that stands twice is an error.
func (c *Catalog) index() error {
	var faults []error
	c.kinds = byKey(&faults, c.Kinds, func(k *Kind) string { return k.Key })
	c.called = map[string]*Kind{}
	for i := range c.Kinds {
		k := &c.Kinds[i]
		for _, name := range append([]string{k.Key, k.Name}, k.Also...) {
			faults = append(faults, c.call(k, name))
		}
	}
	for _, n := range c.Names {
		k, ok := c.kinds[n.Kind]
		if !ok {
			faults = append(faults, fmt.Errorf("names: there is no kind %s", n.Kind))
			continue
		}
		for _, name := range n.Names {
			faults = append(faults, c.call(k, name))
		}
	}
	c.materials = byKey(&faults, c.Materials, func(m *Material) string { return m.Key })
	c.products = byKey(&faults, c.Products, func(p *ProductGroup) string { return p.Key })
	c.places = byKey(&faults, c.Places, func(p *Place) string { return p.Key })
	c.routines = byKey(&faults, c.Routines, func(r *Routine) string { return r.Key })
	c.practices = byKey(&faults, c.Practices, func(p *Practice) string { return p.Key })
	c.findings = byKey(&faults, c.Findings, func(f *FindingKind) string { return f.Code })
	c.templates = byKey(&faults, c.Templates, func(t *Template) string { return t.Key })
	c.symptoms = byKey(&faults, c.Symptoms, func(s *Symptom) string { return s.Key })
	c.supplies = byKey(&faults, c.Supplies, func(s *Supply) string { return s.Key })
	c.kits = byKey(&faults, c.Kits, func(k *Kit) string { return k.Key })
	c.surfaces = byKey(&faults, c.Surfaces, func(s *Surface) string { return s.Key })
	c.charts = byKey(&faults, c.SizeCharts, func(s *SizeChart) string { return s.Key })
	c.trades = byKey(&faults, c.Trades, func(t *Trade) string { return t.Key })
	c.repairs = byKey(&faults, c.Repairs, func(r *Repair) string { return r.Key })
	c.actives = byKey(&faults, c.Actives, func(a *Active) string { return a.Key })
	c.mistakes = byKey(&faults, c.Mistakes, func(m *Mistake) string { return m.Key })
	c.roles = map[Role]*Supply{}
	for i := range c.Supplies {
		if s := &c.Supplies[i]; s.Role != "" {
			c.roles[s.Role] = s
		}
	}
	for _, s := range c.Sayings {
		if c.findings[s.Code] == nil {
			faults = append(faults, fmt.Errorf("said: there is no finding %s", s.Code))
		}
	}
	c.sayAll()
	c.nameStrengths()
	c.nameLives()
	faults = append(faults, c.expand())
	c.defaults = Choices{}
	for _, p := range c.Practices {
		c.defaults[p.Key] = p.Default()
	}
	return errors.Join(faults...)
}

func byKey[T any](faults *[]error, list []T, key func(*T) string) map[string]*T {
	m := make(map[string]*T, len(list))
	for i := range list {
		k := key(&list[i])
		if m[k] != nil {
			*faults = append(*faults, fmt.Errorf("%q stands there twice", k))
		}
		m[k] = &list[i]
	}
	return m
}

// Kind finds a kind by its key, also one of a school's own.
func (c *Catalog) Kind(key string) (*Kind, bool) {
	if k, ok := c.kinds[key]; ok {
		return k, true
	}
	return c.own(key)
}

// call gives a kind another name.
func (c *Catalog) call(k *Kind, name string) error {
	name = spelling.Fold(name)
	if other := c.called[name]; other != nil && other != k {
		return fmt.Errorf("%s and %s are both called %q", other.Key, k.Key, name)
	}
	c.called[name] = k
	return nil
}

// KindCalled finds a kind by its key or any of its names; capitals, accents, hyphens and an s at the end do not count.
func (c *Catalog) KindCalled(name string) (*Kind, bool) {
	name = spelling.Fold(name)
	if k, ok := c.called[name]; ok {
		return k, true
	}
	k, ok := c.called[strings.TrimSuffix(name, "s")]
	return k, ok
}

// KindSpelled finds the kind one of whose names is spelled most nearly like name, see spelling.Nearest.
func (c *Catalog) KindSpelled(name string) (*Kind, bool) {
	called, ok := spelling.Nearest(name, maps.Keys(c.called))
	return c.called[called], ok
}

// KindsLike lists the names of kinds that share a word with name, at most five.
func (c *Catalog) KindsLike(name string) []string {
	words := strings.Fields(spelling.Fold(name))
	var like []string
	for i := range c.Kinds {
		k := &c.Kinds[i]
		shares := slices.ContainsFunc(words, func(word string) bool {
			return len(word) > 2 && slices.Contains(strings.Fields(spelling.Fold(k.Name)), strings.TrimSuffix(word, "s"))
		})
		if shares && len(like) < 5 {
			like = append(like, k.Name)
		}
	}
	return like
}

// Routine finds a routine by its key.
func (c *Catalog) Routine(key string) (*Routine, bool) { r, ok := c.routines[key]; return r, ok }

// Place finds a place by its key.
func (c *Catalog) Place(key string) (*Place, bool) { p, ok := c.places[key]; return p, ok }

// Practice finds a school of practice by its key.
func (c *Catalog) Practice(key string) (*Practice, bool) { p, ok := c.practices[key]; return p, ok }

// Material finds a material by its key.
func (c *Catalog) Material(key string) (*Material, bool) { m, ok := c.materials[key]; return m, ok }
