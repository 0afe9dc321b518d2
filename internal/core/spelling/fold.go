// Package spelling compares what people typed.
package spelling

import (
	"iter"
	"strings"
	"unicode"

	"github.com/agnivade/levenshtein"
	"golang.org/x/text/runes"
	"golang.org/x/text/transform"
	"golang.org/x/text/unicode/norm"
)

// Fold is a text without capitals, accents and what is neither letter nor digit, its words divided by one space: “Größe, No. 2” is
// grosse no 2.
func Fold(text string) string {
	text = strings.NewReplacer("ß", "ss", "♭", " flat ", "♯", " sharp ").Replace(strings.ToLower(text))
	plain, _, err := transform.String(transform.Chain(norm.NFD, runes.Remove(runes.In(unicode.Mn)), norm.NFC), text)
	if err != nil {
		plain = text
	}
	return strings.Join(strings.FieldsFunc(plain, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }), " ")
}

// Nearest is the one of some names that is spelled most nearly like a text, as Fold has them: at most one letter in four is another, or
// missing, or one too many. Of those that are equally near it is the first in the alphabet.
func Nearest(text string, names iter.Seq[string]) (nearest string, ok bool) {
	text = Fold(text)
	best := len([]rune(text))/4 + 1
	for name := range names {
		if d := levenshtein.ComputeDistance(text, Fold(name)); d < best || ok && d == best && name < nearest {
			best, nearest, ok = d, name, true
		}
	}
	return nearest, ok
}
