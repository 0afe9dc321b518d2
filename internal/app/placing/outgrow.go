package placing

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/fit"
	"solfeggio/internal/store/playerrows"
)

// Outgrowing is a player who will need the next size soon, or already does.
type Outgrowing struct {
	PlayerID uuid.UUID `json:"player_id"`
	Player   string    `json:"player"`
	KindName string    `json:"kind_name"`
	Tag      string    `json:"tag" doc:"What the player holds; empty for nothing"`
	Holds    string    `json:"holds" doc:"Its size"`
	Fits     string    `json:"fits" doc:"The size that fits today"`
	Next     string    `json:"next" doc:"The size to come"`
	On       *day.Day  `json:"on,omitempty" doc:"When; left out when it fits already"`
	From     *day.Day  `json:"from,omitempty" doc:"The earliest likely day; left out when it is past"`
	Until    *day.Day  `json:"until,omitempty" doc:"The latest likely day"`
	Gets     *Getting  `json:"gets,omitempty" doc:"What can go to the player then; left out when it has to be rented or bought"`

	kind  string
	holds *school.Instrument
}

// Getting is an instrument of the school that can go to a player who needs its size.
type Getting struct {
	InstrumentID uuid.UUID `json:"instrument_id"`
	Tag          string    `json:"tag"`
	BackFrom     string    `json:"back_from" doc:"The player who outgrows it; empty for one that nobody has"`
	ReadyOn      *day.Day  `json:"ready_on,omitempty" doc:"After its turnover; left out when it stands free"`
	RentedUntil  *day.Day  `json:"rented_until,omitempty"`
}

// SizeOrder is who outgrows what until a day, and so what sizes are needed.
type SizeOrder struct {
	Until day.Day      `json:"until"`
	Who   []Outgrowing `json:"who" doc:"The soonest first"`
	Order []Needed     `json:"order" doc:"Sizes needed, less those that stand free by then"`
}

// monthsAhead is how far the size order looks when no day is given: over the next summer.
const monthsAhead = 10

// Outgrow finds who will outgrow their instrument until a day, zero for ten months from now, and what they can get: what stands
// free, and what others outgrow and give back in time.
func (r *Room) Outgrow(ctx context.Context, by journal.Person, until day.Day) (SizeOrder, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return SizeOrder{}, err
	}
	if until.IsZero() {
		until = s.Today + monthsAhead*30
	}
	out := SizeOrder{Until: until, Who: []Outgrowing{}, Order: []Needed{}}
	has := held(s)
	for n := range s.Roster {
		p := &s.Roster[n]
		if who, ok := r.outgrows(s, p, has[heldBy{p.ID, p.Kind}], until); ok {
			out.Who = append(out.Who, who)
		}
	}
	slices.SortStableFunc(out.Who, func(x, y Outgrowing) int { return cmp.Compare(x.needs(0), y.needs(0)) })
	short := passOn(s, out.Who, r.Book(s))
	for of, n := range short {
		kind, _ := r.schools.Catalog.Kind(of[0])
		out.Order = append(out.Order, needed(s, kind.Key, kind.Name, of[1], n))
	}
	slices.SortFunc(out.Order, func(x, y Needed) int {
		return cmp.Or(strings.Compare(x.KindName, y.KindName), strings.Compare(x.Size, y.Size))
	})
	return out, nil
}

// needs is when the next size is needed, by somebody who asks today.
func (o Outgrowing) needs(today day.Day) day.Day {
	if o.On == nil {
		return today
	}
	return *o.On
}

// held finds what each player has of each kind.
func held(s *school.Snapshot) map[heldBy]*school.Instrument {
	found := map[heldBy]*school.Instrument{}
	for _, i := range s.Instruments {
		if i.InHands() {
			found[heldBy{*i.Habit.Player, i.Instrument.Kind}] = i
		}
	}
	return found
}

type heldBy struct {
	player uuid.UUID
	kind   string
}

// outgrows reports whether a player who has an instrument of their kind, nil for none, needs another size until a day.
func (r *Room) outgrows(s *school.Snapshot, p *playerrows.Player, has *school.Instrument, until day.Day) (Outgrowing, bool) {
	size := school.SizeOf(*p)
	if size == nil || p.LeftOn != nil {
		return Outgrowing{}, false
	}
	kind, _ := r.schools.Catalog.Kind(p.Kind)
	who := Outgrowing{PlayerID: p.ID, Player: p.Name(), KindName: kind.Name, Fits: size.Size, kind: kind.Key}
	if has != nil {
		who.Tag, who.Holds, who.holds = has.Tag, has.Size, has
	}
	switch {
	case who.Holds != "" && largerThan(p.Kind, who.Holds, size.Size): // it is too small today
		who.Next = size.Size
	case size.NextOn != nil && *size.NextOn <= until && (who.Holds == "" || largerThan(p.Kind, who.Holds, size.Next)):
		who.Next, who.On, who.Until = size.Next, size.NextOn, size.NextUntil
		if size.NextFrom != nil && *size.NextFrom > s.Today {
			who.From = size.NextFrom
		}
	default:
		return Outgrowing{}, false
	}
	return who, true
}

// passOn tells each what can go to them, and counts by kind and size what nothing is there for.
func passOn(s *school.Snapshot, who []Outgrowing, book *Book) (short map[[2]string]int) {
	var wants []fit.Want
	var spares []fit.Spare
	var gets []Getting
	add := func(i *school.Instrument, from day.Day, backFrom string) {
		if i.Care.Stopped != "" {
			return
		}
		spare, get := fit.Spare{
			Kind: i.Instrument.Kind,
			Size: i.Size,
			From: from,
		}, Getting{
			InstrumentID: i.ID,
			Tag:          i.Tag,
			BackFrom:     backFrom,
		}
		if i.Rental != nil && i.Rental.ReturnBy != nil {
			spare.Until, get.RentedUntil = *i.Rental.ReturnBy, i.Rental.ReturnBy
		}
		if from > s.Today {
			get.ReadyOn = &from
		}
		spares, gets = append(spares, spare), append(gets, get)
	}
	for _, i := range s.Instruments {
		switch {
		case i.InHands():
		case i.Away():
			add(i, max(s.Today, *i.Job.ExpectedOn)+fit.TurnoverDays, "")
		case i.Hold != nil || i.Bench != nil:
			add(i, s.Today+fit.TurnoverDays, "")
		case book.Of(i.ID) != nil: // somebody else's first
			if again := book.Of(i.ID).turnover(); !again.IsZero() {
				add(i, again, "")
			}
		default:
			add(i, s.Today, "")
		}
	}
	var later []int // who waits for what comes free, beside what the book has for them today
	for w, o := range who {
		if o.holds != nil {
			add(o.holds, o.needs(s.Today)+fit.TurnoverDays, o.Player)
			if offer := book.InsteadOf(o.holds.ID); offer != nil && offer.Class == Outgrown {
				who[w].Gets = &Getting{InstrumentID: offer.InstrumentID, Tag: offer.Tag}
				if r := s.ByID[offer.InstrumentID].Rental; r != nil {
					who[w].Gets.RentedUntil = r.ReturnBy
				}
				continue
			}
		}
		later, wants = append(later, w), append(wants, fit.Want{Kind: o.kind, Size: o.Next, On: o.needs(s.Today)})
	}
	short = map[[2]string]int{}
	for n, spare := range fit.Cover(wants, spares) {
		w := later[n]
		if spare < 0 {
			short[[2]string{who[w].kind, who[w].Next}]++
			continue
		}
		who[w].Gets = &gets[spare]
	}
	return short
}

// largerThan reports whether the second size is larger than the first; false where the chart does not have both.
func largerThan(kind, first, second string) bool {
	chart, _ := fit.ChartOf(kind)
	steps, ok := fit.Difference(chart, first, second)
	return ok && steps > 0
}
