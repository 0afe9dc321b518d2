package app

import (
	"context"
	"encoding/json"
	"fmt"

	"github.com/google/uuid"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/wording"
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
	Habit    *Habit     `json:"habit,omitempty" doc:"Of a return: how it was played until then; of a loan: how it is played since"`
	LentFor  *uuid.UUID `json:"lent_for,omitempty" doc:"Of a loan: the return of the instrument instead of which it is lent"`
	Hold     *uuid.UUID `json:"hold,omitempty" doc:"Of a return: what it waits for since"`
	Charge   *uuid.UUID `json:"charge,omitempty" doc:"Of a return: what was charged"`
}

// HandedOut is what was handed out, and what somebody should look into.
type HandedOut struct {
	Events []uuid.UUID `json:"events" doc:"What to undo"`
	Amiss  []string    `json:"amiss" doc:"Of each pair, what speaks against it though it was handed out; empty for nothing"`
}

// HandOut gives each player the instrument of their pair from today on, all or none. It refuses an instrument that is held,
// stopped or in somebody's hands.
func (a *App) HandOut(ctx context.Context, by Person, in HandOut) (HandedOut, error) {
	return write(ctx, a, by, MayChangeInstruments, func(tx *store.Tx, s *snapshot) (HandedOut, error) {
		out, now := HandedOut{Events: []uuid.UUID{}, Amiss: []string{}}, a.now()
		dueBack := s.yearEnd()
		if in.DueBackOn != nil {
			if dueBack = in.DueBackOn; *dueBack < s.today {
				return out, invalid("due_back_on", "is past", *dueBack)
			}
		}
		for n, pair := range in.Pairs {
			p, i, err := s.pair(fmt.Sprintf("pairs[%d].", n), pair)
			if err != nil {
				return out, err
			}
			h := store.HandOver{ID: uuid.Must(uuid.NewV7()), DueBackOn: dueBack}
			if in.OnPaper {
				h.Terms, h.Signature = s.wording(wording.Agreement), store.Signature{How: "paper", By: p.Name(), At: &now}
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
		return fmt.Sprintf("measures for %s, this is %s: make the checks", size.Size, i.Size)
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

// give hands an instrument out: the player answers for it and it is played as the player plays. h says what was agreed.
func (a *App) give(ctx context.Context, tx *store.Tx, by Person, s *snapshot, p *store.Player, i *instrument, h store.HandOver) (uuid.UUID, error) {
	habit := Habit{
		Ensembles: p.Ensembles, PracticeMinutes: p.PracticeMinutes, PracticeDays: p.PracticeDays, VacationShare: p.VacationShare,
		HeavySweat: p.HeavySweat, Players: 1, PlayerID: &p.ID,
	}
	if err := a.goOut(ctx, tx, by, s, i.ID, habit, h); err != nil {
		return uuid.Nil, err
	}
	return a.record(ctx, tx, by, store.Event{What: store.HandedOut, Instrument: &i.ID}, HandedOutDetail{PlayerID: &p.ID, HandOver: &h.ID})
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
