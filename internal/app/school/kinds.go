package school

import (
	"slices"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/spelling"
)

// KindsOf lists the kinds of the catalogue in score order, and after each those of the school's own that are like it: a school has
// a kind of its own as long as it has an instrument or a player of it.
func (all *Schools) KindsOf(s *Snapshot) []*catalog.Kind {
	own := map[string][]*catalog.Kind{}
	seen := map[string]bool{}
	note := func(k *catalog.Kind) {
		if k.Own() && !seen[k.Key] {
			seen[k.Key] = true
			own[k.Base()] = append(own[k.Base()], k)
		}
	}
	for _, i := range s.Instruments {
		note(i.Kind)
	}
	for _, p := range s.Roster {
		if k, ok := all.Catalog.Kind(p.Kind); ok {
			note(k)
		}
	}
	var list []*catalog.Kind
	for n := range all.Catalog.Kinds {
		k := &all.Catalog.Kinds[n]
		list = append(append(list, k), own[k.Key]...)
	}
	return list
}

// KindNamed finds a kind as people write it in a file: by any of its names, by its key, as one of the school's own, or as a new one
// that is like another: “English horn like an oboe”.
func (all *Schools) KindNamed(s *Snapshot, text string) (*catalog.Kind, bool) {
	if k, ok := all.Catalog.KindCalled(text); ok {
		return k, true
	}
	if k, ok := all.Catalog.Kind(text); ok {
		return k, true
	}
	kinds := all.KindsOf(s)
	if n := slices.IndexFunc(kinds, func(k *catalog.Kind) bool { return spelling.Fold(k.Name) == spelling.Fold(text) }); n >= 0 {
		return kinds[n], true
	}
	return all.Catalog.Likened(text)
}
