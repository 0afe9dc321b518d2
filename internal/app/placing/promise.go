package placing

import (
	"cmp"
	"context"
	"fmt"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/instrumentrows"
)

// longestPromise is for how many days an instrument may be promised: over the summer.
const longestPromise = 120

// Promising keeps an instrument for a player.
type Promising struct {
	InstrumentID uuid.UUID `json:"instrument_id"`
	PlayerID     uuid.UUID `json:"player_id"`
	Until        day.Day   `json:"until" doc:"That day included; at most 120 days ahead"`
}

// PromiseDetail is what the log keeps of a promise.
type PromiseDetail struct {
	PlayerID uuid.UUID `json:"player_id"`
	Until    day.Day   `json:"until"`
}

// Promise keeps an instrument for a player by name until a day: nobody else is offered it, and no door lets it out to another. A promise
// to the same player may be made longer or shorter.
func (r *Room) Promise(ctx context.Context, by journal.Person, in Promising) (journal.Changed, error) {
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		i, p := s.ByID[in.InstrumentID], s.Players[in.PlayerID]
		switch {
		case i == nil:
			return journal.Changed{}, journal.Refuse("instrument_id", "no such instrument", in.InstrumentID)
		case p == nil || p.LeftOn != nil:
			return journal.Changed{}, journal.Refuse("player_id", "no such player", in.PlayerID)
		case in.Until < s.Today || in.Until > s.Today+longestPromise:
			return journal.Changed{}, journal.Refuse("until", fmt.Sprintf("must lie between today and %d days ahead", longestPromise), in.Until)
		case i.InHands():
			return journal.Changed{}, &journal.Fault{Kind: journal.Conflict, Message: i.Tag + " is in a player's hands. Take it back first."}
		}
		if other := s.PromisedTo(i); other != nil && other.ID != p.ID {
			return journal.Changed{}, &journal.Fault{Kind: journal.Conflict,
				Message: fmt.Sprintf("%s is promised to %s until %s. Take that back first.", i.Tag, other.Name(), i.Promise.Until.Words())}
		}
		if err := instrumentrows.PutPromise(ctx, tx, instrumentrows.Promise{Instrument: i.ID, Player: p.ID, Until: in.Until}); err != nil {
			return journal.Changed{}, err
		}
		event, err := r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.Promised, Instrument: &i.ID}, PromiseDetail{p.ID, in.Until})
		return journal.Changed{Events: []uuid.UUID{event}}, err
	})
}

// EndPromise takes a promise back.
func (r *Room) EndPromise(ctx context.Context, by journal.Person, instrument uuid.UUID) (journal.Changed, error) {
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		i, err := s.Instrument(instrument)
		if err != nil {
			return journal.Changed{}, err
		}
		if i.Promise == nil {
			return journal.Changed{}, &journal.Fault{Kind: journal.Conflict, Message: i.Tag + " is promised to nobody."}
		}
		if err := instrumentrows.DropPromise(ctx, tx, i.ID); err != nil {
			return journal.Changed{}, err
		}
		ended := PromiseDetail{i.Promise.Player, i.Promise.Until}
		event, err := r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.PromiseEnded, Instrument: &i.ID}, ended)
		return journal.Changed{Events: []uuid.UUID{event}}, err
	})
}

// registerEvents makes known what this room writes into the log.
func (r *Room) registerEvents() {
	whom := func(d PromiseDetail) *uuid.UUID { return &d.PlayerID }
	school.Register(r.schools, school.EventKind[PromiseDetail]{
		Name: eventrows.Promised, Need: journal.MayChangeInstruments, Player: whom,
		Sentence: func(d PromiseDetail, e school.Told) string {
			return "Promised to " + cmp.Or(e.Player, "a player") + " until " + d.Until.Words()
		},
		Undo: func(ctx context.Context, tx *store.Tx, u school.Undoing, _ PromiseDetail) ([]string, error) {
			return nil, instrumentrows.DropPromise(ctx, tx, *u.Event.Instrument)
		},
	})
	school.Register(r.schools, school.EventKind[PromiseDetail]{
		Name: eventrows.PromiseEnded, Need: journal.MayChangeInstruments, Player: whom,
		Sentence: func(_ PromiseDetail, e school.Told) string { return "No longer promised" + e.By("to") },
		Undo: func(ctx context.Context, tx *store.Tx, u school.Undoing, d PromiseDetail) ([]string, error) {
			i := u.School.ByID[*u.Event.Instrument]
			if i == nil || i.InHands() || u.School.PromisedTo(i) != nil || u.School.Players[d.PlayerID] == nil {
				return nil, &journal.Fault{Kind: journal.Conflict, Message: "It is somebody else's by now."}
			}
			return nil, instrumentrows.PutPromise(ctx, tx, instrumentrows.Promise{Instrument: i.ID, Player: d.PlayerID, Until: d.Until})
		},
	})
}

// Promises is the book as people may read it.
type Promises struct {
	Offers []Offer `json:"offers" doc:"Which free instrument is for whom; each for one alone"`
	Unmet  []Need  `json:"unmet" doc:"For whom there is none"`
	Order  string  `json:"order" doc:"Who comes first, after what was promised by name"`
}

// Promises reads the book.
func (r *Room) Promises(ctx context.Context, by journal.Person) (Promises, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return Promises{}, err
	}
	book := r.Book(s)
	return Promises{book.Offers, book.Unmet, s.Order()}, nil
}
