package formats

import (
	"strconv"
	"strings"
)

// MaxText is how many letters a text in a cell may have.
const MaxText = 200

// Number reads a number as people write it, with a point or a comma. A comma before three digits could divide thousands, so it is
// refused.
func Number(text string) (float64, error) {
	if _, after, comma := strings.Cut(text, ","); comma && len(after) == 3 {
		return 0, strconv.ErrSyntax
	}
	return strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64)
}
