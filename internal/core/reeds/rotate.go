package reeds

import (
	"cmp"
	"fmt"
	"slices"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/field"
)

// State is where a reed is in its life.
type State string

// The states of a reed.
const (
	BreakingIn State = "breaking-in"
	Ready      State = "ready"
	Worn       State = "worn"
)

// A Reed is one of a player's box.
type Reed struct {
	ID            string   `json:"id"`
	State         State    `json:"state" jsonschema:"enum=breaking-in,enum=ready,enum=worn" enum:"breaking-in,ready,worn"`
	MinutesPlayed float64  `json:"minutes_played"`
	LastPlayed    *day.Day `json:"last_played" doc:"null when it never was"`
}

// RotateIn is the input of the calculator reeds.rotate.
type RotateIn struct {
	Reeds []Reed  `json:"reeds"`
	Today day.Day `json:"today"`
	Keep  int     `json:"keep" doc:"How many reeds that are not worn the player keeps going; 0 or more"`
}

// RotateOut is its result.
type RotateOut struct {
	Play    *string  `json:"play" doc:"The reed for today; null when none is ready"`
	Order   []string `json:"order" doc:"The ready reeds in the order in which they take their turns"`
	Discard []string `json:"discard" doc:"The worn ones"`
	OpenNew int      `json:"open_new" doc:"How many are missing to keep"`
}

// mostKept is how many reeds a player may want to keep at the most.
const mostKept = 1000

// Rotate is the calculator reeds.rotate: the ready reed whose last playing is longest ago comes first, one never played before
// all others; of two alike the one with fewer minutes, then the earlier in the input. Reeds that are being broken in count as kept.
// Errors name the field by its JSON path.
func Rotate(in RotateIn) (RotateOut, error) {
	if in.Keep < 0 || in.Keep > mostKept {
		return RotateOut{}, field.Errorf("keep", "%d is no number of reeds; use 0 or more, at most 1000", in.Keep)
	}
	out := RotateOut{Order: []string{}, Discard: []string{}}
	seen := map[string]bool{}
	var ready []Reed
	kept := 0
	for i, r := range in.Reeds {
		path := func(name string) string { return fmt.Sprintf("reeds[%d].%s", i, name) }
		switch {
		case r.ID == "":
			return RotateOut{}, field.Errorf(path("id"), "is empty")
		case seen[r.ID]:
			return RotateOut{}, field.Errorf(path("id"), "%q stands there twice", r.ID)
		case !(r.MinutesPlayed >= 0):
			return RotateOut{}, field.Errorf(path("minutes_played"), "%v is no playing time; use 0 or more", r.MinutesPlayed)
		case r.LastPlayed != nil && *r.LastPlayed > in.Today:
			return RotateOut{}, field.Errorf(path("last_played"), "%s is after today, %s", r.LastPlayed, in.Today)
		}
		seen[r.ID] = true
		switch r.State {
		case Ready:
			ready = append(ready, r)
			kept++
		case BreakingIn:
			kept++
		case Worn:
			out.Discard = append(out.Discard, r.ID)
		default:
			return RotateOut{}, field.Errorf(path("state"), "%q is no state; use breaking-in, ready or worn", r.State)
		}
	}
	slices.SortStableFunc(ready, func(a, b Reed) int {
		return cmp.Or(cmp.Compare(playedOn(a), playedOn(b)), cmp.Compare(a.MinutesPlayed, b.MinutesPlayed))
	})
	for _, r := range ready {
		out.Order = append(out.Order, r.ID)
	}
	if len(ready) > 0 {
		out.Play = &out.Order[0]
	}
	out.OpenNew = max(0, in.Keep-kept)
	return out, nil
}

// playedOn sorts reeds that were never played before all that were.
func playedOn(r Reed) int64 {
	if r.LastPlayed == nil {
		return -1 << 40
	}
	return int64(*r.LastPlayed)
}
