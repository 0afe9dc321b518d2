package shop

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/shop"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/lendingrows"
	"solfeggio/internal/store/shoprows"
)

// JobDetail is what the log keeps of a step of a job: how the job was before, so that the step can be taken back.
type JobDetail struct {
	Job    uuid.UUID       `json:"job"`
	Step   shop.Step       `json:"step,omitempty"` // empty when it was only changed
	Shop   string          `json:"shop,omitempty"`
	Cents  *int64          `json:"cents,omitempty"`
	How    string          `json:"how,omitempty"`
	Before *shoprows.Job   `json:"before,omitempty"` // nil when it was made
	Player *uuid.UUID      `json:"player,omitempty"` // of the job before
	Habit  json.RawMessage `json:"habit,omitempty"`
	Told   json.RawMessage `json:"told,omitempty"`
	Quote  *uuid.UUID      `json:"quote,omitempty"` // on which the step decided
	Hold   *uuid.UUID      `json:"hold,omitempty"`  // that began with it
	Past   bool            `json:"past,omitempty"`  // it was made of an old bill
}

// OwnerDetail is what the log keeps of a word to an owner.
type OwnerDetail struct {
	Owner string `json:"owner"`
}

// registerEvents makes known what this room writes into the log.
func (r *Room) registerEvents() {
	school.Register(r.schools, school.EventKind[JobDetail]{
		Name: eventrows.JobMade, Need: journal.MayChangeInstruments,
		Sentence: func(d JobDetail, e school.Told) string {
			if d.Past && d.Cents != nil {
				return fmt.Sprintf("A repair from before was noted: %s, for %s", d.Shop, e.In.Say(*d.Cents))
			}
			return "Wanted at a repair shop"
		},
		Undo: func(ctx context.Context, tx *store.Tx, _ school.Undoing, d JobDetail) ([]string, error) {
			version := 1
			if d.Past {
				version = 2
			}
			err := shoprows.DeleteJob(ctx, tx, d.Job, version)
			if errors.Is(err, store.ErrStale) {
				return nil, movedOn
			}
			return nil, err
		},
	})
	school.Register(r.schools, school.EventKind[JobDetail]{
		Name: eventrows.JobChanged, Need: journal.MayChangeInstruments,
		Sentence: func(JobDetail, school.Told) string { return "Changed what is asked of the shop" },
		Undo:     r.undoStep,
	})
	school.Register(r.schools, school.EventKind[JobDetail]{
		Name: eventrows.JobMoved, Need: journal.MayChangeInstruments, Sentence: sentence, Undo: r.undoStep,
	})
	school.Register(r.schools, school.EventKind[OwnerDetail]{
		Name: eventrows.OwnerTold,
		Sentence: func(d OwnerDetail, e school.Told) string {
			if !e.Terms {
				return "Its owner was told"
			}
			return "Its owner was told, by the simulated outbox: " + d.Owner
		},
	})
}

var movedOn = &journal.Fault{Kind: journal.Conflict, Message: "The job was moved on since. Take that back first."}

// undoStep puts a job back to how it was before a step.
func (r *Room) undoStep(ctx context.Context, tx *store.Tx, u school.Undoing, d JobDetail) ([]string, error) {
	now, err := shoprows.JobByID(ctx, tx, d.Job)
	if err != nil {
		return nil, err
	}
	if d.Before == nil || now.Version != d.Before.Version+1 {
		return nil, movedOn
	}
	before := *d.Before
	before.Version, before.Player, before.Habit, before.Told = now.Version, d.Player, d.Habit, d.Told
	if before.State.Open() && !now.State.Open() {
		if other, err := shoprows.OpenJobs(ctx, tx, now.Instrument); err != nil {
			return nil, err
		} else if len(other) > 0 {
			return nil, &journal.Fault{Kind: journal.Conflict, Message: "Another job was made for it since. Call that off first."}
		}
	}
	if before.Player != nil && u.School.Players[*before.Player] == nil {
		before.Player = nil // erased since
	}
	if d.Hold != nil {
		if err := lendingrows.EndHold(ctx, tx, *d.Hold, r.schools.Now(), &u.By.ID, "the check-in was undone"); err != nil && !errors.Is(err, store.ErrStale) {
			return nil, err
		}
	}
	if d.Step == shop.Quote || d.Step == shop.Ask {
		if _, err := shoprows.DecideQuote(ctx, tx, d.Job, "overtaken", r.schools.Now()); err != nil {
			return nil, err
		}
	}
	if d.Quote != nil {
		if err := shoprows.ReopenQuote(ctx, tx, *d.Quote); err != nil {
			return nil, err
		}
	}
	if d.Step == shop.Send && before.Trip != nil { // which then was not driven
		if err := shoprows.DriveTrip(ctx, tx, *before.Trip, nil); err != nil && !errors.Is(err, store.ErrStale) {
			return nil, err
		}
	}
	var stays []string
	if d.Step == shop.Ask || d.Step == shop.Accept || d.Step == shop.Refuse {
		stays = append(stays, "What was sent to the shop is not taken back; tell them.")
	}
	return stays, shoprows.UpdateJob(ctx, tx, before)
}

// sentence says a step on the timeline.
func sentence(d JobDetail, e school.Told) string {
	at, costs := "", ""
	if d.Shop != "" {
		at = " " + d.Shop
	}
	if d.Cents != nil {
		costs = " for " + e.In.Say(*d.Cents)
	}
	switch d.Step {
	case shop.Ask:
		return "Asked for a quote:" + at
	case shop.Quote:
		return "Quoted" + costs + " by" + at
	case shop.Accept:
		return "Repair agreed" + costs + " with" + at
	case shop.Refuse:
		return "Quote refused:" + at
	case shop.Book:
		return "Booked for the way to" + at
	case shop.Unbook:
		return "Taken off the trip"
	case shop.Send:
		return "Went to" + at
	case shop.Fetch:
		return "Back from" + at
	case shop.CheckIn:
		return "Checked in from" + at + costs
	}
	if d.How != "" {
		return "Repair called off: " + d.How
	}
	return "Repair called off"
}
