// Package kits decides how much of a consumable to order.
//
// Reeds break and strings snap one by one and independently, so what is used in a time is taken as Poisson distributed about
// its expected number: an assumption, no published source for school supplies.
package kits

import (
	"math"

	"gonum.org/v1/gonum/mathext"

	"solfeggio/internal/core/field"
)

// ForecastIn is the input of the calculator kits.forecast. Stock and pack size are in the unit of the demand.
type ForecastIn struct {
	DemandPerWeek  float64 `json:"demand_per_week"`
	HorizonWeeks   float64 `json:"horizon_weeks" doc:"How long the order is to last"`
	LeadWeeks      float64 `json:"lead_weeks" doc:"Until it arrives"`
	Stock          float64 `json:"stock"`
	PackSize       float64 `json:"pack_size" doc:"More than 0"`
	ServiceLevel   float64 `json:"service_level" doc:"How sure it should be that it lasts, between 0 and 1"`
	PackPriceCents int64   `json:"pack_price_cents"`
}

// ForecastOut is its result.
type ForecastOut struct {
	Expected   float64 `json:"expected" doc:"Use over horizon and lead time"`
	Needed     int64   `json:"needed" doc:"The least number that lasts with the service level"`
	OrderPacks int64   `json:"order_packs"`
	OrderCents int64   `json:"order_cents"`
}

const (
	tolerance = 1e-9
	most      = 1e9 // of anything
)

// Forecast is the calculator kits.forecast.
func Forecast(in ForecastIn) (ForecastOut, error) {
	for _, x := range []struct {
		name string
		v    float64
	}{{"demand_per_week", in.DemandPerWeek}, {"horizon_weeks", in.HorizonWeeks}, {"lead_weeks", in.LeadWeeks}, {"stock", in.Stock}} {
		if !(x.v >= 0 && x.v <= most) {
			return ForecastOut{}, field.Errorf(x.name, "%v cannot be; use 0 or more", x.v)
		}
	}
	if !field.Positive(in.PackSize) {
		return ForecastOut{}, field.Errorf("pack_size", "%v is no pack; use more than 0", in.PackSize)
	}
	if !(in.ServiceLevel > 0 && in.ServiceLevel < 1) {
		return ForecastOut{}, field.Errorf("service_level", "%v is not between 0 and 1", in.ServiceLevel)
	}
	if in.PackPriceCents < 0 || in.PackPriceCents > most {
		return ForecastOut{}, field.Errorf("pack_price_cents", "%d is no price; use 0 or more", in.PackPriceCents)
	}
	out := ForecastOut{Expected: in.DemandPerWeek * (in.HorizonWeeks + in.LeadWeeks)}
	if out.Expected > most {
		return ForecastOut{}, field.Errorf(
			"demand_per_week",
			"%v over %v weeks is more than can be",
			in.DemandPerWeek,
			in.HorizonWeeks+in.LeadWeeks,
		)
	}
	out.Needed = needed(out.Expected, in.ServiceLevel)
	out.OrderPacks = int64(math.Ceil(math.Max(0, float64(out.Needed)-in.Stock)/in.PackSize - tolerance))
	if float64(out.OrderPacks)*float64(in.PackPriceCents) > field.MostExact {
		return ForecastOut{}, field.Errorf("pack_price_cents", "%d for each of %d packs is more than can be", in.PackPriceCents, out.OrderPacks)
	}
	out.OrderCents = out.OrderPacks * in.PackPriceCents
	return out, nil
}

// needed is the smallest k whose Poisson distribution function reaches the level.
func needed(expected, level float64) int64 {
	if expected == 0 {
		return 0
	}
	enough := func(k int64) bool { return mathext.GammaIncRegComp(float64(k)+1, expected) >= level-tolerance }
	low, high := int64(-1), int64(1)
	for !enough(high) {
		low, high = high, 2*high
	}
	for high-low > 1 {
		if middle := low + (high-low)/2; enough(middle) {
			high = middle
		} else {
			low = middle
		}
	}
	return high
}
