// Package products keeps what the school cleans and disinfects with: contact times, what it is made of, safety sheets, and the vessel in
// which mouthpieces soak.
package products

import (
	"solfeggio/internal/app/school"
	"solfeggio/internal/store/benchrows"
)

// Product is what the API shows and takes of a row.
type Product = benchrows.Product

// A Room does it for all schools.
type Room struct {
	schools *school.Schools
}

// New makes the room.
func New(all *school.Schools) *Room { return &Room{all} }
