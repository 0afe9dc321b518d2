package care

import (
	"fmt"

	"solfeggio/internal/core/day"
)

// The occasions that make care due beside its limits.
const (
	ByReturn  Binding = "returned"
	ByConcert Binding = "before_concert"
	BySeason  Binding = "season"
	ByRest    Binding = "unplayed"
)

// waitingDays is how long an occasion may wait until its care counts as twice due; with the usual thresholds it is late
// after a week. The product's own choice.
const waitingDays = 28

// An Occasion makes care due on a day whatever its limits say: an instrument came back, a concert is near, the heating
// season began, nobody has played it for a while. What it was is said in Reason.
type Occasion struct {
	By     Binding
	On     day.Day
	Reason string // as in "its return on 3 June 2026"
}

// With lets an occasion count in a reading. Care that was done on the day of the occasion or later has met it. One that
// has come makes the clock due, and late as it waits; one that is coming sets the day if that is sooner.
func (r Reading) With(o Occasion, started, today day.Day, t Thresholds) Reading {
	if o.On <= started {
		return r
	}
	if r.DueOn.IsZero() || o.On < r.DueOn {
		r.DueOn, r.Binding, r.occasion = o.On, o.By, o.Reason
	}
	if wait := today - o.On; wait >= 0 {
		r.Wear = max(r.Wear, 1+float64(wait)/waitingDays)
		r.State = t.state(r.Wear)
	}
	return r
}

// occasionSentence says why an occasion makes care due.
func (r Reading) occasionSentence() string {
	if r.State == Due || r.State == Late {
		return fmt.Sprintf("It has been due since %s because of %s, and it is %s.", r.DueOn.Words(), r.occasion, r.State)
	}
	return fmt.Sprintf("It will be due on %s because of %s.", r.DueOn.Words(), r.occasion)
}
