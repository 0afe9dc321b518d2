// Package catalog holds what the trade knows about each kind of instrument: its parts and their materials, the
// routines of its care with their steps and cautions, the intervals of the three profiles, the schools of practice, and
// what an inspection looks at and may find.
//
// All of it is data under data/, checked against the shape of these types and against itself when it is loaded.
// A new kind of instrument is a new entry there, and no code.
package catalog

import (
	"slices"
	"strings"
)

// A Kind of instrument, such as the B-flat clarinet.
type Kind struct {
	Key        string   `json:"kind"`
	Name       string   `json:"name"`
	Also       []string `json:"also,omitempty" doc:"Other names that stand for it in the files of schools"`
	Like       string   `json:"like,omitempty" doc:"Key of the kind whose care it has, for one that is kept like another"`
	Family     string   `json:"family" jsonschema:"enum=woodwind,enum=brass,enum=percussion,enum=keyboard,enum=strings"`
	Section    string   `json:"section" doc:"Heading under which it stands in score order"`
	ScoreOrder int      `json:"score_order" doc:"Lists of kinds are sorted by it"`
	TagPrefix  string   `json:"tag_prefix"`
	Drawing    string   `json:"drawing" doc:"Name of its outline"`
	Bodies     []string `json:"bodies" jsonschema:"minItems=1" doc:"Materials that the body may have; the first is the usual one"`
	Sizes      []string `json:"sizes" doc:"Smallest first; empty when there is one size only"`
	SizeChart  string   `json:"size_chart,omitempty" doc:"Key of the chart that fits a size to a player; empty for none"`
	Parts      []Part   `json:"parts"`
	Routines   []string `json:"routines" doc:"Keys of the routines, in the order of the week"`
	Inspection string   `json:"inspection" doc:"Key of the template of its inspection"`
	Kit        string   `json:"kit" doc:"Key of what belongs in its case"`
	Strengths  []string `json:"strengths,omitempty" doc:"Of its reeds, from soft to hard; filled in from its kit"`
	Valves     int      `json:"valves,omitempty" doc:"The usual number of them"`
	Bulky      bool     `json:"bulky,omitempty" doc:"Carried to and fro, and too large for a crowded bus"`
	LifeYears  float64  `json:"life_years" doc:"That one serves a school, from memory"`
	New        int64    `json:"new_cents" doc:"What a new one usually costs, from memory"`
	NewSmall   int64    `json:"new_small_cents,omitempty" doc:"The same for the sizes of children"`
	VanPlaces  int      `json:"van_places,omitempty" doc:"Places that it takes in a van, from memory; one when left out"`
}

// A Naming adds names by which a kind is known in the files of schools.
type Naming struct {
	Kind  string   `json:"kind"`
	Names []string `json:"names" jsonschema:"minItems=1"`
}

// A Part of an instrument or its kit. Material is a key of a Material, or "body" for whatever this instrument's
// body is made of.
type Part struct {
	Key      string `json:"key"`
	Name     string `json:"name"`
	Material string `json:"material"`
	Short    string `json:"short,omitempty" doc:"Its name where there is little room"`
	Lives    bool   `json:"lives,omitempty" doc:"It is put on and comes to its end for a cause; filled in from the endings of its material"`

	Surface string            `json:"surface,omitempty" doc:"The practice that says of each instrument what this part is made of; material is for as long as nobody said"`
	MadeOf  map[string]string `json:"made_of,omitempty" doc:"Materials by the options of the surface"`
	Mouth   bool              `json:"mouth,omitempty" doc:"It touches a player's mouth"`
	Breath  bool              `json:"breath,omitempty" doc:"Breath wets it, so it is dried before it goes into a case"`
	Forbids []string          `json:"forbids,omitempty" doc:"Product groups that no step may bring to it, whatever it is made of"`
	Never   string            `json:"never,omitempty" doc:"The same for people"`
}

// A Material and what must never touch it.
type Material struct {
	Key     string   `json:"key"`
	Name    string   `json:"name"`
	Forbids []string `json:"forbids" doc:"Product groups no step may bring to it"`
	Bears   []string `json:"bears,omitempty" doc:"What a cleaner or disinfectant may be made of to touch it, from memory; none when left out"`
	Never   string   `json:"never"`
	Blown   string   `json:"blown,omitempty" doc:"Caution before a woodwind with such a body is put together and blown"`
}

// A ProductGroup is what steps bring to parts: anything from a dry cloth to alcohol.
type ProductGroup struct {
	Key        string   `json:"key"`
	Name       string   `json:"name"`
	Is         []string `json:"is,omitempty" doc:"Wider groups it belongs to, such as liquid"`
	Active     string   `json:"active,omitempty" doc:"What it works by; left out for what neither cleans nor disinfects by itself"`
	Disinfects bool     `json:"disinfects,omitempty" doc:"A product that a school owns for the bench may be made of it"`
	Taints     bool     `json:"taints,omitempty" doc:"What it is put on keeps it: that cloth wipes nothing else and stays out of the case, where its vapour would reach varnish and pads"`
}

// A Place where work is done, with what setting it up costs.
type Place struct {
	Key          string  `json:"key"`
	Name         string  `json:"name"`
	SetupMinutes float64 `json:"setup_minutes" doc:"Person-minutes, paid once a time box"`
	Brings       string  `json:"brings"`
	Soaks        bool    `json:"soaks,omitempty" doc:"Mouthpieces stand here in dilute vinegar"`
	Usual        int     `json:"usual,omitempty" doc:"How many of it a school has, from memory; 0 where it is no station of the bench"`
}

// Part finds a part of the kind by its key.
func (k Kind) Part(key string) (Part, bool) {
	for _, p := range k.Parts {
		if p.Key == key {
			return p, true
		}
	}
	return Part{}, false
}

func (k Kind) has(parts []string) bool {
	return !slices.ContainsFunc(parts, func(key string) bool { _, ok := k.Part(key); return !ok })
}

// InText writes a name for the middle of a sentence: its first letter small, unless it is a note's, as in B-flat clarinet.
func InText(name string) string {
	if len(name) < 2 || name[1] == '-' {
		return name
	}
	return strings.ToLower(name[:1]) + name[1:]
}

// MaterialOf is the key of what a part of an instrument is made of.
func (p Part) MaterialOf(of Subject) string {
	if material := p.MadeOf[of.Choices[p.Surface]]; material != "" {
		return material
	}
	if p.Material == "body" {
		return of.Body
	}
	return p.Material
}

// Strings is the family whose cases are soft and whose bows are mended by others.
const Strings = "strings"
