package shop

import (
	"context"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/placing"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/shop"
	"solfeggio/internal/store"
	"solfeggio/internal/store/shoprows"
)

// PlannedTrip is a drive to the shops with what rides along.
type PlannedTrip struct {
	shoprows.Trip
	Taken  int       `json:"taken" doc:"Places that are taken"`
	Shops  []string  `json:"shops" doc:"Where it goes, in the order of the drive"`
	Riders []Rider   `json:"riders" doc:"In the order in which they are loaded"`
	Bring  []Bringer `json:"bring" doc:"What is at these shops and may be fetched on the way"`
	Cents  int64     `json:"cents" doc:"Of the jobs on it, as agreed or expected"`
}

// Rider is an instrument on a trip.
type Rider struct {
	JobID    uuid.UUID `json:"job_id"`
	Version  int       `json:"version"`
	Tag      string    `json:"tag"`
	KindName string    `json:"kind_name"`
	Shop     string    `json:"shop"`
	Places   int       `json:"places"`
	Where    string    `json:"where" doc:"Where it is to be fetched from: its slot, or who has it"`

	Holder   string     `json:"holder" doc:"Who plays it; empty for nobody or where nobody is named"`
	LoanerID *uuid.UUID `json:"loaner_id,omitempty" doc:"A free one that its player may have meanwhile"`
	Loaner   string     `json:"loaner" doc:"Its tag"`
}

// Bringer is an instrument that may be brought back.
type Bringer struct {
	JobID   uuid.UUID `json:"job_id"`
	Version int       `json:"version"`
	Tag     string    `json:"tag"`
	Shop    string    `json:"shop"`
	Ready   bool      `json:"ready" doc:"The shop says so"`
	Due     day.Day   `json:"due"`
}

// tripsOf lists the trips with what rides on them.
func (r *Room) tripsOf(s *school.Snapshot) []PlannedTrip {
	list, book := []PlannedTrip{}, r.placing.Book(s)
	for _, t := range s.Trips {
		list = append(list, tripBy(s, book, t))
	}
	return list
}

func (r *Room) trip(s *school.Snapshot, t shoprows.Trip) PlannedTrip {
	return tripBy(s, r.placing.Book(s), t)
}

// tripBy fills a trip.
func tripBy(s *school.Snapshot, book *placing.Book, t shoprows.Trip) PlannedTrip {
	out := PlannedTrip{Trip: t, Shops: []string{}, Riders: []Rider{}, Bring: []Bringer{}}
	var loads []shop.Load
	riders := map[string]Rider{}
	for _, i := range s.Instruments {
		j := i.Job
		if j == nil || j.Trip == nil || *j.Trip != t.ID || j.State != shop.Booked {
			continue
		}
		name := shopName(s, j.Shop)
		where := i.Slot
		if i.Room != "" {
			where = i.Room + ", " + i.Slot
		}
		rider := Rider{
			JobID: j.ID, Version: j.Version, Tag: i.Tag, KindName: i.Named(), Shop: name, Places: i.Kind.Places(), Where: where,
			Holder: s.Listed(i).Holder,
		}
		if rider.Holder != "" {
			rider.Where = "with " + rider.Holder
		}
		if i.Habit != nil {
			if free := book.InsteadOf(i.ID); free != nil {
				rider.LoanerID, rider.Loaner = &free.InstrumentID, free.Tag
			}
		}
		riders[i.Tag] = rider
		loads = append(loads, shop.Load{Tag: i.Tag, Places: i.Kind.Places(), Shop: name, Soft: i.Kind.Family == catalog.Strings})
		if !slices.Contains(out.Shops, name) {
			out.Shops = append(out.Shops, name)
		}
		out.Cents += Costs(*j)
	}
	slices.Sort(out.Shops)
	out.Taken = shop.PlacesTaken(loads)
	for _, l := range shop.LoadingOrder(loads, out.Shops) {
		out.Riders = append(out.Riders, riders[l.Tag])
	}
	for _, i := range s.Instruments {
		if !i.Away() {
			continue
		}
		name := shopName(s, i.Job.Shop)
		if slices.Contains(out.Shops, name) && (i.Job.ReadyOn != nil || *i.Job.ExpectedOn <= t.On) {
			out.Bring = append(out.Bring, Bringer{i.Job.ID, i.Job.Version, i.Tag, name, i.Job.ReadyOn != nil, *i.Job.ExpectedOn})
		}
	}
	return out
}

// Costs is what a job costs, as far as anybody knows.
func Costs(j shoprows.Job) int64 {
	switch {
	case j.RealCents != nil:
		return *j.RealCents
	case j.AgreedCents != nil:
		return *j.AgreedCents
	case j.QuoteCents != nil:
		return *j.QuoteCents
	}
	return expectedCents(j)
}

// tripOf finds a trip that was not driven.
func tripOf(s *school.Snapshot, id uuid.UUID) (shoprows.Trip, bool) {
	for _, t := range s.Trips {
		if t.ID == id && t.DrivenAt == nil {
			return t, true
		}
	}
	return shoprows.Trip{}, false
}

// SaveTrip plans a trip, or changes one. A day on which a shop is closed that something rides to is refused, and too few places too.
func (r *Room) SaveTrip(ctx context.Context, by journal.Person, in shoprows.Trip) error {
	_, err := school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (struct{}, error) {
		if in.On < s.Today {
			return struct{}{}, journal.Refuse("on", "lies in the past", in.On)
		}
		if in.Version > 0 {
			planned, ok := tripOf(s, in.ID)
			if !ok {
				return struct{}{}, &journal.Fault{Kind: journal.Conflict, Message: "That trip was driven or called off."}
			}
			riding := r.trip(s, planned)
			if riding.Taken > in.Places {
				return struct{}{}, journal.Refuse("places", fmt.Sprintf("%d are taken", riding.Taken), in.Places)
			}
			for _, name := range riding.Shops {
				if err := openOn(s, name, in.On); err != nil {
					return struct{}{}, journal.Refuse("on", err.Error(), in.On)
				}
			}
		}
		return struct{}{}, shoprows.PutTrip(ctx, tx, in)
	})
	return err
}

// openOn says why a shop cannot be driven to.
func openOn(s *school.Snapshot, name string, on day.Day) error {
	for _, at := range s.Shops {
		if at.Name == name {
			return shop.OpenOn(at.Name, at.OpenDays, on)
		}
	}
	return nil
}

// CancelTrip calls a trip off. What was to ride on it is agreed as before.
func (r *Room) CancelTrip(ctx context.Context, by journal.Person, id uuid.UUID, in At) (journal.Changed, error) {
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		out := journal.Changed{Events: []uuid.UUID{}}
		t, ok := tripOf(s, id)
		if !ok {
			return out, store.ErrNotFound
		}
		for _, rides := range r.trip(s, t).Riders {
			moved, err := r.moveIn(ctx, tx, by, s, rides.JobID, At{rides.Version}, shop.Unbook, unbooked)
			if err != nil {
				return out, err
			}
			out.Events = append(out.Events, moved.changed.Events...)
		}
		return out, shoprows.DeleteTrip(ctx, tx, id, in.Version)
	})
}

// Booking says how a job gets to the shop.
type Booking struct {
	At
	TripID    *uuid.UUID `json:"trip_id,omitempty"`
	FetchedOn *day.Day   `json:"fetched_on,omitempty" doc:"The shop fetches it; one of the two"`
}

// Book puts a job on a trip, or notes when the shop fetches it.
func (r *Room) Book(ctx context.Context, by journal.Person, id uuid.UUID, in Booking) (journal.Changed, error) {
	return r.move(ctx, by, id, in.At, shop.Book,
		func(tx *store.Tx, s *school.Snapshot, i *school.Instrument, j *shoprows.Job, _ *step) error {
			at, err := chosen(s, j)
			if err != nil {
				return err
			}
			var on day.Day
			field := "fetched_on"
			switch {
			case (in.TripID == nil) == (in.FetchedOn == nil):
				return journal.Refuse("trip_id", "name a trip, or the day on which the shop fetches it", in.TripID)
			case in.TripID != nil:
				t, ok := tripOf(s, *in.TripID)
				if !ok {
					return journal.Refuse("trip_id", "that trip was driven or called off", in.TripID)
				}
				field, on = "trip_id", t.On
				taken := r.trip(s, t).Taken
				if j.Trip != nil && *j.Trip == t.ID {
					taken -= i.Kind.Places()
				}
				if free := t.Places - taken; i.Kind.Places() > free {
					return journal.Refuse("trip_id",
						fmt.Sprintf("%s takes %d and %d of %d places are free", i.Tag, i.Kind.Places(), free, t.Places), in.TripID)
				}
			default:
				if on = *in.FetchedOn; on < s.Today {
					return journal.Refuse("fetched_on", "lies in the past", on)
				}
			}
			if err := shop.OpenOn(at.Name, at.OpenDays, on); err != nil {
				return journal.Refuse(field, err.Error(), on)
			}
			j.Trip, j.FetchedOn = in.TripID, in.FetchedOn
			return nil
		})
}

// Unbook takes a job off its trip.
func (r *Room) Unbook(ctx context.Context, by journal.Person, id uuid.UUID, in At) (journal.Changed, error) {
	return r.move(ctx, by, id, in, shop.Unbook, unbooked)
}

func unbooked(_ *store.Tx, _ *school.Snapshot, _ *school.Instrument, j *shoprows.Job, _ *step) error {
	j.Trip, j.FetchedOn = nil, nil
	return nil
}
