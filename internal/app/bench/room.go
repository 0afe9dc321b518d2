// Package bench runs the work at the bench: plans, runs with their contact times, records, and holds.
package bench

import (
	"time"

	"solfeggio/internal/app/care"
	"solfeggio/internal/app/demand"
	"solfeggio/internal/app/products"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/supply"
)

// A Room does it for all schools.
type Room struct {
	schools  *school.Schools
	demand   *demand.Room
	supply   *supply.Room
	care     *care.Room
	products *products.Room
	timers   timers
	Steady   func() time.Duration // since the start, whatever is done to the wall clock
}

// New makes the room beside those that it works with.
func New(all *school.Schools, supply *supply.Room, demand *demand.Room, care *care.Room, products *products.Room) *Room {
	start := all.Now()
	steady := func() time.Duration { return all.Now().Sub(start) } // by the monotonic reading of time.Now
	r := &Room{schools: all, supply: supply, demand: demand, care: care, products: products, Steady: steady}
	r.registerEvents()
	return r
}
