package hygiene

import (
	"fmt"
	"strings"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/field"
	"solfeggio/internal/core/why"
)

// MayTouchIn is the input of the calculator hygiene.may-touch.
type MayTouchIn struct {
	Material string `json:"material" doc:"Key of a material of the catalogue, or case-outside or case-lining"`
	Active   string `json:"active" jsonschema:"enum=alcohol,enum=chlorine,enum=peroxide,enum=quaternary-ammonium,enum=acid,enum=soap,enum=unknown" doc:"What the product works by"`
	Mouth    bool   `json:"mouth,omitempty" doc:"Whether it touches a mouth afterwards"`
}

// MayTouchOut is its result.
type MayTouchOut struct {
	Allowed bool          `json:"allowed"`
	After   catalog.After `json:"after" enum:"none,dry,rinse-and-dry" doc:"What must follow once it has had its time"`
	Why     why.Why       `json:"why"`
}

// MayTouch is the calculator hygiene.may-touch: whether something made of an active may be brought to a material, and what must follow. It
// answers by the catalogue's table alone (from memory: what makers of such products print); a step of the bench asks the catalogue's
// prohibitions too.
func MayTouch(in MayTouchIn) (MayTouchOut, error) {
	c := catalog.Embedded()
	active, ok := c.Active(in.Active)
	if !ok {
		return MayTouchOut{}, field.Errorf("active", "%q is nothing that a cleaner or disinfectant is made of", in.Active)
	}
	allowed, after, known := c.Bears(in.Material, in.Active)
	if !known {
		return MayTouchOut{}, field.Errorf("material", "%q is no material of the catalogue", in.Material)
	}
	name := in.Material
	if m, ok := c.Material(in.Material); ok {
		name = m.Name
	} else if s, ok := c.Surface(in.Material); ok {
		name = "the " + s.Name
	}
	says := fmt.Sprintf("No %s on %s.", active.Name, name)
	if allowed {
		says = fmt.Sprintf("%s bears %s. %s", strings.ToUpper(name[:1])+name[1:], active.Name, map[catalog.After]string{
			catalog.DryAfter:    "Its time over, it dries.",
			catalog.RinseAndDry: "Its time over, it is rinsed off with drinking water, and dried.",
		}[after])
	}
	if in.Mouth {
		says += " It touches a mouth: nothing of the product may be left on it."
	}
	return MayTouchOut{allowed, after, why.Why{
		Rule: "hygiene.may-touch", Statement: says,
		Inputs: []why.Input{{Name: "made of", Value: active.Name}, {Name: "material", Value: name}},
		Basis:  why.Basis{Kind: why.FromMemory, Source: "what makers of such products print; the label and local rules stand above it"},
	}}, nil
}
