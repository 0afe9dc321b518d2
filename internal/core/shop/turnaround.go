package shop

import (
	"fmt"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/field"
	"solfeggio/internal/core/lifespan"
)

// enoughJobs is how many finished jobs are wanted before a shop's own figure is used (the product's own choice).
const enoughJobs = 5

// Sent is a job at a shop.
type Sent struct {
	Sent day.Day  `json:"sent"`
	Back *day.Day `json:"back" doc:"null while it is away"`
}

// TurnaroundIn is the input of the calculator shop.turnaround.
type TurnaroundIn struct {
	Jobs  []Sent  `json:"jobs"`
	Today day.Day `json:"today" doc:"Not before any job was sent or came back"`
}

// TurnaroundOut is its result.
type TurnaroundOut struct {
	MedianDays *float64 `json:"median_days" doc:"null when fewer than half are back by any day"`
	P90Days    *float64 `json:"p90_days" doc:"Days after which nine of ten are back; null when that is not reached"`
	Finished   int      `json:"finished"`
	Open       int      `json:"open"`
	Enough     bool     `json:"enough" doc:"At least 5 finished"`
}

// Turnaround is the calculator shop.turnaround. A job that is still away has taken at least so long (right-censored), and quantiles
// are those of Kaplan and Meier. Errors name the field by its JSON path.
func Turnaround(in TurnaroundIn) (TurnaroundOut, error) {
	var out TurnaroundOut
	days, ended := make([]float64, len(in.Jobs)), make([]bool, len(in.Jobs))
	for n, j := range in.Jobs {
		until := in.Today
		if j.Back != nil {
			until, ended[n] = *j.Back, true
			out.Finished++
		} else {
			out.Open++
		}
		switch {
		case j.Sent > in.Today:
			return TurnaroundOut{}, field.Errorf(fmt.Sprintf("jobs[%d].sent", n), "%s is after today, %s", j.Sent, in.Today)
		case until > in.Today:
			return TurnaroundOut{}, field.Errorf(fmt.Sprintf("jobs[%d].back", n), "%s is after today, %s", until, in.Today)
		case until < j.Sent:
			return TurnaroundOut{}, field.Errorf(fmt.Sprintf("jobs[%d].back", n), "%s is before it was sent, %s", until, j.Sent)
		}
		days[n] = float64(until - j.Sent)
	}
	curve := lifespan.KaplanMeier(days, ended)
	out.MedianDays, out.P90Days = lifespan.FirstBelow(curve, 0.5), lifespan.FirstBelow(curve, 0.1)
	out.Enough = out.Finished >= enoughJobs
	return out, nil
}
