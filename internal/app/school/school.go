// Package school is the read model: schools on one day each, with every clock read, kept up to date by what writes touched.
package school

import (
	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/catalog"
)

// Schools keeps the latest snapshots of schools.
type Schools struct {
	*journal.Journal
	Catalog   *catalog.Catalog
	Address   string // under which people reach the program, as https://solfeggio.quillhaven.example; empty where nobody said
	snapshots snapshots
	events    map[string]eventKind
}

// New keeps schools as a journal and a catalogue tell of them.
func New(j *journal.Journal, c *catalog.Catalog) *Schools {
	return &Schools{Journal: j, Catalog: c, events: map[string]eventKind{}}
}
