package catalog

import "slices"

// The materials of what is renewed.
const (
	MetalString = "metal-string"
	BowHair     = "bow-hair"
	Cane        = "cane"
)

// An Ending is why a part that is renewed came to its end.
type Ending struct {
	Key      string   `json:"key"`
	Name     string   `json:"name"`
	Of       []string `json:"of" jsonschema:"minItems=1" doc:"Materials of the parts that may end so"`
	Outlived bool     `json:"outlived,omitempty" doc:"The part was renewed before it was worn: how long it would have lasted is not known"`
}

// A Tension of strings.
type Tension struct {
	Key  string `json:"key"`
	Name string `json:"name"`
	Says string `json:"says" doc:"For whom, and why"`
}

// A Hint is a piece of advice about something (common practice, no published source).
type Hint struct {
	About string `json:"about" jsonschema:"enum=bow-tension,enum=bow-guard"`
	Name  string `json:"name"`
	Says  string `json:"says"`
}

// HintsAbout lists the advice about something.
func (c *Catalog) HintsAbout(about string) []Hint {
	list := []Hint{}
	for _, h := range c.Hints {
		if h.About == about {
			list = append(list, h)
		}
	}
	return list
}

// Outlived reports whether a part that ended so was renewed before it was worn. Where nobody said why, it counts as worn.
func (c *Catalog) Outlived(cause string) bool {
	n := slices.IndexFunc(c.Endings, func(e Ending) bool { return e.Key == cause })
	return n >= 0 && c.Endings[n].Outlived
}

// TensionsOf lists the tensions that parts of a material come in: none but for strings.
func (c *Catalog) TensionsOf(material string) []Tension {
	if material != MetalString {
		return []Tension{}
	}
	return c.Tensions
}

// EndingsOf lists how parts of a material come to their end.
func (c *Catalog) EndingsOf(material string) []Ending {
	list := []Ending{}
	for _, e := range c.Endings {
		if slices.Contains(e.Of, material) {
			list = append(list, e)
		}
	}
	return list
}

// Ends reports whether parts of a material may end so; the empty cause, of which nobody said anything, fits all.
func (c *Catalog) Ends(material, cause string) bool {
	return cause == "" || slices.ContainsFunc(c.EndingsOf(material), func(e Ending) bool { return e.Key == cause })
}

// nameLives says of each part whether it has lives.
func (c *Catalog) nameLives() {
	for n := range c.Kinds {
		for m := range c.Kinds[n].Parts {
			p := &c.Kinds[n].Parts[m]
			p.Lives = len(c.EndingsOf(p.Material)) > 0
		}
	}
}

// Renewal finds the routine by which a part of the kind that has lives is renewed.
func (c *Catalog) Renewal(k *Kind, part string) (*Routine, bool) {
	if p, ok := k.Part(part); !ok || !p.Lives {
		return nil, false
	}
	for _, key := range k.Routines {
		if r := c.routines[key]; r.Replaces && slices.Contains(r.On, part) {
			return r, true
		}
	}
	return nil, false
}

// Reed is the supply in the kit of a kind that is broken in before it is played.
func (c *Catalog) Reed(k *Kind) (*Supply, bool) {
	if kit := c.kits[k.Kit]; kit != nil {
		for _, item := range kit.Items {
			if s := c.supplies[item.Supply]; len(s.BreakIn) > 0 {
				return s, true
			}
		}
	}
	return nil, false
}
