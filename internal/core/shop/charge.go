// Package shop decides on money around repairs. Every amount is a proposal: a person decides.
package shop

import (
	"fmt"
	"math"

	"solfeggio/internal/core/field"
	"solfeggio/internal/core/money"
	"solfeggio/internal/core/why"
)

// ChargeIn is the input of the calculator shop.charge.
type ChargeIn struct {
	RepairCents int64    `json:"repair_cents"`
	AgeYears    float64  `json:"age_years" doc:"Of the instrument"`
	LifeYears   float64  `json:"life_years" doc:"That such an instrument serves a school, more than 0"`
	Avoidable   bool     `json:"avoidable" doc:"Handling, assembly or missed cleaning brought it about"`
	SharePct    *float64 `json:"share_pct,omitempty" doc:"What part of it the school passes on, 0 to 100; 100 when left out"`
	CapCents    *int64   `json:"cap_cents,omitempty" doc:"The most that is ever charged"`

	Currency money.Currency `json:"-"` // as reasons name it
}

// ChargeOut is its result.
type ChargeOut struct {
	ChargeCents int64   `json:"charge_cents"`
	Why         why.Why `json:"why"`
}

// WholeShare is the share that is passed on where the school says nothing, in percent.
const WholeShare = 100.

// UnknownAgeShare is how much of an instrument's life counts as gone when nobody knows how old it is (our own reading: in doubt for
// the family).
const UnknownAgeShare = 0.5

// mostCents bounds what an amount can be.
const mostCents = 1_000_000_000_00

// Charge is the calculator shop.charge: nothing unless it could have been avoided; else what is left of the instrument's
// life, times the share that the school passes on, up to a cap.
func Charge(in ChargeIn) (ChargeOut, error) {
	if in.RepairCents < 0 || in.RepairCents > mostCents {
		return ChargeOut{}, field.Errorf("repair_cents", "%d is no price; use 0 or more", in.RepairCents)
	}
	if !(in.AgeYears >= 0) || math.IsInf(in.AgeYears, 0) {
		return ChargeOut{}, field.Errorf("age_years", "%v is no age; use 0 or more", in.AgeYears)
	}
	if !(in.LifeYears > 0) || math.IsInf(in.LifeYears, 0) {
		return ChargeOut{}, field.Errorf("life_years", "%v is no life; use more than 0", in.LifeYears)
	}
	share := WholeShare
	if in.SharePct != nil {
		if share = *in.SharePct; !(share >= 0 && share <= 100) {
			return ChargeOut{}, field.Errorf("share_pct", "%v is no share; use 0 to 100", share)
		}
	}
	if in.CapCents != nil && (*in.CapCents < 0 || *in.CapCents > mostCents) {
		return ChargeOut{}, field.Errorf("cap_cents", "%d is no amount; use 0 or more", *in.CapCents)
	}
	left := math.Max(0, 1-in.AgeYears/in.LifeYears)
	w := why.Why{
		Rule:  "shop.charge",
		Basis: why.Basis{Kind: why.SchoolSetting, Source: "share and cap; the sum is our own rule"},
		Inputs: []why.Input{
			{Name: "repair", Value: in.Currency.Say(in.RepairCents)},
			{Name: "life left", Value: fmt.Sprintf("%.0f %% (%v of %v years gone)", 100*left, in.AgeYears, in.LifeYears)},
			{Name: "share passed on", Value: fmt.Sprintf("%v %%", share)},
		},
	}
	if !in.Avoidable {
		w.Statement = "Wear is the school's own; nothing is proposed."
		return ChargeOut{0, w}, nil
	}
	charge := int64(math.Floor(float64(in.RepairCents)*left*share/100 + 0.5 + 1e-9))
	w.Statement = "It could have been avoided: the repair, less what the instrument's years have used up, times the school's share."
	if in.CapCents != nil && charge > *in.CapCents {
		charge = *in.CapCents
		w.Statement += " More than the cap is never proposed."
	}
	w.Statement += " A person decides."
	return ChargeOut{charge, w}, nil
}
