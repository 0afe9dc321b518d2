package app_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/journal"
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
