// Package rentals keeps what is rented: contracts and prices, exchanges, and giving back.
package rentals

import (
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/school"
	"solfeggio/internal/store/instrumentrows"
)

// What the API shows and takes of rows.
type (
	Rental      = instrumentrows.Rental
	RentalPrice = instrumentrows.RentalPrice
)

// A Room does it for all schools.
type Room struct {
	schools *school.Schools
	lending *lending.Room
}

// New makes the room beside those that it works with.
func New(all *school.Schools, lending *lending.Room) *Room {
	r := &Room{all, lending}
	r.registerEvents()
	return r
}
