package shop

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/shop"
	"solfeggio/internal/store"
	"solfeggio/internal/store/shoprows"
)

// SaveShop adds a shop, or changes one.
func (r *Room) SaveShop(ctx context.Context, by journal.Person, in shoprows.RepairShop) error {
	if in.Name = strings.TrimSpace(in.Name); in.Name == "" {
		return journal.Refuse("name", "say what it is called", in.Name)
	}
	for n, t := range in.Trades {
		if _, ok := r.schools.Catalog.Trade(t); !ok || slices.Contains(in.Trades[:n], t) {
			return journal.Refuse(fmt.Sprintf("trades[%d]", n), "is no kind of work, or stands there twice", t)
		}
	}
	for n, d := range in.OpenDays {
		if d < 1 || d > 7 || slices.Contains(in.OpenDays[:n], d) {
			return journal.Refuse(fmt.Sprintf("open_days[%d]", n), "is no weekday from 1 to 7, or stands there twice", d)
		}
	}
	_, err := school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, _ *school.Snapshot) (struct{}, error) {
		return struct{}{}, shoprows.PutShop(ctx, tx, in)
	})
	return err
}

// LeaveShop gives a shop nothing more. It is refused while something is there or on the way.
func (r *Room) LeaveShop(ctx context.Context, by journal.Person, id uuid.UUID, in At) error {
	_, err := school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (struct{}, error) {
		for _, i := range s.Instruments {
			if i.Job != nil && i.Job.Shop != nil && *i.Job.Shop == id {
				return struct{}{}, &journal.Fault{
					Kind:    journal.Conflict,
					Message: fmt.Sprintf("%s has an open job there (%s). Close that first.", i.Tag, i.Job.State.Words()),
				}
			}
		}
		return struct{}{}, shoprows.LeaveShop(ctx, tx, id, in.Version, s.Today)
	})
	return err
}

// Turnaround is how long a shop takes.
type Turnaround struct {
	Trade string `json:"trade" doc:"Kind of work; empty for all together"`
	Name  string `json:"name"`
	shop.TurnaroundOut
}

// sentJobs are the jobs that went to a shop, by kind of work; the empty one holds all.
func (r *Room) sentJobs(s *school.Snapshot, ended []shoprows.Job, id uuid.UUID) map[string][]shop.Sent {
	by := map[string][]shop.Sent{}
	add := func(j shoprows.Job) {
		if j.SentOn == nil || j.Shop == nil || *j.Shop != id {
			return
		}
		if *j.SentOn > s.Today || j.BackOn != nil && *j.BackOn > s.Today {
			return // noted by a clock that went ahead: it counts once that day has come
		}
		sent := shop.Sent{Sent: *j.SentOn, Back: j.BackOn}
		by[""] = append(by[""], sent)
		for _, t := range r.TradesOf(j) {
			by[t] = append(by[t], sent)
		}
	}
	for _, j := range ended {
		add(j)
	}
	for _, i := range s.Instruments {
		if i.Job != nil {
			add(*i.Job)
		}
	}
	return by
}

// turnaround is how long a shop takes for each kind of work, those still away counted in.
func (r *Room) turnaround(s *school.Snapshot, ended []shoprows.Job, at shoprows.RepairShop) ([]Turnaround, error) {
	list := []Turnaround{}
	sent := r.sentJobs(s, ended, at.ID)
	for _, trade := range append([]string{""}, at.Trades...) {
		if len(sent[trade]) == 0 {
			continue
		}
		out, err := shop.Turnaround(shop.TurnaroundIn{Jobs: sent[trade], Today: s.Today})
		if err != nil {
			return nil, fmt.Errorf("turnaround of %s: %w", at.Name, err)
		}
		t := Turnaround{trade, "all work", out}
		if of, ok := r.schools.Catalog.Trade(trade); ok {
			t.Name = catalog.InText(of.Name)
		}
		list = append(list, t)
	}
	return list, nil
}

// expectedFor says how long a shop will take for work of some trades: the longest of them.
func (r *Room) expectedFor(ctx context.Context, tx *store.Tx, s *school.Snapshot, at shoprows.RepairShop,
	trades []string) (shop.Expected, error) {
	jobs, err := ended(ctx, tx, s)
	if err != nil {
		return shop.Expected{}, err
	}
	sent := r.sentJobs(s, jobs, at.ID)
	if len(trades) == 0 {
		trades = []string{""}
	}
	var longest shop.Expected
	for _, trade := range trades {
		out, err := shop.Turnaround(shop.TurnaroundIn{Jobs: sent[trade], Today: s.Today})
		if err != nil {
			return shop.Expected{}, err
		}
		if e := shop.ExpectedDays(out, at.PromiseDays); e.Days > longest.Days {
			longest = e
		}
	}
	return longest, nil
}

// DaysAway says for how long work of some trades is reckoned away, by the quickest shop that does all of it.
func (r *Room) DaysAway(ctx context.Context, tx *store.Tx, s *school.Snapshot) (func(trades []string) int, error) {
	jobs, err := ended(ctx, tx, s)
	if err != nil {
		return nil, err
	}
	known := map[string]int{} // by shop and trade
	for _, at := range s.Shops {
		sent := r.sentJobs(s, jobs, at.ID)
		for _, trade := range at.Trades {
			out, err := shop.Turnaround(shop.TurnaroundIn{Jobs: sent[trade], Today: s.Today})
			if err != nil {
				return nil, err
			}
			known[at.ID.String()+trade] = shop.ExpectedDays(out, at.PromiseDays).Days
		}
	}
	return func(trades []string) int {
		best := 0
		for _, at := range s.Shops {
			if !does(at, trades) {
				continue
			}
			days := 0
			for _, trade := range trades {
				days = max(days, known[at.ID.String()+trade])
			}
			if best == 0 || days < best {
				best = days
			}
		}
		return cmp.Or(best, shop.UsualDays)
	}, nil
}
