package bench

import (
	"cmp"
	"slices"
	"strings"
)

// Warning is one sentence to be read before anything is begun.
type Warning struct {
	Text string   `json:"text"`
	Of   []string `json:"of" doc:"Tags of the instruments that it is about; empty when it is to be kept by all"`
}

// warnings gathers what the routines of several instruments warn of, sentence by sentence, each once: what all are to
// keep first, and otherwise as the routines say it. What is said of most is for all: they work side by side.
type warnings struct {
	list []Warning
	tags []string
}

// add notes the cautions of one instrument.
func (w *warnings) add(tag string, cautions []string) {
	w.tags = append(w.tags, tag)
	for _, caution := range cautions {
		for _, sentence := range strings.SplitAfter(caution, ". ") {
			sentence = strings.TrimSpace(sentence)
			n := slices.IndexFunc(w.list, func(known Warning) bool { return known.Text == sentence })
			if n < 0 {
				n = len(w.list)
				w.list = append(w.list, Warning{Text: sentence})
			}
			if !slices.Contains(w.list[n].Of, tag) {
				w.list[n].Of = append(w.list[n].Of, tag)
			}
		}
	}
}

// said is all of it.
func (w *warnings) said() []Warning {
	out := []Warning{}
	for _, one := range w.list {
		if 2*len(one.Of) > len(w.tags) {
			one.Of = []string{}
		}
		out = append(out, one)
	}
	slices.SortStableFunc(out, func(x, y Warning) int { return cmp.Compare(min(1, len(x.Of)), min(1, len(y.Of))) })
	return out
}
