package app_test

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/bench"
	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/products"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/hygiene"
	"solfeggio/internal/formats"
	"solfeggio/internal/store/benchrows"
)

const returned = `tag,kind,body,care_from,practice_minutes_per_week
CL-01,clarinet-b-flat,plastic,2026-11-01,60
CL-02,clarinet-b-flat,wood,2026-11-01,60
FL-01,flute,silver-plate,2026-11-01,60
TR-01,trumpet,lacquer,2026-11-01,60
SX-01,alto-saxophone,lacquer,2026-11-01,60
VN-01,violin,varnish,2026-11-01,60
`

var (
	alcohol = benchrows.Product{
		ID:             uuid.New(),
		Name:           "Brightwater 70",
		MadeOf:         []string{"alcohol"},
		ContactMinutes: 1,
		Surfaces:       []string{"reed-mouthpiece", "metal-mouthpiece", "body-outside", "bore", "lip-plate"},
		Hazards:        "Burns; fresh air",
		Supply:         "alcohol-70",
	}
	wipes = benchrows.Product{
		ID:             uuid.New(),
		Name:           "Calm Case Wipes",
		MadeOf:         []string{"quaternary-ammonium"},
		ContactMinutes: 4,
		Surfaces:       []string{"case-outside", "case-lining"},
		Hazards:        "Irritates eyes",
		Supply:         "wipes",
	}
)

func (h *house) worked(by journal.Person, run uuid.UUID, did bench.Ticked, err error) (worked, error) {
	if err != nil {
		return worked{}, err
	}
	shown, err := h.Bench.Run(ctx, by, run)
	return worked{did, shown}, err
}

// Six instruments of five materials go from held to free, each as its material asks.
func TestABatchFromHeldToFree(t *testing.T) {
	h := atTheBench(t)
	waiting, err := h.Bench.Overview(ctx, h.director)
	require.NoError(t, err)
	assert.Len(t, waiting.Waiting, 6)
	assert.True(t, waiting.Waiting[0].Held)
	assert.Equal(t, 2, waiting.Products)

	tags := []string{"CL-01", "CL-02", "FL-01", "TR-01", "SX-01", "VN-01"}
	in := h.benching(catalog.Turnover, tags...)
	in.Minutes = new(60)
	plan, err := h.Bench.Plan(ctx, h.director, in)
	require.NoError(t, err)
	assert.GreaterOrEqual(t, plan.Minutes, plan.LeastEver)
	assert.NotEmpty(t, plan.Cautions)
	assert.Equal(t, 12, plan.GlovePairs, "two pairs each")
	assert.Equal(t, 3, plan.Soak.Mouthpieces)
	assert.InDelta(t, plan.Soak.WaterML, 10*plan.Soak.VinegarML, 1e-9)
	assert.True(
		t,
		slices.ContainsFunc(plan.Needs, func(n bench.BenchNeed) bool { return n.Supply == "gloves" && n.Short == 0 && n.Units == 12 }),
	)
	short := plan.Needs[0]
	assert.Positive(t, short.Short, "no vinegar, no reeds, no patches: short ones stand first")
	assert.NotEmpty(t, plan.Items[1].Gates, "wood gets no alcohol")
	assert.Equal(t, 72, plan.Items[1].RestHours)
	warned := func(list []products.Handling) (warnings []string) {
		for _, h := range list {
			warnings = append(warnings, h.Product+": "+h.Hazards)
		}
		return warnings
	}
	assert.Equal(t, []string{"Brightwater 70: Burns; fresh air", "Calm Case Wipes: Irritates eyes"}, warned(plan.Handling))
	violin, err := h.Bench.Plan(ctx, h.director, h.benching(catalog.Turnover, "VN-01"))
	require.NoError(t, err)
	assert.Equal(
		t,
		[]string{"Calm Case Wipes: Irritates eyes"},
		warned(violin.Handling),
		"varnish gets no alcohol, so nobody is warned of it",
	)

	again := request("one")
	run, err := h.BeginBench(again, h.director, h.benching(catalog.Turnover, tags...))
	require.NoError(t, err)
	resent, err := h.BeginBench(again, h.director, h.benching(catalog.Turnover, tags...))
	require.NoError(t, err, "sent again after a lost reply, it begins nothing new")
	assert.Equal(t, run.ID, resent.ID)
	clarinet := item(t, run, "CL-01")
	assert.Equal(t, "L-wipes", clarinet.Steps[0].Lot)
	assert.Equal(t, 4, clarinet.Steps[0].Contact)
	assert.Equal(t, plan.Handling, run.Handling)
	assert.NotEmpty(t, h.file("CL-01").Bench)
	_, err = h.BeginBench(ctx, h.director, h.benching(catalog.Turnover, "CL-01"))
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "on a bench already")
	for _, tag := range tags {
		run = h.through(run, tag, "")
	}
	require.NotNil(t, run.EndedAt, "nothing is left")
	for _, tag := range tags {
		if tag != "CL-02" {
			assert.Empty(t, h.listed(tag).Held, tag)
		}
	}
	assert.Contains(t, h.listed("CL-02").Held, "dries until")
	assert.Zero(t, h.clock("TR-01", clocks.Key{Routine: "valve-brass-bath"}).Elapsed.Days, "its bath was among the steps")
	assert.InDelta(t, 38, h.line("gloves", "").InStock, 1e-9, "taken from stock")
	assert.InDelta(t, 2-4*0.06-0.02, h.line("alcohol-70", "").InStock, 1e-9, "60 mL for each woodwind, 20 for brass")

	rests, err := h.Bench.Overview(ctx, h.director)
	require.NoError(t, err)
	require.Len(t, rests.Resting, 1)
	h.now = rests.Resting[0].FreeAt.Add(-time.Minute)
	assert.NotEmpty(t, h.listed("CL-02").Held)
	h.now = h.now.Add(time.Minute)
	assert.Empty(t, h.listed("CL-02").Held, "free when its rest is over, without anybody's doing")
}

// The server's clock keeps contact times, whatever a person, a second person or a second process does.
func TestContactTimesAreKept(t *testing.T) {
	h := atTheBench(t)
	run := h.begin(catalog.Turnover, "CL-01", "FL-01")
	_, err := h.step(run, "CL-01", "done", "")
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "Say first when it is wet")
	_, err = h.TickBench(ctx, h.director, run.ID, bench.Tick{InstrumentID: h.id("CL-01"), N: 2, Do: "begin"})
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "First comes: Case outside")
	_, err = h.TickBench(ctx, h.director, run.ID, bench.Tick{InstrumentID: h.id("CL-01"), N: 99, Do: "begin"})
	fault(t, err, journal.Invalid)
	_, err = h.step(run, "CL-01", "begin", "")
	require.NoError(t, err)
	began := h.now
	_, err = h.step(run, "CL-01", "begin", "")
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "Ines Corvane began this at 09:00")

	h.now = began.Add(4*time.Minute - time.Second)
	_, err = h.step(run, "CL-01", "done", "")
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "must wait 1 s more")
	h.now = began.Add(-time.Hour)
	_, err = h.step(run, "CL-01", "done", "")
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "stands before the moment", "a clock that was set back shortens nothing")

	h.now = began.Add(4 * time.Minute)
	h.App = h.another() // the server was killed, and another one goes on
	got, err := h.step(run, "CL-01", "done", "")
	require.NoError(t, err)
	first := item(t, got.Run, "CL-01").Steps[0]
	assert.Equal(t, []any{"done", 4., "Ines Corvane"}, []any{first.State, first.KeptMinutes, first.DoneBy})
	_, err = h.TickBench(ctx, h.director, run.ID, bench.Tick{InstrumentID: h.id("CL-01"), N: 0, Do: "done"})
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "Ines Corvane ticked this at 09:04 already")

	// Taken back, it runs on from when it was wet.
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: got.Events})
	require.NoError(t, err)
	then, err := h.Bench.Run(ctx, h.director, run.ID)
	require.NoError(t, err)
	assert.Equal(t, "over", item(t, then, "CL-01").Steps[0].State)
}

// Who does not wait says why, under a name, and may do so.
func TestAnOverrideIsNamed(t *testing.T) {
	h := atTheBench(t)
	run := h.begin(catalog.Turnover, "FL-01")
	got, err := h.step(run, "FL-01", "begin", "")
	require.NoError(t, err)
	helper := h.director
	helper.Role = journal.Helper
	_, err = h.TickBench(ctx, helper, run.ID, bench.Tick{InstrumentID: h.id("FL-01"), N: 0, Do: "done", Override: "the bell"})
	fault(t, err, journal.Forbidden)
	got, err = h.step(got.Run, "FL-01", "done", "the nurse said one minute is enough")
	require.NoError(t, err)
	s := item(t, got.Run, "FL-01").Steps[0]
	assert.Equal(t, []any{"the nurse said one minute is enough", "Ines Corvane", 0.}, []any{s.Override, s.OverrideBy, s.KeptMinutes})
	h.through(got.Run, "FL-01", "")

	records, err := h.Bench.Records(ctx, h.director, new(h.id("FL-01")))
	require.NoError(t, err)
	require.Len(t, records, 1)
	assert.Equal(t, s.Override, records[0].Steps[0].Override)
	var text bytes.Buffer
	require.NoError(t, h.Bench.WriteRecords(ctx, h.director, nil, nil, formats.CSV(&text)))
	rows, err := csv.NewReader(bytes.NewReader(bytes.TrimPrefix(text.Bytes(), []byte("\ufeff")))).ReadAll()
	require.NoError(t, err)
	assert.Len(t, rows, 1+len(records[0].Steps))
	column := func(name string) int { return slices.Index(rows[0], name) }
	assert.Equal(t, []string{"FL-01", "Calm Case Wipes", "L-wipes", "4", "0.0", "Ines Corvane", s.Override}, []string{
		rows[1][column("tag")], rows[1][column("product")], rows[1][column("lot")], rows[1][column("contact_minutes_required")],
		rows[1][column("minutes_kept")],
		rows[1][column("person")], rows[1][column("override")],
	})
	first, last := thisDay, thisDay-1
	fault(t, h.Bench.WriteRecords(ctx, h.director, &first, &last, formats.CSV(&text)), journal.Invalid)
}

// Interrupted work goes on from where it stands: with other people, without what was taken off, and with the soak at its time.
func TestWorkIsPlannedAfresh(t *testing.T) {
	h := atTheBench(t)
	run := h.begin(catalog.Turnover, "CL-01", "SX-01", "FL-01", "VN-01")
	run = h.through(run, "CL-01", "Soak the mouthpiece")
	got, err := h.step(run, "CL-01", "begin", "")
	require.NoError(t, err)
	h.now = h.now.Add(2 * time.Minute)
	again, err := h.ReplanBench(ctx, h.director, run.ID, bench.Reworking{People: 1, Stations: map[string]int{"drying": 1}})
	require.NoError(t, err)
	rinse := item(t, again.Run, "CL-01").Steps[next(t, got.Run, "CL-01").N+1]
	assert.Equal(t, "Rinse off the vinegar", rinse.Name)
	wait := rinse.PlannedAt.Sub(h.now)
	assert.True(t, 3*time.Minute <= wait && wait <= 5*time.Minute, "after five minutes of soaking and no more than seven: %v", wait)
	for _, i := range again.Run.Items {
		for _, s := range i.Steps {
			if s.Person != nil && s.BegunAt == nil {
				assert.Zero(t, *s.Person, "one person is left")
			}
		}
	}
	fault1 := func(in bench.Reworking) *journal.Fault {
		_, err := h.ReplanBench(ctx, h.director, run.ID, in)
		return fault(t, err, journal.Invalid)
	}
	assert.Equal(t, "stations.drying", fault1(bench.Reworking{People: 1, Stations: map[string]int{"drying": 0}}).Fields[0].Path)
	assert.Equal(t, "stations.moon", fault1(bench.Reworking{People: 1, Stations: map[string]int{"moon": 1}}).Fields[0].Path)

	h.now = h.now.Add(9 * time.Minute)
	bell := 30
	late, err := h.ReplanBench(ctx, h.director, run.ID, bench.Reworking{People: 2, Minutes: &bell})
	require.NoError(t, err, "a soak that waits too long already stops nobody")
	assert.True(t, next(t, late.Run, "CL-01").TooLong)
	assert.True(t, late.Run.FinishBy.Equal(h.now.Add(30*time.Minute)))
	free, err := h.ReplanBench(ctx, h.director, run.ID, bench.Reworking{People: 2})
	require.NoError(t, err)
	assert.Nil(t, free.Run.FinishBy, "no bell any more")

	_, err = h.TakeOffBench(ctx, h.director, run.ID, bench.TakingOff{InstrumentID: h.id("SX-01"), Because: " "})
	fault(t, err, journal.Invalid)
	off, err := h.TakeOffBench(ctx, h.director, run.ID, bench.TakingOff{InstrumentID: h.id("SX-01"), Because: "a pad fell out"})
	require.NoError(t, err)
	assert.Equal(t, "taken off", item(t, off.Run, "SX-01").State)
	_, err = h.TickBench(ctx, h.director, run.ID, bench.Tick{InstrumentID: h.id("SX-01"), N: 0, Do: "begin"})
	fault(t, err, journal.Conflict)
	ended, err := h.EndBench(ctx, h.director, run.ID)
	require.NoError(t, err)
	require.NotNil(t, ended.Run.EndedAt)
	for _, tag := range []string{"CL-01", "SX-01", "FL-01"} {
		assert.NotEmpty(t, h.listed(tag).Held, "%s is not done and stays held", tag)
	}
	_, err = h.TickBench(ctx, h.director, run.ID, bench.Tick{InstrumentID: h.id("FL-01"), N: 0, Do: "begin"})
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "was ended")
}

// Mould goes outdoors and to the shop; nobody gets it back from the bench.
func TestMouldStaysHeld(t *testing.T) {
	h := atTheBench(t)
	h.inspect("CL-01", map[string]inspection.Found{"case": {Code: "mould"}})
	list, err := h.Bench.Overview(ctx, h.director)
	require.NoError(t, err)
	n := slices.IndexFunc(list.Waiting, func(f bench.ForBench) bool { return f.Tag == "CL-01" })
	assert.Equal(t, catalog.Mould, list.Waiting[n].Reason)
	plan, err := h.Bench.Plan(ctx, h.director, h.benching(catalog.Turnover, "CL-01"))
	require.NoError(t, err)
	assert.Contains(t, plan.Items[0].Cannot, "stopped")
	_, err = h.BeginBench(ctx, h.director, h.benching(catalog.Turnover, "CL-01"))
	fault(t, err, journal.Conflict)
	h.through(h.begin(catalog.Mould, "CL-01"), "CL-01", "")
	assert.Equal(t, "Waiting for the shop after mould.", h.listed("CL-01").Held)
	list, err = h.Bench.Overview(ctx, h.director)
	require.NoError(t, err)
	assert.False(
		t,
		slices.ContainsFunc(list.Waiting, func(f bench.ForBench) bool { return f.Tag == "CL-01" }),
		"the bench has done what it can",
	)
}

// A bath is done at the bench and its clock begins again; nobody was holding the trumpet.
func TestABathAtTheBench(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind,care_from\nTR-01,trumpet,2026-01-01\n")
	h.roster(players, nil)
	list, err := h.Bench.Overview(ctx, h.director)
	require.NoError(t, err)
	assert.True(
		t,
		slices.ContainsFunc(
			list.Waiting,
			func(f bench.ForBench) bool { return f.Tag == "TR-01" && f.Reason == catalog.DeepClean && !f.Held },
		),
	)
	run := h.begin(catalog.DeepClean, "TR-01")
	_, err = h.Lending.HandOut(
		ctx,
		h.director,
		lending.HandOut{Pairs: []school.Pair{{PlayerID: h.player("Ode Marchetti").ID, InstrumentID: h.id("TR-01")}}},
	)
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "lies on the bench")
	h.through(run, "TR-01", "")
	assert.Zero(t, h.clock("TR-01", clocks.Key{Routine: "valve-brass-bath"}).Elapsed.Days)
	assert.Empty(t, h.listed("TR-01").Held)
}

// What could only do harm is not taken in, and what is out of date is not used.
func TestAProductWithoutALabelIsRefused(t *testing.T) {
	h := atTheBench(t)
	for path, change := range map[string]func(*benchrows.Product){
		"contact_minutes": func(p *benchrows.Product) { p.ContactMinutes = 0 },
		"surfaces":        func(p *benchrows.Product) { p.Surfaces = nil },
		"surfaces[0]":     func(p *benchrows.Product) { p.Surfaces = []string{"moon"} },
		"made_of":         func(p *benchrows.Product) { p.MadeOf = nil },
		"made_of[0]":      func(p *benchrows.Product) { p.MadeOf = []string{"household-polish"} },
		"made_of[1]":      func(p *benchrows.Product) { p.MadeOf = []string{"chlorine", "acid"} },
		"supply":          func(p *benchrows.Product) { p.Supply = "mute" },
		"name":            func(p *benchrows.Product) { p.Name = " " },
		"id":              func(p *benchrows.Product) { p.ID = uuid.Nil },
	} {
		p := alcohol
		p.ID, p.Name = uuid.New(), "Another"
		change(&p)
		assert.Equal(t, path, fault(t, h.Products.SaveProduct(ctx, h.director, p), journal.Invalid).Fields[0].Path)
	}
	twice := alcohol
	twice.ID = uuid.New()
	assert.Equal(t, "name", fault(t, h.Products.SaveProduct(ctx, h.director, twice), journal.Invalid).Fields[0].Path)
	stale := alcohol
	stale.Version = 7
	fault(t, h.Products.SaveProduct(ctx, h.director, stale), journal.Conflict)
	assert.Equal(
		t,
		"at_once",
		fault(t, h.Products.SaveVessel(ctx, h.director, hygiene.Vessel{InnerDiameterMM: 80, CorkHeightMM: 60}), journal.Invalid).Fields[0].Path,
	)
	require.NoError(
		t,
		h.Products.SaveVessel(ctx, h.director, hygiene.Vessel{InnerDiameterMM: 100, CorkHeightMM: 60, MouthpieceVolumeML: 12, AtOnce: 4}),
	)

	h.now = h.now.AddDate(1, 0, 0) // the lots are out of date
	all, err := h.Products.Products(ctx, h.director)
	require.NoError(t, err)
	assert.Equal(t, "All of it is out of date.", all.Products[0].Warning)
	assert.Equal(t, 4, all.Vessel.AtOnce)
	plan, err := h.Bench.Plan(ctx, h.director, h.benching(catalog.Turnover, "CL-01"))
	require.NoError(t, err)
	assert.Contains(t, plan.Items[0].Cannot, "None of it is in stock and in date.")
	_, err = h.Bench.Plan(
		ctx,
		h.director,
		bench.Benching{People: 1, Instruments: []bench.OnBench{{InstrumentID: uuid.New(), Reason: catalog.Turnover}}},
	)
	fault(t, err, journal.Invalid)
}

// Both numbers of what fits before the bell are the planner's own; a longer time never fits fewer.
func TestWhatFitsBeforeTheBell(t *testing.T) {
	h := atTheBench(t)
	before := -1
	for _, minutes := range []int{20, 60, 120, 300} {
		in := h.benching(catalog.Turnover, "CL-01", "FL-01", "TR-01", "VN-01")
		in.Minutes = &minutes
		plan, err := h.Bench.Plan(ctx, h.director, in)
		require.NoError(t, err)
		assert.GreaterOrEqual(t, len(plan.ByTheBell), before, fmt.Sprint(minutes))
		before = len(plan.ByTheBell)
	}
	assert.Equal(t, 4, before)
}
