package kits

import (
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
)

// UsualLeadWeeks is how long an order takes when the school says nothing (from memory).
const UsualLeadWeeks = 2

// A Stay is how an instrument is out, as its return is expected. The zero Stay stands in the room and never came back.
type Stay struct {
	Played   bool     // somebody has it
	DueBack  *day.Day // as agreed; nil when nobody agreed on a day
	LastYear int      // how often it came back in the last year
}

// Turnovers is how often an instrument comes back in a span that begins today: when it is due back, and besides that as often as in
// the last year (our own reading). Where nobody agreed on a day, at least once a year. What is overdue comes back too.
func Turnovers(s Stay, span day.Span) float64 {
	years := float64(span.Days()) / 365
	switch {
	case !s.Played:
		return float64(s.LastYear) * years
	case s.DueBack == nil:
		return float64(max(s.LastYear, 1)) * years
	}
	besides := float64(max(0, s.LastYear-1)) * years
	if *s.DueBack <= span.To {
		return 1 + besides
	}
	return besides
}

// UsualStrength is the strength that most play of those who are known, of two alike the softer: what is ordered where nobody knows
// (our own reading). Empty when no player of it is known.
func UsualStrength(s *catalog.Supply, players map[string]int) string {
	usual := ""
	for _, strength := range s.Strengths {
		if players[strength] > players[usual] {
			usual = strength
		}
	}
	return usual
}
