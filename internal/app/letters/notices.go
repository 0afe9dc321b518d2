package letters

import (
	"context"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/wording"
	"solfeggio/internal/formats"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/lendingrows"
	"solfeggio/internal/store/letterrows"
)

// Notices is what could be written now and what was.
type Notices struct {
	Proposed []ProposedNotice    `json:"proposed"`
	Unsigned []Unsigned          `json:"unsigned" doc:"Who has an instrument and has not signed for it"`
	Sent     []letterrows.Notice `json:"sent" doc:"The latest of the simulated outbox, the last first: nothing leaves it"`
	More     bool                `json:"more" doc:"Older ones lie in it too"`
}

// ProposedNotice is a notice as it would be sent.
type ProposedNotice struct {
	Letter      string     `json:"letter" doc:"Key of the letter"`
	LetterName  string     `json:"letter_name"`
	About       string     `json:"about" doc:"What it is about; nothing is written twice about the same"`
	PlayerID    *uuid.UUID `json:"player_id,omitempty"`
	Player      string     `json:"player"`
	Tag         string     `json:"tag"`
	AddressedTo string     `json:"addressed_to" doc:"The guardian's address where one is kept, else the player"`
	Subject     string     `json:"subject"`
	Body        string     `json:"body"`

	instrument uuid.UUID
}

// Unsigned is a hand-over whose agreement is not signed.
type Unsigned struct {
	HandOver     uuid.UUID `json:"hand_over"`
	InstrumentID uuid.UUID `json:"instrument_id"`
	Tag          string    `json:"tag"`
	Player       string    `json:"player"`
	GivenAt      time.Time `json:"given_at"`
}

const (
	dueBackAhead = 14 // days before which a return is spoken of
	rentalAhead  = 30 // the same for the end of a rental
)

// Notices lists what could be written to players and guardians, each as it would go out, and what went.
func (r *Room) Notices(ctx context.Context, by journal.Person) (Notices, error) {
	if err := by.Need(journal.MayChangeInstruments); err != nil {
		return Notices{}, err
	}
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return Notices{}, err
	}
	out := Notices{Unsigned: []Unsigned{}}
	for _, i := range s.Instruments {
		if h := i.HandOver; h != nil && h.Signature.How == "" {
			out.Unsigned = append(out.Unsigned, Unsigned{h.ID, i.ID, i.Tag, s.Listed(i).Holder, h.GivenAt})
		}
	}
	err = r.schools.Read(ctx, by, func(tx *store.Tx) error {
		if out.Sent, err = letterrows.Notices(ctx, tx, sentShown+1); err != nil {
			return err
		}
		if out.More = len(out.Sent) > sentShown; out.More {
			out.Sent = out.Sent[:sentShown]
		}
		out.Proposed, err = r.proposeNotices(ctx, tx, s)
		return err
	})
	return out, err
}

// sentShown is how many of what was sent are listed.
const sentShown = 200

// proposeNotices words every notice that is due and was not sent.
func (r *Room) proposeNotices(ctx context.Context, tx *store.Tx, s *school.Snapshot) ([]ProposedNotice, error) {
	list := []ProposedNotice{}
	add := func(key, about string, player *uuid.UUID, i *school.Instrument, particulars map[string]string) {
		if player == nil || s.Players[*player] == nil {
			return
		}
		p := s.Players[*player]
		l, _ := wording.Find(key)
		n := ProposedNotice{
			Letter:      key,
			LetterName:  l.Name,
			About:       about,
			PlayerID:    player,
			Player:      p.Name(),
			Tag:         i.Tag,
			AddressedTo: p.Guardian,
			instrument:  i.ID,
		}
		if n.AddressedTo == "" {
			n.AddressedTo = p.Name()
		}
		for name, text := range places(s, i, p.Name()) {
			particulars[name] = text
		}
		n.Subject, n.Body = wording.Fill(WordingOf(s, key), particulars)
		list = append(list, n)
	}
	for _, i := range s.Instruments {
		h := i.HandOver
		if h == nil {
			continue
		}
		if on := h.DueBackOn; on != nil && *on <= s.Today+dueBackAhead {
			add(wording.DueBack, fmt.Sprintf("due-back:%s:%s", h.ID, on), h.Player, i, map[string]string{"due_back": on.Words()})
		}
		if gaps := r.supply.Gaps(i); len(gaps) > 0 {
			add(
				wording.KitMissing,
				fmt.Sprintf("kit:%s:%s", h.ID, strings.Join(gaps, ",")),
				h.Player,
				i,
				map[string]string{"missing": strings.Join(gaps, ", ")},
			)
		}
		if r := i.Rental; r != nil && r.ReturnBy != nil && *r.ReturnBy <= s.Today+rentalAhead {
			add(
				wording.RentalEnds,
				fmt.Sprintf("rental:%s:%s", r.ID, r.ReturnBy),
				h.Player,
				i,
				map[string]string{"due_back": r.ReturnBy.Words()},
			)
		}
	}
	charges, err := lendingrows.Charges(ctx, tx)
	for _, c := range charges {
		i := s.ByID[c.Instrument]
		if i == nil {
			i = s.Gone[c.Instrument]
		}
		if i != nil && c.AmountCents > 0 {
			add(
				wording.Charge,
				fmt.Sprintf("charge:%s", c.ID),
				c.Player,
				i,
				map[string]string{"amount": money(s, c.AmountCents), "reason": c.Reason},
			)
		}
	}
	if err != nil {
		return nil, err
	}
	about := make([]string, len(list))
	for n := range list {
		about[n] = list[n].About
	}
	sent, err := letterrows.NoticesAbout(ctx, tx, about)
	return slices.DeleteFunc(list, func(n ProposedNotice) bool { return sent[n.About] }), err
}

// Sending names the notices to send, by what they are about.
type Sending struct {
	About []string `json:"about" minItems:"1" maxItems:"500"`
}

// NoticeDetail is what the log keeps of a notice. It holds no name.
type NoticeDetail struct {
	Notice uuid.UUID `json:"notice"`
	Letter string    `json:"letter"`
}

// SendNotices puts notices into the simulated outbox, as they are worded now. What was sent in the meantime is not sent again:
// the database keeps that, so that two people at two desks cannot both write.
func (r *Room) SendNotices(ctx context.Context, by journal.Person, in Sending) (journal.Changed, error) {
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		out := journal.Changed{Events: []uuid.UUID{}}
		proposed, err := r.proposeNotices(ctx, tx, s)
		if err != nil {
			return out, err
		}
		for n, about := range in.About {
			at := slices.IndexFunc(proposed, func(p ProposedNotice) bool { return p.About == about })
			if at < 0 {
				return out, &journal.Fault{
					Kind:    journal.Conflict,
					Message: "One of these was sent already, or has settled itself. Nothing was sent; look again.",
					Fields:  []journal.Field{{Path: fmt.Sprintf("about[%d]", n), Message: "is not to be sent", Value: about}},
				}
			}
			p := proposed[at]
			proposed = slices.Delete(proposed, at, at+1)
			kept := letterrows.Notice{
				ID:          uuid.Must(uuid.NewV7()),
				Letter:      p.Letter,
				About:       p.About,
				Player:      p.PlayerID,
				Instrument:  &p.instrument,
				AddressedTo: p.AddressedTo,
				Subject:     p.Subject,
				Body:        p.Body,
				SentAt:      r.schools.Now(),
				SentBy:      &by.ID,
			}
			if err := letterrows.InsertNotice(ctx, tx, kept); err != nil {
				return out, err
			}
			event, err := r.schools.Record(
				ctx,
				tx,
				by,
				eventrows.Event{What: eventrows.NoticeSent, Instrument: &p.instrument},
				NoticeDetail{kept.ID, p.Letter},
			)
			if err != nil {
				return out, err
			}
			out.Events = append(out.Events, event)
		}
		return out, nil
	})
}

// Posting is a letter about an instrument to somebody who is no player.
type Posting struct {
	Letter string // its key
	About  string // nothing is written twice about the same
	To     string
	Places map[string]string // beside those that every letter about an instrument has
}

// Post puts a letter into the simulated outbox within a write, as the school words it.
func (r *Room) Post(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	s *school.Snapshot,
	i *school.Instrument,
	p Posting,
) (uuid.UUID, error) {
	for name, text := range places(s, i, "") {
		p.Places[name] = text
	}
	n := letterrows.Notice{
		ID: uuid.Must(uuid.NewV7()), Letter: p.Letter, About: p.About, Instrument: &i.ID, AddressedTo: p.To, SentAt: r.schools.Now(),
		SentBy: &by.ID,
	}
	n.Subject, n.Body = wording.Fill(WordingOf(s, p.Letter), p.Places)
	if err := letterrows.InsertNotice(ctx, tx, n); err != nil {
		return uuid.Nil, err
	}
	return r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.NoticeSent, Instrument: &i.ID}, NoticeDetail{n.ID, n.Letter})
}

// Message writes a notice of the outbox as an Internet message.
func (r *Room) Message(ctx context.Context, by journal.Person, id uuid.UUID, w io.Writer) error {
	if err := by.Need(journal.MayChangeInstruments); err != nil {
		return err
	}
	var n letterrows.Notice
	if err := r.schools.Read(ctx, by, func(tx *store.Tx) (err error) {
		n, err = letterrows.NoticeByID(ctx, tx, id)
		return err
	}); err != nil {
		return err
	}
	return formats.WriteMessage(w, formats.Message{ID: n.ID.String(), To: n.AddressedTo, Subject: n.Subject, Body: n.Body, At: n.SentAt})
}

// DueBack is an instrument that has to come back, or to go back, soon.
type DueBack struct {
	InstrumentID uuid.UUID `json:"instrument_id"`
	Tag          string    `json:"tag"`
	On           day.Day   `json:"on"`
	From         string    `json:"from" doc:"Player who has it; empty when it goes to its owner"`
	Owner        string    `json:"owner" doc:"To whom it goes back; 'its owner' for who may not read that, empty for the school's own"`
}

// DueBackIn lists what has to come back within two weeks and what goes back to its owner within a month, the soonest first.
func DueBackIn(s *school.Snapshot, by journal.Person) []DueBack {
	list := []DueBack{}
	for _, i := range s.Instruments {
		if r := i.Rental; r != nil && r.ReturnBy != nil && *r.ReturnBy <= s.Today+rentalAhead {
			list = append(list, DueBack{InstrumentID: i.ID, Tag: i.Tag, On: *r.ReturnBy, Owner: i.OwnerFor(by)})
		}
		if h := i.HandOver; h != nil && h.DueBackOn != nil && *h.DueBackOn <= s.Today+dueBackAhead {
			list = append(list, DueBack{InstrumentID: i.ID, Tag: i.Tag, On: *h.DueBackOn, From: s.Listed(i).Holder})
		}
	}
	slices.SortStableFunc(list, func(x, y DueBack) int { return int(x.On - y.On) })
	return list
}
