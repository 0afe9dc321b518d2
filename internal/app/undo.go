package app

import (
	"context"

	"solfeggio/internal/app/bench"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/store"

	"github.com/google/uuid"
)

// Undo names the events to take back.
type Undo struct {
	Events []uuid.UUID `json:"events" minItems:"1" maxItems:"500"`
}

// Undone names the events that took them back.
type Undone struct {
	Events []uuid.UUID `json:"events"`
	Stays  []string    `json:"stays" doc:"What was not taken back with it, and why; empty for nothing"`
}

// Undo takes events back by adding new ones; nothing is deleted. A change of an instrument can be taken back only
// while nobody has changed it again.
func (a *App) Undo(ctx context.Context, by journal.Person, in Undo) (Undone, error) {
	return school.Write(ctx, a.Schools, by, journal.MayFinishCare, func(tx *store.Tx, s *school.Snapshot) (Undone, error) {
		out := Undone{Events: []uuid.UUID{}, Stays: []string{}}
		for _, id := range in.Events {
			e, err := tx.Event(ctx, id)
			if err != nil {
				return out, err
			}
			if e.Instrument != nil && s.Gone[*e.Instrument] != nil {
				return out, &journal.Fault{Kind: journal.Conflict, Message: "The instrument is not at the school any more; nothing of it is undone."}
			}
			switch e.What {
			case store.CareDone:
				err = tx.UndoCompletion(ctx, id)
			case store.FindingCleared:
				err = a.Inspection.UndoClearing(ctx, tx, e)
			case store.InstrumentChanged:
				if err = by.Need(journal.MayChangeInstruments); err == nil {
					err = a.Lending.UndoChange(ctx, tx, by, s, e)
				}
			case store.KitChecked, store.KitRefilled:
				err = a.Supply.UndoKit(ctx, tx, by, e)
			case store.BenchTicked:
				err = bench.UndoTick(ctx, tx, e)
			case store.HoldEnded:
				err = bench.UndoRelease(ctx, tx, e, s.Today)
			case store.HandedOut, store.Returned:
				if err = by.Need(journal.MayChangeInstruments); err != nil {
					break
				}
				if e.What == store.Returned {
					err = a.Lending.UndoReturn(ctx, tx, by, s, e)
				} else if err = a.Lending.UndoHandOut(ctx, tx, s, e); err == nil {
					out.Stays, err = a.Lending.UndoLoan(ctx, tx, by, s, e, out.Stays)
				}
			default:
				err = &journal.Fault{Kind: journal.Conflict, Message: "This cannot be undone."}
			}
			if err != nil {
				return out, err
			}
			event, err := a.Record(ctx, tx, by, store.Event{What: store.Undone, Instrument: e.Instrument, Undoes: &id}, e.Detail)
			if err != nil {
				return out, err
			}
			out.Events = append(out.Events, event)
		}
		return out, nil
	})
}
