package app_test

import (
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/placing"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/fit"
)

// What came with the file is no look: an agreement says that nobody has looked, and repeats the remark, which is offered as a finding and
// becomes none by itself.
func TestAnAgreementSaysWhatIsKnown(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind,size,notes\nVN-01,violin,4/4,bridge warped\nVN-02,violin,4/4,\n")
	h.roster(players, nil)
	ode, ilse := h.player("Ode Marchetti"), h.player("Ilse Quandt")
	said := func(tag string) string { return strings.Join(strings.Fields(h.agreementOf(t, tag)), " ") }

	proposal, err := h.Placing.Propose(ctx, h.director, placing.Wish{Pins: []school.Pair{{PlayerID: ode.ID, InstrumentID: h.id("VN-01")}}})
	require.NoError(t, err)
	require.NotEmpty(t, proposal.Pairs)
	for _, p := range proposal.Pairs {
		assert.Nil(t, p.Looked)
		assert.Equal(t, map[string]string{"VN-01": "bridge warped"}[p.Tag], p.Remark)
	}
	sheet, err := h.Lending.HandOverSheet(ctx, h.director, school.Pair{PlayerID: ode.ID, InstrumentID: h.id("VN-01")}, fit.Checks{})
	require.NoError(t, err)
	assert.Equal(t, []string{"Nobody has looked it over here yet.", "Remark in the school’s list: “bridge warped”."}, sheet.Known)
	assert.Equal(t, []school.Choice{{Key: "bridge-warped", Name: "Bridge warped or its feet not flush"}}, sheet.Remarked)
	_, err = h.Lending.HandOut(ctx, h.director, lending.HandOut{Pairs: []school.Pair{{PlayerID: ode.ID, InstrumentID: h.id("VN-01")}}})
	require.NoError(t, err)
	assert.Contains(t, said("VN-01"), "Nobody has looked it over here yet. Remark in the school’s list: “bridge warped”.")
	assert.NotContains(t, said("VN-01"), "nothing is wrong")
	assert.Empty(t, h.file("VN-01").Findings, "nobody has held it beside the remark")

	// One tap makes a finding of it. What was signed before stays as it was.
	before := said("VN-01")
	_, err = h.Inspection.ReportFinding(ctx, h.director, h.id("VN-01"),
		inspection.Report{ID: uuid.New(), Found: inspection.Found{Code: h.file("VN-01").Remarked[0].Key}})
	require.NoError(t, err)
	assert.Empty(t, h.file("VN-01").Remarked)
	assert.Equal(t, before, said("VN-01"))

	// Somebody walks along the other one; a week later it goes out with a new finding, and keeps what was known then.
	h.inspect("VN-02", nil)
	h.now = h.now.Add(7 * 24 * time.Hour)
	in := h.handing(ilse, "VN-02")
	in.Findings = []inspection.Found{{Code: "peg-slips"}}
	_, err = h.Lending.HandOver(ctx, h.director, in)
	require.NoError(t, err)
	const then = "Looked over on 24 November 2026 by Ines Corvane. Peg slips: known since 1 December 2026 by Ines Corvane."
	assert.Contains(t, said("VN-02"), then)
	_, err = h.Inspection.ClearFinding(ctx, h.director, h.file("VN-02").Findings[0].ID, inspection.Clearing{How: "Chalk."})
	require.NoError(t, err)
	assert.Contains(t, said("VN-02"), then)
}
