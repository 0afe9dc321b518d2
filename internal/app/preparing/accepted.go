package preparing

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/upkeeprows"
)

// StringPlan is what of a plan is accepted.
type StringPlan struct {
	Changes []upkeeprows.PlannedChange `json:"changes" minItems:"1" maxItems:"2000"`
}

// Accept puts changes on the plan, so that they stand on Today on their day. What was planned for the same part is replaced.
func (r *Room) Accept(ctx context.Context, by journal.Person, in StringPlan) error {
	_, err := school.Write(ctx, r.schools, by, journal.MayFinishCare, func(tx *store.Tx, s *school.Snapshot) (struct{}, error) {
		for n, p := range in.Changes {
			at := fmt.Sprintf("changes[%d]", n)
			i := s.ByID[p.Instrument]
			if i == nil {
				return struct{}{}, journal.Refuse(at+".instrument_id", "no such instrument", p.Instrument)
			}
			if _, ok := r.schools.Catalog.Renewal(i.Kind, p.Part); !ok {
				return struct{}{}, journal.Refuse(at+".part", i.Tag+" has no such part that is renewed", p.Part)
			}
			if err := r.mayChangeOn(s, p.On); err != nil {
				return struct{}{}, journal.Refuse(at+".on", err.Error(), p.On)
			}
			if err := upkeeprows.PlanChange(ctx, tx, p); err != nil {
				return struct{}{}, err
			}
		}
		return struct{}{}, nil
	})
	return err
}

// Drop takes all that is planned for instruments off the plan.
func (r *Room) Drop(ctx context.Context, by journal.Person, instruments []uuid.UUID) error {
	_, err := school.Write(ctx, r.schools, by, journal.MayFinishCare, func(tx *store.Tx, _ *school.Snapshot) (struct{}, error) {
		for _, id := range instruments {
			if err := upkeeprows.DropPlanned(ctx, tx, id, ""); err != nil {
				return struct{}{}, err
			}
		}
		return struct{}{}, nil
	})
	return err
}

// Planned is a part that is to be renewed today, or should have been.
type Planned struct {
	InstrumentID uuid.UUID `json:"instrument_id"`
	Tag          string    `json:"tag"`
	KindName     string    `json:"kind_name"`
	Part         string    `json:"part"`
	PartName     string    `json:"part_name"`
	On           day.Day   `json:"on"`
	Minutes      float64   `json:"minutes"`
}

// PlannedUntil lists what is planned until a day, the earliest first.
func PlannedUntil(c *catalog.Catalog, s *school.Snapshot, until day.Day) []Planned {
	list := []Planned{}
	for _, i := range s.Instruments {
		for _, p := range i.Planned {
			routine, ok := c.Renewal(i.Kind, p.Part)
			if !ok || p.On > until {
				continue
			}
			part, _ := i.Kind.Part(p.Part)
			list = append(list, Planned{i.ID, i.Tag, i.Named(), p.Part, part.Name, p.On, routine.Minutes})
		}
	}
	slices.SortStableFunc(list, func(a, b Planned) int { return cmp.Compare(a.On, b.On) })
	return list
}
