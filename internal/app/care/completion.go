package care

import (
	"context"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/carerows"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/upkeeprows"
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
	Stopped []string    `json:"stopped" doc:"What is stopped for players all the same, and why"`
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
	Cause   string       `json:"cause,omitempty" doc:"Why what was renewed had come to its end"`
}

// Finish records care as done and restarts its clocks. Care done early or late is recorded as it was. A clock that
// was already restarted on that day is left alone, so that two people ticking the same line do it once.
func (r *Room) Finish(ctx context.Context, by journal.Person, in Finish) (Finished, error) {
	return school.Write(ctx, r.schools, by, journal.MayFinishCare, func(tx *store.Tx, s *school.Snapshot) (Finished, error) {
		on := s.Today
		if in.DoneOn != nil {
			on = *in.DoneOn
		}
		if on > s.Today {
			return Finished{}, journal.Refuse("done_on", "lies in the future", on)
		}
		out := Finished{Events: []uuid.UUID{}, Already: []string{}, Stopped: []string{}}
		for n, t := range in.Tasks {
			i := s.ByID[t.InstrumentID]
			if i == nil {
				return out, journal.Refuse(fmt.Sprintf("tasks[%d].instrument_id", n), "no such instrument", t.InstrumentID)
			}
			if !clocks.Has(r.schools.Catalog, i.Instrument.Kind, t.Key) {
				return out, journal.Refuse(fmt.Sprintf("tasks[%d].routine", n), "this instrument has no such care", t.Routine)
			}
			if err := i.CareCounts(on); err != nil {
				return out, err
			}
			if still := fmt.Sprintf("%s is stopped: %s", i.Tag, i.Care.Stopped); i.Care.Stopped != "" && !slices.Contains(out.Stopped, still) {
				out.Stopped = append(out.Stopped, still)
			}
			started, err := carerows.ClockStartOf(ctx, tx, i.ID, t.Key)
			if err != nil {
				return out, err
			}
			if started == on {
				out.Already = append(out.Already, i.Tag)
				continue
			}
			event, err := r.MarkDone(ctx, tx, by, i, t.Key, on)
			if err != nil {
				return out, err
			}
			out.Events = append(out.Events, event)
		}
		return out, nil
	})
}

// MarkDone records one clock of an instrument as done. What it renews is put on with it, of an unknown make.
func (r *Room) MarkDone(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	i *school.Instrument,
	key clocks.Key,
	on day.Day,
) (uuid.UUID, error) {
	return r.Renew(ctx, tx, by, i, key, on, upkeeprows.PartLife{}, "")
}

// Renew records one clock of an instrument as done by which a part is renewed, and what was put on; that which was on it ends for a
// cause. A plan for the part is thereby fulfilled.
func (r *Room) Renew(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	i *school.Instrument,
	key clocks.Key,
	on day.Day,
	fresh upkeeprows.PartLife,
	cause string,
) (uuid.UUID, error) {
	restarts := clocks.Restarts(r.schools.Catalog, i.Instrument.Kind, key)
	routine, _ := r.schools.Catalog.Routine(key.Routine)
	title := clocks.Clock{Key: key, Kind: i.Kind, Of: routine}.Title()
	detail := CareDetail{Cause: cause, Key: key, Title: title, DoneOn: on, Started: i.CareFrom, Implied: restarts[1:]}
	for _, c := range i.Clocks {
		if c.Key == key {
			detail.Started, detail.State, detail.Wear = c.Started, c.Reading.State, c.Reading.Wear
		}
	}
	event, err := r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.CareDone, Instrument: &i.ID}, detail)
	if err != nil {
		return event, err
	}
	if err := carerows.InsertCompletion(ctx, tx, carerows.Completion{Event: event, Instrument: i.ID, DoneOn: on, Clocks: restarts}); err != nil {
		return event, err
	}
	if part, _ := i.Kind.Part(key.Part); !routine.Replaces || !part.Lives {
		return event, nil
	}
	fresh.Instrument, fresh.Part, fresh.PutOn, fresh.BegunBy = i.ID, key.Part, on, event
	if err := upkeeprows.BeginLife(ctx, tx, fresh, cause); err != nil {
		return event, err
	}
	return event, upkeeprows.DropPlanned(ctx, tx, i.ID, key.Part)
}
