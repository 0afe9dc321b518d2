package app_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/upkeep"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/why"
)

// The school's own lives offer an interval; accepted it is every clock's, and Why says so; three lives are not enough.
func TestWhatTheSchoolLearns(t *testing.T) {
	h := rehearsing(t)
	key := clocks.Key{Routine: "violin-strings", Part: "string-e"}
	on := func(days int) *day.Day { d := thisDay - day.Day(days); return &d }
	of := func() upkeep.Lasting {
		list, err := h.Upkeep.Lasting(ctx, h.director)
		require.NoError(t, err)
		return list[slices.IndexFunc(list, func(l upkeep.Lasting) bool { return l.Kind == "violin" && l.Routine == "violin-strings" })]
	}
	lasted := []int{60, 80, 90, 100, 110, 120, 130, 140, 150}
	at := 0
	for n := len(lasted) - 1; n >= 0; n-- {
		at += lasted[n]
		if n == 6 {
			h.renew("VN-01", upkeep.Renewed{Part: "string-e", On: on(at), Cause: "dull", Product: "Heronbill"})
			assert.Equal(t, "None of 1 has come to its end yet.", of().Statement)
			_, err := h.Upkeep.AcceptInterval(ctx, h.director, upkeep.Accepting{Kind: "violin", Routine: "violin-strings", Accept: true})
			assert.Equal(t, "accept", fault(t, err, journal.Invalid).Fields[0].Path)
			break
		}
	}
	for n, days := range lasted {
		part := []string{"string-a", "string-d"}[n%2]
		start := 1000 - 200*(n/2)
		h.renew("VN-02", upkeep.Renewed{Part: part, On: on(start), Cause: "over-age", Product: "Saltgrass"})
		h.renew("VN-02", upkeep.Renewed{Part: part, On: on(start - days), Cause: "dull", Product: "Saltgrass"})
	}
	l := of()
	assert.True(t, l.Days.Enough)
	assert.Equal(t, len(lasted), l.Ended, "those that were renewed while they were sound did not end")
	require.NotNil(t, l.Offered)
	// By hand, with those in use and those renewed while sound at risk until then: 17/18 after 60 days, × 15/16 after 80, × 13/14 after
	// 90, × 11/12 after 100, which is 0.754.
	assert.InDelta(t, 100, *l.Offered, 0)
	assert.InDelta(t, 17./18*15/16*13/14*11/12, l.Days.KaplanMeier[3].Survival, 1e-12)
	got, err := h.Upkeep.AcceptInterval(ctx, h.director, upkeep.Accepting{Kind: "violin", Routine: "violin-strings", Accept: true})
	require.NoError(t, err)
	assert.InDelta(t, 100, *got.Accepted, 0)
	assert.InDelta(t, 100, *h.clock("VN-01", key).Limits.Days, 0)
	reasons, err := h.Inventory.Why(ctx, h.director, h.id("VN-01"), key)
	require.NoError(t, err)
	assert.Equal(t, why.Basis{Kind: why.LearnedHere, Source: "its hours of playing are from memory", Observations: 9}, reasons[1].Basis)
	_, err = h.Upkeep.AcceptInterval(ctx, h.director, upkeep.Accepting{Kind: "violin", Routine: "violin-strings"})
	require.NoError(t, err)
	assert.InDelta(t, 180, *h.clock("VN-01", key).Limits.Days, 0)
}

// Two products that lasted alike are told so, and two that did not; with few ends nothing is said of them.
func TestTwoProductsBesideEachOther(t *testing.T) {
	h := rehearsing(t)
	statement := func() string {
		list, err := h.Upkeep.Lasting(ctx, h.director)
		require.NoError(t, err)
		n := slices.IndexFunc(list, func(l upkeep.Lasting) bool { return l.Routine == "violin-strings" })
		require.Len(t, list[n].Compared, 1)
		return list[n].Compared[0].Statement
	}
	lived := func(part, product string, from, days int) {
		on := thisDay - day.Day(from)
		h.renew("VN-01", upkeep.Renewed{Part: part, On: &on, Product: product, Cause: "over-age"})
		on += day.Day(days)
		h.renew("VN-01", upkeep.Renewed{Part: part, On: &on, Cause: "dull"})
	}
	lived("string-a", "Heronbill", 2400, 200)
	lived("string-d", "Saltgrass", 2400, 60)
	assert.Contains(t, statement(), "Too few of one or the other")
	for n := range 9 {
		lived("string-a", "Heronbill", 2100-210*n, 180+n)
		lived("string-d", "Saltgrass", 2100-210*n, 60+n)
	}
	assert.Equal(t, "They do not last alike: chance alone would show so great a difference less than once in a hundred times.", statement())
	for n := range 9 {
		lived("string-g", "Heronbill", 2100-210*n, 60+n)
		lived("string-e", "Saltgrass", 2100-210*n, 180+n)
	}
	assert.Contains(t, statement(), "Nothing tells them apart")
}
