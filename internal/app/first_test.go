package app_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/placing"
	"solfeggio/internal/app/today"
)

// The first steps follow what is there, and one that the school does without can be taken up again.
func TestFirstSteps(t *testing.T) {
	h := newHouse(t)
	states := func() map[string]string {
		list, err := h.Today.FirstSteps(ctx, h.director)
		require.NoError(t, err)
		out := map[string]string{}
		for _, s := range list {
			out[s.Key] = s.State
		}
		return out
	}
	assert.Equal(t, "open", states()["instruments"])
	h.bring("tag,kind\nTR-01,trumpet\n")
	h.roster("given_name\nOde\n", nil)
	got := states()
	assert.Equal(t, []string{"done", "done", "open", "open"}, []string{got["instruments"], got["players"], got["hand-out"], got["shops"]})
	require.NoError(t, h.Today.PutAside(ctx, h.director, today.Aside{Key: "shops", Aside: true}))
	assert.Equal(t, "aside", states()["shops"])
	require.NoError(t, h.Today.PutAside(ctx, h.director, today.Aside{Key: "shops"}))
	assert.Equal(t, "open", states()["shops"])
	fault(t, h.Today.PutAside(ctx, h.director, today.Aside{Key: "tea"}), journal.Invalid)
	helper := h.director
	helper.Role = journal.Helper
	fault(t, h.Today.PutAside(ctx, helper, today.Aside{Key: "shops", Aside: true}), journal.Forbidden)
}

// Before anybody has looked an instrument over its grade is a guess, and lists, proposals and its reason say so; a walk ends that, and
// so does a term check that is known from before. With nothing due the day says what comes next.
func TestWhatNobodyHasLookedOver(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind,care_from,last:brass-term-check\nTR-01,trumpet,2026-11-24,\nTR-02,trumpet,2026-09-01,2026-10-20\n")
	assert.Equal(t, []bool{true, false}, []bool{h.listed("TR-01").NeverSeen, h.listed("TR-02").NeverSeen})
	assert.Equal(t, "Nobody has looked it over here yet. Until then it counts as sound.", h.file("TR-01").Triage.Why.Statement)
	h.roster("given_name,instrument\nOde,trumpet\nIlse,trumpet\n", nil)
	proposal, err := h.Placing.Propose(ctx, h.director, placing.Wish{})
	require.NoError(t, err)
	says := map[string]string{}
	for _, pair := range proposal.Pairs {
		for _, part := range pair.Parts {
			if part.Name == "grade" {
				says[pair.Tag] = part.Says
			}
		}
	}
	assert.Equal(t, map[string]string{"TR-01": "not looked over yet", "TR-02": "fit for a concert"}, says)
	day, err := h.Today.Today(ctx, h.director, 25, 0)
	require.NoError(t, err)
	require.NotNil(t, day.Ahead)
	assert.Greater(t, day.Ahead.On, day.Strip[0].Date)
	h.inspect("TR-01", nil)
	assert.False(t, h.listed("TR-01").NeverSeen)
}
