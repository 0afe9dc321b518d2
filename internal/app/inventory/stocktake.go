package inventory

import (
	"context"
	"errors"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/instrumentrows"
)

// Stocktake is a count of a room as it stands.
type Stocktake struct {
	instrumentrows.Stocktake
	Expected int       `json:"expected" doc:"Instruments of the room that are in nobody's hands and at no shop"`
	Out      int       `json:"out" doc:"Instruments of the room that are in a player's hands and were not seen"`
	AtShop   int       `json:"at_shop" doc:"Instruments of the room that are at a shop and were not seen"`
	Seen     []SeenTag `json:"seen" doc:"The latest first"`
	Missing  []Unseen  `json:"missing" doc:"In the order of the slots"`
}

// SeenTag is a tag that was scanned.
type SeenTag struct {
	instrumentrows.Scan
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
func (r *Room) BeginStocktake(ctx context.Context, by journal.Person, id uuid.UUID, room string) (Stocktake, error) {
	return school.Write(ctx, r.schools, by, journal.MayInspect, func(tx *store.Tx, s *school.Snapshot) (Stocktake, error) {
		known := slices.ContainsFunc(s.Instruments, func(i *school.Instrument) bool { return i.Room == room })
		if !known && !slices.ContainsFunc(s.Shelves, func(shelf instrumentrows.Shelf) bool { return shelf.Room == room }) {
			return Stocktake{}, journal.Refuse("room", "there is no such room", room)
		}
		open, err := instrumentrows.OpenStocktake(ctx, tx, room)
		if errors.Is(err, store.ErrNotFound) {
			open = instrumentrows.Stocktake{ID: id, Room: room, BeganAt: r.schools.Now(), Person: &by.ID}
			err = instrumentrows.InsertStocktake(ctx, tx, open)
		}
		if err != nil {
			return Stocktake{}, err
		}
		return counted(s, ctx, tx, open.ID)
	})
}

// Stocktake reads a count.
func (r *Room) Stocktake(ctx context.Context, by journal.Person, id uuid.UUID) (out Stocktake, err error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return out, err
	}
	err = r.schools.Read(ctx, by, func(tx *store.Tx) error {
		out, err = counted(s, ctx, tx, id)
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
func (r *Room) Scan(ctx context.Context, by journal.Person, id uuid.UUID, in ScanIn) (Stocktake, error) {
	return school.Write(ctx, r.schools, by, journal.MayInspect, func(tx *store.Tx, s *school.Snapshot) (Stocktake, error) {
		take, _, err := instrumentrows.StocktakeByID(ctx, tx, id)
		if err != nil {
			return Stocktake{}, err
		}
		if take.EndedAt != nil {
			return Stocktake{}, &journal.Fault{Kind: journal.Conflict, Message: "This stocktake has ended. Begin another."}
		}
		if err := instrumentrows.InsertScan(ctx, tx, id,
			instrumentrows.Scan{Tag: strings.ToUpper(strings.TrimSpace(in.Tag)), Slot: strings.TrimSpace(in.Slot), At: r.schools.Now()}); err != nil {
			return Stocktake{}, err
		}
		return counted(s, ctx, tx, id)
	})
}

// EndStocktake closes a count and notes in the files of the missing that they were not found.
func (r *Room) EndStocktake(ctx context.Context, by journal.Person, id uuid.UUID) (Stocktake, error) {
	return school.Write(ctx, r.schools, by, journal.MayInspect, func(tx *store.Tx, s *school.Snapshot) (Stocktake, error) {
		if err := instrumentrows.EndStocktake(ctx, tx, id, r.schools.Now()); err != nil {
			return Stocktake{}, err
		}
		out, err := counted(s, ctx, tx, id)
		if err != nil {
			return out, err
		}
		for _, m := range out.Missing {
			if _, err := r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.NotFound, Instrument: &m.InstrumentID},
				NotFoundDetail{Stocktake: id, Room: out.Room, Slot: m.Slot}); err != nil {
				return out, err
			}
		}
		return out, nil
	})
}

// counted compares what was scanned with what should be there.
func counted(s *school.Snapshot, ctx context.Context, tx *store.Tx, id uuid.UUID) (Stocktake, error) {
	take, scans, err := instrumentrows.StocktakeByID(ctx, tx, id)
	if err != nil {
		return Stocktake{}, err
	}
	out := Stocktake{Stocktake: take, Seen: []SeenTag{}, Missing: []Unseen{}}
	byTag := map[string]*school.Instrument{}
	for _, i := range s.Instruments {
		byTag[i.Tag] = i
	}
	seen := map[string]bool{}
	for n := range scans {
		scan := scans[len(scans)-1-n]
		seen[scan.Tag] = true
		line := SeenTag{Scan: scan, State: Unknown}
		if i := byTag[scan.Tag]; i != nil {
			line.InstrumentID, line.KindName = &i.ID, i.Kind.Name
			line.Belongs = strings.TrimSpace(i.Room + " " + i.Slot)
			line.State = seenAt(i, take.Room, scan.Slot)
		}
		out.Seen = append(out.Seen, line)
	}
	for _, i := range s.Instruments {
		if i.Room != take.Room {
			continue
		}
		switch {
		case i.Away() && !seen[i.Tag]:
			out.AtShop++
		case i.Away():
		case !i.InHands():
			out.Expected++
			if !seen[i.Tag] {
				out.Missing = append(out.Missing, Unseen{i.ID, i.Tag, i.Kind.Name, i.Slot})
			}
		case !seen[i.Tag]:
			out.Out++
		}
	}
	return out, nil
}

func seenAt(i *school.Instrument, room, slot string) SeenState {
	switch {
	case i.Room != room:
		return OtherRoom
	case slot != "" && slot != i.Slot:
		return OtherSlot
	case i.InHands():
		return ReturnedEarly
	}
	return InPlace
}
