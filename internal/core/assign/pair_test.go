package assign

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"solfeggio/internal/core/condition"
)

// In doubt the smaller size; two sizes off is no fit (common practice, no source).
func TestWhatAPairCosts(t *testing.T) {
	even := Weights{1, 1, 1, 1, 1, 1}
	cost := func(c Candidate) float64 {
		parts, ok := c.Parts(even)
		if !ok {
			return -1
		}
		sum := 0.
		for _, p := range parts {
			sum += p.Cost
		}
		return sum
	}
	fits := Candidate{Kind: "violin", Wanted: "3/4", Size: "3/4", Grade: condition.Concert, Kept: true}
	with := func(change func(*Candidate)) float64 { c := fits; change(&c); return cost(c) }
	small, large := with(func(c *Candidate) { c.Size = "1/2" }), with(func(c *Candidate) { c.Size = "4/4" })
	assert.Zero(t, cost(fits))
	assert.Greater(t, small, 0.)
	assert.Greater(t, large, small)
	assert.Less(t, with(func(c *Candidate) { c.Wanted = "" }), small, "a size nobody measured is better than one known to be wrong")
	assert.Equal(t, -1., with(func(c *Candidate) { c.Size = "1/4" }))
	assert.Equal(t, -1., with(func(c *Candidate) { c.Wanted, c.Size = "1/2", "4/4" }))
	assert.Greater(t, with(func(c *Candidate) { c.Kept = false }), 0.)
	class, limping := with(func(c *Candidate) { c.Grade = condition.Class }), with(func(c *Candidate) { c.Grade = condition.Limping })
	assert.Greater(t, class, 0.)
	assert.Greater(t, limping, class)
	assert.Zero(t, with(func(c *Candidate) { c.Kind, c.Wanted, c.Size = "tuba", "", "4/4" }), "no chart")

	soon, later, far := 2., 20., 60.
	ending := func(weeks *float64) float64 { return with(func(c *Candidate) { c.RentalWeeks = weeks }) }
	assert.Greater(t, ending(&soon), ending(&later))
	assert.Greater(t, ending(&later), 0.)
	assert.Zero(t, ending(&far), "an end so far away does not count yet")
	assert.Zero(t, with(func(c *Candidate) { c.Bulky = true })+with(func(c *Candidate) { c.OnFoot = true }))
	assert.Greater(t, with(func(c *Candidate) { c.Bulky, c.OnFoot = true, true }), 0., "a tuba on the bus")
	assert.Less(t, with(func(c *Candidate) { c.KitGaps = 1 }), with(func(c *Candidate) { c.KitGaps = 3 }))
	assert.Equal(
		t,
		with(func(c *Candidate) { c.KitGaps = 5 }),
		with(func(c *Candidate) { c.KitGaps = 9 }),
		"an empty kit is filled in one go",
	)

	odd := fits
	odd.Size = "7/8"
	parts, ok := odd.Parts(even)
	assert.True(t, ok, "a size that the chart does not have is for a person to judge")
	assert.Equal(t, "7/8 is not on the chart", parts[0].Says)
	none, _ := Candidate{Kind: "violin", Wanted: "3/4", Size: "4/4", Grade: condition.Limping}.Parts(Weights{})
	assert.Zero(t, none[0].Cost+none[1].Cost+none[2].Cost, "what weighs nothing costs nothing")
}
