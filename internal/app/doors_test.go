package app_test

import (
	"bytes"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/bench"
	"solfeggio/internal/app/importing"
	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/roster"
	"solfeggio/internal/app/school"
	"solfeggio/internal/formats"
)

// A door is a way by which an instrument could come into a player's hands. It is opened once: what must be there before is made by
// its preparation, while the instrument may still go out.
type door struct {
	name    string
	opens   bool // when nothing stands against it
	prepare func(h *house, k *knocking)
	knock   func(h *house, k *knocking) error
}

// knocking is what a door has at hand.
type knocking struct {
	ode    roster.ListedPlayer
	id     uuid.UUID
	undo   []uuid.UUID
	file   string
	before inventory.File
}

const knocked = "VN-01"

func (h *house) outAndBack(k *knocking) {
	h.t.Helper()
	_, err := h.Lending.HandOut(ctx, h.director, lending.HandOut{Pairs: []school.Pair{{PlayerID: k.ode.ID, InstrumentID: h.id(knocked)}}})
	require.NoError(h.t, err)
	back, err := h.Lending.Return(ctx, h.director, k.id, lending.Returning{})
	require.NoError(h.t, err)
	k.undo = back.Events
	h.let(knocked)
}

func (h *house) fileOf(id uuid.UUID) inventory.File {
	h.t.Helper()
	f, err := h.Inventory.File(ctx, h.director, id)
	require.NoError(h.t, err)
	return f
}

// let ends what an instrument is held for.
func (h *house) let(tag string) {
	h.t.Helper()
	_, err := h.Bench.Release(ctx, h.director, h.id(tag), bench.Releasing{How: "Wiped dry."})
	require.NoError(h.t, err)
}

func playing(player *uuid.UUID) *school.Habit {
	return &school.Habit{Ensembles: []uuid.UUID{}, PracticeMinutes: 60, Players: 1, PlayerID: player}
}

// bringAgain reads a file of instruments; its faults are a refusal.
func (h *house) bringAgain(csv string) error {
	report, err := h.Importing.Import(ctx, h.director, importing.InstrumentFile{Content: []byte(csv)})
	if err == nil && len(report.Faults) > 0 {
		return &journal.Fault{Kind: journal.Conflict, Message: report.Faults[0].Message}
	}
	return err
}

var doors = []door{
	{"hand out", true, nil, func(h *house, k *knocking) error {
		_, err := h.Lending.HandOut(ctx, h.director, lending.HandOut{Pairs: []school.Pair{{PlayerID: k.ode.ID, InstrumentID: k.id}}})
		return err
	}},
	{"hand over", true, nil, func(h *house, k *knocking) error {
		_, err := h.Lending.HandOver(
			ctx,
			h.director,
			lending.Handing{
				ID:        uuid.New(),
				Pair:      school.Pair{PlayerID: k.ode.ID, InstrumentID: k.id},
				Signature: lending.Signing{How: "later"},
			},
		)
		return err
	}},
	{"lend", true, nil, func(h *house, k *knocking) error {
		_, err := h.Lending.Lend(ctx, h.director, h.id("VN-02"), lending.Lending{LoanerID: k.id})
		return err
	}},
	{"change by hand, naming a player", true, nil, func(h *house, k *knocking) error {
		_, err := h.Inventory.ChangeInstrument(
			ctx,
			h.director,
			k.id,
			lending.Change{Instrument: h.fileOf(k.id).Instrument, Habit: playing(&k.ode.ID)},
		)
		return err
	}},
	{"change by hand, naming nobody", true, nil, func(h *house, k *knocking) error {
		_, err := h.Inventory.ChangeInstrument(
			ctx,
			h.director,
			k.id,
			lending.Change{Instrument: h.fileOf(k.id).Instrument, Habit: playing(nil)},
		)
		return err
	}},
	{"file", true, nil, func(h *house, k *knocking) error {
		return h.bringAgain("tag,kind,practice_minutes_per_week\n" + knocked + ",violin,60\n")
	}},
	{"file made while it was out", false, func(h *house, k *knocking) {
		_, err := h.Inventory.ChangeInstrument(
			ctx,
			h.director,
			k.id,
			lending.Change{Instrument: h.fileOf(k.id).Instrument, Habit: playing(nil)},
		)
		require.NoError(h.t, err)
		var csv bytes.Buffer
		require.NoError(h.t, h.Importing.Export(ctx, h.director, formats.CSV(&csv)))
		k.file = csv.String()
		_, err = h.Lending.Return(ctx, h.director, k.id, lending.Returning{})
		require.NoError(h.t, err)
		h.let(knocked)
	}, func(h *house, k *knocking) error { return h.bringAgain(k.file) }},
	{"return undone", true, (*house).outAndBack, func(h *house, k *knocking) error {
		_, err := h.Schools.Undo(ctx, h.director, school.Undo{Events: k.undo})
		return err
	}},
	{"change of habit undone", true, func(h *house, k *knocking) {
		_, err := h.Inventory.ChangeInstrument(
			ctx,
			h.director,
			k.id,
			lending.Change{Instrument: h.fileOf(k.id).Instrument, Habit: playing(&k.ode.ID)},
		)
		require.NoError(h.t, err)
		gone, err := h.Inventory.ChangeInstrument(ctx, h.director, k.id, lending.Change{Instrument: h.fileOf(k.id).Instrument})
		require.NoError(h.t, err)
		k.undo = gone.Events
		h.let(knocked)
	}, func(h *house, k *knocking) error {
		_, err := h.Schools.Undo(ctx, h.director, school.Undo{Events: k.undo})
		return err
	}},
	{"loan undone", true, func(h *house, k *knocking) {
		_, err := h.Lending.HandOut(ctx, h.director, lending.HandOut{Pairs: []school.Pair{{PlayerID: k.ode.ID, InstrumentID: k.id}}})
		require.NoError(h.t, err)
		lent, err := h.Lending.Lend(ctx, h.director, k.id, lending.Lending{LoanerID: h.id("VN-03")})
		require.NoError(h.t, err)
		k.undo = lent.Events
		h.let(knocked)
	}, func(h *house, k *knocking) error {
		_, err := h.Schools.Undo(ctx, h.director, school.Undo{Events: k.undo})
		return err
	}},
}
