package spelling

import (
	"iter"

	"github.com/agnivade/levenshtein"
)

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
