// Package sumtest holds what two screens count against each other and against the file of every instrument, for tests.
package sumtest

import (
	"bytes"
	"context"
	"encoding/csv"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/placing"
	"solfeggio/internal/app/season"
	"solfeggio/internal/core/assign"
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/shop"
	"solfeggio/internal/formats"
)

// Agree fails where two answers about one school count the same thing differently.
func Agree(t *testing.T, a *app.App, by journal.Person) {
	t.Helper()
	ctx := context.Background()
	must := func(err error) { t.Helper(); require.NoError(t, err) }
	list, err := a.Inventory.Instruments(ctx, by)
	must(err)
	today, err := a.Today.Today(ctx, by, 25, 1)
	must(err)

	// Every instrument's own file says how much of its care is due, what is missing, and whether somebody has it.
	late, due, gaps, away, stopped := 0, 0, 0, 0, 0
	gapsOf := map[uuid.UUID]int{}
	for _, l := range list {
		f, err := a.Inventory.File(ctx, by, l.ID)
		must(err)
		lateHere, dueHere := 0, 0
		for _, p := range f.Parts {
			for _, c := range p.Clocks {
				switch c.State {
				case care.Late:
					lateHere++
				case care.Due:
					dueHere++
				}
			}
		}
		assert.Equal(t, []int{lateHere, dueHere}, []int{l.Late, l.Due}, "%s: its file and the list", l.Tag)
		missing := 0
		for _, thing := range f.Kit {
			if thing.State == catalog.Missing {
				missing++
			}
		}
		assert.Equal(t, missing, l.Gaps, "%s: its kit and the list", l.Tag)
		late, due, gaps, gapsOf[l.ID] = late+lateHere, due+dueHere, gaps+missing, missing
		if l.AtShop {
			away++
		}
		if l.Stopped != "" && l.Played {
			stopped++
		}
	}
	assert.Equal(t, []int{late, due}, []int{today.Late, today.Due}, "tasks of today and of all files")
	all, err := a.Today.Due(ctx, by, 0, 10_000)
	must(err)
	shown := 0
	for _, p := range all.Places {
		shown += len(p.Tasks)
	}
	assert.Equal(t, late+due, shown, "the list of all that is due")
	assert.Equal(t, late+due, today.Strip[0].Due, "the first day of the two weeks holds what is due already")
	inBox := 0
	for _, p := range today.Box.Places {
		inBox += len(p.Tasks)
	}
	assert.LessOrEqual(t, today.Box.LeftDue, today.Box.LeftOut)
	assert.LessOrEqual(t, today.Box.LeftDue, late+due)
	assert.Equal(t, inBox == 0, len(today.Box.Places) == 0)

	// Who cannot play.
	stoppedToday := 0
	for _, b := range today.CannotPlay {
		if len(b.Lacks) == 0 {
			stoppedToday++
		}
	}
	assert.Equal(t, stopped, stoppedToday, "stopped in somebody's hands")

	// Kits: the round and the list.
	round, err := a.Supply.RefillRound(ctx, by)
	must(err)
	for _, k := range round {
		missing := 0
		for _, thing := range k.Things {
			if thing.State == catalog.Missing {
				missing++
			}
		}
		assert.Equal(t, gapsOf[k.InstrumentID], missing, "%s: the round and the list", k.Tag)
		gaps -= missing
	}
	assert.Zero(t, gaps, "what is missing and in no round")

	// Concerts: their line on Today and their page.
	readiness, err := a.Season.Readiness(ctx, by)
	must(err)
	for _, r := range readiness {
		assert.Equal(t, r.Chairs, r.Ready+len(r.NotReady), r.Concert)
		chairs, ready := 0, 0
		for _, e := range r.Ensembles {
			chairs, ready = chairs+e.Chairs, ready+e.Ready
		}
		assert.Equal(t, []int{r.Ready, r.Chairs}, []int{ready, chairs}, r.Concert)
		for _, c := range today.Concerts {
			if c.Name == r.Concert {
				assert.Equal(t, []int{r.Ready, r.Chairs}, []int{c.Ready, c.Chairs}, r.Concert)
			}
		}
	}

	// Shops.
	board, err := a.Shop.Board(ctx, by)
	must(err)
	atShop := 0
	for _, j := range board.Jobs {
		if j.State == shop.Away {
			atShop++
		}
	}
	assert.Equal(t, away, atShop, "at the shop by the list and by the jobs")

	// Files carry every instrument.
	var file bytes.Buffer
	must(a.Importing.Export(ctx, by, formats.CSV(&file)))
	rows, err := csv.NewReader(&file).ReadAll()
	must(err)
	assert.Len(t, rows, len(list)+1)

	// Proposals and the book.
	proposal, err := a.Placing.Propose(ctx, by, placing.Wish{Weights: assign.Weights{Size: 1, Grade: 1, Kept: 1, Rental: 1, Travel: 1, Kit: 1}})
	must(err)
	book, err := a.Placing.Promises(ctx, by)
	must(err)
	keep := 0
	for _, o := range book.Offers {
		if o.Instead == nil {
			keep++
		}
	}
	assert.Len(t, proposal.Pairs, keep)

	// The season: its weeks and its pieces, its parts and its sums.
	score, err := a.Season.Plan(ctx, by, season.Planning{})
	must(err)
	minutes, places, waiting := make([]float64, len(score.Weeks)), make([]int, len(score.Weeks)), 0
	var cents int64
	for _, p := range score.Pieces {
		switch {
		case p.Week == nil:
			waiting++
		case p.Place == "bench":
			minutes[*p.Week] += p.Minutes
		default:
			places[*p.Week]++
		}
		if p.Week != nil {
			cents += p.Cents
		}
	}
	for n, w := range score.Weeks {
		assert.InDelta(t, minutes[n], w.UsedMinutes, 1e-6)
		assert.LessOrEqual(t, w.UsedMinutes, w.Minutes+1e-6)
		assert.True(t, w.Break == "" || w.Minutes > 0 || w.UsedMinutes == 0, "%s: nothing is done in a break without minutes", w.Break)
	}
	assert.Equal(t, waiting, score.Lateness.Waiting)
	assert.Equal(t, cents, score.Costs.Shop)
	assert.Equal(t, score.Costs.Total, score.Costs.Van+score.Costs.Shop+score.Costs.Thrown)
	assert.Equal(t, score.Cents, score.Parts.Late+score.Parts.Early+score.Parts.Absent+score.Parts.Trips+score.Parts.Unplaced)

	// A count of the room begins with what the wall shows as being there.
	rooms := map[string]int{}
	for _, l := range list {
		if !l.Played && !l.AtShop {
			rooms[l.Room]++
		}
	}
	for room, here := range rooms {
		take, err := a.Inventory.BeginStocktake(ctx, by, uuid.New(), room)
		must(err)
		assert.Equal(t, here, take.Expected, "expected in %q", room)
		assert.Len(t, take.Missing, here)
		_, err = a.Inventory.EndStocktake(ctx, by, take.ID)
		must(err)
	}
}
