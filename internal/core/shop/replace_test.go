package shop

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/core/day"
)

func offer() RepairOrReplaceIn {
	return RepairOrReplaceIn{
		QuoteCents: 40_000, LifeAfterRepairYears: 5, UpkeepCentsPerYear: 6_000,
		ReplacementCents: 150_000, ReplacementLifeYears: 15, ResaleCents: 10_000, ReplacementUpkeepCentsPerYear: 4_000, DiscountRate: 0.05,
	}
}

// Worked by hand with capital recovery factors (A/P, 5 %): 0.23097 for 5 years and 0.09634 for 15, as interest tables of engineering
// economy print them (from memory).
func TestRepairOrReplace(t *testing.T) {
	out, err := RepairOrReplace(offer())
	require.NoError(t, err)
	assert.InDelta(t, 40_000*0.23097+6_000, float64(out.RepairAnnualCents), 1)
	assert.InDelta(t, 140_000*0.09634+4_000, float64(out.ReplaceAnnualCents), 1)
	assert.Equal(t, []any{Repair, Repair}, []any{out.Choice, out.HalfPriceRule})
	assert.InDelta(t, (140_000*0.09634+4_000-6_000)/0.23097, float64(out.BreakEvenQuoteCents), 2)

	in := offer()
	in.QuoteCents = out.BreakEvenQuoteCents + 1
	out, err = RepairOrReplace(in)
	require.NoError(t, err)
	assert.Equal(t, Replace, out.Choice, "a cent above the break-even")

	in = offer()
	in.DiscountRate, in.QuoteCents, in.UpkeepCentsPerYear, in.ReplacementUpkeepCentsPerYear = 0, 50_000, 0, 0
	in.ReplacementCents, in.ResaleCents = 150_000, 0
	out, err = RepairOrReplace(in)
	require.NoError(t, err)
	assert.Equal(
		t,
		[]any{int64(10_000), int64(10_000), Repair, int64(50_000)},
		[]any{out.RepairAnnualCents, out.ReplaceAnnualCents, out.Choice, out.BreakEvenQuoteCents},
		"without interest a life's share a year, and what costs alike is repaired",
	)
	in.QuoteCents = 75_001
	out, err = RepairOrReplace(in)
	require.NoError(t, err)
	assert.Equal(t, Replace, out.HalfPriceRule)
	in.UpkeepCentsPerYear = 90_000
	out, err = RepairOrReplace(in)
	require.NoError(t, err)
	assert.Zero(t, out.BreakEvenQuoteCents, "no quote is low enough")
}

func TestRepairOrReplaceRefuses(t *testing.T) {
	for path, change := range map[string]func(*RepairOrReplaceIn){
		"quote_cents: ":             func(in *RepairOrReplaceIn) { in.QuoteCents = -1 },
		"resale_cents: ":            func(in *RepairOrReplaceIn) { in.ResaleCents = -1 },
		"life_after_repair_years: ": func(in *RepairOrReplaceIn) { in.LifeAfterRepairYears = 0 },
		"replacement_life_years: ":  func(in *RepairOrReplaceIn) { in.ReplacementLifeYears = math.NaN() },
		"discount_rate: ":           func(in *RepairOrReplaceIn) { in.DiscountRate = -0.01 },
	} {
		in := offer()
		change(&in)
		_, err := RepairOrReplace(in)
		assert.ErrorContains(t, err, path)
	}
}

// The pattern of the textbooks' example (engineering economy, from memory): resale falls, upkeep grows, and a year costs least at three.
// Each year was worked out by hand with the present-worth factors of 10 %.
func TestEconomicLife(t *testing.T) {
	out, err := EconomicLife(EconomicLifeIn{
		PriceCents: 1_300_000, ResaleCents: []int64{900_000, 800_000, 600_000, 200_000, 0},
		UpkeepCents: []int64{250_000, 270_000, 300_000, 350_000, 450_000}, DiscountRate: 0.10,
	})
	require.NoError(t, err)
	assert.Equal(t, 3, out.LifeYears)
	assert.InDelta(t, 780_000, out.AnnualCents[0], 1e-6, "1.1 × 13,000 − 9,000 + 2,500")
	// Two years: (13,000 + 2,500/1.1 + (2,700 − 8,000)/1.21) × 0.1/(1 − 1/1.21)
	assert.InDelta(t, (1_300_000+250_000/1.1+(270_000-800_000)/1.21)*0.1/(1-1/1.21), out.AnnualCents[1], 1e-6)
	flat, err := EconomicLife(EconomicLifeIn{PriceCents: 100, ResaleCents: []int64{50, 0}, UpkeepCents: []int64{0, 0}})
	require.NoError(t, err)
	assert.Equal(t, []float64{50, 50}, flat.AnnualCents)
	assert.Equal(t, 1, flat.LifeYears, "of equals the first")
	for path, in := range map[string]EconomicLifeIn{
		"price_cents: ": {PriceCents: -1}, "resale_cents: ": {}, "upkeep_cents: ": {ResaleCents: []int64{1}},
		"upkeep_cents[0]: ": {ResaleCents: []int64{1}, UpkeepCents: []int64{-1}},
		"discount_rate: ":   {ResaleCents: []int64{1}, UpkeepCents: []int64{1}, DiscountRate: 5},
	} {
		_, err := EconomicLife(in)
		assert.ErrorContains(t, err, path)
	}
}

func TestTurnaround(t *testing.T) {
	today := day.MustParse("2026-11-24")
	job := func(daysAgo, took int) Sent {
		s := Sent{Sent: today - day.Day(daysAgo)}
		if took >= 0 {
			back := s.Sent + day.Day(took)
			s.Back = &back
		}
		return s
	}
	// By hand: 0.8 after 5 days, 0.6 after 7; the one that is away left before the next came back, so 0.3 after 12 and 0 after 20.
	out, err := Turnaround(TurnaroundIn{Today: today, Jobs: []Sent{job(90, 7), job(80, 5), job(60, 12), job(50, 20), job(9, -1)}})
	require.NoError(t, err)
	assert.Equal(t, []any{12.0, 20.0, 4, 1, false}, []any{*out.MedianDays, *out.P90Days, out.Finished, out.Open, out.Enough})
	out, err = Turnaround(TurnaroundIn{Today: today, Jobs: []Sent{}})
	require.NoError(t, err)
	assert.Equal(t, TurnaroundOut{}, out)
	for path, j := range map[string]Sent{"jobs[0].sent: ": job(-1, -1), "jobs[0].back: ": job(3, 9)} {
		_, err := Turnaround(TurnaroundIn{Today: today, Jobs: []Sent{j}})
		assert.ErrorContains(t, err, path)
	}
	early := today - 5
	_, err = Turnaround(TurnaroundIn{Today: today, Jobs: []Sent{{today - 3, &early}}})
	assert.ErrorContains(t, err, "jobs[0].back: ")
}
