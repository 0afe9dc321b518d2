package placing

import (
	"math"

	"solfeggio/internal/app/school"
)

// monthDays is the length of a month on average.
const monthDays = 365.25 / 12

// rentalMonths is for how many months an instrument is rented from today: until the school year ends, begun ones whole; ten
// while no term is entered.
func rentalMonths(s *school.Snapshot) int {
	if end := s.YearEnd(); end != nil {
		return max(1, int(math.Ceil(float64(*end-s.Today)/monthDays)))
	}
	return monthsAhead
}

// rentalPrice is what an instrument of a kind and size costs a month: by the school's list, else as one that is rented already;
// nil when nobody knows.
func rentalPrice(s *school.Snapshot, kind, size string) *int64 {
	var found *int64
	for n, p := range s.RentalPrices {
		if p.Kind == kind && (p.Size == size || p.Size == "" && found == nil) {
			found = &s.RentalPrices[n].MonthlyCents
		}
	}
	for _, i := range s.Instruments {
		if found == nil && i.Rental != nil && i.Instrument.Kind == kind && i.Size == size {
			found = i.Rental.MonthlyCents
		}
	}
	return found
}

// needed is a line of an order with its money.
func needed(s *school.Snapshot, kind, kindName, size string, count int) Needed {
	n := Needed{KindName: kindName, Size: size, Count: count, Months: rentalMonths(s), MonthlyCents: rentalPrice(s, kind, size)}
	if n.MonthlyCents != nil {
		cents := *n.MonthlyCents * int64(n.Months) * int64(count)
		n.Cents = &cents
	}
	return n
}
