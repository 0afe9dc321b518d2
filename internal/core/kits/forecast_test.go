package kits

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
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
		"demand_per_week: -1": func(in *ForecastIn) { in.DemandPerWeek = -1 },
		"horizon_weeks: ":     func(in *ForecastIn) { in.HorizonWeeks = -1 },
		"lead_weeks: ":        func(in *ForecastIn) { in.LeadWeeks = -2 }, "stock: ": func(in *ForecastIn) { in.Stock = -3 },
		"pack_size: 0 is no pack":     func(in *ForecastIn) { in.PackSize = 0 },
		"service_level: 0 is not":     func(in *ForecastIn) { in.ServiceLevel = 0 },
		"pack_price_cents: ":          func(in *ForecastIn) { in.PackPriceCents = -1 },
		"demand_per_week: 2e+08 over": func(in *ForecastIn) { in.DemandPerWeek = 2e8 },
	} {
		in := good
		spoil(&in)
		_, err := Forecast(in)
		assert.ErrorContains(t, err, want)
	}
}

// What is ordered is enough and no pack too many; more in stock never orders more, being surer never less.
func TestForecastHoldsItsPromises(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := ForecastIn{
			DemandPerWeek: rapid.Float64Range(0, 200).
				Draw(t, "demand"),
			HorizonWeeks: rapid.Float64Range(0, 52).Draw(t, "horizon"), LeadWeeks: rapid.Float64Range(0, 12).Draw(t, "lead"),
			Stock: float64(rapid.IntRange(0, 5000).Draw(t, "stock")), PackSize: float64(rapid.IntRange(1, 100).Draw(t, "pack")),
			ServiceLevel: rapid.Float64Range(0.01, 0.999).Draw(t, "level"), PackPriceCents: rapid.Int64Range(0, 1e5).Draw(t, "price"),
		}
		got, err := Forecast(in)
		if err != nil {
			t.Fatal(err)
		}
		have := in.Stock + float64(got.OrderPacks)*in.PackSize
		if have < float64(got.Needed) || got.OrderPacks > 0 && have-in.PackSize >= float64(got.Needed) {
			t.Fatalf("%d packs of %v on top of %v for %d", got.OrderPacks, in.PackSize, in.Stock, got.Needed)
		}
		if got.OrderCents != got.OrderPacks*in.PackPriceCents {
			t.Fatalf("%d packs cost %d", got.OrderPacks, got.OrderCents)
		}
		more := in
		more.Stock++
		if fuller, _ := Forecast(more); fuller.OrderPacks > got.OrderPacks {
			t.Fatalf("one more in stock orders %d instead of %d", fuller.OrderPacks, got.OrderPacks)
		}
		surer := in
		surer.ServiceLevel += (1 - in.ServiceLevel) / 2
		if sure, _ := Forecast(surer); sure.Needed < got.Needed {
			t.Fatalf("surer needs %d instead of %d", sure.Needed, got.Needed)
		}
	})
}
