// Package catalog holds what the trade knows about each kind of instrument: its parts and their materials, the
// routines of its care with their steps and cautions, and the intervals of the three profiles.
//
// All of it is data under data/, checked against the shape of these types and against itself when it is loaded.
// A new kind of instrument is a new file there, and no code.
package catalog

import (
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/why"
)

// A Kind of instrument, such as the B-flat clarinet.
type Kind struct {
	Key        string   `json:"kind"`
	Name       string   `json:"name"`
	Family     string   `json:"family" jsonschema:"enum=woodwind,enum=brass,enum=percussion,enum=strings"`
	Section    string   `json:"section" doc:"Heading under which it stands in score order"`
	ScoreOrder int      `json:"score_order" doc:"Lists of kinds are sorted by it"`
	TagPrefix  string   `json:"tag_prefix"`
	Bodies     []string `json:"bodies" jsonschema:"minItems=1" doc:"Materials that the body may have; the first is the usual one"`
	Sizes      []string `json:"sizes" doc:"Smallest first; empty when there is one size only"`
	Parts      []Part   `json:"parts"`
	Routines   []string `json:"routines" doc:"Keys of the routines, in the order of the week"`
}

// A Part of an instrument or its kit. Material is a key of a Material, or "body" for whatever this instrument's
// body is made of.
type Part struct {
	Key      string `json:"key"`
	Name     string `json:"name"`
	Material string `json:"material"`
}

// A Material and what must never touch it.
type Material struct {
	Key     string   `json:"key"`
	Name    string   `json:"name"`
	Forbids []string `json:"forbids" doc:"Product groups no step may bring to it"`
	Never   string   `json:"never"`
}

// A Place where work is done, with what setting it up costs.
type Place struct {
	Key          string  `json:"key"`
	Name         string  `json:"name"`
	SetupMinutes float64 `json:"setup_minutes" doc:"Person-minutes, paid once a time box"`
	Brings       string  `json:"brings"`
}

// A Profile is how strictly a school keeps its clocks.
type Profile struct {
	Key       string `json:"key" jsonschema:"enum=classroom,enum=standard,enum=concert"`
	Name      string `json:"name"`
	Statement string `json:"statement"`
}

// Who may do a routine.
type Who string

// The people of the trade, as the data names them.
const (
	Player     Who = "player"
	Technician Who = "technician"
)

// A Routine is a piece of care: what is done, by whom, where, and how often.
type Routine struct {
	Key         string            `json:"key"`
	Title       string            `json:"title"`
	Rhythm      string            `json:"rhythm" jsonschema:"enum=every time,enum=weekly,enum=monthly,enum=term,enum=yearly,enum=by wear"`
	Who         Who               `json:"who" jsonschema:"enum=player,enum=section leader,enum=director,enum=director or trained helper,enum=technician" enum:"player,section leader,director,director or trained helper,technician"`
	Minutes     float64           `json:"minutes" doc:"Person-minutes for one clock of it"`
	Place       string            `json:"place"`
	On          []string          `json:"on,omitempty" doc:"Parts with a clock of their own; empty for one clock of the whole instrument"`
	Limits      Intervals         `json:"limits,omitzero"`
	Basis       why.Kind          `json:"basis" jsonschema:"enum=common practice,enum=from memory,enum=standard"`
	Consequence care.Consequence  `json:"consequence" jsonschema:"minimum=1,maximum=5"`
	Replaces    bool              `json:"replaces,omitempty" doc:"It puts something new in place of what is worn, so doing it early wastes some of it"`
	OneADay     bool              `json:"one_a_day,omitempty" doc:"At most one of its clocks on an instrument in a day"`
	SettleDays  int               `json:"settle_days,omitempty" doc:"Days it needs to settle before a concert"`
	Implies     []string          `json:"implies,omitempty" doc:"Routines whose clocks this one restarts too"`
	Tools       []string          `json:"tools"`
	Cautions    []string          `json:"cautions,omitempty" doc:"Shown before the first step"`
	Otherwise   []why.Alternative `json:"held_otherwise,omitempty" doc:"What others do, and why"`
	Steps       []Step            `json:"steps" jsonschema:"minItems=1"`
}

// Intervals of the three profiles. Every holds for all that are not given; with neither, the profile has no clock.
type Intervals struct {
	Every     *care.Limits `json:"every,omitempty"`
	Classroom *care.Limits `json:"classroom,omitempty"`
	Standard  *care.Limits `json:"standard,omitempty"`
	Concert   *care.Limits `json:"concert,omitempty"`
}

// A Step of a routine.
type Step struct {
	Do       string   `json:"do"`
	Reason   string   `json:"reason,omitempty"`
	Prevents string   `json:"prevents,omitempty" doc:"The common mistake that it prevents"`
	Parts    []string `json:"parts,omitempty"`
	Products []string `json:"products,omitempty" doc:"Product groups it brings to its parts"`
}

// For returns the limits in a profile; ok is false when the profile keeps no clock.
func (i Intervals) For(profile string) (l care.Limits, ok bool) {
	chosen := map[string]*care.Limits{"classroom": i.Classroom, "standard": i.Standard, "concert": i.Concert}[profile]
	if chosen == nil {
		chosen = i.Every
	}
	if chosen == nil {
		return care.Limits{}, false
	}
	return *chosen, true
}

// Clocks returns the parts that have a clock of the routine; one empty name stands for the whole instrument.
func (r Routine) Clocks() []string {
	if len(r.On) == 0 {
		return []string{""}
	}
	return r.On
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
