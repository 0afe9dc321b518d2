package spelling

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestSame(t *testing.T) {
	for _, x := range []struct {
		a, b string
		want bool
	}{
		{"pads", "pad", true}, {"leaking", "leaks", true}, {"warpd", "warped", true}, {"brigde", "bridge", true},
		{"cork", "fork", false}, {"key", "keg", false}, {"peg", "pad", false}, {"seam", "same", false}, {"", "", true}, {"", "a", false},
	} {
		assert.Equal(t, x.want, Same(x.a, x.b), "%s and %s", x.a, x.b)
		assert.Equal(t, x.want, Same(x.b, x.a), "%s and %s", x.b, x.a)
	}
}
