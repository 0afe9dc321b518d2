// Package hygiene decides how instruments are made clean between players: what may touch which surface, how a solution is
// mixed, and what a batch uses up.
//
// Dirt shields what should be killed, so cleaning comes first. What a product does it does while the surface is wet, for as long as its
// label asks. Labels, safety sheets, local rules and the school's nurse or safety officer stand above everything that is decided here.
package hygiene

import (
	"math"

	"solfeggio/internal/core/field"
)

// DilutionIn is the input of the calculator hygiene.dilution: either two percentages or two numbers of parts.
type DilutionIn struct {
	VolumeML     float64  `json:"volume_ml" doc:"Of the finished solution, more than 0"`
	TargetPct    *float64 `json:"target_pct,omitempty" doc:"Strength wanted, more than 0 and no more than stock_pct"`
	StockPct     *float64 `json:"stock_pct,omitempty" doc:"Strength in the bottle, up to 100"`
	PartsStock   *float64 `json:"parts_stock,omitempty" doc:"More than 0"`
	PartsDiluent *float64 `json:"parts_diluent,omitempty" doc:"0 or more"`
}

// DilutionOut is its result.
type DilutionOut struct {
	StockML          float64 `json:"stock_ml"`
	DiluentML        float64 `json:"diluent_ml"`
	ConcentrationPct float64 `json:"concentration_pct" doc:"From parts: that of the stock's own strength"`
}

// mostML bounds a volume: ten cubic metres.
const mostML = 1e7

// Dilute is the calculator hygiene.dilution. What is in the stock is in the solution: C1·V1 = C2·V2, with volumes taken as
// additive, as textbooks of general chemistry do for dilute solutions (alcohol and water shrink by up to 4 %, from memory).
func Dilute(in DilutionIn) (DilutionOut, error) {
	if err := within("volume_ml", in.VolumeML, mostML); err != nil {
		return DilutionOut{}, err
	}
	byStrength := in.TargetPct != nil || in.StockPct != nil
	byParts := in.PartsStock != nil || in.PartsDiluent != nil
	switch {
	case byStrength && byParts:
		return DilutionOut{}, field.Errorf("parts_stock", "give either percentages or parts, not both")
	case byParts:
		return diluteParts(in)
	case in.TargetPct == nil:
		return DilutionOut{}, field.Errorf("target_pct", "missing; give target_pct and stock_pct, or parts_stock and parts_diluent")
	case in.StockPct == nil:
		return DilutionOut{}, field.Errorf("stock_pct", "missing")
	}
	if err := within("stock_pct", *in.StockPct, 100); err != nil {
		return DilutionOut{}, err
	}
	if err := within("target_pct", *in.TargetPct, 100); err != nil {
		return DilutionOut{}, err
	}
	if *in.TargetPct > *in.StockPct+tolerance {
		return DilutionOut{}, field.Errorf("target_pct", "%v is stronger than the stock of %v", *in.TargetPct, *in.StockPct)
	}
	stock := min(in.VolumeML, in.VolumeML**in.TargetPct / *in.StockPct)
	return DilutionOut{stock, in.VolumeML - stock, *in.TargetPct}, nil
}

func diluteParts(in DilutionIn) (DilutionOut, error) {
	switch {
	case in.PartsStock == nil:
		return DilutionOut{}, field.Errorf("parts_stock", "missing")
	case in.PartsDiluent == nil:
		return DilutionOut{}, field.Errorf("parts_diluent", "missing")
	case *in.PartsDiluent < 0:
		return DilutionOut{}, field.Errorf("parts_diluent", "%v cannot be; use 0 or more", *in.PartsDiluent)
	}
	if err := within("parts_stock", *in.PartsStock, mostML); err != nil {
		return DilutionOut{}, err
	}
	if *in.PartsDiluent > 0 {
		if err := within("parts_diluent", *in.PartsDiluent, mostML); err != nil {
			return DilutionOut{}, err
		}
	}
	share := *in.PartsStock / (*in.PartsStock + *in.PartsDiluent)
	stock := in.VolumeML * share
	return DilutionOut{stock, in.VolumeML - stock, 100 * share}, nil
}

const tolerance = 1e-9

// within refuses what is not above 0 and at most the given number.
func within(name string, v, most float64) error {
	if !(v > 0 && v <= most) || math.IsInf(v, 0) {
		return field.Errorf(name, "%v cannot be; use more than 0 and at most %v", v, most)
	}
	return nil
}
