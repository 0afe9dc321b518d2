package shop

import (
	"fmt"
	"math"

	"solfeggio/internal/core/field"
	"solfeggio/internal/core/money"
	"solfeggio/internal/core/why"
)

// Choice is what is done with an instrument that a repair was quoted for.
type Choice string

// The choices.
const (
	Repair  Choice = "repair"
	Replace Choice = "replace"
)

// RepairOrReplaceIn is the input of the calculator shop.repair-or-replace.
type RepairOrReplaceIn struct {
	QuoteCents                    int64   `json:"quote_cents"`
	LifeAfterRepairYears          float64 `json:"life_after_repair_years" doc:"That it serves once mended, more than 0"`
	UpkeepCentsPerYear            int64   `json:"upkeep_cents_per_year" doc:"Of the present one"`
	ReplacementCents              int64   `json:"replacement_cents" doc:"Price of a new one"`
	ReplacementLifeYears          float64 `json:"replacement_life_years" doc:"That a new one serves, more than 0"`
	ResaleCents                   int64   `json:"resale_cents" doc:"What the present one brings today, unmended"`
	ReplacementUpkeepCentsPerYear int64   `json:"replacement_upkeep_cents_per_year"`
	DiscountRate                  float64 `json:"discount_rate" doc:"What money costs in a year, as a fraction: 0.03 for 3 %"`

	Currency money.Currency `json:"-"` // as reasons name it
}

// RepairOrReplaceOut is its result.
type RepairOrReplaceOut struct {
	RepairAnnualCents   int64   `json:"repair_annual_cents" doc:"What keeping it costs a year, over the life that the repair gives it"`
	ReplaceAnnualCents  int64   `json:"replace_annual_cents" doc:"What a new one costs a year, over its life"`
	Choice              Choice  `json:"choice" enum:"repair,replace"`
	BreakEvenQuoteCents int64   `json:"break_even_quote_cents" doc:"The quote at which both cost alike; not below 0"`
	HalfPriceRule       Choice  `json:"half_price_rule" enum:"repair,replace" doc:"A second opinion: repair up to half the price of a new one"`
	Why                 why.Why `json:"why"`
}

// RepairOrReplace is the calculator shop.repair-or-replace: the cheaper by what each costs a year (equivalent annual cost, engineering
// economy); what costs alike is repaired. Errors name the field by its JSON path.
func RepairOrReplace(in RepairOrReplaceIn) (RepairOrReplaceOut, error) {
	for _, x := range []struct {
		name  string
		cents int64
	}{
		{"quote_cents", in.QuoteCents}, {"upkeep_cents_per_year", in.UpkeepCentsPerYear}, {"replacement_cents", in.ReplacementCents},
		{"resale_cents", in.ResaleCents}, {"replacement_upkeep_cents_per_year", in.ReplacementUpkeepCentsPerYear},
	} {
		if err := checkCents(x.name, x.cents); err != nil {
			return RepairOrReplaceOut{}, err
		}
	}
	for _, x := range []struct {
		name  string
		years float64
	}{{"life_after_repair_years", in.LifeAfterRepairYears}, {"replacement_life_years", in.ReplacementLifeYears}} {
		if !field.Positive(x.years) {
			return RepairOrReplaceOut{}, field.Errorf(x.name, "%v is no life; use more than 0", x.years)
		}
	}
	if err := checkRate(in.DiscountRate); err != nil {
		return RepairOrReplaceOut{}, err
	}
	aYear := recovery(in.DiscountRate, in.LifeAfterRepairYears)
	repair := float64(in.QuoteCents)*aYear + float64(in.UpkeepCentsPerYear)
	replace := float64(in.ReplacementCents-in.ResaleCents)*recovery(in.DiscountRate, in.ReplacementLifeYears) +
		float64(in.ReplacementUpkeepCentsPerYear)
	breakEven := math.Max(0, (replace-float64(in.UpkeepCentsPerYear))/aYear)
	out := RepairOrReplaceOut{
		RepairAnnualCents: roundCents(repair), ReplaceAnnualCents: roundCents(replace), Choice: Repair,
		BreakEvenQuoteCents: roundCents(breakEven), HalfPriceRule: Repair,
	}
	if repair > replace+tolerance {
		out.Choice = Replace
	}
	if 2*in.QuoteCents > in.ReplacementCents {
		out.HalfPriceRule = Replace
	}
	says := map[Choice]string{Repair: "Repair it", Replace: "Replace it"}[out.Choice]
	out.Why = why.Why{
		Rule: "shop.repair-or-replace",
		Statement: fmt.Sprintf("%s: mended it costs %s a year, a new one %s. Up to a quote of %s the repair is the better buy.",
			says, in.Currency.Say(out.RepairAnnualCents), in.Currency.Say(out.ReplaceAnnualCents), in.Currency.Say(out.BreakEvenQuoteCents)),
		Inputs: []why.Input{
			{Name: "quote", Value: in.Currency.Say(in.QuoteCents)},
			{Name: "serves then", Value: fmt.Sprintf("%g years", in.LifeAfterRepairYears)},
			{Name: "a new one", Value: fmt.Sprintf("%s for %g years", in.Currency.Say(in.ReplacementCents), in.ReplacementLifeYears)},
			{Name: "money costs", Value: fmt.Sprintf("%g %% a year", 100*in.DiscountRate)},
		},
		Basis: why.Basis{Kind: why.Standard, Source: "equivalent annual cost, engineering economy (from memory)"},
		Alternatives: []why.Alternative{
			{
				Name:      "The half-price rule",
				Statement: fmt.Sprintf("Many repair up to half the price of a new one: here that says %s.", out.HalfPriceRule),
			},
		},
	}
	return out, nil
}

// EconomicLifeIn is the input of the calculator shop.economic-life.
type EconomicLifeIn struct {
	PriceCents   int64   `json:"price_cents"`
	ResaleCents  []int64 `json:"resale_cents" doc:"What it brings at the end of year 1, 2, …"`
	UpkeepCents  []int64 `json:"upkeep_cents" doc:"What it costs in year 1, 2, …; as many as of resale"`
	DiscountRate float64 `json:"discount_rate" doc:"As a fraction"`
}

// EconomicLifeOut is its result.
type EconomicLifeOut struct {
	AnnualCents []float64 `json:"annual_cents" doc:"What a year costs when it is kept for 1, 2, … years, not rounded"`
	LifeYears   int       `json:"life_years" doc:"The number of years for which that is least; of equals the first"`
}

// EconomicLife is the calculator shop.economic-life: the minimum cost life of engineering economy. Errors name the field by its JSON
// path.
func EconomicLife(in EconomicLifeIn) (EconomicLifeOut, error) {
	if err := checkCents("price_cents", in.PriceCents); err != nil {
		return EconomicLifeOut{}, err
	}
	if len(in.ResaleCents) == 0 {
		return EconomicLifeOut{}, field.Errorf("resale_cents", "is empty; give at least one year")
	}
	if len(in.UpkeepCents) != len(in.ResaleCents) {
		return EconomicLifeOut{}, field.Errorf("upkeep_cents", "has %d years, resale_cents %d", len(in.UpkeepCents), len(in.ResaleCents))
	}
	if err := checkRate(in.DiscountRate); err != nil {
		return EconomicLifeOut{}, err
	}
	out := EconomicLifeOut{}
	present, discount := float64(in.PriceCents), 1. // of the price and of all upkeep so far
	for n := range in.ResaleCents {
		if err := checkCents(fmt.Sprintf("resale_cents[%d]", n), in.ResaleCents[n]); err != nil {
			return EconomicLifeOut{}, err
		}
		if err := checkCents(fmt.Sprintf("upkeep_cents[%d]", n), in.UpkeepCents[n]); err != nil {
			return EconomicLifeOut{}, err
		}
		discount /= 1 + in.DiscountRate
		present += float64(in.UpkeepCents[n]) * discount
		out.AnnualCents = append(out.AnnualCents, (present-float64(in.ResaleCents[n])*discount)*recovery(in.DiscountRate, float64(n+1)))
		if out.LifeYears == 0 || out.AnnualCents[n] < out.AnnualCents[out.LifeYears-1]-tolerance {
			out.LifeYears = n + 1
		}
	}
	return out, nil
}

const tolerance = 1e-9

// recovery is the capital recovery factor: the part of a present amount that is paid each year for n years.
func recovery(rate, years float64) float64 {
	if rate == 0 {
		return 1 / years
	}
	return rate / -math.Expm1(-years*math.Log1p(rate))
}

func roundCents(v float64) int64 { return int64(math.Floor(v + 0.5 + tolerance)) }

func checkCents(path string, cents int64) error {
	if cents < 0 || cents > mostCents {
		return field.Errorf(path, "%d is no amount; use 0 or more", cents)
	}
	return nil
}

func checkRate(rate float64) error {
	if !(rate >= 0 && rate <= 1) {
		return field.Errorf("discount_rate", "%v is no rate; write 3 %% as 0.03", rate)
	}
	return nil
}
