package app

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/store"
)

// Wall is a room as it stands.
type Wall struct {
	Room      string      `json:"room"`
	Shelves   []WallShelf `json:"shelves" doc:"From the top, rack by rack"`
	Elsewhere []string    `json:"elsewhere" doc:"Tags of instruments of the room that stand in none of its slots"`
	Slots     int         `json:"slots"`
	Here      int         `json:"here" doc:"Instruments of the room that are in nobody's hands"`
	Out       int         `json:"out" doc:"Instruments of the room that are in a player's hands"`
}

// WallShelf is a shelf with what belongs on it.
type WallShelf struct {
	store.Shelf
	Places []Slot `json:"places"`
}

// Slot is a place on a shelf.
type Slot struct {
	Name string   `json:"name"`
	Tags []string `json:"tags" doc:"One, as a rule"`
}

// SlotName is the name of the n-th slot of a shelf, from 1.
func SlotName(shelf string, n int) string { return fmt.Sprintf("%s-%02d", shelf, n) }

// Walls draws every room that has shelves or instruments.
func (a *App) Walls(ctx context.Context, by Person) ([]Wall, error) {
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	walls := []Wall{}
	at := map[string]int{}
	room := func(name string) *Wall {
		n, known := at[name]
		if !known {
			n = len(walls)
			at[name] = n
			walls = append(walls, Wall{Room: name, Shelves: []WallShelf{}, Elsewhere: []string{}})
		}
		return &walls[n]
	}
	places := map[[2]string][]string{}
	for _, i := range s.instruments {
		key := [2]string{i.Room, i.Slot}
		places[key] = append(places[key], i.Tag)
	}
	shown := map[[2]string]bool{}
	for _, shelf := range s.shelves {
		w := room(shelf.Room)
		drawn := WallShelf{Shelf: shelf}
		for n := range shelf.Slots {
			name := SlotName(shelf.Name, n+1)
			key := [2]string{shelf.Room, name}
			shown[key] = true
			drawn.Places = append(drawn.Places, Slot{name, append([]string{}, places[key]...)})
		}
		w.Shelves, w.Slots = append(w.Shelves, drawn), w.Slots+shelf.Slots
	}
	for _, i := range s.instruments {
		w := room(i.Room)
		if i.habit == nil {
			w.Here++
		} else {
			w.Out++
		}
		if !shown[[2]string{i.Room, i.Slot}] {
			w.Elsewhere = append(w.Elsewhere, i.Tag)
		}
	}
	return walls, nil
}

// Moves puts instruments where they belong from now on.
type Moves struct {
	Moves []Move `json:"moves" minItems:"1" maxItems:"500"`
}

// Move is one instrument and its place.
type Move struct {
	InstrumentID uuid.UUID `json:"instrument_id"`
	Room         string    `json:"room" maxLength:"80"`
	Slot         string    `json:"slot" maxLength:"40"`
}

// Move moves instruments, all or none.
func (a *App) Move(ctx context.Context, by Person, in Moves) (Changed, error) {
	return write(ctx, a, by, MayChangeInstruments, func(tx *store.Tx, s *snapshot) (Changed, error) {
		out := Changed{Events: []uuid.UUID{}}
		for n, m := range in.Moves {
			before, err := tx.Instrument(ctx, m.InstrumentID)
			if err != nil {
				return out, invalid(fmt.Sprintf("moves[%d].instrument_id", n), "no such instrument", m.InstrumentID)
			}
			after := before
			after.Room, after.Slot = strings.TrimSpace(m.Room), strings.TrimSpace(m.Slot)
			if after == before {
				continue
			}
			if err := tx.UpdateInstrument(ctx, after); err != nil {
				return out, err
			}
			after.Version++
			event, err := a.record(ctx, tx, by, store.Event{What: store.InstrumentChanged, Instrument: &before.ID}, ChangeDetail{Before: &before, After: &after})
			if err != nil {
				return out, err
			}
			out.Events = append(out.Events, event)
		}
		return out, nil
	})
}

// Shelves lists the shelves.
func (a *App) Shelves(ctx context.Context, by Person) ([]store.Shelf, error) {
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	return s.shelves, nil
}

// SaveShelf adds or changes a shelf. Instruments that stand on it go along when it gets another name or room.
func (a *App) SaveShelf(ctx context.Context, by Person, in store.Shelf) error {
	in.Room, in.Rack = strings.TrimSpace(in.Room), strings.TrimSpace(in.Rack)
	if in.Room == "" {
		return invalid("room", "name the room", in.Room)
	}
	return a.change(ctx, by, "save-shelf", in, func(tx *store.Tx) error {
		shelves, err := tx.Shelves(ctx)
		if err != nil {
			return err
		}
		if err := tx.PutShelf(ctx, in); err != nil {
			return err
		}
		n := slices.IndexFunc(shelves, func(s store.Shelf) bool { return s.ID == in.ID })
		if n < 0 || shelves[n].Room == in.Room && shelves[n].Name == in.Name {
			return nil
		}
		return a.follow(ctx, tx, by, shelves[n], in)
	})
}

// follow moves what stands on a shelf along with it.
func (a *App) follow(ctx context.Context, tx *store.Tx, by Person, from, to store.Shelf) error {
	all, err := tx.Instruments(ctx)
	if err != nil {
		return err
	}
	for _, before := range all {
		number, on := strings.CutPrefix(before.Slot, from.Name+"-")
		if before.Room != from.Room || !on {
			continue
		}
		after := before
		after.Room, after.Slot = to.Room, to.Name+"-"+number
		if err := tx.UpdateInstrument(ctx, after); err != nil {
			return err
		}
		after.Version++
		if _, err := a.record(ctx, tx, by, store.Event{What: store.InstrumentChanged, Instrument: &before.ID}, ChangeDetail{Before: &before, After: &after}); err != nil {
			return err
		}
	}
	return nil
}

// DeleteShelf takes a shelf away. What stood on it keeps its slot's name and is shown beside the wall.
func (a *App) DeleteShelf(ctx context.Context, by Person, id uuid.UUID) error {
	return a.change(ctx, by, "delete-shelf", removed{ID: id}, func(tx *store.Tx) error { return tx.DeleteShelf(ctx, id) })
}
