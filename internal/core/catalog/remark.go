package catalog

import (
	"slices"
	"strings"

	"solfeggio/internal/core/spelling"
)

// A Saying is what people write when they mean a finding, beside its own name.
type Saying struct {
	Code string   `json:"code"`
	As   []string `json:"as" jsonschema:"minItems=1"`
}

// settling words say that a trouble is not there, or is no more.
var settling = []string{"no", "not", "repaired", "fixed", "replaced", "mended", "new", "ok", "fine", "was", "kein", "keine", "ohne", "repariert", "neu",
	"erneuert", "behoben"}

// filling words carry no meaning of a phrase.
var filling = []string{"a", "an", "the", "is", "are", "its", "it", "in", "of", "on", "at", "der", "die", "das", "im", "am", "ist", "sind"}

// Remarked finds what a remark says is wrong with an instrument of a kind: the findings of which it holds all words of the name or of a
// way to say it, nearly spelled, within one clause. A clause that says that it was mended, or is not so, tells nothing. Nobody has looked:
// what is found is to be offered to a person, and never taken for true.
func (c *Catalog) Remarked(k *Kind, remark string) []*FindingKind {
	var list []*FindingKind
	for _, clause := range clauses(remark) {
		var best []*FindingKind
		most := 0
		for _, f := range c.FindingsOf(k) {
			for _, phrase := range c.sayings[f.Code] {
				if len(phrase) < most || slices.Contains(best, f) || !says(clause, phrase) {
					continue
				}
				if len(phrase) > most {
					best, most = nil, len(phrase)
				}
				best = append(best, f)
			}
		}
		for _, f := range best {
			if !slices.Contains(list, f) {
				list = append(list, f)
			}
		}
	}
	return list
}

// clauses are the words of each part of a remark.
func clauses(remark string) (list [][]string) {
	parts := strings.FieldsFunc(remark, func(r rune) bool { return strings.ContainsRune(",;./&+\n()", r) })
	for _, part := range parts {
		var clause []string
		for _, word := range strings.Fields(spelling.Fold(part)) {
			switch {
			case word == "and" || word == "und":
				list, clause = append(list, clause), nil
			case !slices.Contains(filling, word):
				clause = append(clause, word)
			}
		}
		list = append(list, clause)
	}
	return list
}

// says reports whether a clause holds all words of a phrase and takes nothing back that the phrase does not.
func says(clause, phrase []string) bool {
	at := func(words []string, word string) bool {
		return slices.ContainsFunc(words, func(w string) bool { return spelling.Same(w, word) })
	}
	for _, word := range phrase {
		if !at(clause, word) {
			return false
		}
	}
	return !slices.ContainsFunc(clause, func(word string) bool { return slices.Contains(settling, word) && !slices.Contains(phrase, word) })
}

// sayAll keeps by finding the ways to say it: the first of the names that stand in its own, and what people write.
func (c *Catalog) sayAll() {
	c.sayings = map[string][][]string{}
	add := func(code, phrase string) {
		for _, words := range clauses(phrase) {
			if len(words) > 0 {
				c.sayings[code] = append(c.sayings[code], words)
			}
		}
	}
	for _, f := range c.Findings {
		name, _, _ := strings.Cut(f.Name, " or ")
		name, _, _ = strings.Cut(name, ",")
		add(f.Code, name)
	}
	for _, s := range c.Sayings {
		for _, phrase := range s.As {
			add(s.Code, phrase)
		}
	}
}
