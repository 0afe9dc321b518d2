package school

import (
	"fmt"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
)

// CannotBeHandedOut says why an instrument must not go into anybody's hands now.
func (i *Instrument) CannotBeHandedOut() error {
	switch {
	case i.Care.Stopped != "":
		return &journal.Fault{
			Kind: journal.Conflict,
			Message: fmt.Sprintf(
				"%s is stopped (%s). It goes into nobody's hands until somebody allowed to clears it.",
				i.Tag,
				i.Care.Stopped,
			),
		}
	case i.Habit != nil:
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

// Instrument finds an instrument that is at the school.
func (s *Snapshot) Instrument(id uuid.UUID) (*Instrument, error) {
	if i := s.ByID[id]; i != nil {
		return i, nil
	}
	return nil, store.ErrNotFound
}
