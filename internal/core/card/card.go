// Package card decides what stands on the care card of an instrument: what its player does before and after playing and once a week,
// what they never do, and what comes first when something is stuck.
//
// Every line is the short wording of a step that the school's choices and the instrument's materials leave in its routines, so a card
// follows the school, and no line brings a product to what it harms. How many lines a card of a size has room for is measured, not a
// rule of the trade.
package card

import (
	"slices"

	"solfeggio/internal/core/catalog"
)

// A Section of a card.
type Section struct {
	Key   string `json:"key" enum:"before,after,weekly,never"`
	Title string `json:"title"`
	Lines []Line `json:"lines"`
}

// A Line of a section.
type Line struct {
	Text   string   `json:"text"`
	Parts  []string `json:"parts" doc:"Of the drawing, that it is about"`
	Guards bool     `json:"guards" doc:"It guards against a mistake that players keep making"`
}

// A Card is what a player reads.
type Card struct {
	KindName string    `json:"kind_name"`
	Drawing  string    `json:"drawing"`
	Sections []Section `json:"sections"`
	Stuck    []First   `json:"stuck" doc:"What players of the kind say is wrong, and what they do at once"`
	Case     []string  `json:"case" doc:"What its case must hold"`
}

// First is what a player does at once when something is wrong.
type First struct {
	Symptom string `json:"symptom" doc:"Its key"`
	Says    string `json:"says" doc:"In the player's words"`
	Do      string `json:"do"`
}

// sectionOf is where the routines of a rhythm stand.
var sectionOf = map[string]int{"assembly": 0, "every time": 1, "casing": 1, "weekly": 2}

// Make writes the card of an instrument, in English and with all its lines.
func Make(c *catalog.Catalog, of catalog.Subject) Card {
	card := Card{KindName: of.Kind.Name, Drawing: of.Kind.Drawing, Stuck: Firsts(c, of.Kind), Sections: []Section{
		{"before", "Before", []Line{}}, {"after", "After", []Line{}}, {"weekly", "Weekly", []Line{}}, {"never", "Never", []Line{}},
	}}
	for _, r := range c.PlayerRoutines(of) {
		section := &card.Sections[sectionOf[r.Rhythm]]
		for _, s := range r.OnCard() {
			section.add(Line{s.Short, append([]string{}, s.Parts...), s.Prevents != ""})
		}
	}
	for _, m := range c.MistakesOf(of) {
		card.Sections[3].add(Line{m.Never, []string{}, true})
	}
	for _, item := range c.CaseOf(of) {
		if thing, ok := c.Supply(item.Supply); ok {
			card.Case = append(card.Case, thing.Name)
		}
	}
	return card
}

// Firsts lists what players of a kind say is wrong, with what they do at once.
func Firsts(c *catalog.Catalog, k *catalog.Kind) []First {
	list := []First{}
	for _, s := range c.SymptomsOf(k) {
		list = append(list, First{s.Key, s.Name, s.First})
	}
	return list
}

func (s *Section) add(l Line) {
	if !slices.ContainsFunc(s.Lines, func(other Line) bool { return other.Text == l.Text }) {
		s.Lines = append(s.Lines, l)
	}
}

// Of leaves at most so many lines in a section, in their order: those that guard against a mistake stay before others.
func (s Section) Of(most int) Section {
	for _, guards := range []bool{false, true} {
		for n := len(s.Lines) - 1; n >= 0 && len(s.Lines) > most; n-- {
			if s.Lines[n].Guards == guards {
				s.Lines = slices.Delete(slices.Clone(s.Lines), n, n+1)
			}
		}
	}
	return s
}
