package app

import (
	"context"
	"fmt"

	"github.com/google/uuid"

	"solfeggio/internal/store"
)

// HandOut gives instruments to players.
type HandOut struct {
	Pairs []Pair `json:"pairs" minItems:"1" maxItems:"500"`
}

// HandedOutDetail is what the log keeps of a hand-out or a return. It holds no name, so that a player can be erased from a log
// that is only added to.
type HandedOutDetail struct {
	PlayerID *uuid.UUID `json:"player_id,omitempty"`
}

// HandOut gives each player the instrument of their pair from today on, all or none. It refuses an instrument that is stopped
// or in somebody's hands; the last is kept by the database, so that two people at two desks cannot both succeed.
func (a *App) HandOut(ctx context.Context, by Person, in HandOut) (Changed, error) {
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return Changed{}, err
	}
	return write(ctx, a, by, MayChangeInstruments, "hand-out", in, func(tx *store.Tx) (Changed, error) {
		out := Changed{Events: []uuid.UUID{}}
		for n, pair := range in.Pairs {
			path := fmt.Sprintf("pairs[%d]", n)
			p, i := s.players[pair.PlayerID], s.byID[pair.InstrumentID]
			switch {
			case p == nil:
				return out, invalid(path+".player_id", "there is no such player", pair.PlayerID)
			case p.LeftOn != nil:
				return out, invalid(path+".player_id", p.Name()+" has left", pair.PlayerID)
			case i == nil:
				return out, invalid(path+".instrument_id", "no such instrument", pair.InstrumentID)
			}
			if err := a.stillFree(ctx, tx, i, s.today); err != nil {
				return out, err
			}
			if err := tx.PutAssignment(ctx, store.Assignment{
				ID: uuid.Must(uuid.NewV7()), Instrument: i.ID, StartsOn: s.today, Ensembles: p.Ensembles, PracticeMinutes: p.PracticeMinutes,
				PracticeDaysPerWeek: p.PracticeDays, VacationShare: p.VacationShare, HeavySweat: p.HeavySweat, Players: 1, Player: &p.ID,
			}); err != nil {
				return out, err
			}
			event, err := a.record(ctx, tx, by, store.Event{What: store.HandedOut, Instrument: &i.ID}, HandedOutDetail{&p.ID})
			if err != nil {
				return out, err
			}
			out.Events = append(out.Events, event)
		}
		return out, nil
	})
}

// Return takes an instrument back today. What its return makes due is on Today at once.
func (a *App) Return(ctx context.Context, by Person, id uuid.UUID) (Changed, error) {
	s, i, err := a.instrument(ctx, by, id)
	if err != nil {
		return Changed{}, err
	}
	return write(ctx, a, by, MayChangeInstruments, "return", id, func(tx *store.Tx) (Changed, error) {
		all, err := tx.Assignments(ctx, &id)
		if err != nil {
			return Changed{}, err
		}
		for _, at := range all {
			if at.StartsOn > s.today || at.EndsOn != nil && *at.EndsOn < s.today {
				continue
			}
			if err := endYesterday(ctx, tx, at, s.today); err != nil {
				return Changed{}, err
			}
			event, err := a.record(ctx, tx, by, store.Event{What: store.Returned, Instrument: &id}, HandedOutDetail{at.Player})
			return Changed{Events: []uuid.UUID{event}}, err
		}
		return Changed{}, &Fault{Kind: Conflict, Message: i.Tag + " is in nobody's hands."}
	})
}
