package journal

import (
	"context"
	"encoding/json"

	"github.com/google/uuid"

	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
)

// Changed says what was recorded.
type Changed struct {
	Version int         `json:"version"`
	Events  []uuid.UUID `json:"events" doc:"What to undo; empty when nothing changed"`
}

// Record adds an event that by did just now.
func (j *Journal) Record(ctx context.Context, tx *store.Tx, by Person, e eventrows.Event, detail any) (uuid.UUID, error) {
	if err := j.complete(by, &e, detail); err != nil {
		return uuid.Nil, err
	}
	return e.ID, eventrows.InsertEvents(ctx, tx, e)
}

// A Deed is an event with its detail, to be recorded with others.
type Deed struct {
	eventrows.Event
	Of any
}

// RecordAll adds many events at once.
func (j *Journal) RecordAll(ctx context.Context, tx *store.Tx, by Person, deeds []Deed) ([]uuid.UUID, error) {
	events, ids := make([]eventrows.Event, len(deeds)), make([]uuid.UUID, len(deeds))
	for n, d := range deeds {
		events[n] = d.Event
		if err := j.complete(by, &events[n], d.Of); err != nil {
			return nil, err
		}
		ids[n] = events[n].ID
	}
	return ids, eventrows.InsertEvents(ctx, tx, events...)
}

func (j *Journal) complete(by Person, e *eventrows.Event, detail any) (err error) {
	e.ID, e.At = uuid.Must(uuid.NewV7()), j.Now()
	if by.ID != uuid.Nil {
		e.Person = &by.ID
	}
	e.Detail, err = json.Marshal(detail)
	return err
}
