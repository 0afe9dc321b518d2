package catalog

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// eachStep goes through the steps of every routine of every kind under every option of a practice, the others at their defaults.
func eachStep(c *Catalog, see func(k *Kind, r Resolved, s ResolvedStep)) {
	sides := []Choices{c.Choose()}
	for _, p := range c.Practices {
		for _, o := range p.Options[1:] {
			sides = append(sides, c.Choose(Choices{p.Key: o.Key}))
		}
	}
	for i := range c.Kinds {
		k := &c.Kinds[i]
		for _, key := range k.Routines {
			r, _ := c.Routine(key)
			for _, side := range sides {
				resolved, _ := c.Resolve(r, Subject{Kind: k, Body: k.Bodies[0], Choices: side})
				for _, s := range resolved.Steps {
					see(k, resolved, s)
				}
			}
		}
	}
}

// What dissolves varnish is in no player's hands, has a caution before the first step, and its cloth goes into no case. Common practice, no
// published source.
func TestRosinRemoverIsForTheDeepClean(t *testing.T) {
	met := map[string]bool{}
	eachStep(Embedded(), func(k *Kind, r Resolved, s ResolvedStep) {
		if !slices.Contains(s.Products, "rosin-remover") {
			return
		}
		met[r.Key] = true
		assert.NotEqual(t, "player", r.Who, r.Key)
		assert.True(t, slices.ContainsFunc(r.Cautions, func(text string) bool {
			return strings.Contains(text, "dissolves varnish") && strings.Contains(text, "cloth of its own") && strings.Contains(text, "never into a case")
		}), "%s cautions first", r.Key)
	})
	assert.Equal(t, map[string]bool{"strings-deep-clean": true}, met)
}

// Whatever is bathed and has rotors has them oiled before it is put away: a wet rotor seizes. Common practice, no published source.
func TestABathEndsWithOilOnTheRotors(t *testing.T) {
	c := Embedded()
	baths := 0
	for i := range c.Kinds {
		k := &c.Kinds[i]
		if !slices.Contains(k.Routines, "rotor-oil") {
			continue
		}
		for _, key := range k.Routines {
			if !strings.HasSuffix(key, "-bath") {
				continue
			}
			baths++
			r, _ := c.Routine(key)
			resolved, _ := c.Resolve(r, Subject{Kind: k, Body: k.Bodies[0], Choices: c.Choose()})
			wet := slices.IndexFunc(resolved.Steps, func(s ResolvedStep) bool { return slices.Contains(s.Products, "lukewarm-water") })
			oiled := slices.IndexFunc(resolved.Steps, func(s ResolvedStep) bool { return slices.Contains(s.Products, "rotor-oil") })
			assert.Greater(t, oiled, wet, "%s: %s", k.Name, key)
		}
	}
	assert.NotZero(t, baths)

	plain, _ := c.Kind("trombone")
	bath, _ := c.Routine("trombone-bath")
	resolved, _ := c.Resolve(bath, Subject{Kind: plain, Body: plain.Bodies[0], Choices: c.Choose()})
	for _, s := range resolved.Steps {
		assert.NotContains(t, s.Parts, "valves", "a trombone without rotor has none to oil")
	}
}

// A saxophone's mouthpiece is dried after playing. Common practice, no published source.
func TestSaxophoneMouthpiecesAreDried(t *testing.T) {
	c := Embedded()
	r, ok := c.Routine("saxophone-after-playing")
	require.True(t, ok)
	dried := func(s Step) bool {
		return slices.Contains(s.Parts, "mouthpiece") && slices.Contains(s.Products, "dry-cloth")
	}
	assert.True(t, slices.ContainsFunc(r.Steps, dried))
}

// What spoils felt and cord is warned of before the first step of whatever brings it near them.
func TestGreaseNearFeltIsWarnedOfFirst(t *testing.T) {
	seen := false
	eachStep(Embedded(), func(k *Kind, r Resolved, s ResolvedStep) {
		grease := slices.ContainsFunc(s.Products, func(p string) bool {
			return slices.Contains([]string{"petroleum-jelly", "light-oil", "penetrating-oil"}, p)
		})
		if _, cord := k.Part("cord"); !grease || !cord {
			return
		}
		seen = true
		assert.True(t, slices.ContainsFunc(r.Cautions, func(text string) bool {
			return strings.Contains(text, "off") && strings.Contains(text, "cord and bars")
		}), r.Key)
	})
	assert.True(t, seen)
}

// First aid as the trade has it: strings that hold a hurt body together stay on and hold the bridge; no hand on a bent post while its bar is
// on; smoke is kept shut wherever it is spoken of. Common practice, no published source.
func TestFirstAidDoesNoHarm(t *testing.T) {
	c := Embedded()
	firstAid := func(code string) string {
		f, ok := c.Finding(code)
		require.True(t, ok, code)
		return strings.Join(f.FirstAid, " ")
	}
	for _, code := range []string{"open-seam", "crack", "top-sunken"} {
		assert.Contains(t, firstAid(code), "until they just hold the bridge", code)
	}
	assert.Regexp(t, "director takes the bar off first", firstAid("post-bent"))
	assert.Contains(t, firstAid("smoke-smell"), "Case shut")
	for _, s := range c.Symptoms {
		for _, check := range s.Checks {
			text := strings.Join(check.Fix, " ")
			assert.NotContains(t, text, "case open", s.Key)
			if check.Finding == "post-bent" {
				assert.Contains(t, text, "tell the director")
			}
		}
	}
}
