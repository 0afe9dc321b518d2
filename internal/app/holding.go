package app

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
)

// HoldDetail is what the log keeps of a hold that ended.
type HoldDetail struct {
	Hold    uuid.UUID `json:"hold"`
	Because string    `json:"because"`
	How     string    `json:"how"`
}

// Releasing says what was done so that an instrument need not wait any more.
type Releasing struct {
	How string `json:"how" maxLength:"500" doc:"What was done, with which product and lot"`
}

// Release lets a held instrument go. It needs a word on what was done: the record names who answers for it.
func (a *App) Release(ctx context.Context, by Person, id uuid.UUID, in Releasing) (Changed, error) {
	how := strings.TrimSpace(in.How)
	if how == "" {
		return Changed{}, invalid("how", "say what was done", in.How)
	}
	return write(ctx, a, by, MayFinishCare, func(tx *store.Tx, s *snapshot) (Changed, error) {
		i, err := s.instrument(id)
		if err != nil {
			return Changed{}, err
		}
		holds, err := tx.OpenHolds(ctx, a.now(), id)
		if err != nil {
			return Changed{}, err
		}
		if len(holds) == 0 {
			return Changed{}, &Fault{Kind: Conflict, Message: i.Tag + " is not held any more."}
		}
		if err := tx.EndHold(ctx, holds[0].ID, a.now(), &by.ID, how); err != nil {
			return Changed{}, err
		}
		event, err := a.record(ctx, tx, by, store.Event{What: store.HoldEnded, Instrument: &id}, HoldDetail{holds[0].ID, holds[0].Because, how})
		return Changed{Events: []uuid.UUID{event}}, err
	})
}

// undoRelease holds an instrument again, unless it went out meanwhile.
func undoRelease(ctx context.Context, tx *store.Tx, e store.Event, today day.Day) error {
	var d HoldDetail
	if err := json.Unmarshal(e.Detail, &d); err != nil {
		return fmt.Errorf("reading event %s: %w", e.ID, err)
	}
	at, err := tx.AssignmentOn(ctx, *e.Instrument, today)
	if err != nil {
		return err
	}
	if at != nil {
		return &Fault{Kind: Conflict, Message: "It was handed out in the meantime."}
	}
	return tx.ResumeHold(ctx, d.Hold)
}
