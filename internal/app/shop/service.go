package shop

import (
	"context"
	"encoding/json"
	"errors"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/shop"
	"solfeggio/internal/repairshop"
	"solfeggio/internal/store"
)

// order is a job as it is given to a shop's computer.
func order(s *school.Snapshot, i *school.Instrument, j store.Job) repairshop.Order {
	o := repairshop.Order{
		ID: j.ID, School: s.School.Name, Instrument: repairshop.Described{Tag: i.Tag, Kind: i.Kind.Name, Size: i.Size},
		Works: []string{}, Asks: j.Asks, NotWanted: j.NotWanted, Decides: j.Decides, Currency: s.School.Currency,
	}
	for _, l := range j.Lines {
		o.Works = append(o.Works, l.Words)
	}
	return o
}

// tell tells the shop's computer something about a job before anything is kept here; nil where the job's shop has none. What the computer
// is told twice it does once, so that a step whose keeping failed may be taken again.
func (r *Room) tell(
	ctx context.Context,
	by journal.Person,
	id uuid.UUID,
	at At,
	what func(Service, *school.Snapshot, *school.Instrument, store.Job) (repairshop.Progress, error),
) (*repairshop.Progress, error) {
	s, err := r.Snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	var j store.Job
	if err := r.Read(ctx, by, func(tx *store.Tx) (err error) {
		j, err = tx.Job(ctx, id)
		return err
	}); err != nil {
		return nil, err
	}
	i, shopOfJob := s.ByID[j.Instrument], shopOf(s, j.Shop)
	if i == nil || shopOfJob == nil || shopOfJob.Way != store.ByService || j.Version != at.Version {
		return nil, nil // the write says what is wrong, or nothing is
	}
	if r.Service == nil {
		return nil, &journal.Fault{Kind: journal.Conflict, Message: "No simulated shop is connected. Nothing was changed; let " + shopOfJob.Name +
			" take work by message instead, or start it (solfeggio standin shop)."}
	}
	p, err := what(r.Service, s, i, j)
	if errors.Is(err, repairshop.ErrUnknown) { // it has forgotten, so it is told all again
		if _, err = r.Service.Give(ctx, order(s, i, j)); err == nil {
			p, err = what(r.Service, s, i, j)
		}
	}
	var fault *journal.Fault
	switch {
	case errors.As(err, &fault):
		return nil, err
	case err != nil:
		r.Log.Warn("the simulated shop", "error", err)
		return nil, &journal.Fault{
			Kind: journal.Conflict,
			Message: "The simulated shop does not answer, or with something that cannot be read. Nothing was changed and nothing is lost: " +
				"try again later, or write to it by message.",
		}
	}
	return &p, nil
}

// asTold is what the shop's computer said, as it is kept.
func asTold(p *repairshop.Progress) json.RawMessage {
	text, err := json.Marshal(p)
	if err != nil {
		return nil // plain data
	}
	return text
}

// heard brings a job to what the shop's computer said: a new quote, or that it is ready. It says whether anything is new.
func (r *Room) heard(ctx context.Context, tx *store.Tx, s *school.Snapshot, j *store.Job, p *repairshop.Progress) (news bool, err error) {
	if p == nil {
		return false, nil
	}
	j.Told = asTold(p)
	if q := p.Quote; q != nil && (j.State == shop.Asked || j.State == shop.Quoted) {
		known, err := tx.QuotesOf(ctx, j.ID)
		if err != nil {
			return false, err
		}
		if !slices.ContainsFunc(known, func(k store.ShopQuote) bool { return k.ID == q.ID }) {
			if err := sameCurrency(s, q.Currency); err != nil {
				return false, &journal.Fault{
					Kind:    journal.Conflict,
					Message: "The simulated shop quoted in " + q.Currency + " and the school reckons in " + s.School.Currency + ". The quote was not taken; ask again.",
				}
			}
			quote := store.ShopQuote{
				ID: q.ID, Job: j.ID, GivenAt: r.Now(), ValidUntil: q.ValidUntil, TotalCents: q.TotalCents, Note: q.Note, ByService: true,
			}
			for _, l := range q.Lines {
				quote.Lines = append(quote.Lines, store.QuoteLine{Words: l.Words, Cents: l.Cents})
			}
			if err := tx.InsertQuote(ctx, quote); err != nil {
				return false, err
			}
			j.State, news = shop.Quoted, true
		}
	}
	if p.State == repairshop.Ready && j.State == shop.Away && j.ReadyOn == nil {
		j.ReadyOn, news = p.ReadyOn, true
		if j.ReadyOn == nil {
			j.ReadyOn = &s.Today
		}
	}
	if p.State == repairshop.InWork && j.State == shop.Away && p.ReadyOn != nil && *p.ReadyOn >= *j.SentOn && *p.ReadyOn != *j.ExpectedOn {
		j.ExpectedOn, news = p.ReadyOn, true
	}
	return news, nil
}

// News asks the simulated shop how far a job is.
func (r *Room) News(ctx context.Context, by journal.Person, id uuid.UUID, in At) (journal.Changed, error) {
	var told *repairshop.Progress
	prepare := func() (err error) {
		told, err = r.tell(ctx, by, id, in,
			func(service Service, _ *school.Snapshot, _ *school.Instrument, _ store.Job) (repairshop.Progress, error) {
				return service.News(ctx, id)
			})
		return err
	}
	return school.WritePrepared(ctx, r.Schools, by, journal.MayChangeInstruments, prepare,
		func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
			j, err := tx.Job(ctx, id)
			if err != nil {
				return journal.Changed{}, err
			}
			if j.Version != in.Version {
				return journal.Changed{}, store.ErrStale
			}
			was := before(j)
			news, err := r.heard(ctx, tx, s, &j, told)
			if err != nil || !news {
				return journal.Changed{Version: j.Version, Events: []uuid.UUID{}}, err
			}
			if err := save(ctx, tx, &j); err != nil {
				return journal.Changed{}, err
			}
			out := journal.Changed{Version: j.Version + 1, Events: []uuid.UUID{}}
			if j.State != was.Before.State {
				was.Step, was.Shop, was.Cents = shop.Quote, shopName(s, *j.Shop), &told.Quote.TotalCents
				event, err := r.Record(ctx, tx, by, store.Event{What: store.JobMoved, Instrument: &j.Instrument}, was)
				out.Events = append(out.Events, event)
				return out, err
			}
			return out, nil
		})
}
