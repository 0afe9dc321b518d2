package app_test

import (
	"bytes"
	"errors"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/letters"
	"solfeggio/internal/app/roster"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/naming"
	"solfeggio/internal/pgtest"
)

// Who left and gave everything back is forgotten; what the violin went through is not.
func TestErasingAPlayer(t *testing.T) {
	db, raw := pgtest.OpenBeside(t)
	h := newHouseOn(t, db, "ines@quillhaven.example")
	h.bring(threeViolins)
	h.roster(players, nil)
	ode := h.player("Ode Marchetti")
	soon := thisDay + 50
	given := h.handing(ode, "VN-01")
	given.DueBackOn = &soon
	_, err := h.Lending.HandOver(ctx, h.director, given)
	require.NoError(t, err)
	assert.Contains(t, fault(t, h.erase(ode), journal.Conflict).Message, "still here")
	h.now = h.now.AddDate(0, 0, 40)
	h.roster("external_id,given_name\np2,Ilse\n", func(f *roster.RosterFile) { f.MarkLeavers = true })
	assert.Contains(
		t,
		fault(t, h.erase(ode), journal.Conflict).Message,
		"still has VN-01. Take it back first.",
	)
	_, err = h.Letters.SendNotices(ctx, h.director, letters.Sending{About: []string{h.proposed()["due-back VN-01"].About}})
	require.NoError(t, err)
	_, err = h.Lending.Return(ctx, h.director, h.id("VN-01"), lending.Returning{Reported: "Ode Marchetti says it fell."})
	require.NoError(t, err)

	key := clocks.Key{Routine: "violin-strings", Part: "string-e"}
	worn := h.clock("VN-01", key)
	require.NotEmpty(t, worn)
	assert.Subset(t, h.said("VN-01"), []string{"Came back from Ode Marchetti", "Handed out to Ode Marchetti"})
	helper := h.director
	helper.Role = journal.Helper
	fault(t, h.Roster.ErasePlayer(ctx, helper, ode.ID, roster.Erasing{}), journal.Forbidden)
	require.NoError(t, h.erase(ode))
	fault(t, h.erase(ode), journal.NotFound)
	assert.Subset(t, h.said("VN-01"), []string{"Came back", "Handed out to a player"}, "it went out and came back, nobody knows with whom")
	assert.Equal(t, worn, h.clock("VN-01", key), "what was played on it still counts")
	list, err := h.Roster.Players(ctx, h.director)
	require.NoError(t, err)
	for _, p := range list {
		assert.NotEqual(t, ode.ID, p.ID)
	}

	assert.NotContains(t, pgtest.Everything(t, raw, h.director.School), "Marchetti", "the name stands nowhere any more, in whatever table")
	var sheet bytes.Buffer
	require.NoError(t, h.Lending.Agreement(ctx, h.director, given.ID, &sheet), "the paper stays, without the name")
}

// erase erases a player as the program suggests.
func (h *house) erase(p roster.ListedPlayer) error {
	found, err := h.Roster.Mentions(ctx, h.director, p.ID)
	var how roster.Erasing
	for _, m := range found {
		how.Texts = append(how.Texts, roster.ErasedText{Text: m.Text, How: m.Suggests})
	}
	return errors.Join(err, h.Roster.ErasePlayer(ctx, h.director, p.ID, how))
}

// What people typed about a player is found by the name and by when they had the instrument, is shown, and becomes what was said: in
// findings, in their events, in charges and in what was asked of a shop. What is about somebody or something else stays.
func TestWhatWasTypedAboutAPlayer(t *testing.T) {
	db, raw := pgtest.OpenBeside(t)
	h := newHouseOn(t, db, "ines@quillhaven.example")
	h.bring(threeViolins)
	h.roster("external_id,given_name,family_name,kind\np1,Ode,Marchetti,violin\np2,Ilse,Bell,violin\np3,Bram,Ode,violin\n", nil)
	ode := h.player("Ode Marchetti")
	given := h.handing(ode, "VN-01")
	_, err := h.Lending.HandOver(ctx, h.director, given)
	require.NoError(t, err)
	note := func(tag, code, text string) uuid.UUID {
		id := uuid.New()
		_, err := h.Inspection.ReportFinding(ctx, h.director, h.id(tag), inspection.Report{ID: id, Found: inspection.Found{Code: code, Note: text}})
		require.NoError(t, err)
		return id
	}
	note("VN-01", "peg-slips", "Marchetti turned it, Ode's mother says")
	note("VN-01", "bridge-leans", "He sat on it in the bus")
	note("VN-02", "peg-slips", "an ode to slipping pegs")
	h.now = h.now.AddDate(0, 0, 30)
	h.roster("external_id,given_name,family_name\np2,Ilse,Bell\np3,Bram,Ode\n", func(f *roster.RosterFile) { f.MarkLeavers = true })
	_, err = h.Lending.Return(ctx, h.director, h.id("VN-01"), lending.Returning{Reported: "Ode says it fell."})
	require.NoError(t, err)
	h.now = h.now.AddDate(0, 0, 30)
	note("VN-01", "case-latch", "The latch gave way long after")

	found, err := h.Roster.Mentions(ctx, h.director, ode.ID)
	require.NoError(t, err)
	about := map[string]roster.Mention{}
	for _, m := range found {
		about[m.Text] = m
	}
	named := about["Marchetti turned it, Ode's mother says"]
	assert.Equal(t, roster.TakeOutName, named.Suggests)
	assert.Equal(t, []string{"ode", "marchetti"}, named.Names)
	assert.Equal(t, "a player turned it, a player's mother says", named.Without)
	assert.Equal(t, "VN-01", named.Places[0].Tag)
	assert.Len(t, named.Places, 2, "the finding and its event")
	assert.Equal(t, roster.Leave, about["He sat on it in the bus"].Suggests)
	assert.Contains(t, about["He sat on it in the bus"].Because, "while Ode had it")
	assert.Contains(t, about["an ode to slipping pegs"].Because, "Bram Ode is called so too")
	assert.NotContains(t, about, "The latch gave way long after")
	assert.NotContains(t, about, "Ode says it fell.", "which goes with the hand-over's names")

	assert.Contains(t, fault(t, h.Roster.ErasePlayer(ctx, h.director, ode.ID, roster.Erasing{}), journal.Conflict).Message, "not looked at yet")
	how := roster.Erasing{}
	for _, m := range found {
		how.Texts = append(how.Texts, roster.ErasedText{Text: m.Text, How: m.Suggests})
		if strings.HasPrefix(m.Text, "He sat") {
			how.Texts[len(how.Texts)-1].How = roster.TakeOutWhole
		}
	}
	require.NoError(t, h.Roster.ErasePlayer(ctx, h.director, ode.ID, how))
	left := pgtest.Everything(t, raw, h.director.School)
	assert.NotContains(t, left, "Marchetti")
	assert.NotContains(t, left, "sat on it")
	assert.Contains(t, left, "a player turned it, a player's mother says")
	assert.Contains(t, left, "an ode to slipping pegs")
	assert.Contains(t, left, "The latch gave way long after")
	var notes []string
	for _, f := range h.file("VN-01").Findings {
		notes = append(notes, f.Note)
	}
	assert.Contains(t, notes, naming.Gone, "the file shows it as it stands now")
}
