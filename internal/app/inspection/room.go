// Package inspection records what is seen of instruments: walks along an inspection, findings, diagnoses, photographs.
package inspection

import (
	"solfeggio/internal/app/school"
	"solfeggio/internal/store/checkrows"
)

// Photo is what the API shows and takes of a row.
type Photo = checkrows.Photo

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
