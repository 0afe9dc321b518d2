package placing

import (
	"fmt"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
)

// settled is what people decided before the program proposes.
type settled struct {
	instrument map[uuid.UUID]uuid.UUID // by player
	player     map[uuid.UUID]uuid.UUID // by instrument
	refused    map[school.Pair]bool
}

// settle reads pins and refusals. A player or an instrument is pinned once at most; a pair that is pinned and refused is a
// contradiction.
func settle(s *school.Snapshot, in Wish) (settled, error) {
	out := settled{map[uuid.UUID]uuid.UUID{}, map[uuid.UUID]uuid.UUID{}, map[school.Pair]bool{}}
	for _, pair := range in.Refusals {
		out.refused[pair] = true
	}
	for n, pin := range in.Pins {
		_, player := out.instrument[pin.PlayerID]
		_, instrument := out.player[pin.InstrumentID]
		at := fmt.Sprintf("pins[%d]", n)
		switch {
		case s.Players[pin.PlayerID] == nil || s.ByID[pin.InstrumentID] == nil:
			return out, journal.Refuse(at, "names a player or an instrument that is not there", pin.InstrumentID)
		case player:
			return out, journal.Refuse(at, s.Players[pin.PlayerID].Name()+" is pinned twice", pin.PlayerID)
		case instrument:
			return out, journal.Refuse(at, s.ByID[pin.InstrumentID].Tag+" is pinned twice", pin.InstrumentID)
		case out.refused[pin]:
			return out, journal.Refuse(at, "is ruled out as well", pin.InstrumentID)
		}
		out.instrument[pin.PlayerID], out.player[pin.InstrumentID] = pin.InstrumentID, pin.PlayerID
	}
	return out, nil
}

func (s settled) pinned(p school.Pair) bool {
	instrument, ok := s.instrument[p.PlayerID]
	return ok && instrument == p.InstrumentID
}

// allows reports whether pins and refusals leave a pair open.
func (s settled) allows(p school.Pair) bool {
	_, player := s.instrument[p.PlayerID]
	_, instrument := s.player[p.InstrumentID]
	return !s.refused[p] && (s.pinned(p) || !player && !instrument)
}
