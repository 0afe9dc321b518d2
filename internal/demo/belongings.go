package demo

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store/instrumentrows"
)

// hireHouse is the invented owner of what Quillhaven rents.
const hireHouse = "Hollin Hire House"

// rented is what Quillhaven rents, until so many days from today.
var rented = []struct {
	tag      string
	contract string
	until    day.Day
	cents    int64
}{{"CL-17", "HH-2207", 24, 1900}, {"VC-06", "HH-2214", 180, 3400}, {"TU-04", "HH-2231", 180, 5200}}

var rentalPrices = []instrumentrows.RentalPrice{
	{
		Kind:         "violin",
		MonthlyCents: 1600,
	}, {Kind: "viola", MonthlyCents: 1900}, {Kind: "cello", MonthlyCents: 3400}, {Kind: "clarinet-b-flat", MonthlyCents: 1900},
	{Kind: "tuba", MonthlyCents: 5200},
}

// belongings are the drawers, the rented instruments, and what came back damaged or with gaps.
func (s *seeder) belongings(ctx context.Context, at func(daysAgo int) time.Time) error {
	ids, err := s.ids(ctx)
	if err != nil {
		return err
	}
	at(40)
	if err := s.supplies(ctx); err != nil {
		return err
	}
	for _, r := range rented {
		until := s.today + r.until
		if err := s.app.Rentals.SaveRental(ctx, s.director, ids[r.tag],
			instrumentrows.Rental{ID: uuid.Must(uuid.NewV7()), Owner: hireHouse, Contact: "hire@hollin.example", Contract: r.contract,
				StartsOn: s.today - 85, ReturnBy: &until, MonthlyCents: &r.cents}); err != nil {
			return fmt.Errorf("%s: %w", r.tag, err)
		}
	}
	if err := s.app.Rentals.SaveRentalPrices(ctx, s.director, rentalPrices); err != nil {
		return err
	}
	at(3)
	if err := s.missing(ctx, ids); err != nil {
		return err
	}
	return s.cameBack(ctx, ids["TR-06"])
}

// cameBack is a trumpet that came back with a dent: it is held, and something is asked for.
func (s *seeder) cameBack(ctx context.Context, id uuid.UUID) error {
	avoidable := true
	_, err := s.app.Lending.Return(ctx, s.director, id, lending.Returning{
		Findings: []inspection.Found{{Code: "dent-deep", Note: "Bell bow, the size of a thumb.", Avoidable: &avoidable}},
		Kit:      map[string]catalog.KitState{"mouthpiece-brush": catalog.Missing},
		Reported: "It fell off the chair before the lesson.",
		Charge: &lending.ChargeDecision{
			Damage:      lending.Damage{RepairCents: 8500, Avoidable: true},
			AmountCents: 3000,
			Reason:      "a dent in the bell bow; it was left on a chair",
		},
	})
	return err
}
