package hygiene

import (
	"fmt"
	"math"
	"slices"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/field"
	"solfeggio/internal/core/kits"
)

// SuppliesIn is the input of the calculator hygiene.supplies.
type SuppliesIn struct {
	Instruments []BatchInstrument `json:"instruments"`
	Vessel      *Vessel           `json:"vessel,omitempty" doc:"What mouthpieces stand in to soak; without it a usual amount is taken for each"`
}

// A BatchInstrument is one instrument of a batch that goes to new players.
type BatchInstrument struct {
	Kind       string `json:"kind" doc:"Name or key of the kind; one that the catalogue does not have is judged by its body"`
	Body       string `json:"body" jsonschema:"enum=plastic,enum=wood,enum=metal,enum=varnish"`
	Mouthpiece bool   `json:"mouthpiece" doc:"It has one that comes off and is soaked or washed"`
	Reeds      int    `json:"reeds" doc:"New ones that it gets, 0 or more"`
}

// A Vessel holds mouthpieces upright, the end with the cork up.
type Vessel struct {
	InnerDiameterMM    float64 `json:"inner_diameter_mm"`
	CorkHeightMM       float64 `json:"cork_height_mm" doc:"Lower edge of the cork above the bottom"`
	MouthpieceVolumeML float64 `json:"mouthpiece_volume_ml" doc:"What one displaces, 0 or more"`
	AtOnce             int     `json:"at_once" doc:"Mouthpieces in it together, 1 or more"`
}

// SuppliesOut is its result, for the whole batch.
type SuppliesOut struct {
	GlovePairs   int     `json:"glove_pairs"`
	VinegarML    float64 `json:"vinegar_ml" doc:"For all fillings"`
	WaterML      float64 `json:"water_ml" doc:"Cold, for all fillings"`
	FillML       float64 `json:"fill_ml" doc:"Of one filling; 0 when nothing is soaked"`
	Fillings     int     `json:"fillings" doc:"Each load of mouthpieces gets a fresh mixture"`
	AlcoholML    float64 `json:"alcohol_ml" doc:"Of 70 %"`
	Wipes        int     `json:"wipes"`
	Patches      int     `json:"patches"`
	Reeds        int     `json:"reeds"`
	Pencils      int     `json:"pencils"`
	DryingPlaces int     `json:"drying_places" doc:"When all dry at once"`
}

// Vinegar to water in the soak of reed mouthpieces (common practice, no published source).
const (
	VinegarParts = 1.0
	WaterParts   = 10.0
)

const (
	underCorkMM = 10.0  // the solution stays so far below the cork: wet, its glue lets go
	soakML      = 165.0 // for one mouthpiece in a cup of its own (from memory)
	atMost      = 10000 // instruments, reeds, mouthpieces
)

// FillML is how much a vessel takes so that the level stays 10 mm under the corks with all mouthpieces in it.
func (v Vessel) FillML() (float64, error) {
	for _, x := range []struct {
		name string
		v    float64
	}{{"inner_diameter_mm", v.InnerDiameterMM}, {"cork_height_mm", v.CorkHeightMM}} {
		if err := within(x.name, x.v, 2000); err != nil {
			return 0, err
		}
	}
	switch {
	case !(v.MouthpieceVolumeML >= 0 && v.MouthpieceVolumeML <= mostML):
		return 0, field.Errorf("mouthpiece_volume_ml", "%v cannot be; use 0 or more", v.MouthpieceVolumeML)
	case v.AtOnce < 1 || v.AtOnce > atMost:
		return 0, field.Errorf("at_once", "%d cannot be; use 1 or more", v.AtOnce)
	case v.CorkHeightMM <= underCorkMM:
		return 0, field.Errorf(
			"cork_height_mm",
			"%v leaves nothing to fill, since the level stays %v mm under the cork",
			v.CorkHeightMM,
			underCorkMM,
		)
	}
	space := math.Pi / 4 * v.InnerDiameterMM * v.InnerDiameterMM * (v.CorkHeightMM - underCorkMM) / 1000
	fill := space - float64(v.AtOnce)*v.MouthpieceVolumeML
	if fill <= 0 {
		return 0, field.Errorf("at_once", "%d mouthpieces take up more than the %.0f mL below the level", v.AtOnce, space)
	}
	return fill, nil
}

// Supplies is the calculator hygiene.supplies: what turning a batch over to new players takes. What a turnover uses of each
// supply stands in the catalogue.
func Supplies(in SuppliesIn) (SuppliesOut, error) {
	if len(in.Instruments) > atMost {
		return SuppliesOut{}, field.Errorf("instruments", "%d are too many", len(in.Instruments))
	}
	c := catalog.Embedded()
	var out SuppliesOut
	soaked := 0
	use := map[catalog.Role]float64{}
	for n, i := range in.Instruments {
		if i.Kind == "" {
			return SuppliesOut{}, field.Errorf(fmt.Sprintf("instruments[%d].kind", n), "is empty")
		}
		if i.Reeds < 0 || i.Reeds > atMost {
			return SuppliesOut{}, field.Errorf(fmt.Sprintf("instruments[%d].reeds", n), "%d cannot be; use 0 or more", i.Reeds)
		}
		kind, family, ok := i.traits(c)
		if !ok {
			return SuppliesOut{}, field.Errorf(
				fmt.Sprintf("instruments[%d].body", n),
				"%q is none of plastic, wood, metal, varnish",
				i.Body,
			)
		}
		for _, role := range []catalog.Role{catalog.Gloves, catalog.Alcohol, catalog.CaseWipes, catalog.Pencils} {
			use[role] += kits.AtTurnover(c.SupplyFor(role), family)
		}
		if i.reedMouthpiece(kind) {
			soaked++
			use[catalog.Patches] += kits.AtTurnover(c.SupplyFor(catalog.Patches), family)
		}
		out.Reeds += i.Reeds
	}
	out.GlovePairs, out.Wipes, out.Pencils = whole(use[catalog.Gloves]), whole(use[catalog.CaseWipes]), whole(use[catalog.Pencils])
	out.AlcoholML, out.Patches = use[catalog.Alcohol]*c.SupplyFor(catalog.Alcohol).HoldsML, whole(use[catalog.Patches])
	out.DryingPlaces = len(in.Instruments)
	perLoad, fill := 1, soakML
	if in.Vessel != nil {
		var err error
		if fill, err = in.Vessel.FillML(); err != nil {
			return SuppliesOut{}, field.Within("vessel", err)
		}
		perLoad = in.Vessel.AtOnce
	}
	if soaked == 0 {
		return out, nil
	}
	out.Fillings, out.FillML = (soaked+perLoad-1)/perLoad, fill
	vinegar, water := VinegarParts, WaterParts
	mix, err := Dilute(DilutionIn{VolumeML: fill * float64(out.Fillings), PartsStock: &vinegar, PartsDiluent: &water})
	out.VinegarML, out.WaterML = mix.StockML, mix.DiluentML
	return out, err
}

// traits are the kind, where the catalogue has it, and the family.
func (i BatchInstrument) traits(c *catalog.Catalog) (*catalog.Kind, string, bool) {
	kind, known := c.KindCalled(i.Kind)
	family, ok := map[string]string{"plastic": "woodwind", "wood": "woodwind", "metal": "brass", "varnish": "strings"}[i.Body]
	if i.Body == "metal" && i.Reeds > 0 {
		family = "woodwind"
	}
	if known {
		family = kind.Family
	}
	return kind, family, ok
}

// reedMouthpiece reports whether it has a mouthpiece that a reed lies on: only such a one goes into vinegar.
func (i BatchInstrument) reedMouthpiece(kind *catalog.Kind) bool {
	if !i.Mouthpiece {
		return false
	}
	if kind != nil {
		return slices.ContainsFunc(kind.Parts, func(p catalog.Part) bool { return p.Key == "reed" })
	}
	return i.Reeds > 0 || i.Body != "metal"
}

func whole(x float64) int { return int(math.Ceil(x - tolerance)) }
