package app_test

import (
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/cards"
	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/card"
	"solfeggio/internal/core/drill"
	"solfeggio/internal/store"
	"solfeggio/internal/store/cardrows"
	"solfeggio/internal/store/schoolrows"
)

// carded brings two flutes and a trumpet of a band, each with a card.
func carded(t *testing.T) (h *house, band uuid.UUID) {
	t.Helper()
	h = newHouse(t)
	h.bring("tag,kind,ensembles,practice_minutes_per_week,care_from\nFL-01,flute,Band,60,2026-10-01\nFL-02,flute,Band,60,2026-10-01\nTR-01,trumpet,Band,60,2026-10-01\n")
	settings, err := h.Settings.Settings(ctx, h.director)
	require.NoError(t, err)
	_, err = h.Cards.Make(ctx, h.director, cards.Making{Instruments: []uuid.UUID{h.id("FL-01"), h.id("FL-02"), h.id("TR-01")}})
	require.NoError(t, err)
	return h, settings.Ensembles[0].ID
}

func (h *house) secret(tag string) string {
	h.t.Helper()
	c, err := h.Cards.Card(ctx, h.director, h.id(tag), "en")
	require.NoError(h.t, err)
	return strings.TrimPrefix(c.Path, cards.Path(""))
}

// Cards are made once; made anew, only those asked for lose their address.
func TestCardsAreMadeOnce(t *testing.T) {
	h, _ := carded(t)
	flute, trumpet := h.secret("FL-01"), h.secret("TR-01")
	assert.Len(t, flute, 27, "160 bits")
	again, err := h.Cards.Make(ctx, h.director, cards.Making{Instruments: []uuid.UUID{h.id("FL-01")}})
	require.NoError(t, err)
	assert.Zero(t, again.Cards)
	assert.Equal(t, flute, h.secret("FL-01"))
	_, err = h.Cards.Make(ctx, h.director, cards.Making{Instruments: []uuid.UUID{h.id("FL-01")}, Anew: true})
	require.NoError(t, err)
	assert.NotEqual(t, flute, h.secret("FL-01"))
	assert.Equal(t, trumpet, h.secret("TR-01"))
	_, err = h.Cards.Make(ctx, journal.Person{School: h.director.School, Role: journal.Helper},
		cards.Making{Instruments: []uuid.UUID{h.id("FL-01")}})
	fault(t, err, journal.Forbidden)
	_, err = h.Cards.Make(ctx, h.director, cards.Making{Instruments: []uuid.UUID{uuid.New()}})
	fault(t, err, journal.Invalid)
}

// Many phones at once that say the same of one instrument make one report, in whichever process they come.
func TestTheSameSaidAtOnceIsOneReport(t *testing.T) {
	h, _ := carded(t)
	secret, rooms := h.secret("TR-01"), []*cards.Room{h.Cards, h.another().Cards}
	var phones sync.WaitGroup
	faults := make([]error, 5)
	for n := range faults {
		phones.Go(func() {
			faults[n] = rooms[n%2].Say(ctx, secret, cards.Saying{
				ID: uuid.New(), Symptom: "slow-valve", Plays: []cardrows.Plays{cardrows.PlaysWell, cardrows.PlaysNot}[n%2], Origin: "10.0.0.1",
			})
		})
	}
	phones.Wait()
	for _, err := range faults {
		require.NoError(t, err)
	}
	list, err := h.Cards.Reports(ctx, h.director)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, 5, list[0].Said)
	assert.Equal(t, cardrows.PlaysNot, list[0].Plays, "the worst word counts")
	assert.Equal(t, []string{"valve-hangs", "slow-valve", "cannot-tell"}, keysOf(list[0]), "in the order in which it is looked for")
	assert.Equal(t, 1, strings.Count(strings.Join(h.said("TR-01"), "\n"), "Reported on the card"), "and one line of the timeline")

	_, err = h.Cards.Settle(ctx, journal.Person{School: h.director.School, Role: journal.Viewer}, list[0].ID, cards.Settling{Answer: "No."})
	fault(t, err, journal.Forbidden)
	_, err = h.Cards.Settle(ctx, h.director, list[0].ID, cards.Settling{Finding: "slow-valve"})
	require.NoError(t, err)
	assert.Contains(t, h.said("TR-01")[0], "Report of “A valve is slow” became a finding: valve slow")
	require.NoError(t, h.Cards.Say(ctx, secret,
		cards.Saying{ID: uuid.New(), Symptom: "slow-valve", Plays: cardrows.PlaysBadly, Origin: "10.0.0.1"}))
	list, err = h.Cards.Reports(ctx, h.director)
	require.NoError(t, err)
	assert.Equal(t, 1, list[0].Said, "said again after it was settled, it is a new one")
}

func keysOf(r cards.ReportRow) (keys []string) {
	for _, c := range r.May {
		keys = append(keys, c.Key)
	}
	return keys
}

// A class is asked what it does not know: wrong at another time first, then what is new; what it knows waits for its day.
func TestAClassIsAskedWhatItDoesNotKnow(t *testing.T) {
	h, band := carded(t)
	next := func(last string) cards.Class {
		t.Helper()
		c, err := h.Cards.Class(ctx, h.director, band, "trumpet", last, "en")
		require.NoError(t, err)
		return c
	}
	first := next("")
	require.NotNil(t, first.Question)
	assert.Equal(t, []string{"flute", "trumpet"}, []string{first.Kinds[0].Key, first.Kinds[1].Key})
	box, err := h.Cards.Count(ctx, h.director, cards.Hands{Ensemble: band, Kind: "trumpet", Question: first.Question.ID, Right: 20, Wrong: 7})
	require.NoError(t, err)
	assert.Equal(t, 1, box.Number, "fewer than three quarters were right")
	second := next(first.Question.ID)
	assert.NotEqual(t, first.Question.ID, second.Question.ID)
	box, err = h.Cards.Count(ctx, h.director, cards.Hands{Ensemble: band, Kind: "trumpet", Question: second.Question.ID, Right: 21, Wrong: 7})
	require.NoError(t, err)
	assert.Equal(t, 1, box.Number)
	assert.Equal(t, 1, next("").Known)
	h.now = h.now.Add(24 * time.Hour)
	again := next("")
	assert.Equal(t, first.Question.ID, again.Question.ID, "what was wrong comes first the next day")
	for name, bad := range map[string]cards.Hands{
		"nobody's hand": {Ensemble: band, Kind: "trumpet", Question: first.Question.ID},
		"no such kind":  {Ensemble: band, Kind: "kazoo", Question: first.Question.ID, Right: 1},
		"not asked":     {Ensemble: band, Kind: "trumpet", Question: "pick:nothing", Right: 1},
		"no such class": {Ensemble: uuid.New(), Kind: "trumpet", Question: first.Question.ID, Right: 1},
	} {
		t.Run(name, func(t *testing.T) {
			_, err := h.Cards.Count(ctx, h.director, bad)
			fault(t, err, journal.Invalid)
		})
	}
	_, err = h.Cards.Class(ctx, h.director, band, "violin", "", "en")
	fault(t, err, journal.Invalid)
}

// Costs are the catalogue's where no shop said any: straightening keys 50 (from memory); what is no player's doing counts for nobody.
func TestHabitsCostWhatTheirFindingsCost(t *testing.T) {
	h, band := carded(t)
	for tag, code := range map[string]string{"FL-01": "bent-key", "FL-02": "torn-pad", "TR-01": "mouthpiece-stuck"} {
		_, err := h.Inspection.ReportFinding(ctx, h.director, h.id(tag), inspection.Report{ID: uuid.New(), Found: inspection.Found{Code: code}})
		require.NoError(t, err)
	}
	_, err := h.Cards.Count(ctx, h.director, cards.Hands{Ensemble: band, Kind: "flute", Question: "pick:lifted-by-keys", Right: 3, Wrong: 9})
	require.NoError(t, err)
	_, err = h.Cards.Answer(ctx, h.secret("FL-02"), "pick:lid-forced", []int{7}, drill.Known{}, card.English)
	require.NoError(t, err)
	got, err := h.Cards.Habits(ctx, h.director)
	require.NoError(t, err)
	assert.Equal(t, 3, got.Count.All)
	assert.Equal(t, 2, got.Count.Of, "a torn pad is wear")
	assert.InDelta(t, 0.2077, got.Count.From, 0.0005, "of so few the interval is wide")
	rows := map[string]cards.HabitRow{}
	for _, r := range got.Teach {
		rows[r.Key] = r
	}
	assert.Equal(t, int64(5000), rows["lifted-by-keys"].Cents)
	assert.Equal(t, 9, rows["lifted-by-keys"].Missed.Of)
	assert.Equal(t, int64(5000), rows["lid-forced"].Cents, "the same finding may come of either")
	assert.Equal(t, "lifted-by-keys", got.Teach[0].Key, "as dear, and missed more often")
	assert.Zero(t, rows["swab-pulled-back"].Cents)
	assert.Equal(t, []string{"Flutes", "Trumpets"}, []string{got.Sections[0].Name, got.Sections[1].Name})
	assert.Len(t, got.Drills, 2, "of the class, and of players by themselves")
}

// Who answers on a card without end neither holds the school up, by its lock or its revision, nor counts without end; and a section that is
// ready is written once, while there is something to be ready for.
func TestACardWritesLittle(t *testing.T) {
	h, band := carded(t)
	revision := func() int64 {
		n, err := h.db.Revision(ctx, h.director.School)
		require.NoError(t, err)
		return n
	}
	before, held := revision(), make(chan struct{})
	locked := make(chan struct{})
	go func() { // somebody who writes for long
		_ = h.db.Write(ctx, h.director.School, func(*store.Tx) error {
			close(locked)
			<-held
			return store.ErrNotFound // nothing is kept
		})
	}()
	<-locked
	for range 300 {
		_, err := h.Cards.Answer(ctx, h.secret("FL-02"), "pick:lid-forced", []int{7}, drill.Known{}, card.English)
		require.NoError(t, err)
		require.NoError(t, h.Cards.SectionReady(ctx, h.secret("FL-02")))
	}
	close(held)
	got, err := h.Cards.Habits(ctx, h.director)
	require.NoError(t, err)
	require.Len(t, got.Drills, 1)
	assert.Equal(t, 240, got.Drills[0].Missed.All)
	assert.Equal(t, before, revision())

	_, err = h.Cards.Begin(ctx, h.director, cards.Progress{ID: uuid.New(), Ensemble: band, Phase: cards.PackUp, Seconds: 600})
	require.NoError(t, err)
	begun := revision()
	for range 20 {
		require.NoError(t, h.Cards.SectionReady(ctx, h.secret("FL-02")))
	}
	assert.Equal(t, begun+1, revision())
}

// A board says what all sections do, the longest routine, and the bell of a rehearsal that is still to end today.
func TestTheBoardKnowsTheBell(t *testing.T) {
	h, band := carded(t)
	settings, err := h.Settings.Settings(ctx, h.director)
	require.NoError(t, err)
	e := settings.Ensembles[0]
	e.Rehearsals = []schoolrows.Rehearsal{{Weekday: 2, StartsAt: "08:30", Minutes: 45, PlayFactor: 0.6}} // a Tuesday
	require.NoError(t, h.Settings.SaveEnsemble(ctx, h.director, e))
	board, err := h.Cards.Board(ctx, h.director, band, cards.PackUp, "de")
	require.NoError(t, err)
	require.NotNil(t, board.Bell)
	assert.Equal(t, "09:15", board.Bell.UTC().Format("15:04"))
	require.Len(t, board.Sections, 2)
	assert.Equal(t, 2, board.Sections[0].Players)
	assert.True(t, board.Damp, "the flutes' swabs")
	assert.Equal(t, max(board.Sections[0].Minutes, board.Sections[1].Minutes), board.Minutes)
	assert.Equal(t, "Wasser über der Matte ausblasen.", board.Sections[1].Steps[0].Text)
	h.now = h.now.Add(time.Hour)
	board, err = h.Cards.Board(ctx, h.director, band, cards.SetUp, "en")
	require.NoError(t, err)
	assert.Nil(t, board.Bell, "it has rung")
	_, err = h.Cards.Board(ctx, h.director, uuid.New(), cards.SetUp, "en")
	fault(t, err, journal.Invalid)
}
