package season

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"solfeggio/internal/core/season"
)

func TestNotes(t *testing.T) {
	piece := func(tag, title string, staff, week int, change func(*Piece)) Piece {
		p := Piece{Tag: tag, Title: title, Staff: staff, Week: &week, Place: season.Bench, Due: 4, Last: 9, WeeksOut: 1}
		change(&p)
		return p
	}
	same := func(*Piece) {}
	notes := notesOf([]Piece{
		piece("VN-01", "Peg compound", 0, 4, func(p *Piece) { p.Opens = 1 }),
		piece("VN-02", "Peg compound", 0, 4, func(p *Piece) { p.Last, p.Pinned = 7, true }),
		piece("VN-03", "Peg compound", 0, 4, same),
		piece("VN-04", "Peg compound", 0, 5, same),
		piece("VA-01", "Peg compound", 1, 4, same),
		piece("VN-05", "Hair", 0, 4, func(p *Piece) { p.Place, p.WeeksOut, p.Due = season.Van, 3, 2 }),
		piece("VN-06", "Hair", 0, 4, func(p *Piece) { p.Week = nil }),
	})
	assert.Equal(t, []Note{
		{Key: "0|4|van|Hair", Week: 4, Back: 6, Title: "Hair", Place: season.Van, When: Late, Last: 9, Pieces: []int{5}},
		{
			Key: "0|4|bench|Peg compound", Week: 4, Back: 4, Title: "Peg compound", Place: season.Bench, When: OnDue, Pinned: true,
			First: 1, Last: 7,
			Pieces: []int{0, 1, 2},
		},
		{Key: "0|5|bench|Peg compound", Week: 5, Back: 5, Title: "Peg compound", Place: season.Bench, When: Late, Last: 9, Pieces: []int{3}},
		{
			Key: "1|4|bench|Peg compound", Staff: 1, Week: 4, Back: 4, Title: "Peg compound", Place: season.Bench, When: OnDue,
			Last: 9, Pieces: []int{4},
		},
	}, notes)

	due := func(week int, days ...int) (list []Piece) {
		for _, d := range days {
			list = append(list, piece("x", "y", 0, week, func(p *Piece) { p.Due = d }))
		}
		return list
	}
	assert.Equal(t, OnDue, notesOf(due(4, 6, 4))[0].When, "as late as the latest of them")
	assert.Equal(t, Late, notesOf(due(4, 6, 1))[0].When)
	assert.Equal(t, Early, notesOf(due(4, 6, 5))[0].When)
	assert.Equal(t, OnDue, notesOf(due(0, -3))[0].When, "what was due before the season is not late in its first week")
}
