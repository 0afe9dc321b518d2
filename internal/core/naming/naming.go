// Package naming finds a person's name in what people typed, and takes it out.
//
// A name is its words: given names, family names, the parts of a double name. A word counts wherever it stands by itself, whatever its
// capitals, with the ending of a genitive behind it (Ode’s, Odes). Particles (de, van, von) and single letters count only between or
// before such words. Accents count: who is written Zoë is not Zoe unless the name was typed so.
package naming

import (
	"slices"
	"strings"
	"unicode"
)

const (
	Someone = "a player"    // stands in a text where the name stood
	Gone    = "(taken out)" // and this in place of a text that was about them
)

// A Name is the words by which a person is known.
type Name struct{ words []string }

// particles are parts of names that say nothing by themselves.
var particles = []string{
	"al", "da", "das", "de", "del", "den", "der", "di", "do", "dos", "du", "el", "la", "le", "ten", "ter", "van", "vom", "von", "y", "zu", "zum", "zur",
}

// Of makes a Name of given and family names.
func Of(names ...string) Name {
	var n Name
	for _, word := range wordsOf(strings.Join(names, " ")) {
		lower := strings.ToLower(word.text)
		if lower != "player" && len([]rune(lower)) > 1 && !slices.Contains(particles, lower) && !slices.Contains(n.words, lower) {
			n.words = append(n.words, lower)
		}
	}
	return n
}

// Words are what the name is looked for by, in small letters. A name of nothing but particles and single letters has none.
func (n Name) Words() []string { return slices.Clone(n.words) }

// In lists which of the name's words stand in a text, each once, in the name's order.
func (n Name) In(text string) []string {
	var found []string
	for _, word := range wordsOf(text) {
		if known := n.matches(word.text); known != "" && !slices.Contains(found, known) {
			found = append(found, known)
		}
	}
	slices.SortFunc(found, func(x, y string) int { return slices.Index(n.words, x) - slices.Index(n.words, y) })
	return found
}

// TakeOut is the text with Someone in place of the name, once for words of it that follow each other.
func (n Name) TakeOut(text string) string {
	all := wordsOf(text)
	var out strings.Builder
	written := 0
	for i := 0; i < len(all); i++ {
		if n.matches(all[i].text) == "" {
			continue
		}
		last := i
		for next := i + 1; next < len(all) && joins(text[all[next-1].end:all[next].from]); next++ {
			switch {
			case n.matches(all[next].text) != "":
				last = next
			case !between(all[next].text):
				next = len(all)
			}
		}
		out.WriteString(text[written:all[i].from])
		out.WriteString(Someone)
		out.WriteString(ending(all[last].text))
		written, i = all[last].end, last
	}
	out.WriteString(text[written:])
	return out.String()
}

// joins reports whether what stands between two words keeps them one name: “Marchetti, Ode”, “Anna-Lena”, “O. Marchetti”.
func joins(gap string) bool {
	return strings.Trim(gap, " ,.-\u00a0\u2010\u2011") == "" && len(gap) <= 3
}

// between reports whether a word may stand within a name without being of it.
func between(word string) bool {
	lower := strings.ToLower(word)
	return len([]rune(lower)) == 1 || slices.Contains(particles, lower)
}

// genitives are endings that a name may bear.
var genitives = []string{"'s", "’s", "s", "'", "’"}

// ending is the genitive as it is written behind Someone.
func ending(word string) string {
	for _, g := range []string{"'s", "’s"} {
		if strings.HasSuffix(strings.ToLower(word), g) {
			return word[len(word)-len(g):]
		}
	}
	return ""
}

// matches returns the word of the name that a word of a text is.
func (n Name) matches(word string) string {
	lower := strings.ToLower(word)
	for _, known := range n.words {
		if lower == known {
			return known
		}
	}
	for _, known := range n.words {
		if rest, ok := strings.CutPrefix(lower, known); ok && slices.Contains(genitives, rest) {
			return known
		}
	}
	return ""
}

// A word is a stretch of letters, digits, marks and apostrophes in a text.
type word struct {
	text      string
	from, end int
}

func wordsOf(text string) (all []word) {
	from := -1
	for at, r := range text + " " {
		inside := unicode.IsLetter(r) || unicode.IsDigit(r) || unicode.IsMark(r) || from >= 0 && (r == '\'' || r == '’')
		switch {
		case inside && from < 0:
			from = at
		case !inside && from >= 0:
			all = append(all, word{text[from:at], from, at})
			from = -1
		}
	}
	return all
}
