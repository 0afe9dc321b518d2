package app_test

import (
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app"
	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/season"
	"solfeggio/internal/app/shop"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	coreseason "solfeggio/internal/core/season"
	"solfeggio/internal/store/schoolrows"
	"solfeggio/internal/store/seasonrows"
	"solfeggio/internal/store/shoprows"
)

func (h *house) score(in season.Planning) season.Score {
	h.t.Helper()
	s, err := h.Season.Plan(ctx, h.director, in)
	require.NoError(h.t, err)
	return s
}

// piece finds a piece of a score.
func piece(t *testing.T, s season.Score, tag, title string) season.Piece {
	t.Helper()
	for _, p := range s.Pieces {
		if p.Tag == tag && p.Title == title {
			return p
		}
	}
	require.Fail(t, "no such piece", "%s of %s", title, tag)
	return season.Piece{}
}

// accept accepts a score as it stands.
func (h *house) accept(s season.Score) {
	h.t.Helper()
	pieces := []seasonrows.SeasonPiece{}
	for _, p := range s.Pieces {
		if p.Week != nil {
			pieces = append(pieces, seasonrows.SeasonPiece{Instrument: p.InstrumentID, Work: p.Work, Monday: s.Weeks[*p.Week].Monday, Pinned: p.Pinned})
		}
	}
	require.NoError(h.t, h.Season.Accept(ctx, h.director, season.Accepted{Pieces: pieces}))
}

// A season of three instruments with a concert in the third week: strings do not settle into the concert, nothing is away then, a plan is
// pinned, accepted, shown in its week, and mended when a week is lost.
func TestTheSeasonIsPlannedAcceptedAndMended(t *testing.T) {
	h := rehearsing(t)
	require.NoError(t, h.Season.SaveSettings(ctx, h.director,
		seasonrows.SeasonSettings{TermMinutes: 60, VanEvery: 2, VanPlaces: 2, VanCents: 1000}))
	s := h.score(season.Planning{})
	require.NotEmpty(t, s.Pieces)
	assert.LessOrEqual(t, s.Bound, s.Cents)
	assert.Equal(t, s.Cents, s.Parts.Late+s.Parts.Early+s.Parts.Absent+s.Parts.Trips+s.Parts.Unplaced)
	assert.Equal(t, []string{"Winter concert"}, s.Weeks[2].Concerts)
	strings := piece(t, s, "VN-01", "Change the string")
	require.NotNil(t, strings.Week)
	assert.NotEqual(t, 2, *strings.Week, "they would still settle at the concert")
	for n, w := range s.Weeks {
		assert.LessOrEqual(t, w.UsedMinutes, w.Minutes, "week %d", n)
		assert.LessOrEqual(t, w.UsedPlaces, w.Places, "week %d", n)
	}

	// What cannot be is refused by its place among the pins, in words.
	_, err := h.Season.Plan(ctx, h.director, season.Planning{Pins: []season.Pin{{ID: strings.ID, Week: 2}}})
	refused := fault(t, err, journal.Invalid)
	assert.Equal(t, "pins[0].week", refused.Fields[0].Path)
	assert.Contains(t, refused.Fields[0].Message, "needs 3 days to settle")
	_, err = h.Season.Plan(ctx, h.director, season.Planning{Pins: []season.Pin{{ID: strings.ID, Week: 900}}})
	fault(t, err, journal.Invalid)

	// Pinned one week later it stays there, and the plan costs no less.
	later := *strings.Week + 1
	if later == 2 {
		later++
	}
	pinned := h.score(season.Planning{Pins: []season.Pin{{ID: strings.ID, Week: later}}})
	moved := piece(t, pinned, "VN-01", "Change the string")
	assert.Equal(t, later, *moved.Week)
	assert.True(t, moved.Pinned)
	assert.GreaterOrEqual(t, pinned.Cents, s.Bound)

	h.accept(pinned)
	kept := h.score(season.Planning{})
	assert.True(t, kept.Accepted)
	assert.Empty(t, kept.Moved)
	for n := range kept.Pieces {
		assert.Equal(t, pinned.Pieces[n].Week, kept.Pieces[n].Week, kept.Pieces[n].ID)
	}

	// A violin cannot be played: its repair joins the plan and the others keep their weeks.
	_, err = h.Inspection.ReportFinding(ctx, h.director, h.id("VN-02"),
		inspection.Report{ID: uuid.New(), Found: inspection.Found{Code: "open-seam"}})
	require.NoError(t, err)
	seam := h.file("VN-02").Findings[0].ID
	_, err = h.Shop.Want(ctx, h.director,
		shop.Wanting{ID: uuid.New(), InstrumentID: h.id("VN-02"), Origin: shoprows.FromFinding, Findings: []uuid.UUID{seam}})
	require.NoError(t, err)
	mended := h.score(season.Planning{})
	repair := piece(t, mended, "VN-02", "Seam glued")
	assert.Equal(t, coreseason.Van, repair.Place)
	assert.NotNil(t, repair.JobID)
	assert.Equal(t, later, *piece(t, mended, "VN-01", "Change the string").Week)

	// Weeks go by and nothing is done: what was missed is said and stands on Today.
	h.now = h.now.AddDate(0, 0, 7*(later+1))
	late := h.score(season.Planning{})
	assert.NotEmpty(t, late.Moved)
	assert.Contains(t, late.Moved[0].Says, "its week has gone by")
	today, err := h.Today.Today(ctx, h.director, 25, 0)
	require.NoError(t, err)
	missed := map[string]bool{}
	for _, d := range today.Season {
		missed[d.Tag+" "+d.Title] = d.Missed
	}
	assert.True(t, missed["VN-01 Change the string"], "%v", missed)
	require.NoError(t, h.Season.Accept(ctx, h.director, season.Accepted{Pieces: []seasonrows.SeasonPiece{}}))
	assert.False(t, h.score(season.Planning{}).Accepted)
}

// A break is put over a planned week: nothing is left in it, and what was pinned there is told of the break. A bench in a break is the
// school's own choice.
func TestABreakOverAPlannedWeek(t *testing.T) {
	h := rehearsing(t)
	s := h.score(season.Planning{})
	monday := s.Weeks[9].Monday
	require.NoError(t, h.Settings.SavePeriod(ctx, h.director, schoolrows.Breaks,
		schoolrows.Period{ID: uuid.New(), Name: "Ski week", StartsOn: monday, EndsOn: monday + 6}))
	pins := func(set *seasonrows.SeasonSettings) (season.Score, error) {
		p := piece(t, s, "VN-01", "Change the string")
		return h.Season.Plan(ctx, h.director, season.Planning{Pins: []season.Pin{{ID: p.ID, Week: 9}}, Settings: set})
	}
	if p := piece(t, s, "VN-01", "Change the string"); p.Opens > 9 || p.Last < 9 {
		t.Fatalf("the string is open in weeks %d to %d", p.Opens, p.Last)
	}
	_, err := pins(nil)
	assert.Contains(t, fault(t, err, journal.Invalid).Fields[0].Message, "Ski week, and in a week of a break the bench has 0 minutes")
	after := h.score(season.Planning{})
	assert.Equal(t, "Ski week", after.Weeks[9].Break)
	for _, p := range after.Pieces {
		assert.False(t, p.Place == coreseason.Bench && p.Week != nil && *p.Week == 9, "%s %s is in the break", p.Tag, p.Title)
	}
	own, err := pins(&seasonrows.SeasonSettings{TermMinutes: 300, BreakMinutes: 120, VanEvery: 3, VanPlaces: 16})
	require.NoError(t, err)
	assert.Equal(t, 9, *piece(t, own, "VN-01", "Change the string").Week)
}

// Work that comes around within the season stands in it again, after the first time. Done early, the first is over, and the second keeps
// its week.
func TestWorkThatComesAroundKeepsItsSecondWeek(t *testing.T) {
	h := rehearsing(t)
	require.NoError(t, h.Season.SaveSettings(ctx, h.director, seasonrows.SeasonSettings{TermMinutes: 300, BreakMinutes: 300, VanPlaces: 1}))
	turns := func(s season.Score) (list []season.Piece) {
		for _, p := range s.Pieces {
			if p.Tag == "VN-01" && p.Work == "peg-compound" {
				list = append(list, p)
			}
		}
		return list
	}
	s := h.score(season.Planning{})
	before := turns(s)
	require.Len(t, before, 2, "180 days each, in a year")
	assert.Greater(t, before[1].Opens, before[0].Due)
	h.accept(s)
	second := s.Weeks[*before[1].Week].Monday

	h.now = s.Weeks[*before[0].Week].Monday.Time().AddDate(0, 0, -10)
	_, err := h.tick(h.director, "VN-01", clocks.Key{Routine: "peg-compound", Part: "pegs"})
	require.NoError(t, err)
	after := h.score(season.Planning{})
	assert.Empty(t, after.Moved)
	left := turns(after)
	require.NotEmpty(t, left)
	assert.Equal(t, second, after.Weeks[*left[0].Week].Monday)
}

func TestAcceptRefusesWhatIsNoPlan(t *testing.T) {
	h := rehearsing(t)
	violin := h.id("VN-01")
	for path, p := range map[string]seasonrows.SeasonPiece{
		"pieces[0].instrument_id": {Instrument: uuid.New(), Work: "peg-compound", Monday: thisDay - 1},
		"pieces[0].work":          {Instrument: violin, Work: "valve-oil", Monday: thisDay - 1},
		"pieces[0].monday":        {Instrument: violin, Work: "peg-compound", Monday: thisDay},
	} {
		f := fault(t, h.Season.Accept(ctx, h.director, season.Accepted{Pieces: []seasonrows.SeasonPiece{p}}), journal.Invalid)
		assert.Equal(t, path, f.Fields[0].Path)
	}
}

// More of what is short never costs more.
func TestMoreCostsNoMore(t *testing.T) {
	h := rehearsing(t)
	with := func(s seasonrows.SeasonSettings, loaners int) int64 {
		more := []season.MoreLoaners{{Of: "violin 4/4", Count: loaners}}
		return h.score(season.Planning{Settings: &s, Loaners: more, Anew: true}).Cents
	}
	few := seasonrows.SeasonSettings{TermMinutes: 20, VanEvery: 6, VanPlaces: 1}
	more := few
	more.TermMinutes, more.VanEvery, more.VanPlaces = 200, 2, 5
	assert.LessOrEqual(t, with(more, 0), with(few, 0))
	assert.LessOrEqual(t, with(more, 2), with(more, 0))

	// Another trip is one more, in the week that was said; what there cannot be is refused by its place.
	plain := season.Planning{Settings: &few, Anew: true}
	s := h.score(plain)
	require.False(t, s.Weeks[1].Trip)
	plain.Trips = []day.Day{s.Weeks[1].Monday}
	with1 := h.score(plain)
	assert.True(t, with1.Weeks[1].Trip)
	assert.LessOrEqual(t, with1.Cents, s.Cents)
	for path, in := range map[string]season.Planning{
		"trips[0]":      {Trips: []day.Day{s.Weeks[1].Monday + 1}},
		"trips[1]":      {Trips: []day.Day{s.Weeks[1].Monday, s.Weeks[1].Monday}},
		"loaners[0].of": {Loaners: []season.MoreLoaners{{Of: "tuba 4/4", Count: 1}}},
	} {
		in.Settings = &few
		_, err := h.Season.Plan(ctx, h.director, in)
		assert.Equal(t, path, fault(t, err, journal.Invalid).Fields[0].Path)
	}
}

// The plan is there at once, also in a process that has just begun: as it was worked out last, and carried over where something changed
// since. Then it is worked out behind.
func TestThePlanIsThereAtOnce(t *testing.T) {
	h := rehearsing(t)
	atOnce := season.Planning{AtOnce: true}
	first := h.score(atOnce)
	assert.True(t, first.Improving)
	assert.LessOrEqual(t, first.Bound, first.Cents)
	whole := h.score(season.Planning{})
	assert.False(t, whole.Improving)
	assert.LessOrEqual(t, whole.Cents, first.Cents)
	behind := func(in season.Planning) (s season.Score) {
		require.Eventually(t, func() bool { s = h.score(in); return !s.Improving }, time.Minute, 5*time.Millisecond)
		return s
	}
	assert.Equal(t, whole, behind(atOnce))

	h.App = app.New(h.Schools.DB, func() time.Time { return h.now }, quiet)
	assert.Equal(t, whole, h.score(atOnce), "another process has it from the database")

	strings := piece(t, whole, "VN-01", "Change the string")
	moved := season.Planning{AtOnce: true, Pins: []season.Pin{{ID: strings.ID, Week: strings.Last}}}
	carried := h.score(moved)
	require.True(t, carried.Improving)
	for n, p := range carried.Pieces {
		if p.ID == strings.ID {
			assert.Equal(t, strings.Last, *p.Week)
		} else {
			assert.Equal(t, whole.Pieces[n].Week, p.Week, "%s %s stays", p.Tag, p.Title)
		}
	}
	assert.LessOrEqual(t, behind(moved).Cents, carried.Cents)
	assert.Equal(t, whole, h.score(atOnce), "what was only tried is not kept")

	h.accept(whole)
	require.NoError(t, h.Settings.SavePeriod(ctx, h.director, schoolrows.Breaks, schoolrows.Period{
		ID: uuid.New(), Name: "Ski week", StartsOn: whole.Weeks[*strings.Week].Monday, EndsOn: whole.Weeks[*strings.Week].Monday + 6,
	}))
	mended := behind(atOnce)
	assert.NotEmpty(t, mended.Moved)
	h.App = app.New(h.Schools.DB, func() time.Time { return h.now }, quiet)
	assert.Equal(t, mended, h.score(atOnce))

	impossible := season.Planning{AtOnce: true, Pins: []season.Pin{{ID: strings.ID, Week: 2}}}
	_, err := h.Season.Plan(ctx, h.director, impossible)
	assert.Equal(t, "pins[0].week", fault(t, err, journal.Invalid).Fields[0].Path)
}

// Readiness names each chair that is not ready and its quickest way: a loaner, the shop, somebody who has none.
func TestReadiness(t *testing.T) {
	h := rehearsing(t)
	before, err := h.Season.Readiness(ctx, h.director)
	require.NoError(t, err)
	require.Len(t, before, 1)
	assert.Equal(t, []int{3, 3}, []int{before[0].Ready, before[0].Chairs})
	_, err = h.Inspection.ReportFinding(ctx, h.director, h.id("VN-02"),
		inspection.Report{ID: uuid.New(), Found: inspection.Found{Code: "open-seam"}})
	require.NoError(t, err)
	after, err := h.Season.Readiness(ctx, h.director)
	require.NoError(t, err)
	assert.Equal(t, 2, after[0].Ready)
	chair := after[0].NotReady[0]
	assert.Equal(t, []string{"VN-02", "open seam", "to the shop"}, []string{chair.Tag, chair.Because, chair.Way})
	require.NotNil(t, chair.By)
	assert.True(t, chair.InTime, "two weeks are usual, and it plays in eighteen days")
	h.bring("tag,kind,size\nVN-09,violin,3/4\n")
	lent, err := h.Season.Readiness(ctx, h.director)
	require.NoError(t, err)
	assert.Equal(t, "lend VN-09", lent[0].NotReady[0].Way)
	today, err := h.Today.Today(ctx, h.director, 25, 0)
	require.NoError(t, err)
	assert.Equal(t, []int{2, 3}, []int{today.Concerts[0].Ready, today.Concerts[0].Chairs})
}
