package supply

import (
	"context"
	"math"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/supplyrows"
)

// Usable adds up the stock that is not out of date. Reeds of any strength are reeds of all strengths.
func Usable(ctx context.Context, tx *store.Tx, today day.Day) (map[supplyrows.Stocked]float64, error) {
	lots, err := supplyrows.Lots(ctx, tx, nil)
	stock := map[supplyrows.Stocked]float64{}
	for _, l := range lots {
		if OutOfDate(l, today) {
			continue
		}
		stock[l.Stocked] += l.Remaining
		if l.Size != "" {
			stock[supplyrows.Stocked{Supply: l.Supply}] += l.Remaining
		}
	}
	return stock, err
}

// GoingWith lists the lots of what goes with an instrument; of a reed whose strength is not known, of any.
func GoingWith(ctx context.Context, tx *store.Tx, of supplyrows.Stocked) ([]supplyrows.Lot, error) {
	if of.Size != "" {
		return supplyrows.Lots(ctx, tx, &of)
	}
	all, err := supplyrows.Lots(ctx, tx, nil)
	return slices.DeleteFunc(all, func(l supplyrows.Lot) bool { return l.Supply != of.Supply }), err
}

// OutOfDate reports whether a lot must not be used any more; on its last day it may.
func OutOfDate(l supplyrows.Lot, today day.Day) bool {
	return l.ExpiresOn != nil && *l.ExpiresOn < today
}

// TakeFromStock takes a quantity from lots, what is soonest out of date first as they are listed, and says from which, and how much
// was not there.
func TakeFromStock(
	ctx context.Context,
	tx *store.Tx,
	lots []supplyrows.Lot,
	quantity float64,
	today day.Day,
) (took map[uuid.UUID]float64, short float64, err error) {
	if quantity <= 0 {
		return nil, 0, nil
	}
	took = map[uuid.UUID]float64{}
	for _, l := range lots {
		if OutOfDate(l, today) || quantity <= 0 {
			continue
		}
		part := math.Min(quantity, l.Remaining)
		if err := supplyrows.SetLot(ctx, tx, l.ID, l.Remaining-part); err != nil {
			return nil, 0, err
		}
		took[l.ID] = part
		quantity -= part
	}
	return took, quantity, nil
}

// Count is how much of a supply was found on the shelf.
type Count struct {
	supplyrows.Stocked
	Quantity  float64  `json:"quantity" minimum:"0" maximum:"1000000" doc:"Units that are there and not out of date"`
	Lot       string   `json:"lot,omitempty" maxLength:"80" doc:"Number on the pack, when more is there than the books say"`
	ExpiresOn *day.Day `json:"expires_on,omitempty" doc:"And its date"`
}

// StockDetail is what the log keeps of a count.
type StockDetail struct {
	supplyrows.Stocked
	Name   string  `json:"name"`
	Before float64 `json:"before"`
	After  float64 `json:"after"`
}

// CountStock brings the books to what was counted: less is taken from what is soonest out of date, more comes in as a lot of
// its own. Goods that are out of date are written off with it.
func (r *Room) CountStock(ctx context.Context, by journal.Person, in Count) (journal.Changed, error) {
	if _, err := r.StockedName(in.Stocked); err != nil {
		return journal.Changed{}, err
	}
	return school.Write(ctx, r.schools, by, journal.MayFinishCare, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		today, err := r.schools.TodayIn(ctx, tx)
		if err != nil {
			return journal.Changed{}, err
		}
		if in.ExpiresOn != nil && *in.ExpiresOn < today {
			return journal.Changed{}, journal.Refuse("expires_on", "is past; what is out of date is not counted", *in.ExpiresOn)
		}
		event, err := r.count(ctx, tx, by, in, today)
		return journal.Changed{Events: []uuid.UUID{event}}, err
	})
}

func (r *Room) count(ctx context.Context, tx *store.Tx, by journal.Person, in Count, today day.Day) (uuid.UUID, error) {
	name, err := r.StockedName(in.Stocked)
	if err != nil {
		return uuid.Nil, err
	}
	lots, err := supplyrows.Lots(ctx, tx, &in.Stocked)
	if err != nil {
		return uuid.Nil, err
	}
	before := 0.
	for _, l := range lots {
		if !OutOfDate(l, today) {
			before += l.Remaining
		} else if err := supplyrows.SetLot(ctx, tx, l.ID, 0); err != nil {
			return uuid.Nil, err
		}
	}
	if in.Quantity < before {
		if _, _, err := TakeFromStock(ctx, tx, lots, before-in.Quantity, today); err != nil {
			return uuid.Nil, err
		}
	} else if more := in.Quantity - before; more > 0 {
		lot := supplyrows.Lot{
			ID: uuid.Must(uuid.NewV7()), Stocked: in.Stocked, Lot: in.Lot, ExpiresOn: in.ExpiresOn, ReceivedOn: today,
			Quantity: more, Remaining: more,
		}
		if err := supplyrows.InsertLot(ctx, tx, lot); err != nil {
			return uuid.Nil, err
		}
	}
	return r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.StockChanged}, StockDetail{in.Stocked, name, before, in.Quantity})
}

// StockedName names a supply with its size, and refuses what there is not.
func (r *Room) StockedName(of supplyrows.Stocked) (string, error) {
	s, ok := r.schools.Catalog.Supply(of.Supply)
	switch {
	case !ok:
		return "", journal.Refuse("supply", "is no supply", of.Supply)
	case s.BySize && of.Size == "", !s.BySize && of.Size != "" && !slices.Contains(s.Strengths, of.Size):
		return "", journal.Refuse("size", "say which size, and only where sizes differ", of.Size)
	}
	return s.Called(of.Size), nil
}
