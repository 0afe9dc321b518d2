package shop

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/report"
	"solfeggio/internal/core/shop"
	"solfeggio/internal/store"
	"solfeggio/internal/store/lendingrows"
	"solfeggio/internal/store/shoprows"
)

// Fetched notes that an instrument is at school again. It goes into nobody's hands until it is checked in.
func (r *Room) Fetched(ctx context.Context, by journal.Person, id uuid.UUID, in At) (journal.Changed, error) {
	return r.move(ctx, by, id, in, shop.Fetch, func(_ *store.Tx, s *school.Snapshot, _ *school.Instrument, j *shoprows.Job, _ *step) error {
		j.BackOn = &s.Today
		return nil
	})
}

// Goes is where an instrument goes after its check-in.
type Goes string

// Where it goes.
const (
	ToPlayer Goes = "player" // to whoever had it when it was sent
	ToSlot   Goes = "slot"   // into its slot: held for its turnover when somebody had it, else free
)

// CheckingIn is what is found of an instrument that is back.
type CheckingIn struct {
	At
	Lines      []CheckedLine `json:"lines" maxItems:"50" doc:"As many as the job has, in their order"`
	TotalCents int64         `json:"total_cents" minimum:"0" maximum:"100000000" doc:"Of the bill"`
	PlayTested bool          `json:"play_tested" doc:"It was tried as the sheet says"`
	Goes       Goes          `json:"goes" enum:"player,slot"`
	Note       string        `json:"note,omitempty" maxLength:"1000"`
}

// CheckedLine is what became of a line.
type CheckedLine struct {
	Outcome shoprows.Outcome `json:"outcome" enum:"mended,not mended"`
	Cents   *int64           `json:"cents,omitempty" minimum:"0" maximum:"100000000"`
}

// CheckIn closes a job: what was mended ends its findings and restarts its clocks, what was not stays open, the bill goes into the
// instrument's file, and the instrument goes back to whoever had it or into its slot.
func (r *Room) CheckIn(ctx context.Context, by journal.Person, id uuid.UUID, in CheckingIn) (journal.Changed, error) {
	return r.move(ctx, by, id, in.At, shop.CheckIn,
		func(tx *store.Tx, s *school.Snapshot, i *school.Instrument, j *shoprows.Job, m *step) error {
			if len(in.Lines) != len(j.Lines) {
				return journal.Refuse("lines", fmt.Sprintf("has %d, and the job %d", len(in.Lines), len(j.Lines)), nil)
			}
			if !in.PlayTested {
				return journal.Refuse("play_tested", "try it first: what sounds wrong goes back to the shop and into no bag", in.PlayTested)
			}
			at := shopOf(s, j.Shop)
			for n, checked := range in.Lines {
				j.Lines[n].Outcome, j.Lines[n].RealCents = checked.Outcome, checked.Cents
			}
			if j.ClosedOn, j.RealCents, j.EndedHow = &s.Today, &in.TotalCents, strings.TrimSpace(in.Note); j.BackOn == nil {
				j.BackOn = &s.Today
			}
			if at != nil && at.WarrantyDays > 0 {
				until := s.Today + day.Day(at.WarrantyDays)
				j.WarrantyUntil = &until
			}
			m.detail.Cents = &in.TotalCents
			m.then = func() error { // the door asks whether the job is closed
				if err := r.mend(ctx, tx, by, s, i, *j, m); err != nil {
					return err
				}
				if err := r.inspection.Carry(ctx, tx, by, i.ID, report.ChecksIn); err != nil {
					return err
				}
				return r.putAway(ctx, tx, by, s, i, *j, in.Goes, m)
			}
			return nil
		})
}

// mend closes the findings that a job has ended and restarts the clocks of the care that was done with it. A finding that several lines
// were to end is ended when all of them were done.
func (r *Room) mend(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	s *school.Snapshot,
	i *school.Instrument,
	j shoprows.Job,
	m *step,
) error {
	how := "mended by " + shopName(s, j.Shop)
	for _, f := range i.Findings {
		ends := false
		for _, l := range j.Lines {
			if l.Finding != nil && *l.Finding == f.ID {
				if ends = l.Outcome == shoprows.Mended; !ends {
					break
				}
			}
		}
		if !ends {
			continue
		}
		event, err := r.inspection.Clear(ctx, tx, by, f, how)
		if err != nil {
			return err
		}
		m.events = append([]uuid.UUID{event}, m.events...)
	}
	var done []clocks.Key
	for _, l := range j.Lines {
		key := clocks.Key{Routine: l.Routine, Part: l.Part}
		if l.Routine == "" || l.Outcome != shoprows.Mended || slices.Contains(done, key) {
			continue
		}
		done = append(done, key)
		event, err := r.care.MarkDone(ctx, tx, by, i, key, s.Today)
		if err != nil {
			return err
		}
		m.events = append([]uuid.UUID{event}, m.events...)
	}
	return nil
}

// putAway lets an instrument go back to its player or into its slot.
func (r *Room) putAway(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	s *school.Snapshot,
	i *school.Instrument,
	j shoprows.Job,
	goes Goes,
	m *step,
) error {
	holds, err := lendingrows.OpenHolds(ctx, tx, r.schools.Now(), i.ID)
	if err != nil {
		return err
	}
	for _, h := range holds {
		if h.Awaits != lendingrows.Shop {
			continue
		}
		event, err := r.bench.EndHold(ctx, tx, by, h, "done by "+shopName(s, j.Shop))
		if err != nil {
			return err
		}
		m.events = append([]uuid.UUID{event}, m.events...)
	}
	habit, err := habitOf(s, &j)
	if err != nil {
		return err
	}
	if goes == ToSlot {
		if len(j.Habit) > 0 { // somebody had it, and the next is somebody else
			m.detail.Hold, err = r.lending.HoldForTurnover(ctx, tx, by, i.ID)
		}
		return err
	}
	if habit == nil {
		return journal.Refuse("goes", "nobody had it, or they have left", goes)
	}
	var loaner *school.Instrument
	if j.Loaner != nil {
		if lent := s.ByID[*j.Loaner]; lent != nil && lent.Habit != nil && samePlayer(lent.Habit.Player, habit.PlayerID) {
			loaner = lent
		}
	}
	events, err := r.lending.FromShop(ctx, tx, by, s, i, loaner, *habit)
	slices.Reverse(events)
	m.events = append(events, m.events...)
	return err
}

func samePlayer(a, b *uuid.UUID) bool {
	return a == nil && b == nil || a != nil && b != nil && *a == *b
}
