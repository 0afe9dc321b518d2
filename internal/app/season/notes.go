package season

import (
	"cmp"
	"fmt"
	"slices"

	"solfeggio/internal/core/season"
)

// When says how a note stands to the day on which its work is due.
type When string

// A note is as late as the latest of its pieces.
const (
	Early When = "early"
	OnDue When = "due"
	Late  When = "late"
)

// Note is the same work of one section in one week.
type Note struct {
	Key    string       `json:"key"`
	Staff  int          `json:"staff"`
	Week   int          `json:"week"`
	Back   int          `json:"back" doc:"The week in which the last of them is back"`
	Title  string       `json:"title"`
	Place  season.Place `json:"place" enum:"bench,van"`
	When   When         `json:"when" enum:"early,due,late"`
	Pinned bool         `json:"pinned" doc:"One of them at least"`
	First  int          `json:"first" doc:"The first week in which all of them may begin"`
	Last   int          `json:"last"`
	Pieces []int        `json:"pieces" doc:"Places in the list of pieces"`
}

// when says how a piece stands. What was due before the season is late from its second week on.
func (p Piece) when() When {
	switch {
	case *p.Week > max(p.Due, 0):
		return Late
	case *p.Week < p.Due:
		return Early
	}
	return OnDue
}

// notesOf gathers the pieces of a season into notes, staff by staff and week by week; what waits beyond the season is in none.
func notesOf(pieces []Piece) []Note {
	notes := []Note{}
	at := map[string]int{}
	later := []When{Early, OnDue, Late}
	for n, p := range pieces {
		if p.Week == nil {
			continue
		}
		key := fmt.Sprintf("%d|%d|%s|%s", p.Staff, *p.Week, p.Place, p.Title)
		k, known := at[key]
		if !known {
			k = len(notes)
			at[key] = k
			notes = append(notes, Note{
				Key: key, Staff: p.Staff, Week: *p.Week, Title: p.Title, Place: p.Place, When: p.when(), First: p.Opens, Last: p.Last,
			})
		}
		note := &notes[k]
		note.Pieces = append(note.Pieces, n)
		note.Pinned = note.Pinned || p.Pinned
		note.Back = max(note.Back, *p.Week+p.WeeksOut-1)
		note.First, note.Last = max(note.First, p.Opens), min(note.Last, p.Last)
		if slices.Index(later, p.when()) > slices.Index(later, note.When) {
			note.When = p.when()
		}
	}
	slices.SortStableFunc(notes, func(a, b Note) int {
		return cmp.Or(cmp.Compare(a.Staff, b.Staff), cmp.Compare(a.Week, b.Week), cmp.Compare(a.Title, b.Title))
	})
	return notes
}
