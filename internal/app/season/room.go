// Package season lays the work of the year on its weeks: what is coming, when and where it is best done, at what cost and how near that is
// to the best there can be; and who will be ready for which concert.
package season

import (
	"solfeggio/internal/app/placing"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/shop"
	"solfeggio/internal/kept"
	"solfeggio/internal/store/seasonrows"
)

// Settings is what the API shows and takes of a row.
type Settings = seasonrows.SeasonSettings

// A Room does it for all schools.
type Room struct {
	schools *school.Schools
	shop    *shop.Room
	placing *placing.Room
	scores  *kept.Things[string, Score]     // by what was asked of which state of the school
	plans   *kept.Things[[32]byte, planned] // by what was to be planned: most of what is written leaves it as it is
	behind  behind
}

const (
	scoresBytes = 48 << 20 // what all scores may take
	plansBytes  = 48 << 20 // and all plans
	pieceBytes  = 1 << 10  // for a piece of work of either; both together were measured to take 900
)

// New makes the room beside those that it works with.
func New(all *school.Schools, s *shop.Room, p *placing.Room) *Room {
	return &Room{schools: all, shop: s, placing: p, scores: kept.For[string, Score](scoresBytes), plans: kept.For[[32]byte, planned](plansBytes)}
}
