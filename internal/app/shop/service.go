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
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/shoprows"
)

// A shop's computer is told after a step was kept, never before and never while a school's writers wait: what is refused here is not heard
// there. The step notes that the computer has not heard of it (store.Job.Untold) and inform tells it; when that fails, the note stays and
// the job says so, until somebody asks for news.

// heardOf are the steps that a shop's computer is told of.
var heardOf = []shop.Step{shop.Ask, shop.Accept, shop.Refuse, shop.Choose, shop.Send, shop.Fetch, shop.CheckIn, shop.CallOff}

// order is a job as it is given to a shop's computer.
func order(s *school.Snapshot, i *school.Instrument, j shoprows.Job) repairshop.Order {
	o := repairshop.Order{
		ID: j.ID, School: s.School.Name, Instrument: repairshop.Described{Tag: i.Tag, Kind: i.Kind.Name, Size: i.Size},
		Works: []string{}, Asks: j.Asks, NotWanted: j.NotWanted, Decides: j.Decides, Currency: string(s.School.Currency),
	}
	for _, l := range j.Lines {
		o.Works = append(o.Works, l.Words)
	}
	return o
}

// hasComputer reports whether a shop takes work by the simulated service.
func hasComputer(at *shoprows.RepairShop) bool { return at != nil && at.Way == shoprows.ByService }

// tell brings the shop's computer to where a job is. The computer does once what it is told twice, so all that it should know is told anew,
// in the order in which it happened. It says nothing of a job that it never heard of and does not get; nil then.
func (r *Room) tell(
	ctx context.Context, s *school.Snapshot, i *school.Instrument, j shoprows.Job, quotes []shoprows.ShopQuote,
) (*repairshop.Progress, error) {
	var latest *shoprows.ShopQuote
	if n := slices.IndexFunc(quotes, func(q shoprows.ShopQuote) bool { return q.ByService }); n >= 0 {
		latest = &quotes[n]
	}
	var p repairshop.Progress
	var err error
	switch {
	case j.State == shop.Wanted, j.State == shop.CalledOff, !hasComputer(shopOf(s, j.Shop)):
		p, err = r.Service.Withdraw(ctx, j.ID)
		if errors.Is(err, repairshop.ErrUnknown) {
			return nil, nil
		}
		return &p, err
	case latest != nil && latest.Decision == "accepted":
		decision := repairshop.Decision{Quote: latest.ID, Agreed: true}
		p, err = r.Service.Decide(ctx, j.ID, decision)
		if errors.Is(err, repairshop.ErrUnknown) { // it has forgotten, so it is told all again
			if _, err = r.Service.Give(ctx, order(s, i, j)); err == nil {
				p, err = r.Service.Decide(ctx, j.ID, decision)
			}
		}
	default:
		p, err = r.Service.Give(ctx, order(s, i, j))
	}
	if err == nil && j.SentOn != nil {
		p, err = r.Service.HandOver(ctx, j.ID)
	}
	if err == nil && j.BackOn != nil {
		p, err = r.Service.Fetch(ctx, j.ID)
	}
	return &p, err
}

// withShop tells the shop's computer of a job that it has not heard of, or asks how far the job is.
func (r *Room) withShop(ctx context.Context, by journal.Person, id uuid.UUID) (shoprows.Job, *repairshop.Progress, error) {
	var j shoprows.Job
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return j, nil, err
	}
	var quotes []shoprows.ShopQuote
	err = r.schools.Read(ctx, by, func(tx *store.Tx) (err error) {
		if j, err = shoprows.JobByID(ctx, tx, id); err != nil {
			return err
		}
		quotes, err = shoprows.QuotesOf(ctx, tx, id)
		return err
	})
	if err != nil {
		return j, nil, err
	}
	switch {
	case !j.Untold && !hasComputer(shopOf(s, j.Shop)):
		return j, nil, nil // nobody to ask
	case r.Service == nil:
		return j, nil, errNotConnected
	}
	i := s.ByID[j.Instrument]
	if i == nil {
		i = s.Gone[j.Instrument]
	}
	if i == nil {
		return j, nil, store.ErrNotFound
	}
	if !j.Untold {
		p, err := r.Service.News(ctx, id)
		if !errors.Is(err, repairshop.ErrUnknown) {
			return j, &p, err
		}
	}
	p, err := r.tell(ctx, s, i, j, quotes)
	return j, p, err
}

var errNotConnected = errors.New("no simulated shop is connected")

// inform tells the shop's computer of a step that was kept just now, if it is to hear of it, and keeps what it answers. It reports false
// when the computer did not hear: that takes nothing back, so it goes to the log and stands on the job.
func (r *Room) inform(ctx context.Context, by journal.Person, id uuid.UUID) bool {
	j, p, err := r.withShop(ctx, by, id)
	if err == nil {
		_, err = school.Write(journal.Unrepeated(ctx), r.schools, by, journal.MayChangeInstruments,
			func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
				return r.keepNews(ctx, tx, by, s, id, At{j.Version}, p)
			})
	}
	if err != nil {
		r.schools.Log.Warn("telling the simulated shop", "job", id, "error", err)
	}
	return err == nil
}

// keepNews keeps what the shop's computer said of a job.
func (r *Room) keepNews(
	ctx context.Context, tx *store.Tx, by journal.Person, s *school.Snapshot, id uuid.UUID, at At, p *repairshop.Progress,
) (journal.Changed, error) {
	out := journal.Changed{Version: at.Version, Events: []uuid.UUID{}}
	j, err := shoprows.JobByID(ctx, tx, id)
	switch {
	case err != nil:
		return out, err
	case j.Version != at.Version:
		return out, store.ErrStale
	}
	was := before(j)
	news, err := r.heard(ctx, tx, s, &j, p)
	if err != nil {
		return out, err
	}
	if !news {
		return out, shoprows.JobTold(ctx, tx, id, at.Version, j.Told)
	}
	j.Untold = false
	if err := shoprows.UpdateJob(ctx, tx, j); err != nil {
		return out, err
	}
	if out.Version++; j.State == was.Before.State {
		return out, nil
	}
	was.Step, was.Shop, was.Cents = shop.Quote, shopName(s, j.Shop), &p.Quote.TotalCents
	event, err := r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.JobMoved, Instrument: &j.Instrument}, was)
	out.Events = append(out.Events, event)
	return out, err
}

// heard brings a job to what the shop's computer said: a new quote, or that it is ready. It says whether anything is new.
func (r *Room) heard(ctx context.Context, tx *store.Tx, s *school.Snapshot, j *shoprows.Job, p *repairshop.Progress) (news bool, err error) {
	if p == nil {
		return false, nil
	}
	if j.Told, err = json.Marshal(p); err != nil {
		return false, err
	}
	if q := p.Quote; q != nil && (j.State == shop.Asked || j.State == shop.Quoted) && sameCurrency(s, q.Currency) == nil {
		known, err := shoprows.QuotesOf(ctx, tx, j.ID)
		if err != nil {
			return false, err
		}
		if !slices.ContainsFunc(known, func(k shoprows.ShopQuote) bool { return k.ID == q.ID }) {
			quote := shoprows.ShopQuote{
				ID: q.ID, Job: j.ID, GivenAt: r.schools.Now(), ValidUntil: q.ValidUntil, TotalCents: q.TotalCents, Note: q.Note, ByService: true,
			}
			for _, l := range q.Lines {
				quote.Lines = append(quote.Lines, shoprows.QuoteLine{Words: l.Words, Cents: l.Cents})
			}
			if err := shoprows.InsertQuote(ctx, tx, quote); err != nil {
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

// said is what the shop's computer said of a job last; nil for nothing.
func said(j shoprows.Job) *repairshop.Progress {
	var p repairshop.Progress
	if len(j.Told) == 0 || json.Unmarshal(j.Told, &p) != nil {
		return nil
	}
	return &p
}

// notTaken says why a quote of the shop's computer was not taken; empty when it was, or there is none.
func notTaken(s *school.Snapshot, j shoprows.Job) string {
	p := said(j)
	if j.State != shop.Asked || p == nil || p.Quote == nil || sameCurrency(s, p.Quote.Currency) == nil {
		return ""
	}
	return "quoted in " + p.Quote.Currency + ", and the school reckons in " + string(s.School.Currency) + ": the quote was not taken; ask again"
}

// News asks the simulated shop how far a job is; of what it has not heard it is told.
func (r *Room) News(ctx context.Context, by journal.Person, id uuid.UUID, in At) (journal.Changed, error) {
	var p *repairshop.Progress
	prepare := func() (err error) {
		if _, p, err = r.withShop(ctx, by, id); err == nil || errors.Is(err, store.ErrNotFound) {
			return err
		}
		r.schools.Log.Warn("asking the simulated shop", "job", id, "error", err)
		says := "The simulated shop does not answer, or with something that cannot be read."
		if errors.Is(err, errNotConnected) {
			says = "No simulated shop is connected (solfeggio standin shop)."
		}
		return &journal.Fault{Kind: journal.Conflict, Message: says + " Nothing was changed and nothing is lost: try again later, or telephone."}
	}
	return school.WritePrepared(ctx, r.schools, by, journal.MayChangeInstruments, prepare,
		func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
			return r.keepNews(ctx, tx, by, s, id, in, p)
		})
}
