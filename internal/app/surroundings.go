package app

import (
	"context"
	"time"

	"solfeggio/internal/store"
)

// surroundings are what a snapshot knows around its instruments: who answers for them, why they wait, whose they are, what
// their kits lack, and how the school words its letters.
type surroundings struct {
	handOvers []store.HandOver
	holds     []store.Hold
	rentals   []store.Rental
	faults    []store.KitFault
	letters   []store.Letter
	prices    []store.RentalPrice
	bench     []store.BenchItem
}

func (r *surroundings) read(ctx context.Context, tx *store.Tx, now time.Time) (err error) {
	if r.handOvers, err = tx.OpenHandOvers(ctx, nil); err != nil {
		return err
	}
	if r.holds, err = tx.OpenHolds(ctx, nil, now); err != nil {
		return err
	}
	if r.rentals, err = tx.RunningRentals(ctx); err != nil {
		return err
	}
	if r.faults, err = tx.KitFaults(ctx, nil); err != nil {
		return err
	}
	if r.prices, err = tx.RentalPrices(ctx); err != nil {
		return err
	}
	if r.bench, err = tx.OpenBenchItems(ctx); err != nil {
		return err
	}
	r.letters, err = tx.Letters(ctx)
	return err
}

// settle gives each instrument what is its own.
func (r *surroundings) settle(s *snapshot) {
	for n := range r.handOvers {
		if i := s.byID[r.handOvers[n].Instrument]; i != nil {
			i.handOver = &r.handOvers[n]
		}
	}
	for n := range r.holds {
		if i := s.byID[r.holds[n].Instrument]; i != nil {
			i.hold = &r.holds[n]
			i.hold.Because = waitsFor(*i.hold, s.zone)
		}
		if end := r.holds[n].EndedAt; end != nil && (s.until.IsZero() || end.Before(s.until)) {
			s.until = *end
		}
	}
	for n := range r.bench {
		if i := s.byID[r.bench[n].Instrument]; i != nil {
			i.bench = &r.bench[n]
		}
	}
	for n := range r.rentals {
		if i := s.byID[r.rentals[n].Instrument]; i != nil {
			i.rental = &r.rentals[n]
		}
	}
	for _, f := range r.faults {
		if i := s.byID[f.Instrument]; i != nil {
			if i.kit == nil {
				i.kit = map[string]store.KitFault{}
			}
			i.kit[f.Supply] = f
		}
	}
	s.rentalPrices = r.prices
	for _, l := range r.letters {
		s.wordings[l.Key] = l
	}
}

// waitsFor says what a held instrument waits for, and until when where that is known.
func waitsFor(h store.Hold, zone *time.Location) string {
	if h.EndedAt == nil {
		return h.Because
	}
	return "dries until " + h.EndedAt.In(zone).Format("Mon 2 Jan, 15:04")
}
