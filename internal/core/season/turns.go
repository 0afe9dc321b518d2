package season

import "solfeggio/internal/core/day"

// Over is how many of the weeks that were accepted for one kind of work are over, since it was done last on a day: the first when that was
// after the plan was accepted, and each of the others when the day is nearer to its week than to the one before. Mondays come in order.
func Over(mondays []day.Day, accepted, done day.Day) (n int) {
	if len(mondays) == 0 || done <= accepted {
		return 0
	}
	n = 1
	for n < len(mondays) && done >= mondays[n-1]+(mondays[n]-mondays[n-1])/2 {
		n++
	}
	return n
}
