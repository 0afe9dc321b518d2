package app

import (
	"context"
	"fmt"

	"github.com/google/uuid"

	"solfeggio/internal/core/care"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
)

// Finish says which care was done.
type Finish struct {
	Tasks  []FinishTask `json:"tasks" minItems:"1" maxItems:"500"`
	DoneOn *day.Day     `json:"done_on,omitempty" doc:"Today when left out; not in the future"`
}

// FinishTask names one clock.
type FinishTask struct {
	InstrumentID uuid.UUID `json:"instrument_id"`
	clocks.Key
}

// Finished says what was recorded.
type Finished struct {
	Events  []uuid.UUID `json:"events" doc:"What to undo"`
	Already []string    `json:"already" doc:"What somebody had already ticked off for the day, and was left as it is"`
}

// CareDetail is what the log keeps of care that was done.
type CareDetail struct {
	clocks.Key
	Title   string       `json:"title"`
	DoneOn  day.Day      `json:"done_on"`
	Started day.Day      `json:"started" doc:"Where the clock stood before"`
	State   care.State   `json:"state,omitempty" doc:"Empty for care from before the instrument came in"`
	Wear    float64      `json:"wear"`
	Implied []clocks.Key `json:"implied,omitempty"`
}

// Finish records care as done and restarts its clocks. Care done early or late is recorded as it was. A clock that
// was already restarted on that day is left alone, so that two people ticking the same line do it once.
func (a *App) Finish(ctx context.Context, by Person, in Finish) (Finished, error) {
	return write(ctx, a, by, MayFinishCare, func(tx *store.Tx, s *snapshot) (Finished, error) {
		on := s.today
		if in.DoneOn != nil {
			on = *in.DoneOn
		}
		if on > s.today {
			return Finished{}, invalid("done_on", "lies in the future", on)
		}
		out := Finished{Events: []uuid.UUID{}, Already: []string{}}
		for n, t := range in.Tasks {
			i := s.byID[t.InstrumentID]
			if i == nil {
				return out, invalid(fmt.Sprintf("tasks[%d].instrument_id", n), "no such instrument", t.InstrumentID)
			}
			if !clocks.Has(a.catalog, i.Instrument.Kind, t.Key) {
				return out, invalid(fmt.Sprintf("tasks[%d].routine", n), "this instrument has no such care", t.Routine)
			}
			started, err := tx.ClockStart(ctx, i.ID, t.Key)
			if err != nil {
				return out, err
			}
			if started == on {
				out.Already = append(out.Already, i.Tag)
				continue
			}
			event, err := a.finish(ctx, tx, by, i, t.Key, on)
			if err != nil {
				return out, err
			}
			out.Events = append(out.Events, event)
		}
		return out, nil
	})
}

// finish records one clock of an instrument as done.
func (a *App) finish(ctx context.Context, tx *store.Tx, by Person, i *instrument, key clocks.Key, on day.Day) (uuid.UUID, error) {
	restarts := clocks.Restarts(a.catalog, i.Instrument.Kind, key)
	routine, _ := a.catalog.Routine(key.Routine)
	title := clocks.Clock{Key: key, Kind: i.kind, Of: routine}.Title()
	detail := CareDetail{Key: key, Title: title, DoneOn: on, Started: i.CareFrom, Implied: restarts[1:]}
	for _, c := range i.clocks {
		if c.Key == key {
			detail.Started, detail.State, detail.Wear = c.Started, c.Reading.State, c.Reading.Wear
		}
	}
	event, err := a.record(ctx, tx, by, store.Event{What: store.CareDone, Instrument: &i.ID}, detail)
	if err != nil {
		return event, err
	}
	return event, tx.InsertCompletion(ctx, store.Completion{Event: event, Instrument: i.ID, DoneOn: on, Clocks: restarts})
}

// undoable are the events that Undo takes back.
var undoable = map[string]bool{
	store.CareDone: true, store.InstrumentChanged: true, store.FindingCleared: true, store.HandedOut: true, store.Returned: true, store.HoldEnded: true,
	store.KitChecked: true, store.KitRefilled: true, store.BenchTicked: true,
}

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
func (a *App) Undo(ctx context.Context, by Person, in Undo) (Undone, error) {
	return write(ctx, a, by, MayFinishCare, func(tx *store.Tx, s *snapshot) (Undone, error) {
		out := Undone{Events: []uuid.UUID{}, Stays: []string{}}
		for _, id := range in.Events {
			e, err := tx.Event(ctx, id)
			if err != nil {
				return out, err
			}
			if e.Instrument != nil && s.gone[*e.Instrument] != nil {
				return out, &Fault{Kind: Conflict, Message: "The instrument is not at the school any more; nothing of it is undone."}
			}
			switch e.What {
			case store.CareDone:
				err = tx.UndoCompletion(ctx, id)
			case store.FindingCleared:
				err = a.undoClearing(ctx, tx, e)
			case store.InstrumentChanged:
				if err = by.need(MayChangeInstruments); err == nil {
					err = a.undoChange(ctx, tx, by, s, e)
				}
			case store.KitChecked, store.KitRefilled:
				err = a.undoKit(ctx, tx, by, e)
			case store.BenchTicked:
				err = undoTick(ctx, tx, e)
			case store.HoldEnded:
				err = undoRelease(ctx, tx, e, s.today)
			case store.HandedOut, store.Returned:
				if err = by.need(MayChangeInstruments); err != nil {
					break
				}
				if e.What == store.Returned {
					err = a.undoReturn(ctx, tx, by, s, e)
				} else if err = a.undoHandOut(ctx, tx, s, e); err == nil {
					out.Stays, err = a.undoLoan(ctx, tx, by, s, e, out.Stays)
				}
			default:
				err = &Fault{Kind: Conflict, Message: "This cannot be undone."}
			}
			if err != nil {
				return out, err
			}
			event, err := a.record(ctx, tx, by, store.Event{What: store.Undone, Instrument: e.Instrument, Undoes: &id}, e.Detail)
			if err != nil {
				return out, err
			}
			out.Events = append(out.Events, event)
		}
		return out, nil
	})
}
