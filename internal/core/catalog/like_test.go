package catalog

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A kind of a school's own is all that the one is that it is like, under another name; its key says both.
func TestKindsOfOnesOwn(t *testing.T) {
	c := Embedded()
	key, err := c.LikeKey("oboe", " Bass   oboe ")
	require.NoError(t, err)
	k, ok := c.Kind(key)
	require.True(t, ok)
	oboe, _ := c.Kind("oboe")
	assert.Equal(t, []any{"oboe~Bass oboe", "Bass oboe", "oboe", true}, []any{k.Key, k.Name, k.Base(), k.Own()})
	assert.Equal(t, oboe.Routines, k.Routines)
	assert.Equal(t, c.SymptomsOf(oboe), c.SymptomsOf(k))
	assert.Equal(t, c.FindingsOf(oboe), c.FindingsOf(k))
	for _, routine := range k.Routines {
		r, _ := c.Routine(routine)
		theirs, _ := c.RepairDoing(oboe, r.Key)
		ours, _ := c.RepairDoing(k, r.Key)
		assert.Equal(t, theirs, ours)
	}
	// Like one that is itself like another, it has the care of that.
	again, err := c.LikeKey("english-horn", "Oboe d'amore")
	require.NoError(t, err)
	assert.Equal(t, "oboe~Oboe d'amore", again)
	for like, name := range map[string]string{"kazoo": "Swazzle", "oboe": "", "flute": "Geige", "tuba": "a~b"} {
		_, err := c.LikeKey(like, name)
		assert.Error(t, err, name)
	}
	for _, key := range []string{"kazoo~x", "oboe~", "~x", "oboe"} {
		k, ok := c.Kind(key)
		assert.True(t, !ok || !k.Own(), key)
	}
}

func TestLikened(t *testing.T) {
	for text, want := range map[string]string{
		"Bass oboe like an oboe": "oboe~Bass oboe", "Ocarina, like flute": "flute~Ocarina",
		"Tenorhorn in Es wie ein Euphonium": "euphonium~Tenorhorn in Es",
		"Tárogató comme une clarinette":     "clarinet-b-flat~Tárogató", "Fiscorno bajo como tuba": "tuba~Fiscorno bajo",
		"Swazzle like kazoo": "", "likely": "", "Geige like viola": "",
	} {
		k, ok := Embedded().Likened(text)
		assert.Equal(t, want != "", ok, text)
		if ok {
			assert.Equal(t, want, k.Key)
		}
	}
}

// A name with a slip is near its kind; a short name that is another's by half its letters is not.
func TestAKindSpelledNearly(t *testing.T) {
	for text, want := range map[string]string{"trumpt": "trumpet", "Vln": "", "violins": "violin", "b-flat clarnt": "clarinet-b-flat",
		"Querfloete": "flute", "kazoo": "", "": ""} {
		key := ""
		if k, ok := Embedded().KindSpelled(text); ok {
			key = k.Key
		}
		assert.Equal(t, want, key, text)
	}
}
