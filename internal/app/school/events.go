package school

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/money"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
)

// An EventKind is a kind of entry in the log of an instrument: what it keeps, how the timeline says it, and how it is taken back.
// Every room registers its own.
type EventKind[Detail any] struct {
	Name     string
	Sentence func(d Detail, e Told) string
	Player   func(d Detail) *uuid.UUID // whom it concerns; nil where it concerns no player

	// Undo takes it back and says what stays, with journal.ErrNothing where all of it does; nil where that cannot be done. Need is the right
	// for it beside finishing care.
	Undo func(ctx context.Context, tx *store.Tx, u Undoing, d Detail) (stays []string, err error)
	Need journal.Right
}

// Told is what a sentence may say beside what the log keeps.
type Told struct {
	On     day.Day        // on which it was noted
	Player string         // to or from whom; empty when nobody is named or the player was erased
	In     money.Currency // what amounts are in
	Terms  bool           // the reader may read what was agreed with others: owners, contracts
}

// By is " from Ilse" and the like, and empty where no player is named.
func (t Told) By(preposition string) string {
	if t.Player == "" {
		return ""
	}
	return " " + preposition + " " + t.Player
}

// Undoing is the event that somebody takes back, and the school as it stands.
type Undoing struct {
	By     journal.Person
	School *Snapshot
	Event  eventrows.Event
}

type eventKind struct {
	sentence func(s *Snapshot, e eventrows.Event, terms bool) (string, error)
	undo     func(ctx context.Context, tx *store.Tx, u Undoing) ([]string, error)
	need     journal.Right
}

// Register makes a kind of event known. It panics when two rooms register the same.
func Register[Detail any](all *Schools, k EventKind[Detail]) {
	if _, twice := all.events[k.Name]; twice {
		panic("two kinds of events are called " + k.Name)
	}
	kind := eventKind{need: k.Need, sentence: func(s *Snapshot, e eventrows.Event, terms bool) (string, error) {
		var d Detail
		if err := json.Unmarshal(e.Detail, &d); err != nil {
			return "", fmt.Errorf("reading event %s: %w", e.ID, err)
		}
		told := Told{On: day.Of(e.At.In(s.Zone)), In: s.School.Currency, Terms: terms}
		if k.Player != nil {
			told.Player = s.NameOf(k.Player(d))
		}
		return k.Sentence(d, told), nil
	}}
	if k.Undo != nil {
		kind.undo = func(ctx context.Context, tx *store.Tx, u Undoing) ([]string, error) {
			var d Detail
			if err := json.Unmarshal(u.Event.Detail, &d); err != nil {
				return nil, fmt.Errorf("reading event %s: %w", u.Event.ID, err)
			}
			return k.Undo(ctx, tx, u, d)
		}
	}
	all.events[k.Name] = kind
}

// Sentence says what an event of the school did, in a few words, as by may read it.
func (all *Schools) Sentence(s *Snapshot, by journal.Person, e eventrows.Event) (string, error) {
	what, before := e.What, ""
	if e.What == eventrows.Undone && e.UndoesWhat != nil {
		what, before = *e.UndoesWhat, "Undone: "
	}
	kind, known := all.events[what]
	if !known {
		return "", fmt.Errorf("the log holds an event of a kind that nobody knows: %q", what)
	}
	sentence, err := kind.sentence(s, e, SeesTerms(by))
	return before + sentence, err
}

// CanBeUndone reports whether an event is of a kind that can be taken back, and was not yet.
func (all *Schools) CanBeUndone(e eventrows.Event) bool {
	return all.events[e.What].undo != nil && e.UndoneBy == nil
}

// Undo names the events to take back.
type Undo struct {
	Events []uuid.UUID `json:"events" minItems:"1" maxItems:"5000"`
}

// Undone names the events that took them back.
type Undone struct {
	Events []uuid.UUID `json:"events"`
	Stays  []string    `json:"stays" doc:"What was not taken back with it, and why; empty for nothing"`
}

// Undo takes events back by adding new ones; nothing is deleted. A change of an instrument can be taken back only
// while nobody has changed it again.
func (all *Schools) Undo(ctx context.Context, by journal.Person, in Undo) (Undone, error) {
	return Write(ctx, all, by, journal.MayFinishCare, func(tx *store.Tx, s *Snapshot) (Undone, error) {
		out := Undone{Events: []uuid.UUID{}, Stays: []string{}}
		for _, id := range in.Events {
			e, err := eventrows.EventByID(ctx, tx, id)
			if err != nil {
				return out, err
			}
			if e.Instrument != nil && s.Gone[*e.Instrument] != nil {
				return out, &journal.Fault{
					Kind:    journal.Conflict,
					Message: "The instrument is not at the school any more; nothing of it is undone.",
				}
			}
			kind := all.events[e.What]
			if kind.undo == nil {
				return out, &journal.Fault{Kind: journal.Conflict, Message: "This cannot be undone."}
			}
			if kind.need != "" {
				if err := by.Need(kind.need); err != nil {
					return out, err
				}
			}
			stays, err := kind.undo(ctx, tx, Undoing{By: by, School: s, Event: e})
			if err != nil && !errors.Is(err, journal.ErrNothing) {
				return out, err
			}
			out.Stays = append(out.Stays, stays...)
			if err != nil {
				continue // all of it stays
			}
			event, err := all.RecordUndone(ctx, tx, by, e)
			if err != nil {
				return out, err
			}
			out.Events = append(out.Events, event)
		}
		return out, nil
	})
}

// RecordUndone adds the event that takes another back.
func (all *Schools) RecordUndone(ctx context.Context, tx *store.Tx, by journal.Person, e eventrows.Event) (uuid.UUID, error) {
	return all.Record(ctx, tx, by, eventrows.Event{What: eventrows.Undone, Instrument: e.Instrument, Undoes: &e.ID}, e.Detail)
}
