package app_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/placing"
	"solfeggio/internal/app/school"
)

// A class set is played in ensembles by nobody named. It stands in its slot, is proposed and handed out like any other, and is a class set
// again when that is undone. It is nobody's loaner.
func TestAClassSetIsNeitherHeldNorGone(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind,size,room,slot,ensembles\nVN-01,violin,4/4,Store,A-01,Orchestra\nVN-02,violin,4/4,Store,A-02,Orchestra\n")
	set := h.listed("VN-01")
	assert.True(t, set.ClassSet)
	assert.False(t, set.Played)
	assert.Equal(t, school.Ready, set.Mark)
	assert.Equal(t, []string{"Orchestra"}, set.Ensembles)
	walls, err := h.Inventory.Walls(ctx, h.director)
	require.NoError(t, err)
	assert.Equal(t, []int{2, 0}, []int{walls[0].Here, walls[0].Out})

	h.roster("external_id,given_name,family_name,ensembles,instrument\np1,Ode,Marchetti,Orchestra,violin\n", nil)
	ode := h.player("Ode Marchetti").ID
	proposal, err := h.Placing.Propose(ctx, h.director, placing.Wish{})
	require.NoError(t, err)
	require.Len(t, proposal.Pairs, 1)
	assert.Empty(t, proposal.Order)
	out, err := h.Lending.HandOut(ctx, h.director, lending.HandOut{Pairs: []school.Pair{{PlayerID: ode, InstrumentID: h.id("VN-01")}}})
	require.NoError(t, err)
	assert.Equal(t, "Ode Marchetti", h.listed("VN-01").Holder)
	assert.False(t, h.listed("VN-01").ClassSet)
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: out.Events})
	require.NoError(t, err)
	assert.Equal(t, set, h.listed("VN-01"), "as it was before")
}
