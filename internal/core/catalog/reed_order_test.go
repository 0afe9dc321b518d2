package catalog

import (
	"regexp"
	"testing"

	"github.com/stretchr/testify/require"
)

// A walker is a player who puts a single-reed instrument together.
type walker struct {
	loaded, wet, capped, mounted bool
}

// does are what the steps of the assembly do to reed and mouthpiece, told by their words. Every step that names one of them must be among
// them, so that a new wording is thought through.
var does = []struct {
	step *regexp.Regexp
	do   func(t require.TestingT, w *walker)
}{
	{regexp.MustCompile(`^(Wet the reed in the mouth while|Stand the reed a few seconds)`), func(t require.TestingT, w *walker) {
		require.False(t, w.loaded, "a reed under its ligature is not dipped")
		w.wet = true
	}},
	{regexp.MustCompile(`^Put the dry reed on the mouthpiece before anything`), func(t require.TestingT, w *walker) {
		require.False(t, w.wet || w.loaded || w.mounted)
		w.loaded = true
	}},
	{regexp.MustCompile(`^Put the cap on`), func(t require.TestingT, w *walker) {
		require.True(t, w.loaded && !w.wet && !w.mounted)
		w.capped = true
	}},
	{regexp.MustCompile(`^Put the reed on the mouthpiece in the hand`), func(t require.TestingT, w *walker) {
		require.True(t, w.wet && !w.loaded && !w.mounted)
		w.loaded = true
	}},
	{regexp.MustCompile(`^Put the reed on last`), func(t require.TestingT, w *walker) {
		require.True(t, w.wet && !w.loaded && w.mounted)
		w.loaded = true
	}},
	{regexp.MustCompile(`lay them back into the case`), func(t require.TestingT, w *walker) {
		require.True(t, !w.loaded || w.capped, "a loaded mouthpiece is not laid down bare")
	}},
	{regexp.MustCompile(`^(Put the barrel with the mouthpiece on top|Put the mouthpiece into the barrel|Put the mouthpiece on last|Turn the mouthpiece on)`), func(t require.TestingT, w *walker) {
		require.False(t, w.mounted)
		w.mounted = true
	}},
	{regexp.MustCompile(`^Take the cap off and wet the reed in the mouth`), func(t require.TestingT, w *walker) {
		require.True(t, w.capped && w.mounted)
		w.capped, w.wet = false, true
	}},
}

var (
	aboutReed = regexp.MustCompile(`(?i)\breed|mouthpiece|\bcap\b`)
	stiff     = regexp.MustCompile(`will not go (in|on): stop`)
	mouthOnly = regexp.MustCompile(`^Nothing sweet`)
)

// Every order in which a school may put the reed on makes sense with every other choice: the reed is wet before it is played and not before
// it goes under a cap, a loaded mouthpiece is laid down only with its cap on, and in the end it plays. Common practice, no published source.
func TestEveryOrderOfTheReedMakesSense(t *testing.T) {
	c := Embedded()
	walked := 0
	for _, kind := range []string{"clarinet-b-flat", "clarinet-e-flat", "clarinet-alto", "clarinet-bass", "alto-saxophone", "baritone-saxophone"} {
		for _, when := range []string{"last", "in-hand", "first"} {
			for _, ligature := range []string{"over-reed", "under-ligature"} {
				for _, wetting := range []string{"mouth", "dip"} {
					for _, neck := range []string{"mouthpiece-first", "neck-first"} {
						k, _ := c.Kind(kind)
						r, _ := c.Routine(k.Routines[0])
						choices := c.Choose(Choices{"reed-when": when, "ligature": ligature, "reed-wetting": wetting, "saxophone-neck": neck})
						resolved, _ := c.Resolve(r, Subject{Kind: k, Body: k.Bodies[0], Choices: choices})
						w := &walker{}
						for _, s := range resolved.Steps {
							if !aboutReed.MatchString(s.Do) || stiff.MatchString(s.Do) || mouthOnly.MatchString(s.Do) {
								continue
							}
							known := false
							for _, d := range does {
								if d.step.MatchString(s.Do) {
									known = true
									d.do(t, w)
									break
								}
							}
							require.True(t, known, "%s: what does this do to the reed? %s", kind, s.Do)
						}
						require.Equal(t, walker{loaded: true, wet: true, mounted: true}, *w, "%s: %s, %s, %s, %s", kind, when, ligature, wetting, neck)
						walked++
					}
				}
			}
		}
	}
	require.Equal(t, 6*3*2*2*2, walked)
	p, _ := c.Practice("reed-when")
	require.Equal(t, "last", p.Default())
}
