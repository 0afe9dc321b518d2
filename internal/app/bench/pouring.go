package bench

import (
	"context"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/store"
	"solfeggio/internal/store/benchrows"
	"solfeggio/internal/store/supplyrows"
)

// Pouring is a product that steps still to be begun take, and the lot that they take it from.
type Pouring struct {
	ProductID uuid.UUID `json:"product_id"`
	Product   string    `json:"product"`
	Lot       string    `json:"lot" doc:"Empty for a pack without a number"`
	Lots      []string  `json:"lots" doc:"What else stands there and is not out of date"`
}

// pouring lists the products that are still to be used on the open instruments of a run, in the order in which they come.
func (r *Room) pouring(ctx context.Context, tx *store.Tx, products []benchrows.Product, items []benchrows.BenchItem) ([]Pouring, error) {
	list := []Pouring{}
	for _, i := range items {
		for _, step := range i.Steps {
			if !i.Open() || step.BegunAt != nil || step.Product == nil ||
				slices.ContainsFunc(list, func(p Pouring) bool { return p.ProductID == *step.Product }) {
				continue
			}
			list = append(list, Pouring{ProductID: *step.Product, Lot: step.Lot, Lots: []string{}})
		}
	}
	if len(list) == 0 {
		return list, nil
	}
	lots, err := supplyrows.Lots(ctx, tx, nil)
	if err != nil {
		return nil, err
	}
	today, err := r.schools.TodayIn(ctx, tx)
	if err != nil {
		return nil, err
	}
	for n := range list {
		p := &list[n]
		at := slices.IndexFunc(products, func(o benchrows.Product) bool { return o.ID == p.ProductID })
		if at < 0 {
			continue
		}
		p.Product = products[at].Name
		for _, l := range lots {
			if l.Supply == products[at].Supply && !supply.OutOfDate(l, today) && l.Lot != p.Lot && !slices.Contains(p.Lots, l.Lot) {
				p.Lots = append(p.Lots, l.Lot)
			}
		}
	}
	return list, nil
}

// Repouring says that a product is taken from another lot from now on.
type Repouring struct {
	ProductID uuid.UUID `json:"product_id"`
	Lot       string    `json:"lot" maxLength:"80"`
}

// Pour takes a product from another lot for all that has not begun: a bottle is empty. What was begun keeps the lot that it
// was begun with.
func (r *Room) Pour(ctx context.Context, by journal.Person, id uuid.UUID, in Repouring) (Ticked, error) {
	return r.atBench(ctx, by, id, func(tx *store.Tx, _ *school.Snapshot, _ *benchrows.BenchRun, items []benchrows.BenchItem) ([]uuid.UUID, error) {
		products, err := benchrows.Products(ctx, tx)
		if err != nil {
			return nil, err
		}
		poured, err := r.pouring(ctx, tx, products, items)
		if err != nil {
			return nil, err
		}
		n := slices.IndexFunc(poured, func(p Pouring) bool { return p.ProductID == in.ProductID })
		switch {
		case n < 0:
			return nil, journal.Refuse("product_id", "nothing that is still to be done takes this product", in.ProductID)
		case in.Lot == poured[n].Lot:
			return nil, nil
		case !slices.Contains(poured[n].Lots, in.Lot):
			return nil, journal.Refuse("lot", "is not in stock, or is out of date", in.Lot)
		}
		for _, i := range items {
			for _, step := range i.Steps {
				if !i.Open() || step.BegunAt != nil || step.Product == nil || *step.Product != in.ProductID {
					continue
				}
				step.Lot = in.Lot
				if err := benchrows.SetBenchStep(ctx, tx, step); err != nil {
					return nil, err
				}
			}
		}
		return nil, nil
	}, false)
}

// poured is the lot that a step takes which is to be begun again: the one that other steps of its product take now.
func poured(items []benchrows.BenchItem, of benchrows.BenchStep) string {
	for _, i := range items {
		for _, s := range i.Steps {
			another := s.Instrument != of.Instrument || s.N != of.N
			if another && i.Open() && s.BegunAt == nil && s.Product != nil && of.Product != nil && *s.Product == *of.Product {
				return s.Lot
			}
		}
	}
	return of.Lot
}
