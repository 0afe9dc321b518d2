package shop

import (
	"context"
	"encoding/json"
	"fmt"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/shop"
	"solfeggio/internal/store"
)

// A step is taken on one job. What it changes in the job is kept with an event that knows how the job was before.
type step struct {
	takes  shop.Step
	detail JobDetail
	events []uuid.UUID // of what went with it, in the order in which they are undone
}

// At names a job and how it was when somebody decided on it.
type At struct {
	Version int `json:"version" doc:"That was read"`
}

// move takes a step on a job: f changes the job and does what goes with it, on the instrument as it stands.
func (r *Room) move(
	ctx context.Context,
	by journal.Person,
	id uuid.UUID,
	at At,
	takes shop.Step,
	prepare func() error,
	f func(tx *store.Tx, s *school.Snapshot, i *school.Instrument, j *store.Job, m *step) error,
) (journal.Changed, error) {
	return school.WritePrepared(ctx, r.Schools, by, journal.MayChangeInstruments, prepare,
		func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
			return r.moveIn(ctx, tx, by, s, id, at, takes, f)
		})
}

// nothingToPrepare is for steps that only write.
func nothingToPrepare() error { return nil }

// moveIn takes a step within a write.
func (r *Room) moveIn(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	s *school.Snapshot,
	id uuid.UUID,
	at At,
	takes shop.Step,
	f func(tx *store.Tx, s *school.Snapshot, i *school.Instrument, j *store.Job, m *step) error,
) (journal.Changed, error) {
	j, err := tx.Job(ctx, id)
	if err != nil {
		return journal.Changed{}, err
	}
	if j.Version != at.Version {
		return journal.Changed{}, store.ErrStale
	}
	i := s.ByID[j.Instrument]
	if i == nil {
		return journal.Changed{}, &journal.Fault{Kind: journal.Conflict, Message: "The instrument is not at the school any more."}
	}
	m := &step{takes: takes, detail: before(j)}
	m.detail.Step = takes
	what := store.JobChanged
	if takes != "" {
		what = store.JobMoved
		if j.State, err = j.State.After(takes); err != nil {
			return journal.Changed{}, &journal.Fault{Kind: journal.Conflict, Message: fmt.Sprintf("%s: %v.", i.Tag, err)}
		}
	}
	if err := f(tx, s, i, &j, m); err != nil {
		return journal.Changed{}, err
	}
	if m.detail.Shop = ""; j.Shop != nil {
		m.detail.Shop = shopName(s, *j.Shop)
	}
	event, err := r.Record(ctx, tx, by, store.Event{What: what, Instrument: &i.ID}, m.detail)
	return journal.Changed{Version: at.Version + 1, Events: append([]uuid.UUID{event}, m.events...)}, err
}

// before is a job as the log keeps it.
func before(j store.Job) JobDetail {
	kept := j
	kept.Lines = append([]store.JobLine{}, j.Lines...)
	return JobDetail{Job: j.ID, Before: &kept, Player: j.Player, Habit: j.Habit, Told: j.Told}
}

// save keeps a job.
func save(ctx context.Context, tx *store.Tx, j *store.Job) error { return tx.UpdateJob(ctx, *j) }

// shopName is what a shop is called; of one to which nothing is given any more a general word.
func shopName(s *school.Snapshot, id uuid.UUID) string {
	if at := shopOf(s, &id); at != nil {
		return at.Name
	}
	return "a former shop"
}

// shopOf finds a shop to which work is given; nil for none.
func shopOf(s *school.Snapshot, id *uuid.UUID) *store.RepairShop {
	for n := range s.Shops {
		if id != nil && s.Shops[n].ID == *id {
			return &s.Shops[n]
		}
	}
	return nil
}

// chosen is the shop of a job; a fault where nobody chose one.
func chosen(s *school.Snapshot, j *store.Job) (*store.RepairShop, error) {
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
	return r.move(ctx, by, id, in.At, shop.CallOff, nothingToPrepare,
		func(tx *store.Tx, s *school.Snapshot, _ *school.Instrument, j *store.Job, m *step) (err error) {
			j.Trip, j.FetchedOn, j.ClosedOn, j.EndedHow, m.detail.How = nil, nil, &s.Today, in.How, in.How
			if m.detail.Quote, err = tx.DecideQuote(ctx, j.ID, "refused", r.Now()); err != nil {
				return err
			}
			return save(ctx, tx, j)
		})
}

// habitOf reads how an instrument was played when it was sent, with its player if they are still there.
func habitOf(s *school.Snapshot, j *store.Job) (*school.Habit, error) {
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
