package app_test

import (
	"bytes"
	"context"
	"io"
	"log/slog"
	"os"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/care"
	"solfeggio/internal/app/importing"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/formats"
	"solfeggio/internal/store/schoolrows"
)

var (
	ctx     = context.Background()
	quiet   = slog.New(slog.NewTextHandler(io.Discard, nil))
	thisDay = day.MustParse("2026-11-24")
)

var (
	eString = clocks.Key{Routine: "violin-strings", Part: "string-e"}
	bath    = clocks.Key{Routine: "valve-brass-bath"}
	slides  = clocks.Key{Routine: "brass-slide-check", Part: "slides"}
)

const violin = "tag,kind,care_from,last:violin-strings\nVN-01,violin,2026-11-01,2026-05-01\n"

func TestTickUndoTomorrow(t *testing.T) {
	h := newHouse(t)
	h.bring(violin)
	before := h.clock("VN-01", eString)
	assert.Equal(t, "due", string(before.State), "207 of 180 days")

	done, err := h.tick(h.director, "VN-01", eString)
	require.NoError(t, err)
	require.Len(t, done.Events, 1)
	after := h.clock("VN-01", eString)
	assert.Equal(t, "fresh", string(after.State))
	assert.Equal(t, thisDay+180, *after.DueOn)

	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: done.Events})
	require.NoError(t, err)
	assert.Equal(t, before, h.clock("VN-01", eString), "undo restores the clock")
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: done.Events})
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "undone already")

	f, err := h.Inventory.File(ctx, h.director, h.id("VN-01"))
	require.NoError(t, err)
	assert.Equal(t, "Undone: Change the string: E string done", f.Timeline[0].Sentence)
	assert.True(t, f.Timeline[1].Undone, "the ticked line stays in the timeline, struck out")
	assert.Equal(t, "Ines Corvane", f.Timeline[1].By)

	h.now = h.now.AddDate(0, 0, 19) // 226 days: past a quarter over the limit
	assert.Equal(t, "late", string(h.clock("VN-01", eString).State))
}

func TestABathRestartsWhatItImplies(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind,care_from\nTR-01,trumpet,2026-01-01\n")
	assert.Equal(t, "late", string(h.clock("TR-01", slides).State))
	done, err := h.tick(h.director, "TR-01", bath)
	require.NoError(t, err)
	assert.Equal(t, "fresh", string(h.clock("TR-01", slides).State))
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: done.Events})
	require.NoError(t, err)
	assert.Equal(t, "late", string(h.clock("TR-01", slides).State))
}

func TestCareDoneOnAnotherDay(t *testing.T) {
	h := newHouse(t)
	h.bring(violin)
	on := thisDay - 10
	_, err := h.Care.Finish(
		ctx,
		h.director,
		care.Finish{Tasks: []care.FinishTask{{InstrumentID: h.id("VN-01"), Key: eString}}, DoneOn: &on},
	)
	require.NoError(t, err)
	assert.Equal(t, 10, h.clock("VN-01", eString).Elapsed.Days)

	tomorrow := thisDay + 1
	_, err = h.Care.Finish(
		ctx,
		h.director,
		care.Finish{Tasks: []care.FinishTask{{InstrumentID: h.id("VN-01"), Key: eString}}, DoneOn: &tomorrow},
	)
	assert.Equal(t, "done_on", fault(t, err, journal.Invalid).Fields[0].Path)
	_, err = h.tick(h.director, "VN-01", eString, bath)
	assert.Equal(t, "tasks[1].routine", fault(t, err, journal.Invalid).Fields[0].Path)
	_, err = h.Care.Finish(ctx, h.director, care.Finish{Tasks: []care.FinishTask{{InstrumentID: uuid.New(), Key: eString}}})
	assert.Equal(t, "tasks[0].instrument_id", fault(t, err, journal.Invalid).Fields[0].Path)
}

func TestTwoPeopleTickTheSameLine(t *testing.T) {
	h := newHouse(t)
	h.bring(violin)
	require.NoError(t, h.Access.SaveColleague(ctx, h.director, pell(), "copper lantern waltz"))
	helper, err := h.Access.SignIn(ctx, "pell@quillhaven.example", "copper lantern waltz", "here")
	require.NoError(t, err)
	id := h.id("VN-01")
	var wait sync.WaitGroup
	results := make([]care.Finished, 8)
	for n := range results {
		wait.Go(func() {
			var err error
			results[n], err = h.Care.Finish(
				ctx,
				[]journal.Person{h.director, helper}[n%2],
				care.Finish{Tasks: []care.FinishTask{{InstrumentID: id, Key: eString}}},
			)
			assert.NoError(t, err)
		})
	}
	wait.Wait()
	did, told := 0, 0
	for _, r := range results {
		did += len(r.Events)
		told += len(r.Already)
	}
	assert.Equal(t, 1, did)
	assert.Equal(t, 7, told, "everyone else hears that it was done")
}

func TestARequestSentTwiceIsCarriedOutOnce(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind,care_from\nTR-01,trumpet,2026-01-01\n")
	once := request("the bath")
	in := care.Finish{Tasks: []care.FinishTask{{InstrumentID: h.id("TR-01"), Key: bath}}}
	first, err := h.Care.Finish(once, h.director, in)
	require.NoError(t, err)
	again, err := h.another().Care.Finish(once, h.director, in)
	require.NoError(t, err)
	assert.Equal(t, first, again)
	f, err := h.Inventory.File(ctx, h.director, h.id("TR-01"))
	require.NoError(t, err)
	assert.Len(t, f.Timeline, 2, "the import and one bath")

	other := journal.WithRequest(ctx, journal.Request{ID: requestID, Fingerprint: []byte("the slides")})
	_, err = h.Care.Finish(other, h.director, in)
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "other contents")
	helper := pell()
	require.NoError(t, h.Access.SaveColleague(ctx, h.director, helper, "a long password"))
	_, err = h.Care.Finish(once, journal.Person{School: h.director.School, ID: helper.ID, Role: helper.Role}, in)
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "by somebody else")
}

func TestPlayingTimeComesFromTheTimetable(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind,care_from,ensembles\nVN-01,violin,2026-10-05,Orchestra\n") // a Monday
	s, err := h.Settings.Settings(ctx, h.director)
	require.NoError(t, err)
	orchestra := s.Ensembles[0]
	orchestra.Rehearsals = []schoolrows.Rehearsal{{ID: uuid.New(), Weekday: 2, StartsAt: "10:20", Minutes: 100, PlayFactor: 0.6}}
	require.NoError(t, h.Settings.SaveEnsemble(ctx, h.director, orchestra))
	hair := clocks.Key{Routine: "bow-rehair", Part: "bow-hair"}
	assert.InDelta(t, 8, h.clock("VN-01", hair).Elapsed.PlayingHours, 1e-9, "eight Tuesdays of an hour's playing")

	require.NoError(
		t,
		h.Settings.SavePeriod(
			ctx,
			h.director,
			schoolrows.Breaks,
			schoolrows.Period{ID: uuid.New(), Name: "Autumn break", StartsOn: thisDay - 14, EndsOn: thisDay - 1},
		),
	)
	assert.InDelta(t, 6, h.clock("VN-01", hair).Elapsed.PlayingHours, 1e-9, "two Tuesdays less")

	require.NoError(
		t,
		h.Settings.SaveConcert(
			ctx,
			h.director,
			schoolrows.Concert{
				ID:         uuid.New(),
				Name:       "Matinee",
				HeldOn:     thisDay - 3,
				Minutes:    60,
				PlayFactor: 0.5,
				Ensembles:  []uuid.UUID{orchestra.ID},
			},
		),
	)
	assert.InDelta(t, 6.5, h.clock("VN-01", hair).Elapsed.PlayingHours, 1e-9)

	require.NoError(
		t,
		h.Settings.SavePeriod(
			ctx,
			h.director,
			schoolrows.Terms,
			schoolrows.Period{ID: uuid.New(), Name: "Autumn", StartsOn: day.MustParse("2026-09-01"), EndsOn: day.MustParse("2026-10-16")},
		),
	)
	require.NoError(
		t,
		h.Settings.SavePeriod(
			ctx,
			h.director,
			schoolrows.Terms,
			schoolrows.Period{ID: uuid.New(), Name: "Winter", StartsOn: day.MustParse("2026-10-26"), EndsOn: day.MustParse("2026-12-18")},
		),
	)
	assert.InDelta(t, 5.5, h.clock("VN-01", hair).Elapsed.PlayingHours, 1e-9, "no rehearsal between the terms")
}

func TestAChangedHabitCountsFromToday(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind,care_from,practice_minutes_per_week\nVN-01,violin,2026-11-03,420\n")
	hair := clocks.Key{Routine: "bow-rehair", Part: "bow-hair"}
	assert.InDelta(t, 21, h.clock("VN-01", hair).Elapsed.PlayingHours, 1e-9, "three weeks of seven hours")

	f, err := h.Inventory.File(ctx, h.director, h.id("VN-01"))
	require.NoError(t, err)
	f.Habit.PracticeMinutes = 0
	f.Habit.HeavySweat = true
	f.Habit.Players = 2
	f.Instrument.Room = "Cello store"
	changed, err := h.Inventory.ChangeInstrument(ctx, h.director, h.id("VN-01"), lending.Change{Instrument: f.Instrument, Habit: f.Habit})
	require.NoError(t, err)
	assert.Len(t, changed.Events, 2)
	h.now = h.now.AddDate(0, 0, 7)
	clock := h.clock("VN-01", hair)
	assert.InDelta(t, 20, clock.Elapsed.PlayingHours, 1e-9, "what was played until yesterday stays, and nothing is added")
	assert.InDelta(t, 28/89., clock.Wear, 1e-9, "180 days × 0.7 × 1/√2, rounded down, is 89")

	_, err = h.Inventory.ChangeInstrument(ctx, h.director, h.id("VN-01"), lending.Change{Instrument: f.Instrument, Habit: f.Habit})
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "Somebody else changed this")
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: changed.Events})
	require.NoError(t, err)
	back, err := h.Inventory.File(ctx, h.director, h.id("VN-01"))
	require.NoError(t, err)
	assert.Empty(t, back.Instrument.Room)
	assert.InDelta(t, 420, back.Habit.PracticeMinutes, 1e-9)
}

func TestBadChanges(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind\nVN-01,violin\nVN-02,violin\n")
	f, err := h.Inventory.File(ctx, h.director, h.id("VN-01"))
	require.NoError(t, err)
	spoil := map[string]func(*lending.Change){
		"instrument.tag":         func(c *lending.Change) { c.Instrument.Tag = "a tag with spaces" },
		"instrument.size":        func(c *lending.Change) { c.Instrument.Size = "5/4" },
		"instrument.body":        func(c *lending.Change) { c.Instrument.Body = "plastic" },
		"instrument.care_from":   func(c *lending.Change) { c.Instrument.CareFrom = thisDay + 1 },
		"instrument.price_cents": func(c *lending.Change) { minus := int64(-1); c.Instrument.PriceCents = &minus },
		"habit.ensembles[0]":     func(c *lending.Change) { c.Habit = &school.Habit{Ensembles: []uuid.UUID{uuid.New()}, Players: 1} },
		"tag":                    func(c *lending.Change) { c.Instrument.Tag = "VN-02" },
	}
	for field, spoil := range spoil {
		c := lending.Change{Instrument: f.Instrument}
		spoil(&c)
		_, err := h.Inventory.ChangeInstrument(ctx, h.director, h.id("VN-01"), c)
		assert.Equal(t, field, fault(t, err, journal.Invalid).Fields[0].Path)
	}
	period := func(from, to day.Day) error {
		return h.Settings.SavePeriod(ctx, h.director, schoolrows.Terms, schoolrows.Period{ID: uuid.New(), Name: "x", StartsOn: from, EndsOn: to})
	}
	assert.Equal(t, "ends_on", fault(t, period(thisDay, thisDay-1), journal.Invalid).Fields[0].Path)
	require.NoError(t, period(thisDay, thisDay+10))
	assert.Equal(t, "starts_on", fault(t, period(thisDay+10, thisDay+20), journal.Invalid).Fields[0].Path)
	s, err := h.Settings.Settings(ctx, h.director)
	require.NoError(t, err)
	for field, spoil := range map[string]func(*schoolrows.School){
		"name": func(s *schoolrows.School) { s.Name = "" }, "time_zone": func(s *schoolrows.School) { s.TimeZone = "Mars/Olympus" },
		"heating_begins": func(s *schoolrows.School) { s.HeatingBegins = "13-40" }, "locale": func(s *schoolrows.School) { s.Locale = "!!" },
		"late_at": func(s *schoolrows.School) { s.LateAt = 0.5 }, "currency": func(s *schoolrows.School) { s.Currency = "euros" },
	} {
		school := s.School
		spoil(&school)
		assert.Equal(t, field, fault(t, h.Settings.SaveSchool(ctx, h.director, school), journal.Invalid).Fields[0].Path)
	}
}

func TestTheProfileAndTheTrustInPlayersMoveTheClocks(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind,care_from,last:violin-strings\nVN-01,violin,2026-11-01,2026-08-26\nTR-01,trumpet,2026-11-01,\n")
	assert.Equal(t, "fresh", string(h.clock("VN-01", eString).State), "90 of 180 days")
	s, err := h.Settings.Settings(ctx, h.director)
	require.NoError(t, err)
	s.School.PlayerCare = "tracked"
	require.NoError(t, h.Settings.ChoosePractices(ctx, h.director, catalog.Choices{catalog.ProfilePractice: "concert"}))
	require.NoError(t, h.Settings.SaveSchool(ctx, h.director, s.School))
	assert.Equal(t, "due", string(h.clock("VN-01", eString).State), "90 of 75 days")
	assert.Equal(t, "late", string(h.clock("TR-01", clocks.Key{Routine: "brass-mouthpiece-wash", Part: "mouthpiece"}).State))
	assert.Contains(t, fault(t, h.Settings.SaveSchool(ctx, h.director, s.School), journal.Conflict).Message, "Somebody else")
	reasons, err := h.Inventory.Why(ctx, h.director, h.id("VN-01"), eString)
	require.NoError(t, err)
	assert.Contains(t, reasons[1].Inputs[0].Value, "Concert")
}

func TestASecondProcessSeesWhatTheFirstWrote(t *testing.T) {
	h := newHouse(t)
	second := h.another()
	h.bring(violin)
	list, err := second.Inventory.Instruments(ctx, h.director)
	require.NoError(t, err)
	require.Equal(t, 4, list[0].Due)
	_, err = h.tick(h.director, "VN-01", eString)
	require.NoError(t, err)
	list, err = second.Inventory.Instruments(ctx, h.director)
	require.NoError(t, err)
	assert.Equal(t, 3, list[0].Due)
}

func TestTodayAndHeader(t *testing.T) {
	h := newHouse(t)
	empty, err := h.Today.Today(ctx, h.director, 25, 0)
	require.NoError(t, err)
	assert.True(t, empty.Empty)
	h.bring("tag,kind,care_from,last:violin-strings:string-e,last:bow-rehair\nVN-01,violin,2026-11-20,2026-05-01,2026-01-01\n")
	require.NoError(
		t,
		h.Settings.SaveConcert(
			ctx,
			h.director,
			schoolrows.Concert{ID: uuid.New(), Name: "Winter concert", HeldOn: thisDay + 18, Minutes: 90, PlayFactor: 0.6},
		),
	)
	require.NoError(
		t,
		h.Settings.SavePeriod(
			ctx,
			h.director,
			schoolrows.Terms,
			schoolrows.Period{ID: uuid.New(), Name: "Autumn", StartsOn: day.MustParse("2026-09-02"), EndsOn: thisDay + 20},
		),
	)

	got, err := h.Today.Today(ctx, h.director, 25, 0)
	require.NoError(t, err)
	assert.Equal(t, []int{1, 1}, []int{got.Late, got.Due})
	require.Len(t, got.Box.Places, 1)
	assert.Equal(t, "string-bench", got.Box.Places[0].Place)
	assert.InDelta(t, 9, got.Box.UsedMinutes, 1e-9, "three to set up, six for the string; the rehair is the shop's")
	due, err := h.Today.Due(ctx, h.director, 0, 200)
	require.NoError(t, err)
	require.Len(t, due.Places, 2)
	rest, err := h.Today.Due(ctx, h.director, 1, 200)
	require.NoError(t, err)
	assert.Equal(t, 2, rest.Total)
	assert.Equal(t, due.Places[1:], rest.Places, "the second page goes on where the first ended")
	assert.Equal(t, 2, got.Strip[0].Due)
	header, err := h.Today.Header(ctx, h.director)
	require.NoError(t, err)
	assert.Equal(t, 13, header.Week)
	assert.Equal(t, 18, header.Concert.Days)

	little, err := h.Today.Today(ctx, h.director, 5, 0)
	require.NoError(t, err)
	assert.Empty(t, little.Box.Places)
	_, err = h.Today.Today(ctx, h.director, -1, 0)
	fault(t, err, journal.Invalid)
}

func TestTheSchoolsOwnMidnight(t *testing.T) {
	h := newHouse(t)
	h.now = time.Date(2026, 11, 24, 23, 30, 0, 0, time.UTC)
	s, err := h.Settings.Settings(ctx, h.director)
	require.NoError(t, err)
	s.School.TimeZone = "Europe/Vienna"
	require.NoError(t, h.Settings.SaveSchool(ctx, h.director, s.School))
	header, err := h.Today.Header(ctx, h.director)
	require.NoError(t, err)
	assert.Equal(t, thisDay+1, header.Today)
}

func TestTheExampleFileComesInAndGoesOut(t *testing.T) {
	h := newHouse(t)
	example, err := os.ReadFile("../../web/public/example-instruments.csv")
	require.NoError(t, err)
	report := h.bring(string(example))
	assert.Equal(t, 3, report.Added)
	assert.ElementsMatch(t, []string{"String orchestra", "Wind band", "Beginner winds"}, report.NewEnsembles)
	var out bytes.Buffer
	require.NoError(t, h.Importing.Export(ctx, h.director, formats.CSV(&out)))

	again := h.bring(out.String())
	assert.Equal(
		t,
		importing.ImportReport{Rows: 3, Unchanged: 3, NewEnsembles: []string{}},
		importing.ImportReport{
			Rows:         again.Rows,
			Added:        again.Added,
			Changed:      again.Changed,
			Unchanged:    again.Unchanged,
			NewEnsembles: again.NewEnsembles,
		},
		"what goes out comes in unchanged",
	)
	var same bytes.Buffer
	require.NoError(t, h.Importing.Export(ctx, h.director, formats.CSV(&same)))
	assert.Equal(t, out.String(), same.String())
}
