package catalog

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What mends what, where it once was offered another repair. Common practice, no published source; prices of repairs are from memory.
func TestARepairMendsTheCause(t *testing.T) {
	c := Embedded()
	for _, tt := range []struct{ kind, finding, repair string }{
		{"vibraphone", "bar-dead", "frame"}, // cord, post, damper and frame before the bar
		{"marimba", "bar-crack", "bar-new"},
		{"violin", "nut-high", "nut-grooves"},
		{"violin", "neck-hurt", "neck-set"},
		{"cello", "top-sunken", "bass-bar"},
		{"cello", "endpin-slips", "rests"},
		{"viola", "chin-rest-loose", "rests"},
		{"bow", "bow-warped", "recamber"},
		{"bow", "moths", "hair"},
		{"violin", "moths", "strings-cleaning"},
		{"bassoon", "boot-rot", "boot-lined"},
		{"clarinet-b-flat", "crack-body", "woodwind-crack"},
		{"guitar", "steel-on-nylon", "plucked-set-up"},
		{"harp", "harp-unsafe", "harp-joined"},
		{"piano", "piano-string", "piano-string"},
		{"piano", "lid-falls", "piano-case"},
		{"piano", "liquid-inside", "liquid-cleaned"},
		{"keyboard", "liquid-inside", "liquid-cleaned"},
		{"snare-drum", "snare-buzz", "snares"},
	} {
		k, ok := c.Kind(tt.kind)
		require.True(t, ok, tt.kind)
		r, ok := c.Mending(k, tt.finding)
		if assert.True(t, ok, "%s of a %s", tt.finding, tt.kind) {
			assert.Equal(t, tt.repair, r.Key, "%s of a %s", tt.finding, tt.kind)
		}
	}
	first := func(symptom, finding string) []string {
		s := c.symptoms[symptom]
		n := slices.IndexFunc(s.Checks, func(check Check) bool { return check.Finding == finding })
		require.GreaterOrEqual(t, n, 0, "%s never asks for %s", symptom, finding)
		return s.Checks[n].Fix
	}
	assert.Contains(t, first("bow-will-not-tighten", "bow-hair-worn")[0], "dry room")
	first("hard-to-press", "nut-high")
	for _, key := range []string{"dead-bar", "dead-bar-damped"} {
		checks := c.symptoms[key].Checks
		at := func(finding string) int {
			return slices.IndexFunc(checks, func(check Check) bool { return check.Finding == finding })
		}
		for _, before := range []string{"cord-frayed", "post-bent", "frame-rattle"} {
			assert.Less(t, at(before), at("bar-crack"), key)
			assert.GreaterOrEqual(t, at(before), 0, key)
		}
	}
}

// Ball or loop is a property of a string, set by the tuner it hangs on, and nothing to buy.
func TestBallEndsAreNotBought(t *testing.T) {
	for _, s := range Embedded().Supplies {
		assert.NotContains(t, s.Key, "ball")
	}
}

// Swabs go by the bore: an oboe's can be drawn back, a neck and a boot have their own. What is not for a child's case waits in the
// cupboard. Common practice, no published source.
func TestKitsGoByTheBore(t *testing.T) {
	c := Embedded()
	has := func(kind, supply string) bool {
		k, _ := c.Kind(kind)
		return slices.ContainsFunc(c.CaseOf(Subject{Kind: k, Choices: c.Choose()}), func(i KitItem) bool { return i.Supply == supply })
	}
	assert.False(t, has("oboe", "weighted-swab"))
	assert.True(t, has("oboe", "oboe-swab"))
	for _, kind := range []string{"alto-saxophone", "tenor-saxophone", "baritone-saxophone", "clarinet-bass", "clarinet-alto"} {
		assert.True(t, has(kind, "neck-swab") && has(kind, "weighted-swab"), kind)
	}
	assert.True(t, has("bassoon", "boot-swab") && has("bassoon", "weighted-swab"))
	for _, kind := range []string{"violin", "viola", "cello"} {
		for _, supply := range []string{"peg-compound", "case-hygrometer", "humidifier", "strings-" + kind} {
			assert.False(t, has(kind, supply), "%s: %s", kind, supply)
		}
		assert.True(t, has(kind, "string-cloth") && has(kind, "rosin"), kind)
	}
	violin, _ := c.Kind("violin")
	full := c.CaseOf(Subject{Kind: violin, Choices: c.Choose(Choices{KitPractice: "full"})})
	assert.True(t, slices.ContainsFunc(full, func(i KitItem) bool { return i.Supply == "humidifier" }))
	assert.False(t, slices.ContainsFunc(full, func(i KitItem) bool { return i.Supply == "peg-compound" }), "the cupboard's stays there")
	moved := c.CaseOf(Subject{Kind: violin, Choices: c.Choose(), Moved: Moved{{"violin", "peg-compound"}: EveryCase, {"violin", "mute"}: Cupboard}})
	assert.True(t, slices.ContainsFunc(moved, func(i KitItem) bool { return i.Supply == "peg-compound" }))
	assert.False(t, slices.ContainsFunc(moved, func(i KitItem) bool { return i.Supply == "mute" }))
}
