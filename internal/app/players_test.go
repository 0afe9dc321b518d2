package app_test

import (
	"bytes"
	"fmt"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/placing"
	"solfeggio/internal/app/roster"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/assign"
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/formats"
	"solfeggio/internal/store"
)

func (h *house) roster(csv string, change func(*roster.RosterFile)) roster.RosterReport {
	h.t.Helper()
	file := roster.RosterFile{Content: []byte(csv)}
	if change != nil {
		change(&file)
	}
	report, err := h.Roster.ImportRoster(ctx, h.director, file)
	require.NoError(h.t, err)
	return report
}

func (h *house) player(name string) roster.ListedPlayer {
	h.t.Helper()
	list, err := h.Roster.Players(ctx, h.director)
	require.NoError(h.t, err)
	for _, p := range list {
		if p.Name == name {
			return p
		}
	}
	require.Fail(h.t, "no player "+name)
	return roster.ListedPlayer{}
}

const players = "external_id,given_name,family_name,grade_year,ensembles,instrument,arm_length_cm,transport\n" +
	"p1,Ode,Marchetti,7,String orchestra,violin,60,bus\np2,Ilse,Quandt,8,String orchestra;Wind band,violin,57.5,\np3,Bram,Osei,8,String orchestra,Violin,,car\n"

func TestARosterComesInAgainAndAgain(t *testing.T) {
	h := newHouse(t)
	dry := h.roster(players, func(f *roster.RosterFile) { f.DryRun = true })
	assert.Equal(t, []int{3, 3, 0}, []int{dry.Rows, dry.Added, dry.Changed})
	assert.Equal(t, []string{"String orchestra", "Wind band"}, dry.NewEnsembles)
	none, err := h.Roster.Players(ctx, h.director)
	require.NoError(t, err)
	assert.Empty(t, none, "a dry run keeps nothing")

	assert.Equal(t, 3, h.roster(players, nil).Added)
	again := h.roster(players, nil)
	assert.Equal(t, []int{0, 0, 3}, []int{again.Added, again.Changed, again.Unchanged}, "no duplicates")
	ode := h.player("Ode Marchetti")
	assert.Equal(t, "violin", ode.Kind)
	assert.Equal(t, "4/4", ode.Size.Size)
	assert.Equal(t, []string{"String orchestra", "Wind band"}, h.player("Ilse Quandt").EnsembleNames)

	// A year on: one moved up and grew, one is gone, one is new.
	h.now = h.now.AddDate(1, 0, 0)
	moved := strings.Replace(
		strings.Replace(players, "p3,Bram,Osei,8,String orchestra,Violin,,car\n", "p4,Tiva,Lorne,7,Wind band,flute,,\n", 1),
		"p2,Ilse,Quandt,8,String orchestra;Wind band,violin,57.5",
		"p2,Ilse,Quandt,9,Wind band,violin,59",
		1,
	)
	next := h.roster(moved, func(f *roster.RosterFile) { f.MarkLeavers = true })
	assert.Equal(t, []int{1, 1, 1}, []int{next.Added, next.Changed, next.Unchanged})
	require.Len(t, next.Leavers, 1)
	assert.Equal(t, "Bram Osei", next.Leavers[0].Name)
	assert.NotNil(t, h.player("Bram Osei").LeftOn)
	ilse := h.player("Ilse Quandt")
	assert.Equal(t, []string{"Wind band"}, ilse.EnsembleNames)
	require.Len(t, ilse.Measurements, 2)
	assert.Equal(t, "4/4", ilse.Size.Next)
	require.NotNil(t, ilse.Size.NextOn, "1.5 cm in a year; from 59 to 59.5 cm")
	assert.Equal(t, day.MustParse("2027-11-24")+122, *ilse.Size.NextOn)
}

func TestARosterWithFaults(t *testing.T) {
	h := newHouse(t)
	bad := h.roster(
		"given_name,family_name,instrument,height_cm,transport\nOde,Marchetti,kazoo,,\nIlse,Quandt,,12 feet,\nIlse,Quandt,,,\n,Osei,,,broom\n",
		nil,
	)
	var found []string
	for _, f := range bad.Faults {
		found = append(found, fmt.Sprint(f.Row, " ", f.Column, " ", strings.SplitN(f.Message, ";", 2)[0]))
	}
	assert.Equal(
		t,
		[]string{
			"2 instrument is no kind of instrument that Solfeggio knows",
			"3 height_cm is no number from 30 to 250",
			"4 external_id is the same player as row 3",
			"5 given_name is empty",
		},
		found,
	)
	assert.Zero(t, bad.Added)
	guessed := h.roster("Vorname;Nachname;Klasse;Spitzname\nOde;Marchetti;7;Odi\n", func(f *roster.RosterFile) { f.DryRun = true })
	assert.Equal(t, []formats.ReadColumn{
		{Theirs: "vorname", Ours: "given_name", Example: "Ode"}, {Theirs: "nachname", Ours: "family_name", Example: "Marchetti"},
		{Theirs: "klasse", Ours: "grade_year", Example: "7"}, {Theirs: "spitzname", Example: "Odi"},
	}, guessed.AsRead.Columns)
	const odd = "Wer;Stufe oder so\nOde Marchetti;7\n"
	assert.Contains(t, h.roster(odd, nil).Faults[0].Message, "say which column holds it")
	named := func(columns map[string]string) func(*roster.RosterFile) {
		return func(f *roster.RosterFile) { f.Reading.Columns = columns }
	}
	assert.Len(t, h.roster(odd, named(map[string]string{"Wer": "given_name", "Alter": "age", "Stufe oder so": "shoe"})).Faults, 2)
	require.Empty(t, h.roster(odd, named(map[string]string{"Wer": "given_name", "Stufe oder so": "grade_year"})).Faults)
	assert.Equal(t, "7", h.player("Ode Marchetti").GradeYear)
	again := h.roster(odd, nil)
	assert.Empty(t, again.Faults, "how it was read the last time is remembered")
	assert.Equal(t, 1, again.Unchanged)
	broken := h.roster("PK\x03\x04 not really a zip", nil)
	assert.Contains(t, broken.Faults[0].Message, "not a zip archive")
}

func TestSavingAPlayer(t *testing.T) {
	h := newHouse(t)
	arm := 56.
	p := store.Player{
		ID:           uuid.New(),
		GivenName:    " Ode ",
		Kind:         "violin",
		Ensembles:    []uuid.UUID{},
		Measurements: []store.Measurement{{MeasuredOn: thisDay, ArmLength: &arm}},
	}
	require.NoError(t, h.Roster.SavePlayer(ctx, h.director, p))
	assert.Equal(t, "3/4", h.player("Ode").Size.Size)
	fault(t, h.Roster.SavePlayer(ctx, h.director, store.Player{ID: p.ID, GivenName: "Ode", Version: 7}), journal.Conflict)
	for path, spoil := range map[string]func(*store.Player){
		"given_name": func(p *store.Player) { p.GivenName = " " }, "kind": func(p *store.Player) { p.Kind = "kazoo" },
		"measurements[0].measured_on": func(p *store.Player) { p.Measurements[0].MeasuredOn = thisDay + 1 },
		"measurements[1].measured_on": func(p *store.Player) { p.Measurements = append(p.Measurements, p.Measurements[0]) },
	} {
		q := p
		q.Measurements = append([]store.Measurement{}, p.Measurements...)
		spoil(&q)
		assert.Equal(t, path, fault(t, h.Roster.SavePlayer(ctx, h.director, q), journal.Invalid).Fields[0].Path)
	}
	helper := h.director
	helper.Role = journal.Helper
	fault(t, h.Roster.SavePlayer(ctx, helper, p), journal.Forbidden)
}

const threeViolins = "tag,kind,size,care_from\nVN-01,violin,4/4,2026-11-01\nVN-02,violin,3/4,2026-11-01\nVN-03,violin,1/4,2026-11-01\n"

var even = assign.Weights{Size: 1, Grade: 1, Kept: 1}

func pairsOf(p placing.Proposal) map[string]string {
	pairs := map[string]string{}
	for _, x := range p.Pairs {
		pairs[x.Player] = x.Tag
	}
	return pairs
}

// Three players, three violins: the sizes decide; one violin fits nobody; a stopped one is nobody's.
func TestAProposalWithItsReasons(t *testing.T) {
	h := newHouse(t)
	h.bring(threeViolins)
	h.roster(players, nil)
	got, err := h.Placing.Propose(ctx, h.director, placing.Wish{Weights: even})
	require.NoError(t, err)
	assert.Equal(t, map[string]string{"Ode Marchetti": "VN-01", "Ilse Quandt": "VN-02", "Bram Osei": "VN-03"}, pairsOf(got))
	assert.Contains(t, got.Pairs[0].Why.Statement, "3 players")
	assert.NotEmpty(t, got.Pairs[0].Parts)

	ode, ilse := h.player("Ode Marchetti"), h.player("Ilse Quandt")
	pinned, err := h.Placing.Propose(
		ctx,
		h.director,
		placing.Wish{
			Weights:  even,
			Pins:     []school.Pair{{PlayerID: ode.ID, InstrumentID: h.id("VN-02")}},
			Refusals: []school.Pair{{PlayerID: ilse.ID, InstrumentID: h.id("VN-01")}},
		},
	)
	require.NoError(t, err)
	assert.Equal(
		t,
		map[string]string{"Ode Marchetti": "VN-02", "Bram Osei": "VN-01"},
		pairsOf(pinned),
		"one pinned, one refused; a quarter size does not fit Ilse",
	)
	require.Len(t, pinned.Without, 1)
	assert.Equal(t, "Ilse Quandt", pinned.Without[0].Player)
	assert.Equal(t, []placing.Needed{{KindName: "Violin", Size: "3/4", Count: 1, Months: 10}}, pinned.Order)

	h.inspect("VN-02", openSeam)
	stopped, err := h.Placing.Propose(ctx, h.director, placing.Wish{Weights: even, Kinds: []string{"violin"}})
	require.NoError(t, err)
	assert.NotContains(t, pairsOf(stopped), "VN-02")
	assert.Equal(t, "2 are free for 3 players", stopped.Without[0].Because)
	_, err = h.Placing.Propose(ctx, h.director, placing.Wish{Pins: []school.Pair{{PlayerID: uuid.New(), InstrumentID: uuid.New()}}})
	assert.Equal(t, "pins[0]", fault(t, err, journal.Invalid).Fields[0].Path)

	// A pin on what is not free says so and leaves the others alone; a player is pinned once.
	held := []school.Pair{{PlayerID: ode.ID, InstrumentID: h.id("VN-02")}}
	late, err := h.Placing.Propose(ctx, h.director, placing.Wish{Weights: even, Pins: held})
	require.NoError(t, err)
	assert.Equal(t, "settled on VN-02, which is not free", late.Without[0].Because)
	assert.NotEmpty(t, late.Pairs)
	for _, wish := range []placing.Wish{{Pins: append(held, held[0])}, {Pins: append(held, school.Pair{PlayerID: ode.ID, InstrumentID: h.id("VN-01")})}, {Pins: append(held, school.Pair{PlayerID: ilse.ID, InstrumentID: h.id("VN-02")})}} {
		_, err = h.Placing.Propose(ctx, h.director, wish)
		assert.Equal(t, "pins[1]", fault(t, err, journal.Invalid).Fields[0].Path)
	}
}

func TestHandingOutAndTakingBack(t *testing.T) {
	h := newHouse(t)
	h.bring(threeViolins)
	h.roster(players, nil)
	ode, ilse := h.player("Ode Marchetti"), h.player("Ilse Quandt")
	give := func(p roster.ListedPlayer, tag string) error {
		_, err := h.Lending.HandOut(ctx, h.director, lending.HandOut{Pairs: []school.Pair{{PlayerID: p.ID, InstrumentID: h.id(tag)}}})
		return err
	}
	require.NoError(t, give(ode, "VN-01"))
	assert.Equal(t, "Ode Marchetti", h.listed("VN-01").Holder)
	assert.Equal(t, school.WithPlayer, h.listed("VN-01").Mark)
	assert.Equal(t, "VN-01", h.player("Ode Marchetti").Holds[0].Tag)
	fault(t, give(ilse, "VN-01"), journal.Conflict)
	h.inspect("VN-02", openSeam)
	assert.Contains(t, fault(t, give(ilse, "VN-02"), journal.Conflict).Message, "is stopped")
	_, err := h.Lending.HandOut(
		ctx,
		h.director,
		lending.HandOut{
			Pairs: []school.Pair{{PlayerID: ilse.ID, InstrumentID: h.id("VN-03")}, {PlayerID: uuid.New(), InstrumentID: h.id("VN-03")}},
		},
	)
	assert.Equal(t, "pairs[1].player_id", fault(t, err, journal.Invalid).Fields[0].Path)
	assert.Empty(t, h.listed("VN-03").Holder, "all or none")

	h.now = h.now.AddDate(0, 0, 30)
	_, err = h.Lending.Return(ctx, h.director, h.id("VN-01"), lending.Returning{})
	require.NoError(t, err)
	assert.Empty(t, h.listed("VN-01").Holder)
	assert.Equal(t, care.Due, h.clock("VN-01", clocks.Key{Routine: "strings-term-check"}).State, "what comes back is looked at")
	_, err = h.Lending.Return(ctx, h.director, h.id("VN-01"), lending.Returning{})
	assert.Contains(t, fault(t, err, journal.Conflict).Message, "nobody's hands")
	again, err := h.Placing.Propose(ctx, h.director, placing.Wish{Weights: assign.Weights{Kept: 1}})
	require.NoError(t, err)
	for _, p := range again.Pairs {
		if p.Player == "Ode Marchetti" {
			assert.Equal(t, "VN-01", p.Tag, "who had it before keeps it where nothing else counts")
		}
	}
}

// Many desks hand the same violin out at once: one succeeds, the others are told.
func TestNoInstrumentIsInTwoHands(t *testing.T) {
	h := newHouse(t)
	h.bring(threeViolins)
	h.roster(players, nil)
	list, err := h.Roster.Players(ctx, h.director)
	require.NoError(t, err)
	results := make([]error, 6)
	var wait sync.WaitGroup
	for n := range results {
		wait.Go(func() {
			_, results[n] = h.another().Lending.HandOut(
				ctx,
				h.director,
				lending.HandOut{Pairs: []school.Pair{{PlayerID: list[n%3].ID, InstrumentID: h.id("VN-01")}}},
			)
		})
	}
	wait.Wait()
	won := 0
	for _, err := range results {
		if err == nil {
			won++
		} else {
			fault(t, err, journal.Conflict)
		}
	}
	assert.Equal(t, 1, won)
}

// What is handed out in a hurry is handed out, and what speaks against it is said.
func TestAPairThatIsAmiss(t *testing.T) {
	h := newHouse(t)
	h.bring(
		"tag,kind,size,care_from\nVN-01,violin,4/4,2026-11-01\nVN-02,violin,1/2,2026-11-01\nTR-01,trumpet,,2026-11-01\nFL-01,flute,,2026-11-01\n",
	)
	h.roster("given_name,instrument,arm_length_cm\nOde,violin,60\nIlse,violin,60\nBram,violin,\nTiva,,\n", nil)
	var in lending.HandOut
	for _, pair := range [][2]string{{"Ode", "VN-01"}, {"Ilse", "VN-02"}, {"Bram", "TR-01"}, {"Tiva", "FL-01"}} {
		in.Pairs = append(in.Pairs, school.Pair{PlayerID: h.player(pair[0]).ID, InstrumentID: h.id(pair[1])})
	}
	got, err := h.Lending.HandOut(ctx, h.director, in)
	require.NoError(t, err)
	assert.Len(t, got.Events, 4)
	assert.Equal(t, []string{"", "measures for 4/4, this is 1/2: make the checks", "learns the violin by the roster", ""}, got.Amiss)
}

// Who is 1.5 cm short of the next size and grows 3 cm a year needs it in half a year; who holds too small a one needs it now.
func TestWhoOutgrowsWhat(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind,size,care_from\nVN-01,violin,1/2,2026-11-01\nVN-02,violin,1/2,2026-11-01\nVN-03,violin,3/4,2026-11-01\n")
	grows := func(name string, cm ...float64) {
		p := store.Player{ID: uuid.New(), GivenName: name, Kind: "violin", Ensembles: []uuid.UUID{}}
		for n := range cm {
			p.Measurements = append(p.Measurements, store.Measurement{MeasuredOn: thisDay - day.Day(365*(len(cm)-1-n)), ArmLength: &cm[n]})
		}
		require.NoError(t, h.Roster.SavePlayer(ctx, h.director, p))
	}
	grows("Ode", 51.5, 54.5)
	grows("Ilse", 57)
	grows("Bram", 52, 52)
	grows("Finn", 46.4, 49.4)
	give := func(name, tag string) {
		_, err := h.Lending.HandOut(
			ctx,
			h.director,
			lending.HandOut{Pairs: []school.Pair{{PlayerID: h.player(name).ID, InstrumentID: h.id(tag)}}},
		)
		require.NoError(t, err)
	}
	give("Ode", "VN-01")
	give("Ilse", "VN-02")
	got, err := h.Placing.Outgrow(ctx, h.director, 0)
	require.NoError(t, err)
	require.Len(t, got.Who, 3)
	assert.Equal(t, []string{"Ilse", "1/2", "3/4"}, []string{got.Who[0].Player, got.Who[0].Holds, got.Who[0].Next})
	assert.Nil(t, got.Who[0].On, "already")
	assert.Equal(t, "Ode", got.Who[1].Player)
	assert.Equal(t, thisDay+183, *got.Who[1].On)
	assert.Equal(t, placing.Getting{InstrumentID: h.id("VN-03"), Tag: "VN-03"}, *got.Who[0].Gets, "it stands free")
	assert.Nil(t, got.Who[1].Gets)
	ready := thisDay + 7
	assert.Equal(t, "Finn", got.Who[2].Player)
	assert.Equal(
		t,
		placing.Getting{InstrumentID: h.id("VN-02"), Tag: "VN-02", BackFrom: "Ilse", ReadyOn: &ready},
		*got.Who[2].Gets,
		"once Ilse has the next size",
	)
	assert.Equal(t, []placing.Needed{{KindName: "Violin", Size: "3/4", Count: 1, Months: 10}}, got.Order, "two are needed, one stands free")
	soon, err := h.Placing.Outgrow(ctx, h.director, thisDay+30)
	require.NoError(t, err)
	assert.Len(t, soon.Who, 1)

	// What goes back to its owner before it is needed helps nobody.
	ends := thisDay + 100
	require.NoError(
		t,
		h.Inventory.SaveRental(
			ctx,
			h.director,
			h.id("VN-02"),
			store.Rental{ID: uuid.New(), Owner: "Marrow Hire", StartsOn: thisDay, ReturnBy: &ends},
		),
	)
	got, err = h.Placing.Outgrow(ctx, h.director, 0)
	require.NoError(t, err)
	assert.Equal(t, []string{"VN-01", "Ode"}, []string{got.Who[2].Gets.Tag, got.Who[2].Gets.BackFrom})
}

func TestLabels(t *testing.T) {
	h := newHouse(t)
	h.bring(threeViolins)
	var file bytes.Buffer
	require.NoError(t, h.Inventory.Labels(ctx, h.director, inventory.LabelWish{Tags: []string{"VN-01", " vn-02"}, Sheet: "a4-24"}, &file))
	assert.Equal(t, "%PDF", file.String()[:4])
	for path, wish := range map[string]inventory.LabelWish{
		"tags[0]": {Tags: []string{"XX-1"}, Sheet: "a4-24"}, "sheet": {Tags: []string{"VN-01"}, Sheet: "a9"},
		"skip": {Tags: []string{"VN-01"}, Sheet: "a4-14", Skip: 14},
	} {
		assert.Equal(t, path, fault(t, h.Inventory.Labels(ctx, h.director, wish, &file), journal.Invalid).Fields[0].Path)
	}
}

// Whatever is pinned and ruled out: nobody gets two, no violin goes twice, a stopped one not at all, what was ruled out never,
// and what was pinned and is free always.
func TestAProposalKeepsItsPromises(t *testing.T) {
	h := newHouse(t)
	var csv, roster strings.Builder
	csv.WriteString("tag,kind,size,care_from\n")
	roster.WriteString("external_id,given_name,instrument,arm_length_cm\n")
	for n := range 8 {
		fmt.Fprintf(&csv, "VN-%02d,violin,%s,2026-11-01\n", n+1, []string{"1/2", "3/4", "4/4"}[n%3])
		fmt.Fprintf(&roster, "p%d,Player %d,violin,%s\n", n, n, []string{"", "54", "57", "62"}[n%4])
	}
	h.bring(csv.String())
	h.roster(roster.String(), nil)
	h.inspect("VN-03", openSeam)
	stopped := h.id("VN-03")
	list, err := h.Roster.Players(ctx, h.director)
	require.NoError(t, err)
	instruments, err := h.Inventory.Instruments(ctx, h.director)
	require.NoError(t, err)
	rapid.Check(t, func(rt *rapid.T) {
		anyPair := rapid.Custom(func(t *rapid.T) school.Pair {
			return school.Pair{
				PlayerID:     rapid.SampledFrom(list).Draw(t, "player").ID,
				InstrumentID: rapid.SampledFrom(instruments).Draw(t, "violin").ID,
			}
		})
		weight := rapid.Float64Range(0, 10)
		wish := placing.Wish{
			Weights: assign.Weights{Size: weight.Draw(rt, "size"), Grade: weight.Draw(rt, "grade"), Kept: weight.Draw(rt, "kept")},
			Pins:    rapid.SliceOfN(anyPair, 0, 3).Draw(rt, "pins"), Refusals: rapid.SliceOfN(anyPair, 0, 20).Draw(rt, "refusals"),
		}
		got, err := h.Placing.Propose(ctx, h.director, wish)
		if err != nil {
			require.Equal(rt, "pins", strings.SplitN(fault(t, err, journal.Invalid).Fields[0].Path, "[", 2)[0])
			return
		}
		require.Equal(rt, len(list), len(got.Pairs)+len(got.Without), "everybody is told something")
		players, tags, sum := map[uuid.UUID]bool{}, map[string]bool{"VN-03": true}, 0.
		for _, p := range got.Pairs {
			require.False(rt, players[p.PlayerID] || tags[p.Tag], "%s, %s", p.Player, p.Tag)
			require.NotContains(rt, wish.Refusals, p.Pair)
			require.Equal(rt, slices.Contains(wish.Pins, p.Pair), p.Pinned)
			players[p.PlayerID], tags[p.Tag] = true, true
			sum += p.Cost
		}
		require.InDelta(rt, sum, got.Total, 1e-9)
		for _, pin := range wish.Pins {
			if pin.InstrumentID != stopped {
				require.True(rt, players[pin.PlayerID], "pinned, but without")
			}
		}
		ordered := 0
		for _, o := range got.Order {
			ordered += o.Count
		}
		require.Equal(rt, len(got.Without), ordered)
	})
}
