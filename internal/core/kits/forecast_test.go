package kits

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestForecast(t *testing.T) {
	tests := []struct {
		name string
		in   ForecastIn
		want ForecastOut
	}{
		{"nothing is used", ForecastIn{0, 20, 2, 0, 10, 0.95, 1500}, ForecastOut{0, 0, 0, 0}},
		// Poisson of mean 10: P(X ≤ 14) = 0.9165, P(X ≤ 15) = 0.9513 (from memory; scipy agrees in oracle_test.go).
		{"ten expected, for 95 %", ForecastIn{1, 8, 2, 0, 10, 0.95, 1500}, ForecastOut{10, 15, 2, 3000}},
		{"stock is taken off", ForecastIn{1, 8, 2, 5, 10, 0.95, 1500}, ForecastOut{10, 15, 1, 1500}},
		{"more in stock than needed", ForecastIn{1, 8, 2, 99, 10, 0.95, 1500}, ForecastOut{10, 15, 0, 0}},
		{"little use, most weeks none", ForecastIn{0.01, 4, 1, 0, 1, 0.95, 200}, ForecastOut{0.05, 0, 0, 0}},
		{"exactly full packs", ForecastIn{1, 8, 2, 0, 5, 0.95, 100}, ForecastOut{10, 15, 3, 300}},
	}
	for _, tt := range tests {
		got, err := Forecast(tt.in)
		require.NoError(t, err)
		assert.InDelta(t, tt.want.Expected, got.Expected, 1e-9, tt.name)
		got.Expected = tt.want.Expected
		assert.Equal(t, tt.want, got, tt.name)
	}
}

func TestForecastRefuses(t *testing.T) {
	good := ForecastIn{1, 8, 2, 0, 10, 0.95, 1500}
	for want, spoil := range map[string]func(*ForecastIn){
		"demand_per_week: -1": func(in *ForecastIn) { in.DemandPerWeek = -1 }, "horizon_weeks: ": func(in *ForecastIn) { in.HorizonWeeks = -1 },
		"lead_weeks: ": func(in *ForecastIn) { in.LeadWeeks = -2 }, "stock: ": func(in *ForecastIn) { in.Stock = -3 },
		"pack_size: 0 is no pack": func(in *ForecastIn) { in.PackSize = 0 }, "service_level: 0 is not": func(in *ForecastIn) { in.ServiceLevel = 0 },
		"pack_price_cents: ": func(in *ForecastIn) { in.PackPriceCents = -1 }, "demand_per_week: 2e+08 over": func(in *ForecastIn) { in.DemandPerWeek = 2e8 },
	} {
		in := good
		spoil(&in)
		_, err := Forecast(in)
		assert.ErrorContains(t, err, want)
	}
}
