package inventory

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/instrumentrows"
	"solfeggio/internal/store/schoolrows"
)

// ManyInstruments is one change of many instruments. What is left out stays as it is with each of them.
type ManyInstruments struct {
	Instruments []uuid.UUID `json:"instruments" minItems:"1" maxItems:"5000"`
	Maker       *string     `json:"maker,omitempty" maxLength:"100"`
	Model       *string     `json:"model,omitempty" maxLength:"100"`
	Room        *string     `json:"room,omitempty" maxLength:"80" doc:"Another room empties the slot"`
	AcquiredOn  *day.Day    `json:"acquired_on,omitempty"`
	PriceCents  *int64      `json:"price_cents,omitempty" minimum:"0" maximum:"1000000000" doc:"Of each"`
	Join        []uuid.UUID `json:"join,omitempty" maxItems:"100" doc:"Ensembles in which they are played from now on; one that nobody has becomes a class set"`
	Leave       []uuid.UUID `json:"leave,omitempty" maxItems:"100" doc:"Ensembles in which they are not played any more; a class set without any comes back"`
}

// ChangeMany changes many instruments at once, all or none.
func (r *Room) ChangeMany(ctx context.Context, by journal.Person, in ManyInstruments) (journal.Changed, error) {
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		out := journal.Changed{Events: []uuid.UUID{}}
		if err := in.check(s); err != nil {
			return out, err
		}
		var changes []Edited
		wants := make([]lending.Wanted, len(in.Instruments))
		for n, id := range in.Instruments {
			i := s.ByID[id]
			wants[n] = lending.Wanted{Instrument: i, Habit: in.playing(i)}
			if after := in.of(i.Instrument); after != i.Instrument {
				if err := checkInstrument(i.Kind, after, s.Today); err != nil {
					return out, err
				}
				changes = append(changes, Edited{i.Instrument, after})
			}
		}
		changed, err := r.SaveChanges(ctx, tx, by, changes...)
		if err != nil {
			return out, err
		}
		played, err := r.lending.ChangePlayingOfMany(ctx, tx, by, s, wants)
		out.Events = append(append(out.Events, changed...), played...)
		return out, err
	})
}

func (in ManyInstruments) check(s *school.Snapshot) error {
	seen := map[uuid.UUID]bool{}
	for n, id := range in.Instruments {
		if s.ByID[id] == nil {
			return journal.Refuse(fmt.Sprintf("instruments[%d]", n), "no such instrument", id)
		}
		if seen[id] {
			return journal.Refuse(fmt.Sprintf("instruments[%d]", n), "is named twice", id)
		}
		seen[id] = true
	}
	for path, list := range map[string][]uuid.UUID{"join": in.Join, "leave": in.Leave} {
		for n, id := range list {
			if !slices.ContainsFunc(s.Ensembles, func(e schoolrows.Ensemble) bool { return e.ID == id }) {
				return journal.Refuse(fmt.Sprintf("%s[%d]", path, n), "is no ensemble", id)
			}
		}
	}
	return nil
}

// of is an instrument as it is after the change.
func (in ManyInstruments) of(i instrumentrows.Instrument) instrumentrows.Instrument {
	for to, text := range map[*string]*string{&i.Maker: in.Maker, &i.Model: in.Model} {
		if text != nil {
			*to = strings.TrimSpace(*text)
		}
	}
	if in.Room != nil && strings.TrimSpace(*in.Room) != i.Room {
		i.Room, i.Slot = strings.TrimSpace(*in.Room), ""
	}
	if in.AcquiredOn != nil && (i.AcquiredOn == nil || *i.AcquiredOn != *in.AcquiredOn) {
		i.AcquiredOn, i.AcquiredAs = in.AcquiredOn, day.Exact
	}
	if in.PriceCents != nil && (i.PriceCents == nil || *i.PriceCents != *in.PriceCents) {
		i.PriceCents = in.PriceCents
	}
	return i
}

// playing is how it is played after the change; nil by nobody.
func (in ManyInstruments) playing(i *school.Instrument) *school.Habit {
	var habit school.Habit
	switch {
	case i.Habit != nil:
		habit = school.HabitOf(i.Habit)
	case len(in.Join) == 0:
		return nil
	default:
		habit = school.UsualHabit()
	}
	before := len(habit.Ensembles)
	habit.Ensembles = slices.DeleteFunc(slices.Clone(habit.Ensembles), func(e uuid.UUID) bool { return slices.Contains(in.Leave, e) })
	for _, e := range in.Join {
		if !slices.Contains(habit.Ensembles, e) {
			habit.Ensembles = append(habit.Ensembles, e)
		}
	}
	if habit.PlayerID == nil && before > 0 && len(habit.Ensembles) == 0 {
		return nil
	}
	return &habit
}
