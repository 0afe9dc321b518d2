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
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/instrumentrows"
)

// ChangeInstrument saves an instrument and how it is played. A changed habit counts from today; what was played until
// yesterday stays as it was.
func (r *Room) ChangeInstrument(ctx context.Context, by journal.Person, id uuid.UUID, in lending.Change) (journal.Changed, error) {
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		i, err := s.Instrument(id)
		if err != nil {
			return journal.Changed{}, err
		}
		before, after := i.Instrument, in.Instrument
		after.ID, after.Kind, after.Tag, after.BowCents = id, before.Kind, strings.ToUpper(strings.TrimSpace(after.Tag)), before.BowCents
		if err := checkInstrument(i.Kind, after, s.Today); err != nil {
			return journal.Changed{}, err
		}
		if err := lending.CheckHabit(s, in.Habit); err != nil {
			return journal.Changed{}, err
		}
		out := journal.Changed{Events: []uuid.UUID{}}
		if after.Version != before.Version {
			return out, store.ErrStale
		}
		if !lending.SameInstrument(before, after) {
			if out.Events, err = r.SaveChanges(ctx, tx, by, Edited{before, after}); err != nil {
				return out, err
			}
		}
		events, err := r.lending.ChangePlaying(ctx, tx, by, s, i, in.Habit)
		if err != nil {
			return out, err
		}
		out.Events = append(out.Events, events...)
		now, err := instrumentrows.InstrumentByID(ctx, tx, id)
		out.Version = now.Version
		return out, err
	})
}

// Edited is an instrument before and after a change.
type Edited struct{ Before, After instrumentrows.Instrument }

// SaveChanges keeps what instruments are now, and how they were.
func (r *Room) SaveChanges(ctx context.Context, tx *store.Tx, by journal.Person, list ...Edited) ([]uuid.UUID, error) {
	after, deeds := make([]instrumentrows.Instrument, len(list)), make([]journal.Deed, len(list))
	for n := range list {
		e := &list[n]
		after[n] = e.After
		e.After.Version++
		deeds[n] = journal.Deed{
			Event: eventrows.Event{What: eventrows.InstrumentChanged, Instrument: &e.After.ID},
			Of:    lending.ChangeDetail{Before: &e.Before, After: &e.After},
		}
	}
	if len(list) == 0 {
		return nil, nil
	}
	if err := instrumentrows.UpdateInstruments(ctx, tx, after...); err != nil {
		return nil, err
	}
	return r.schools.RecordAll(ctx, tx, by, deeds)
}

// checkInstrument finds what in an instrument cannot be.
func checkInstrument(k *catalog.Kind, i instrumentrows.Instrument, today day.Day) error {
	var fields []journal.Field
	bad := func(path, message string, value any) {
		fields = append(fields, journal.Field{Path: "instrument." + path, Message: message, Value: value})
	}
	if !TagShape.MatchString(i.Tag) {
		bad("tag", TagRule, i.Tag)
	}
	if i.Size != "" && !slices.Contains(k.Sizes, i.Size) {
		bad("size", SizeRule(k), i.Size)
	}
	if !slices.Contains(k.Bodies, i.Body) {
		bad("body", BodyRule(k), i.Body)
	}
	if i.PriceCents != nil && *i.PriceCents < 0 {
		bad("price_cents", "is below 0", *i.PriceCents)
	}
	if i.CareFrom > today {
		bad("care_from", "lies in the future", i.CareFrom)
	}
	if i.AcquiredOn != nil && *i.AcquiredOn > today {
		bad("acquired_on", "lies in the future", *i.AcquiredOn)
	}
	if i.AcquiredAs != day.Exact && (i.AcquiredOn == nil || !i.AcquiredAs.Begins(*i.AcquiredOn)) {
		bad("acquired_as", fmt.Sprintf("needs the first day of the %s; leave it out where the day is known", i.AcquiredAs), i.AcquiredAs)
	}
	if len(fields) > 0 {
		return &journal.Fault{Kind: journal.Invalid, Message: "Some fields cannot be used.", Fields: fields}
	}
	return nil
}
