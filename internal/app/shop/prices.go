package shop

import (
	"context"
	"slices"

	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/store"
	"solfeggio/internal/store/shoprows"
)

// prices are what repairs have cost this school, by their keys.
type prices map[string][]int64

// enoughPaid is how often something was paid for before the school's own price is expected (the product's own choice).
const enoughPaid = 3

// learnedYears is from how many years back it is learned what shops take and cost: older bills say little of the next one (our own).
const learnedYears = 5

// ended lists the jobs from which it is learned, the latest first.
func ended(ctx context.Context, tx *store.Tx, s *school.Snapshot) ([]shoprows.Job, error) {
	return shoprows.EndedJobs(ctx, tx, s.Today.AddYears(-learnedYears))
}

func pricesOf(jobs []shoprows.Job) prices {
	p := prices{}
	for _, j := range jobs {
		for _, l := range j.Lines {
			if l.Work != "" && l.RealCents != nil && l.Outcome == shoprows.Mended {
				p[l.Work] = append(p[l.Work], *l.RealCents)
			}
		}
	}
	return p
}

// line is a repair as a line of a job: its price is the middle one of what the school has paid, or a usual one.
func (p prices) line(of *catalog.Repair) shoprows.JobLine {
	cents, minutes := of.Cents, of.Minutes
	if paid := slices.Sorted(slices.Values(p[of.Key])); len(paid) >= enoughPaid {
		cents = paid[len(paid)/2]
	}
	return shoprows.JobLine{Work: of.Key, Words: of.Name, ExpectedCents: &cents, ExpectedMinutes: &minutes}
}

// expectedCents is what the lines of a job are expected to cost together.
func expectedCents(j shoprows.Job) (sum int64) {
	for _, l := range j.Lines {
		if l.ExpectedCents != nil {
			sum += *l.ExpectedCents
		}
	}
	return sum
}
