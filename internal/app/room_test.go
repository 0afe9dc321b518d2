package app_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/rentals"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/settings"
	"solfeggio/internal/app/today"
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/store/instrumentrows"
)

const trumpets = "tag,kind,room,slot,care_from,ensembles,last:brass-slide-check\n" +
	"TR-01,trumpet,Store,A-01,2026-11-01,,2026-09-01\nTR-02,trumpet,Store,A-02,2026-11-01,,2026-09-01\n" +
	"TR-03,trumpet,Store,A-03,2026-11-01,,2026-09-01\nTR-04,trumpet,Store,A-04,2026-11-01,Wind band,2026-11-20\nTU-01,tuba,Hall,,2026-11-01,,\n"

func (h *house) shelf(room, name string, slots int) instrumentrows.Shelf {
	h.t.Helper()
	require.NoError(h.t, h.Inventory.SaveShelf(ctx, h.director, instrumentrows.Shelf{ID: uuid.New(), Room: room, Name: name, Slots: slots}))
	all, err := h.Inventory.Shelves(ctx, h.director)
	require.NoError(h.t, err)
	for _, s := range all {
		if s.Room == room && s.Name == name {
			return s
		}
	}
	require.Fail(h.t, "no shelf "+name)
	return instrumentrows.Shelf{}
}

// drawn writes a wall as its shelves' tags, a dot for an empty slot.
func (h *house) drawn(room string) string {
	h.t.Helper()
	walls, err := h.Inventory.Walls(ctx, h.director)
	require.NoError(h.t, err)
	for _, w := range walls {
		if w.Room != room {
			continue
		}
		var lines []string
		for _, s := range w.Shelves {
			line := s.Name + ":"
			for _, p := range s.Places {
				line += " " + strings.Join(append([]string{}, p.Tags...), "+")
				if len(p.Tags) == 0 {
					line += "."
				}
			}
			lines = append(lines, line)
		}
		return strings.Join(lines, " | ") + " / " + strings.Join(w.Elsewhere, " ")
	}
	return "no such room"
}

func TestTheWallAndMoving(t *testing.T) {
	h := newHouse(t)
	h.bring(trumpets)
	assert.Equal(t, " / TR-01 TR-02 TR-03 TR-04", h.drawn("Store"), "without shelves all stand beside the wall")
	shelf := h.shelf("Store", "A", 3)
	assert.Equal(t, "A: TR-01 TR-02 TR-03 / TR-04", h.drawn("Store"))

	swap := inventory.Moves{Moves: []inventory.Move{
		{InstrumentID: h.id("TR-01"), Room: "Store", Slot: "A-02"}, {InstrumentID: h.id("TR-02"), Room: "Store", Slot: "A-01"},
	}}
	moved, err := h.Inventory.Move(ctx, h.director, swap)
	require.NoError(t, err)
	assert.Equal(t, "A: TR-02 TR-01 TR-03 / TR-04", h.drawn("Store"))
	_, err = h.Schools.Undo(ctx, h.director, school.Undo{Events: moved.Events})
	require.NoError(t, err)
	assert.Equal(t, "A: TR-01 TR-02 TR-03 / TR-04", h.drawn("Store"))
	_, err = h.Inventory.Move(
		ctx,
		h.director,
		inventory.Moves{Moves: append(swap.Moves, inventory.Move{InstrumentID: uuid.New(), Room: "Store"})},
	)
	assert.Equal(t, "moves[2].instrument_id", fault(t, err, journal.Invalid).Fields[0].Path)
	assert.Equal(t, "A: TR-01 TR-02 TR-03 / TR-04", h.drawn("Store"), "all or none")
	helper := h.director
	helper.Role = journal.Helper
	_, err = h.Inventory.Move(ctx, helper, swap)
	fault(t, err, journal.Forbidden)

	taken := instrumentrows.Shelf{ID: uuid.New(), Room: "Store", Name: "A", Slots: 3}
	assert.Equal(t, "name", fault(t, h.Inventory.SaveShelf(ctx, h.director, taken), journal.Invalid).Fields[0].Path)
	shelf.Name, shelf.Room = "B", "Hall"
	require.NoError(t, h.Inventory.SaveShelf(ctx, h.director, shelf))
	assert.Equal(
		t,
		"B: TR-01 TR-02 TR-03 / TR-04 TU-01",
		h.drawn("Hall"),
		"what stands on a shelf goes along, also what found no slot on it",
	)
	fault(t, h.Inventory.SaveShelf(ctx, h.director, shelf), journal.Conflict)
	require.NoError(t, h.Inventory.DeleteShelf(ctx, h.director, shelf.ID))
	assert.Equal(t, " / TR-01 TR-02 TR-03 TR-04 TU-01", h.drawn("Hall"))

	gone := inventory.Move{InstrumentID: h.id("TR-04"), Room: "Hall"}
	_, err = h.Rentals.Leave(ctx, h.director, gone.InstrumentID, rentals.Leaving{How: "sold"})
	require.NoError(t, err)
	_, err = h.Inventory.Move(ctx, h.director, inventory.Moves{Moves: []inventory.Move{gone}})
	assert.Equal(t, "moves[0].instrument_id", fault(t, err, journal.Invalid).Fields[0].Path)
}

// Two are missing, one was put back into the wrong slot, one belongs elsewhere, one is nobody's.
func TestStocktake(t *testing.T) {
	h := newHouse(t)
	h.bring(trumpets)
	h.shelf("Store", "A", 4)
	h.roster("external_id,given_name,family_name,ensembles,instrument\np1,Ode,Marchetti,Wind band,trumpet\n", nil)
	_, err := h.Lending.HandOut(ctx, h.director, lending.HandOut{
		Pairs: []school.Pair{{PlayerID: h.player("Ode Marchetti").ID, InstrumentID: h.id("TR-04")}},
	})
	require.NoError(t, err)
	_, err = h.Inventory.BeginStocktake(ctx, h.director, uuid.New(), "Cellar")
	assert.Equal(t, "room", fault(t, err, journal.Invalid).Fields[0].Path)
	count, err := h.Inventory.BeginStocktake(ctx, h.director, uuid.New(), "Store")
	require.NoError(t, err)
	assert.Equal(t, []int{3, 3, 1}, []int{count.Expected, len(count.Missing), count.Out})
	joined, err := h.another().Inventory.BeginStocktake(ctx, h.director, uuid.New(), "Store")
	require.NoError(t, err)
	assert.Equal(t, count.ID, joined.ID, "a second phone joins the count under way")
	scan := func(tag, slot string) inventory.Stocktake {
		got, err := h.Inventory.Scan(ctx, h.director, count.ID, inventory.ScanIn{Tag: tag, Slot: slot})
		require.NoError(t, err)
		return got
	}
	scan(" tr-01 ", "A-03")
	scan("TU-01", "")
	scan("TR-04", "")
	scan("TR-04", "")
	got := scan("XX-99", "")
	states := map[string]inventory.SeenState{}
	for _, s := range got.Seen {
		states[s.Tag] = s.State
	}
	assert.Equal(
		t,
		map[string]inventory.SeenState{
			"TR-01": inventory.OtherSlot,
			"TU-01": inventory.OtherRoom,
			"TR-04": inventory.ReturnedEarly,
			"XX-99": inventory.Unknown,
		},
		states,
	)
	assert.Equal(t, []string{"TR-02", "TR-03"}, []string{got.Missing[0].Tag, got.Missing[1].Tag})

	ended, err := h.Inventory.EndStocktake(ctx, h.director, count.ID)
	require.NoError(t, err)
	assert.Len(t, ended.Missing, 2)
	assert.Equal(t, "Not found at a stocktake in A-03", h.said("TR-03")[0])
	_, err = h.Inventory.Scan(ctx, h.director, count.ID, inventory.ScanIn{Tag: "TR-02"})
	fault(t, err, journal.Conflict)
	_, err = h.Inventory.EndStocktake(ctx, h.director, count.ID)
	fault(t, err, journal.Conflict)
	_, err = h.Inventory.Stocktake(ctx, h.director, uuid.New())
	fault(t, err, journal.NotFound)
}

func TestARoundInShelfOrder(t *testing.T) {
	h := newHouse(t)
	h.bring(trumpets)
	rounds, err := h.Today.Rounds(ctx, h.director)
	require.NoError(t, err)
	require.NotEmpty(t, rounds)
	var slide *today.Round
	for n := range rounds {
		if rounds[n].Routine == "brass-slide-check" {
			slide = &rounds[n]
		}
	}
	require.NotNil(t, slide)
	var tags []string
	for _, task := range slide.Tasks {
		tags = append(tags, task.Tag)
	}
	assert.Equal(t, []string{"TR-01", "TR-02", "TR-03"}, tags)
	assert.InDelta(t, 24, slide.Minutes, 1e-9)
	assert.Contains(t, slide.Cautions[0], "No pliers")
	_, err = h.tick(h.director, "TR-02", slides)
	require.NoError(t, err)
	rounds, err = h.Today.Rounds(ctx, h.director)
	require.NoError(t, err)
	for _, r := range rounds {
		if r.Routine == "brass-slide-check" {
			assert.Equal(t, []string{"TR-01", "TR-03"}, []string{r.Tasks[0].Tag, r.Tasks[1].Tag})
		}
	}
}

func TestOwnLimitsAndPractices(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind,care_from,last:violin-strings\nVN-01,violin,2026-11-01,2026-09-01\nVN-02,violin,2026-11-01,2026-09-01\n")
	sixty, none := 60., -1.
	own := settings.LimitChange{Key: eString, Limits: &care.Limits{Days: &sixty}}
	require.NoError(t, h.Settings.SetOwnLimit(ctx, h.director, h.id("VN-01"), own))
	assert.Equal(t, care.Late, h.clock("VN-01", eString).State, "84 of 60 days")
	assert.Equal(t, &sixty, h.clock("VN-01", eString).OwnLimit.Days)
	assert.Equal(t, care.Fresh, h.clock("VN-02", eString).State)
	require.NoError(t, h.Settings.SetOwnLimit(ctx, h.director, h.id("VN-01"), settings.LimitChange{Key: eString}))
	assert.Equal(t, care.Fresh, h.clock("VN-01", eString).State)
	wrong := settings.LimitChange{Key: eString, Limits: &care.Limits{Days: &none}}
	assert.Equal(t, "limits", fault(t, h.Settings.SetOwnLimit(ctx, h.director, h.id("VN-01"), wrong), journal.Invalid).Fields[0].Path)
	assert.Equal(
		t,
		"routine",
		fault(t, h.Settings.SetOwnLimit(ctx, h.director, h.id("VN-01"), settings.LimitChange{Key: bath}), journal.Invalid).Fields[0].Path,
	)

	has := func(tag, routine string) bool {
		f, err := h.Inventory.File(ctx, h.director, h.id(tag))
		require.NoError(t, err)
		for _, r := range f.Routines {
			if r.Key == routine {
				return true
			}
		}
		return false
	}
	assert.False(t, has("VN-01", "contact-wipe"))
	require.NoError(t, h.Settings.ChoosePractices(ctx, h.director, catalog.Choices{"contact-wipe": "alcohol-wipe"}))
	assert.True(t, has("VN-01", "contact-wipe"), "the routines of all follow at once")
	assert.Equal(t, care.Late, h.clock("VN-01", clocks.Key{Routine: "contact-wipe", Part: "fingerboard"}).State, "and their clocks")
	require.NoError(
		t,
		h.Settings.ChooseForInstrument(ctx, h.director, h.id("VN-01"), settings.PracticeChange{Practice: "contact-wipe", Option: "none"}),
	)
	assert.False(t, has("VN-01", "contact-wipe"))
	assert.True(t, has("VN-02", "contact-wipe"))
	require.NoError(t, h.Settings.ChooseForInstrument(ctx, h.director, h.id("VN-01"), settings.PracticeChange{Practice: "contact-wipe"}))
	assert.True(t, has("VN-01", "contact-wipe"), "it follows the school again")
	fault(t, h.Settings.ChooseForInstrument(ctx, h.director, h.id("VN-01"), settings.PracticeChange{Practice: "weather"}), journal.Invalid)
	assert.Equal(
		t,
		"choices.varnish",
		fault(t, h.Settings.ChoosePractices(ctx, h.director, catalog.Choices{"varnish": "beer"}), journal.Invalid).Fields[0].Path,
	)
	practices, err := h.Settings.Practices(ctx, h.director)
	require.NoError(t, err)
	for _, p := range practices {
		if p.Key == "contact-wipe" {
			assert.Equal(t, "alcohol-wipe", p.Chosen)
		}
	}
	// An open seam: whatever the school holds, nothing wet touches the body.
	require.NoError(t, h.Settings.ChoosePractices(ctx, h.director, catalog.Choices{"varnish": "damp-cloth", "board-surface": "ebony"}))
	h.inspect("VN-02", openSeam)
	f, err := h.Inventory.File(ctx, h.director, h.id("VN-02"))
	require.NoError(t, err)
	gates := 0
	for _, r := range f.Routines {
		for _, s := range r.Steps {
			if s.Gate != "" {
				gates++
				assert.Contains(t, s.Gate, "Open seam", fmt.Sprint(s.Do))
			}
		}
	}
	assert.Greater(t, gates, 1)
}
