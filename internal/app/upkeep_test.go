package app_test

import (
	"bytes"
	"os/exec"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/upkeep"
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/why"
	"solfeggio/internal/store"
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
	require.NoError(t, h.Settings.SaveConcert(ctx, h.director, store.Concert{
		ID: uuid.New(), Name: "Winter concert", HeldOn: thisDay + 18, Minutes: 90, PlayFactor: 0.6, Ensembles: []uuid.UUID{settings.Ensembles[0].ID},
	}))
	return h
}

func (h *house) before(in upkeep.Preparing) upkeep.Before {
	h.t.Helper()
	b, err := h.Upkeep.Before(ctx, h.director, in)
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
		all, err := tx.Lives(ctx, h.id(tag))
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

	_, err := h.Undo(ctx, h.director, school.Undo{Events: again.Events})
	require.NoError(t, err)
	assert.Equal(t, []string{"05-08–11-24 dull", "11-24–…"}, h.lives("VN-01", "string-e"))
	assert.InDelta(t, 1, h.line("single-violin-e", "4/4").InStock, 0)
	_, err = h.Undo(ctx, h.director, school.Undo{Events: snapped.Events})
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
	_, err := h.Undo(ctx, h.director, school.Undo{Events: middle.Events})
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
	b := h.before(upkeep.Preparing{MinutesADay: 10})
	require.Len(t, b.Changes, 4)
	assert.Equal(t, []string{"2026-12-04", "2026-12-07", "2026-12-08", "2026-12-09"}, daysOf(b.Changes), "the weekend is left out")
	for _, c := range b.Changes {
		assert.Equal(t, "VN-01", c.Tag)
		assert.LessOrEqual(t, c.SettledOn, thisDay+18)
	}
	assert.Equal(t, "2026-12-04", b.Starts.StringsBy.String())
	assert.Equal(t, "2026-12-04", b.Strings[0].LatestStart.String())

	closed := h.before(upkeep.Preparing{MinutesADay: 10, ClosedDays: []day.Day{day.MustParse("2026-12-08")}})
	assert.Equal(t, []string{"2026-12-03", "2026-12-04", "2026-12-07", "2026-12-09"}, daysOf(closed.Changes), "nobody has time on the 8th")

	// Dragged to an earlier day, the whole instrument keeps its days.
	pins := plannedOf(b.Changes)
	pins[0].On = day.MustParse("2026-12-01")
	moved := h.before(upkeep.Preparing{MinutesADay: 10, Pinned: pins})
	assert.Equal(t, []string{"2026-12-01", "2026-12-07", "2026-12-08", "2026-12-09"}, daysOf(moved.Changes))
	for change, says := range map[string]string{
		"2026-12-10": "still be settling", "2026-12-06": "no school day", "2026-12-07": "two strings changed on a day", "2026-11-23": "is past",
	} {
		pins[0].On = day.MustParse(change)
		_, err := h.Upkeep.Before(ctx, h.director, upkeep.Preparing{MinutesADay: 10, Pinned: pins})
		assert.Contains(t, fault(t, err, journal.Invalid).Fields[0].Message, says, change)
	}
	pins[0].On = day.MustParse("2026-12-01")
	_, err = h.Upkeep.Before(ctx, h.director, upkeep.Preparing{MinutesADay: 5, Pinned: pins})
	assert.Contains(t, fault(t, err, journal.Invalid).Fields[0].Message, "more than 5 minutes")

	// Accepted, each stands on Today on its day, and is done by the change itself.
	require.NoError(t, h.Upkeep.Accept(ctx, h.director, upkeep.StringPlan{Changes: plannedOf(moved.Changes)}))
	assert.True(t, h.before(upkeep.Preparing{MinutesADay: 10}).Changes[0].Accepted)
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
	assert.Equal(t, []upkeep.Deadline{{What: "open reeds", By: day.MustParse("2026-12-07")}}, header.Begin, "the strings stand on the plan")
}

func daysOf(changes []upkeep.StringChange) (days []string) {
	for _, c := range changes {
		days = append(days, c.On.String())
	}
	return days
}

func plannedOf(changes []upkeep.StringChange) (list []store.PlannedChange) {
	for _, c := range changes {
		list = append(list, c.PlannedChange)
	}
	return list
}

func TestTooLateForAWholeSet(t *testing.T) {
	h := rehearsing(t)
	assert.Equal(t, 1, h.before(upkeep.Preparing{MinutesADay: 5}).Starts.StringsLate, "no day has the minutes for one string")
	h.now = h.now.AddDate(0, 0, 14) // four days before the concert
	b := h.before(upkeep.Preparing{MinutesADay: 40})
	assert.Empty(t, b.Changes)
	assert.Equal(t, "Change the worst string only, by 9 December 2026; the others after the concert.", b.Unplaced[0].Instead)
	h.now = h.now.AddDate(0, 0, 2)
	assert.Contains(t, h.before(upkeep.Preparing{MinutesADay: 40}).Unplaced[0].Instead, "Nothing new within 3 days")
	g, err := h.Upkeep.Guide(ctx, h.director, h.id("VN-01"), "string-e")
	require.NoError(t, err)
	assert.Contains(t, g.Warning, "still sags at the concert")
	assert.Contains(t, g.ForConcert.TooLate, "no plan fits: 4 working days")
	past := h.before(upkeep.Preparing{}).Concert.ID
	h.now = h.now.AddDate(0, 0, 5)
	_, err = h.Upkeep.Before(ctx, h.director, upkeep.Preparing{ConcertID: &past})
	assert.Contains(t, fault(t, err, journal.Invalid).Fields[0].Message, "lies in the past")
	assert.Nil(t, h.before(upkeep.Preparing{}).Concert)
}

// A box of reeds on the way to the concert, day by day: weekends are left out, a tired one does not serve, a beginner's only one is excused.
func TestABoxOfReeds(t *testing.T) {
	h := rehearsing(t)
	senna := h.player("Senna Tamm").ID
	chair := func() upkeep.Chair { return h.before(upkeep.Preparing{MinutesADay: 40}).Reeds[0].Chairs[0] }
	assert.Equal(t, []any{"open", "open one by Mon 7 Dec"}, []any{chair().State, chair().Says})
	open := func(id uuid.UUID, daysAgo int) error {
		on := thisDay - day.Day(daysAgo)
		_, err := h.Upkeep.Open(ctx, h.director, upkeep.Opening{ID: id, PlayerID: senna, OpenedOn: &on})
		return err
	}
	only := uuid.New()
	require.NoError(t, open(only, 0))
	assert.Equal(t, []any{true, "one reed, played freely; hand out two"}, []any{chair().Excused, chair().Says})
	assert.True(t, chair().Reeds[0].Today, "it is free at once")

	require.NoError(t, open(uuid.New(), 20))
	c := chair()
	assert.False(t, c.Excused)
	assert.Equal(t, []any{1, 1.0, "breaking-in"}, []any{c.Reeds[0].Day, c.Reeds[0].Minutes, string(c.Reeds[0].State)})
	assert.Equal(t, "ready, two spares short", c.Says, "the older one will be tired by then")
	h.now = h.now.AddDate(0, 0, 6) // Monday 30 November, the fifth playing day
	assert.Equal(t, []any{5, 30.0, 0.8}, []any{chair().Reeds[0].Day, chair().Reeds[0].Minutes, chair().Reeds[0].Share})
	h.now = h.now.AddDate(0, 0, 1)
	assert.Equal(t, "ready", string(chair().Reeds[0].State))
	assert.Greater(t, chair().Reeds[1].MinutesPlayed, 0.0)
	assert.True(t, chair().Reeds[0].Today, "it has rested longest")

	assert.Equal(
		t,
		"place",
		fault(t, second(h.Upkeep.Open(ctx, h.director, upkeep.Opening{ID: uuid.New(), PlayerID: senna, Place: 1})), journal.Invalid).Fields[0].Path,
	)
	assert.Equal(t, "id", fault(t, open(only, 0), journal.Invalid).Fields[0].Path, "opened twice")
	assert.Equal(t, "opened_on", fault(t, open(uuid.New(), -30), journal.Invalid).Fields[0].Path)
	assert.Equal(
		t,
		"player_id",
		fault(t, second(h.Upkeep.Open(ctx, h.director, upkeep.Opening{ID: uuid.New(), PlayerID: h.player("Ode Marchetti").ID})), journal.Invalid).Fields[0].Path,
	)

	gone, err := h.Upkeep.ThrowAway(ctx, h.director, only, upkeep.Discard{Cause: "chipped"})
	require.NoError(t, err)
	assert.Len(t, chair().Reeds, 1)
	_, err = h.Undo(ctx, h.director, school.Undo{Events: gone.Events})
	require.NoError(t, err)
	assert.Len(t, chair().Reeds, 2)

	_, err = h.Upkeep.Open(ctx, h.director, upkeep.Opening{ID: uuid.New(), PlayerID: senna, Synthetic: true, Strength: "2.5"})
	require.NoError(t, err)
	s := chair().Reeds[2]
	assert.Equal(t, []any{"ready", true, (*day.Day)(nil)}, []any{string(s.State), s.Serves, s.TiredOn}, "free at once, and it does not tire")
	iron := upkeep.Opening{ID: uuid.New(), PlayerID: senna, Strength: "iron"}
	assert.Equal(t, "strength", fault(t, second(h.Upkeep.Open(ctx, h.director, iron)), journal.Invalid).Fields[0].Path)

	require.NoError(t, h.Upkeep.SetProgram(ctx, h.director, upkeep.BreakInMinutes{Supply: "reed-clarinet", Minutes: []float64{10, 20}}))
	h.now = h.now.AddDate(0, 0, -6) // the second of two days
	assert.Equal(t, []any{2, 20.0}, []any{chair().Reeds[0].Day, chair().Reeds[0].Minutes})
	assert.Equal(
		t,
		"minutes",
		fault(t, h.Upkeep.SetProgram(ctx, h.director, upkeep.BreakInMinutes{Supply: "reed-clarinet", Minutes: []float64{0}}), journal.Invalid).Fields[0].Path,
	)
}

func second[T any](_ T, err error) error { return err }

// The school's own lives offer an interval; accepted it is every clock's, and Why says so; three lives are not enough.
func TestWhatTheSchoolLearns(t *testing.T) {
	h := rehearsing(t)
	key := clocks.Key{Routine: "violin-strings", Part: "string-e"}
	on := func(days int) *day.Day { d := thisDay - day.Day(days); return &d }
	of := func() upkeep.Lasting {
		list, err := h.Upkeep.Lasting(ctx, h.director)
		require.NoError(t, err)
		return list[slices.IndexFunc(list, func(l upkeep.Lasting) bool { return l.Kind == "violin" && l.Routine == "violin-strings" })]
	}
	lasted := []int{60, 80, 90, 100, 110, 120, 130, 140, 150}
	at := 0
	for n := len(lasted) - 1; n >= 0; n-- {
		at += lasted[n]
		if n == 6 {
			h.renew("VN-01", upkeep.Renewed{Part: "string-e", On: on(at), Cause: "dull", Product: "Heronbill"})
			assert.Equal(t, "None of 1 has come to its end yet.", of().Statement)
			_, err := h.Upkeep.AcceptInterval(ctx, h.director, upkeep.Accepting{Kind: "violin", Routine: "violin-strings", Accept: true})
			assert.Equal(t, "accept", fault(t, err, journal.Invalid).Fields[0].Path)
			break
		}
	}
	for n, days := range lasted {
		part := []string{"string-a", "string-d"}[n%2]
		start := 1000 - 200*(n/2)
		h.renew("VN-02", upkeep.Renewed{Part: part, On: on(start), Cause: "over-age", Product: "Saltgrass"})
		h.renew("VN-02", upkeep.Renewed{Part: part, On: on(start - days), Cause: "dull", Product: "Saltgrass"})
	}
	l := of()
	assert.True(t, l.Days.Enough)
	assert.Equal(t, len(lasted), l.Ended, "those that were renewed while they were sound did not end")
	require.NotNil(t, l.Offered)
	// By hand, with those in use and those renewed while sound at risk until then: 17/18 after 60 days, × 15/16 after 80, × 13/14 after
	// 90, × 11/12 after 100, which is 0.754.
	assert.InDelta(t, 100, *l.Offered, 0)
	assert.InDelta(t, 17./18*15/16*13/14*11/12, l.Days.KaplanMeier[3].Survival, 1e-12)
	got, err := h.Upkeep.AcceptInterval(ctx, h.director, upkeep.Accepting{Kind: "violin", Routine: "violin-strings", Accept: true})
	require.NoError(t, err)
	assert.InDelta(t, 100, *got.Accepted, 0)
	assert.InDelta(t, 100, *h.clock("VN-01", key).Limits.Days, 0)
	reasons, err := h.Inventory.Why(ctx, h.director, h.id("VN-01"), key)
	require.NoError(t, err)
	assert.Equal(t, why.Basis{Kind: why.LearnedHere, Observations: 9}, reasons[1].Basis)
	_, err = h.Upkeep.AcceptInterval(ctx, h.director, upkeep.Accepting{Kind: "violin", Routine: "violin-strings"})
	require.NoError(t, err)
	assert.InDelta(t, 180, *h.clock("VN-01", key).Limits.Days, 0)
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
	assert.Equal(t, "new", string(bow("VN-01").Advice.Choice), "of unknown worth it counts as cheap")
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

// The calendar read by python3-icalendar: its secret opens it, a new secret closes the old, and no player stands in it.
func TestTheCalendarIsRead(t *testing.T) {
	h := rehearsing(t)
	require.NoError(
		t,
		h.Upkeep.Accept(ctx, h.director, upkeep.StringPlan{Changes: plannedOf(h.before(upkeep.Preparing{MinutesADay: 40}).Changes)}),
	)
	old, fresh := strings.Repeat("a", 32), strings.Repeat("b1_", 11)
	share := func(secret string) {
		_, err := h.Upkeep.Share(ctx, h.director, upkeep.Sharing{Secret: secret})
		require.NoError(t, err)
	}
	share(old)
	var text bytes.Buffer
	require.NoError(t, h.Upkeep.FeedOf(ctx, old, &text))
	assert.NotContains(t, text.String(), "Marchetti")
	assert.Equal(t, []string{
		"2026-12-04 Change 1 string", "2026-12-07 Change 1 string", "2026-12-08 Change 1 string", "2026-12-09 Change 1 string", "2026-12-12 Winter concert",
	}, readCalendar(t, text.Bytes()))
	share(fresh)
	assert.Equal(t, "This is not there, or not any more.", fault(t, h.Upkeep.FeedOf(ctx, old, &text), journal.NotFound).Message)
	text.Reset()
	require.NoError(t, h.Upkeep.FeedOf(ctx, fresh, &text))
	assert.Len(t, readCalendar(t, text.Bytes()), 5)
	share("")
	assert.Error(t, h.Upkeep.FeedOf(ctx, fresh, &text))
	assert.Equal(
		t,
		"secret",
		fault(t, second(h.Upkeep.Share(ctx, h.director, upkeep.Sharing{Secret: "short"})), journal.Invalid).Fields[0].Path,
	)
}

// readCalendar lists the whole days of an iCalendar file.
func readCalendar(t *testing.T, file []byte) []string {
	t.Helper()
	cmd := exec.Command("/usr/bin/python3", "-c", `
import sys
from icalendar import Calendar
events = Calendar.from_ical(sys.stdin.buffer.read()).walk("VEVENT")
uids = [str(e["UID"]) for e in events]
assert len(uids) == len(set(uids)), uids
print("\n".join(sorted(f'{e["DTSTART"].dt} {e["SUMMARY"]}' for e in events)))`)
	cmd.Stdin = bytes.NewReader(file)
	out, err := cmd.CombinedOutput()
	require.NoError(t, err, string(out))
	return strings.Split(strings.TrimSpace(string(out)), "\n")
}

// What stands on a line of strings: what is on, whether it still sags, what is planned, whether the kit has a spare set. A tick on Today
// is a change too, of an unknown make, and fulfils the plan.
func TestALineOfStrings(t *testing.T) {
	h := rehearsing(t)
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
	require.NoError(t, h.Upkeep.Accept(ctx, h.director, upkeep.StringPlan{Changes: []store.PlannedChange{
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
	_, err = h.Undo(ctx, h.director, school.Undo{Events: ticked.Events})
	require.NoError(t, err)
	assert.Nil(t, line().Strings[1].PutOn)

	require.NoError(t, h.Upkeep.Accept(ctx, h.director, upkeep.StringPlan{Changes: []store.PlannedChange{
		{Instrument: h.id("VN-01"), Part: "string-g", On: thisDay + 2},
	}}))
	require.NoError(t, h.Upkeep.Drop(ctx, h.director, []uuid.UUID{h.id("VN-01")}))
	assert.Nil(t, line().Strings[3].Planned)
	for path, p := range map[string]store.PlannedChange{
		"changes[0].instrument_id": {Instrument: uuid.New(), Part: "string-e", On: thisDay + 1},
		"changes[0].part":          {Instrument: h.id("CL-01"), Part: "string-e", On: thisDay + 1},
		"changes[0].on":            {Instrument: h.id("VN-01"), Part: "string-e", On: thisDay - 1},
	} {
		err := h.Upkeep.Accept(ctx, h.director, upkeep.StringPlan{Changes: []store.PlannedChange{p}})
		assert.Equal(t, path, fault(t, err, journal.Invalid).Fields[0].Path)
	}
}

// Two products that lasted alike are told so, and two that did not; with few ends nothing is said of them.
func TestTwoProductsBesideEachOther(t *testing.T) {
	h := rehearsing(t)
	statement := func() string {
		list, err := h.Upkeep.Lasting(ctx, h.director)
		require.NoError(t, err)
		n := slices.IndexFunc(list, func(l upkeep.Lasting) bool { return l.Routine == "violin-strings" })
		require.Len(t, list[n].Compared, 1)
		return list[n].Compared[0].Statement
	}
	lived := func(part, product string, from, days int) {
		on := thisDay - day.Day(from)
		h.renew("VN-01", upkeep.Renewed{Part: part, On: &on, Product: product, Cause: "over-age"})
		on += day.Day(days)
		h.renew("VN-01", upkeep.Renewed{Part: part, On: &on, Cause: "dull"})
	}
	lived("string-a", "Heronbill", 2400, 200)
	lived("string-d", "Saltgrass", 2400, 60)
	assert.Contains(t, statement(), "Too few of one or the other")
	for n := range 9 {
		lived("string-a", "Heronbill", 2100-210*n, 180+n)
		lived("string-d", "Saltgrass", 2100-210*n, 60+n)
	}
	assert.Equal(t, "They do not last alike: chance alone would show so great a difference less than once in a hundred times.", statement())
	for n := range 9 {
		lived("string-g", "Heronbill", 2100-210*n, 60+n)
		lived("string-e", "Saltgrass", 2100-210*n, 180+n)
	}
	assert.Contains(t, statement(), "Nothing tells them apart")
}
