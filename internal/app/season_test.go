package app_test

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app"
	"solfeggio/internal/app/bench"
	"solfeggio/internal/app/care"
	"solfeggio/internal/app/importing"
	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/placing"
	"solfeggio/internal/app/preparing"
	"solfeggio/internal/app/rentals"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/settings"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/app/upkeep"
	corecare "solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/condition"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/schoolrows"
	"solfeggio/internal/store/supplyrows"
	"solfeggio/internal/store/upkeeprows"
)

// weeksOfDeeds are weeks of whatever people do to four violins, one deed after another, by chance but the same each time.
type weeksOfDeeds struct {
	*house
	second *app.App // another process that keeps the school in mind
	r      *rand.Rand
	events []uuid.UUID // that can be taken back, perhaps
	done   map[string]int
}

func pick[T any](r *rand.Rand, list []T) (one T) {
	if len(list) > 0 {
		one = list[r.IntN(len(list))]
	}
	return one
}

// deed does something to an instrument. A refusal is fine, as long as it is said in words for people.
func (s *weeksOfDeeds) deed(i school.Listed, file inventory.File) (name string, err error) {
	changed := journal.Changed{}
	defer func() { s.events = append(s.events, changed.Events...) }()
	list, err := s.Roster.Players(ctx, s.director)
	if err != nil {
		return "players", err
	}
	switch s.r.IntN(28) {
	case 0, 1:
		task := pick(s.r, pick(s.r, file.Parts).Clocks)
		got, err := s.Care.Finish(ctx, s.director, care.Finish{Tasks: []care.FinishTask{{InstrumentID: i.ID, Key: task.Key}}})
		changed.Events = got.Events
		return "tick", err
	case 2:
		out, err := s.Lending.HandOut(
			ctx,
			s.director,
			lending.HandOut{Pairs: []school.Pair{{PlayerID: pick(s.r, list).ID, InstrumentID: i.ID}}},
		)
		changed.Events = out.Events
		return "hand out", err
	case 3:
		changed, err = s.Lending.Return(ctx, s.director, i.ID, lending.Returning{})
		return "return", err
	case 4:
		code := pick(s.r, []string{"open-seam", "peg-slips", "strings-stand-high", "bow-hair-worn"})
		_, err = s.Inspection.ReportFinding(ctx, s.director, i.ID, inspection.Report{ID: uuid.New(), Found: inspection.Found{Code: code}})
		return "report", err
	case 5:
		if len(file.Findings) == 0 {
			return "nothing to clear", nil
		}
		got, err := s.Inspection.ClearFinding(ctx, s.director, pick(s.r, file.Findings).ID, inspection.Clearing{How: "Mended."})
		changed.Events = got.Events
		return "clear", err
	case 6:
		changed, err = s.Inventory.Move(
			ctx,
			s.director,
			inventory.Moves{Moves: []inventory.Move{{InstrumentID: i.ID, Room: "Store", Slot: fmt.Sprintf("A-%02d", s.r.IntN(5)+1)}}},
		)
		return "move", err
	case 7:
		if len(s.events) == 0 {
			return "nothing to undo", nil
		}
		_, err = s.Schools.Undo(ctx, s.director, school.Undo{Events: []uuid.UUID{pick(s.r, s.events)}})
		return "undo", err
	case 8:
		changed, err = s.Bench.Release(ctx, s.director, i.ID, bench.Releasing{How: "Wiped and dried."})
		return "release", err
	case 9:
		thing := pick(s.r, file.Kit)
		changed, err = s.Supply.CheckKit(
			ctx,
			s.director,
			i.ID,
			supply.KitCheck{States: map[string]catalog.KitState{thing.Supply: pick(s.r, thing.States)}},
		)
		return "look through the kit", err
	case 10:
		got, err := s.Supply.Refill(
			ctx,
			s.director,
			supply.Refill{Things: []supply.ThingOfKit{{InstrumentID: i.ID, Supply: pick(s.r, file.Kit).Supply}}},
		)
		changed.Events = got.Events
		return "refill", err
	case 11:
		_, err = s.Supply.CountStock(
			ctx,
			s.director,
			supply.Count{
				Stocked:  supplyrows.Stocked{Supply: pick(s.r, []string{"rosin", "string-cloth", "mute"})},
				Quantity: float64(s.r.IntN(4)),
			},
		)
		return "count", err
	case 12:
		thing := pick(s.r, file.Kit)
		changed, err = s.Lending.HandOver(
			ctx,
			s.director,
			lending.Handing{ID: uuid.New(), Pair: school.Pair{PlayerID: pick(s.r, list).ID, InstrumentID: i.ID},
				Findings: []inspection.Found{
					{Code: "peg-slips"},
				}, Kit: map[string]catalog.KitState{thing.Supply: catalog.Missing}, Signature: lending.Signing{How: "paper", By: "A guardian"}},
		)
		return "hand over", err
	case 13:
		reason := pick(s.r, []catalog.Reason{catalog.Turnover, catalog.Illness, catalog.DeepClean})
		_, err = s.Bench.Begin(
			ctx,
			s.director,
			bench.Benching{People: 1, Instruments: []bench.OnBench{{InstrumentID: i.ID, Reason: reason}}},
		)
		return "begin at the bench", err
	case 14, 15:
		name, changed.Events, err = s.atBench(i, file)
		return name, err
	case 17:
		p := pick(s.r, list).Player
		p.FamilyName = pick(s.r, []string{"Marchetti", "Aalto", "Quandt", ""})
		return "change a player", s.Roster.SavePlayer(ctx, s.director, p)
	case 18:
		settings, err := s.Settings.Settings(ctx, s.director)
		if err != nil {
			return "settings", err
		}
		ensembles := []uuid.UUID{}
		for _, e := range settings.Ensembles {
			ensembles = append(ensembles, e.ID)
		}
		held := thisDay + day.Day(s.r.IntN(200))
		return "put a concert on", s.Settings.SaveConcert(
			ctx,
			s.director,
			schoolrows.Concert{ID: uuid.New(), Name: "Matinee", HeldOn: held, Minutes: 60, PlayFactor: 0.6, Ensembles: ensembles},
		)
	case 19:
		if s.r.IntN(2) > 0 {
			return "nothing leaves", nil
		}
		changed, err = s.Rentals.Leave(ctx, s.director, i.ID, rentals.Leaving{How: "sold"})
		return "leave", err
	case 20:
		tag := fmt.Sprintf("VN-%02d", 5+s.r.IntN(4))
		report, err := s.Importing.Import(ctx, s.director,
			importing.InstrumentFile{Content: []byte("tag,kind,size,room,slot,practice_minutes_per_week\n" + tag + ",violin,4/4,Store,A-03," + fmt.Sprint(s.r.IntN(2)*30) + "\n")})
		if err == nil && len(report.Faults) > 0 {
			return "a file is refused", nil
		}
		return "bring a file", err
	case 21, 22:
		on := thisDay - day.Day(s.r.IntN(60))
		got, err := s.Upkeep.Renew(ctx, s.director, i.ID, upkeep.Renewed{
			Part: pick(s.r, []string{"string-e", "string-a", "bow-hair"}), On: &on, Cause: pick(s.r, []string{"", "over-age"}),
			Take: pick(s.r, []string{"", "single", "set"}),
		})
		changed.Events = got.Events
		return "renew", err
	case 23:
		return "plan a string", s.Preparing.Accept(ctx, s.director, preparing.StringPlan{Changes: []upkeeprows.PlannedChange{
			{Instrument: i.ID, Part: "string-g", On: day.Of(s.now) + day.Day(s.r.IntN(30))},
		}})
	case 24:
		switch boxes, err := s.Upkeep.Boxes(ctx, s.director); {
		case err != nil || len(boxes.Sections) == 0:
			return "nobody plays a reed", err
		case s.r.IntN(2) == 0 && len(boxes.Sections[0].Chairs[0].Reeds) > 0:
			reed := pick(s.r, boxes.Sections[0].Chairs[0].Reeds)
			changed, err = s.Upkeep.ThrowAway(ctx, s.director, reed.ID, upkeep.Discard{Cause: "chipped"})
			return "throw a reed away", err
		default:
			changed, err = s.Upkeep.Open(ctx, s.director, upkeep.Opening{ID: uuid.New(), PlayerID: boxes.Sections[0].Chairs[0].PlayerID})
			return "open a reed", err
		}
	case 25, 26, 27:
		name, changed, err = s.repair(i, file)
		return name, err
	default:
		days := float64(s.r.IntN(200) + 1)
		change := settings.LimitChange{Key: pick(s.r, pick(s.r, file.Parts).Clocks).Key}
		if s.r.IntN(2) == 0 {
			change.Limits = &corecare.Limits{Days: &days}
		}
		return "own limit", s.Settings.SetOwnLimit(ctx, s.director, i.ID, change)
	}
}

// atBench goes on with an instrument that lies on the bench: step after step, waiting as long as must be, or off again.
func (s *weeksOfDeeds) atBench(i school.Listed, file inventory.File) (name string, events []uuid.UUID, err error) {
	if file.Bench == nil {
		return "nothing on the bench", nil, nil
	}
	if s.r.IntN(8) == 0 {
		_, err = s.Bench.TakeOff(ctx, s.director, *file.Bench, bench.TakingOff{InstrumentID: i.ID, Because: "no time"})
		return "take off the bench", nil, err
	}
	for range 40 {
		run, err := s.Bench.Run(ctx, s.director, *file.Bench)
		if err != nil || run.EndedAt != nil {
			return "finish at the bench", nil, err
		}
		item := run.Items[0]
		step := item.Steps[slices.IndexFunc(item.Steps, func(x bench.BenchStep) bool { return x.State != "done" })]
		do := "begin"
		if step.BegunAt != nil {
			do = "done"
			s.now = s.now.Add(time.Duration(step.Wait) * time.Minute)
		}
		got, err := s.Bench.Tick(ctx, s.director, run.ID, bench.Tick{InstrumentID: i.ID, N: step.N, Do: do})
		if err != nil || s.r.IntN(30) == 0 {
			return "tick at the bench", got.Events, err
		}
	}
	return "tick at the bench", nil, nil
}

// check holds what must be true whatever was done: what one process keeps in mind is what another reads afresh; no violin is
// in two hands and no player has two; a stopped one is offered to nobody and nothing is to be done on it; and the mark
// tells the same story as the findings.
func (s *weeksOfDeeds) check() {
	t := s.t
	fresh := s.another()
	kept, err := s.Inventory.Instruments(ctx, s.director)
	require.NoError(t, err)
	read, err := fresh.Inventory.Instruments(ctx, s.director)
	require.NoError(t, err)
	require.Equal(t, read, kept)
	for _, look := range []func(a *app.App) (any, error){
		func(a *app.App) (any, error) { return a.Today.Today(ctx, s.director, 60, 1) },
		func(a *app.App) (any, error) { return a.Today.Due(ctx, s.director, 0, 1000) },
		func(a *app.App) (any, error) { return a.Roster.Players(ctx, s.director) },
		func(a *app.App) (any, error) { return a.Inventory.Walls(ctx, s.director) },
		func(a *app.App) (any, error) { return a.Bench.Overview(ctx, s.director) },
		func(a *app.App) (any, error) { return a.Supply.Supplies(ctx, s.director, 12, 0.9) },
		func(a *app.App) (any, error) { return a.Upkeep.Strings(ctx, s.director) },
		func(a *app.App) (any, error) { return a.Upkeep.Bows(ctx, s.director) },
		func(a *app.App) (any, error) { return a.Upkeep.Boxes(ctx, s.director) },
		func(a *app.App) (any, error) { return a.Shop.Board(ctx, s.director) },
		func(a *app.App) (any, error) { return a.Season.Readiness(ctx, s.director) },
		func(a *app.App) (any, error) {
			return a.Preparing.Before(ctx, s.director, preparing.Preparing{MinutesADay: 30})
		},
	} {
		afresh, err := look(fresh)
		require.NoError(t, err)
		mine, err := look(s.App)
		require.NoError(t, err)
		require.Equal(t, afresh, mine)
		theirs, err := look(s.second)
		require.NoError(t, err)
		require.Equal(t, afresh, theirs, "a second process that keeps up by the log")
	}
	s.livesFollowOneAnother()
	players, err := s.Roster.Players(ctx, s.director)
	require.NoError(t, err)
	holders := map[string]int{}
	for _, p := range players {
		for _, h := range p.Holds {
			holders[h.Tag]++
		}
	}
	proposal, err := s.Placing.Propose(ctx, s.director, placing.Wish{Weights: even})
	require.NoError(t, err)
	today, err := s.Today.Due(ctx, s.director, 0, 1000)
	require.NoError(t, err)
	run, err := s.Today.Today(ctx, s.director, 480, 20)
	require.NoError(t, err)
	for _, i := range kept {
		require.LessOrEqual(t, holders[i.Tag], 1)
		require.Equal(t, holders[i.Tag] == 1, i.Holder != "", "%s: %q", i.Tag, i.Holder)
		require.Equal(t, i.AtShop, i.Mark == school.AtShop)
		require.Equal(t, i.Stopped != "" && !i.AtShop, i.Mark == school.Stopped)
		require.Equal(t, i.Held != "" && i.Stopped == "" && !i.AtShop, i.Mark == school.OnHold)
		require.False(t, i.AtShop && i.Holder != "", "%s is at the shop and with %s", i.Tag, i.Holder)
		file, err := fresh.Inventory.File(ctx, s.director, i.ID)
		require.NoError(t, err)
		mine, err := s.Inventory.File(ctx, s.director, i.ID)
		require.NoError(t, err)
		require.Equal(t, file, mine)
		require.Equal(t, i.Holder != "", file.HandOver != nil, "whoever has it answers for it")
		stops := false
		for _, f := range file.Findings {
			stops = stops || f.Action == condition.Stop
		}
		require.Equal(t, stops, i.Stopped != "", "%s is stopped by %q", i.Tag, i.Stopped)
		for _, p := range proposal.Pairs {
			require.False(
				t,
				p.Tag == i.Tag && (i.Stopped != "" || i.Holder != "" || i.Held != "" || file.Bench != nil),
				"%s is proposed",
				i.Tag,
			)
		}
		for _, at := range today.Places {
			for _, task := range at.Tasks {
				require.True(t, task.Tag != i.Tag || task.Stopped == i.Stopped, "%s does not say that %s is stopped", task.Title, i.Tag)
			}
		}
		for _, at := range run.Box.Places {
			for _, task := range at.Tasks {
				require.False(t, task.Tag == i.Tag && i.Stopped != "", "%s is offered on a stopped %s", task.Title, i.Tag)
			}
		}
	}
}

// livesFollowOneAnother: of each part one life begins where the one before ended, and only the last is open.
func (s *weeksOfDeeds) livesFollowOneAnother() {
	var all []upkeeprows.PartLife
	require.NoError(s.t, s.db.Read(ctx, s.director.School, func(tx *store.Tx) (err error) {
		all, err = upkeeprows.Lives(ctx, tx)
		return err
	}))
	for n, l := range all {
		if n == 0 || all[n-1].Instrument != l.Instrument || all[n-1].Part != l.Part {
			continue
		}
		before := all[n-1]
		require.NotNil(s.t, before.EndedOn, "two of them on at once")
		require.Equal(s.t, l.PutOn, *before.EndedOn)
		require.Equal(s.t, l.BegunBy, *before.EndedBy)
	}
}

func TestASeasonOfDeeds(t *testing.T) {
	done := map[string]int{}
	for _, seed := range []uint64{3, 14, 159} {
		h := newHouse(t)
		h.bring(
			"tag,kind,size,room,slot,care_from\nVN-01,violin,4/4,Store,A-01,2026-09-01\nVN-02,violin,4/4,Store,A-02,2026-09-01\nVN-03,violin,3/4,Store,,2026-09-01\nVN-04,violin,3/4,,,2026-09-01\n",
		)
		h.roster(players+"p4,Senna,Tamm,8,Wind band,clarinet-b-flat,,\n", nil)
		h.bring("tag,kind,size,room,slot,care_from\nCL-01,clarinet-b-flat,,Store,,2026-09-01\n")
		_, err := h.Lending.HandOut(ctx, h.director,
			lending.HandOut{Pairs: []school.Pair{{PlayerID: h.player("Senna Tamm").ID, InstrumentID: h.id("CL-01")}}})
		require.NoError(t, err)
		require.NoError(t, h.Products.SaveProduct(ctx, h.director, wipes))
		h.count("wipes", "", 1000)
		s := &weeksOfDeeds{house: h, second: h.another(), r: rand.New(rand.NewPCG(seed, 2)), done: done}
		for n := range 200 {
			list, err := s.Inventory.Instruments(ctx, s.director)
			require.NoError(t, err)
			i := pick(s.r, list)
			file, err := s.Inventory.File(ctx, s.director, i.ID)
			require.NoError(t, err)
			name, err := s.deed(i, file)
			var refused *journal.Fault
			switch {
			case err == nil:
				s.done[name]++
			case errors.As(err, &refused):
				require.NotEmpty(t, refused.Message)
				require.NotContains(t, refused.Message, "contradicts", "%s at step %d", name, n)
			default:
				require.NoError(t, err, "%s at step %d", name, n)
			}
			s.check()
			if s.r.IntN(4) == 0 {
				s.now = s.now.AddDate(0, 0, s.r.IntN(12))
			}
		}
	}
	for _, name := range []string{"tick", "hand out", "return", "report", "clear", "move", "undo", "own limit", "release",
		"look through the kit", "refill", "count", "hand over", "begin at the bench", "tick at the bench", "finish at the bench",
		"change a player", "put a concert on", "leave", "bring a file", "renew", "plan a string", "open a reed", "throw a reed away",
		"want a repair", "send to the shop", "check in"} {
		assert.NotZero(t, done[name], "%s never came about", name)
	}
}
