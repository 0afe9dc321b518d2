package care

import (
	"fmt"
	"math"

	"solfeggio/internal/core/why"
)

// Consequence is what happens when a task is left undone. The catalogue gives each routine its own.
type Consequence int

// The consequences, from least to most.
const (
	Convenience Consequence = 1 + iota // looks, comfort, what is soon replaced
	Sound                              // sound and tuning
	Playing                            // somebody cannot play
	Harm                               // the instrument is harmed
	Health                             // somebody is hurt or ill
)

var consequences = map[Consequence]string{
	Convenience: "convenience", Sound: "sound and tuning", Playing: "somebody cannot play", Harm: "the instrument is harmed",
	Health: "somebody is hurt or ill",
}

// Weights say how much each consequence counts, from Convenience to Health. A school may shift them.
type Weights [5]float64

// UsualWeights rise so steeply that a handful of small things does not outweigh one that matters (the product's own choice).
var UsualWeights = Weights{1, 3, 6, 12, 20}

// Of is the weight of a consequence.
func (w Weights) Of(c Consequence) float64 { return w[c-1] }

// Stakes are what depends on a task.
type Stakes struct {
	Consequence Consequence
	Played      bool // by somebody; an instrument that lies in the rack can wait
	Players     int  // who share it; 0 counts as 1
	RehearsalIn *int // days; nil when there is none in sight
	ConcertIn   *int
}

// How near the next occasion is, and how much more that makes a task worth (the product's own choice).
const (
	concertNear, concertFactor     = 7, 1.5
	rehearsalNear, rehearsalFactor = 1, 1.25
	idleFactor                     = 0.6
)

// nearness is what the next occasion makes of a task, and the words for it.
func (s Stakes) nearness() (factor float64, because string) {
	switch {
	case !s.Played:
		return idleFactor, "nobody plays it"
	case s.ConcertIn != nil && *s.ConcertIn <= concertNear:
		return concertFactor, fmt.Sprintf("a concert within %d days", concertNear)
	case s.RehearsalIn != nil && *s.RehearsalIn <= rehearsalNear:
		return rehearsalFactor, "a rehearsal today or tomorrow"
	}
	return 1, "no concert or rehearsal close by"
}

// reach is how many it touches, as the root of the number of players.
func (s Stakes) reach() float64 { return math.Sqrt(float64(max(1, s.Players))) }

// mostUrgent stops a clock that was forgotten for years from crowding out everything else.
const mostUrgent = 3.0

// earlyUrgency is what a clock has reached just before it is due; being due makes it worth double.
const earlyUrgency = 0.5

// urgency is the wear of a clock that is due, at most 3. Before that it grows from nothing where the clock opens to a
// half where it is due, because what is not due yet can wait.
func urgency(wear float64, t Thresholds) float64 {
	if t.state(wear) == Due || t.state(wear) == Late {
		return math.Min(wear, mostUrgent)
	}
	if t.OpensAt >= 1 {
		return 0
	}
	return earlyUrgency * math.Max(0, (wear-t.OpensAt)/(1-t.OpensAt))
}

// Value is urgency × weight of the consequence × nearness × reach, the product's own sum for the time box.
func Value(wear float64, t Thresholds, w Weights, s Stakes) float64 {
	near, _ := s.nearness()
	return math.Round(urgency(wear, t)*w.Of(s.Consequence)*near*s.reach()*100) / 100
}

// ValueWhy explains a value.
func ValueWhy(wear float64, t Thresholds, w Weights, s Stakes) why.Why {
	near, because := s.nearness()
	out := why.Why{
		Rule: "care.timebox", Basis: why.Basis{Kind: why.OwnRule}, Change: "/settings/school",
		Statement: fmt.Sprintf(
			"Worth %.2f = urgency %.2f × weight %v × nearness %v",
			Value(wear, t, w, s),
			urgency(wear, t),
			w.Of(s.Consequence),
			near,
		),
		Inputs: []why.Input{
			{
				Name: "urgency",
				Value: fmt.Sprintf(
					"%.2f: the share of its limit once it is due, at most %.0f; before that at most %.1f",
					urgency(wear, t),
					mostUrgent,
					earlyUrgency,
				),
			},
			{Name: "if it is left undone", Value: fmt.Sprintf("%s, which weighs %v", consequences[s.Consequence], w.Of(s.Consequence))},
			{Name: "nearness", Value: fmt.Sprintf("%v: %s", near, because)},
		},
	}
	if s.Players > 1 {
		out.Statement += fmt.Sprintf(" × √%d", s.Players)
		out.Inputs = append(out.Inputs, why.Input{Name: "players who share it", Value: fmt.Sprint(s.Players)})
	}
	out.Statement += ". The box takes the set of tasks that is worth most."
	return out
}
