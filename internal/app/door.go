package app

import (
	"context"
	"errors"
	"fmt"

	"github.com/google/uuid"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
)

// mayGoOut says why an instrument must not go into a player's hands now; nil when it may. Everything by which an instrument
// gets there asks it: hand-outs, loans, exchanges, files, changes by hand, and whatever is undone. It asks the transaction, so
// that what the same write has found or ended counts. A nil player is somebody whom nobody names.
func (a *App) mayGoOut(ctx context.Context, tx *store.Tx, s *snapshot, id uuid.UUID, player *uuid.UUID) error {
	played, err := tx.AssignmentOn(ctx, id, s.today)
	if err != nil {
		return err
	}
	return a.mayBeHeldBy(ctx, tx, s, id, player, played, nil)
}

// mayBeHeldBy is mayGoOut for an instrument that is played as said: by nobody, or by somebody who is only now named. One hold may be
// overlooked: the one that goes with what is undone.
func (a *App) mayBeHeldBy(ctx context.Context, tx *store.Tx, s *snapshot, id uuid.UUID, player *uuid.UUID, played *store.Assignment, overlook *uuid.UUID) error {
	kept, err := tx.Instrument(ctx, id)
	if err != nil || kept.GoneOn != nil {
		return errors.Join(err, store.ErrNotFound)
	}
	now := instrument{Instrument: kept, habit: played}
	if now.findings, err = tx.OpenFindings(ctx, id); err != nil {
		return err
	}
	if err := now.judge(); err != nil {
		return err
	}
	holds, err := tx.OpenHolds(ctx, a.now(), id)
	if err != nil {
		return err
	}
	for n := range holds {
		if overlook == nil || holds[n].ID != *overlook {
			now.hold = &holds[n]
			now.hold.Because = waitsFor(holds[n], s.zone)
		}
	}
	if now.bench, err = tx.OpenBenchItem(ctx, id); err != nil {
		return err
	}
	if err := now.cannotBeHandedOut(); err != nil || player == nil {
		return err
	}
	switch p := s.players[*player]; {
	case p == nil:
		return &Fault{Kind: Conflict, Message: "That player is not kept any more."}
	case p.LeftOn != nil:
		return &Fault{Kind: Conflict, Message: p.Name() + " has left."}
	}
	return nil
}

// cannotBeHandedOut says why an instrument must not go into anybody's hands now.
func (i *instrument) cannotBeHandedOut() error {
	switch {
	case i.care.Stopped != "":
		return &Fault{Kind: Conflict, Message: fmt.Sprintf("%s is stopped (%s). It goes into nobody's hands until somebody allowed to clears it.", i.Tag, i.care.Stopped)}
	case i.habit != nil:
		return &Fault{Kind: Conflict, Message: fmt.Sprintf("%s is in somebody's hands already.", i.Tag)}
	case i.bench != nil:
		return &Fault{Kind: Conflict, Message: fmt.Sprintf("%s lies on the bench. It goes into nobody's hands until it is finished there or taken off.", i.Tag)}
	case i.hold != nil:
		return &Fault{Kind: Conflict, Message: fmt.Sprintf("%s is held: %s. It goes into nobody's hands until that is done.", i.Tag, i.hold.Because)}
	}
	return nil
}

// goOut lets an instrument be played from today on, and a named player answer for it as h says.
func (a *App) goOut(ctx context.Context, tx *store.Tx, by Person, s *snapshot, id uuid.UUID, habit Habit, h store.HandOver) error {
	if err := a.mayGoOut(ctx, tx, s, id, habit.PlayerID); err != nil {
		return err
	}
	if err := tx.PutAssignment(ctx, habit.assignment(uuid.Must(uuid.NewV7()), id, s.today)); err != nil {
		return err
	}
	return a.answerFor(ctx, tx, by, id, habit.PlayerID, h)
}

// answerFor begins the time in which a player answers for an instrument, with its kit as it is noted now. Nobody answers where
// nobody is named.
func (a *App) answerFor(ctx context.Context, tx *store.Tx, by Person, id uuid.UUID, player *uuid.UUID, h store.HandOver) error {
	if player == nil {
		return nil
	}
	kit, err := kitStates(ctx, tx, id)
	if err != nil {
		return err
	}
	h.Instrument, h.Player, h.GivenAt, h.GivenBy, h.Kit = id, player, a.now(), &by.ID, map[string]catalog.KitState(kit)
	return tx.InsertHandOver(ctx, h)
}

// takeBack takes an instrument out of somebody's hands, whoever answered for it and whatever is charged, and holds it until its
// turnover is done. Everything by which an instrument comes back does it.
func (a *App) takeBack(ctx context.Context, tx *store.Tx, by Person, s *snapshot, i *instrument, in Returning) (uuid.UUID, error) {
	at, err := tx.AssignmentOn(ctx, i.ID, s.today)
	if err != nil {
		return uuid.Nil, err
	}
	if at == nil {
		return uuid.Nil, &Fault{Kind: Conflict, Message: i.Tag + " is in nobody's hands."}
	}
	habit := habitOf(at)
	detail := HandedOutDetail{PlayerID: at.Player, Habit: &habit}
	if detail.HandOver, detail.Charge, err = a.closeHandOver(ctx, tx, by, s, i, in); err != nil {
		return uuid.Nil, err
	}
	if err := endYesterday(ctx, tx, *at, s.today); err != nil {
		return uuid.Nil, err
	}
	hold := store.Hold{ID: uuid.Must(uuid.NewV7()), Instrument: i.ID, Because: turnover, BeganAt: a.now(), BeganBy: &by.ID}
	if isNew, err := tx.InsertHold(ctx, hold); err != nil {
		return uuid.Nil, err
	} else if isNew {
		detail.Hold = &hold.ID
	}
	return a.record(ctx, tx, by, store.Event{What: store.Returned, Instrument: &i.ID}, detail)
}

// undoReturn takes a return back: the instrument is in the player's hands as before, and nothing is charged. What was found
// stays found; what may not go out stays here.
func (a *App) undoReturn(ctx context.Context, tx *store.Tx, by Person, s *snapshot, e store.Event) error {
	d, err := handedOut(e)
	if err != nil {
		return err
	}
	if d.Habit == nil {
		return &Fault{Kind: Conflict, Message: "This return is from before they could be undone; hand the instrument out again instead."}
	}
	played, err := tx.AssignmentOn(ctx, *e.Instrument, s.today)
	if err != nil {
		return err
	}
	if err := a.mayBeHeldBy(ctx, tx, s, *e.Instrument, d.Habit.PlayerID, played, d.Hold); err != nil {
		return err
	}
	if d.Hold != nil {
		err := tx.EndHold(ctx, *d.Hold, a.now(), &by.ID, "the return was undone")
		if err != nil && !errors.Is(err, store.ErrStale) { // else its turnover was done meanwhile
			return err
		}
	}
	if d.HandOver != nil {
		if err := tx.ReopenHandOver(ctx, *d.HandOver); err != nil {
			return err
		}
	}
	if d.Charge != nil {
		if err := tx.DeleteCharge(ctx, *d.Charge); err != nil {
			return err
		}
	}
	return tx.PutAssignment(ctx, d.Habit.assignment(uuid.Must(uuid.NewV7()), *e.Instrument, s.today))
}

// undoHandOut takes a hand-out of today back: the instrument stands free as before. One that was played longer comes back by a
// return, so that its turnover is not forgotten.
func (a *App) undoHandOut(ctx context.Context, tx *store.Tx, s *snapshot, e store.Event) error {
	d, err := handedOut(e)
	if err != nil {
		return err
	}
	if d.HandOver == nil && d.Habit == nil {
		return &Fault{Kind: Conflict, Message: "This hand-out is from before they could be undone; take the instrument back instead."}
	}
	return a.undoGoingOut(ctx, tx, s, e, d)
}

// undoGoingOut lets an instrument stand free that went out by the event, as d says.
func (a *App) undoGoingOut(ctx context.Context, tx *store.Tx, s *snapshot, e store.Event, d HandedOutDetail) error {
	if out := day.Of(e.At.In(s.zone)); out < s.today {
		return &Fault{Kind: Conflict, Message: fmt.Sprintf("It has been out since %s. Take it back instead, so that its turnover is not forgotten.", out.Words())}
	}
	at, err := tx.AssignmentOn(ctx, *e.Instrument, s.today)
	if err != nil {
		return err
	}
	if at == nil || !samePointed(at.Player, d.PlayerID) {
		return &Fault{Kind: Conflict, Message: "It came back in the meantime; there is nothing to undo."}
	}
	if d.HandOver != nil {
		if err := tx.DeleteHandOver(ctx, *d.HandOver); errors.Is(err, store.ErrStale) {
			return &Fault{Kind: Conflict, Message: "It came back in the meantime; there is nothing to undo."}
		} else if err != nil {
			return err
		}
	}
	return endYesterday(ctx, tx, *at, s.today)
}

// endYesterday ends an assignment before today; one that began today was never lived through and goes altogether.
func endYesterday(ctx context.Context, tx *store.Tx, at store.Assignment, today day.Day) error {
	if at.StartsOn == today {
		return tx.DeleteAssignment(ctx, at.Instrument, at.ID)
	}
	yesterday := today - 1
	at.EndsOn = &yesterday
	return tx.PutAssignment(ctx, at)
}

// undoLoan gives whoever had a loaner that was taken back their own instrument again, unless it may not go out: then it stays
// here, and that is said.
func (a *App) undoLoan(ctx context.Context, tx *store.Tx, by Person, s *snapshot, e store.Event, stays []string) ([]string, error) {
	d, err := handedOut(e)
	if err != nil || d.LentFor == nil {
		return stays, err
	}
	back, err := tx.Event(ctx, *d.LentFor)
	if err != nil || back.UndoneBy != nil {
		return stays, err
	}
	var refused *Fault
	switch err := a.undoReturn(ctx, tx, by, s, back); {
	case errors.As(err, &refused):
		return append(stays, refused.Message), nil
	case err != nil:
		return stays, err
	}
	_, err = a.record(ctx, tx, by, store.Event{What: store.Undone, Instrument: back.Instrument, Undoes: &back.ID}, back.Detail)
	return stays, err
}
