package school

import (
	"solfeggio/internal/core/day"
	"solfeggio/internal/store/playerrows"
	"solfeggio/internal/store/shoprows"
)

// PromisedTo is the player to whom an instrument is promised by name; nil for nobody, and for one who has left.
func (s *Snapshot) PromisedTo(i *Instrument) *playerrows.Player {
	if i.Promise == nil || i.Promise.Until < s.Today {
		return nil
	}
	if p := s.Players[i.Promise.Player]; p != nil && p.LeftOn == nil {
		return p
	}
	return nil
}

// orders are who comes first to a free instrument, after what was promised by name, as a school may choose.
var orders = map[string]struct {
	classes []string
	words   string
}{
	"playing": {[]string{"promised", "cannot-play", "parted", "outgrown", "without"},
		"whoever’s own must not be played, by the next rehearsal; then whose own goes to a shop; then whose own is too small; then players without one"},
	"without": {[]string{"promised", "without", "cannot-play", "parted", "outgrown"},
		"players without one; then whoever’s own must not be played, by the next rehearsal; then whose own goes to a shop; then whose own is too small"},
}

// Rank is the place of a class of needs among those who come first at the school.
func (s *Snapshot) Rank(class string) int {
	for n, c := range orders[s.School.ServedFirst].classes {
		if c == class {
			return n
		}
	}
	return len(orders)
}

// Order says who comes first.
func (s *Snapshot) Order() string { return orders[s.School.ServedFirst].words }

// Leaves is the day on which a job takes its instrument to a shop; zero where that is not known.
func (s *Snapshot) Leaves(j *shoprows.Job) day.Day {
	if j.FetchedOn != nil {
		return *j.FetchedOn
	}
	for _, t := range s.Trips {
		if j.Trip != nil && t.ID == *j.Trip {
			return t.On
		}
	}
	return 0
}
