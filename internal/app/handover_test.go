package app_test

import (
	"bytes"
	"image"
	"image/jpeg"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/bench"
	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/letters"
	"solfeggio/internal/app/roster"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/fit"
	"solfeggio/internal/core/wording"
	"solfeggio/internal/store"
	"solfeggio/internal/store/lendingrows"
)

// desk is a school with three violins and three players, ready to hand out.
func desk(t *testing.T) (h *house, ode, ilse roster.ListedPlayer) {
	return deskOn(t, newHouse(t))
}

func deskOn(t *testing.T, at *house) (h *house, ode, ilse roster.ListedPlayer) {
	h = at
	h.bring(threeViolins)
	h.roster(players, nil)
	return h, h.player("Ode Marchetti"), h.player("Ilse Quandt")
}

func (h *house) file(tag string) inventory.File {
	h.t.Helper()
	f, err := h.Inventory.File(ctx, h.director, h.id(tag))
	require.NoError(h.t, err)
	return f
}

// signed is a signature that nobody makes by a slip of the hand.
var signed = lending.Signing{
	How:     "screen",
	By:      "R. Marchetti",
	Strokes: [][][2]int{{{100, 500}, {400, 300}, {700, 600}}, {{200, 700}, {600, 700}}},
}

func (h *house) handing(p roster.ListedPlayer, tag string) lending.Handing {
	return lending.Handing{ID: uuid.New(), Pair: school.Pair{PlayerID: p.ID, InstrumentID: h.id(tag)}, Signature: signed}
}

// A hand-over from the fit to the signature, and what it leaves behind.
func TestAHandOver(t *testing.T) {
	h, ode, ilse := desk(t)
	pair := school.Pair{PlayerID: ode.ID, InstrumentID: h.id("VN-01")}
	sheet, err := h.Lending.HandOverSheet(ctx, h.director, pair, fit.Checks{})
	require.NoError(t, err)
	assert.Equal(t, []string{"4/4", "4/4"}, []string{sheet.Fit.Chart, sheet.Fit.Fits})
	assert.Contains(t, sheet.Heading+sheet.Terms, "Ode Marchetti")
	assert.Contains(t, sheet.Terms, "further notice", "no term is entered, so no day is named")
	require.NotNil(t, sheet.Assembly, "how it is unpacked is shown before the first note")
	violin := catalog.Subject{Kind: mustKind(t, "violin"), Choices: catalog.Embedded().Choose()}
	assert.Len(t, sheet.Kit, len(catalog.Embedded().CaseOf(violin)), "what every case holds, and not what waits in the cupboard")
	big, err := h.Lending.HandOverSheet(ctx, h.director, pair, fit.Checks{Elbow: "wide"})
	require.NoError(t, err)
	assert.Equal(t, []any{"3/4", 1}, []any{big.Fit.Fits, big.Fit.Apart}, "the checks stand above the chart")

	var photo bytes.Buffer
	require.NoError(t, jpeg.Encode(&photo, image.NewGray(image.Rect(0, 0, 40, 30)), nil))
	shot := uuid.New()
	_, err = h.Inspection.AddPhoto(ctx, h.director, pair.InstrumentID, shot, false, photo.Bytes())
	require.NoError(t, err)
	due := thisDay + 200
	in := h.handing(ode, "VN-01")
	in.DueBackOn, in.Checks, in.Photos = &due, &fit.Checks{Scroll: "ok"}, []uuid.UUID{shot}
	in.Findings = []inspection.Found{{Code: "peg-slips", Note: "A peg."}}
	in.Kit = map[string]catalog.KitState{"mute": catalog.Missing, "rosin": catalog.There}
	given, err := h.Lending.HandOver(ctx, h.director, in)
	require.NoError(t, err)

	f := h.file("VN-01")
	assert.Equal(t, "Ode Marchetti", f.Listed.Holder)
	assert.Equal(t, []string{"screen", "R. Marchetti"}, []string{f.HandOver.Signed, f.HandOver.SignedBy})
	assert.Equal(t, due, *f.HandOver.DueBackOn)
	helper := h.director
	helper.Role = journal.Helper
	seen, err := h.Inventory.File(ctx, helper, h.id("VN-01"))
	require.NoError(t, err)
	assert.Empty(t, seen.HandOver.SignedBy, "who signed is for those who hand out")
	assert.Equal(t, "Peg slips", f.Findings[0].Name)
	assert.Equal(t, 1, f.Listed.Gaps)
	var sheetOf bytes.Buffer
	require.NoError(t, h.Lending.Agreement(ctx, h.director, in.ID, &sheetOf))
	assert.True(t, bytes.HasPrefix(sheetOf.Bytes(), []byte("%PDF")))
	_, err = h.Lending.HandOver(ctx, h.director, h.handing(ilse, "VN-01"))
	fault(t, err, journal.Conflict)

	// Undone, it stands free as before; what was found stays found.
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: given.Events})
	require.NoError(t, err)
	f = h.file("VN-01")
	assert.Empty(t, f.Listed.Holder)
	assert.Nil(t, f.HandOver)
	assert.Len(t, f.Findings, 1)
}

func mustKind(t *testing.T, key string) *catalog.Kind {
	t.Helper()
	k, ok := catalog.Embedded().Kind(key)
	require.True(t, ok)
	return k
}

// Whatever is wrong in a hand-over is named, and nothing of it is kept.
func TestAHandOverIsWholeOrNotAtAll(t *testing.T) {
	h, ode, _ := desk(t)
	bram, past := h.player("Bram Osei"), thisDay-1
	for path, change := range map[string]func(*lending.Handing){
		"signature.by":            func(in *lending.Handing) { in.Signature.By = " " },
		"signature.strokes":       func(in *lending.Handing) { in.Signature.Strokes = [][][2]int{{{5, 5}, {9, 9}}} },
		"signature.strokes[0][0]": func(in *lending.Handing) { in.Signature.Strokes = [][][2]int{{{5, 1001}}} },
		"due_back_on":             func(in *lending.Handing) { in.DueBackOn = &past },
		"player_id":               func(in *lending.Handing) { in.PlayerID = uuid.New() },
		"instrument_id":           func(in *lending.Handing) { in.InstrumentID = uuid.New() },
		"findings[0].code":        func(in *lending.Handing) { in.Findings = []inspection.Found{{Code: "red-spots"}} },
		"kit.valve-oil":           func(in *lending.Handing) { in.Kit = map[string]catalog.KitState{"valve-oil": catalog.Low} },
		"kit.mute":                func(in *lending.Handing) { in.Kit = map[string]catalog.KitState{"mute": catalog.Wet} },
		"checks.elbow":            func(in *lending.Handing) { in.Checks = &fit.Checks{Elbow: "odd"} },
		"photos":                  func(in *lending.Handing) { in.Photos = []uuid.UUID{uuid.New()} },
	} {
		in := h.handing(bram, "VN-01") // whom nobody measured
		in.Findings = []inspection.Found{{Code: "peg-slips"}}
		in.Kit = map[string]catalog.KitState{"rosin": catalog.Low}
		change(&in)
		_, err := h.Lending.HandOver(ctx, h.director, in)
		var refused *journal.Fault
		require.ErrorAs(t, err, &refused, path)
		assert.True(
			t,
			slices.ContainsFunc(refused.Fields, func(f journal.Field) bool { return f.Path == path }),
			"%s: %v",
			path,
			refused.Fields,
		)
	}
	f := h.file("VN-01")
	assert.Empty(t, f.Findings)
	assert.Nil(t, f.HandOver)
	assert.Nil(t, f.KitChecked)
	helper := h.director
	helper.Role = journal.Helper
	_, err := h.Lending.HandOver(ctx, helper, h.handing(ode, "VN-01"))
	fault(t, err, journal.Forbidden)
	_, err = h.Lending.HandOverSheet(ctx, helper, school.Pair{PlayerID: ode.ID, InstrumentID: h.id("VN-01")}, fit.Checks{})
	fault(t, err, journal.Forbidden)
}

// What was agreed stays as it was worded; what was left open is agreed when it is signed.
func TestAnAgreementKeepsItsWords(t *testing.T) {
	h, ode, ilse := desk(t)
	first := h.handing(ode, "VN-01")
	_, err := h.Lending.HandOver(ctx, h.director, first)
	require.NoError(t, err)
	class, err := h.Lending.HandOut(
		ctx,
		h.director,
		lending.HandOut{Pairs: []school.Pair{{PlayerID: ilse.ID, InstrumentID: h.id("VN-02")}}},
	)
	require.NoError(t, err)
	require.Len(t, class.Events, 1)
	require.NoError(
		t,
		h.Letters.SaveWording(ctx, h.director, letters.Wording{Key: wording.Agreement, Wording: "New words for {tag}\nMind it, {player}."}),
	)
	fault(t, h.Letters.SaveWording(ctx, h.director, letters.Wording{Key: wording.Agreement, Wording: "Lost update"}), journal.Conflict)
	assert.Contains(
		t,
		fault(t, h.Letters.SaveWording(ctx, h.director, letters.Wording{Key: wording.Agreement, Wording: "For {parent}", Version: 1}),
			journal.Invalid).Fields[0].Message,
		"{parent}",
	)

	unsigned, err := h.Letters.Notices(ctx, h.director)
	require.NoError(t, err)
	require.Len(t, unsigned.Unsigned, 1)
	assert.Equal(t, []string{"VN-02", "Ilse Quandt"}, []string{unsigned.Unsigned[0].Tag, unsigned.Unsigned[0].Player})
	late := unsigned.Unsigned[0].HandOver
	_, err = h.Lending.Sign(ctx, h.director, late, lending.Signing{How: "later"})
	fault(t, err, journal.Invalid)
	_, err = h.Lending.Sign(ctx, h.director, late, lending.Signing{How: "screen", By: "T. Quandt"})
	assert.Equal(t, "strokes", fault(t, err, journal.Invalid).Fields[0].Path)
	_, err = h.Lending.Sign(ctx, h.director, late, lending.Signing{How: "paper", By: "T. Quandt"})
	require.NoError(t, err)
	_, err = h.Lending.Sign(ctx, h.director, late, lending.Signing{How: "paper", By: "T. Quandt"})
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "signed already")

	terms := func(id uuid.UUID) (text string) {
		require.NoError(t, h.db.Read(ctx, h.director.School, func(tx *store.Tx) error {
			kept, err := lendingrows.HandOverByID(ctx, tx, id)
			text = kept.Terms
			return err
		}))
		return text
	}
	old, _ := wording.Find(wording.Agreement)
	assert.Equal(t, old.Wording, terms(first.ID))
	assert.Equal(t, "New words for {tag}\nMind it, {player}.", terms(late))
}

// A return shows what changed, is paid for only as a person decides, and holds the instrument until its turnover is done.
func TestAReturn(t *testing.T) {
	h, ode, ilse := desk(t)
	_, err := h.Inspection.ReportFinding(
		ctx,
		h.director,
		h.id("VN-01"),
		inspection.Report{ID: uuid.New(), Found: inspection.Found{Code: "peg-slips"}},
	)
	require.NoError(t, err)
	in := h.handing(ode, "VN-01")
	in.Kit = map[string]catalog.KitState{"humidifier": catalog.Missing}
	_, err = h.Lending.HandOver(ctx, h.director, in)
	require.NoError(t, err)

	h.now = h.now.AddDate(0, 0, 30)
	_, err = h.Inspection.ReportFinding(
		ctx,
		h.director,
		h.id("VN-01"),
		inspection.Report{ID: uuid.New(), Found: inspection.Found{Code: "tuner-home"}},
	)
	require.NoError(t, err)
	for _, f := range h.file("VN-01").Findings {
		if f.Code == "peg-slips" {
			_, err = h.Inspection.ClearFinding(ctx, h.director, f.ID, inspection.Clearing{How: "Chalk."})
			require.NoError(t, err)
		}
	}
	h.now = h.now.AddDate(0, 0, 1)
	sheet, err := h.Lending.ReturnSheet(ctx, h.director, h.id("VN-01"))
	require.NoError(t, err)
	require.Len(t, sheet.New, 1)
	assert.Equal(t, "tuner-home", sheet.New[0].Code)
	assert.Equal(t, []string{"Peg slips"}, sheet.Mended)
	assert.Empty(t, sheet.Before)
	for _, thing := range sheet.Kit {
		assert.Equal(t, thing.Supply == "humidifier", thing.WentOut == catalog.Missing, thing.Supply)
	}

	proposal, err := h.Lending.ProposeCharge(ctx, h.director, h.id("VN-01"), lending.Damage{RepairCents: 9000, Avoidable: true})
	require.NoError(t, err)
	assert.EqualValues(t, 4500, proposal.ChargeCents, "nobody knows its age: half of its life is taken as gone")
	assert.Contains(t, proposal.Why.Statement, "Nobody knows how old")
	wear, err := h.Lending.ProposeCharge(ctx, h.director, h.id("VN-01"), lending.Damage{RepairCents: 9000})
	require.NoError(t, err)
	assert.Zero(t, wear.ChargeCents)

	back := lending.Returning{
		Findings: []inspection.Found{{Code: "open-seam"}}, Kit: map[string]catalog.KitState{"mute": catalog.Missing}, Reported: "It fell.",
		Charge: &lending.ChargeDecision{Damage: lending.Damage{RepairCents: 9000, Avoidable: true}, AmountCents: 2000, Reason: ""},
	}
	_, err = h.Lending.Return(ctx, h.director, h.id("VN-01"), back)
	assert.Equal(t, "charge.reason", fault(t, err, journal.Invalid).Fields[0].Path)
	assert.Equal(t, "Ode Marchetti", h.listed("VN-01").Holder, "nothing of it is kept")
	back.Charge.Reason = "an open seam"
	returned, err := h.Lending.Return(ctx, h.director, h.id("VN-01"), back)
	require.NoError(t, err)
	f := h.file("VN-01")
	assert.Empty(t, f.Listed.Holder)
	assert.Contains(t, f.Listed.Held, "disinfect")
	assert.Equal(t, school.Stopped, f.Listed.Mark, "the open seam stands above the hold")

	// Stopped, it goes nowhere; mended, it is still held; let go, it may.
	give := func() error { _, err := h.Lending.HandOver(ctx, h.director, h.handing(ilse, "VN-01")); return err }
	assert.Contains(t, fault(t, give(), journal.Conflict).Message, "is stopped")
	for _, open := range f.Findings {
		_, err = h.Inspection.ClearFinding(ctx, h.director, open.ID, inspection.Clearing{How: "Glued by the luthier."})
		require.NoError(t, err)
	}
	assert.Contains(t, fault(t, give(), journal.Conflict).Message, "is held")
	assert.Equal(t, school.OnHold, h.listed("VN-01").Mark)
	_, err = h.Bench.Release(ctx, h.director, h.id("VN-01"), bench.Releasing{How: " "})
	assert.Equal(t, "how", fault(t, err, journal.Invalid).Fields[0].Path)
	let, err := h.Bench.Release(ctx, h.director, h.id("VN-01"), bench.Releasing{How: "Wiped dry."})
	require.NoError(t, err)
	_, err = h.Bench.Release(ctx, h.director, h.id("VN-01"), bench.Releasing{How: "Again."})
	fault(t, err, journal.Conflict)
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: let.Events})
	require.NoError(t, err)
	assert.NotEmpty(t, h.listed("VN-01").Held)

	// The return itself taken back: as if it had not come, and nothing is charged.
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: returned.Events})
	require.NoError(t, err)
	f = h.file("VN-01")
	assert.Equal(t, "Ode Marchetti", f.Listed.Holder)
	assert.Equal(t, in.ID, f.HandOver.ID)
	assert.Empty(t, f.Listed.Held)
	notices, err := h.Letters.Notices(ctx, h.director)
	require.NoError(t, err)
	for _, n := range notices.Proposed {
		assert.NotEqual(t, wording.Charge, n.Letter)
	}
}

// Who answers for an instrument follows whatever is done by hand: lending, and changing its habit.
func TestAHandOverFollowsTheHolder(t *testing.T) {
	h, ode, _ := desk(t)
	h.bring("tag,kind,size,care_from\nVN-09,violin,4/4,2026-11-01\n")
	_, err := h.Lending.HandOver(ctx, h.director, h.handing(ode, "VN-01"))
	require.NoError(t, err)
	lent, err := h.Lending.Lend(ctx, h.director, h.id("VN-01"), lending.Lending{LoanerID: h.id("VN-09")})
	require.NoError(t, err)
	assert.Nil(t, h.file("VN-01").HandOver)
	require.NotNil(t, h.file("VN-09").HandOver)
	assert.Equal(t, "Ode Marchetti", h.listed("VN-09").Holder)
	slices.Reverse(lent.Events)
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: lent.Events})
	require.NoError(t, err)
	assert.Nil(t, h.file("VN-09").HandOver)
	assert.NotNil(t, h.file("VN-01").HandOver)

	f := h.file("VN-01")
	_, err = h.Inventory.ChangeInstrument(ctx, h.director, h.id("VN-01"), lending.Change{Instrument: f.Instrument})
	require.NoError(t, err)
	assert.Nil(t, h.file("VN-01").HandOver, "nobody plays it, so nobody answers for it")
}

func TestCardsAreTheirPlayersOwn(t *testing.T) {
	h, ode, ilse := desk(t)
	assert.Regexp(t, `^PL-[0-9A-HJKMNP-TV-Z]{8}$`, ode.Card)
	assert.NotEqual(t, ode.Card, ilse.Card)
	assert.Equal(t, ode.Card, h.player("Ode Marchetti").Card, "and stay so")
	assert.NotContains(t, ode.Card, strings.ToUpper(ode.ID.String()[:4]))
	var sheet bytes.Buffer
	require.NoError(
		t,
		h.Inventory.Labels(ctx, h.director, inventory.LabelWish{Players: []uuid.UUID{ode.ID, ilse.ID}, Sheet: "a4-24"}, &sheet),
	)
	assert.Equal(
		t,
		"players[0]",
		fault(t, h.Inventory.Labels(ctx, h.director, inventory.LabelWish{Players: []uuid.UUID{uuid.New()}, Sheet: "a4-24"}, &sheet),
			journal.Invalid).Fields[0].Path,
	)
	helper := h.director
	helper.Role = journal.Helper
	fault(t, h.Inventory.Labels(ctx, helper, inventory.LabelWish{Players: []uuid.UUID{ode.ID}, Sheet: "a4-24"}, &sheet), journal.Forbidden)
}
