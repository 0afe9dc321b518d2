package school

import (
	"slices"

	"solfeggio/internal/core/catalog"
)

// Subject is the instrument as its routines see it.
func (all *Schools) Subject(i *Instrument) catalog.Subject {
	return catalog.Subject{Kind: i.Kind, Body: i.Body, Choices: i.Care.Choices, Moved: i.Moved, DryOnly: all.dryOnly(i)}
}

// CaseOf lists what belongs in the case of an instrument.
func (all *Schools) CaseOf(i *Instrument) []catalog.KitItem {
	return all.Catalog.CaseOf(catalog.Subject{Kind: i.Kind, Choices: i.Care.Choices, Moved: i.Moved})
}

// InCase finds a thing in the case of an instrument.
func (all *Schools) InCase(i *Instrument, supply string) (catalog.KitItem, bool) {
	items := all.CaseOf(i)
	n := slices.IndexFunc(items, func(item catalog.KitItem) bool { return item.Supply == supply })
	if n < 0 {
		return catalog.KitItem{}, false
	}
	return items[n], true
}

// Cautions are what must be read before a routine is done on an instrument.
func (all *Schools) Cautions(i *Instrument, r *catalog.Routine) []string {
	resolved, _ := all.Catalog.Resolve(r, all.Subject(i))
	return resolved.Cautions
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
