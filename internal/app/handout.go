package app

import (
	"context"
	"encoding/json"
	"fmt"

	"github.com/google/uuid"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/letters"
	"solfeggio/internal/store"
)

// HandOut gives instruments to players.
type HandOut struct {
	Pairs     []Pair   `json:"pairs" minItems:"1" maxItems:"500"`
	DueBackOn *day.Day `json:"due_back_on,omitempty" doc:"The end of the school year when left out"`
	OnPaper   bool     `json:"on_paper,omitempty" doc:"The agreements are here, signed on paper by the players or for them"`
}

// HandedOutDetail is what the log keeps of a hand-out or a return. It holds no name, so that a player can be erased from a log
// that is only added to.
type HandedOutDetail struct {
	PlayerID *uuid.UUID `json:"player_id,omitempty"`
	HandOver *uuid.UUID `json:"hand_over,omitempty"`
	Habit    *Habit     `json:"habit,omitempty" doc:"Of a return: how it was played until then"`
	Hold     *uuid.UUID `json:"hold,omitempty" doc:"Of a return: what it waits for since"`
	Charge   *uuid.UUID `json:"charge,omitempty" doc:"Of a return: what was charged"`
}

// HandedOut is what was handed out, and what somebody should look into.
type HandedOut struct {
	Events []uuid.UUID `json:"events" doc:"What to undo"`
	Amiss  []string    `json:"amiss" doc:"Of each pair, what speaks against it though it was handed out; empty for nothing"`
}

// HandOut gives each player the instrument of their pair from today on, all or none. It refuses an instrument that is held,
// stopped or in somebody's hands; the last is kept by the database, so that two people at two desks cannot both succeed.
func (a *App) HandOut(ctx context.Context, by Person, in HandOut) (HandedOut, error) {
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return HandedOut{}, err
	}
	dueBack := s.yearEnd()
	if in.DueBackOn != nil {
		if dueBack = in.DueBackOn; *dueBack < s.today {
			return HandedOut{}, invalid("due_back_on", "is past", *dueBack)
		}
	}
	return write(ctx, a, by, MayChangeInstruments, "hand-out", in, func(tx *store.Tx) (HandedOut, error) {
		out, now := HandedOut{Events: []uuid.UUID{}, Amiss: []string{}}, a.now()
		for n, pair := range in.Pairs {
			p, i, err := s.pair(fmt.Sprintf("pairs[%d].", n), pair)
			if err != nil {
				return out, err
			}
			h := store.HandOver{ID: uuid.Must(uuid.NewV7()), DueBackOn: dueBack}
			if in.OnPaper {
				h.Terms, h.Signature = s.wording(letters.Agreement), store.Signature{How: "paper", By: p.Name(), At: &now}
			}
			event, err := a.give(ctx, tx, by, s, p, i, h)
			if err != nil {
				return out, err
			}
			out.Events, out.Amiss = append(out.Events, event), append(out.Amiss, a.amiss(p, i))
		}
		return out, nil
	})
}

// amiss says what speaks against a pair by the roster and by what the player measures.
func (a *App) amiss(p *store.Player, i *instrument) string {
	size := sizeOf(*p)
	switch {
	case p.Kind != "" && p.Kind != i.Instrument.Kind:
		kind, _ := a.catalog.Kind(p.Kind)
		return fmt.Sprintf("learns the %s by the roster", catalog.InText(kind.Name))
	case size != nil && i.Size != "" && size.Size != i.Size:
		return fmt.Sprintf("measures for %s, this is %s: make the three checks", size.Size, i.Size)
	}
	return ""
}

// pair finds a player who is here and an instrument; path is where the pair stands in the input.
func (s *snapshot) pair(path string, pair Pair) (*store.Player, *instrument, error) {
	p, i := s.players[pair.PlayerID], s.byID[pair.InstrumentID]
	switch {
	case p == nil:
		return nil, nil, invalid(path+"player_id", "there is no such player", pair.PlayerID)
	case p.LeftOn != nil:
		return nil, nil, invalid(path+"player_id", p.Name()+" has left", pair.PlayerID)
	case i == nil:
		return nil, nil, invalid(path+"instrument_id", "no such instrument", pair.InstrumentID)
	}
	return p, i, nil
}

// give hands an instrument out: the player answers for it and it is played as the player plays. h says what was agreed; what
// the kit lacks then is noted in it.
func (a *App) give(ctx context.Context, tx *store.Tx, by Person, s *snapshot, p *store.Player, i *instrument, h store.HandOver) (uuid.UUID, error) {
	if err := a.stillFree(ctx, tx, i, s.today); err != nil {
		return uuid.Nil, err
	}
	if err := tx.PutAssignment(ctx, store.Assignment{
		ID: uuid.Must(uuid.NewV7()), Instrument: i.ID, StartsOn: s.today, Ensembles: p.Ensembles, PracticeMinutes: p.PracticeMinutes,
		PracticeDaysPerWeek: p.PracticeDays, VacationShare: p.VacationShare, HeavySweat: p.HeavySweat, Players: 1, Player: &p.ID,
	}); err != nil {
		return uuid.Nil, err
	}
	h.Player = &p.ID
	if err := a.openHandOver(ctx, tx, by, i.ID, h); err != nil {
		return uuid.Nil, err
	}
	return a.record(ctx, tx, by, store.Event{What: store.HandedOut, Instrument: &i.ID}, HandedOutDetail{PlayerID: &p.ID, HandOver: &h.ID})
}

// openHandOver begins the time in which a player answers for an instrument, with its kit as it is noted now.
func (a *App) openHandOver(ctx context.Context, tx *store.Tx, by Person, instrument uuid.UUID, h store.HandOver) error {
	kit, err := kitStates(ctx, tx, instrument)
	if err != nil {
		return err
	}
	h.Instrument, h.GivenAt, h.GivenBy, h.Kit = instrument, a.now(), &by.ID, map[string]catalog.KitState(kit)
	return tx.InsertHandOver(ctx, h)
}

// changeHolder brings who answers for an instrument to the player of its habit, when that was changed by hand or by lending.
func (a *App) changeHolder(ctx context.Context, tx *store.Tx, by Person, instrument uuid.UUID, want *Habit) error {
	open, err := tx.OpenHandOvers(ctx, &instrument)
	if err != nil {
		return err
	}
	var player *uuid.UUID
	if want != nil {
		player = want.PlayerID
	}
	if len(open) > 0 {
		if samePlayer(open[0].Player, player) {
			return nil
		}
		now := a.now()
		open[0].ReturnedAt, open[0].ReturnedBy, open[0].ReturnKit = &now, &by.ID, open[0].Kit
		if err := tx.CloseHandOver(ctx, open[0]); err != nil {
			return err
		}
	}
	if player == nil {
		return nil
	}
	return a.openHandOver(ctx, tx, by, instrument, store.HandOver{ID: uuid.Must(uuid.NewV7()), Player: player})
}

// undoHandOut takes a hand-out back: the instrument stands free as before.
func (a *App) undoHandOut(ctx context.Context, tx *store.Tx, by Person, e store.Event, today day.Day) error {
	d, err := handedOut(e)
	if err != nil {
		return err
	}
	if d.HandOver == nil {
		return &Fault{Kind: Conflict, Message: "This hand-out is from before they could be undone; take the instrument back instead."}
	}
	h, err := tx.HandOver(ctx, *d.HandOver)
	if err != nil {
		return err
	}
	if h.ReturnedAt != nil {
		return &Fault{Kind: Conflict, Message: "It came back in the meantime; there is nothing to undo."}
	}
	if err := tx.DeleteHandOver(ctx, h.ID); err != nil {
		return err
	}
	_, err = a.changeHabit(ctx, tx, by, *e.Instrument, nil, today)
	return err
}

func handedOut(e store.Event) (d HandedOutDetail, err error) {
	if err := json.Unmarshal(e.Detail, &d); err != nil {
		return d, fmt.Errorf("reading event %s: %w", e.ID, err)
	}
	return d, nil
}

// yearEnd is the last day of the last term within a year, nil when no term is entered: until then an instrument is lent.
func (s *snapshot) yearEnd() *day.Day {
	var last *day.Day
	for _, t := range s.terms {
		if t.EndsOn >= s.today && t.EndsOn <= s.today.AddYears(1) && (last == nil || t.EndsOn > *last) {
			last = &t.EndsOn
		}
	}
	return last
}
