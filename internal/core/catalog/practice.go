package catalog

import (
	"maps"
	"slices"
	"strings"

	"solfeggio/internal/core/why"
)

// ProfilePractice is the practice that says how strictly clocks are kept; its options are the columns of Intervals.
const ProfilePractice = "profile"

// A Practice is something on which the trade disagrees, so that each school chooses, and may choose otherwise for a
// single instrument.
type Practice struct {
	Key     string   `json:"key"`
	Title   string   `json:"title"`
	About   string   `json:"about" doc:"Heading under which it stands in Settings"`
	Because string   `json:"because" doc:"Why the first option is the default"`
	Basis   why.Kind `json:"basis,omitempty" jsonschema:"enum=from memory,enum=our own rule" enum:"from memory,our own rule" doc:"Footing of that reason; left out for common practice"`
	Options []Option `json:"options" jsonschema:"minItems=2" doc:"The first is the default"`
}

// An Option is what one side of a practice holds.
type Option struct {
	Key  string `json:"key"`
	Name string `json:"name"`
	Says string `json:"says"`
}

// Default is the key of the option that holds where nobody chose.
func (p Practice) Default() string { return p.Options[0].Key }

// Option finds an option by its key.
func (p Practice) Option(key string) (Option, bool) {
	for _, o := range p.Options {
		if o.Key == key {
			return o, true
		}
	}
	return Option{}, false
}

// Others are what the other sides hold.
func (p Practice) Others(chosen string) []why.Alternative {
	var list []why.Alternative
	for _, o := range p.Options {
		if o.Key != chosen {
			list = append(list, why.Alternative{Name: o.Name, Statement: o.Says})
		}
	}
	return list
}

// Choices are the options that hold, by the key of their practice.
type Choices map[string]string

// Choose lays choices over the defaults of the catalogue; later ones win, and what the catalogue does not know is
// left out.
func (c *Catalog) Choose(made ...Choices) Choices {
	all := maps.Clone(c.defaults)
	for _, layer := range made {
		for practice, option := range layer {
			if p := c.practices[practice]; p != nil {
				if _, ok := p.Option(option); ok {
					all[practice] = option
				}
			}
		}
	}
	return all
}

// String writes the choices in one order, so that equal ones are equal as text.
func (c Choices) String() string {
	var b strings.Builder
	for _, practice := range slices.Sorted(maps.Keys(c)) {
		b.WriteString(practice + "=" + c[practice] + ";")
	}
	return b.String()
}

// Conditions hold when of each practice named one of the listed options is chosen.
type Conditions map[string][]string

// Hold reports whether they hold; no conditions always do.
func (w Conditions) Hold(c Choices) bool {
	for practice, options := range w {
		if !slices.Contains(options, c[practice]) {
			return false
		}
	}
	return true
}

func (w Conditions) practices() []string { return slices.Sorted(maps.Keys(w)) }
