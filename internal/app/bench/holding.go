package bench

import (
	"context"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/instrumentrows"
	"solfeggio/internal/store/lendingrows"
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
func (r *Room) Release(ctx context.Context, by journal.Person, id uuid.UUID, in Releasing) (journal.Changed, error) {
	how := strings.TrimSpace(in.How)
	if how == "" {
		return journal.Changed{}, journal.Refuse("how", "say what was done", in.How)
	}
	return school.Write(ctx, r.schools, by, journal.MayFinishCare, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		i, err := s.Instrument(id)
		if err != nil {
			return journal.Changed{}, err
		}
		holds, err := lendingrows.OpenHolds(ctx, tx, r.schools.Now(), id)
		if err != nil {
			return journal.Changed{}, err
		}
		if len(holds) == 0 {
			return journal.Changed{}, &journal.Fault{Kind: journal.Conflict, Message: i.Tag + " is not held any more."}
		}
		event, err := r.EndHold(ctx, tx, by, holds[0], how)
		return journal.Changed{Events: []uuid.UUID{event}}, err
	})
}

// EndHold ends a hold within a write, and records it.
func (r *Room) EndHold(ctx context.Context, tx *store.Tx, by journal.Person, h lendingrows.Hold, how string) (uuid.UUID, error) {
	if err := lendingrows.EndHold(ctx, tx, h.ID, r.schools.Now(), &by.ID, how); err != nil {
		return uuid.Nil, err
	}
	return r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.HoldEnded, Instrument: &h.Instrument}, HoldDetail{h.ID, h.Because, how})
}

// undoRelease holds an instrument again, unless it went out meanwhile.
func undoRelease(ctx context.Context, tx *store.Tx, instrument uuid.UUID, d HoldDetail, today day.Day) error {
	at, err := instrumentrows.AssignmentOn(ctx, tx, instrument, today)
	if err != nil {
		return err
	}
	if at != nil {
		return &journal.Fault{Kind: journal.Conflict, Message: "It was handed out in the meantime."}
	}
	return lendingrows.ResumeHold(ctx, tx, d.Hold)
}
