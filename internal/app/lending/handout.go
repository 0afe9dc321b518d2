package lending

import (
	"context"
	"encoding/json"
	"fmt"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/letters"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/wording"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/lendingrows"
	"solfeggio/internal/store/playerrows"
)

// HandOut gives instruments to players.
type HandOut struct {
	Pairs     []school.Pair `json:"pairs" minItems:"1" maxItems:"500"`
	DueBackOn *day.Day      `json:"due_back_on,omitempty" doc:"The end of the school year when left out"`
	OnPaper   bool          `json:"on_paper,omitempty" doc:"The agreements are here, signed on paper by the players or for them"`
}

// HandedOut is what was handed out, and what somebody should look into.
type HandedOut struct {
	Events []uuid.UUID `json:"events" doc:"What to undo"`
	Amiss  []string    `json:"amiss" doc:"Of each pair, what speaks against it though it was handed out; empty for nothing"`
}

// HandOut gives each player the instrument of their pair from today on, all or none. It refuses an instrument that is held,
// stopped or in somebody's hands.
func (r *Room) HandOut(ctx context.Context, by journal.Person, in HandOut) (HandedOut, error) {
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (HandedOut, error) {
		out, now := HandedOut{Events: []uuid.UUID{}, Amiss: []string{}}, r.schools.Now()
		dueBack := s.YearEnd()
		if in.DueBackOn != nil {
			if dueBack = in.DueBackOn; *dueBack < s.Today {
				return out, journal.Refuse("due_back_on", "is past", *dueBack)
			}
		}
		for n, pair := range in.Pairs {
			p, i, err := matched(s, fmt.Sprintf("pairs[%d].", n), pair)
			if err != nil {
				return out, err
			}
			h := lendingrows.HandOver{ID: uuid.Must(uuid.NewV7()), DueBackOn: dueBack}
			if in.OnPaper {
				h.Terms, h.Signature = letters.WordingOf(s, wording.Agreement), lendingrows.Signature{How: "paper", By: p.Name(), At: &now}
			}
			event, err := r.give(ctx, tx, by, s, p, i, h)
			if err != nil {
				return out, err
			}
			out.Events, out.Amiss = append(out.Events, event), append(out.Amiss, r.amiss(p, i))
		}
		return out, nil
	})
}

// amiss says what speaks against a pair by the roster and by what the player measures.
func (r *Room) amiss(p *playerrows.Player, i *school.Instrument) string {
	size := school.SizeOf(*p)
	switch {
	case p.Kind != "" && p.Kind != i.Instrument.Kind:
		kind, _ := r.schools.Catalog.Kind(p.Kind)
		return fmt.Sprintf("learns the %s by the roster", catalog.InText(kind.Name))
	case size != nil && i.Size != "" && size.Size != i.Size:
		return fmt.Sprintf("measures for %s, this is %s: make the checks", size.Size, i.Size)
	}
	return ""
}

// matched finds a player who is here and an instrument; path is where the pair stands in the input.
func matched(s *school.Snapshot, path string, pair school.Pair) (*playerrows.Player, *school.Instrument, error) {
	p, i := s.Players[pair.PlayerID], s.ByID[pair.InstrumentID]
	switch {
	case p == nil:
		return nil, nil, journal.Refuse(path+"player_id", "there is no such player", pair.PlayerID)
	case p.LeftOn != nil:
		return nil, nil, journal.Refuse(path+"player_id", p.Name()+" has left", pair.PlayerID)
	case i == nil:
		return nil, nil, journal.Refuse(path+"instrument_id", "no such instrument", pair.InstrumentID)
	}
	return p, i, nil
}

// give hands an instrument out: the player answers for it and it is played as the player plays. h says what was agreed.
func (r *Room) give(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	s *school.Snapshot,
	p *playerrows.Player,
	i *school.Instrument,
	h lendingrows.HandOver,
) (uuid.UUID, error) {
	habit := school.Habit{
		Ensembles: p.Ensembles, PracticeMinutes: p.PracticeMinutes, PracticeDays: p.PracticeDays, VacationShare: p.VacationShare,
		HeavySweat: p.HeavySweat, Players: 1, PlayerID: &p.ID,
	}
	if err := r.GoOut(ctx, tx, by, s, i.ID, habit, h); err != nil {
		return uuid.Nil, err
	}
	return r.schools.Record(
		ctx,
		tx,
		by,
		eventrows.Event{What: eventrows.HandedOut, Instrument: &i.ID},
		school.HandedOutDetail{PlayerID: &p.ID, HandOver: &h.ID, ClassSet: classSetOf(i)},
	)
}

func handedOut(e eventrows.Event) (d school.HandedOutDetail, err error) {
	if err := json.Unmarshal(e.Detail, &d); err != nil {
		return d, fmt.Errorf("reading event %s: %w", e.ID, err)
	}
	return d, nil
}
