package app

import (
	"context"
	"encoding/json"
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
	return write(ctx, a, by, MayChangeInstruments, func(tx *store.Tx, s *snapshot) (Changed, error) {
		i, err := s.instrument(id)
		if err != nil {
			return Changed{}, err
		}
		before, after := i.Instrument, in.Instrument
		after.ID, after.Kind, after.Tag = id, before.Kind, strings.ToUpper(strings.TrimSpace(after.Tag))
		if err := checkInstrument(i.kind, after, s.today); err != nil {
			return Changed{}, err
		}
		if err := s.checkHabit(in.Habit); err != nil {
			return Changed{}, err
		}
		out := Changed{Events: []uuid.UUID{}}
		if after.Version != before.Version {
			return out, store.ErrStale
		}
		if !sameInstrument(before, after) {
			if err := tx.UpdateInstrument(ctx, after); err != nil {
				return out, err
			}
			after.Version++
			event, err := a.record(ctx, tx, by, store.Event{What: store.InstrumentChanged, Instrument: &id}, ChangeDetail{Before: &before, After: &after})
			if err != nil {
				return out, err
			}
			out.Events = append(out.Events, event)
		}
		events, err := a.changePlaying(ctx, tx, by, s, i, in.Habit)
		if err != nil {
			return out, err
		}
		out.Events = append(out.Events, events...)
		now, err := tx.Instrument(ctx, id)
		out.Version = now.Version
		return out, err
	})
}

// changePlaying lets an instrument be played as wanted from today on; nil lets it come back. Out of the hands of a named player it
// comes by a return only.
func (a *App) changePlaying(ctx context.Context, tx *store.Tx, by Person, s *snapshot, i *instrument, want *Habit) ([]uuid.UUID, error) {
	at, err := tx.AssignmentOn(ctx, i.ID, s.today)
	if err != nil {
		return nil, err
	}
	var has *Habit
	if at != nil {
		played := habitOf(at)
		has = &played
	}
	switch {
	case sameHabit(has, want):
		return nil, nil
	case want == nil:
		event, err := a.takeBack(ctx, tx, by, s, i, Returning{})
		return []uuid.UUID{event}, err
	case has == nil:
		err = a.goOut(ctx, tx, by, s, i.ID, *want, store.HandOver{ID: uuid.Must(uuid.NewV7())})
	case samePointed(has.PlayerID, want.PlayerID):
		err = playOn(ctx, tx, *at, *want, s.today)
	case has.PlayerID != nil:
		err = &Fault{Kind: Conflict, Message: fmt.Sprintf("%s is in the hands of %s. Take it back first: it is held until its turnover is done, and then goes to the next.", i.Tag, s.nameOf(has.PlayerID))}
	default: // only now somebody says who has it
		if err = a.mayBeHeldBy(ctx, tx, s, i.ID, want.PlayerID, nil, nil); err != nil {
			break
		}
		if err = playOn(ctx, tx, *at, *want, s.today); err == nil {
			err = a.answerFor(ctx, tx, by, i.ID, want.PlayerID, store.HandOver{ID: uuid.Must(uuid.NewV7())})
		}
	}
	if err != nil {
		return nil, err
	}
	event, err := a.record(ctx, tx, by, store.Event{What: store.InstrumentChanged, Instrument: &i.ID}, ChangeDetail{HabitBefore: has, HabitAfter: want})
	return []uuid.UUID{event}, err
}

// playOn lets whoever plays an instrument play it as wanted from today on. What began today is changed and not followed.
func playOn(ctx context.Context, tx *store.Tx, at store.Assignment, want Habit, today day.Day) error {
	id := at.ID
	if at.StartsOn < today {
		if err := endYesterday(ctx, tx, at, today); err != nil {
			return err
		}
		id = uuid.Must(uuid.NewV7())
	}
	return tx.PutAssignment(ctx, want.assignment(id, at.Instrument, today))
}

// undoChange takes a change of an instrument back, or of how it is played, as long as it is as it was left.
func (a *App) undoChange(ctx context.Context, tx *store.Tx, by Person, s *snapshot, e store.Event) error {
	var d ChangeDetail
	if err := json.Unmarshal(e.Detail, &d); err != nil {
		return fmt.Errorf("reading event %s: %w", e.ID, err)
	}
	if d.Before != nil {
		now, err := tx.Instrument(ctx, *e.Instrument)
		if err != nil {
			return err
		}
		if !sameInstrument(now, *d.After) {
			return &Fault{Kind: Conflict, Message: "It was changed again since; change it by hand."}
		}
		d.Before.Version = now.Version
		return tx.UpdateInstrument(ctx, *d.Before)
	}
	at, err := tx.AssignmentOn(ctx, *e.Instrument, s.today)
	if err != nil {
		return err
	}
	var has *Habit
	if at != nil {
		played := habitOf(at)
		has = &played
	}
	switch {
	case !sameHabit(has, d.HabitAfter):
		return &Fault{Kind: Conflict, Message: "How it is played was changed again since; change it by hand."}
	case d.HabitBefore == nil:
		open, err := tx.OpenHandOvers(ctx, *e.Instrument)
		if err != nil {
			return err
		}
		out := HandedOutDetail{PlayerID: has.PlayerID, Habit: has}
		if len(open) > 0 {
			out.HandOver = &open[0].ID
		}
		return a.undoGoingOut(ctx, tx, s, e, out)
	default:
		_, err := a.changePlaying(ctx, tx, by, s, s.byID[*e.Instrument], d.HabitBefore)
		return err
	}
}

// habitOf is the habit of an assignment.
func habitOf(at *store.Assignment) Habit {
	return Habit{append([]uuid.UUID{}, at.Ensembles...), at.PracticeMinutes, at.PracticeDaysPerWeek, at.VacationShare, at.HeavySweat, at.Players, at.Player}
}

// assignment is a stretch of it on an instrument from a day on.
func (h Habit) assignment(id, instrument uuid.UUID, from day.Day) store.Assignment {
	return store.Assignment{
		ID: id, Instrument: instrument, StartsOn: from, Ensembles: h.Ensembles, PracticeMinutes: h.PracticeMinutes, PracticeDaysPerWeek: h.PracticeDays,
		VacationShare: h.VacationShare, HeavySweat: h.HeavySweat, Players: h.Players, Player: h.PlayerID,
	}
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
		same.HeavySweat == y.HeavySweat && same.Players == y.Players && samePointed(x.PlayerID, y.PlayerID)
}

// sameInstrument compares what can be changed of an instrument.
func sameInstrument(x, y store.Instrument) bool {
	if !samePointed(x.AcquiredOn, y.AcquiredOn) || !samePointed(x.PriceCents, y.PriceCents) {
		return false
	}
	for _, i := range []*store.Instrument{&x, &y} {
		i.AcquiredOn, i.PriceCents, i.KitChecked, i.GoneOn, i.Version = nil, nil, nil, nil, 0
	}
	return x == y
}

func samePointed[T comparable](x, y *T) bool { return x == y || x != nil && y != nil && *x == *y }

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
