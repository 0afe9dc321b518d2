package school

import (
	"fmt"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/shop"
	"solfeggio/internal/store"
)

// InHands reports whether a named player has the instrument. A class set that is played in ensembles by nobody named is not: it stands in
// its slot and can be handed out.
func (i *Instrument) InHands() bool { return i.Habit != nil && i.Habit.Player != nil }

// CannotBeHandedOut says why an instrument must not go into anybody's hands now.
func (i *Instrument) CannotBeHandedOut() error {
	switch {
	case i.Away():
		return &journal.Fault{Kind: journal.Conflict, Message: fmt.Sprintf("%s is at the shop.", i.Tag)}
	case i.ComesIn():
		return &journal.Fault{
			Kind:    journal.Conflict,
			Message: fmt.Sprintf("%s is back from the shop and nobody has checked it in. It goes into nobody's hands until then.", i.Tag),
		}
	case i.Care.Stopped != "":
		return &journal.Fault{
			Kind: journal.Conflict,
			Message: fmt.Sprintf(
				"%s is stopped (%s). It goes into nobody's hands until somebody allowed to clears it.",
				i.Tag,
				i.Care.Stopped,
			),
		}
	case i.InHands():
		return &journal.Fault{Kind: journal.Conflict, Message: fmt.Sprintf("%s is in somebody's hands already.", i.Tag)}
	case i.Bench != nil:
		return &journal.Fault{
			Kind:    journal.Conflict,
			Message: fmt.Sprintf("%s lies on the bench. It goes into nobody's hands until it is finished there or taken off.", i.Tag),
		}
	case i.Hold != nil:
		return &journal.Fault{
			Kind:    journal.Conflict,
			Message: fmt.Sprintf("%s is held: %s. It goes into nobody's hands until that is done.", i.Tag, i.Hold.Because),
		}
	}
	return nil
}

// CareCounts says why care that somebody says was done on a day cannot be: the instrument was at a shop.
func (i *Instrument) CareCounts(on day.Day) error {
	if i.Away() && (i.Job.SentOn == nil || on >= *i.Job.SentOn) {
		return &journal.Fault{
			Kind:    journal.Conflict,
			Message: fmt.Sprintf("%s is at the shop. What is done to it there is noted when it is checked in; nothing was noted now.", i.Tag),
		}
	}
	return nil
}

// Away reports whether it is at a repair shop.
func (i *Instrument) Away() bool { return i.Job != nil && i.Job.State == shop.Away }

// ComesIn reports whether it is back from a repair shop and not checked in.
func (i *Instrument) ComesIn() bool { return i.Job != nil && i.Job.State == shop.Back }

// YearEnd is the last day of the last term within a year, nil when no term is entered: until then an instrument is lent.
func (s *Snapshot) YearEnd() *day.Day {
	var last *day.Day
	for _, t := range s.Terms {
		if t.EndsOn >= s.Today && t.EndsOn <= s.Today.AddYears(1) && (last == nil || t.EndsOn > *last) {
			last = &t.EndsOn
		}
	}
	return last
}

// Spare reports whether an instrument can be lent: nobody plays it, and nothing holds it.
func (i *Instrument) Spare() bool { return i.Habit == nil && i.CannotBeHandedOut() == nil }

// Instrument finds an instrument that is at the school.
func (s *Snapshot) Instrument(id uuid.UUID) (*Instrument, error) {
	if i := s.ByID[id]; i != nil {
		return i, nil
	}
	return nil, store.ErrNotFound
}
