package school

import (
	"slices"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/spelling"
	"solfeggio/internal/formats"
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

// KindNames finds kinds as a file calls them, and gathers the names that are none.
type KindNames struct {
	all     *Schools
	school  *Snapshot
	means   map[string]string // by the folded name: what a person said of it, now or earlier
	Unknown []formats.UnknownKind
}

// mostUnknown is how many names nobody is asked about more than: such a file holds no instruments in that column.
const mostUnknown = 50

// KindNamesOf begins a file of which so much was said; what was said of earlier files counts where now nothing is.
func (all *Schools) KindNamesOf(s *Snapshot, said, remembered map[string]string) *KindNames {
	names := &KindNames{all: all, school: s, means: map[string]string{}, Unknown: []formats.UnknownKind{}}
	for _, list := range []map[string]string{remembered, said} {
		for text, means := range list {
			names.means[spelling.Fold(text)] = means
		}
	}
	return names
}

// Find finds the kind of a name.
func (n *KindNames) Find(text string) (*catalog.Kind, bool) {
	if k, ok := n.all.KindNamed(n.school, text); ok {
		return k, true
	}
	if means := n.means[spelling.Fold(text)]; means != "" {
		if k, ok := n.all.KindNamed(n.school, means); ok {
			return k, true
		}
	}
	if text == "" {
		return nil, false
	}
	at := slices.IndexFunc(n.Unknown, func(u formats.UnknownKind) bool { return spelling.Fold(u.Text) == spelling.Fold(text) })
	if at < 0 {
		if len(n.Unknown) == mostUnknown {
			return nil, false
		}
		unknown := formats.UnknownKind{Text: text}
		if near, ok := n.all.Catalog.KindSpelled(text); ok {
			unknown.Near = near.Name
		}
		n.Unknown = append(n.Unknown, unknown)
		at = len(n.Unknown) - 1
	}
	n.Unknown[at].Rows++
	return nil, false
}
