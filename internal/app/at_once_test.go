package app_test

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/sync/errgroup"

	"solfeggio/internal/app"
	"solfeggio/internal/app/care"
	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/clocks"
)

// Six people tick off and take back at once, through two processes that keep the school in mind. What both show in the end is what a
// process shows that begins afresh, and every tick that was not taken back counts.
func TestManyTickAndUndoAtOnce(t *testing.T) {
	h := newHouse(t)
	var file strings.Builder
	file.WriteString("tag,kind,care_from\n")
	for n := range 8 {
		fmt.Fprintf(&file, "TR-%02d,trumpet,2026-06-01\n", n+1)
	}
	h.bring(file.String())
	second := h.another()
	slides := clocks.Key{Routine: "brass-slide-check", Part: "slides"}
	var ids []care.FinishTask
	for n := range 8 {
		ids = append(ids, care.FinishTask{InstrumentID: h.id(fmt.Sprintf("TR-%02d", n+1)), Key: slides})
	}
	var people errgroup.Group
	for seed := range uint64(6) {
		people.Go(func() error {
			r := rand.New(rand.NewPCG(seed, 1))
			process := []*app.App{h.App, second}[seed%2]
			for range 12 {
				done, err := process.Care.Finish(ctx, h.director, care.Finish{Tasks: []care.FinishTask{pick(r, ids)}})
				if err != nil {
					return err
				}
				if len(done.Events) > 0 && r.IntN(2) == 0 {
					if _, err := process.Schools.Undo(ctx, h.director, school.Undo{Events: done.Events}); err != nil {
						return err
					}
				}
				if _, err := process.Today.Due(ctx, h.director, 0, 100); err != nil {
					return err
				}
			}
			return nil
		})
	}
	require.NoError(t, people.Wait())
	afresh, err := h.another().Inventory.Instruments(ctx, h.director)
	require.NoError(t, err)
	for _, process := range []*app.App{h.App, second} {
		kept, err := process.Inventory.Instruments(ctx, h.director)
		require.NoError(t, err)
		assert.Equal(t, afresh, kept)
	}
	for n := range 8 {
		tag := fmt.Sprintf("TR-%02d", n+1)
		ticked := 0
		for _, e := range h.file(tag).Timeline {
			if e.Undoable && strings.Contains(e.Sentence, "slides done") {
				ticked++
			}
		}
		want := "late"
		if ticked > 0 {
			want = "fresh"
		}
		assert.Equal(t, want, string(h.clock(tag, slides).State), tag)
		assert.LessOrEqual(t, ticked, 1, "%s: once a day", tag)
	}
}

// Somebody who moves an instrument from where it does not stand any more is told so, and nothing is moved.
func TestMovingWhatWasMoved(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind,size,room,slot\nVN-01,violin,4/4,Store,A-01\nVN-02,violin,4/4,Store,A-02\n")
	seen := inventory.StoodAt{Room: "Store", Slot: "A-01"}
	move := func(slot string) error {
		_, err := h.Inventory.Move(ctx, h.director, inventory.Moves{Moves: []inventory.Move{
			{InstrumentID: h.id("VN-02"), Room: "Store", Slot: slot + "-2"},
			{InstrumentID: h.id("VN-01"), Room: "Store", Slot: slot, From: &seen},
		}})
		return err
	}
	require.NoError(t, move("B-01"))
	assert.Equal(t, "Somebody has moved VN-01 to Store B-01 meanwhile. Nothing was moved.", fault(t, move("C-01"), journal.Conflict).Message)
	assert.Equal(t, "B-01-2", h.file("VN-02").Instrument.Slot)
}
