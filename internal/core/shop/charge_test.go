package shop

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestCharge(t *testing.T) {
	half, cap, none := 50., int64(2000), 0.
	tests := []struct {
		name string
		in   ChargeIn
		want int64
	}{
		{"wear is nobody's fault", ChargeIn{RepairCents: 9000, AgeYears: 2, LifeYears: 10}, 0},
		{"four fifths of its life are left", ChargeIn{RepairCents: 9000, AgeYears: 2, LifeYears: 10, Avoidable: true}, 7200},
		{"the school passes half on", ChargeIn{RepairCents: 9000, AgeYears: 2, LifeYears: 10, Avoidable: true, SharePct: &half}, 3600},
		{
			"and no more than its cap",
			ChargeIn{RepairCents: 9000, AgeYears: 2, LifeYears: 10, Avoidable: true, SharePct: &half, CapCents: &cap},
			2000,
		},
		{"older than its life", ChargeIn{RepairCents: 9000, AgeYears: 12, LifeYears: 10, Avoidable: true}, 0},
		{"a school that charges nothing", ChargeIn{RepairCents: 9000, AgeYears: 2, LifeYears: 10, Avoidable: true, SharePct: &none}, 0},
		{"half a cent is rounded up", ChargeIn{RepairCents: 1, AgeYears: 1, LifeYears: 2, Avoidable: true}, 1},
		{"less is not", ChargeIn{RepairCents: 1, AgeYears: 1.02, LifeYears: 2, Avoidable: true}, 0},
	}
	for _, tt := range tests {
		got, err := Charge(tt.in)
		require.NoError(t, err)
		assert.Equal(t, tt.want, got.ChargeCents, tt.name)
		assert.NotEmpty(t, got.Why.Statement)
	}
}

// Never more than the repair, never less than nothing, and an older instrument is never dearer.
func TestChargeKeepsItsBounds(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		share := rapid.Float64Range(0, 100).Draw(t, "share")
		in := ChargeIn{
			RepairCents: rapid.Int64Range(0, 1e7).Draw(t, "repair"),
			AgeYears:    rapid.Float64Range(0, 40).Draw(t, "age"),
			LifeYears:   rapid.Float64Range(0.1, 40).Draw(t, "life"),
			Avoidable:   true,
			SharePct:    &share,
		}
		young, err := Charge(in)
		if err != nil || young.ChargeCents < 0 || young.ChargeCents > in.RepairCents {
			t.Fatalf("%d of %d: %v", young.ChargeCents, in.RepairCents, err)
		}
		in.AgeYears++
		if old, _ := Charge(in); old.ChargeCents > young.ChargeCents {
			t.Fatalf("a year older it costs %d instead of %d", old.ChargeCents, young.ChargeCents)
		}
	})
}

func TestChargeRefuses(t *testing.T) {
	wrong, below := 120., int64(-1)
	for want, in := range map[string]ChargeIn{
		"repair_cents: -5": {RepairCents: -5, LifeYears: 1}, "age_years: -1": {AgeYears: -1, LifeYears: 1}, "life_years: 0": {},
		"share_pct: 120": {LifeYears: 1, SharePct: &wrong}, "cap_cents: -1": {LifeYears: 1, CapCents: &below},
	} {
		_, err := Charge(in)
		assert.ErrorContains(t, err, want)
	}
}
