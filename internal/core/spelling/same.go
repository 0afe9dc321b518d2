package spelling

import (
	"slices"
	"strings"

	"github.com/agnivade/levenshtein"
)

// endings of words that stand for the same thing, in English and German; the longest first.
var endings = []string{"ing", "ten", "ed", "es", "en", "er", "s", "e", "t"}

// Same reports whether two words, as Fold has them, are the same one as people type it: their endings do not count, nor does one letter
// in four of what is left, nor that letters stand in another order; but the first letter does.
func Same(a, b string) bool {
	a, b = stem(a), stem(b)
	if a == "" || b == "" || a[0] != b[0] {
		return a == b
	}
	x, y := []rune(a), []rune(b)
	if levenshtein.ComputeDistance(a, b) <= min(len(x), len(y))/4 {
		return true
	}
	slices.Sort(x)
	slices.Sort(y)
	return len(x) > 3 && slices.Equal(x, y)
}

func stem(word string) string {
	for _, e := range endings {
		if rest, found := strings.CutSuffix(word, e); found && len([]rune(rest)) >= 3 {
			return rest
		}
	}
	return word
}
