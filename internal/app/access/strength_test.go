package access

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestEasilyGuessedPasswordsAreRefused(t *testing.T) {
	names := []string{"Quillhaven Community School", "Ines Corvane", "ines@quillhaven.example"}
	for _, weak := range []Secret{
		"short", "aaaaaaaaaaaa", "            ", "password1", "qwertyuiop", "quillhaven", "Quillhaven1", "inescorvane", "12345678",
		"abcdefgh",
	} {
		assert.Error(t, checkStrength(weak, names), "%q", string(weak))
	}
	for _, good := range []Secret{"copper lantern waltz", "plum harbour lantern", "Vk7#pq2!", "der grüne Kahn schläft", "七つの海を越えて行く船"} {
		assert.NoError(t, checkStrength(good, names), "%q", string(good))
	}
}
