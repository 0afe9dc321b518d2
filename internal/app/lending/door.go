package lending

import (
	"context"
	"errors"
	"fmt"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/report"
	"solfeggio/internal/store"
	"solfeggio/internal/store/benchrows"
	"solfeggio/internal/store/checkrows"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/instrumentrows"
	"solfeggio/internal/store/lendingrows"
	"solfeggio/internal/store/shoprows"
)

// mayGoOut says why an instrument must not go into a player's hands now; nil when it may. Everything by which an instrument
// gets there asks it: hand-outs, loans, exchanges, files, changes by hand, and whatever is undone. It asks the transaction, so
// that what the same write has found or ended counts. A nil player is somebody whom nobody names.
func (r *Room) mayGoOut(ctx context.Context, tx *store.Tx, s *school.Snapshot, id uuid.UUID, player *uuid.UUID) error {
	played, err := instrumentrows.AssignmentOn(ctx, tx, id, s.Today)
	if err != nil {
		return err
	}
	return r.mayBeHeldBy(ctx, tx, s, id, player, played, nil)
}

// mayBeHeldBy is mayGoOut for an instrument that is played as said: by nobody, or by somebody who is only now named. One hold may be
// overlooked: the one that goes with what is undone.
func (r *Room) mayBeHeldBy(
	ctx context.Context,
	tx *store.Tx,
	s *school.Snapshot,
	id uuid.UUID,
	player *uuid.UUID,
	played *instrumentrows.Assignment,
	overlook *uuid.UUID,
) error {
	kept, err := instrumentrows.InstrumentByID(ctx, tx, id)
	if err != nil || kept.GoneOn != nil {
		return errors.Join(err, store.ErrNotFound)
	}
	now := school.Instrument{Instrument: kept, Habit: played}
	if now.Findings, err = checkrows.OpenFindings(ctx, tx, id); err != nil {
		return err
	}
	if err := now.Judge(); err != nil {
		return err
	}
	holds, err := lendingrows.OpenHolds(ctx, tx, r.schools.Now(), id)
	if err != nil {
		return err
	}
	for n := range holds {
		if overlook == nil || holds[n].ID != *overlook {
			now.Hold = &holds[n]
			now.Hold.Because = school.WaitsFor(holds[n], s.Zone)
		}
	}
	if now.Bench, err = benchrows.OpenBenchItem(ctx, tx, id); err != nil {
		return err
	}
	jobs, err := shoprows.OpenJobs(ctx, tx, id)
	if err != nil {
		return err
	}
	if len(jobs) > 0 {
		now.Job = &jobs[0]
	}
	if err := now.CannotBeHandedOut(); err != nil {
		return err
	}
	promises, err := instrumentrows.Promises(ctx, tx, id)
	if err != nil {
		return err
	}
	if len(promises) > 0 {
		now.Promise = &promises[0]
	}
	if p := s.PromisedTo(&now); p != nil && (player == nil || p.ID != *player) {
		return &journal.Fault{Kind: journal.Conflict, Message: fmt.Sprintf("%s is promised to %s until %s. Take that back first.",
			kept.Tag, p.Name(), now.Promise.Until.Words())}
	}
	if player == nil {
		return nil
	}
	switch p := s.Players[*player]; {
	case p == nil:
		return &journal.Fault{Kind: journal.Conflict, Message: "That player is not kept any more."}
	case p.LeftOn != nil:
		return &journal.Fault{Kind: journal.Conflict, Message: p.Name() + " has left."}
	}
	return nil
}

// GoOut lets an instrument be played from today on, and a named player answer for it as h says.
func (r *Room) GoOut(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	s *school.Snapshot,
	id uuid.UUID,
	habit school.Habit,
	h lendingrows.HandOver,
) error {
	if err := r.mayGoOut(ctx, tx, s, id, habit.PlayerID); err != nil {
		return err
	}
	if at, err := instrumentrows.AssignmentOn(ctx, tx, id, s.Today); err != nil {
		return err
	} else if at != nil { // a class set's, or else it might not go out
		if err := endYesterday(ctx, tx, *at, s.Today); err != nil {
			return err
		}
	}
	if err := instrumentrows.PutAssignments(ctx, tx, habit.Assignment(uuid.Must(uuid.NewV7()), id, s.Today)); err != nil {
		return err
	}
	if err := instrumentrows.DropPromise(ctx, tx, id); err != nil { // it is kept now
		return err
	}
	return r.answerFor(ctx, tx, by, s, id, habit.PlayerID, h)
}

// answerFor begins the time in which a player answers for an instrument, with its kit as it is noted now. Nobody answers where
// nobody is named.
func (r *Room) answerFor(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	s *school.Snapshot,
	id uuid.UUID,
	player *uuid.UUID,
	h lendingrows.HandOver,
) error {
	if player == nil {
		return nil
	}
	kit, err := supply.KitStates(ctx, tx, id)
	if err != nil {
		return err
	}
	h.Instrument, h.Player, h.GivenAt, h.GivenBy, h.Kit = id, player, r.schools.Now(), &by.ID, kit
	if i := s.ByID[id]; i != nil {
		h.Kit = r.givenWith(i, kit)
		if h.Known, err = r.knownAt(ctx, tx, s, i, h.GivenAt); err != nil {
			return err
		}
	}
	return lendingrows.InsertHandOver(ctx, tx, h)
}

// givenWith is what goes out in the case of an instrument, each thing in its state: a thing that the school keeps elsewhere later was given
// all the same.
func (r *Room) givenWith(i *school.Instrument, found supply.KeptStates) map[string]catalog.KitState {
	given := map[string]catalog.KitState{}
	for _, item := range r.schools.CaseOf(i) {
		given[item.Supply] = found.Of(item.Supply)
	}
	return given
}

// TakeBack takes an instrument out of somebody's hands, whoever answered for it and whatever is charged, and holds it until its
// turnover is done. Everything by which an instrument comes back does it.
func (r *Room) TakeBack(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	s *school.Snapshot,
	i *school.Instrument,
	in Returning,
) (uuid.UUID, error) {
	at, err := instrumentrows.AssignmentOn(ctx, tx, i.ID, s.Today)
	if err != nil {
		return uuid.Nil, err
	}
	if at == nil {
		return uuid.Nil, &journal.Fault{Kind: journal.Conflict, Message: i.Tag + " is in nobody's hands."}
	}
	habit := school.HabitOf(at)
	detail := school.HandedOutDetail{PlayerID: at.Player, Habit: &habit, Together: in.together}
	if detail.HandOver, detail.Charge, err = r.closeHandOver(ctx, tx, by, s, i, in); err != nil {
		return uuid.Nil, err
	}
	if err := endYesterday(ctx, tx, *at, s.Today); err != nil {
		return uuid.Nil, err
	}
	if !in.toShop {
		if detail.Hold, err = r.HoldForTurnover(ctx, tx, by, i.ID); err != nil {
			return uuid.Nil, err
		}
	}
	if err := r.inspection.Carry(ctx, tx, by, i.ID, report.Looks); err != nil {
		return uuid.Nil, err
	}
	return r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.Returned, Instrument: &i.ID}, detail)
}

// HoldForTurnover lets an instrument wait for its turnover; nil when it does already.
func (r *Room) HoldForTurnover(ctx context.Context, tx *store.Tx, by journal.Person, instrument uuid.UUID) (*uuid.UUID, error) {
	hold := lendingrows.Hold{ID: uuid.Must(uuid.NewV7()), Instrument: instrument, Because: turnover, BeganAt: r.schools.Now(), BeganBy: &by.ID}
	if isNew, err := lendingrows.InsertHold(ctx, tx, hold); err != nil || !isNew {
		return nil, err
	}
	return &hold.ID, nil
}

// ToShop takes an instrument out of somebody's hands because it goes to a repair shop, and gives them a loaner in its place where there is
// one. Whoever had it may have it again without a turnover; HoldForTurnover is for when somebody else does.
func (r *Room) ToShop(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	s *school.Snapshot,
	i *school.Instrument,
	loaner *uuid.UUID,
) (event uuid.UUID, habit school.Habit, err error) {
	habit = school.HabitOf(i.Habit)
	back, err := r.TakeBack(ctx, tx, by, s, i, Returning{toShop: true})
	if err != nil || loaner == nil {
		return back, habit, err
	}
	event, err = r.inPlace(ctx, tx, by, s, *loaner, habit, back)
	return event, habit, err
}

// FromShop gives an instrument that is back from a repair shop to whoever had it, and takes their loaner back.
func (r *Room) FromShop(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	s *school.Snapshot,
	i, loaner *school.Instrument,
	habit school.Habit,
) (events []uuid.UUID, err error) {
	if loaner != nil {
		event, err := r.TakeBack(ctx, tx, by, s, loaner, Returning{})
		if err != nil {
			return nil, err
		}
		events = append(events, event)
	}
	event, err := r.goesOut(ctx, tx, by, s, i.ID, school.HandedOutDetail{PlayerID: habit.PlayerID, Habit: &habit})
	return append(events, event), err
}

// undoReturn takes a return back: the instrument is in the player's hands as before, and nothing is charged. What was found
// stays found; what may not go out stays here.
func (r *Room) undoReturn(ctx context.Context, tx *store.Tx, u school.Undoing, d school.HandedOutDetail) (stays []string, err error) {
	by, s, e := u.By, u.School, u.Event
	if d.Habit == nil {
		return nil, &journal.Fault{
			Kind:    journal.Conflict,
			Message: "This return is from before they could be undone; hand the instrument out again instead.",
		}
	}
	played, err := instrumentrows.AssignmentOn(ctx, tx, *e.Instrument, s.Today)
	if err != nil {
		return nil, err
	}
	err = r.mayBeHeldBy(ctx, tx, s, *e.Instrument, d.Habit.PlayerID, played, d.Hold)
	var refused *journal.Fault
	if d.Together && errors.As(err, &refused) { // one does not keep the others back
		return []string{refused.Message}, journal.ErrNothing
	}
	if err != nil {
		return nil, err
	}
	if d.Hold != nil {
		err := lendingrows.EndHold(ctx, tx, *d.Hold, r.schools.Now(), &by.ID, "the return was undone")
		if err != nil && !errors.Is(err, store.ErrStale) { // else its turnover was done meanwhile
			return nil, err
		}
	}
	if d.HandOver != nil {
		if err := lendingrows.ReopenHandOver(ctx, tx, *d.HandOver); err != nil {
			return nil, err
		}
	}
	if d.Charge != nil {
		if err := lendingrows.DeleteCharge(ctx, tx, *d.Charge); err != nil {
			return nil, err
		}
	}
	return nil, instrumentrows.PutAssignments(ctx, tx, d.Habit.Assignment(uuid.Must(uuid.NewV7()), *e.Instrument, s.Today))
}

// undoHandOut takes a hand-out of today back: the instrument stands free as before. One that was played longer comes back by a
// return, so that its turnover is not forgotten.
func (r *Room) undoHandOut(ctx context.Context, tx *store.Tx, s *school.Snapshot, e eventrows.Event, d school.HandedOutDetail) error {
	if d.HandOver == nil && d.Habit == nil {
		return &journal.Fault{
			Kind:    journal.Conflict,
			Message: "This hand-out is from before they could be undone; take the instrument back instead.",
		}
	}
	return r.undoGoingOut(ctx, tx, s, e, d)
}

// undoGoingOut lets an instrument stand free that went out by the event, as d says.
func (r *Room) undoGoingOut(ctx context.Context, tx *store.Tx, s *school.Snapshot, e eventrows.Event, d school.HandedOutDetail) error {
	if out := day.Of(e.At.In(s.Zone)); out < s.Today {
		return &journal.Fault{
			Kind:    journal.Conflict,
			Message: fmt.Sprintf("It has been out since %s. Take it back instead, so that its turnover is not forgotten.", out.Words()),
		}
	}
	at, err := instrumentrows.AssignmentOn(ctx, tx, *e.Instrument, s.Today)
	if err != nil {
		return err
	}
	if at == nil || !samePointed(at.Player, d.PlayerID) {
		return &journal.Fault{Kind: journal.Conflict, Message: "It came back in the meantime; there is nothing to undo."}
	}
	if d.HandOver != nil {
		if err := lendingrows.DeleteHandOver(ctx, tx, *d.HandOver); errors.Is(err, store.ErrStale) {
			return &journal.Fault{Kind: journal.Conflict, Message: "It came back in the meantime; there is nothing to undo."}
		} else if err != nil {
			return err
		}
	}
	if err := endYesterday(ctx, tx, *at, s.Today); err != nil || d.ClassSet == nil {
		return err
	}
	return instrumentrows.PutAssignments(ctx, tx, d.ClassSet.Assignment(uuid.Must(uuid.NewV7()), *e.Instrument, s.Today))
}

// classSetOf is how an instrument is played in a class set, nil where it is in none.
func classSetOf(i *school.Instrument) *school.Habit {
	if i == nil || i.Habit == nil || i.InHands() {
		return nil
	}
	habit := school.HabitOf(i.Habit)
	return &habit
}

// endYesterday ends an assignment before today; one that began today was never lived through and goes altogether.
func endYesterday(ctx context.Context, tx *store.Tx, at instrumentrows.Assignment, today day.Day) error {
	if at.StartsOn >= today {
		return instrumentrows.DeleteAssignment(ctx, tx, at.Instrument, at.ID)
	}
	yesterday := today - 1
	at.EndsOn = &yesterday
	return instrumentrows.PutAssignments(ctx, tx, at)
}

// undoLoan gives whoever had a loaner that was taken back their own instrument again, unless it may not go out: then it stays
// here, and that is said.
func (r *Room) undoLoan(ctx context.Context, tx *store.Tx, u school.Undoing, d school.HandedOutDetail) (stays []string, err error) {
	if d.LentFor == nil {
		return nil, nil
	}
	back, err := eventrows.EventByID(ctx, tx, *d.LentFor)
	if err != nil || back.UndoneBy != nil {
		return nil, err
	}
	was, err := handedOut(back)
	if err != nil {
		return nil, err
	}
	var refused *journal.Fault
	switch _, err := r.undoReturn(ctx, tx, school.Undoing{By: u.By, School: u.School, Event: back}, was); {
	case errors.As(err, &refused):
		return []string{refused.Message}, nil
	case err != nil:
		return nil, err
	}
	_, err = r.schools.RecordUndone(ctx, tx, u.By, back)
	return nil, err
}
