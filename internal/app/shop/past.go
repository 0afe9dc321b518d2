package shop

import (
	"context"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/shop"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/shoprows"
)

// Past is a repair from before the program was used, from a notebook or a bill: what a shop takes and costs is learned from it too.
type Past struct {
	ID           uuid.UUID `json:"id" doc:"Made by the client"`
	InstrumentID uuid.UUID `json:"instrument_id"`
	ShopID       uuid.UUID `json:"shop_id"`
	Works        []string  `json:"works" minItems:"1" maxItems:"20" doc:"Keys of repairs"`
	SentOn       day.Day   `json:"sent_on"`
	BackOn       day.Day   `json:"back_on"`
	TotalCents   int64     `json:"total_cents" minimum:"0" maximum:"100000000"`
}

// Remember notes a repair from before. It changes nothing but what is known: no clock, no finding, nobody's hands.
func (r *Room) Remember(ctx context.Context, by journal.Person, in Past) (journal.Changed, error) {
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		i := s.ByID[in.InstrumentID]
		switch {
		case i == nil:
			return journal.Changed{}, journal.Refuse("instrument_id", "no such instrument", in.InstrumentID)
		case shopOf(s, &in.ShopID) == nil:
			return journal.Changed{}, journal.Refuse("shop_id", "no such shop", in.ShopID)
		case in.BackOn > s.Today:
			return journal.Changed{}, journal.Refuse("back_on", "lies in the future", in.BackOn)
		case in.SentOn > in.BackOn:
			return journal.Changed{}, journal.Refuse("sent_on", "lies after it was back", in.SentOn)
		}
		j := shoprows.Job{
			ID: in.ID, Instrument: i.ID, Shop: &in.ShopID, State: shop.Closed, Origin: shoprows.ByHand, WantedOn: in.SentOn,
			Lines: []shoprows.JobLine{},
		}
		for n, key := range in.Works {
			repair, ok := r.schools.Catalog.Repair(key)
			if !ok || !slices.Contains(r.schools.Catalog.RepairsOf(i.Kind), repair) {
				return journal.Changed{}, journal.Refuse(fmt.Sprintf("works[%d]", n), "is not done to a "+catalog.InText(i.Kind.Name), key)
			}
			j.Lines = append(j.Lines, shoprows.JobLine{Work: key, Words: repair.Name, Outcome: shoprows.Mended})
		}
		if len(j.Lines) == 1 {
			j.Lines[0].RealCents = &in.TotalCents
		}
		if err := shoprows.InsertJob(ctx, tx, j); err != nil {
			return journal.Changed{}, err
		}
		j.Version, j.SentOn, j.ExpectedOn, j.BackOn, j.ClosedOn, j.RealCents = 1, &in.SentOn, &in.BackOn, &in.BackOn, &in.BackOn, &in.TotalCents
		if err := shoprows.UpdateJob(ctx, tx, j); err != nil {
			return journal.Changed{}, err
		}
		event, err := r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.JobMade, Instrument: &i.ID},
			JobDetail{Job: j.ID, Shop: shopName(s, &in.ShopID), Cents: &in.TotalCents, Past: true})
		return journal.Changed{Version: 2, Events: []uuid.UUID{event}}, err
	})
}
