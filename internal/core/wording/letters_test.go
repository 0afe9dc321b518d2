package wording

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Whatever comes with the program can be filled: every place that it names is used or allowed, and none is left over.
func TestOwnWordingsAreWhole(t *testing.T) {
	for _, l := range All {
		t.Run(l.Key, func(t *testing.T) {
			require.NoError(t, l.Check(l.Wording))
			values := map[string]string{}
			for _, p := range l.Places {
				values[p] = "XX"
			}
			heading, body := Fill(l.Wording, values)
			assert.NotEmpty(t, heading)
			assert.NotEmpty(t, body)
			assert.NotContains(t, heading+body, "{")
			got, ok := Find(l.Key)
			assert.True(t, ok)
			assert.Equal(t, l.Name, got.Name)
		})
	}
	_, ok := Find("poem")
	assert.False(t, ok)
}

func TestFill(t *testing.T) {
	heading, body := Fill(
		"\n{tag} for {player}\r\n\nDear {player}, {today}.",
		map[string]string{"tag": "VN-01", "player": "{tag} the Brave"},
	)
	assert.Equal(t, "VN-01 for {tag} the Brave", heading, "what is filled in is not read again")
	assert.Equal(t, "Dear {tag} the Brave, {today}.", body, "what is not known stays to be seen")
	heading, body = Fill("Only a heading", nil)
	assert.Equal(t, "Only a heading", heading)
	assert.Empty(t, body)
}

func TestCheckNamesWhatIsWrong(t *testing.T) {
	l, _ := Find(DueBack)
	for wording, want := range map[string]string{
		"  ":                               "says nothing",
		"Bring {tag} to {room}":            "{room}",
		"Bring {tag":                       "other half",
		"Bring tag}":                       "other half",
		"Bring {}":                         "{}",
		strings.Repeat("a", 2*maxWordings): "longer",
	} {
		assert.ErrorContains(t, l.Check(wording), want)
	}
}
