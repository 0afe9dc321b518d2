package app_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/demand"
	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/preparing"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/upkeep"
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/schoolrows"
	"solfeggio/internal/store/upkeeprows"
)

// rehearsing is a school whose two violins and one clarinet play at a concert in 18 days, on Saturday 12 December.
func rehearsing(t *testing.T) *house {
	h := newHouse(t)
	h.bring(
		"tag,kind,size,care_from\nVN-01,violin,4/4,2026-06-10\nVN-02,violin,3/4,2026-09-01\nCL-01,clarinet-b-flat,,2026-09-01\n",
	)
	h.roster(
		"external_id,given_name,family_name,ensembles,instrument\np1,Ode,Marchetti,Orchestra,violin\np2,Ilse,Quandt,Orchestra,violin\np3,Senna,Tamm,Orchestra,clarinet-b-flat\n",
		nil,
	)
	give := lending.HandOut{}
	for name, tag := range map[string]string{"Ode Marchetti": "VN-01", "Ilse Quandt": "VN-02", "Senna Tamm": "CL-01"} {
		give.Pairs = append(give.Pairs, school.Pair{PlayerID: h.player(name).ID, InstrumentID: h.id(tag)})
	}
	_, err := h.Lending.HandOut(ctx, h.director, give)
	require.NoError(t, err)
	settings, err := h.Settings.Settings(ctx, h.director)
	require.NoError(t, err)
	require.NoError(t, h.Settings.SaveConcert(ctx, h.director, schoolrows.Concert{
		ID: uuid.New(), Name: "Winter concert", HeldOn: thisDay + 18, Minutes: 90, PlayFactor: 0.6,
		Ensembles: []uuid.UUID{settings.Ensembles[0].ID},
	}))
	return h
}

func (h *house) before(in preparing.Preparing) preparing.Before {
	h.t.Helper()
	b, err := h.Preparing.Before(ctx, h.director, in)
	require.NoError(h.t, err)
	return b
}

func (h *house) renew(tag string, in upkeep.Renewed) upkeep.Renewing {
	h.t.Helper()
	got, err := h.Upkeep.Renew(ctx, h.director, h.id(tag), in)
	require.NoError(h.t, err)
	return got
}

// lives are those of a part of an instrument, as "put on – ended: cause".
func (h *house) lives(tag, part string) (list []string) {
	h.t.Helper()
	require.NoError(h.t, h.db.Read(ctx, h.director.School, func(tx *store.Tx) error {
		all, err := upkeeprows.Lives(ctx, tx, h.id(tag))
		for _, l := range all {
			if l.Part != part {
				continue
			}
			end := "…"
			if l.EndedOn != nil {
				end = l.EndedOn.String()[5:] + " " + l.Cause
			}
			list = append(list, l.PutOn.String()[5:]+"–"+end)
		}
		return err
	}))
	return list
}

// A string that snaps while it is put on has a life of its own, the single in stock begins another, and all of it can be taken back.
func TestAStringSnapsOnTheWay(t *testing.T) {
	h := rehearsing(t)
	h.count("single-violin-e", "4/4", 2)
	first := thisDay - 200
	h.renew("VN-01", upkeep.Renewed{Part: "string-e", On: &first})
	snapped := h.renew(
		"VN-01",
		upkeep.Renewed{Part: "string-e", Cause: "dull", Take: "single", Product: "Heronbill", Tension: "medium", EndKind: "ball"},
	)
	again := h.renew("VN-01", upkeep.Renewed{Part: "string-e", Cause: "snapped-tuning", Take: "single", Product: "Heronbill"})
	assert.Equal(t, []string{"05-08–11-24 dull", "11-24–11-24 snapped-tuning", "11-24–…"}, h.lives("VN-01", "string-e"))
	assert.Zero(t, h.line("single-violin-e", "4/4").InStock)
	key := clocks.Key{Routine: "violin-strings", Part: "string-e"}
	assert.Equal(t, care.Fresh, h.clock("VN-01", key).State)
	assert.Contains(t, h.said("VN-01"), "Change the string: E string done, early: snapped while tuning")

	_, err := h.Schools.Undo(ctx, h.director, school.Undo{Events: again.Events})
	require.NoError(t, err)
	assert.Equal(t, []string{"05-08–11-24 dull", "11-24–…"}, h.lives("VN-01", "string-e"))
	assert.InDelta(t, 1, h.line("single-violin-e", "4/4").InStock, 0)
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: snapped.Events})
	require.NoError(t, err)
	assert.Equal(t, []string{"05-08–…"}, h.lives("VN-01", "string-e"))
	assert.Equal(t, care.Due, h.clock("VN-01", key).State)
}

// What is noted late finds its place between what was noted before; what is undone first leaves no gap.
func TestLivesNotedInAnyOrder(t *testing.T) {
	h := rehearsing(t)
	on := func(days int) *day.Day { d := thisDay - day.Day(days); return &d }
	h.renew("VN-01", upkeep.Renewed{Part: "string-a", On: on(20), Cause: "rusty"})
	middle := h.renew("VN-01", upkeep.Renewed{Part: "string-a", On: on(90), Cause: "dull"})
	h.renew("VN-01", upkeep.Renewed{Part: "string-a", On: on(50), Cause: "unravelled"})
	assert.Equal(t, []string{"08-26–10-05 unravelled", "10-05–11-04 ", "11-04–…"}, h.lives("VN-01", "string-a"))
	_, err := h.Schools.Undo(ctx, h.director, school.Undo{Events: middle.Events})
	require.NoError(t, err)
	assert.Equal(t, []string{"10-05–11-04 ", "11-04–…"}, h.lives("VN-01", "string-a"))
}

func TestRenewalsThatCannotBe(t *testing.T) {
	h := rehearsing(t)
	tomorrow, old := thisDay+1, thisDay.AddYears(-16)
	for path, in := range map[string]upkeep.Renewed{
		"on":      {Part: "string-e", On: &tomorrow},
		"on ":     {Part: "string-e", On: &old},
		"part":    {Part: "scroll"},
		"cause":   {Part: "string-e", Cause: "chipped"},
		"tension": {Part: "string-e", Tension: "iron"},
	} {
		_, err := h.Upkeep.Renew(ctx, h.director, h.id("VN-01"), in)
		assert.Equal(t, strings.TrimSpace(path), fault(t, err, journal.Invalid).Fields[0].Path)
	}
	assert.Empty(t, h.lives("VN-01", "string-e"), "nothing was kept")
}

// The strings of one violin run out before the concert: a string a day, settled in time, and one day later nothing would fit.
func TestThePlanForTheViolins(t *testing.T) {
	h := rehearsing(t)
	g, err := h.Upkeep.Guide(ctx, h.director, h.id("VN-01"), "string-e")
	require.NoError(t, err)
	assert.Equal(t, []any{4, "2026-12-04"}, []any{g.ForConcert.Strings, g.ForConcert.LatestStart.String()})
	assert.True(t, g.OneADay)
	b := h.before(preparing.Preparing{MinutesADay: 10})
	require.Len(t, b.Changes, 4)
	assert.Equal(t, []string{"2026-12-04", "2026-12-07", "2026-12-08", "2026-12-09"}, daysOf(b.Changes), "the weekend is left out")
	for _, c := range b.Changes {
		assert.Equal(t, "VN-01", c.Tag)
		assert.LessOrEqual(t, c.SettledOn, thisDay+18)
	}
	assert.Equal(t, "2026-12-04", b.Starts.StringsBy.String())
	assert.Equal(t, "2026-12-04", b.Strings[0].LatestStart.String())

	closed := h.before(preparing.Preparing{MinutesADay: 10, ClosedDays: []day.Day{day.MustParse("2026-12-08")}})
	assert.Equal(t, []string{"2026-12-03", "2026-12-04", "2026-12-07", "2026-12-09"}, daysOf(closed.Changes), "nobody has time on the 8th")

	// Dragged to an earlier day, the whole instrument keeps its days.
	pins := plannedOf(b.Changes)
	pins[0].On = day.MustParse("2026-12-01")
	moved := h.before(preparing.Preparing{MinutesADay: 10, Pinned: pins})
	assert.Equal(t, []string{"2026-12-01", "2026-12-07", "2026-12-08", "2026-12-09"}, daysOf(moved.Changes))
	for change, says := range map[string]string{
		"2026-12-10": "still be settling", "2026-12-06": "no school day", "2026-12-07": "two strings changed on a day",
		"2026-11-23": "is past",
	} {
		pins[0].On = day.MustParse(change)
		_, err := h.Preparing.Before(ctx, h.director, preparing.Preparing{MinutesADay: 10, Pinned: pins})
		assert.Contains(t, fault(t, err, journal.Invalid).Fields[0].Message, says, change)
	}
	pins[0].On = day.MustParse("2026-12-01")
	_, err = h.Preparing.Before(ctx, h.director, preparing.Preparing{MinutesADay: 5, Pinned: pins})
	assert.Contains(t, fault(t, err, journal.Invalid).Fields[0].Message, "more than 5 minutes")

	// Accepted, each stands on Today on its day, and is done by the change itself.
	require.NoError(t, h.Preparing.Accept(ctx, h.director, preparing.StringPlan{Changes: plannedOf(moved.Changes)}))
	assert.True(t, h.before(preparing.Preparing{MinutesADay: 10}).Changes[0].Accepted)
	h.now = h.now.AddDate(0, 0, 7)
	today, err := h.Today.Today(ctx, h.director, 25, 0)
	require.NoError(t, err)
	require.Len(t, today.Planned, 1)
	assert.Equal(t, "VN-01", today.Planned[0].Tag)
	h.renew("VN-01", upkeep.Renewed{Part: today.Planned[0].Part})
	today, err = h.Today.Today(ctx, h.director, 25, 0)
	require.NoError(t, err)
	assert.Empty(t, today.Planned)
	header, err := h.Today.Header(ctx, h.director)
	require.NoError(t, err)
	assert.Equal(t, []preparing.Deadline{{What: "open reeds", By: day.MustParse("2026-12-07")}}, header.Begin, "the strings stand on the plan")
}

func daysOf(changes []preparing.StringChange) (days []string) {
	for _, c := range changes {
		days = append(days, c.On.String())
	}
	return days
}

func plannedOf(changes []preparing.StringChange) (list []upkeeprows.PlannedChange) {
	for _, c := range changes {
		list = append(list, c.PlannedChange)
	}
	return list
}

func TestTooLateForAWholeSet(t *testing.T) {
	h := rehearsing(t)
	assert.Equal(t, 1, h.before(preparing.Preparing{MinutesADay: 5}).Starts.StringsLate, "no day has the minutes for one string")
	h.now = h.now.AddDate(0, 0, 14) // four days before the concert
	b := h.before(preparing.Preparing{MinutesADay: 40})
	assert.Empty(t, b.Changes)
	assert.Equal(t, "Change the worst string only, by 9 December 2026; the others after the concert.", b.Unplaced[0].Instead)
	h.now = h.now.AddDate(0, 0, 2)
	assert.Contains(t, h.before(preparing.Preparing{MinutesADay: 40}).Unplaced[0].Instead, "Nothing new within 3 days")
	g, err := h.Upkeep.Guide(ctx, h.director, h.id("VN-01"), "string-e")
	require.NoError(t, err)
	assert.Contains(t, g.Warning, "still sags at the concert")
	assert.Contains(t, g.ForConcert.TooLate, "no plan fits: 4 working days")
	past := h.before(preparing.Preparing{}).Concert.ID
	h.now = h.now.AddDate(0, 0, 5)
	_, err = h.Preparing.Before(ctx, h.director, preparing.Preparing{ConcertID: &past})
	assert.Contains(t, fault(t, err, journal.Invalid).Fields[0].Message, "lies in the past")
	assert.Nil(t, h.before(preparing.Preparing{}).Concert)
}

func TestBowsAndTheirPlayers(t *testing.T) {
	h := rehearsing(t)
	bow := func(tag string) upkeep.Bow {
		all, err := h.Upkeep.Bows(ctx, h.director)
		require.NoError(t, err)
		return all.Bows[slices.IndexFunc(all.Bows, func(b upkeep.Bow) bool { return b.Tag == tag })]
	}
	worth := func(cents int64) {
		require.NoError(t, h.Upkeep.SetWorth(ctx, h.director, h.id("VN-01"), upkeep.Worth{ValueCents: &cents}))
	}
	assert.Nil(t, bow("VN-01").Advice, "of unknown worth nothing is advised but to say it")
	worth(12_000)
	assert.Equal(t, "rehair", string(bow("VN-01").Advice.Choice))
	h.inspect("VN-01", map[string]inspection.Found{"bow": {Code: "bow-warped"}})
	assert.Equal(t, []any{"new", false}, []any{string(bow("VN-01").Advice.Choice), bow("VN-01").Straight})
	assert.Equal(
		t,
		"value_cents",
		fault(t, h.Upkeep.SetWorth(ctx, h.director, h.id("CL-01"), upkeep.Worth{}), journal.Invalid).Fields[0].Path,
	)
}

// What stands on a line of strings: what is on, whether it still sags, what is planned, whether the kit has a spare set. A tick on Today
// is a change too, of an unknown make, and fulfils the plan.
func TestALineOfStrings(t *testing.T) {
	h := rehearsing(t)
	require.NoError(t, h.Demand.MoveInKit(ctx, h.director, demand.KitMove{Kit: "violin", Supply: "strings-violin", Tier: catalog.EveryCase}))
	line := func() upkeep.Strung {
		all, err := h.Upkeep.Strings(ctx, h.director)
		require.NoError(t, err)
		return all[slices.IndexFunc(all, func(s upkeep.Strung) bool { return s.Tag == "VN-01" })]
	}
	before := line()
	assert.Equal(t, []any{"Ode Marchetti", "there", 4}, []any{before.Holder, before.SpareSet, len(before.Strings)})
	assert.Equal(t, []any{(*day.Day)(nil), 167, care.Opening}, []any{before.Strings[0].PutOn, before.Strings[0].Days, before.Strings[0].State})
	assert.True(t, before.Strings[0].Breaking, "the E string is kept as a single")

	h.check("VN-01", map[string]catalog.KitState{"strings-violin": catalog.Missing})
	require.NoError(t, h.Preparing.Accept(ctx, h.director, preparing.StringPlan{Changes: []upkeeprows.PlannedChange{
		{Instrument: h.id("VN-01"), Part: "string-e", On: thisDay + 1}, {Instrument: h.id("VN-01"), Part: "string-a", On: thisDay + 2},
	}}))
	h.renew("VN-01", upkeep.Renewed{Part: "string-e", Product: "Saltgrass", Tension: "soft"})
	now := line()
	assert.Equal(t, "missing", now.SpareSet)
	assert.Equal(t, []any{"Saltgrass", "soft", thisDay + 3}, []any{now.Strings[0].Product, now.Strings[0].Tension, *now.Strings[0].Settles})
	assert.Nil(t, now.Strings[0].Planned, "done")
	assert.Equal(t, thisDay+2, *now.Strings[1].Planned)

	ticked, err := h.tick(h.director, "VN-01", clocks.Key{Routine: "violin-strings", Part: "string-a"})
	require.NoError(t, err)
	assert.Equal(t, []any{thisDay, ""}, []any{*line().Strings[1].PutOn, line().Strings[1].Product})
	assert.Nil(t, line().Strings[1].Planned)
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: ticked.Events})
	require.NoError(t, err)
	assert.Nil(t, line().Strings[1].PutOn)

	require.NoError(t, h.Preparing.Accept(ctx, h.director, preparing.StringPlan{Changes: []upkeeprows.PlannedChange{
		{Instrument: h.id("VN-01"), Part: "string-g", On: thisDay + 2},
	}}))
	require.NoError(t, h.Preparing.Drop(ctx, h.director, []uuid.UUID{h.id("VN-01")}))
	assert.Nil(t, line().Strings[3].Planned)
	for path, p := range map[string]upkeeprows.PlannedChange{
		"changes[0].instrument_id": {Instrument: uuid.New(), Part: "string-e", On: thisDay + 1},
		"changes[0].part":          {Instrument: h.id("CL-01"), Part: "string-e", On: thisDay + 1},
		"changes[0].on":            {Instrument: h.id("VN-01"), Part: "string-e", On: thisDay - 1},
	} {
		err := h.Preparing.Accept(ctx, h.director, preparing.StringPlan{Changes: []upkeeprows.PlannedChange{p}})
		assert.Equal(t, path, fault(t, err, journal.Invalid).Fields[0].Path)
	}
}
