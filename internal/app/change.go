package app

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/usage"
	"solfeggio/internal/store"
)

// Change is an instrument as it should be from now on.
type Change struct {
	Instrument store.Instrument `json:"instrument"`
	Habit      *Habit           `json:"habit,omitempty" doc:"Left out when nobody plays it"`
}

// ChangeDetail is what the log keeps of a change. Before and After are set when the instrument itself changed.
type ChangeDetail struct {
	Before      *store.Instrument `json:"before,omitempty"`
	After       *store.Instrument `json:"after,omitempty"`
	HabitBefore *Habit            `json:"habit_before,omitempty"`
	HabitAfter  *Habit            `json:"habit_after,omitempty"`
}

// Changed says what was recorded.
type Changed struct {
	Version int         `json:"version"`
	Events  []uuid.UUID `json:"events" doc:"What to undo; empty when nothing changed"`
}

// ChangeInstrument saves an instrument and how it is played. A changed habit counts from today; what was played until
// yesterday stays as it was.
func (a *App) ChangeInstrument(ctx context.Context, by Person, id uuid.UUID, in Change) (Changed, error) {
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return Changed{}, err
	}
	return write(ctx, a, by, MayChangeInstruments, "change-instrument", in, func(tx *store.Tx) (Changed, error) {
		before, err := tx.Instrument(ctx, id)
		if err != nil {
			return Changed{}, err
		}
		after := in.Instrument
		after.ID, after.Kind, after.Tag = id, before.Kind, strings.ToUpper(strings.TrimSpace(after.Tag))
		kind, _ := a.catalog.Kind(before.Kind)
		if err := checkInstrument(kind, after, s.today); err != nil {
			return Changed{}, err
		}
		if err := s.checkHabit(in.Habit); err != nil {
			return Changed{}, err
		}
		if i := s.byID[id]; in.Habit != nil && i != nil && i.habit == nil {
			if err := a.stillFree(ctx, tx, i, s.today); err != nil {
				return Changed{}, err
			}
		}
		out := Changed{Version: after.Version, Events: []uuid.UUID{}}
		if after.Version != before.Version {
			return out, store.ErrStale
		}
		if !sameInstrument(before, after) {
			if err := tx.UpdateInstrument(ctx, after); err != nil {
				return out, err
			}
			after.Version++
			out.Version = after.Version
			event, err := a.record(ctx, tx, by, store.Event{What: store.InstrumentChanged, Instrument: &id}, ChangeDetail{Before: &before, After: &after})
			if err != nil {
				return out, err
			}
			out.Events = append(out.Events, event)
		}
		events, err := a.changePlaying(ctx, tx, by, id, in.Habit, s.today)
		out.Events = append(out.Events, events...)
		return out, err
	})
}

// changePlaying lets an instrument be played differently from today on, and whoever plays it answer for it.
func (a *App) changePlaying(ctx context.Context, tx *store.Tx, by Person, id uuid.UUID, want *Habit, today day.Day) ([]uuid.UUID, error) {
	events, err := a.changeHabit(ctx, tx, by, id, want, today)
	if err != nil {
		return nil, err
	}
	return events, a.changeHolder(ctx, tx, by, id, want)
}

// changeHabit lets an instrument be played differently from today on, and records it if that is new.
func (a *App) changeHabit(ctx context.Context, tx *store.Tx, by Person, id uuid.UUID, want *Habit, today day.Day) ([]uuid.UUID, error) {
	all, err := tx.Assignments(ctx, &id)
	if err != nil {
		return nil, err
	}
	var has *Habit
	next := store.Assignment{ID: uuid.Must(uuid.NewV7()), Instrument: id, StartsOn: today}
	for _, old := range all {
		if old.StartsOn > today || old.EndsOn != nil && *old.EndsOn < today {
			continue
		}
		played := habitOf(&old)
		has = &played
		if sameHabit(has, want) {
			return nil, nil
		}
		if old.StartsOn == today && want != nil {
			next.ID = old.ID // it began today, so it is changed and not followed
			continue
		}
		if err := endYesterday(ctx, tx, old, today); err != nil {
			return nil, err
		}
	}
	if sameHabit(has, want) {
		return nil, nil
	}
	if want != nil {
		next.Ensembles, next.PracticeMinutes, next.PracticeDaysPerWeek = want.Ensembles, want.PracticeMinutes, want.PracticeDays
		next.VacationShare, next.HeavySweat, next.Players, next.Player = want.VacationShare, want.HeavySweat, want.Players, want.PlayerID
		if err := tx.PutAssignment(ctx, next); err != nil {
			return nil, err
		}
	}
	event, err := a.record(ctx, tx, by, store.Event{What: store.InstrumentChanged, Instrument: &id}, ChangeDetail{HabitBefore: has, HabitAfter: want})
	return []uuid.UUID{event}, err
}

// endYesterday ends an assignment before today; one that began today was never lived through and goes altogether.
func endYesterday(ctx context.Context, tx *store.Tx, at store.Assignment, today day.Day) error {
	if at.StartsOn == today {
		return tx.DeleteAssignment(ctx, at.ID)
	}
	yesterday := today - 1
	at.EndsOn = &yesterday
	return tx.PutAssignment(ctx, at)
}

// habitOf is the habit of an assignment.
func habitOf(at *store.Assignment) Habit {
	return Habit{append([]uuid.UUID{}, at.Ensembles...), at.PracticeMinutes, at.PracticeDaysPerWeek, at.VacationShare, at.HeavySweat, at.Players, at.Player}
}

// usualHabit is the product's guess for an instrument of which nothing else is known.
func usualHabit() Habit {
	return Habit{Ensembles: []uuid.UUID{}, PracticeDays: usage.DefaultPracticeDays, VacationShare: usage.DefaultVacationShare, Players: 1}
}

func sameHabit(x, y *Habit) bool {
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
		same.HeavySweat == y.HeavySweat && same.Players == y.Players && samePlayer(x.PlayerID, y.PlayerID)
}

func samePlayer(x, y *uuid.UUID) bool { return x == y || x != nil && y != nil && *x == *y }

func sameInstrument(x, y store.Instrument) bool {
	sameDay := x.AcquiredOn == nil && y.AcquiredOn == nil || x.AcquiredOn != nil && y.AcquiredOn != nil && *x.AcquiredOn == *y.AcquiredOn
	samePrice := x.PriceCents == nil && y.PriceCents == nil || x.PriceCents != nil && y.PriceCents != nil && *x.PriceCents == *y.PriceCents
	x.AcquiredOn, x.PriceCents = y.AcquiredOn, y.PriceCents
	return sameDay && samePrice && x == y
}

// checkInstrument finds what in an instrument cannot be.
func checkInstrument(k *catalog.Kind, i store.Instrument, today day.Day) error {
	var fields []Field
	bad := func(path, message string, value any) {
		fields = append(fields, Field{"instrument." + path, message, value})
	}
	if !tagShape.MatchString(i.Tag) {
		bad("tag", tagRule, i.Tag)
	}
	if i.Size != "" && !slices.Contains(k.Sizes, i.Size) {
		bad("size", sizeRule(k), i.Size)
	}
	if !slices.Contains(k.Bodies, i.Body) {
		bad("body", bodyRule(k), i.Body)
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
	if len(fields) > 0 {
		return &Fault{Kind: Invalid, Message: "Some fields cannot be used.", Fields: fields}
	}
	return nil
}

func (s *snapshot) checkHabit(h *Habit) error {
	if h == nil {
		return nil
	}
	for n, id := range h.Ensembles {
		if !slices.ContainsFunc(s.ensembles, func(e store.Ensemble) bool { return e.ID == id }) {
			return invalid(fmt.Sprintf("habit.ensembles[%d]", n), "there is no such ensemble", id)
		}
	}
	if h.PlayerID != nil && s.players[*h.PlayerID] == nil {
		return invalid("habit.player_id", "there is no such player", *h.PlayerID)
	}
	return nil
}
