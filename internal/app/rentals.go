package app

import (
	"context"
	"fmt"
	"math"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/store"
)

// RentedInstrument is an instrument of somebody else's.
type RentedInstrument struct {
	InstrumentID uuid.UUID    `json:"instrument_id"`
	Tag          string       `json:"tag"`
	KindName     string       `json:"kind_name"`
	Holder       string       `json:"holder"`
	Stopped      string       `json:"stopped,omitempty" doc:"What stops it: the owner is told, the school does not repair it"`
	Rental       store.Rental `json:"rental"`
	DaysLeft     *int         `json:"days_left,omitempty" doc:"Until it goes back; below 0 when that is past"`
}

// Rentals are the rented instruments and the prices for more.
type Rentals struct {
	Rented       []RentedInstrument  `json:"rented" doc:"In score order"`
	Prices       []store.RentalPrice `json:"prices"`
	MonthlyCents int64               `json:"monthly_cents" doc:"Of all contracts that run and have a price"`
}

// Rentals lists what is rented.
func (a *App) Rentals(ctx context.Context, by Person) (Rentals, error) {
	if err := by.need(MayChangeInstruments); err != nil {
		return Rentals{}, err
	}
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return Rentals{}, err
	}
	out := Rentals{Rented: []RentedInstrument{}, Prices: s.rentalPrices}
	for _, i := range s.instruments {
		if i.rental == nil {
			continue
		}
		r := RentedInstrument{InstrumentID: i.ID, Tag: i.Tag, KindName: i.named(), Holder: s.listed(i).Holder, Stopped: i.care.Stopped, Rental: *i.rental}
		if on := i.rental.ReturnBy; on != nil {
			left := int(*on - s.today)
			r.DaysLeft = &left
		}
		if i.rental.MonthlyCents != nil {
			out.MonthlyCents += *i.rental.MonthlyCents
		}
		out.Rented = append(out.Rented, r)
	}
	return out, nil
}

// RentalDetail is what the log keeps of a contract.
type RentalDetail struct {
	Owner    string `json:"owner"`
	Contract string `json:"contract,omitempty"`
	How      string `json:"how,omitempty"`
}

// SaveRental says that an instrument is rented, or changes the contract.
func (a *App) SaveRental(ctx context.Context, by Person, id uuid.UUID, in store.Rental) error {
	in.Instrument, in.Owner = id, strings.TrimSpace(in.Owner)
	switch {
	case in.Owner == "":
		return invalid("owner", "say whose it is", in.Owner)
	case in.ReturnBy != nil && *in.ReturnBy < in.StartsOn:
		return invalid("return_by", "lies before its first day", *in.ReturnBy)
	}
	_, err := write(ctx, a, by, MayChangeInstruments, func(tx *store.Tx, s *snapshot) (struct{}, error) {
		if _, err := s.instrument(id); err != nil {
			return struct{}{}, err
		}
		if err := tx.PutRental(ctx, in); err != nil {
			return struct{}{}, err
		}
		_, err := a.record(ctx, tx, by, store.Event{What: store.RentalChanged, Instrument: &id}, RentalDetail{Owner: in.Owner, Contract: in.Contract})
		return struct{}{}, err
	})
	return err
}

// SaveRentalPrices puts a list of prices in place of the present one.
func (a *App) SaveRentalPrices(ctx context.Context, by Person, list []store.RentalPrice) error {
	seen := map[[2]string]bool{}
	for n, p := range list {
		kind, ok := a.catalog.Kind(p.Kind)
		key := [2]string{p.Kind, p.Size}
		switch {
		case !ok:
			return invalid(fmt.Sprintf("prices[%d].kind", n), "is no kind of instrument", p.Kind)
		case seen[key]:
			return invalid(fmt.Sprintf("prices[%d].kind", n), strings.TrimSpace(kind.Name+" "+p.Size)+" has two prices", p.Kind)
		}
		seen[key] = true
	}
	_, err := write(ctx, a, by, MayChangeInstruments, func(tx *store.Tx, s *snapshot) (struct{}, error) {
		return struct{}{}, tx.SetRentalPrices(ctx, list)
	})
	return err
}

// Leaving says how an instrument left the school.
type Leaving struct {
	How string `json:"how" minLength:"1" maxLength:"300" doc:"Given back to its owner, sold, lost, …"`
}

// Leave takes an instrument out of the school's lists, ending its rental. Its file stays. It is refused while somebody has it.
func (a *App) Leave(ctx context.Context, by Person, id uuid.UUID, in Leaving) (Changed, error) {
	how := strings.TrimSpace(in.How)
	if how == "" {
		return Changed{}, invalid("how", "say where it went", in.How)
	}
	return write(ctx, a, by, MayChangeInstruments, func(tx *store.Tx, s *snapshot) (Changed, error) {
		i, err := s.instrument(id)
		if err != nil {
			return Changed{}, err
		}
		if i.habit != nil {
			return Changed{}, &Fault{Kind: Conflict, Message: i.Tag + " is in a player's hands. Take it back first."}
		}
		event, err := a.leave(ctx, tx, by, s, i, how)
		return Changed{Events: []uuid.UUID{event}}, err
	})
}

func (a *App) leave(ctx context.Context, tx *store.Tx, by Person, s *snapshot, i *instrument, how string) (uuid.UUID, error) {
	if i.bench != nil {
		return uuid.Nil, &Fault{Kind: Conflict, Message: i.Tag + " lies on the bench. Finish it there or take it off first."}
	}
	detail := RentalDetail{How: how}
	if i.rental != nil {
		detail.Owner, detail.Contract = i.rental.Owner, i.rental.Contract
		if err := tx.EndRental(ctx, i.ID, s.today); err != nil {
			return uuid.Nil, err
		}
	}
	if err := tx.LeaveSchool(ctx, i.ID, s.today, how); err != nil {
		return uuid.Nil, err
	}
	return a.record(ctx, tx, by, store.Event{What: store.LeftSchool, Instrument: &i.ID}, detail)
}

// Exchange is the instrument that an owner brings in place of another.
type Exchange struct {
	ID     uuid.UUID `json:"id" doc:"Of the new instrument, made by the client"`
	Tag    string    `json:"tag" maxLength:"16"`
	Maker  string    `json:"maker,omitempty" maxLength:"120"`
	Model  string    `json:"model,omitempty" maxLength:"120"`
	Serial string    `json:"serial,omitempty" maxLength:"120"`
}

// ExchangeRental takes another instrument of the same kind and size from the owner under the same contract, and gives the
// present one back. Whoever had the one has the other; what is played goes over.
func (a *App) ExchangeRental(ctx context.Context, by Person, id uuid.UUID, in Exchange) (Changed, error) {
	return write(ctx, a, by, MayChangeInstruments, func(tx *store.Tx, s *snapshot) (Changed, error) {
		out := Changed{Events: []uuid.UUID{}}
		i, err := s.instrument(id)
		if err != nil {
			return out, err
		}
		if i.rental == nil {
			return out, &Fault{Kind: Conflict, Message: i.Tag + " is the school's own; only rented instruments are exchanged."}
		}
		next := i.Instrument
		next.ID, next.Tag, next.Maker, next.Model, next.Serial = in.ID, strings.ToUpper(strings.TrimSpace(in.Tag)), in.Maker, in.Model, in.Serial
		next.CareFrom, next.AcquiredOn, next.PriceCents, next.Notes, next.KitChecked, next.Version = s.today, nil, nil, "", nil, 1
		if !tagShape.MatchString(next.Tag) {
			return out, invalid("tag", tagRule, in.Tag)
		}
		if err := tx.InsertInstrument(ctx, next); err != nil {
			return out, err
		}
		contract := *i.rental
		event, err := a.record(ctx, tx, by, store.Event{What: store.RentalChanged, Instrument: &next.ID}, RentalDetail{Owner: contract.Owner, Contract: contract.Contract, How: "in exchange for " + i.Tag})
		if err != nil {
			return out, err
		}
		out.Events = append(out.Events, event)
		if i.habit != nil {
			if _, err := a.takeBack(ctx, tx, by, s, i, Returning{}); err != nil {
				return out, err
			}
			if err := a.goOut(ctx, tx, by, s, next.ID, habitOf(i.habit), store.HandOver{ID: uuid.Must(uuid.NewV7())}); err != nil {
				return out, err
			}
		}
		if event, err = a.leave(ctx, tx, by, s, i, "given back to "+contract.Owner+" in exchange for "+next.Tag); err != nil {
			return out, err
		}
		out.Events = append(out.Events, event)
		contract.ID, contract.Instrument, contract.StartsOn, contract.Version = uuid.Must(uuid.NewV7()), next.ID, s.today, 0
		return out, tx.PutRental(ctx, contract)
	})
}

// monthDays is the length of a month on average.
const monthDays = 365.25 / 12

// rentalMonths is for how many months an instrument is rented from today: until the school year ends, begun ones whole; ten
// while no term is entered.
func (s *snapshot) rentalMonths() int {
	if end := s.yearEnd(); end != nil {
		return max(1, int(math.Ceil(float64(*end-s.today)/monthDays)))
	}
	return monthsAhead
}

// rentalPrice is what an instrument of a kind and size costs a month: by the school's list, else as one that is rented already;
// nil when nobody knows.
func (s *snapshot) rentalPrice(kind, size string) *int64 {
	var found *int64
	for n, p := range s.rentalPrices {
		if p.Kind == kind && (p.Size == size || p.Size == "" && found == nil) {
			found = &s.rentalPrices[n].MonthlyCents
		}
	}
	for _, i := range s.instruments {
		if found == nil && i.rental != nil && i.Instrument.Kind == kind && i.Size == size {
			found = i.rental.MonthlyCents
		}
	}
	return found
}

// needed is a line of an order with its money.
func (s *snapshot) needed(kind, kindName, size string, count int) Needed {
	n := Needed{KindName: kindName, Size: size, Count: count, Months: s.rentalMonths(), MonthlyCents: s.rentalPrice(kind, size)}
	if n.MonthlyCents != nil {
		cents := *n.MonthlyCents * int64(n.Months) * int64(count)
		n.Cents = &cents
	}
	return n
}
