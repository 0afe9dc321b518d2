package supply

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"solfeggio/internal/app/demand"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/kits"
	"solfeggio/internal/core/why"
	"solfeggio/internal/store"
	"solfeggio/internal/store/supplyrows"
)

// Supplies is everything that kits and bench use up: what is there, what will be needed, what it costs.
type Supplies struct {
	HorizonWeeks float64          `json:"horizon_weeks"`
	ServiceLevel float64          `json:"service_level"`
	Lines        []SupplyLine     `json:"lines" doc:"In the order of the catalogue"`
	Costs        []demand.KitCost `json:"costs" doc:"What a kit costs per player, in score order"`
}

// SupplyLine is a supply with its stock and what to order.
type SupplyLine struct {
	supplyrows.SupplySetting
	Name       string           `json:"name" doc:"With its size or strength"`
	Unit       string           `json:"unit"`
	AtBench    bool             `json:"at_bench"`
	Expires    bool             `json:"expires" doc:"It carries a date"`
	InStock    float64          `json:"in_stock" doc:"Units that are not out of date"`
	OutOfDate  float64          `json:"out_of_date" doc:"Units that are"`
	Lots       []supplyrows.Lot `json:"lots" doc:"What is soonest out of date first"`
	OnOrder    float64          `json:"on_order" doc:"Units that are still to come"`
	Wanting    float64          `json:"wanting" doc:"Units that the next refill round takes, and the bench for what is held"`
	PerWeek    float64          `json:"per_week" doc:"Units used in a week"`
	LastsWeeks *float64         `json:"lasts_weeks,omitempty" doc:"How long the stock lasts; left out when nothing is used"`
	Forecast   kits.ForecastOut `json:"forecast"`
	Why        why.Why          `json:"why"`
}

// Supplies works out stock, demand and order for a horizon, at a service level between 0 and 1.
func (r *Room) Supplies(ctx context.Context, by journal.Person, horizonWeeks, serviceLevel float64) (Supplies, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return Supplies{}, err
	}
	out := Supplies{HorizonWeeks: horizonWeeks, ServiceLevel: serviceLevel, Lines: []SupplyLine{}, Costs: []demand.KitCost{}}
	var settings []supplyrows.SupplySetting
	var lots []supplyrows.Lot
	var orders []supplyrows.Order
	if err := r.schools.Read(ctx, by, func(tx *store.Tx) error {
		if settings, err = supplyrows.SupplySettings(ctx, tx); err != nil {
			return err
		}
		if lots, err = supplyrows.Lots(ctx, tx, nil); err != nil {
			return err
		}
		orders, err = supplyrows.Orders(ctx, tx)
		return err
	}); err != nil {
		return out, err
	}
	need := r.demand.Of(s, horizonWeeks)
	for _, supply := range append(slices.Clip(r.schools.Catalog.Supplies), r.ownSupplies(settings, lots)...) {
		for _, of := range stockedSizes(&supply, need, lots) {
			line := SupplyLine{
				Name:    supply.Called(of.Size),
				Unit:    supply.Unit,
				AtBench: supply.AtBench,
				Expires: supply.Expires,
				Lots:    []supplyrows.Lot{},
			}
			line.SupplySetting = supplyrows.SupplySetting{Stocked: of, PackSize: supply.Pack, LeadWeeks: kits.UsualLeadWeeks}
			if own, ok := settingOf(settings, of); ok {
				line.SupplySetting = own
			}
			line.count(lots, orders, s.Today)
			if err := line.forecast(need[of], horizonWeeks, serviceLevel); err != nil {
				return out, err
			}
			out.Lines = append(out.Lines, line)
		}
	}
	out.Costs = r.demand.KitCosts(s, pricesOf(out.Lines))
	return out, nil
}

// pricesOf is what a unit costs in cents.
func pricesOf(lines []SupplyLine) map[supplyrows.Stocked]float64 {
	price := map[supplyrows.Stocked]float64{}
	for _, l := range lines {
		if l.PackPriceCents != nil {
			price[l.Stocked] = float64(*l.PackPriceCents) / l.PackSize
			price[supplyrows.Stocked{Supply: l.Supply}] = price[l.Stocked] // of any strength
		}
	}
	return price
}

// ownSupplies lists the supplies that the school has named itself, by name: those of which it says how they are bought or has any.
func (r *Room) ownSupplies(settings []supplyrows.SupplySetting, lots []supplyrows.Lot) []catalog.Supply {
	list := []catalog.Supply{}
	note := func(key string) {
		s, ok := r.schools.Catalog.Supply(key)
		if ok && s.Own() && !slices.ContainsFunc(list, func(other catalog.Supply) bool { return other.Key == key }) {
			list = append(list, *s)
		}
	}
	for _, s := range settings {
		note(s.Supply)
	}
	for _, l := range lots {
		note(l.Supply)
	}
	slices.SortFunc(list, func(x, y catalog.Supply) int { return strings.Compare(x.Name, y.Name) })
	return list
}

// stockedSizes lists the sizes of a supply that are needed or in stock; what the bench uses is listed always.
func stockedSizes(supply *catalog.Supply, needs demand.Needs, lots []supplyrows.Lot) []supplyrows.Stocked {
	list := []supplyrows.Stocked{}
	add := func(of supplyrows.Stocked) {
		if of.Supply == supply.Key && !slices.Contains(list, of) {
			list = append(list, of)
		}
	}
	if supply.AtBench || supply.Own() {
		add(supplyrows.Stocked{Supply: supply.Key})
	}
	for of := range needs {
		add(of)
	}
	for _, l := range lots {
		add(l.Stocked)
	}
	slices.SortFunc(list, func(x, y supplyrows.Stocked) int {
		soft, hard := slices.Index(supply.Strengths, x.Size), slices.Index(supply.Strengths, y.Size)
		return cmp.Or(soft-hard, len(x.Size)-len(y.Size), strings.Compare(x.Size, y.Size))
	})
	return list
}

// settingOf is how the school buys a supply. What it says of a reed goes for each strength of which it says nothing else.
func settingOf(settings []supplyrows.SupplySetting, of supplyrows.Stocked) (supplyrows.SupplySetting, bool) {
	var general *supplyrows.SupplySetting
	for n := range settings {
		switch settings[n].Stocked {
		case of:
			return settings[n], true
		case supplyrows.Stocked{Supply: of.Supply}:
			general = &settings[n]
		}
	}
	if general == nil {
		return supplyrows.SupplySetting{}, false
	}
	own := *general
	own.Stocked, own.Version = of, 0
	return own, true
}

// count adds up what is there and what is to come.
func (l *SupplyLine) count(lots []supplyrows.Lot, orders []supplyrows.Order, today day.Day) {
	for _, lot := range lots {
		if lot.Stocked != l.Stocked {
			continue
		}
		l.Lots = append(l.Lots, lot)
		if OutOfDate(lot, today) {
			l.OutOfDate += lot.Remaining
		} else {
			l.InStock += lot.Remaining
		}
	}
	for _, o := range orders {
		for _, line := range o.Lines {
			if line.Stocked == l.Stocked && o.ClosedOn == nil {
				l.OnOrder += line.PackSize * float64(max(0, line.Packs-line.ReceivedPacks))
			}
		}
	}
}

// forecast works out what to order. What the next refill round takes is counted on top of what is used in the weeks to come.
func (l *SupplyLine) forecast(n *demand.Need, horizonWeeks, serviceLevel float64) error {
	if n == nil {
		n = &demand.Need{}
	}
	l.PerWeek, l.Wanting = n.PerWeek, n.Wanting
	if n.PerWeek > 0 {
		lasts := max(0, l.InStock-n.Wanting) / n.PerWeek
		l.LastsWeeks = &lasts
	}
	in := kits.ForecastIn{
		DemandPerWeek: n.PerWeek,
		HorizonWeeks:  horizonWeeks,
		LeadWeeks:     l.LeadWeeks,
		Stock:         l.InStock + l.OnOrder,
		PackSize:      l.PackSize,
		ServiceLevel:  serviceLevel,
	}
	if weeks := horizonWeeks + l.LeadWeeks; weeks > 0 {
		in.DemandPerWeek += n.Wanting / weeks
	}
	if l.PackPriceCents != nil {
		in.PackPriceCents = *l.PackPriceCents
	}
	var err error
	if l.Forecast, err = kits.Forecast(in); err != nil {
		return journal.RefuseInput(err)
	}
	l.Why = why.Why{
		Rule: "kits.forecast",
		Basis: why.Basis{
			Kind:   why.OwnRule,
			Source: "lives and amounts from the catalogue, common practice or from memory; use taken as Poisson distributed",
		},
		Statement: fmt.Sprintf(
			"%d instruments use %.2f a week. Over %v weeks and the %v until it arrives that is %.1f with what kits lack and held instruments take now; %d last with %.0f %% certainty.",
			n.Users,
			n.PerWeek,
			horizonWeeks,
			l.LeadWeeks,
			l.Forecast.Expected,
			l.Forecast.Needed,
			100*serviceLevel,
		),
		Inputs: []why.Input{
			{Name: "in stock", Value: fmt.Sprintf("%v", l.InStock)}, {Name: "on order", Value: fmt.Sprintf("%v", l.OnOrder)},
			{
				Name:  "kits lack and held instruments take now",
				Value: fmt.Sprintf("%v", n.Wanting),
			}, {Name: "pack", Value: fmt.Sprintf("%v", l.PackSize)},
		},
	}
	says := make([]string, 0, len(n.Parts))
	for text := range n.Parts {
		says = append(says, text)
	}
	slices.Sort(says)
	for _, text := range says {
		l.Why.Inputs = append(l.Why.Inputs, why.Input{Name: text, Value: fmt.Sprintf("%.2f a week", n.Parts[text])})
	}
	return nil
}

// OwnSupply is a supply of the school's own.
type OwnSupply struct {
	Name string `json:"name" minLength:"1" maxLength:"60"`
}

// NameSupply adds a supply of the school's own: from then on it is counted, bought and ordered like any other.
func (r *Room) NameSupply(ctx context.Context, by journal.Person, in OwnSupply) error {
	key, err := r.schools.Catalog.OwnSupplyKey(in.Name)
	if err != nil {
		return journal.Refuse("name", err.Error(), in.Name)
	}
	return r.SaveSupply(ctx, by, supplyrows.SupplySetting{Stocked: supplyrows.Stocked{Supply: key}, PackSize: 1, LeadWeeks: kits.UsualLeadWeeks})
}

// SaveSupply says how a supply is bought.
func (r *Room) SaveSupply(ctx context.Context, by journal.Person, in supplyrows.SupplySetting) error {
	if _, err := r.StockedName(in.Stocked); err != nil {
		return err
	}
	in.Supplier = strings.TrimSpace(in.Supplier)
	_, err := school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (struct{}, error) {
		return struct{}{}, supplyrows.PutSupplySetting(ctx, tx, in)
	})
	return err
}
