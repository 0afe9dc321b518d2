package shop

import (
	"context"
	"slices"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/store"
)

// prices are what repairs have cost this school, by their keys.
type prices map[string][]int64

// enoughPaid is how often something was paid for before the school's own price is expected (the product's own choice).
const enoughPaid = 3

// prices reads what was paid.
func (r *Room) prices(ctx context.Context, tx *store.Tx) (prices, error) {
	jobs, err := tx.EndedJobs(ctx)
	return pricesOf(jobs), err
}

func pricesOf(jobs []store.Job) prices {
	p := prices{}
	for _, j := range jobs {
		for _, l := range j.Lines {
			if l.Work != "" && l.RealCents != nil && l.Outcome == store.Mended {
				p[l.Work] = append(p[l.Work], *l.RealCents)
			}
		}
	}
	return p
}

// line is a repair as a line of a job: its price is the middle one of what the school has paid, or a usual one.
func (p prices) line(of *catalog.Repair) store.JobLine {
	cents, minutes := of.Cents, of.Minutes
	if paid := slices.Sorted(slices.Values(p[of.Key])); len(paid) >= enoughPaid {
		cents = paid[len(paid)/2]
	}
	return store.JobLine{Work: of.Key, Words: of.Name, ExpectedCents: &cents, ExpectedMinutes: &minutes}
}

// expectedCents is what the lines of a job are expected to cost together.
func expectedCents(j store.Job) (sum int64) {
	for _, l := range j.Lines {
		if l.ExpectedCents != nil {
			sum += *l.ExpectedCents
		}
	}
	return sum
}
