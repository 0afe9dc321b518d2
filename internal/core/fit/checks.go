package fit

import (
	"slices"
	"strings"

	"solfeggio/internal/core/field"
)

// Checks are what is seen with the instrument in playing position. A check that was not made is empty. Violins and violas have their
// own, cellos and basses theirs (common practice, no published source).
type Checks struct {
	Scroll       string `json:"scroll,omitempty" jsonschema:"enum=short,enum=ok,enum=past" enum:",short,ok,past" doc:"Violin and viola. With the arm out the hand closes on the scroll: fingertips only, comfortably, well beyond"`
	Elbow        string `json:"elbow,omitempty" jsonschema:"enum=tight,enum=ok,enum=wide" enum:",tight,ok,wide" doc:"Violin and viola. Angle of the elbow in playing position, about a right angle when it fits"`
	FourthFinger string `json:"fourth_finger,omitempty" jsonschema:"enum=relaxed,enum=stretched" enum:",relaxed,stretched" doc:"Violin and viola. On its note"`
	TopEdge      string `json:"top_edge,omitempty" jsonschema:"enum=below,enum=ok,enum=above" enum:",below,ok,above" doc:"Cello and bass. Where the top edge comes to rest: at the chest when it fits"`
	LowestPeg    string `json:"lowest_peg,omitempty" jsonschema:"enum=below,enum=ok,enum=above" enum:",below,ok,above" doc:"Cello and bass. Where the lowest peg stands: just behind the ear when it fits"`
}

// Says is what an answer says of the instrument.
type Says string

// What an answer can say.
const (
	Fits     Says = "fits"
	TooBig   Says = "too big"
	TooSmall Says = "too small"
)

// A Sign is one thing to look at with the instrument in hand, with the answers that there are.
type Sign struct {
	Key     string   `json:"key" enum:"scroll,elbow,fourth_finger,top_edge,lowest_peg"`
	Ask     string   `json:"ask"`
	Answers []Answer `json:"answers"`
}

// An Answer to a check.
type Answer struct {
	Key   string `json:"key"`
	Words string `json:"words"`
	Says  Says   `json:"says" enum:"fits,too big,too small"`
}

var (
	onTheArm = []Sign{
		{
			"scroll",
			"Arm out, the hand closes on the scroll",
			[]Answer{{"short", "fingertips only", TooBig}, {"ok", "comfortably", Fits}, {"past", "well beyond it", TooSmall}},
		},
		{
			"elbow",
			"The elbow in playing position",
			[]Answer{{"tight", "too tight", TooSmall}, {"ok", "about a right angle", Fits}, {"wide", "too wide", TooBig}},
		},
		{
			"fourth_finger",
			"The fourth finger on its note",
			[]Answer{{"relaxed", "relaxed and round", Fits}, {"stretched", "stretched", TooBig}},
		},
	}
	onTheFloor = []Sign{
		{
			"top_edge",
			"In playing position the top edge rests",
			[]Answer{{"below", "below the chest", TooSmall}, {"ok", "at the chest", Fits}, {"above", "above it", TooBig}},
		},
		{
			"lowest_peg",
			"The lowest peg stands",
			[]Answer{{"below", "below the ear", TooSmall}, {"ok", "just behind the ear", Fits}, {"above", "above it", TooBig}},
		},
	}
	familyOf = map[string][]Sign{"violin": onTheArm, "viola": onTheArm, "cello": onTheFloor, "bass": onTheFloor}
)

// SignsOf lists the signs of a chart's kind.
func SignsOf(kind string) []Sign { return familyOf[kind] }

func (c Checks) answer(key string) string {
	switch key {
	case "scroll":
		return c.Scroll
	case "elbow":
		return c.Elbow
	case "fourth_finger":
		return c.FourthFinger
	case "top_edge":
		return c.TopEdge
	case "lowest_peg":
		return c.LowestPeg
	}
	return ""
}

// Check refuses answers that the checks do not have, and checks of the other family.
func (c Checks) Check(kind string) error {
	own := SignsOf(kind)
	for _, family := range [][]Sign{onTheArm, onTheFloor} {
		for _, check := range family {
			given := c.answer(check.Key)
			if given == "" {
				continue
			}
			if !slices.ContainsFunc(own, func(o Sign) bool { return o.Key == check.Key }) {
				return field.Errorf("checks."+check.Key, "is no check of a %s", kind)
			}
			if !slices.ContainsFunc(check.Answers, func(a Answer) bool { return a.Key == given }) {
				var known []string
				for _, a := range check.Answers {
					known = append(known, a.Key)
				}
				return field.Errorf("checks."+check.Key, "%q is no answer; use one of %s", given, strings.Join(known, ", "))
			}
		}
	}
	return nil
}

// says sums up: too big at one sign, which wins; too small when every check that can say so does; complete when all were made.
func (c Checks) says(kind string) (says Says, complete bool) {
	small, canBeSmall := 0, 0
	complete = true
	for _, check := range SignsOf(kind) {
		complete = complete && c.answer(check.Key) != ""
		for _, a := range check.Answers {
			given := a.Key == c.answer(check.Key)
			switch {
			case a.Says == TooBig && given:
				says = TooBig
			case a.Says == TooSmall:
				if canBeSmall++; given {
					small++
				}
			}
		}
	}
	switch {
	case says == TooBig:
	case canBeSmall > 0 && small == canBeSmall:
		says = TooSmall
	default:
		says = Fits
	}
	return says, complete
}
