package app

import (
	"context"
	"errors"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/store"
)

// Stocktake is a count of a room as it stands.
type Stocktake struct {
	store.Stocktake
	Expected int       `json:"expected" doc:"Instruments of the room that are in nobody's hands"`
	Out      int       `json:"out" doc:"Instruments of the room that are in a player's hands and were not seen"`
	Seen     []SeenTag `json:"seen" doc:"The latest first"`
	Missing  []Unseen  `json:"missing" doc:"In the order of the slots"`
}

// SeenTag is a tag that was scanned.
type SeenTag struct {
	store.Scan
	InstrumentID *uuid.UUID `json:"instrument_id,omitempty"`
	KindName     string     `json:"kind_name"`
	Belongs      string     `json:"belongs" doc:"Room and slot in which it belongs"`
	State        SeenState  `json:"state" enum:"in place,with a player,other slot,other room,unknown"`
}

// SeenState says whether a tag was seen where it belongs.
type SeenState string

// The states of a tag that was seen.
const (
	InPlace       SeenState = "in place"
	ReturnedEarly SeenState = "with a player" // it is here although it is in a player's hands
	OtherSlot     SeenState = "other slot"
	OtherRoom     SeenState = "other room"
	Unknown       SeenState = "unknown"
)

// Unseen is an instrument that should stand in the room and was not seen.
type Unseen struct {
	InstrumentID uuid.UUID `json:"instrument_id"`
	Tag          string    `json:"tag"`
	KindName     string    `json:"kind_name"`
	Slot         string    `json:"slot"`
}

// BeginStocktake begins the count of a room, or goes on with the one that is under way.
func (a *App) BeginStocktake(ctx context.Context, by Person, id uuid.UUID, room string) (Stocktake, error) {
	return write(ctx, a, by, MayInspect, func(tx *store.Tx, s *snapshot) (Stocktake, error) {
		known := slices.ContainsFunc(s.instruments, func(i *instrument) bool { return i.Room == room })
		if !known && !slices.ContainsFunc(s.shelves, func(shelf store.Shelf) bool { return shelf.Room == room }) {
			return Stocktake{}, invalid("room", "there is no such room", room)
		}
		open, err := tx.OpenStocktake(ctx, room)
		if errors.Is(err, store.ErrNotFound) {
			open = store.Stocktake{ID: id, Room: room, BeganAt: a.now(), Person: &by.ID}
			err = tx.InsertStocktake(ctx, open)
		}
		if err != nil {
			return Stocktake{}, err
		}
		return s.counted(ctx, tx, open.ID)
	})
}

// Stocktake reads a count.
func (a *App) Stocktake(ctx context.Context, by Person, id uuid.UUID) (out Stocktake, err error) {
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return out, err
	}
	err = a.read(ctx, by, func(tx *store.Tx) error {
		out, err = s.counted(ctx, tx, id)
		return err
	})
	return out, err
}

// ScanIn is a tag as a scanner or a person types it.
type ScanIn struct {
	Tag  string `json:"tag" minLength:"1" maxLength:"40"`
	Slot string `json:"slot,omitempty" maxLength:"40" doc:"Where it was seen, when that is said"`
}

// Scan notes a tag in a count.
func (a *App) Scan(ctx context.Context, by Person, id uuid.UUID, in ScanIn) (Stocktake, error) {
	return write(ctx, a, by, MayInspect, func(tx *store.Tx, s *snapshot) (Stocktake, error) {
		take, _, err := tx.Stocktake(ctx, id)
		if err != nil {
			return Stocktake{}, err
		}
		if take.EndedAt != nil {
			return Stocktake{}, &Fault{Kind: Conflict, Message: "This stocktake has ended. Begin another."}
		}
		if err := tx.InsertScan(ctx, id, store.Scan{Tag: strings.ToUpper(strings.TrimSpace(in.Tag)), Slot: strings.TrimSpace(in.Slot), At: a.now()}); err != nil {
			return Stocktake{}, err
		}
		return s.counted(ctx, tx, id)
	})
}

// EndStocktake closes a count and notes in the files of the missing that they were not found.
func (a *App) EndStocktake(ctx context.Context, by Person, id uuid.UUID) (Stocktake, error) {
	return write(ctx, a, by, MayInspect, func(tx *store.Tx, s *snapshot) (Stocktake, error) {
		if err := tx.EndStocktake(ctx, id, a.now()); err != nil {
			return Stocktake{}, err
		}
		out, err := s.counted(ctx, tx, id)
		if err != nil {
			return out, err
		}
		for _, m := range out.Missing {
			if _, err := a.record(ctx, tx, by, store.Event{What: store.NotFound, Instrument: &m.InstrumentID}, map[string]any{"stocktake": id, "room": out.Room, "slot": m.Slot}); err != nil {
				return out, err
			}
		}
		return out, nil
	})
}

// counted compares what was scanned with what should be there.
func (s *snapshot) counted(ctx context.Context, tx *store.Tx, id uuid.UUID) (Stocktake, error) {
	take, scans, err := tx.Stocktake(ctx, id)
	if err != nil {
		return Stocktake{}, err
	}
	out := Stocktake{Stocktake: take, Seen: []SeenTag{}, Missing: []Unseen{}}
	byTag := map[string]*instrument{}
	for _, i := range s.instruments {
		byTag[i.Tag] = i
	}
	seen := map[string]bool{}
	for n := range scans {
		scan := scans[len(scans)-1-n]
		seen[scan.Tag] = true
		line := SeenTag{Scan: scan, State: Unknown}
		if i := byTag[scan.Tag]; i != nil {
			line.InstrumentID, line.KindName = &i.ID, i.kind.Name
			line.Belongs = strings.TrimSpace(i.Room + " " + i.Slot)
			line.State = i.seenAt(take.Room, scan.Slot)
		}
		out.Seen = append(out.Seen, line)
	}
	for _, i := range s.instruments {
		if i.Room != take.Room {
			continue
		}
		switch {
		case i.habit == nil:
			out.Expected++
			if !seen[i.Tag] {
				out.Missing = append(out.Missing, Unseen{i.ID, i.Tag, i.kind.Name, i.Slot})
			}
		case !seen[i.Tag]:
			out.Out++
		}
	}
	return out, nil
}

func (i *instrument) seenAt(room, slot string) SeenState {
	switch {
	case i.Room != room:
		return OtherRoom
	case slot != "" && slot != i.Slot:
		return OtherSlot
	case i.habit != nil:
		return ReturnedEarly
	}
	return InPlace
}
