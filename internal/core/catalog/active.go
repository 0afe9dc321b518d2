package catalog

import (
	"fmt"
	"slices"
	"strings"
)

// An Active is what a cleaner or disinfectant works by. What it leaves behind decides what follows.
type Active struct {
	Key       string   `json:"key"`
	Name      string   `json:"name"`
	After     After    `json:"after" jsonschema:"enum=dry,enum=rinse-and-dry"`
	NeverWith []string `json:"never_with,omitempty" doc:"Actives that must not be in one bottle with it, nor follow it without a rinse; it holds both ways"`
	Together  string   `json:"together,omitempty" doc:"What the two make"`
	Caution   string   `json:"caution,omitempty" doc:"Stands before whatever may bring it"`
}

// After is what must follow an active that has had its time.
type After string

// What may follow. An alcohol dries off; everything else leaves something that a mouth or a metal should not keep.
const (
	NothingAfter After = "none"
	DryAfter     After = "dry"
	RinseAndDry  After = "rinse-and-dry"
)

// Unknown is the active of a product of which nobody has said what it is made of.
const Unknown = "unknown"

// Active finds an active by its key.
func (c *Catalog) Active(key string) (*Active, bool) { a, ok := c.actives[key]; return a, ok }

// Bears reports whether a material, or a surface that is no part of an instrument such as the lining of a case, bears an active, and what
// must follow. known is false for a key that is neither.
func (c *Catalog) Bears(material, active string) (allowed bool, after After, known bool) {
	a := c.actives[active]
	if a == nil {
		return false, NothingAfter, false
	}
	var bears []string
	after = a.After
	if m := c.materials[material]; m != nil {
		bears = m.Bears
	} else if s := c.surfaces[material]; s != nil && len(s.Bears) > 0 {
		bears, after = s.Bears, DryAfter
	} else {
		return false, NothingAfter, false
	}
	if !slices.Contains(bears, active) {
		return false, NothingAfter, true
	}
	return true, after, true
}

// Needs is what must follow product groups on a surface: a rinse if one of them asks for it.
func (c *Catalog) Needs(surface string, groups []string) After {
	after := DryAfter
	for _, key := range groups {
		p := c.products[key]
		if p == nil || p.Active == "" {
			continue
		}
		if s := c.surfaces[surface]; s != nil && len(s.Bears) > 0 {
			continue
		}
		if c.actives[p.Active].After == RinseAndDry {
			after = RinseAndDry
		}
	}
	return after
}

// SurfaceGate says why a product group must not be brought to a surface that says itself what it bears; empty when it may.
func (c *Catalog) SurfaceGate(surface, group string) string {
	s, p := c.surfaces[surface], c.products[group]
	if s == nil || len(s.Bears) == 0 || p == nil || p.Active == "" || slices.Contains(s.Bears, p.Active) {
		return ""
	}
	return fmt.Sprintf("No %s here: the %s does not bear it.", p.Name, s.Name)
}

// Clash says why two product groups must not be in one bottle; empty when they may.
func (c *Catalog) Clash(one, other string) string {
	a, b := c.products[one], c.products[other]
	if a == nil || b == nil {
		return ""
	}
	for _, pair := range [][2]*ProductGroup{{a, b}, {b, a}} {
		first, second := c.actives[pair[0].Active], c.actives[pair[1].Active]
		if first != nil && second != nil && slices.Contains(first.NeverWith, second.Key) {
			return fmt.Sprintf("%s and %s make %s", first.Name, second.Name, first.Together)
		}
	}
	return ""
}

// cautionsOf are what must be read before a routine: of what it may bring, then its own, then of disinfecting at all. So no routine
// forgets the flame that its choices or a school's products bring in.
func (c *Catalog) cautionsOf(r *Routine, steps []ResolvedStep, of Subject) []string {
	var actives []string
	disinfects := false
	for _, s := range steps {
		groups := slices.Clone(s.Products)
		if s.Bench != nil && s.Bench.Contact != "" && s.Gate == "" {
			disinfects = true
			groups = append(groups, c.Bearing(s.Bench.Contact, s.Parts, of)...)
		}
		for _, key := range groups {
			if p := c.products[key]; p.Active != "" {
				actives = append(actives, p.Active)
			}
			disinfects = disinfects || c.products[key].Disinfects || slices.Contains(c.products[key].Is, "alcohol")
		}
	}
	list := []string{}
	for _, a := range c.Actives {
		if a.Caution != "" && slices.Contains(actives, a.Key) {
			list = append(list, a.Caution)
		}
	}
	if m := c.materials[of.Body]; m != nil && m.Blown != "" && r.Rhythm == "assembly" && (of.Kind.Family == "woodwind") {
		list = append(list, m.Blown)
	}
	list = append(list, r.Cautions...)
	if disinfects {
		list = append(list, c.Disinfecting...)
	}
	return list
}

// Bearing lists the groups that a school may own for a surface of an instrument's parts.
func (c *Catalog) Bearing(surface string, parts []string, of Subject) (groups []string) {
	for _, key := range c.Disinfectants() {
		if c.GateFor(parts, key, of) == "" && c.SurfaceGate(surface, key) == "" {
			groups = append(groups, key)
		}
	}
	return groups
}

func (c *Catalog) checkActives() error {
	for _, a := range c.Actives {
		for _, other := range a.NeverWith {
			if c.actives[other] == nil {
				return fmt.Errorf("active %s is never with %q, which is no active", a.Key, other)
			}
		}
		if len(a.NeverWith) > 0 && strings.TrimSpace(a.Together) == "" {
			return fmt.Errorf("active %s does not say what comes of it", a.Key)
		}
	}
	known := func(keys []string) error {
		for _, key := range keys {
			if c.actives[key] == nil {
				return fmt.Errorf("bears %q, which is no active", key)
			}
		}
		return nil
	}
	for _, m := range c.Materials {
		if err := known(m.Bears); err != nil {
			return fmt.Errorf("material %s %w", m.Key, err)
		}
	}
	for _, s := range c.Surfaces {
		if err := known(s.Bears); err != nil {
			return fmt.Errorf("surface %s %w", s.Key, err)
		}
	}
	for _, p := range c.Products {
		if p.Active != "" && c.actives[p.Active] == nil {
			return fmt.Errorf("product %s is made of %q, which is no active", p.Key, p.Active)
		}
	}
	for _, key := range c.NothingBears {
		if c.products[key] == nil {
			return fmt.Errorf("nothing bears %q, which is no product", key)
		}
	}
	return nil
}
