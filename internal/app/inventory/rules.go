package inventory

import (
	"regexp"
	"strings"

	"solfeggio/internal/core/catalog"
)

// TagRule is said of a tag that does not look like one.
const TagRule = "use letters, digits and dashes, at most 16, such as VN-01"

// TagShape is what a tag looks like.
var TagShape = regexp.MustCompile(`^[A-Z0-9][A-Z0-9-]{0,15}$`)

// SizeRule says which sizes there are of a kind.
func SizeRule(k *catalog.Kind) string {
	if len(k.Sizes) == 0 {
		return k.Name + " has one size only; leave it empty"
	}
	return "is no size of " + k.Name + "; use one of " + strings.Join(k.Sizes, ", ")
}

// BodyRule says which bodies there are of a kind.
func BodyRule(k *catalog.Kind) string {
	return "is no body of " + k.Name + "; use " + strings.Join(k.Bodies, " or ")
}
