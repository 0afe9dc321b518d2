package care

import (
	"fmt"
	"math"

	"solfeggio/internal/core/why"
)

// Consequence weighs what happens when a task is left undone, 1 to 5: 1 looks, 2 comfort, 3 sound and wear,
// 4 damage, 5 cannot be played. The catalogue gives each routine its own.
type Consequence int

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

// Value is urgency × consequence, the product's own sum for the time box.
func Value(wear float64, t Thresholds, c Consequence) float64 {
	return math.Round(urgency(wear, t)*float64(c)*100) / 100
}

// ValueWhy explains a value.
func ValueWhy(wear float64, t Thresholds, c Consequence) why.Why {
	return why.Why{
		Rule:      "care.timebox",
		Statement: fmt.Sprintf("Worth %.2f = urgency %.2f × consequence %d; the box takes the set of tasks that is worth most.", Value(wear, t, c), urgency(wear, t), c),
		Inputs: []why.Input{
			{Name: "urgency", Value: fmt.Sprintf("%.2f: the share of its limit once it is due, at most %.0f; before that at most %.1f", urgency(wear, t), mostUrgent, earlyUrgency)},
			{Name: "consequence", Value: fmt.Sprintf("%d of 5: %s", c, consequences[c])},
		},
		Basis: why.Basis{Kind: why.OwnRule},
	}
}

var consequences = map[Consequence]string{1: "looks", 2: "comfort", 3: "sound and wear", 4: "damage", 5: "cannot be played"}
