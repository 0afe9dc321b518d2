// Package settings keeps what a school decides for itself: its calendar, ensembles and concerts, and its schools of practice.
package settings

import (
	"solfeggio/internal/app/school"
	"solfeggio/internal/store/schoolrows"
)

// What the API shows and takes of rows.
type (
	School      = schoolrows.School
	Ensemble    = schoolrows.Ensemble
	Concert     = schoolrows.Concert
	Period      = schoolrows.Period
	PeriodTable = schoolrows.PeriodTable
)

// The tables of periods.
const (
	Terms  = schoolrows.Terms
	Breaks = schoolrows.Breaks
)

// A Room does it for all schools.
type Room struct {
	schools *school.Schools
}

// New makes the room.
func New(all *school.Schools) *Room {
	r := &Room{all}
	r.registerEvents()
	return r
}
