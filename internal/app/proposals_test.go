package app_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/placing"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/assign"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store/instrumentrows"
	"solfeggio/internal/store/playerrows"
)

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
	for _, wish := range []placing.Wish{{Pins: append(held, held[0])},
		{Pins: append(held, school.Pair{PlayerID: ode.ID, InstrumentID: h.id("VN-01")})},
		{Pins: append(held, school.Pair{PlayerID: ilse.ID, InstrumentID: h.id("VN-02")})}} {
		_, err = h.Placing.Propose(ctx, h.director, wish)
		assert.Equal(t, "pins[1]", fault(t, err, journal.Invalid).Fields[0].Path)
	}
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
		p := playerrows.Player{ID: uuid.New(), GivenName: name, Kind: "violin", Ensembles: []uuid.UUID{}}
		for n := range cm {
			p.Measurements = append(p.Measurements, playerrows.Measurement{MeasuredOn: thisDay - day.Day(365*(len(cm)-1-n)), ArmLength: &cm[n]})
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
		h.Rentals.SaveRental(
			ctx,
			h.director,
			h.id("VN-02"),
			instrumentrows.Rental{ID: uuid.New(), Owner: "Marrow Hire", StartsOn: thisDay, ReturnBy: &ends},
		),
	)
	got, err = h.Placing.Outgrow(ctx, h.director, 0)
	require.NoError(t, err)
	assert.Equal(t, []string{"VN-01", "Ode"}, []string{got.Who[2].Gets.Tag, got.Who[2].Gets.BackFrom})
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
