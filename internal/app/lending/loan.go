package lending

import (
	"context"
	"fmt"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/lendingrows"
)

// Lending names the instrument that is lent instead.
type Lending struct {
	LoanerID uuid.UUID `json:"loaner_id"`
}

// Lend gives whoever plays a stopped instrument another one from today on: how it was played goes over to the loaner, and the
// instrument itself is back and held.
func (r *Room) Lend(ctx context.Context, by journal.Person, id uuid.UUID, in Lending) (journal.Changed, error) {
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		i, err := s.Instrument(id)
		if err != nil {
			return journal.Changed{}, err
		}
		loaner := s.ByID[in.LoanerID]
		switch {
		case loaner == nil:
			return journal.Changed{}, journal.Refuse("loaner_id", "no such instrument", in.LoanerID)
		case i.Habit == nil:
			return journal.Changed{}, &journal.Fault{
				Kind:    journal.Conflict,
				Message: fmt.Sprintf("Nobody plays %s now, so nobody needs another.", i.Tag),
			}
		}
		habit := school.HabitOf(i.Habit)
		back, err := r.TakeBack(ctx, tx, by, s, i, Returning{})
		if err != nil {
			return journal.Changed{}, err
		}
		event, err := r.inPlace(ctx, tx, by, s, loaner.ID, habit, back)
		return journal.Changed{Events: []uuid.UUID{event}}, err
	})
}

// inPlace lends an instrument in place of one that came back by an event.
func (r *Room) inPlace(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	s *school.Snapshot,
	loaner uuid.UUID,
	habit school.Habit,
	back uuid.UUID,
) (uuid.UUID, error) {
	return r.goesOut(ctx, tx, by, s, loaner, school.HandedOutDetail{
		PlayerID: habit.PlayerID, Habit: &habit, LentFor: &back, ClassSet: classSetOf(s.ByID[loaner]),
	})
}

// goesOut lets an instrument be played as d says, and records it.
func (r *Room) goesOut(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	s *school.Snapshot,
	id uuid.UUID,
	d school.HandedOutDetail,
) (uuid.UUID, error) {
	h := lendingrows.HandOver{ID: uuid.Must(uuid.NewV7())}
	if err := r.GoOut(ctx, tx, by, s, id, *d.Habit, h); err != nil {
		return uuid.Nil, err
	}
	if d.PlayerID != nil {
		d.HandOver = &h.ID
	}
	return r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.HandedOut, Instrument: &id}, d)
}
