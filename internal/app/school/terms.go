package school

import "solfeggio/internal/app/journal"

// SeesTerms reports whether somebody may read what the school agreed with others, such as from whom it rents and under which contract:
// whoever hands out may.
func SeesTerms(by journal.Person) bool { return by.Need(journal.MayChangeInstruments) == nil }

// OwnerFor is from whom an instrument is rented, as by may read it; empty for the school's own.
func (i *Instrument) OwnerFor(by journal.Person) string {
	switch {
	case i.Rental == nil:
		return ""
	case !SeesTerms(by):
		return "its owner"
	}
	return i.Rental.Owner
}
