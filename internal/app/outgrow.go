package app

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/fit"
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
}

// SizeOrder is who outgrows what until a day, and so what sizes are needed.
type SizeOrder struct {
	Until day.Day      `json:"until"`
	Who   []Outgrowing `json:"who" doc:"The soonest first"`
	Order []Needed     `json:"order" doc:"Sizes needed, less those that stand free"`
}

// monthsAhead is how far the size order looks when no day is given: over the next summer.
const monthsAhead = 10

// Outgrow finds who will outgrow their instrument until a day, zero for ten months from now.
func (a *App) Outgrow(ctx context.Context, by Person, until day.Day) (SizeOrder, error) {
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return SizeOrder{}, err
	}
	if until.IsZero() {
		until = s.today + monthsAhead*30
	}
	out := SizeOrder{Until: until, Who: []Outgrowing{}, Order: []Needed{}}
	need := map[[2]string]int{}
	for n := range s.roster {
		p := &s.roster[n]
		size := sizeOf(*p)
		if size == nil || p.LeftOn != nil {
			continue
		}
		kind, _ := a.catalog.Kind(p.Kind)
		who := Outgrowing{PlayerID: p.ID, Player: p.Name(), KindName: kind.Name, Fits: size.Size}
		for _, i := range s.instruments {
			if i.habit != nil && i.habit.Player != nil && *i.habit.Player == p.ID && i.Instrument.Kind == p.Kind {
				who.Tag, who.Holds = i.Tag, i.Size
			}
		}
		switch {
		case who.Holds != "" && largerThan(p.Kind, who.Holds, size.Size): // it is too small today
			who.Next = size.Size
		case size.NextOn != nil && *size.NextOn <= until && (who.Holds == "" || largerThan(p.Kind, who.Holds, size.Next)):
			who.Next, who.On, who.Until = size.Next, size.NextOn, size.NextUntil
			if size.NextFrom != nil && *size.NextFrom > s.today {
				who.From = size.NextFrom
			}
		default:
			continue
		}
		out.Who = append(out.Who, who)
		need[[2]string{kind.Key, who.Next}]++
	}
	slices.SortStableFunc(out.Who, func(x, y Outgrowing) int {
		when := func(o Outgrowing) day.Day {
			if o.On == nil {
				return 0
			}
			return *o.On
		}
		return cmp.Compare(when(x), when(y))
	})
	for key, n := range need {
		for _, i := range s.instruments {
			if i.Instrument.Kind == key[0] && i.Size == key[1] && i.cannotBeHandedOut() == nil {
				n--
			}
		}
		if n > 0 {
			kind, _ := a.catalog.Kind(key[0])
			out.Order = append(out.Order, s.needed(kind.Key, kind.Name, key[1], n))
		}
	}
	slices.SortFunc(out.Order, func(x, y Needed) int {
		return cmp.Or(strings.Compare(x.KindName, y.KindName), strings.Compare(x.Size, y.Size))
	})
	return out, nil
}

// largerThan reports whether the second size is larger than the first; false where the chart does not have both.
func largerThan(kind, first, second string) bool {
	chart, _ := fit.ChartOf(kind)
	steps, ok := fit.Apart(chart, first, second)
	return ok && steps > 0
}
