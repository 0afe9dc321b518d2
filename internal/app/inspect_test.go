package app_test

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/access"
	"solfeggio/internal/app/bench"
	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/condition"
	"solfeggio/internal/store/schoolrows"
)

const violins = "tag,kind,size,care_from,ensembles,practice_minutes_per_week\n" +
	"VN-01,violin,4/4,2026-11-01,String orchestra,60\nVN-02,violin,4/4,2026-11-01,,\nVN-03,violin,3/4,2026-11-01,,\n"

// walk is an inspection of an instrument that found the given things and looks right elsewhere.
func (h *house) walk(tag string, found map[string]inspection.Found, measured map[string]string) inspection.Walk {
	h.t.Helper()
	sheet, err := h.Inspection.Sheet(ctx, h.director, h.id(tag))
	require.NoError(h.t, err)
	in := inspection.Walk{ID: uuid.New(), Edition: sheet.Edition, BeganAt: h.now.Add(-5 * time.Minute)}
	if sheet.Last != nil {
		in.LastSeen = &sheet.Last.ID
	}
	for _, p := range sheet.Points {
		answer := inspection.PointAnswer{Point: p.Key, Findings: []inspection.Found{}, Measured: measured[p.Key]}
		if f, ok := found[p.Key]; ok {
			answer.Findings = []inspection.Found{f}
		}
		in.Answers = append(in.Answers, answer)
	}
	return in
}

func (h *house) inspect(tag string, found map[string]inspection.Found) inspection.Judged {
	h.t.Helper()
	judged, err := h.Inspection.Inspect(ctx, h.director, h.id(tag), h.walk(tag, found, nil))
	require.NoError(h.t, err)
	return judged
}

func (h *house) listed(tag string) school.Listed {
	h.t.Helper()
	f, err := h.Inventory.File(ctx, h.director, h.id(tag))
	require.NoError(h.t, err)
	return f.Listed
}

var openSeam = map[string]inspection.Found{"seams": {Code: "open-seam", Note: "Lower bout."}}

// An open seam stops the violin wherever it shows, until somebody allowed to clears it with a word on how.
func TestAnOpenSeamStopsTheViolinEverywhere(t *testing.T) {
	h := newHouse(t)
	h.bring(violins)
	require.NoError(t, h.Access.SaveColleague(ctx, h.director, pell(), "a long password"))
	helper, err := h.Access.SignIn(ctx, "pell@quillhaven.example", "a long password", "here")
	require.NoError(t, err)

	judged, err := h.Inspection.Inspect(ctx, helper, h.id("VN-01"), h.walk("VN-01", openSeam, nil))
	require.NoError(t, err)
	assert.Equal(t, condition.Silent, judged.Triage.Grade)
	assert.Contains(t, judged.Triage.FirstAid[0], "Slacken all strings")

	assert.Equal(t, school.Stopped, h.listed("VN-01").Mark)
	got, err := h.Today.Today(ctx, h.director, 240, 0)
	require.NoError(t, err)
	require.Len(t, got.CannotPlay, 1)
	assert.Equal(t, "open seam", got.CannotPlay[0].Because)
	assert.Equal(t, "VN-02", got.CannotPlay[0].Loaner.Tag, "free, and of the same size")
	for _, at := range got.Box.Places {
		for _, task := range at.Tasks {
			assert.NotEqual(t, "VN-01", task.Tag, "nothing is offered on it: %s", task.Title)
		}
	}
	file, err := h.Inventory.File(ctx, h.director, h.id("VN-01"))
	require.NoError(t, err)
	require.Len(t, file.Findings, 1)
	assert.Equal(t, "seam", file.Findings[0].Spot)

	seam := file.Findings[0].ID
	_, err = h.Inspection.ClearFinding(ctx, helper, seam, inspection.Clearing{How: "glued"})
	fault(t, err, journal.Forbidden)
	_, err = h.Inspection.ClearFinding(ctx, h.director, seam, inspection.Clearing{How: " "})
	assert.Equal(t, "how", fault(t, err, journal.Invalid).Fields[0].Path)
	judged = h.inspect("VN-01", nil)
	assert.Equal(t, condition.Stop, judged.Triage.Action, "looking right at the next check does not start it again")
	cleared, err := h.Inspection.ClearFinding(ctx, h.director, seam, inspection.Clearing{How: "the luthier closed it"})
	require.NoError(t, err)
	assert.Equal(t, condition.Concert, cleared.Triage.Grade)
	assert.NotEqual(t, school.Stopped, h.listed("VN-01").Mark)
	_, err = h.Inspection.ClearFinding(ctx, h.director, seam, inspection.Clearing{How: "twice"})
	fault(t, err, journal.Conflict)
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: cleared.Events})
	require.NoError(t, err)
	assert.Equal(t, school.Stopped, h.listed("VN-01").Mark, "undone, it is stopped again")
}

func TestAnInspectionOpensClearsAndRestartsItsClock(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind,size,care_from,last:strings-term-check\nVN-01,violin,4/4,2026-01-01,2026-06-01\n")
	term := clocks.Key{Routine: "strings-term-check"}
	require.Equal(t, care.Late, h.clock("VN-01", term).State)
	judged := h.inspect("VN-01", map[string]inspection.Found{"bridge": {Code: "bridge-leans"}, "pegs": {Code: "peg-slips"}})
	assert.Equal(t, condition.Class, judged.Triage.Grade)
	assert.Equal(t, care.Fresh, h.clock("VN-01", term).State)

	h.now = h.now.Add(time.Hour)
	again := h.inspect("VN-01", map[string]inspection.Found{"bridge": {Code: "bridge-leans", Note: "more than before"}})
	assert.Equal(t, []string{"Peg slips"}, again.Cleared)
	require.Len(t, again.Findings, 1, "the same thing at the same place is open once")
	assert.Equal(t, "more than before", again.Findings[0].Note)
	assert.Equal(t, judged.Findings[0].ID, again.Findings[0].ID)
}

func TestMeasuresAsPeopleTypeThem(t *testing.T) {
	h := newHouse(t)
	h.bring(violins)
	high, err := h.Inspection.Inspect(
		ctx,
		h.director,
		h.id("VN-01"),
		h.walk("VN-01", nil, map[string]string{"height-treble": "4,4 mm", "height-bass": "0.22 in"}),
	)
	require.NoError(t, err)
	require.Len(t, high.Findings, 1, "0.22 in are 5.588 mm, which is right")
	assert.Equal(t, "action-high", high.Findings[0].Code)
	assert.InDelta(t, 4.4, *high.Findings[0].Measured, 1e-9)
	small, err := h.Inspection.Inspect(ctx, h.director, h.id("VN-03"), h.walk("VN-03", nil, map[string]string{"height-treble": "9"}))
	require.NoError(t, err)
	assert.Empty(t, small.Findings, "no figure is kept for a 3/4 violin")
	_, err = h.Inspection.Inspect(ctx, h.director, h.id("VN-02"), h.walk("VN-02", nil, map[string]string{"height-bass": "quite high"}))
	f := fault(t, err, journal.Invalid).Fields[0]
	assert.Equal(t, "answers[11].measured", f.Path)
	assert.Contains(t, f.Message, `"quite high" is no figure`)
}

func TestAnInspectionThatCannotBe(t *testing.T) {
	h := newHouse(t)
	h.bring(violins)
	spoil := map[string]func(*inspection.Walk){
		"answers[0].point":            func(w *inspection.Walk) { w.Answers[0].Point = "hat" },
		"answers[1].point":            func(w *inspection.Walk) { w.Answers[1].Point = w.Answers[0].Point },
		"answers":                     func(w *inspection.Walk) { w.Answers = w.Answers[1:] },
		"answers[0].measured":         func(w *inspection.Walk) { w.Answers[0].Measured = "3" },
		"answers[2].findings[0].code": func(w *inspection.Walk) { w.Answers[2].Findings = []inspection.Found{{Code: "open-seam"}} },
	}
	for path, spoil := range spoil {
		in := h.walk("VN-01", nil, nil)
		spoil(&in)
		_, err := h.Inspection.Inspect(ctx, h.director, h.id("VN-01"), in)
		assert.Equal(t, path, fault(t, err, journal.Invalid).Fields[0].Path)
	}
	in := h.walk("VN-01", nil, nil)
	in.Edition = "yesterday"
	_, err := h.Inspection.Inspect(ctx, h.director, h.id("VN-01"), in)
	changed := fault(t, err, journal.Conflict)
	assert.Equal(t, "edition", changed.Fields[0].Path)
	assert.Contains(t, changed.Message, "Your answers are kept")
	sheet, err := h.Inspection.Sheet(ctx, h.director, h.id("VN-01"))
	require.NoError(t, err)
	assert.Nil(t, sheet.Last, "nothing was recorded")
}

// Two people walk along the same violin: the second is told, and may save theirs as well. Sent twice, it counts once.
func TestTwoPeopleInspectTheSameInstrument(t *testing.T) {
	h := newHouse(t)
	h.bring(violins)
	first, second := h.walk("VN-01", openSeam, nil), h.walk("VN-01", map[string]inspection.Found{"pegs": {Code: "peg-slips"}}, nil)
	request := request("one")
	one, err := h.Inspection.Inspect(request, h.director, h.id("VN-01"), first)
	require.NoError(t, err)
	same, err := h.Inspection.Inspect(request, h.director, h.id("VN-01"), first)
	require.NoError(t, err)
	assert.Equal(t, one.Events, same.Events, "a resend after a lost reply")
	h.now = h.now.Add(time.Minute)
	_, err = h.Inspection.Inspect(ctx, h.director, h.id("VN-01"), second)
	between := fault(t, err, journal.Conflict)
	assert.Equal(t, "last_seen", between.Fields[0].Path)
	assert.Contains(t, between.Message, "Ines Corvane finished a check")
	second.Despite = true
	both, err := h.Inspection.Inspect(ctx, h.director, h.id("VN-01"), second)
	require.NoError(t, err)
	assert.Len(t, both.Findings, 2)

	var wait sync.WaitGroup
	results := make([]error, 4)
	walks := []inspection.Walk{}
	for range results {
		walks = append(walks, h.walk("VN-02", nil, nil))
	}
	for n := range results {
		wait.Go(func() { _, results[n] = h.another().Inspection.Inspect(ctx, h.director, h.id("VN-02"), walks[n]) })
	}
	wait.Wait()
	saved := 0
	for _, err := range results {
		if err == nil {
			saved++
		} else {
			fault(t, err, journal.Conflict)
		}
	}
	assert.Equal(t, 1, saved, "of four at once one is saved and three are told")
}

func TestPhotographs(t *testing.T) {
	h := newHouse(t)
	h.bring(violins)
	picture := image.NewRGBA(image.Rect(0, 0, 40, 30))
	picture.Set(3, 3, color.Black)
	var file bytes.Buffer
	require.NoError(t, png.Encode(&file, picture))
	id := uuid.New()
	kept, err := h.Inspection.AddPhoto(ctx, h.director, h.id("VN-01"), id, false, file.Bytes())
	require.NoError(t, err)
	assert.Equal(t, []int{40, 30}, []int{kept.Width, kept.Height})
	_, err = h.Inspection.AddPhoto(ctx, h.director, h.id("VN-01"), id, false, file.Bytes())
	require.NoError(t, err, "sent again it is kept once")
	_, err = h.Inspection.AddPhoto(ctx, h.director, h.id("VN-01"), uuid.New(), false, []byte("MZ\x90\x00 not a picture"))
	assert.Equal(t, "picture", fault(t, err, journal.Invalid).Fields[0].Path)

	// The latest portrait is shown; taken away, the one before is; what belongs to a finding is no portrait.
	var portraits [2]uuid.UUID
	for n := range portraits {
		portraits[n] = uuid.New()
		_, err = h.Inspection.AddPhoto(ctx, h.director, h.id("VN-01"), portraits[n], true, file.Bytes())
		require.NoError(t, err)
		h.now = h.now.Add(time.Minute)
	}
	assert.Equal(t, portraits[1], *h.file("VN-01").Portrait)
	require.NoError(t, h.Inspection.DropPortrait(ctx, h.director, portraits[1]))
	assert.Equal(t, portraits[0], *h.file("VN-01").Portrait)
	require.Error(t, h.Inspection.DropPortrait(ctx, h.director, id))

	judged := h.inspect("VN-01", map[string]inspection.Found{"bridge": {Code: "bridge-leans", Photos: []uuid.UUID{id}}})
	require.Len(t, judged.Findings[0].Photos, 1)
	jpeg, err := h.Inspection.Photo(ctx, h.director, id, true)
	require.NoError(t, err)
	assert.Equal(t, "\xff\xd8\xff", string(jpeg[:3]))
	_, err = h.Inspection.Inspect(
		ctx,
		h.director,
		h.id("VN-02"),
		h.walk("VN-02", map[string]inspection.Found{"bridge": {Code: "bridge-leans", Photos: []uuid.UUID{uuid.New()}}}, nil),
	)
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "photograph has not arrived")
	none, err := h.Inventory.File(ctx, h.director, h.id("VN-02"))
	require.NoError(t, err)
	assert.Empty(t, none.Findings, "all or nothing")
}

func TestReportsAndDiagnoses(t *testing.T) {
	h := newHouse(t)
	h.bring(violins)
	d, err := h.Inspection.Diagnose(ctx, h.director, h.id("VN-01"), "buzz", []bool{true})
	require.NoError(t, err)
	require.Equal(t, "open-seam", d.End.Finding.Code)
	_, err = h.Inspection.Diagnose(ctx, h.director, h.id("VN-01"), "gurgle", nil)
	fault(t, err, journal.Invalid)
	_, err = h.Inspection.Diagnose(ctx, h.director, h.id("VN-01"), "buzz", []bool{true, true})
	assert.Equal(t, "answers", fault(t, err, journal.Invalid).Fields[0].Path)
	report := inspection.Report{ID: uuid.New(), Found: inspection.Found{Code: "open-seam", Note: "Heard a hollow tap."}, Symptom: "buzz"}
	judged, err := h.Inspection.ReportFinding(ctx, h.director, h.id("VN-01"), report)
	require.NoError(t, err)
	assert.Equal(t, condition.Stop, judged.Triage.Action)
	_, err = h.Inspection.ReportFinding(
		ctx,
		h.director,
		h.id("VN-01"),
		inspection.Report{ID: uuid.New(), Found: inspection.Found{Code: "red-spots"}},
	)
	assert.Equal(t, "code", fault(t, err, journal.Invalid).Fields[0].Path)
	findable, err := h.Inspection.Findable(ctx, h.director, h.id("VN-01"))
	require.NoError(t, err)
	assert.Contains(
		t,
		findable,
		inspection.SheetAnswer{
			Code:   "open-seam",
			Name:   "Open seam",
			Seen:   "A gap at the rib, or a hollow tap along the edge.",
			Action: condition.Stop,
			Open:   true,
		},
	)
	dropped := true
	walk := h.walk("VN-02", map[string]inspection.Found{"seams": {Code: "open-seam", Avoidable: &dropped}}, nil)
	judged, err = h.Inspection.Inspect(ctx, h.director, h.id("VN-02"), walk)
	require.NoError(t, err)
	assert.True(t, judged.Findings[0].Avoidable, "whoever looks knows better than the catalogue")
	symptoms, err := h.Inspection.Symptoms(ctx, h.director, h.id("VN-01"))
	require.NoError(t, err)
	assert.Contains(t, symptoms, school.Choice{Key: "buzz", Name: "It buzzes"})
	viewer := h.director
	viewer.Role = journal.Viewer
	_, err = h.Inspection.ReportFinding(ctx, viewer, h.id("VN-02"), report)
	fault(t, err, journal.Forbidden)
}

// The loaner takes over how the stopped one was played; nothing stopped or taken is lent.
func TestLending(t *testing.T) {
	h := newHouse(t)
	h.bring(violins)
	h.inspect("VN-01", openSeam)
	lend := func(what, instead string) error {
		_, err := h.Lending.Lend(ctx, h.director, h.id(what), lending.Lending{LoanerID: h.id(instead)})
		return err
	}
	h.inspect("VN-03", openSeam)
	assert.Contains(t, fault(t, lend("VN-01", "VN-03"), journal.Conflict).Message, "VN-03 is stopped (open seam)")
	lent, err := h.Lending.Lend(ctx, h.director, h.id("VN-01"), lending.Lending{LoanerID: h.id("VN-02")})
	require.NoError(t, err)
	assert.Equal(t, []string{"String orchestra"}, h.listed("VN-02").Ensembles)
	assert.Empty(t, h.listed("VN-01").Ensembles)
	fault(t, lend("VN-01", "VN-02"), journal.Conflict)
	fault(t, lend("VN-02", "VN-02"), journal.Conflict)
	file, err := h.Inventory.File(ctx, h.director, h.id("VN-01"))
	require.NoError(t, err)
	_, err = h.Inventory.ChangeInstrument(
		ctx,
		h.director,
		h.id("VN-01"),
		lending.Change{Instrument: file.Instrument, Habit: &school.Habit{Ensembles: []uuid.UUID{}, PracticeMinutes: 60, Players: 1}},
	)
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "is stopped", "nor does it go into somebody's hands by another way")
	undone, err := h.Schools.Undo(ctx, h.director, school.Undo{Events: lent.Events})
	require.NoError(t, err)
	assert.Empty(t, h.listed("VN-02").Ensembles)
	assert.Empty(t, h.listed("VN-01").Ensembles, "what is stopped goes into nobody's hands, not even back")
	require.Len(t, undone.Stays, 1)
	assert.Contains(t, undone.Stays[0], "VN-01 is stopped")
	for _, f := range h.file("VN-01").Findings {
		_, err = h.Inspection.ClearFinding(ctx, h.director, f.ID, inspection.Clearing{How: "Glued by the luthier."})
		require.NoError(t, err)
	}
	assert.Contains(t, h.listed("VN-01").Held, "turnover", "it was in somebody's hands")

	// Cleared meanwhile, it goes back with the loan that is undone.
	_, err = h.Bench.Release(ctx, h.director, h.id("VN-01"), bench.Releasing{How: "Wiped dry."})
	require.NoError(t, err)
	_, err = h.Inventory.ChangeInstrument(
		ctx,
		h.director,
		h.id("VN-01"),
		lending.Change{
			Instrument: h.file("VN-01").Instrument,
			Habit:      &school.Habit{Ensembles: []uuid.UUID{}, PracticeMinutes: 60, Players: 1},
		},
	)
	require.NoError(t, err)
	lent, err = h.Lending.Lend(ctx, h.director, h.id("VN-01"), lending.Lending{LoanerID: h.id("VN-02")})
	require.NoError(t, err)
	undone, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: lent.Events})
	require.NoError(t, err)
	assert.Empty(t, undone.Stays)
	assert.True(t, h.listed("VN-01").ClassSet)
	assert.Empty(t, h.listed("VN-01").Held)
	assert.False(t, h.listed("VN-02").ClassSet)
}

func TestFindingsCannotLeaveTheirSchool(t *testing.T) {
	h := newHouse(t)
	h.bring(violins)
	judged := h.inspect("VN-01", openSeam)
	other, err := h.Access.SetUpSchool(ctx, access.NewSchool{
		School: schoolrows.School{
			ID:         uuid.New(),
			Name:       "Far Quillhaven",
			TimeZone:   "UTC",
			Locale:     "en-GB",
			Currency:   "EUR",
			PlayerCare: "trusted",
			OpensAt:    0.75,
			LateAt:     1.25,
		},
		Name: "Odo Marl", Email: "odo@quillhaven.example", Password: "copper lantern waltz",
	})
	require.NoError(t, err)
	_, err = h.Inspection.ClearFinding(ctx, other, judged.Findings[0].ID, inspection.Clearing{How: "from afar"})
	fault(t, err, journal.NotFound)
	_, err = h.Inspection.Sheet(ctx, other, h.id("VN-01"))
	fault(t, err, journal.NotFound)
}
