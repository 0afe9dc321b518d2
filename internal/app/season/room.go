// Package season lays the work of the year on its weeks: what is coming, when and where it is best done, at what cost and how near that is
// to the best there can be; and who will be ready for which concert.
package season

import (
	lru "github.com/hashicorp/golang-lru/v2"

	"solfeggio/internal/app/school"
	"solfeggio/internal/app/shop"
)

// A Room does it for all schools.
type Room struct {
	*school.Schools
	shop   *shop.Room
	scores *lru.Cache[string, Score]     // by what was asked of which state of the school
	plans  *lru.Cache[[32]byte, planned] // by what was to be planned: most of what is written leaves it as it is
}

// scoresKept and plansKept bound the memory: of 600 instruments either takes about 1 MB.
const (
	scoresKept = 32
	plansKept  = 32
)

// New makes the room beside those that it works with.
func New(all *school.Schools, s *shop.Room) *Room {
	scores, _ := lru.New[string, Score](scoresKept) // cannot fail with a size above 0
	plans, _ := lru.New[[32]byte, planned](plansKept)
	return &Room{all, s, scores, plans}
}
