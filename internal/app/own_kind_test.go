package app_test

import (
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/placing"
	"solfeggio/internal/app/school"
)

// Nothing is refused because the catalogue has not heard of it: it is kept like something that it knows, proposed to those who
// learn it, and found by its name from then on.
func TestAKindOfOnesOwn(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind\nBO-01,Bass oboe like oboe\nOB-01,oboe\nEH-01,Englischhorn\n")
	h.bring("tag,kind\nBO-02,bass oboe\n")
	assert.Equal(t, "Bass oboe", h.listed("BO-02").KindName)
	assert.Equal(t, "English horn", h.listed("EH-01").KindName)
	assert.Len(t, h.fileOf(h.id("BO-01")).Routines, len(h.fileOf(h.id("OB-01")).Routines))
	h.roster("given_name,instrument\nOde,Bass oboe\nIlse,oboe\n", nil)
	proposal, err := h.Placing.Propose(ctx, h.director, placing.Wish{})
	require.NoError(t, err)
	pairs := map[string]string{}
	for _, p := range proposal.Pairs {
		pairs[p.Player] = p.Tag
	}
	assert.Equal(t, "OB-01", pairs["Ilse"])
	assert.Contains(t, []string{"BO-01", "BO-02"}, pairs["Ode"])

	kinds, err := h.Inventory.Addables(ctx, h.director)
	require.NoError(t, err)
	var own []string
	for _, k := range kinds {
		if k.Own {
			own = append(own, k.Key+" "+k.NextTag)
		}
	}
	assert.Equal(t, []string{"oboe~Bass oboe BO-03"}, own)
	_, err = h.Inventory.Add(ctx, h.director, inventory.Adding{ID: uuid.New(), Kind: "flute~Ocarina", Tag: "OC-01"})
	require.NoError(t, err)
	_, err = h.Inventory.Add(ctx, h.director, inventory.Adding{ID: uuid.New(), Kind: "kazoo~Swazzle", Tag: "SW-01"})
	fault(t, err, journal.Invalid)
}

// A kind that was entered wrongly is corrected, after it was said what becomes of the care.
func TestTheKindIsCorrected(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind,size,care_from,last:violin-strings:string-e\nVN-01,violin,3/4,2026-01-01,2026-10-01\nFL-01,flute,,2026-01-01,\n")
	id := h.id("VN-01")
	turn, err := h.Inventory.AsKind(ctx, h.director, id, "viola")
	require.NoError(t, err)
	assert.NotEmpty(t, turn.Ends)
	assert.NotEmpty(t, turn.Begins)
	assert.Empty(t, turn.Size, "a viola has no 3/4")
	assert.Empty(t, turn.Refused)
	before := h.fileOf(id)
	changed, err := h.Inventory.Turn(ctx, h.director, id, inventory.Turning{Kind: "viola", Version: before.Instrument.Version})
	require.NoError(t, err)
	assert.Equal(t, "Viola", h.listed("VN-01").KindName)
	_, err = h.Inventory.Turn(ctx, h.director, id, inventory.Turning{Kind: "cello", Version: before.Instrument.Version})
	fault(t, err, journal.Conflict)
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: changed.Events})
	require.NoError(t, err)
	again := h.fileOf(id)
	assert.Equal(t, []string{"Violin", "3/4"}, []string{again.Listed.KindName, again.Listed.Size})
	assert.Equal(t, before.Parts, again.Parts, "what was known of its care is known again")

	h.inspect("VN-01", map[string]inspection.Found{"seams": {Code: "open-seam"}})
	turn, err = h.Inventory.AsKind(ctx, h.director, id, "flute")
	require.NoError(t, err)
	assert.Contains(t, turn.Refused, "is open, which a Flute does not have")
	_, err = h.Inventory.Turn(ctx, h.director, id, inventory.Turning{Kind: "flute", Version: changed.Version + 1})
	fault(t, err, journal.Conflict)
}
