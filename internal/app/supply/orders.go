package supply

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/kits"
	"solfeggio/internal/formats"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/schoolrows"
	"solfeggio/internal/store/supplyrows"
)

// PlacedOrder is an order with the names of what was ordered.
type PlacedOrder struct {
	supplyrows.Order
	Lines []PlacedLine `json:"lines"`
	Cents int64        `json:"cents" doc:"Of the lines that have a price"`
	// Events are what undoes an order that was just placed.
	Events []uuid.UUID `json:"events,omitempty"`
}

// PlacedLine is a line of an order with its name.
type PlacedLine struct {
	supplyrows.OrderLine
	Name    string `json:"name"`
	Unit    string `json:"unit"`
	Expires bool   `json:"expires" doc:"It carries a date"`
}

// Orders lists the orders, the latest first.
func (r *Room) Orders(ctx context.Context, by journal.Person) ([]PlacedOrder, error) {
	var list []PlacedOrder
	err := r.schools.Read(ctx, by, func(tx *store.Tx) error {
		orders, err := supplyrows.Orders(ctx, tx)
		list = make([]PlacedOrder, len(orders))
		for n, o := range orders {
			list[n] = r.placed(o)
		}
		return err
	})
	return list, err
}

func (r *Room) placed(o supplyrows.Order) PlacedOrder {
	out := PlacedOrder{Order: o, Lines: []PlacedLine{}}
	for _, l := range o.Lines {
		line := PlacedLine{OrderLine: l, Name: l.Supply}
		if s, ok := r.schools.Catalog.Supply(l.Supply); ok {
			line.Name, line.Unit, line.Expires = s.Called(l.Size), s.Unit, s.Expires
		}
		if l.PackPriceCents != nil {
			out.Cents += *l.PackPriceCents * int64(l.Packs)
		}
		out.Lines = append(out.Lines, line)
	}
	return out
}

// Ordering is an order to place.
type Ordering struct {
	ID       uuid.UUID      `json:"id" doc:"Made by the client"`
	Supplier string         `json:"supplier" maxLength:"120"`
	Lines    []OrderingLine `json:"lines" minItems:"1" maxItems:"300"`
}

// OrderingLine is how many packs of something.
type OrderingLine struct {
	supplyrows.Stocked
	Packs int `json:"packs" minimum:"1" maximum:"100000"`
}

// OrderDetail is what the log keeps of an order or of goods that came in.
type OrderDetail struct {
	Order    uuid.UUID `json:"order"`
	Supplier string    `json:"supplier"`
	Lines    []string  `json:"lines"`
}

// PlaceOrder keeps an order as it was placed, at the packs and prices of today. It tells nobody: the file of the order does.
func (r *Room) PlaceOrder(ctx context.Context, by journal.Person, in Ordering) (PlacedOrder, error) {
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (PlacedOrder, error) {
		today, err := r.schools.TodayIn(ctx, tx)
		if err != nil {
			return PlacedOrder{}, err
		}
		settings, err := supplyrows.SupplySettings(ctx, tx)
		if err != nil {
			return PlacedOrder{}, err
		}
		order := supplyrows.Order{ID: in.ID, Supplier: strings.TrimSpace(in.Supplier), PlacedOn: today, PlacedBy: &by.ID}
		detail := OrderDetail{Order: in.ID, Supplier: order.Supplier}
		for n, l := range in.Lines {
			name, err := r.StockedName(l.Stocked)
			if err != nil {
				return PlacedOrder{}, journal.Refuse(fmt.Sprintf("lines[%d].supply", n), "is no supply in that size", l.Supply)
			}
			if slices.ContainsFunc(order.Lines, func(o supplyrows.OrderLine) bool { return o.Stocked == l.Stocked }) {
				return PlacedOrder{}, journal.Refuse(fmt.Sprintf("lines[%d].supply", n), name+" stands there twice", l.Supply)
			}
			supply, _ := r.schools.Catalog.Supply(l.Supply)
			line, lead := supplyrows.OrderLine{Stocked: l.Stocked, Packs: l.Packs, PackSize: supply.Pack}, float64(kits.UsualLeadWeeks)
			if own, ok := settingOf(settings, l.Stocked); ok {
				line.PackSize, line.PackPriceCents, lead = own.PackSize, own.PackPriceCents, own.LeadWeeks
			}
			if expected := today + day.Day(day.Ceil(7*lead)); order.ExpectedOn == nil || expected > *order.ExpectedOn {
				order.ExpectedOn = &expected
			}
			order.Lines = append(order.Lines, line)
			detail.Lines = append(detail.Lines, fmt.Sprintf("%d × %s", l.Packs, name))
		}
		if err := supplyrows.InsertOrder(ctx, tx, order); err != nil {
			return PlacedOrder{}, err
		}
		event, err := r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.SuppliesOrdered}, detail)
		out := r.placed(order)
		out.Events = []uuid.UUID{event}
		return out, err
	})
}

// undoOrder closes an order that was placed by mistake, as long as nothing of it has come.
func undoOrder(ctx context.Context, tx *store.Tx, u school.Undoing, d OrderDetail) ([]string, error) {
	o, err := supplyrows.OrderByID(ctx, tx, d.Order)
	if err != nil {
		return nil, err
	}
	if o.ClosedOn != nil || slices.ContainsFunc(o.Lines, func(l supplyrows.OrderLine) bool { return l.ReceivedPacks > 0 }) {
		return nil, &journal.Fault{
			Kind: journal.Conflict, Message: "Something of this order has come, or it was closed. Close it if nothing more is to come.",
		}
	}
	return nil, supplyrows.CloseOrder(ctx, tx, o.ID, u.School.Today)
}

// Receiving is goods of an order that came in.
type Receiving struct {
	Lines []ReceivingLine `json:"lines" maxItems:"300"`
	Close bool            `json:"close" doc:"Nothing more is expected of this order"`
}

// ReceivingLine is how many packs came in, with lot and date.
type ReceivingLine struct {
	supplyrows.Stocked
	Packs     int      `json:"packs" minimum:"1" maximum:"100000"`
	Lot       string   `json:"lot,omitempty" maxLength:"80"`
	ExpiresOn *day.Day `json:"expires_on,omitempty"`
}

// Receive puts goods of an order into stock. When all has come the order is closed by itself.
func (r *Room) Receive(ctx context.Context, by journal.Person, id uuid.UUID, in Receiving) (PlacedOrder, error) {
	return school.Write(ctx, r.schools, by, journal.MayFinishCare, func(tx *store.Tx, s *school.Snapshot) (PlacedOrder, error) {
		today, err := r.schools.TodayIn(ctx, tx)
		if err != nil {
			return PlacedOrder{}, err
		}
		order, err := supplyrows.OrderByID(ctx, tx, id)
		if err != nil {
			return PlacedOrder{}, err
		}
		if order.ClosedOn != nil {
			return PlacedOrder{}, &journal.Fault{Kind: journal.Conflict, Message: "This order is closed already. Count the stock instead."}
		}
		detail := OrderDetail{Order: id, Supplier: order.Supplier}
		for n, l := range in.Lines {
			at := slices.IndexFunc(order.Lines, func(o supplyrows.OrderLine) bool { return o.Stocked == l.Stocked })
			if at < 0 {
				return PlacedOrder{}, journal.Refuse(fmt.Sprintf("lines[%d].supply", n), "was not ordered here", l.Supply)
			}
			name, _ := r.StockedName(l.Stocked) // it was ordered, so it is one
			if l.ExpiresOn != nil && *l.ExpiresOn < today {
				return PlacedOrder{}, journal.Refuse(
					fmt.Sprintf("lines[%d].expires_on", n),
					name+" is out of date; send it back",
					*l.ExpiresOn,
				)
			}
			if supply, _ := r.schools.Catalog.Supply(l.Supply); supply.Expires && l.ExpiresOn == nil {
				return PlacedOrder{}, journal.Refuse(fmt.Sprintf("lines[%d].expires_on", n), "say the date on the pack of "+name, nil)
			}
			if line := order.Lines[at]; l.Packs > 2*line.Packs-line.ReceivedPacks {
				return PlacedOrder{}, journal.Refuse(
					fmt.Sprintf("lines[%d].packs", n),
					fmt.Sprintf("%d packs of %s were ordered and %d came so far; more than twice as many are more likely a slip. What really came beyond that is counted in under Stock.",
						line.Packs, name, line.ReceivedPacks),
					l.Packs,
				)
			}
			if err := supplyrows.ReceivePacks(ctx, tx, id, l.Stocked, l.Packs); err != nil {
				return PlacedOrder{}, err
			}
			quantity := float64(l.Packs) * order.Lines[at].PackSize
			if err := supplyrows.InsertLot(ctx, tx, supplyrows.Lot{ID: uuid.Must(uuid.NewV7()), Stocked: l.Stocked, Lot: strings.TrimSpace(l.Lot),
				ExpiresOn: l.ExpiresOn, ReceivedOn: today, Quantity: quantity, Remaining: quantity}); err != nil {
				return PlacedOrder{}, err
			}
			order.Lines[at].ReceivedPacks += l.Packs
			detail.Lines = append(detail.Lines, fmt.Sprintf("%d × %s", l.Packs, name))
		}
		whole := !slices.ContainsFunc(order.Lines, func(l supplyrows.OrderLine) bool { return l.ReceivedPacks < l.Packs })
		if in.Close || whole {
			if err := supplyrows.CloseOrder(ctx, tx, id, today); err != nil {
				return PlacedOrder{}, err
			}
			order.ClosedOn = &today
		}
		_, err = r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.SuppliesReceived}, detail)
		return r.placed(order), err
	})
}

// OrderFile writes an order for its supplier.
func (r *Room) OrderFile(ctx context.Context, by journal.Person, id uuid.UUID, write formats.Writer) error {
	var order PlacedOrder
	var school schoolrows.School
	err := r.schools.Read(ctx, by, func(tx *store.Tx) error {
		o, err := supplyrows.OrderByID(ctx, tx, id)
		if err != nil {
			return err
		}
		order = r.placed(o)
		school, err = schoolrows.GetSchool(ctx, tx)
		return err
	})
	if err != nil {
		return err
	}
	columns := []string{"supplier", "supply", "packs", "pack_size", "unit", "pack_price", "price", "currency"}
	rows := make([][]string, len(order.Lines))
	for n, l := range order.Lines {
		price, sum := "", ""
		if l.PackPriceCents != nil {
			price, sum = school.Currency.Plain(*l.PackPriceCents), school.Currency.Plain(*l.PackPriceCents*int64(l.Packs))
		}
		rows[n] = []string{
			order.Supplier,
			l.Name,
			strconv.Itoa(l.Packs),
			strconv.FormatFloat(l.PackSize, 'f', -1, 64),
			l.Unit,
			price,
			sum,
			string(school.Currency),
		}
	}
	return write(columns, rows)
}
