package spelling

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestFold(t *testing.T) {
	for text, want := range map[string]string{
		"Größe, No. 2": "grosse no 2", "  Flûte  traversière ": "flute traversiere", "N.º de SERIE": "n º de serie",
		"B♭ clarinet": "b flat clarinet", "": "", "–": "",
	} {
		assert.Equal(t, want, Fold(text), text)
	}
	rapid.Check(t, func(t *rapid.T) {
		once := Fold(rapid.String().Draw(t, "text"))
		assert.Equal(t, once, Fold(once))
	})
}
