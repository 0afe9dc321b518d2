package rentals

import (
	"solfeggio/internal/app/school"
	"solfeggio/internal/store/eventrows"
)

// registerEvents makes known what this room writes into the log.
func (r *Room) registerEvents() {
	school.Register(r.schools, school.EventKind[RentalDetail]{
		Name: eventrows.RentalChanged,
		Sentence: func(d RentalDetail, e school.Told) string {
			if !e.Terms {
				return "Rented, or its contract changed"
			}
			if d.How != "" {
				return "Rented from " + d.Owner + ", " + d.How
			}
			return "Rented from " + d.Owner
		},
	})
	school.Register(r.schools, school.EventKind[RentalDetail]{
		Name: eventrows.LeftSchool,
		Sentence: func(d RentalDetail, e school.Told) string {
			if !e.Terms && d.Owner != "" {
				return "Left the school: given back to its owner"
			}
			return "Left the school: " + d.How
		},
	})
}
