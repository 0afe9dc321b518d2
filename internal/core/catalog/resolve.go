package catalog

import (
	"fmt"
	"slices"

	"solfeggio/internal/core/why"
)

// A Subject is an instrument as its routines see it.
type Subject struct {
	Kind    *Kind
	Body    string // key of the body's material
	Choices Choices
	Moved   Moved  // things of kits that the school keeps elsewhere
	DryOnly string // name of the open finding because of which no liquid may touch the body, empty for none
}

// A Resolved routine is what remains of a routine for one instrument: the steps of the practices chosen, without what
// its materials forbid.
type Resolved struct {
	Routine
	Steps   []ResolvedStep `json:"steps"`
	Choices []Chosen       `json:"choices" doc:"The schools of practice that shaped it"`
}

// A ResolvedStep is a step as it is done on one instrument.
type ResolvedStep struct {
	Step
	Gate  string `json:"gate,omitempty" doc:"Why a product was left out here"`
	Cloth string `json:"cloth,omitempty" doc:"What is to be done with the cloth, where the step brings what stays in it"`
}

// A Chosen practice beside what others hold.
type Chosen struct {
	Practice string            `json:"practice"`
	Title    string            `json:"title"`
	Option   Option            `json:"option"`
	Because  string            `json:"because,omitempty" doc:"Why it is the default; empty when it was chosen otherwise"`
	Basis    why.Kind          `json:"basis,omitempty" enum:"from memory,our own rule" doc:"Footing of that reason; left out for common practice"`
	Others   []why.Alternative `json:"others"`
}

// Resolve works out a routine for one instrument. It reports false when the choices leave it out. Materials win over
// choices: a step that would bring a part what its material forbids loses it, and says so.
func (c *Catalog) Resolve(r *Routine, of Subject) (Resolved, bool) {
	if !r.When.Hold(of.Choices) || !r.For(of.Body) {
		return Resolved{}, false
	}
	out := Resolved{Routine: *r}
	practices := r.Practices()
	for _, s := range r.Steps {
		if !s.When.Hold(of.Choices) || s.IfThere && !of.Kind.has(s.Parts) {
			continue
		}
		gate := c.gate(s, of)
		if gate != "" {
			if s.Instead == "" {
				s.Do = "Left out here."
			} else {
				s.Do = s.Instead
			}
			s.Products = nil
		}
		if len(s.Products) > 0 || gate != "" {
			for _, surface := range of.Kind.surfaces(s.Parts) {
				if !slices.Contains(practices, surface) {
					practices = append(practices, surface)
				}
			}
		}
		out.Steps = append(out.Steps, ResolvedStep{Step: s, Gate: gate, Cloth: c.clothAfter(s.Products)})
	}
	out.Choices = c.Chosen(practices, of.Choices)
	out.Cautions = c.cautionsOf(r, out.Steps, of)
	return out, true
}

// Chosen lists practices with the options that hold.
func (c *Catalog) Chosen(practices []string, choices Choices) []Chosen {
	list := []Chosen{}
	for _, key := range practices {
		p := c.practices[key]
		o, ok := p.Option(choices[key])
		if !ok {
			o = p.Options[0]
		}
		chosen := Chosen{Practice: key, Title: p.Title, Option: o, Others: p.Others(o.Key)}
		if o.Key == p.Default() {
			chosen.Because, chosen.Basis = p.Because, p.Basis
		}
		list = append(list, chosen)
	}
	return list
}

// gate says why a step must not be done as it stands; empty when it may.
func (c *Catalog) gate(s Step, of Subject) string {
	for _, key := range s.Parts {
		part, _ := of.Kind.Part(key)
		m := c.materials[part.MaterialOf(of)]
		for _, product := range s.Products {
			p := c.products[product]
			if p.forbiddenBy(c.NothingBears) {
				return fmt.Sprintf("No %s here: no part of any instrument bears it.", p.Name)
			}
			if p.forbiddenBy(part.Forbids) {
				return fmt.Sprintf("No %s here. Never: %s", p.Name, part.Never)
			}
			if m != nil && (p.forbiddenBy(m.Forbids) || p.Active != "" && !slices.Contains(m.Bears, p.Active)) {
				return fmt.Sprintf("No %s here: %s is %s. Never: %s", p.Name, part.Name, m.Name, m.Never)
			}
			if of.DryOnly != "" && part.Material == "body" && p.forbiddenBy([]string{liquid}) {
				return fmt.Sprintf("No %s until it is mended: %s.", p.Name, of.DryOnly)
			}
		}
	}
	return ""
}

// clothAfter says what becomes of the cloth with which products were brought; empty where it may be used again. So a product is followed
// into the next step and into the case.
func (c *Catalog) clothAfter(products []string) string {
	for _, key := range products {
		if p := c.products[key]; p != nil && p.Taints {
			return "Its cloth is marked, wipes nothing else, dries in the open, and does not go into the case."
		}
	}
	return ""
}

// surfaces are the practices that say what parts are made of, each once.
func (k Kind) surfaces(parts []string) (practices []string) {
	for _, key := range parts {
		if p, ok := k.Part(key); ok && p.Surface != "" && !slices.Contains(practices, p.Surface) {
			practices = append(practices, p.Surface)
		}
	}
	return practices
}

// Surfaces are the practices that say what the parts of the kind are made of.
func (k Kind) Surfaces() []string {
	keys := make([]string, len(k.Parts))
	for n, p := range k.Parts {
		keys[n] = p.Key
	}
	return k.surfaces(keys)
}

// liquid is the widest group of products that wet.
const liquid = "liquid"

func (p *ProductGroup) forbiddenBy(groups []string) bool {
	return slices.Contains(groups, p.Key) || slices.ContainsFunc(p.Is, func(g string) bool { return slices.Contains(groups, g) })
}
