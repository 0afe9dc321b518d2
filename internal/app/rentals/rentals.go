package rentals

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/instrumentrows"
	"solfeggio/internal/store/lendingrows"
)

// RentedInstrument is an instrument of somebody else's.
type RentedInstrument struct {
	InstrumentID uuid.UUID             `json:"instrument_id"`
	Tag          string                `json:"tag"`
	KindName     string                `json:"kind_name"`
	Holder       string                `json:"holder"`
	Stopped      string                `json:"stopped,omitempty" doc:"What stops it: the owner is told, the school does not repair it"`
	Rental       instrumentrows.Rental `json:"rental"`
	DaysLeft     *int                  `json:"days_left,omitempty" doc:"Until it goes back; below 0 when that is past"`
}

// Rentals are the rented instruments and the prices for more.
type Rentals struct {
	Rented       []RentedInstrument           `json:"rented" doc:"In score order"`
	Prices       []instrumentrows.RentalPrice `json:"prices"`
	Version      string                       `json:"version" doc:"Of the prices"`
	MonthlyCents int64                        `json:"monthly_cents" doc:"Of all contracts that run and have a price"`
}

// Rentals lists what is rented.
func (r *Room) Rentals(ctx context.Context, by journal.Person) (Rentals, error) {
	if err := by.Need(journal.MayChangeInstruments); err != nil {
		return Rentals{}, err
	}
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return Rentals{}, err
	}
	out := Rentals{Rented: []RentedInstrument{}, Prices: s.RentalPrices, Version: journal.Version(s.RentalPrices)}
	for _, i := range s.Instruments {
		if i.Rental == nil {
			continue
		}
		r := RentedInstrument{
			InstrumentID: i.ID,
			Tag:          i.Tag,
			KindName:     i.Named(),
			Holder:       s.Listed(i).Holder,
			Stopped:      i.Care.Stopped,
			Rental:       *i.Rental,
		}
		if on := i.Rental.ReturnBy; on != nil {
			left := int(*on - s.Today)
			r.DaysLeft = &left
		}
		if i.Rental.MonthlyCents != nil {
			out.MonthlyCents += *i.Rental.MonthlyCents
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
func (r *Room) SaveRental(ctx context.Context, by journal.Person, id uuid.UUID, in instrumentrows.Rental) error {
	in.Instrument, in.Owner = id, strings.TrimSpace(in.Owner)
	switch {
	case in.Owner == "":
		return journal.Refuse("owner", "say whose it is", in.Owner)
	case in.ReturnBy != nil && *in.ReturnBy < in.StartsOn:
		return journal.Refuse("return_by", "lies before its first day", *in.ReturnBy)
	}
	_, err := school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (struct{}, error) {
		i, err := s.Instrument(id)
		if err != nil {
			return struct{}{}, err
		}
		if i.Rental == nil && i.Job != nil {
			return struct{}{}, &journal.Fault{
				Kind: journal.Conflict,
				Message: fmt.Sprintf("%s has an open job for a shop (%s), and what is rented goes to its owner. Close the job or call it off first.",
					i.Tag, i.Job.State.Words()),
			}
		}
		if err := instrumentrows.PutRental(ctx, tx, in); err != nil {
			return struct{}{}, err
		}
		_, err = r.schools.Record(
			ctx,
			tx,
			by,
			eventrows.Event{What: eventrows.RentalChanged, Instrument: &id},
			RentalDetail{Owner: in.Owner, Contract: in.Contract},
		)
		return struct{}{}, err
	})
	return err
}

// SaveRentalPrices puts a list of prices in place of the present one.
func (r *Room) SaveRentalPrices(ctx context.Context, by journal.Person, list []instrumentrows.RentalPrice) error {
	seen := map[[2]string]bool{}
	for n, p := range list {
		kind, ok := r.schools.Catalog.Kind(p.Kind)
		key := [2]string{p.Kind, p.Size}
		switch {
		case !ok:
			return journal.Refuse(fmt.Sprintf("prices[%d].kind", n), "is no kind of instrument", p.Kind)
		case p.Size != "" && !slices.Contains(kind.Sizes, p.Size):
			return journal.Refuse(fmt.Sprintf("prices[%d].size", n), inventory.SizeRule(kind), p.Size)
		case seen[key]:
			return journal.Refuse(fmt.Sprintf("prices[%d].kind", n), strings.TrimSpace(kind.Name+" "+p.Size)+" has two prices", p.Kind)
		}
		seen[key] = true
	}
	_, err := school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (struct{}, error) {
		if err := journal.AsSeen(ctx, s.RentalPrices); err != nil {
			return struct{}{}, err
		}
		return struct{}{}, instrumentrows.SetRentalPrices(ctx, tx, list)
	})
	return err
}

// Leaving says how an instrument left the school.
type Leaving struct {
	How string `json:"how" minLength:"1" maxLength:"300" doc:"Given back to its owner, sold, lost, …"`
}

// Leave takes an instrument out of the school's lists, ending its rental. Its file stays. It is refused while somebody has it.
func (r *Room) Leave(ctx context.Context, by journal.Person, id uuid.UUID, in Leaving) (journal.Changed, error) {
	how := strings.TrimSpace(in.How)
	if how == "" {
		return journal.Changed{}, journal.Refuse("how", "say where it went", in.How)
	}
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		i, err := s.Instrument(id)
		if err != nil {
			return journal.Changed{}, err
		}
		if i.InHands() {
			return journal.Changed{}, &journal.Fault{
				Kind:    journal.Conflict,
				Message: i.Tag + " is in a player's hands. Take it back first.",
			}
		}
		event, err := r.leave(ctx, tx, by, s, i, how)
		return journal.Changed{Events: []uuid.UUID{event}}, err
	})
}

func (r *Room) leave(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	s *school.Snapshot,
	i *school.Instrument,
	how string,
) (uuid.UUID, error) {
	if i.Bench != nil {
		return uuid.Nil, &journal.Fault{
			Kind:    journal.Conflict,
			Message: i.Tag + " lies on the bench. Finish it there or take it off first.",
		}
	}
	if i.Job != nil {
		return uuid.Nil, &journal.Fault{
			Kind:    journal.Conflict,
			Message: fmt.Sprintf("%s has an open job for a shop (%s). Close it or call it off first.", i.Tag, i.Job.State.Words()),
		}
	}
	detail := RentalDetail{How: how}
	if i.Rental != nil {
		detail.Owner, detail.Contract = i.Rental.Owner, i.Rental.Contract
		if err := instrumentrows.EndRental(ctx, tx, i.ID, s.Today); err != nil {
			return uuid.Nil, err
		}
	}
	if err := instrumentrows.DropPromise(ctx, tx, i.ID); err != nil {
		return uuid.Nil, err
	}
	if err := instrumentrows.LeaveSchool(ctx, tx, i.ID, s.Today, how); err != nil {
		return uuid.Nil, err
	}
	return r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.LeftSchool, Instrument: &i.ID}, detail)
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
func (r *Room) ExchangeRental(ctx context.Context, by journal.Person, id uuid.UUID, in Exchange) (journal.Changed, error) {
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		out := journal.Changed{Events: []uuid.UUID{}}
		i, err := s.Instrument(id)
		if err != nil {
			return out, err
		}
		if i.Rental == nil {
			return out, &journal.Fault{
				Kind:    journal.Conflict,
				Message: i.Tag + " is the school's own; only rented instruments are exchanged.",
			}
		}
		next := i.Instrument
		next.ID, next.Tag, next.Maker, next.Model, next.Serial = in.ID, strings.ToUpper(
			strings.TrimSpace(in.Tag),
		), in.Maker, in.Model, in.Serial
		next.CareFrom, next.AcquiredOn, next.AcquiredAs, next.PriceCents = s.Today, nil, day.Exact, nil
		next.Notes, next.KitChecked, next.Version = "", nil, 1
		if !inventory.TagShape.MatchString(next.Tag) {
			return out, journal.Refuse("tag", inventory.TagRule, in.Tag)
		}
		if err := instrumentrows.InsertInstrument(ctx, tx, next); err != nil {
			return out, err
		}
		contract := *i.Rental
		event, err := r.schools.Record(
			ctx,
			tx,
			by,
			eventrows.Event{What: eventrows.RentalChanged, Instrument: &next.ID},
			RentalDetail{Owner: contract.Owner, Contract: contract.Contract, How: "in exchange for " + i.Tag},
		)
		if err != nil {
			return out, err
		}
		out.Events = append(out.Events, event)
		if i.Habit != nil {
			if _, err := r.lending.TakeBack(ctx, tx, by, s, i, lending.Returning{}); err != nil {
				return out, err
			}
			if err := r.lending.GoOut(ctx, tx, by, s, next.ID, school.HabitOf(i.Habit), lendingrows.HandOver{ID: uuid.Must(uuid.NewV7())}); err != nil {
				return out, err
			}
		}
		if event, err = r.leave(ctx, tx, by, s, i, "given back to "+contract.Owner+" in exchange for "+next.Tag); err != nil {
			return out, err
		}
		out.Events = append(out.Events, event)
		contract.ID, contract.Instrument, contract.StartsOn, contract.Version = uuid.Must(uuid.NewV7()), next.ID, s.Today, 0
		return out, instrumentrows.PutRental(ctx, tx, contract)
	})
}
