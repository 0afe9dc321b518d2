package demo

import (
	"context"
	"fmt"
	"maps"
	"math"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/supply"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store/supplyrows"
)

// The suppliers of Quillhaven are invented, and so are their prices.
const (
	reedHouse   = "Marsh & Cane"
	stringHouse = "Lissom Strings"
	careHouse   = "Brindlemoor Care"
)

// bought is what Quillhaven buys where, in packs of how many, for how much, and what lies in the drawer.
var bought = map[string]struct {
	supplier   string
	pack       float64
	cents      int64
	inStock    float64
	bestBefore day.Day // days from today; 0 for none
}{
	"reed-clarinet": {
		reedHouse,
		10,
		2190,
		64,
		0,
	}, "reed-clarinet-e-flat": {reedHouse, 10, 2490, 8, 0}, "reed-clarinet-alto": {reedHouse, 5, 1890, 6, 0},
	"reed-clarinet-bass": {
		reedHouse,
		5,
		2150,
		9,
		0,
	}, "reed-saxophone-alto": {reedHouse, 10, 2390, 22, 0}, "reed-saxophone-tenor": {reedHouse, 5, 1790, 0, 0},
	"reed-saxophone-baritone": {
		reedHouse,
		5,
		2390,
		5,
		0,
	}, "reed-oboe": {reedHouse, 1, 1650, 9, 0}, "reed-bassoon": {reedHouse, 1, 1850, 4, 0},
	"valve-oil": {
		careHouse,
		12,
		5880,
		7,
		0,
	}, "rotor-oil": {careHouse, 1, 690, 2, 0}, "slide-grease": {careHouse, 6, 2940, 3, 0}, "slide-lubricant": {careHouse, 1, 790, 2, 0},
	"cork-grease": {careHouse, 12, 2280, 9, 0}, "light-oil": {careHouse, 1, 450, 1, 0}, "petroleum-jelly": {careHouse, 1, 250, 1, 0},
	"peg-compound": {
		stringHouse,
		1,
		590,
		4,
		0,
	}, "rosin": {stringHouse, 1, 650, 6, 0}, "string-cloth": {careHouse, 5, 1450, 8, 0}, "polishing-cloth": {careHouse, 1, 520, 5, 0},
	"body-swab": {
		careHouse,
		1,
		640,
		3,
		0,
	}, "head-joint-swab": {careHouse, 1, 490, 2, 0}, "weighted-swab": {careHouse, 1, 890, 4, 0}, "sponge-mat": {careHouse, 1, 590, 3, 0},
	"mouthpiece-brush": {
		careHouse,
		1,
		340,
		6,
		0,
	}, "casing-brush": {careHouse, 1, 420, 2, 0}, "snake": {careHouse, 1, 690, 2, 0}, "mouthpiece-patch": {reedHouse, 8, 990, 14, 0},
	"mouthpiece-cap": {
		reedHouse,
		1,
		390,
		3,
		0,
	}, "ligature": {reedHouse, 1, 1490, 2, 0}, "reed-holder": {reedHouse, 1, 790, 3, 0}, "saxophone-strap": {reedHouse, 1, 1690, 1, 0},
	"pencil": {
		careHouse,
		12,
		360,
		30,
		0,
	}, "name-tag": {careHouse, 10, 1200, 12, 0}, "contents-card": {careHouse, 10, 300, 20, 0}, "mute": {stringHouse, 1, 290, 3, 0},
	"humidifier": {stringHouse, 1, 790, 2, 0}, "endpin-stop": {stringHouse, 1, 890, 1, 0}, "mallets": {careHouse, 1, 2790, 2, 0},
	"gloves": {
		careHouse,
		50,
		890,
		60,
		0,
	}, "alcohol-70": {careHouse, 1, 790, 2, 190}, "vinegar": {careHouse, 1, 120, 1, 0}, "wipes": {careHouse, 100, 690, 40, -12},
	"case-spray": {careHouse, 1, 1190, 2, 320},
}

// strengths are the shares of the reeds that are played at Quillhaven, by the softest of their kind.
var strengths = map[string]map[string]float64{
	"1.5":  {"2": 0.25, "2.5": 0.5, "3": 0.25},
	"soft": {"medium soft": 0.5, "medium": 0.5},
}

// strings are bought by the set in each size.
var strings4 = map[string]struct {
	cents   int64
	inStock float64
}{
	"strings-violin": {2890, 2}, "strings-viola": {3990, 1}, "strings-cello": {8900, 1}, "strings-bass": {12900, 0},
}

// gaps are things that have gone missing from kits, or are low or wet.
var gaps = map[string]map[string]catalog.KitState{
	"CL-03": {"weighted-swab": catalog.Wet, "cork-grease": catalog.Low},
	"CL-11": {"reed-clarinet": catalog.Missing, "mouthpiece-cap": catalog.Missing},
	"SX-02": {"reed-saxophone-alto": catalog.Low, "end-plug": catalog.Missing},
	"TR-01": {"valve-oil": catalog.Low},
	"TR-09": {"valve-oil": catalog.Missing, "sponge-mat": catalog.Wet},
	"TB-02": {"slide-lubricant": catalog.Low},
	"VN-05": {"rosin": catalog.Missing, "mute": catalog.Missing},
	"VC-02": {"endpin-stop": catalog.Missing},
	"FL-04": {"head-joint-swab": catalog.Missing},
}

// supplies fills the drawers, and says what has gone missing.
func (s *seeder) supplies(ctx context.Context) error {
	buy := func(of supplyrows.Stocked, supplier string, pack float64, cents int64) error {
		if err := s.app.Supply.SaveSupply(ctx, s.director,
			supplyrows.SupplySetting{Stocked: of, Supplier: supplier, PackSize: pack, PackPriceCents: &cents, LeadWeeks: 2}); err != nil {
			return fmt.Errorf("%s: %w", of.Supply, err)
		}
		return nil
	}
	count := func(of supplyrows.Stocked, inStock float64, bestBefore day.Day) error {
		if inStock == 0 {
			return nil
		}
		count := supply.Count{Stocked: of, Quantity: inStock}
		if bestBefore != 0 {
			on := s.today + bestBefore
			count.Lot, count.ExpiresOn = "Q-"+fmt.Sprint(1000+int(on)%900), &on
		}
		_, err := s.app.Supply.CountStock(ctx, s.director, count)
		return err
	}
	for _, supply := range catalog.Embedded().Supplies { // in the order of the catalogue, so that each start makes the same school
		b, ok := bought[supply.Key]
		if !ok {
			continue
		}
		if err := buy(supplyrows.Stocked{Supply: supply.Key}, b.supplier, b.pack, b.cents); err != nil {
			return err
		}
		drawer := map[string]float64{"": 1}
		if len(supply.Strengths) > 0 {
			drawer = strengths[supply.Strengths[0]]
		}
		for _, size := range slices.Sorted(maps.Keys(drawer)) {
			if err := count(supplyrows.Stocked{Supply: supply.Key, Size: size}, math.Round(b.inStock*drawer[size]), b.bestBefore); err != nil {
				return err
			}
		}
	}
	for _, kind := range catalog.Embedded().Kinds {
		for _, item := range catalog.Embedded().KitOf(&kind).Items {
			b, ok := strings4[item.Supply]
			if !ok {
				continue
			}
			for n, size := range kind.Sizes {
				inStock := 0. // of the small sizes
				if n == len(kind.Sizes)-1 {
					inStock = b.inStock
				}
				of := supplyrows.Stocked{Supply: item.Supply, Size: size}
				if err := buy(of, stringHouse, 1, b.cents); err != nil {
					return err
				}
				if err := count(of, inStock, 0); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

// missing looks through the kits in which something is not as it should be.
func (s *seeder) missing(ctx context.Context, ids map[string]uuid.UUID) error {
	for _, tag := range slices.Sorted(maps.Keys(gaps)) {
		if _, err := s.app.Supply.CheckKit(ctx, s.director, ids[tag], supply.KitCheck{States: gaps[tag]}); err != nil {
			return fmt.Errorf("%s: %w", tag, err)
		}
	}
	return nil
}
