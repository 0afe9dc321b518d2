package season

import (
	"context"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/placing"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/playerrows"
	"solfeggio/internal/store/schoolrows"
)

// Readiness is how a concert stands: chairs that will be ready of all.
type Readiness struct {
	Concert   string     `json:"concert"`
	On        day.Day    `json:"on"`
	Days      int        `json:"days"`
	Ready     int        `json:"ready"`
	Chairs    int        `json:"chairs"`
	Ensembles []Seated   `json:"ensembles"`
	NotReady  []NotReady `json:"not_ready" doc:"What takes longest first"`
}

// Seated is how an ensemble stands for a concert.
type Seated struct {
	Name   string `json:"name"`
	Ready  int    `json:"ready"`
	Chairs int    `json:"chairs"`
}

// NotReady is a chair that cannot play now, with its quickest way.
type NotReady struct {
	Ensemble     string     `json:"ensemble"`
	InstrumentID *uuid.UUID `json:"instrument_id,omitempty" doc:"Left out for a player who has none"`
	Tag          string     `json:"tag"`
	Player       string     `json:"player"`
	Because      string     `json:"because"`
	Way          string     `json:"way" doc:"The quickest"`
	LoanerID     *uuid.UUID `json:"loaner_id,omitempty"`
	JobID        *uuid.UUID `json:"job_id,omitempty"`
	By           *day.Day   `json:"by,omitempty" doc:"When it can be ready; left out where nobody knows"`
	InTime       bool       `json:"in_time"`
}

// Readiness says of each coming concert who will be ready.
func (r *Room) Readiness(ctx context.Context, by journal.Person) ([]Readiness, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	var away func([]string) int
	if err := r.schools.Read(ctx, by, func(tx *store.Tx) (err error) {
		away, err = r.shop.DaysAway(ctx, tx, s)
		return err
	}); err != nil {
		return nil, err
	}
	book := r.placing.Book(s)
	list := []Readiness{}
	for n := range s.Concerts {
		if s.Concerts[n].HeldOn >= s.Today {
			list = append(list, r.readinessOf(s, book, &s.Concerts[n], away))
		}
	}
	return list, nil
}

// Chairs counts who is ready for a concert now, of all who play at it.
func (r *Room) Chairs(s *school.Snapshot, book *placing.Book, c *schoolrows.Concert) (ready, chairs int) {
	now := r.readinessOf(s, book, c, func([]string) int { return 0 })
	return now.Ready, now.Chairs
}

func (r *Room) readinessOf(s *school.Snapshot, book *placing.Book, c *schoolrows.Concert, away func([]string) int) Readiness {
	out := Readiness{Concert: c.Name, On: c.HeldOn, Days: int(c.HeldOn - s.Today), Ensembles: []Seated{}, NotReady: []NotReady{}}
	for _, e := range s.Ensembles {
		if !slices.Contains(c.Ensembles, e.ID) {
			continue
		}
		seated := Seated{Name: e.Name}
		for _, i := range s.Instruments {
			if i.Habit == nil || !slices.Contains(i.Habit.Ensembles, e.ID) {
				continue
			}
			seated.Chairs++
			if chair, wanting := r.notReady(s, i, c.HeldOn, book, away); wanting {
				chair.Ensemble = e.Name
				out.NotReady = append(out.NotReady, chair)
			} else {
				seated.Ready++
			}
		}
		for _, p := range s.Roster {
			if p.LeftOn != nil || !slices.Contains(p.Ensembles, e.ID) || p.Kind == "" || hasInstrument(s, p.ID, e.ID) {
				continue
			}
			seated.Chairs++
			out.NotReady = append(out.NotReady, r.without(s, p, e, c.HeldOn, book))
		}
		out.Ready, out.Chairs = out.Ready+seated.Ready, out.Chairs+seated.Chairs
		out.Ensembles = append(out.Ensembles, seated)
	}
	far := func(n NotReady) day.Day {
		if n.By == nil {
			return c.HeldOn + 10_000
		}
		return *n.By
	}
	slices.SortStableFunc(out.NotReady, func(a, b NotReady) int { return int(far(b) - far(a)) })
	return out
}

func hasInstrument(s *school.Snapshot, player, ensemble uuid.UUID) bool {
	return slices.ContainsFunc(s.Instruments, func(i *school.Instrument) bool {
		return i.Habit != nil && i.Habit.Player != nil && *i.Habit.Player == player && slices.Contains(i.Habit.Ensembles, ensemble)
	})
}

// notReady says why an instrument that is played at a concert cannot be played now, and the quickest way out: a part from the stock, a
// loaner, the shop.
func (r *Room) notReady(s *school.Snapshot, i *school.Instrument, on day.Day, book *placing.Book,
	away func([]string) int) (NotReady, bool) {
	n := NotReady{InstrumentID: &i.ID, Tag: i.Tag, Player: s.Listed(i).Holder}
	today := s.Today
	ready := func(by day.Day) { n.By, n.InTime = &by, by <= on }
	missing := ""
	for _, item := range r.schools.CaseOf(i) {
		if item.ToPlay && i.Kit[item.Supply].State == catalog.Missing {
			thing, _ := r.schools.Catalog.Supply(item.Supply)
			missing = catalog.InText(thing.Name)
		}
	}
	switch {
	case i.Care.Stopped != "":
		n.Because = i.Care.Stopped
	case missing != "":
		n.Because, n.Way = "missing: "+missing, "put it into the kit"
		ready(today)
		return n, true
	default:
		return n, false
	}
	if free := book.InsteadOf(i.ID); free != nil {
		n.Way, n.LoanerID = "lend "+free.Tag, &free.InstrumentID
		ready(today)
		return n, true
	}
	if i.Rental != nil {
		n.Way = "its owner brings another"
		return n, true
	}
	n.Way = "to the shop"
	if i.Job != nil {
		n.JobID = &i.Job.ID
		n.Way = "at the shop: " + i.Job.State.Words()
	}
	leaves := today + 1
	for _, t := range s.Trips {
		if t.DrivenAt == nil && t.On >= today {
			leaves = t.On
			break
		}
	}
	if i.Job != nil {
		if booked := s.Leaves(i.Job); !booked.IsZero() {
			leaves = booked
		}
		ready(leaves + day.Day(away(r.shop.TradesOf(*i.Job))))
		return n, true
	}
	trades := []string{}
	for _, f := range i.Findings {
		if repair, ok := r.schools.Catalog.Mending(i.Kind, f.Code); ok && !slices.Contains(trades, repair.Trade) {
			trades = append(trades, repair.Trade)
		}
	}
	ready(leaves + day.Day(away(trades)))
	return n, true
}

// without is a player of an ensemble who has no instrument.
func (r *Room) without(s *school.Snapshot, p playerrows.Player, e schoolrows.Ensemble, on day.Day, book *placing.Book) NotReady {
	n := NotReady{Ensemble: e.Name, Player: p.Name(), Because: "has no instrument", Way: "none is free: rent or buy one"}
	if kind, ok := r.schools.Catalog.Kind(p.Kind); ok {
		n.Tag = kind.Name
	}
	for _, i := range s.Instruments {
		away := i.Away() && i.Job.Player != nil && *i.Job.Player == p.ID
		if away {
			n.InstrumentID, n.Tag, n.Because, n.Way, n.JobID = &i.ID, i.Tag, "at the shop", "fetch it from the shop", &i.Job.ID
			back := *i.Job.ExpectedOn
			if i.Job.ReadyOn != nil {
				back = s.Today
			}
			n.By, n.InTime = &back, back <= on
			return n
		}
	}
	if free := book.ToKeep(p.ID); free != nil {
		today := s.Today
		n.InstrumentID, n.Way, n.By, n.InTime = &free.InstrumentID, "hand out "+free.Tag, &today, true
	}
	return n
}
