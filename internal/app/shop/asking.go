package shop

import (
	"context"
	"fmt"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/letters"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/shop"
	"solfeggio/internal/core/wording"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/shoprows"
)

// Ask asks the shop of a job what it would cost: the simulated shop by its service, any other by a message in the simulated outbox.
func (r *Room) Ask(ctx context.Context, by journal.Person, id uuid.UUID, in At) (journal.Changed, error) {
	return r.move(ctx, by, id, in, shop.Ask,
		func(tx *store.Tx, s *school.Snapshot, i *school.Instrument, j *shoprows.Job, m *step) error {
			at, err := chosen(s, j)
			if err != nil {
				return err
			}
			if hasComputer(at) && r.Service == nil {
				return &journal.Fault{Kind: journal.Conflict, Message: "No simulated shop is connected. Nothing was changed; let " + at.Name +
					" take work by message instead, or start it (solfeggio standin shop)."}
			}
			j.AskedOn, j.Told = &s.Today, nil
			if m.detail.Quote, err = shoprows.DecideQuote(ctx, tx, j.ID, "overtaken", r.schools.Now()); err != nil || hasComputer(at) {
				return err
			}
			return r.write(ctx, tx, by, s, i, *j, *at, wording.ShopJob, "")
		})
}

// write puts a message to a shop into the simulated outbox.
func (r *Room) write(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	s *school.Snapshot,
	i *school.Instrument,
	j shoprows.Job,
	at shoprows.RepairShop,
	key, answer string,
) error {
	to := at.Address
	if to == "" {
		to = at.Name
	}
	_, err := r.letters.Post(ctx, tx, by, s, i, letters.Posting{
		Letter: key, About: fmt.Sprintf("shop:%s:%d", j.ID, j.Version), To: to,
		Places: map[string]string{
			"shop": at.Name, "works": worksText(j), "asks": j.Asks, "not_wanted": j.NotWanted, "decides": j.Decides,
			"phone": s.School.Phone, "answer": answer,
		},
	})
	return err
}

// worksText lists the lines of a job for a message.
func worksText(j shoprows.Job) string {
	var lines []string
	for _, l := range j.Lines {
		lines = append(lines, "– "+l.Words)
	}
	return strings.Join(lines, "\n")
}

// Quoting is a quote as somebody takes it down.
type Quoting struct {
	At
	ID         uuid.UUID            `json:"id" doc:"Made by the client"`
	Currency   string               `json:"currency" minLength:"3" maxLength:"3" doc:"ISO 4217; refused unless it is the school's"`
	TotalCents int64                `json:"total_cents" minimum:"0" maximum:"100000000"`
	Lines      []shoprows.QuoteLine `json:"lines,omitempty" maxItems:"50"`
	ValidUntil *day.Day             `json:"valid_until,omitempty"`
	Note       string               `json:"note,omitempty" maxLength:"2000"`
}

// TakeQuote takes a quote down that came by message, by telephone or on paper.
func (r *Room) TakeQuote(ctx context.Context, by journal.Person, id uuid.UUID, in Quoting) (journal.Changed, error) {
	return r.move(ctx, by, id, in.At, shop.Quote,
		func(tx *store.Tx, s *school.Snapshot, _ *school.Instrument, j *shoprows.Job, m *step) error {
			if _, err := chosen(s, j); err != nil {
				return err
			}
			if ranOut(in.ValidUntil, s.Today) {
				return journal.Refuse("valid_until", "is over already", in.ValidUntil)
			}
			if err := sameCurrency(s, in.Currency); err != nil {
				return err
			}
			m.detail.Cents = &in.TotalCents
			var err error
			if m.detail.Quote, err = shoprows.DecideQuote(ctx, tx, j.ID, "overtaken", r.schools.Now()); err != nil {
				return err
			}
			quote := shoprows.ShopQuote{
				ID: in.ID, Job: j.ID, GivenAt: r.schools.Now(), ValidUntil: in.ValidUntil, TotalCents: in.TotalCents, Lines: in.Lines,
				Note: in.Note,
			}
			return shoprows.InsertQuote(ctx, tx, quote)
		})
}

// sameCurrency refuses money that is not the school's.
func sameCurrency(s *school.Snapshot, currency string) error {
	if strings.EqualFold(currency, string(s.School.Currency)) {
		return nil
	}
	return journal.Refuse("currency", fmt.Sprintf("is not the school's, %s; ask the shop to quote in that", s.School.Currency), currency)
}

// Agree agrees to what was quoted, or without a quote to what is expected. The shop is told.
func (r *Room) Agree(ctx context.Context, by journal.Person, id uuid.UUID, in At) (journal.Changed, error) {
	return r.decide(ctx, by, id, in, shop.Accept)
}

// Refuse refuses a quote. The shop is told, and the job is wanted again: by another shop, or not at all.
func (r *Room) Refuse(ctx context.Context, by journal.Person, id uuid.UUID, in At) (journal.Changed, error) {
	return r.decide(ctx, by, id, in, shop.Refuse)
}

// notDone tells a shop that it does not get a job.
const notDone = "We do not have it done, thank you."

func (r *Room) decide(ctx context.Context, by journal.Person, id uuid.UUID, in At, takes shop.Step) (journal.Changed, error) {
	agreed := takes == shop.Accept
	return r.move(ctx, by, id, in, takes,
		func(tx *store.Tx, s *school.Snapshot, i *school.Instrument, j *shoprows.Job, m *step) error {
			at, err := chosen(s, j)
			if err != nil {
				return err
			}
			cents := expectedCents(*j)
			if j.QuoteCents != nil {
				cents = *j.QuoteCents
				if agreed && ranOut(j.QuoteUntil, s.Today) {
					return &journal.Fault{
						Kind:    journal.Conflict,
						Message: fmt.Sprintf("The quote ran out on %s. Ask again.", j.QuoteUntil.Words()),
					}
				}
			}
			decision, answer := "refused", notDone
			if m.detail.Cents, j.AgreedCents = nil, nil; agreed {
				decision, answer = "accepted", "Please do it as quoted, and ask before you do more."
				m.detail.Cents, j.AgreedCents = &cents, &cents
			}
			if m.detail.Quote, err = shoprows.DecideQuote(ctx, tx, id, decision, r.schools.Now()); err != nil {
				return err
			}
			if hasComputer(at) {
				return nil
			}
			return r.write(ctx, tx, by, s, i, *j, *at, wording.ShopAnswer, answer)
		})
}

// ranOut reports whether a quote is not valid any more.
func ranOut(until *day.Day, today day.Day) bool { return until != nil && *until < today }

// TellOwner writes to the owner of a rented instrument what was found on it; the school has nothing done to it.
func (r *Room) TellOwner(ctx context.Context, by journal.Person, instrument uuid.UUID) (journal.Changed, error) {
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		i, err := s.Instrument(instrument)
		if err != nil {
			return journal.Changed{}, err
		}
		var found, ids []string
		for _, f := range i.Findings {
			if needsShop(r.schools.Catalog, i.Kind, f) {
				found, ids = append(found, catalog.InText(r.inspection.FindingName(f.Code))), append(ids, f.ID.String())
			}
		}
		switch {
		case i.Rental == nil:
			return journal.Changed{}, &journal.Fault{Kind: journal.Conflict, Message: i.Tag + " is the school's own."}
		case len(found) == 0:
			return journal.Changed{}, &journal.Fault{Kind: journal.Conflict,
				Message: "Nothing is open on " + i.Tag + " that its owner should see to."}
		}
		to := i.Rental.Contact
		if to == "" {
			to = i.Rental.Owner
		}
		_, err = r.letters.Post(ctx, tx, by, s, i, letters.Posting{
			Letter: wording.OwnerTold, About: "owner:" + strings.Join(ids, ","), To: to,
			Places: map[string]string{
				"owner": i.Rental.Owner, "contract": i.Rental.Contract, "found": strings.Join(found, ", "),
				"phone": s.School.Phone,
			},
		})
		if err != nil {
			return journal.Changed{}, err
		}
		event, err := r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.OwnerTold, Instrument: &i.ID}, OwnerDetail{i.Rental.Owner})
		return journal.Changed{Events: []uuid.UUID{event}}, err
	})
}
