package catalog

import (
	"errors"
	"fmt"
	"slices"
)

// A Reason is why an instrument is on the bench.
type Reason string

// The reasons.
const (
	Turnover  Reason = "turnover"
	Illness   Reason = "illness"
	Mould     Reason = "mould"
	Smoke     Reason = "smoke"
	DeepClean Reason = "deep clean"
	Concert   Reason = "concert"
	Laundry   Reason = "laundry"
)

// Reasons lists them.
var Reasons = []Reason{Turnover, Illness, Mould, Smoke, DeepClean, Concert, Laundry}

// MakesFit reports whether what is done for a reason makes an instrument fit for another player.
func (r Reason) MakesFit() bool { return r == Turnover || r == Illness || r == Mould || r == Smoke }

// BenchWork is how a step is timed at the bench. Its wait is in minutes, or for as long as a product must stay wet.
type BenchWork struct {
	Name     string   `json:"name" doc:"Unique within the routine"`
	Active   int      `json:"active" jsonschema:"minimum=0" doc:"Minutes that take a person"`
	Wait     int      `json:"wait,omitempty" jsonschema:"minimum=0" doc:"Minutes that then take nobody"`
	MostWait *int     `json:"most_wait,omitempty" doc:"Minutes after which the next step must have begun"`
	Contact  string   `json:"contact,omitempty" doc:"Surface that stays wet for the contact time of the product that is used on it"`
	Rinse    *Follow  `json:"rinse,omitempty" doc:"What follows a product that leaves something behind"`
	Dry      *Follow  `json:"dry,omitempty" doc:"What follows whatever the product was"`
	MayLack  bool     `json:"may_lack,omitempty" doc:"Where the school has no product for it, what is done instead is done, and said"`
	Station  string   `json:"station,omitempty" doc:"Place that it takes"`
	Held     bool     `json:"held,omitempty" doc:"The station is taken while it waits too"`
	Gloves   string   `json:"gloves,omitempty" jsonschema:"enum=new,enum=off"`
	Caution  string   `json:"caution,omitempty" doc:"Read before this step"`
	Reasons  []Reason `json:"reasons,omitempty" jsonschema:"enum=turnover,enum=illness,enum=mould,enum=smoke,enum=deep clean,enum=concert,enum=laundry" doc:"Only then it is done; empty for always"`
}

// A Follow is what is done after a product has had its time.
type Follow struct {
	Name    string `json:"name" doc:"Unique within the routine"`
	Do      string `json:"do"`
	Active  int    `json:"active" jsonschema:"minimum=0"`
	Wait    int    `json:"wait,omitempty" jsonschema:"minimum=0"`
	Station string `json:"station,omitempty"`
	Held    bool   `json:"held,omitempty"`
}

// A Rest is how long an instrument with such a body lies after the bench (from memory).
type Rest struct {
	Body  string `json:"body"`
	Hours int    `json:"hours" jsonschema:"minimum=1"`
}

// A Surface is what the label of a product may name.
type Surface struct {
	Key   string   `json:"key"`
	Name  string   `json:"name"`
	Bears []string `json:"bears,omitempty" doc:"What may be brought to it, of one that is no part of an instrument; the parts say it of all others"`
}

// Surface finds a surface by its key.
func (c *Catalog) Surface(key string) (*Surface, bool) { s, ok := c.surfaces[key]; return s, ok }

// ProductGroup finds one by its key.
func (c *Catalog) ProductGroup(key string) (*ProductGroup, bool) {
	p, ok := c.products[key]
	return p, ok
}

// Stations are the places of the bench, in the order in which they are listed.
func (c *Catalog) Stations() []Place {
	return slices.DeleteFunc(slices.Clone(c.Places), func(p Place) bool { return p.Usual == 0 })
}

// BenchRoutines lists what is done to a kind at the bench for a reason.
func (c *Catalog) BenchRoutines(k *Kind, why Reason) []*Routine {
	var list []*Routine
	for _, key := range k.Routines {
		if r := c.routines[key]; slices.Contains(r.Bench, why) {
			list = append(list, r)
		}
	}
	return list
}

// RestHours is how long an instrument with that body lies afterwards.
func (r Routine) RestHours(body string) (hours int) {
	for _, rest := range r.Rests {
		if rest.Body == body {
			hours = max(hours, rest.Hours)
		}
	}
	return hours
}

// GateFor says why a product group must not touch parts of an instrument; empty when it may.
func (c *Catalog) GateFor(parts []string, product string, of Subject) string {
	return c.gate(Step{Parts: parts, Products: []string{product}}, of)
}

// expand puts the steps of a routine where a step names it.
func (c *Catalog) expand() error {
	var faults []error
	for n := range c.Routines {
		r := &c.Routines[n]
		var steps []Step
		for _, s := range r.Steps {
			if s.Routine == "" {
				steps = append(steps, s)
				continue
			}
			other := c.routines[s.Routine]
			if other == nil || s.Do != "" || slices.ContainsFunc(other.Steps, func(s Step) bool { return s.Routine != "" }) {
				faults = append(faults, fmt.Errorf("routine %s: %q cannot stand among its steps", r.Key, s.Routine))
				continue
			}
			steps = append(steps, other.Steps...)
		}
		r.Steps = steps
	}
	return errors.Join(faults...)
}

// checkBench finds what the bench could not do.
func (c *Catalog) checkBench(r *Routine) error {
	minutes := 0
	for n, s := range r.Steps {
		if s.Do == "" {
			return fmt.Errorf("step %d says nothing to do", n+1)
		}
		if s.Bench == nil {
			continue
		}
		b := s.Bench
		switch place := c.places[b.Station]; {
		case len(r.Bench) == 0:
			return fmt.Errorf("step %d is timed and the routine is not done at the bench", n+1)
		case b.Station != "" && (place == nil || place.Usual == 0):
			return fmt.Errorf("step %d: %q is no station", n+1, b.Station)
		case b.Contact != "" && c.surfaces[b.Contact] == nil:
			return fmt.Errorf("step %d: %q is no surface", n+1, b.Contact)
		case b.Contact == "" && (b.Rinse != nil || b.Dry != nil):
			return fmt.Errorf("step %d has something to follow and keeps nothing wet", n+1)
		case !c.stations(b.Rinse, b.Dry):
			return fmt.Errorf("step %d: what follows it has no station that there is", n+1)
		case b.MostWait != nil && b.Contact != "":
			return fmt.Errorf("step %d may wait no longer than %d minutes, and a label may say more", n+1, *b.MostWait)
		case b.MostWait != nil && *b.MostWait < b.Wait:
			return fmt.Errorf("step %d waits for %d minutes and no longer than %d", n+1, b.Wait, *b.MostWait)
		}
		if len(s.When) == 0 && len(b.Reasons) == 0 && !s.IfThere {
			minutes += b.Active
			for _, f := range []*Follow{b.Rinse, b.Dry} {
				if f != nil {
					minutes += f.Active
				}
			}
		}
	}
	if len(r.Bench) > 0 && (minutes == 0 || float64(minutes) > r.Minutes) {
		return fmt.Errorf("its steps take %d minutes of %v", minutes, r.Minutes)
	}
	return nil
}

// stations reports whether what follows a step is done at stations that there are.
func (c *Catalog) stations(list ...*Follow) bool {
	return !slices.ContainsFunc(list, func(f *Follow) bool {
		return f != nil && f.Station != "" && (c.places[f.Station] == nil || c.places[f.Station].Usual == 0)
	})
}

// checkFollow refuses a step after which something would be left on a part that a product may leave it on, or a mouth would meet what is wet.
func (c *Catalog) checkFollow(k *Kind, s Step) error {
	if s.Bench == nil || s.Bench.Contact == "" || len(s.Parts) == 0 {
		return nil
	}
	for _, of := range c.subjects(k, s.Parts) {
		if bears := c.Bearing(s.Bench.Contact, s.Parts, of); s.Bench.Rinse == nil && c.Needs(s.Bench.Contact, bears) == RinseAndDry {
			return fmt.Errorf("%s is not rinsed off, and %s bears what must be", s.Bench.Name, of.Body)
		}
	}
	for _, key := range s.Parts {
		if p, _ := k.Part(key); p.Mouth && s.Bench.Dry == nil {
			return fmt.Errorf("%s touches a mouth, and nobody dries it", p.Name)
		}
	}
	return nil
}

// Disinfectants are the groups of which a product that a school owns for the bench may be made.
func (c *Catalog) Disinfectants() (keys []string) {
	for _, p := range c.Products {
		if p.Disinfects {
			keys = append(keys, p.Key)
		}
	}
	return keys
}
