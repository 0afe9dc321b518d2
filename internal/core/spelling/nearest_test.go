package spelling

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestNearest(t *testing.T) {
	names := func(yield func(string) bool) {
		for _, n := range []string{"Cornet", "Corned", "Horn", "Flöte"} {
			if !yield(n) {
				return
			}
		}
	}
	for text, want := range map[string]string{"cornett": "Cornet", "Cornex": "Corned", "floete": "Flöte", "hirn": "Horn", "Hn": "",
		"": "", "corn": "Horn"} {
		got, ok := Nearest(text, names)
		assert.Equal(t, want, got, text)
		assert.Equal(t, want != "", ok, text)
	}
}
