package assign

import (
	"strings"

	"solfeggio/internal/core/condition"
	"solfeggio/internal/core/fit"
)

// Weights are how much each part of a pair's cost counts; 1 is usual.
type Weights struct {
	Size  float64 `json:"size" minimum:"0" maximum:"10" doc:"A size that does not fit"`
	Grade float64 `json:"grade" minimum:"0" maximum:"10" doc:"A worse grade"`
	Kept  float64 `json:"kept" minimum:"0" maximum:"10" doc:"Another instrument than the player had before"`
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
	Kept   bool // the player had it last
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
	size.Cost, kept.Cost = size.Cost*w.Size, kept.Cost*w.Kept
	return []CostPart{size, {"grade", grade * w.Grade, strings.ToLower(c.Grade.Words())}, kept}, true
}

func (c Candidate) sizePart() (CostPart, bool) {
	chart, fitted := fit.ChartOf(c.Kind)
	if !fitted || c.Size == "" {
		return CostPart{"size", 0, ""}, true
	}
	if c.Wanted == "" {
		return CostPart{"size", sizeUnknown, "not measured yet"}, true
	}
	off, known := fit.Apart(chart, c.Wanted, c.Size)
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
