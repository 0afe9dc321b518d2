package catalog

import (
	"embed"
	"fmt"
	"io/fs"
	"slices"
	"sync"

	"github.com/goccy/go-yaml"

	"solfeggio/internal/core/care"
	"solfeggio/internal/core/schema"
)

//go:embed data
var data embed.FS

// A Catalog is all that is known, ready for look-up. It is read-only.
type Catalog struct {
	Kinds     []Kind     `json:"kinds"` // in score order
	Materials []Material `json:"materials"`
	Places    []Place    `json:"places"`
	Profiles  []Profile  `json:"profiles"`
	Routines  []Routine  `json:"routines"`

	kinds     map[string]*Kind
	materials map[string]*Material
	places    map[string]*Place
	routines  map[string]*Routine
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

type file struct {
	Materials []Material `json:"materials,omitempty"`
	Places    []Place    `json:"places,omitempty"`
	Profiles  []Profile  `json:"profiles,omitempty"`
	Routines  []Routine  `json:"routines,omitempty"`
}

func load(fsys fs.FS) (*Catalog, error) {
	c := &Catalog{}
	kinds, files := schema.Of[Kind](), schema.Of[file]()
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
		if ok, _ := fs.Glob(fsys, "data/kinds/*"); slices.Contains(ok, path) {
			k, err := kinds.Read(asJSON)
			c.Kinds = append(c.Kinds, k)
			return in(path, err)
		}
		f, err := files.Read(asJSON)
		c.Materials = append(c.Materials, f.Materials...)
		c.Places = append(c.Places, f.Places...)
		c.Profiles = append(c.Profiles, f.Profiles...)
		c.Routines = append(c.Routines, f.Routines...)
		return in(path, err)
	})
	if err != nil {
		return nil, err
	}
	slices.SortFunc(c.Kinds, func(a, b Kind) int { return a.ScoreOrder - b.ScoreOrder })
	if err := c.index(); err != nil {
		return nil, err
	}
	return c, c.check()
}

func in(path string, err error) error {
	if err != nil {
		return fmt.Errorf("%s: %w", path, err)
	}
	return nil
}

func (c *Catalog) index() (err error) {
	if c.kinds, err = byKey(c.Kinds, func(k *Kind) string { return k.Key }); err != nil {
		return err
	}
	if c.materials, err = byKey(c.Materials, func(m *Material) string { return m.Key }); err != nil {
		return err
	}
	if c.places, err = byKey(c.Places, func(p *Place) string { return p.Key }); err != nil {
		return err
	}
	c.routines, err = byKey(c.Routines, func(r *Routine) string { return r.Key })
	return err
}

func byKey[T any](list []T, key func(*T) string) (map[string]*T, error) {
	m := make(map[string]*T, len(list))
	for i := range list {
		k := key(&list[i])
		if m[k] != nil {
			return nil, fmt.Errorf("%q stands there twice", k)
		}
		m[k] = &list[i]
	}
	return m, nil
}

// check finds names that lead nowhere and steps that a material forbids.
func (c *Catalog) check() error {
	for _, r := range c.Routines {
		if c.places[r.Place] == nil {
			return fmt.Errorf("routine %s: no place %q", r.Key, r.Place)
		}
		for _, other := range r.Implies {
			if c.routines[other] == nil {
				return fmt.Errorf("routine %s implies %q, which is unknown", r.Key, other)
			}
		}
		for _, l := range []*care.Limits{r.Limits.Every, r.Limits.Classroom, r.Limits.Standard, r.Limits.Concert} {
			if l == nil {
				continue
			}
			if _, err := care.Limit(care.LimitIn{Base: *l}); err != nil {
				return fmt.Errorf("routine %s: limits: %w", r.Key, err)
			}
		}
	}
	for _, k := range c.Kinds {
		if err := c.checkKind(k); err != nil {
			return fmt.Errorf("kind %s: %w", k.Key, err)
		}
	}
	return nil
}

func (c *Catalog) checkKind(k Kind) error {
	for _, p := range k.Parts {
		if p.Material != "body" && c.materials[p.Material] == nil {
			return fmt.Errorf("part %s: no material %q", p.Key, p.Material)
		}
	}
	for _, b := range k.Bodies {
		if c.materials[b] == nil {
			return fmt.Errorf("no body material %q", b)
		}
	}
	for _, key := range k.Routines {
		r := c.routines[key]
		if r == nil {
			return fmt.Errorf("no routine %q", key)
		}
		for _, part := range r.On {
			if _, ok := k.Part(part); !ok {
				return fmt.Errorf("routine %s keeps a clock on %q, which the kind does not have", key, part)
			}
		}
		for i, s := range r.Steps {
			if err := c.checkStep(k, s); err != nil {
				return fmt.Errorf("routine %s, step %d: %w", key, i+1, err)
			}
		}
	}
	return nil
}

func (c *Catalog) checkStep(k Kind, s Step) error {
	for _, key := range s.Parts {
		p, ok := k.Part(key)
		if !ok {
			return fmt.Errorf("no part %q", key)
		}
		materials := []string{p.Material}
		if p.Material == "body" {
			materials = k.Bodies
		}
		for _, m := range materials {
			for _, product := range s.Products {
				if slices.Contains(c.materials[m].Forbids, product) {
					return fmt.Errorf("brings %s to %s, which %s forbids", product, p.Name, c.materials[m].Name)
				}
			}
		}
	}
	return nil
}

// Kind finds a kind by its key.
func (c *Catalog) Kind(key string) (*Kind, bool) { k, ok := c.kinds[key]; return k, ok }

// Routine finds a routine by its key.
func (c *Catalog) Routine(key string) (*Routine, bool) { r, ok := c.routines[key]; return r, ok }

// Place finds a place by its key.
func (c *Catalog) Place(key string) (*Place, bool) { p, ok := c.places[key]; return p, ok }

// HasProfile reports whether there is a profile of that key.
func (c *Catalog) HasProfile(key string) bool {
	return slices.ContainsFunc(c.Profiles, func(p Profile) bool { return p.Key == key })
}

// Material finds a material by its key.
func (c *Catalog) Material(key string) (*Material, bool) { m, ok := c.materials[key]; return m, ok }
