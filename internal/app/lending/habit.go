package lending

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/instrumentrows"
	"solfeggio/internal/store/lendingrows"
	"solfeggio/internal/store/schoolrows"
)

// Change is an instrument as it should be from now on.
type Change struct {
	Instrument instrumentrows.Instrument `json:"instrument"`
	Habit      *school.Habit             `json:"habit,omitempty" doc:"Left out when nobody plays it"`
}

// ChangeDetail is what the log keeps of a change. Before and After are set when the instrument itself changed.
type ChangeDetail struct {
	Before      *instrumentrows.Instrument `json:"before,omitempty"`
	After       *instrumentrows.Instrument `json:"after,omitempty"`
	HabitBefore *school.Habit              `json:"habit_before,omitempty"`
	HabitAfter  *school.Habit              `json:"habit_after,omitempty"`
}

// ChangePlaying lets an instrument be played as wanted from today on; nil lets it come back. Out of the hands of a named player it
// comes by a return only.
func (r *Room) ChangePlaying(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	s *school.Snapshot,
	i *school.Instrument,
	want *school.Habit,
) ([]uuid.UUID, error) {
	at, err := instrumentrows.AssignmentOn(ctx, tx, i.ID, s.Today)
	if err != nil {
		return nil, err
	}
	var has *school.Habit
	if at != nil {
		played := school.HabitOf(at)
		has = &played
	}
	switch {
	case SameHabit(has, want):
		return nil, nil
	case want == nil:
		event, err := r.TakeBack(ctx, tx, by, s, i, Returning{})
		return []uuid.UUID{event}, err
	case has == nil:
		err = r.GoOut(ctx, tx, by, s, i.ID, *want, lendingrows.HandOver{ID: uuid.Must(uuid.NewV7())})
	case samePointed(has.PlayerID, want.PlayerID):
		err = playOn(ctx, tx, *at, *want, s.Today)
	case has.PlayerID != nil:
		err = &journal.Fault{
			Kind: journal.Conflict,
			Message: fmt.Sprintf(
				"%s is in the hands of %s. Take it back first: it is held until its turnover is done, and then goes to the next.",
				i.Tag,
				s.NameOf(has.PlayerID),
			),
		}
	default: // only now somebody says who has it
		if err = r.mayBeHeldBy(ctx, tx, s, i.ID, want.PlayerID, nil, nil); err != nil {
			break
		}
		if err = playOn(ctx, tx, *at, *want, s.Today); err == nil {
			err = r.answerFor(ctx, tx, by, s, i.ID, want.PlayerID, lendingrows.HandOver{ID: uuid.Must(uuid.NewV7())})
		}
	}
	if err != nil {
		return nil, err
	}
	event, err := r.schools.Record(
		ctx,
		tx,
		by,
		eventrows.Event{What: eventrows.InstrumentChanged, Instrument: &i.ID},
		ChangeDetail{HabitBefore: has, HabitAfter: want},
	)
	return []uuid.UUID{event}, err
}

// Wanted is how an instrument is to be played.
type Wanted struct {
	Instrument *school.Instrument
	Habit      *school.Habit // nil by nobody
}

// ChangePlayingOfMany is ChangePlaying for many instruments. Those that stay with whoever has them are changed in one go.
func (r *Room) ChangePlayingOfMany(
	ctx context.Context, tx *store.Tx, by journal.Person, s *school.Snapshot, list []Wanted,
) (events []uuid.UUID, err error) {
	var ended, begun []instrumentrows.Assignment
	var deeds []journal.Deed
	yesterday := s.Today - 1
	for _, w := range list {
		at := w.Instrument.Habit
		if at == nil || w.Habit == nil || !samePointed(at.Player, w.Habit.PlayerID) {
			more, err := r.ChangePlaying(ctx, tx, by, s, w.Instrument, w.Habit)
			if err != nil {
				return events, err
			}
			events = append(events, more...)
			continue
		}
		has := school.HabitOf(at)
		if SameHabit(&has, w.Habit) {
			continue
		}
		id := at.ID
		if at.StartsOn < s.Today {
			until := *at
			until.EndsOn = &yesterday
			ended, id = append(ended, until), uuid.Must(uuid.NewV7())
		}
		begun = append(begun, w.Habit.Assignment(id, at.Instrument, s.Today))
		deeds = append(deeds, journal.Deed{
			Event: eventrows.Event{What: eventrows.InstrumentChanged, Instrument: &w.Instrument.ID},
			Of:    ChangeDetail{HabitBefore: &has, HabitAfter: w.Habit},
		})
	}
	for _, assignments := range [][]instrumentrows.Assignment{ended, begun} {
		if len(assignments) > 0 {
			if err := instrumentrows.PutAssignments(ctx, tx, assignments...); err != nil {
				return events, err
			}
		}
	}
	if len(deeds) == 0 {
		return events, nil
	}
	more, err := r.schools.RecordAll(ctx, tx, by, deeds)
	return append(events, more...), err
}

// playOn lets whoever plays an instrument play it as wanted from today on. What began today is changed and not followed.
func playOn(ctx context.Context, tx *store.Tx, at instrumentrows.Assignment, want school.Habit, today day.Day) error {
	id := at.ID
	if at.StartsOn < today {
		if err := endYesterday(ctx, tx, at, today); err != nil {
			return err
		}
		id = uuid.Must(uuid.NewV7())
	}
	return instrumentrows.PutAssignments(ctx, tx, want.Assignment(id, at.Instrument, today))
}

// undoChange takes a change of an instrument back, or of how it is played, as long as it is as it was left.
func (r *Room) undoChange(ctx context.Context, tx *store.Tx, u school.Undoing, d ChangeDetail) error {
	by, s, e := u.By, u.School, u.Event
	if d.Before != nil {
		now, err := instrumentrows.InstrumentByID(ctx, tx, *e.Instrument)
		if err != nil {
			return err
		}
		if !SameInstrument(now, *d.After) {
			return &journal.Fault{Kind: journal.Conflict, Message: "It was changed again since; change it by hand."}
		}
		d.Before.Version = now.Version
		return instrumentrows.UpdateInstruments(ctx, tx, *d.Before)
	}
	at, err := instrumentrows.AssignmentOn(ctx, tx, *e.Instrument, s.Today)
	if err != nil {
		return err
	}
	var has *school.Habit
	if at != nil {
		played := school.HabitOf(at)
		has = &played
	}
	switch {
	case !SameHabit(has, d.HabitAfter):
		return &journal.Fault{Kind: journal.Conflict, Message: "How it is played was changed again since; change it by hand."}
	case d.HabitBefore == nil:
		open, err := lendingrows.OpenHandOvers(ctx, tx, *e.Instrument)
		if err != nil {
			return err
		}
		out := school.HandedOutDetail{PlayerID: has.PlayerID, Habit: has}
		if len(open) > 0 {
			out.HandOver = &open[0].ID
		}
		return r.undoGoingOut(ctx, tx, s, e, out)
	default:
		_, err := r.ChangePlaying(ctx, tx, by, s, s.ByID[*e.Instrument], d.HabitBefore)
		return err
	}
}

// SameHabit reports whether an instrument is played alike.
func SameHabit(x, y *school.Habit) bool {
	if x == nil || y == nil {
		return x == y
	}
	sorted := func(ids []uuid.UUID) []uuid.UUID {
		return slices.SortedFunc(slices.Values(ids), func(a, b uuid.UUID) int { return strings.Compare(a.String(), b.String()) })
	}
	same := *x
	same.Ensembles = y.Ensembles
	return slices.Equal(sorted(x.Ensembles), sorted(y.Ensembles)) &&
		same.PracticeMinutes == y.PracticeMinutes && same.PracticeDays == y.PracticeDays && same.VacationShare == y.VacationShare &&
		same.HeavySweat == y.HeavySweat && same.Players == y.Players && samePointed(x.PlayerID, y.PlayerID)
}

// SameInstrument compares what can be changed of an instrument.
func SameInstrument(x, y instrumentrows.Instrument) bool {
	if !samePointed(x.AcquiredOn, y.AcquiredOn) || !samePointed(x.PriceCents, y.PriceCents) || !samePointed(x.BowCents, y.BowCents) {
		return false
	}
	for _, i := range []*instrumentrows.Instrument{&x, &y} {
		i.AcquiredOn, i.PriceCents, i.BowCents, i.KitChecked, i.GoneOn, i.Version = nil, nil, nil, nil, nil, 0
	}
	return x == y
}

func samePointed[T comparable](x, y *T) bool { return x == y || x != nil && y != nil && *x == *y }

// CheckHabit refuses a habit that cannot be.
func CheckHabit(s *school.Snapshot, h *school.Habit) error {
	if h == nil {
		return nil
	}
	for n, id := range h.Ensembles {
		if !slices.ContainsFunc(s.Ensembles, func(e schoolrows.Ensemble) bool { return e.ID == id }) {
			return journal.Refuse(fmt.Sprintf("habit.ensembles[%d]", n), "there is no such ensemble", id)
		}
	}
	if h.PlayerID != nil && s.Players[*h.PlayerID] == nil {
		return journal.Refuse("habit.player_id", "there is no such player", *h.PlayerID)
	}
	return nil
}
