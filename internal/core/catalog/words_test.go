package catalog

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// imperatives are how a step begins that a player reads: with what is done.
var imperatives = strings.Fields(`Aim Blow Brush Carry Close Cover Cut Do Draw Drop Dry Empty Fold Give Hang Hold Hook Keep Lay Leave Let Lift Listen Look
	Loosen Move Name Oil Open Play Point Pour Pull Push Put Raise Rinse Roll Rub Run Set Shake Sit Slacken Stand Stop Swab Switch Take Thread
	Tighten Tip Try Tune Turn Warm Wash Wet Wipe Work`)

// What a player reads is short and begins with what is done; what comes before any doing (nothing sweet, a joint that will not go) says so by
// itself. The rest of the reading cannot be tested.
func TestPlayersAreToldWhatToDo(t *testing.T) {
	for _, r := range Embedded().Routines {
		if r.Who != Player {
			continue
		}
		for _, s := range r.Steps {
			words := strings.Fields(s.Do)
			lead := strings.Trim(words[0], ",.:;")
			aside := strings.HasPrefix(s.Do, "Nothing sweet") || strings.Contains(s.Do, "will not go")
			assert.True(t, aside || slices.Contains(imperatives, lead), "%s: %s", r.Key, s.Do)
			assert.LessOrEqual(t, len(words), 50, "%s: %s", r.Key, s.Do)
			assert.False(t, strings.HasSuffix(s.Do, ":") || strings.HasSuffix(s.Do, ","), "a sentence cut over several steps: %s", s.Do)
			assert.LessOrEqual(t, len(strings.Fields(s.Short)), 12, s.Short)
			assert.False(t, strings.HasPrefix(s.Short, "It "), "of what? %s", s.Short)
		}
	}
}

// A heading is no step, in any routine.
func TestNoStepIsAHeading(t *testing.T) {
	for _, r := range Embedded().Routines {
		for _, s := range r.Steps {
			assert.NotRegexp(t, `[:,]$`, s.Do, r.Key)
			assert.NotRegexp(t, `(?i)vaseline|moistened with it`, s.Do+s.Short, r.Key)
		}
	}
}
