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

// Value is urgency × consequence, the product's own sum for the time box. Urgency is the wear, at most 3.
func Value(wear float64, c Consequence) float64 {
	return math.Round(math.Min(wear, mostUrgent)*float64(c)*100) / 100
}

// ValueWhy explains a value.
func ValueWhy(wear float64, c Consequence) why.Why {
	return why.Why{
		Rule:      "care.timebox",
		Statement: fmt.Sprintf("Worth %s = urgency %.2f × consequence %d; the box takes the set of tasks that is worth most.", fmt.Sprintf("%.2f", Value(wear, c)), math.Min(wear, mostUrgent), c),
		Inputs: []why.Input{
			{Name: "urgency", Value: fmt.Sprintf("%.2f, its share of the limit, at most %.0f", math.Min(wear, mostUrgent), mostUrgent)},
			{Name: "consequence", Value: fmt.Sprintf("%d of 5: %s", c, consequences[c])},
		},
		Basis: why.Basis{Kind: why.OwnRule},
	}
}

var consequences = map[Consequence]string{1: "looks", 2: "comfort", 3: "sound and wear", 4: "damage", 5: "cannot be played"}
