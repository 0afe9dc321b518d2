package app_test

import (
	"bytes"
	"fmt"
	"strings"
	"sync"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

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
	"solfeggio/internal/store/playerrows"
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
	p := playerrows.Player{
		ID:           uuid.New(),
		GivenName:    " Ode ",
		Kind:         "violin",
		Ensembles:    []uuid.UUID{},
		Measurements: []playerrows.Measurement{{MeasuredOn: thisDay, ArmLength: &arm}},
	}
	require.NoError(t, h.Roster.SavePlayer(ctx, h.director, p))
	assert.Equal(t, "3/4", h.player("Ode").Size.Size)
	fault(t, h.Roster.SavePlayer(ctx, h.director, playerrows.Player{ID: p.ID, GivenName: "Ode", Version: 7}), journal.Conflict)
	for path, spoil := range map[string]func(*playerrows.Player){
		"given_name": func(p *playerrows.Player) { p.GivenName = " " }, "kind": func(p *playerrows.Player) { p.Kind = "kazoo" },
		"measurements[0].measured_on": func(p *playerrows.Player) { p.Measurements[0].MeasuredOn = thisDay + 1 },
		"measurements[1].measured_on": func(p *playerrows.Player) { p.Measurements = append(p.Measurements, p.Measurements[0]) },
	} {
		q := p
		q.Measurements = append([]playerrows.Measurement{}, p.Measurements...)
		spoil(&q)
		assert.Equal(t, path, fault(t, h.Roster.SavePlayer(ctx, h.director, q), journal.Invalid).Fields[0].Path)
	}
	helper := h.director
	helper.Role = journal.Helper
	fault(t, h.Roster.SavePlayer(ctx, helper, p), journal.Forbidden)
}

const threeViolins = "tag,kind,size,care_from\nVN-01,violin,4/4,2026-11-01\nVN-02,violin,3/4,2026-11-01\nVN-03,violin,1/4,2026-11-01\n"

var even = assign.Weights{Size: 1, Grade: 1, Kept: 1}

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
