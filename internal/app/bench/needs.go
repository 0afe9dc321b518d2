package bench

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/products"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/hygiene"
	"solfeggio/internal/store"
	"solfeggio/internal/store/benchrows"
	"solfeggio/internal/store/supplyrows"
)

// BenchNeed is a supply that the work takes.
type BenchNeed struct {
	supplyrows.Stocked
	Name    string  `json:"name"`
	Unit    string  `json:"unit"`
	Units   float64 `json:"units"`
	ML      float64 `json:"ml,omitempty" doc:"Where it is used by the millilitre"`
	InStock float64 `json:"in_stock" doc:"Units that are not out of date"`
	Short   float64 `json:"short" doc:"Units that are missing, by the books"`
}

// Soak is how the vessel for mouthpieces is filled.
type Soak struct {
	Mouthpieces int     `json:"mouthpieces"`
	FillML      float64 `json:"fill_ml" doc:"Of one filling"`
	VinegarML   float64 `json:"vinegar_ml" doc:"Of one filling"`
	WaterML     float64 `json:"water_ml" doc:"Of one filling, cold"`
	Fillings    int     `json:"fillings"`
	Measured    bool    `json:"measured" doc:"From the school's own vessel; else a usual cup for each"`
}

// needs adds up what the work takes, and what of it is not there.
func (r *Room) needs(ctx context.Context, tx *store.Tx, s *school.Snapshot, plan *BenchPlan, owned []products.OwnedProduct) error {
	units := map[supplyrows.Stocked]float64{}
	list := make([]benchrows.Product, len(owned))
	for n, p := range owned {
		list[n] = p.Product
	}
	plan.Handling = products.HandlingOf(list, func(id uuid.UUID) bool {
		return slices.ContainsFunc(plan.jobs, func(j benchJob) bool { return brings(j.procedure.Steps, id) })
	})
	mouthpieces := 0
	for _, j := range plan.jobs {
		for of, n := range r.demand.Takes(j.i, j.reason, j.procedure.Routine,
			suppliesOf(list, func(id uuid.UUID) bool { return brings(j.procedure.Steps, id) })) {
			units[of] += n
		}
		mouthpieces += count(r.soaks(j.procedure.Steps))
	}
	if mouthpieces > 0 {
		soak, err := soakFor(ctx, tx, mouthpieces)
		if err != nil {
			return err
		}
		plan.Soak = &soak
		vinegar := r.schools.Catalog.SupplyFor(catalog.Vinegar)
		units[supplyrows.Stocked{Supply: vinegar.Key}] = soak.VinegarML * float64(soak.Fillings) / vinegar.HoldsML
	}
	stock, err := supply.Usable(ctx, tx, s.Today)
	if err != nil {
		return err
	}
	for of, n := range units {
		supply, _ := r.schools.Catalog.Supply(of.Supply)
		name, err := r.supply.StockedName(of)
		if err != nil {
			return err
		}
		need := BenchNeed{
			Stocked: of,
			Name:    name,
			Unit:    supply.Unit,
			Units:   n,
			ML:      n * supply.HoldsML,
			InStock: stock[of],
			Short:   max(0, n-stock[of]),
		}
		if supply.Role == catalog.Gloves {
			plan.GlovePairs = int(n)
		}
		plan.Needs = append(plan.Needs, need)
	}
	slices.SortFunc(plan.Needs, func(x, y BenchNeed) int {
		return cmp.Or(count(y.Short > 1e-9)-count(x.Short > 1e-9), strings.Compare(x.Name, y.Name))
	})
	return nil
}

// suppliesOf are those out of which the products come that were used.
func suppliesOf(products []benchrows.Product, used func(id uuid.UUID) bool) map[string]bool {
	supplies := map[string]bool{}
	for _, p := range products {
		if used(p.ID) {
			supplies[p.Supply] = true
		}
	}
	return supplies
}

func brings(steps []hygiene.Step, product uuid.UUID) bool {
	return slices.ContainsFunc(steps, func(s hygiene.Step) bool { return s.Product != nil && s.Product.ID == product.String() })
}

// soaks reports whether a mouthpiece stands in the vessel.
func (r *Room) soaks(steps []hygiene.Step) bool {
	return slices.ContainsFunc(steps, func(s hygiene.Step) bool {
		station, ok := r.schools.Catalog.Place(s.Station)
		return ok && station.Soaks
	})
}

// soakFor works out the filling of the vessel.
func soakFor(ctx context.Context, tx *store.Tx, mouthpieces int) (Soak, error) {
	vessel, err := benchrows.SoakVessel(ctx, tx)
	if err != nil {
		return Soak{}, err
	}
	in := hygiene.SuppliesIn{Vessel: vessel}
	for range mouthpieces {
		in.Instruments = append(in.Instruments, hygiene.BatchInstrument{Kind: "with a reed", Body: "plastic", Mouthpiece: true})
	}
	all, err := hygiene.Supplies(in)
	if err != nil || all.Fillings == 0 {
		return Soak{}, errors.Join(err, fmt.Errorf("no filling for %d mouthpieces", mouthpieces))
	}
	n := float64(all.Fillings)
	return Soak{mouthpieces, all.FillML, all.VinegarML / n, all.WaterML / n, all.Fillings, vessel != nil}, nil
}
