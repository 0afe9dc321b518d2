// Package spelling compares what people typed.
package spelling

import (
	"strings"
	"unicode"

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
