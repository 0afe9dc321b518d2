package hygiene

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/schedule"
)

// A Product is what a school owns and brings to a surface, as its label has it.
type Product struct {
	ID             string
	Name           string
	MadeOf         []string // keys of the catalogue's product groups
	ContactMinutes int      // that the surface stays wet; 0 while nobody has read the label
	Surfaces       []string
	InDate         bool // some of it is there and not out of date
}

// A Refusal is a product that is not used in a place, and why.
type Refusal struct {
	Product string `json:"product"`
	Because string `json:"because"`
}

// A Step is a step of the bench as it is done to one instrument.
type Step struct {
	Name     string
	Do       string
	Reason   string
	Caution  string
	Station  string
	Active   int
	Wait     int
	MostWait *int
	Held     bool
	Gloves   string
	Parts    []string
	Brings   []string // product groups
	Surface  string   // that stays wet, empty for none
	Product  *Product
	Gate     string    // why something else is done than usual
	Refused  []Refusal // products that were not taken
}

// A Procedure is all that is done to one instrument. Cannot says why it must not begin, empty when it may; what else would do
// stands in it.
type Procedure struct {
	Routine   *catalog.Routine
	Cautions  []string // before the first step
	Steps     []Step
	RestHours int
	Cannot    string
	Lacks     []Lack // every surface for which the school has nothing; the first is what Cannot says
}

// A Lack is a surface that a step has to keep wet and for which the school has no product.
type Lack struct {
	Surface string    `json:"surface"`
	Name    string    `json:"name" doc:"Of the surface"`
	Refused []Refusal `json:"refused" doc:"What the school has, and why it does not do"`
	WouldDo string    `json:"would_do" doc:"Groups of products that the material bears, whose label must name the surface; empty for none"`
}

// Prepare works out a routine of the bench for one instrument with the products of the school. wanted names the product that
// somebody prefers for a surface; where the instrument does not bear it, another is taken. Materials and labels stand above
// wishes.
func Prepare(
	c *catalog.Catalog,
	r *catalog.Routine,
	of catalog.Subject,
	reason catalog.Reason,
	products []Product,
	wanted map[string]string,
) Procedure {
	out := Procedure{Routine: r, RestHours: r.RestHours(of.Body)}
	resolved, ok := c.Resolve(r, of)
	if !ok {
		out.Cannot = "The school's choices leave it out."
		return out
	}
	out.Cautions = resolved.Cautions
	for _, s := range resolved.Steps {
		b := s.Bench
		if b == nil || len(b.Reasons) > 0 && !slices.Contains(b.Reasons, reason) {
			continue
		}
		step := Step{
			Name: b.Name, Do: s.Do, Reason: s.Reason, Caution: b.Caution, Station: b.Station, Active: b.Active, Wait: b.Wait,
			MostWait: b.MostWait, Held: b.Held, Gloves: b.Gloves, Gate: s.Gate, Parts: s.Parts, Brings: s.Products,
		}
		if b.Contact != "" {
			out.wet(c, &step, s.Step, of, products, wanted[b.Contact])
		}
		out.Steps = append(out.Steps, step)
		if step.Product != nil {
			out.follow(c, step, *b)
		}
	}
	if len(out.Steps) == 0 && out.Cannot == "" {
		out.Cannot = "Nothing of it is done at the bench."
	}
	return out
}

// wet picks the product of a step whose surface must stay wet. Where materials forbid what the school has for that surface, what
// is done instead stands in its place; where it only lacks a product, the procedure cannot begin.
func (out *Procedure) wet(c *catalog.Catalog, step *Step, s catalog.Step, of catalog.Subject, products []Product, wanted string) {
	surface, _ := c.Surface(s.Bench.Contact)
	var fit []Product
	forbidden, lacking := "", false
	for _, p := range products {
		gate, named := gateFor(c, s, p, of), slices.Contains(p.Surfaces, surface.Key)
		because := ""
		switch {
		case gate != "":
			because = gate
			if named && forbidden == "" {
				forbidden = gate
			}
		case !named:
			because = "Its label does not name the " + surface.Name + "."
		case p.ContactMinutes <= 0:
			because, lacking = "Nobody has entered the contact time from its label.", true
		case !p.InDate:
			because, lacking = "None of it is in stock and in date.", true
		default:
			fit = append(fit, p)
			continue
		}
		step.Refused = append(step.Refused, Refusal{p.Name, because})
	}
	if len(fit) > 0 {
		best := slices.MinFunc(fit, func(a, b Product) int {
			return cmp.Or(
				first(b.ID == wanted)-first(a.ID == wanted),
				a.ContactMinutes-b.ContactMinutes,
				strings.Compare(a.Name, b.Name),
				strings.Compare(a.ID, b.ID),
			)
		})
		step.Surface, step.Product, step.Wait = surface.Key, &best, max(step.Wait, best.ContactMinutes)
		step.Brings = append(slices.Clone(step.Brings), best.MadeOf...)
		return
	}
	bears := bearable(c, surface.Key, s.Parts, of)
	if s.Instead != "" && (bears == "" || forbidden != "" && !lacking || s.Bench.MayLack) {
		step.Do, step.Gate = s.Instead, cmp.Or(forbidden, "Nothing that disinfects may touch it.")
		if bears != "" && forbidden == "" {
			step.Gate = "The school has no product for it: " + bears + " whose label names the " + surface.Name + " would do."
		}
		return
	}
	if !slices.ContainsFunc(out.Lacks, func(l Lack) bool { return l.Surface == surface.Key }) {
		out.Lacks = append(out.Lacks, Lack{surface.Key, surface.Name, append([]Refusal{}, step.Refused...), bears})
	}
	if out.Cannot != "" {
		return
	}
	out.Cannot = fmt.Sprintf("%s: the school has no product for the %s.", step.Name, surface.Name)
	for _, r := range step.Refused {
		out.Cannot += " " + r.Product + ": " + r.Because
	}
	if bears != "" {
		out.Cannot += " What would do: " + bears + " whose label names the " + surface.Name + "."
	}
}

func first(yes bool) int {
	if yes {
		return 1
	}
	return 0
}

// gateFor says why a product must not be brought to where a step brings it; empty when all that it is made of may.
func gateFor(c *catalog.Catalog, s catalog.Step, p Product, of catalog.Subject) string {
	for _, group := range p.MadeOf {
		gate := cmp.Or(c.GateFor(s.Parts, group, of), c.SurfaceGate(s.Bench.Contact, group))
		if g, ok := c.ProductGroup(group); ok && gate != "" && g.Active == catalog.Unknown {
			return "Nobody has said what it is made of, so it goes onto the outside of cases only."
		}
		if gate != "" {
			return gate
		}
	}
	return ""
}

// follow puts what must come after a product behind the step that brought it: a rinse where it leaves something behind, and drying.
func (out *Procedure) follow(c *catalog.Catalog, s Step, b catalog.BenchWork) {
	add := func(f *catalog.Follow, brings string) {
		if f != nil {
			out.Steps = append(out.Steps, Step{
				Name: f.Name, Do: f.Do, Station: f.Station, Active: f.Active, Wait: f.Wait, Held: f.Held, Parts: s.Parts, Brings: []string{brings},
			})
		}
	}
	if c.Needs(s.Surface, s.Product.MadeOf) == catalog.RinseAndDry {
		add(b.Rinse, "clean-water")
	}
	add(b.Dry, "air")
}

// bearable names the groups that the parts and the surface bear. What nobody has named is no advice.
func bearable(c *catalog.Catalog, surface string, parts []string, of catalog.Subject) string {
	var names []string
	for _, key := range c.Bearing(surface, parts, of) {
		if p, ok := c.ProductGroup(key); ok && p.Active != catalog.Unknown {
			names = append(names, p.Name)
		}
	}
	if len(names) < 2 {
		return strings.Join(names, "")
	}
	return strings.Join(names[:len(names)-1], ", ") + " or " + names[len(names)-1]
}

// Job turns a procedure into work for the planner.
func (p Procedure) Job(id string) schedule.Job {
	j := schedule.Job{ID: id}
	for _, s := range p.Steps {
		j.Steps = append(
			j.Steps,
			schedule.Step{
				Name:                    s.Name,
				ActiveMinutes:           s.Active,
				WaitMinutes:             s.Wait,
				MaxWaitMinutes:          s.MostWait,
				Station:                 s.Station,
				StationHeldWhileWaiting: s.Held,
			},
		)
	}
	return j
}
