package bench

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/formats"
	"solfeggio/internal/store"
	"solfeggio/internal/store/benchrows"
)

// Recorded is what was done to an instrument at the bench, for who asks later.
type Recorded struct {
	BenchItem
	Run uuid.UUID `json:"run"`
}

// mostRecords bounds a list of records; a file holds as many as there are.
const mostRecords = 200

// Records lists what was finished, of one instrument or of all when it is nil; the latest first.
func (r *Room) Records(ctx context.Context, by journal.Person, instrument *uuid.UUID) ([]Recorded, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	list := []Recorded{}
	err = r.schools.Read(ctx, by, func(tx *store.Tx) error {
		list, err = r.recorded(ctx, tx, s, instrument, time.Time{}, r.schools.Now().Add(time.Second), mostRecords)
		return err
	})
	return list, err
}

func (r *Room) recorded(
	ctx context.Context,
	tx *store.Tx,
	s *school.Snapshot,
	instrument *uuid.UUID,
	from, to time.Time,
	most int,
) ([]Recorded, error) {
	list := []Recorded{}
	items, err := benchrows.FinishedBenchItems(ctx, tx, instrument, from, to, most)
	if err != nil {
		return list, err
	}
	staff, err := staffNames(ctx, tx)
	if err != nil {
		return list, err
	}
	products, err := benchrows.Products(ctx, tx)
	names := productNames(products)
	for _, i := range items {
		list = append(list, Recorded{r.showItem(s, i, staff, names, r.schools.Now()), i.Run})
	}
	return list, err
}

// WriteRecords writes what was finished from one day to another, a line a step: for the safety officer. Without days it is
// the last year.
func (r *Room) WriteRecords(ctx context.Context, by journal.Person, first, last *day.Day, write formats.Writer) error {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return err
	}
	from, to := s.Today.AddYears(-1), s.Today
	if first != nil {
		from = *first
	}
	if last != nil {
		to = *last
	}
	if to < from {
		return journal.Refuse("to", "is before from", to)
	}
	var list []Recorded
	begin := func(d day.Day) time.Time {
		y, m, n := d.Time().Date()
		return time.Date(y, m, n, 0, 0, 0, 0, s.Zone)
	}
	if err := r.schools.Read(ctx, by, func(tx *store.Tx) error {
		list, err = r.recorded(ctx, tx, s, nil, begin(from), begin(to+1), 100_000)
		return err
	}); err != nil {
		return err
	}
	columns := []string{
		"finished_at", "tag", "kind", "reason", "routine", "step", "product", "lot", "contact_minutes_required", "minutes_kept",
		"begun_at", "done_at", "person", "override", "override_by", "free_at",
	}
	var rows [][]string
	clock := func(t *time.Time) string {
		if t == nil {
			return ""
		}
		return t.In(s.Zone).Format("2006-01-02 15:04:05")
	}
	for _, r := range list {
		for _, step := range r.Steps {
			required, kept := "", ""
			if step.Wait > 0 {
				kept = fmt.Sprintf("%.1f", step.KeptMinutes)
			}
			if step.Contact > 0 {
				required = fmt.Sprint(step.Contact)
			}
			rows = append(rows, []string{
				clock(r.FinishedAt), r.Tag, r.KindName, string(r.Reason), r.Title, step.Name, step.Product, step.Lot,
				required, kept, clock(step.BegunAt), clock(step.DoneAt), step.DoneBy, step.Override, step.OverrideBy, clock(r.FreeAt),
			})
		}
	}
	return write(columns, rows)
}
