package upkeep

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/reeds"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/supplyrows"
	"solfeggio/internal/store/upkeeprows"
)

// Opening puts a new reed into a player's box.
type Opening struct {
	ID        uuid.UUID `json:"id" doc:"Made by the client"`
	PlayerID  uuid.UUID `json:"player_id"`
	Place     int       `json:"place,omitempty" minimum:"1" maximum:"12" doc:"In the holder; the first that is free when left out"`
	Strength  string    `json:"strength,omitempty" maxLength:"20" doc:"The player's when left out"`
	Synthetic bool      `json:"synthetic,omitempty"`
	OpenedOn  *day.Day  `json:"opened_on,omitempty" doc:"Today when left out"`
	FromStock bool      `json:"from_stock,omitempty" doc:"It comes from the school's stock"`
}

// ReedDetail is what the log keeps of a reed. It holds no name.
type ReedDetail struct {
	Reed   uuid.UUID             `json:"reed"`
	Player uuid.UUID             `json:"player_id"`
	Place  int                   `json:"place"`
	Cause  string                `json:"cause,omitempty"`
	Took   map[uuid.UUID]float64 `json:"took,omitempty" doc:"From which lots of stock"`
}

// Open records that a player opened a reed.
func (r *Room) Open(ctx context.Context, by journal.Person, in Opening) (journal.Changed, error) {
	return school.Write(ctx, r.schools, by, journal.MayFinishCare, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		reed, err := r.newReed(s, in)
		if err != nil {
			return journal.Changed{}, err
		}
		if err := upkeeprows.InsertReed(ctx, tx, reed); err != nil {
			return journal.Changed{}, err
		}
		detail := ReedDetail{Reed: reed.ID, Player: reed.Player, Place: reed.Place}
		if in.FromStock {
			lots, err := supply.GoingWith(ctx, tx, supplyrows.Stocked{Supply: reed.Supply, Size: reed.Strength})
			if err != nil {
				return journal.Changed{}, err
			}
			if detail.Took, _, err = supply.TakeFromStock(ctx, tx, lots, 1, s.Today); err != nil {
				return journal.Changed{}, err
			}
		}
		event, err := r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.ReedOpened}, detail)
		return journal.Changed{Events: []uuid.UUID{event}}, err
	})
}

// newReed is the reed that a player opens.
func (r *Room) newReed(s *school.Snapshot, in Opening) (upkeeprows.Reed, error) {
	reed := upkeeprows.Reed{ID: in.ID, Player: in.PlayerID, Strength: in.Strength, Synthetic: in.Synthetic, Place: in.Place, OpenedOn: s.Today}
	if s.Players[in.PlayerID] == nil {
		return reed, journal.Refuse("player_id", "no such player", in.PlayerID)
	}
	var of *catalog.Supply
	for _, i := range s.Instruments {
		if i.Habit != nil && i.Habit.Player != nil && *i.Habit.Player == in.PlayerID {
			if supply, ok := r.schools.Catalog.Reed(i.Kind); ok {
				of = supply
			}
		}
	}
	if of == nil {
		return reed, journal.Refuse("player_id", s.NameOf(&in.PlayerID)+" holds no instrument that is played with a reed", in.PlayerID)
	}
	reed.Supply = of.Key
	reed.Strength = cmp.Or(in.Strength, s.Players[in.PlayerID].ReedStrength)
	if reed.Strength != "" && !slices.Contains(of.Strengths, reed.Strength) {
		return reed, journal.Refuse("strength", "is no strength of a "+catalog.InText(of.Name), reed.Strength)
	}
	if in.OpenedOn != nil {
		reed.OpenedOn = *in.OpenedOn
	}
	switch {
	case reed.OpenedOn > s.Today:
		return reed, journal.Refuse("opened_on", "lies in the future", reed.OpenedOn)
	case reed.OpenedOn < s.Today.AddYears(-1):
		return reed, journal.Refuse("opened_on", "lies more than a year back", reed.OpenedOn)
	}
	box := s.Reeds[in.PlayerID]
	taken := func(place int) bool {
		return slices.ContainsFunc(box, func(b upkeeprows.Reed) bool { return b.Place == place })
	}
	if slices.ContainsFunc(box, func(b upkeeprows.Reed) bool { return b.ID == in.ID }) {
		return reed, journal.Refuse("id", "this reed was opened already", in.ID)
	}
	for p := 1; reed.Place == 0; p++ {
		if !taken(p) {
			reed.Place = p
		}
	}
	if reed.Place > 12 || taken(reed.Place) {
		return reed, journal.Refuse(
			"place",
			fmt.Sprintf("place %d of the holder is taken; throw the worn one away first", reed.Place),
			reed.Place,
		)
	}
	return reed, nil
}

// Discard says why a reed goes out of its box.
type Discard struct {
	Cause string `json:"cause" doc:"As the catalogue names it, such as chipped"`
}

// ThrowAway takes a reed out of its box.
func (r *Room) ThrowAway(ctx context.Context, by journal.Person, id uuid.UUID, in Discard) (journal.Changed, error) {
	return school.Write(ctx, r.schools, by, journal.MayFinishCare, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		if in.Cause == "" || !r.schools.Catalog.Ends(catalog.Cane, in.Cause) {
			return journal.Changed{}, journal.Refuse("cause", "say what became of it", in.Cause)
		}
		reed, err := upkeeprows.ReedByID(ctx, tx, id)
		if err != nil {
			return journal.Changed{}, err
		}
		if err := upkeeprows.EndReed(ctx, tx, id, max(s.Today, reed.OpenedOn), in.Cause); err != nil {
			return journal.Changed{}, err
		}
		event, err := r.schools.Record(
			ctx,
			tx,
			by,
			eventrows.Event{What: eventrows.ReedEnded},
			ReedDetail{Reed: id, Player: reed.Player, Place: reed.Place, Cause: in.Cause},
		)
		return journal.Changed{Events: []uuid.UUID{event}}, err
	})
}

// BreakInMinutes is how the school breaks reeds of a kind in.
type BreakInMinutes struct {
	Supply  string    `json:"supply"`
	Minutes []float64 `json:"minutes" maxItems:"30" doc:"On successive playing days; none for the usual one"`
}

// SetProgram puts the school's own break-in in place of the usual one.
func (r *Room) SetProgram(ctx context.Context, by journal.Person, in BreakInMinutes) error {
	of, ok := r.schools.Catalog.Supply(in.Supply)
	if !ok || len(of.BreakIn) == 0 {
		return journal.Refuse("supply", "is no reed", in.Supply)
	}
	if len(in.Minutes) > 0 {
		if _, err := reeds.BreakIn(reeds.BreakInIn{ProgramMinutes: in.Minutes}); err != nil {
			return journal.Refuse("minutes", fmt.Sprint(err), in.Minutes)
		}
	}
	_, err := school.Write(ctx, r.schools, by, journal.MayChangeSettings, func(tx *store.Tx, s *school.Snapshot) (struct{}, error) {
		if err := journal.AsSeen(ctx, s.BreakIns[in.Supply]); err != nil {
			return struct{}{}, err
		}
		return struct{}{}, upkeeprows.SetBreakIn(ctx, tx, in.Supply, in.Minutes)
	})
	return err
}
