// Package today says what needs doing now: who cannot play, what fits into the minutes there are, rounds.
package today

import (
	"solfeggio/internal/app/cards"
	"solfeggio/internal/app/placing"
	"solfeggio/internal/app/preparing"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/season"
	"solfeggio/internal/app/shop"
)

// A Room does it for all schools.
type Room struct {
	schools   *school.Schools
	preparing *preparing.Room
	shop      *shop.Room
	season    *season.Room
	cards     *cards.Room
	placing   *placing.Room
}

// New makes the room.
func New(all *school.Schools, pr *preparing.Room, s *shop.Room, y *season.Room, c *cards.Room, p *placing.Room) *Room {
	return &Room{all, pr, s, y, c, p}
}
