package app_test

import (
	"context"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app"
	"solfeggio/internal/app/access"
	"solfeggio/internal/app/care"
	"solfeggio/internal/app/importing"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/pgtest"
	"solfeggio/internal/store"
)

// A house is a school in a database of its own, with a clock that tests can turn.
type house struct {
	*app.App
	t        *testing.T
	db       *store.DB
	now      time.Time
	director journal.Person
}

func newHouse(t *testing.T) *house {
	t.Helper()
	return newHouseOn(t, pgtest.Open(t), "ines@quillhaven.example")
}

// newHouseOn is another school in a database.
func newHouseOn(t *testing.T, db *store.DB, email string) *house {
	t.Helper()
	h := &house{t: t, db: db, now: time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)}
	h.App = h.another()
	var err error
	h.director, err = h.Access.SetUpSchool(ctx, access.NewSchool{
		School: pgtest.School(),
		Name:   "Ines Corvane", Email: email, Password: "copper lantern waltz",
	})
	require.NoError(t, err)
	// Its clocks are those of a school that plays much; a new school's own are tried in profile_test.go.
	require.NoError(t, h.Settings.ChoosePractices(ctx, h.director, catalog.Choices{catalog.ProfilePractice: "standard"}))
	return h
}

// another is a second process on the same database and clock.
func (h *house) another() *app.App {
	a := app.New(h.db, func() time.Time { return h.now }, quiet)
	a.Access.Cost = pgtest.QuickPasswords
	return a
}

func (h *house) bring(csv string) importing.ImportReport {
	h.t.Helper()
	report, err := h.Importing.Import(ctx, h.director, importing.InstrumentFile{Content: []byte(csv)})
	require.NoError(h.t, err)
	require.Empty(h.t, report.Faults)
	return report
}

func (h *house) id(tag string) uuid.UUID {
	h.t.Helper()
	list, err := h.Inventory.Instruments(ctx, h.director)
	require.NoError(h.t, err)
	for _, i := range list {
		if i.Tag == tag {
			return i.ID
		}
	}
	require.Fail(h.t, "no instrument "+tag)
	return uuid.Nil
}

// clock reads one clock from the instrument's file.
func (h *house) clock(tag string, key clocks.Key) school.Task {
	h.t.Helper()
	f, err := h.Inventory.File(ctx, h.director, h.id(tag))
	require.NoError(h.t, err)
	for _, p := range f.Parts {
		for _, c := range p.Clocks {
			if c.Key == key {
				return c
			}
		}
	}
	require.Fail(h.t, "no clock", "%v of %s", key, tag)
	return school.Task{}
}

func (h *house) tick(by journal.Person, tag string, keys ...clocks.Key) (care.Finished, error) {
	in := care.Finish{}
	for _, k := range keys {
		in.Tasks = append(in.Tasks, care.FinishTask{InstrumentID: h.id(tag), Key: k})
	}
	return h.Care.Finish(ctx, by, in)
}

// said is what a timeline says, the newest first.
func (h *house) said(tag string) (sentences []string) {
	for _, e := range h.file(tag).Timeline {
		sentences = append(sentences, e.Sentence)
	}
	return sentences
}

func pell() access.Colleague {
	return access.Colleague{ID: uuid.New(), Name: "Pell Arrowby", Email: "pell@quillhaven.example", Role: journal.Helper, Active: true}
}

var requestID = uuid.New()

// request is ctx for a write that is sent again under its id.
func request(contents string) context.Context {
	return journal.WithRequest(ctx, journal.Request{ID: requestID, Fingerprint: []byte(contents)})
}

func fault(t *testing.T, err error, kind journal.FaultKind) *journal.Fault {
	t.Helper()
	var f *journal.Fault
	require.ErrorAs(t, err, &f)
	assert.Equal(t, kind, f.Kind, f.Message)
	return f
}
