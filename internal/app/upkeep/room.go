// Package upkeep looks after what is renewed again and again: strings, bows and reeds. It knows how long each lasts here, plans what must
// begin when so that all is settled and broken in at the concert, and leads through a change.
package upkeep

import (
	"solfeggio/internal/app/care"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
)

// A Room does it for all schools.
type Room struct {
	schools *school.Schools
	care    *care.Room
	supply  *supply.Room
}

// New makes the room.
func New(all *school.Schools, c *care.Room, s *supply.Room) *Room {
	r := &Room{all, c, s}
	r.registerEvents()
	return r
}

// RestDays are the days of a span on which nobody plays and nothing is changed at school: weekends and breaks.
func RestDays(s *school.Snapshot, from, to day.Day) []day.Day {
	var rest []day.Day
	for d := from; d <= to; d++ {
		if d.Weekday() > 5 || s.Calendar.IsBreak(d) {
			rest = append(rest, d)
		}
	}
	return rest
}

// A Renewal is a part of an instrument that is renewed by a routine.
type Renewal struct {
	Part    catalog.Part
	Routine *catalog.Routine
}

// StringsOf lists the strings of a kind, in the order in which they are changed.
func (r *Room) StringsOf(k *catalog.Kind) []Renewal { return r.renewals(k, catalog.MetalString) }

// renewals lists the parts of a kind that are of a material and renewed.
func (r *Room) renewals(k *catalog.Kind, material string) []Renewal {
	var list []Renewal
	for _, p := range k.Parts {
		if p.Material != material {
			continue
		}
		if routine, ok := r.schools.Catalog.Renewal(k, p.Key); ok {
			list = append(list, Renewal{p, routine})
		}
	}
	return list
}
