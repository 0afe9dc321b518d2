package shop

import (
	"context"
	"encoding/json"
	"fmt"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/shop"
	"solfeggio/internal/store"
	"solfeggio/internal/store/shoprows"
)

// Departure is an instrument that leaves for the shop today.
type Departure struct {
	At
	LoanerID   *uuid.UUID `json:"loaner_id,omitempty" doc:"What its player has meanwhile; left out for nothing"`
	ExpectedOn *day.Day   `json:"expected_on,omitempty" doc:"When it should be back; left out for what the shop's record says"`
}

// Send lets an instrument go to the shop today. Whoever plays it has a loaner or waits; it may be theirs again when it is back.
func (r *Room) Send(ctx context.Context, by journal.Person, id uuid.UUID, in Departure) (journal.Changed, error) {
	return r.move(ctx, by, id, in.At, shop.Send,
		func(tx *store.Tx, s *school.Snapshot, i *school.Instrument, j *shoprows.Job, m *step) error {
			return r.send(ctx, tx, by, s, i, j, m, in)
		})
}

func (r *Room) send(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	s *school.Snapshot,
	i *school.Instrument,
	j *shoprows.Job,
	m *step,
	in Departure,
) error {
	if err := mayGoToShop(i); err != nil {
		return err
	}
	at, err := chosen(s, j)
	if err != nil {
		return err
	}
	if i.Bench != nil {
		return &journal.Fault{Kind: journal.Conflict, Message: i.Tag + " lies on the bench. Finish it there or take it off first."}
	}
	expected, err := r.expectedFor(ctx, tx, s, *at, r.TradesOf(*j))
	if err != nil {
		return err
	}
	back := s.Today + day.Day(expected.Days)
	if in.ExpectedOn != nil {
		if back = *in.ExpectedOn; back < s.Today {
			return journal.Refuse("expected_on", "lies in the past", back)
		}
	}
	j.SentOn, j.ExpectedOn, j.ReadyOn, j.Loaner = &s.Today, &back, nil, nil
	if i.Habit == nil {
		if in.LoanerID != nil {
			return journal.Refuse("loaner_id", "nobody plays "+i.Tag+", so nobody needs another", in.LoanerID)
		}
		return nil
	}
	if in.LoanerID != nil && s.ByID[*in.LoanerID] == nil {
		return journal.Refuse("loaner_id", "no such instrument", in.LoanerID)
	}
	event, habit, err := r.lending.ToShop(ctx, tx, by, s, i, in.LoanerID)
	if err != nil {
		return err
	}
	m.events = append(m.events, event)
	j.Player, habit.PlayerID, j.Loaner = habit.PlayerID, nil, in.LoanerID
	j.Habit, err = json.Marshal(habit)
	return err
}

// Driving is a trip that is driven today.
type Driving struct {
	At
	Loaners map[uuid.UUID]uuid.UUID `json:"loaners,omitempty" doc:"What players have meanwhile, by job"`
}

// Drive lets everything that rides on a trip leave for its shop today.
func (r *Room) Drive(ctx context.Context, by journal.Person, id uuid.UUID, in Driving) (journal.Changed, error) {
	var untold []uuid.UUID
	changed, err := school.Write(ctx, r.schools, by, journal.MayChangeInstruments,
		func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
			out := journal.Changed{Events: []uuid.UUID{}}
			t, ok := tripOf(s, id)
			switch {
			case !ok:
				return out, &journal.Fault{Kind: journal.Conflict, Message: "That trip was driven or called off."}
			case t.Version != in.Version:
				return out, store.ErrStale
			}
			riders := r.trip(s, t).Riders
			if len(riders) == 0 {
				return out, &journal.Fault{Kind: journal.Conflict, Message: "Nothing rides on this trip."}
			}
			for _, rides := range riders {
				sending := Departure{}
				if loaner, ok := in.Loaners[rides.JobID]; ok {
					sending.LoanerID = &loaner
				}
				moved, err := r.moveIn(ctx, tx, by, s, rides.JobID, At{rides.Version}, shop.Send,
					func(tx *store.Tx, s *school.Snapshot, i *school.Instrument, j *shoprows.Job, m *step) error {
						return r.send(ctx, tx, by, s, i, j, m, sending)
					})
				if err != nil {
					return out, fmt.Errorf("%s: %w", rides.Tag, err)
				}
				out.Events = append(out.Events, moved.changed.Events...)
				if moved.untold {
					untold = append(untold, rides.JobID)
				}
			}
			now := r.schools.Now()
			return out, shoprows.DriveTrip(ctx, tx, id, &now)
		})
	if err != nil {
		return changed, err
	}
	for _, job := range untold {
		if !r.inform(ctx, by, job) {
			break // nor would it hear of the others
		}
	}
	return changed, nil
}
