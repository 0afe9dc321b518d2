package journal

import (
	"context"
	"encoding/json"

	"github.com/google/uuid"

	"solfeggio/internal/store"
)

// Changed says what was recorded.
type Changed struct {
	Version int         `json:"version"`
	Events  []uuid.UUID `json:"events" doc:"What to undo; empty when nothing changed"`
}

// Record adds an event that by did just now.
func (j *Journal) Record(ctx context.Context, tx *store.Tx, by Person, e store.Event, detail any) (uuid.UUID, error) {
	text, err := json.Marshal(detail)
	if err != nil {
		return uuid.Nil, err
	}
	e.ID, e.At, e.Detail = uuid.Must(uuid.NewV7()), j.Now(), text
	if by.ID != uuid.Nil {
		e.Person = &by.ID
	}
	return e.ID, tx.InsertEvent(ctx, e)
}
