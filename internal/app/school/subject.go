package school

import (
	"solfeggio/internal/core/catalog"
)

// Subject is the instrument as its routines see it.
func (all *Schools) Subject(i *Instrument) catalog.Subject {
	return catalog.Subject{Kind: i.Kind, Body: i.Body, Choices: i.Care.Choices, DryOnly: all.dryOnly(i)}
}

// dryOnly names the finding because of which nothing wet may touch the body, empty for none.
func (all *Schools) dryOnly(i *Instrument) string {
	for _, f := range i.Findings {
		if kind, ok := all.Catalog.Finding(f.Code); ok && kind.DryOnly {
			return kind.Name
		}
	}
	return ""
}
