package inventory

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/store"
	"solfeggio/internal/store/instrumentrows"
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
	instrumentrows.Shelf
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
func (r *Room) Walls(ctx context.Context, by journal.Person) ([]Wall, error) {
	s, err := r.schools.Snapshot(ctx, by)
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
	for _, i := range s.Instruments {
		key := [2]string{i.Room, i.Slot}
		places[key] = append(places[key], i.Tag)
	}
	shown := map[[2]string]bool{}
	for _, shelf := range s.Shelves {
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
	for _, i := range s.Instruments {
		w := room(i.Room)
		if !i.InHands() {
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
	From         *StoodAt  `json:"from,omitempty" doc:"Where it was seen; when somebody has moved it since, nothing is moved"`
}

// StoodAt is where an instrument was seen.
type StoodAt struct {
	Room string `json:"room" maxLength:"80"`
	Slot string `json:"slot" maxLength:"40"`
}

// Move moves instruments, all or none.
func (r *Room) Move(ctx context.Context, by journal.Person, in Moves) (journal.Changed, error) {
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		out := journal.Changed{Events: []uuid.UUID{}}
		var moved []Edited
		seen := map[uuid.UUID]bool{}
		for n, m := range in.Moves {
			path := fmt.Sprintf("moves[%d].instrument_id", n)
			i := s.ByID[m.InstrumentID]
			switch {
			case i == nil && s.Gone[m.InstrumentID] != nil:
				return out, journal.Refuse(path, s.Gone[m.InstrumentID].Tag+" has left the school", m.InstrumentID)
			case i == nil:
				return out, journal.Refuse(path, "no such instrument", m.InstrumentID)
			case seen[i.ID]:
				return out, journal.Refuse(path, i.Tag+" is named twice", m.InstrumentID)
			case m.From != nil && *m.From != (StoodAt{i.Room, i.Slot}):
				return out, &journal.Fault{
					Kind: journal.Conflict,
					Message: fmt.Sprintf("Somebody has moved %s to %s meanwhile. Nothing was moved.", i.Tag,
						cmp.Or(strings.TrimSpace(i.Room+" "+i.Slot), "no place")),
				}
			}
			seen[i.ID] = true
			after := i.Instrument
			after.Room, after.Slot = strings.TrimSpace(m.Room), strings.TrimSpace(m.Slot)
			if after != i.Instrument {
				moved = append(moved, Edited{i.Instrument, after})
			}
		}
		events, err := r.SaveChanges(ctx, tx, by, moved...)
		out.Events = append(out.Events, events...)
		return out, err
	})
}

// Shelves lists the shelves.
func (r *Room) Shelves(ctx context.Context, by journal.Person) ([]instrumentrows.Shelf, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	return s.Shelves, nil
}

// SaveShelf adds or changes a shelf. Instruments that stand on it go along when it gets another name or room.
func (r *Room) SaveShelf(ctx context.Context, by journal.Person, in instrumentrows.Shelf) error {
	in.Room, in.Rack = strings.TrimSpace(in.Room), strings.TrimSpace(in.Rack)
	if in.Room == "" {
		return journal.Refuse("room", "name the room", in.Room)
	}
	return r.schools.ChangeSettings(ctx, by, "save-shelf", in, func(tx *store.Tx, _ *school.Snapshot) error {
		shelves, err := instrumentrows.Shelves(ctx, tx)
		if err != nil {
			return err
		}
		if err := instrumentrows.PutShelf(ctx, tx, in); err != nil {
			return err
		}
		n := slices.IndexFunc(shelves, func(s instrumentrows.Shelf) bool { return s.ID == in.ID })
		if n < 0 || shelves[n].Room == in.Room && shelves[n].Name == in.Name {
			return nil
		}
		return r.follow(ctx, tx, by, shelves[n], in)
	})
}

// follow moves what stands on a shelf along with it.
func (r *Room) follow(ctx context.Context, tx *store.Tx, by journal.Person, from, to instrumentrows.Shelf) error {
	all, err := instrumentrows.Instruments(ctx, tx)
	if err != nil {
		return err
	}
	var moved []Edited
	for _, before := range all {
		if number, on := strings.CutPrefix(before.Slot, from.Name+"-"); on && before.Room == from.Room {
			after := before
			after.Room, after.Slot = to.Room, to.Name+"-"+number
			moved = append(moved, Edited{before, after})
		}
	}
	_, err = r.SaveChanges(ctx, tx, by, moved...)
	return err
}

// DeleteShelf takes a shelf away. What stood on it keeps its slot's name and is shown beside the wall.
func (r *Room) DeleteShelf(ctx context.Context, by journal.Person, id uuid.UUID) error {
	return r.schools.ChangeSettings(ctx, by, "delete-shelf", school.Removed{ID: id}, func(tx *store.Tx, _ *school.Snapshot) error { return instrumentrows.DeleteShelf(ctx, tx, id) })
}
