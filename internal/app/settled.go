package app

import (
	"fmt"

	"github.com/google/uuid"
)

// settled is what people decided before the program proposes.
type settled struct {
	instrument map[uuid.UUID]uuid.UUID // by player
	player     map[uuid.UUID]uuid.UUID // by instrument
	refused    map[Pair]bool
}

// settle reads pins and refusals. A player or an instrument is pinned once at most; a pair that is pinned and refused is a
// contradiction.
func (s *snapshot) settle(in Wish) (settled, error) {
	out := settled{map[uuid.UUID]uuid.UUID{}, map[uuid.UUID]uuid.UUID{}, map[Pair]bool{}}
	for _, pair := range in.Refusals {
		out.refused[pair] = true
	}
	for n, pin := range in.Pins {
		_, player := out.instrument[pin.PlayerID]
		_, instrument := out.player[pin.InstrumentID]
		at := fmt.Sprintf("pins[%d]", n)
		switch {
		case s.players[pin.PlayerID] == nil || s.byID[pin.InstrumentID] == nil:
			return out, invalid(at, "names a player or an instrument that is not there", pin.InstrumentID)
		case player:
			return out, invalid(at, s.players[pin.PlayerID].Name()+" is pinned twice", pin.PlayerID)
		case instrument:
			return out, invalid(at, s.byID[pin.InstrumentID].Tag+" is pinned twice", pin.InstrumentID)
		case out.refused[pin]:
			return out, invalid(at, "is ruled out as well", pin.InstrumentID)
		}
		out.instrument[pin.PlayerID], out.player[pin.InstrumentID] = pin.InstrumentID, pin.PlayerID
	}
	return out, nil
}

func (s settled) pinned(p Pair) bool {
	instrument, ok := s.instrument[p.PlayerID]
	return ok && instrument == p.InstrumentID
}

// allows reports whether pins and refusals leave a pair open.
func (s settled) allows(p Pair) bool {
	_, player := s.instrument[p.PlayerID]
	_, instrument := s.player[p.InstrumentID]
	return !s.refused[p] && (s.pinned(p) || !player && !instrument)
}
