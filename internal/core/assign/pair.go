package assign

import (
	"fmt"
	"strings"

	"solfeggio/internal/core/condition"
	"solfeggio/internal/core/fit"
)

// Weights are how much each part of a pair's cost counts; 1 is usual.
type Weights struct {
	Size   float64 `json:"size" minimum:"0" maximum:"10" doc:"A size that does not fit"`
	Grade  float64 `json:"grade" minimum:"0" maximum:"10" doc:"A worse grade"`
	Kept   float64 `json:"kept" minimum:"0" maximum:"10" doc:"Another instrument than the player had before"`
	Rental float64 `json:"rental" minimum:"0" maximum:"10" doc:"A rented one that goes back soon"`
	Travel float64 `json:"travel" minimum:"0" maximum:"10" doc:"A large one that travels with the player"`
	Kit    float64 `json:"kit" minimum:"0" maximum:"10" doc:"A kit with gaps"`
}

// CostPart is one reason that counts for or against a pair.
type CostPart struct {
	Name string  `json:"name"`
	Cost float64 `json:"cost"`
	Says string  `json:"says" doc:"Empty where there is nothing to say"`
}

// Candidate is an instrument beside a player who could have it.
type Candidate struct {
	Kind   string // of both
	Wanted string // size by the chart; empty for a player who was not measured
	Size   string // of the instrument; empty where there is one only
	Grade  condition.Grade
	Unseen bool // nobody has looked it over, so that its grade is a guess
	Kept   bool // the player had it last

	RentalWeeks *float64 // until it goes back to its owner before the player is done with it; nil when it stays
	Bulky       bool     // too large for a crowded bus
	OnFoot      bool     // the player comes by bus, by bicycle or on foot
	KitGaps     int      // things that are missing from its kit
}

// What a pair costs in each part: the product's own sums, of which only comparisons matter. A size too large is worse than one
// too small, because in doubt the smaller fits; more than one size off is no fit at all (common practice, no source).
const (
	sizeUnknown  = 2.
	oneTooSmall  = 6.
	oneTooLarge  = 10.
	anotherThan  = 3.
	limpingGrade = 8.
	classGrade   = 2.
	rentalEnds   = 6.  // at once; less the later it ends
	rentalFar    = 26. // weeks from now at which the end does not count any more
	carriedHome  = 4.
	kitGap       = 1. // for each thing, up to kitGaps
	kitGaps      = 5
)

// Parts adds up what counts for and against a pair; false when it must not be.
func (c Candidate) Parts(w Weights) ([]CostPart, bool) {
	size, ok := c.sizePart()
	if !ok {
		return nil, false
	}
	grade := map[condition.Grade]float64{condition.Class: classGrade, condition.Limping: limpingGrade}[c.Grade]
	kept := CostPart{"kept", anotherThan, "another than before"}
	if c.Kept {
		kept = CostPart{"kept", 0, "the player had it before"}
	}
	looked := strings.ToLower(c.Grade.Words())
	if c.Unseen {
		looked = "not looked over yet"
	}
	parts := []CostPart{size, {"grade", grade, looked}, kept}
	if c.RentalWeeks != nil {
		parts = append(
			parts,
			CostPart{
				"rental",
				rentalEnds * max(0, 1-*c.RentalWeeks/rentalFar),
				fmt.Sprintf("goes back to its owner in %.0f weeks", *c.RentalWeeks),
			},
		)
	}
	if c.Bulky && c.OnFoot {
		parts = append(parts, CostPart{"travel", carriedHome, "too large for the way: a second one at home?"})
	}
	if c.KitGaps > 0 {
		parts = append(parts, CostPart{"kit", kitGap * float64(min(c.KitGaps, kitGaps)), fmt.Sprintf("%d missing from its kit", c.KitGaps)})
	}
	weight := map[string]float64{"size": w.Size, "grade": w.Grade, "kept": w.Kept, "rental": w.Rental, "travel": w.Travel, "kit": w.Kit}
	for n := range parts {
		parts[n].Cost *= weight[parts[n].Name]
	}
	return parts, true
}

func (c Candidate) sizePart() (CostPart, bool) {
	chart, fitted := fit.ChartOf(c.Kind)
	if !fitted || c.Size == "" {
		return CostPart{"size", 0, ""}, true
	}
	if c.Wanted == "" {
		return CostPart{"size", sizeUnknown, "not measured yet"}, true
	}
	off, known := fit.Difference(chart, c.Wanted, c.Size)
	switch {
	case !known:
		return CostPart{"size", sizeUnknown, c.Size + " is not on the chart"}, true
	case off == 0:
		return CostPart{"size", 0, c.Size + " fits by the chart"}, true
	case off == -1:
		return CostPart{"size", oneTooSmall, "one smaller than the chart's " + c.Wanted}, true
	case off == 1:
		return CostPart{"size", oneTooLarge, "one larger than the chart's " + c.Wanted}, true
	}
	return CostPart{}, false
}
