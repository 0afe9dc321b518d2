package shop

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/shop"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/shoprows"
)

// A step is taken on one job. What it changes in the job is kept with an event that knows how the job was before.
type step struct {
	takes  shop.Step
	detail JobDetail
	events []uuid.UUID  // of what went with it, in the order in which they are undone
	then   func() error // what goes with it once the job is saved; nil for nothing
}

// At names a job and how it was when somebody decided on it.
type At struct {
	Version int `json:"version" doc:"That was read"`
}

// A change changes a job, and does what goes with that, on the instrument as it stands. The job is saved after it.
type change func(tx *store.Tx, s *school.Snapshot, i *school.Instrument, j *shoprows.Job, m *step) error

// move takes a step on a job. The shop's computer hears of it when it is kept.
func (r *Room) move(
	ctx context.Context,
	by journal.Person,
	id uuid.UUID,
	at At,
	takes shop.Step,
	f change,
) (journal.Changed, error) {
	untold := false
	changed, err := school.Write(ctx, r.schools, by, journal.MayChangeInstruments,
		func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
			m, err := r.moveIn(ctx, tx, by, s, id, at, takes, f)
			untold = err == nil && m.untold
			return m.changed, err
		})
	if err == nil && untold {
		r.inform(ctx, by, id)
	}
	return changed, err
}

// moveIn takes a step within a write.
func (r *Room) moveIn(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	s *school.Snapshot,
	id uuid.UUID,
	at At,
	takes shop.Step,
	f change,
) (moved, error) {
	j, err := shoprows.JobByID(ctx, tx, id)
	if err != nil {
		return moved{}, err
	}
	if j.Version != at.Version {
		return moved{}, store.ErrStale
	}
	i := s.ByID[j.Instrument]
	if i == nil {
		return moved{}, &journal.Fault{Kind: journal.Conflict, Message: "The instrument is not at the school any more."}
	}
	m := &step{takes: takes, detail: before(j)}
	m.detail.Step = takes
	what := eventrows.JobChanged
	if takes != "" {
		what = eventrows.JobMoved
		if j.State, err = j.State.After(takes); err != nil {
			return moved{}, &journal.Fault{Kind: journal.Conflict, Message: fmt.Sprintf("%s: %v.", i.Tag, err)}
		}
	}
	asked := shopOf(s, j.Shop)
	if err := f(tx, s, i, &j, m); err != nil {
		return moved{}, err
	}
	if slices.Contains(heardOf, m.takes) && (hasComputer(asked) || hasComputer(shopOf(s, j.Shop))) {
		j.Untold = true
	}
	if err := shoprows.UpdateJob(ctx, tx, j); err != nil {
		return moved{}, err
	}
	if m.then != nil {
		if err := m.then(); err != nil {
			return moved{}, err
		}
	}
	m.detail.Shop = shopName(s, j.Shop)
	event, err := r.schools.Record(ctx, tx, by, eventrows.Event{What: what, Instrument: &i.ID}, m.detail)
	return moved{journal.Changed{Version: at.Version + 1, Events: append([]uuid.UUID{event}, m.events...)}, j.Untold}, err
}

// moved is what came of a step.
type moved struct {
	changed journal.Changed
	untold  bool // the shop's computer is to hear of it
}

// before is a job as the log keeps it.
func before(j shoprows.Job) JobDetail {
	kept := j
	kept.Lines = append([]shoprows.JobLine{}, j.Lines...)
	return JobDetail{Job: j.ID, Before: &kept, Player: j.Player, Habit: j.Habit, Told: j.Told}
}

// shopName is what a shop is called: of one to which nothing is given any more a general word, empty where nobody chose one.
func shopName(s *school.Snapshot, id *uuid.UUID) string {
	if id == nil {
		return ""
	}
	if at := shopOf(s, id); at != nil {
		return at.Name
	}
	return "a former shop"
}

// shopOf finds a shop to which work is given; nil for none.
func shopOf(s *school.Snapshot, id *uuid.UUID) *shoprows.RepairShop {
	for n := range s.Shops {
		if id != nil && s.Shops[n].ID == *id {
			return &s.Shops[n]
		}
	}
	return nil
}

// chosen is the shop of a job; a fault where nobody chose one.
func chosen(s *school.Snapshot, j *shoprows.Job) (*shoprows.RepairShop, error) {
	if at := shopOf(s, j.Shop); at != nil {
		return at, nil
	}
	return nil, journal.Refuse("shop_id", "choose a shop first", nil)
}

// CallingOff says why a job ends before the instrument has left.
type CallingOff struct {
	At
	How string `json:"how,omitempty" maxLength:"300" doc:"Why; may be empty"`
}

// CallOff ends a job before the instrument has left.
func (r *Room) CallOff(ctx context.Context, by journal.Person, id uuid.UUID, in CallingOff) (journal.Changed, error) {
	return r.move(ctx, by, id, in.At, shop.CallOff,
		func(tx *store.Tx, s *school.Snapshot, _ *school.Instrument, j *shoprows.Job, m *step) (err error) {
			j.Trip, j.FetchedOn, j.ClosedOn, j.EndedHow, m.detail.How = nil, nil, &s.Today, in.How, in.How
			m.detail.Quote, err = shoprows.DecideQuote(ctx, tx, j.ID, "refused", r.schools.Now())
			return err
		})
}

// habitOf reads how an instrument was played when it was sent, with its player if they are still there.
func habitOf(s *school.Snapshot, j *shoprows.Job) (*school.Habit, error) {
	if len(j.Habit) == 0 {
		return nil, nil
	}
	var h school.Habit
	if err := json.Unmarshal(j.Habit, &h); err != nil {
		return nil, fmt.Errorf("reading the habit of job %s: %w", j.ID, err)
	}
	h.PlayerID = j.Player
	if h.PlayerID != nil {
		if p := s.Players[*h.PlayerID]; p == nil || p.LeftOn != nil {
			return nil, nil
		}
	}
	return &h, nil
}
