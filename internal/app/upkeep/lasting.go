package upkeep

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/lifespan"
	"solfeggio/internal/core/why"
	"solfeggio/internal/store"
	"solfeggio/internal/store/upkeeprows"
)

// Lasting is how long parts that are renewed by a routine last on a kind of instrument here.
type Lasting struct {
	Kind      string               `json:"kind"`
	KindName  string               `json:"kind_name"`
	Routine   string               `json:"routine"`
	Title     string               `json:"title"`
	Parts     []PartLasting        `json:"parts" doc:"Each part by itself, where there are several"`
	Ended     int                  `json:"ended" doc:"Lives that came to their end"`
	Lives     int                  `json:"lives" doc:"All, those in use and those that were renewed before they were worn included"`
	Days      lifespan.EstimateOut `json:"days"`
	Hours     *float64             `json:"hours,omitempty" doc:"Playing hours after which a fifth have ended"`
	Trade     *float64             `json:"trade,omitempty" doc:"Days of the trade's figure under the school's practices"`
	TradeIs   why.Kind             `json:"trade_basis" enum:"common practice,from memory,our own rule,standard"`
	Offered   *float64             `json:"offered,omitempty" doc:"Days that may be accepted in place of the trade's: a fifth have ended by then; left out while too few have"`
	Accepted  *float64             `json:"accepted,omitempty" doc:"Days that were accepted"`
	Products  []ProductLasting     `json:"products" doc:"With at least one end, the most used first"`
	Compared  []Compared           `json:"compared"`
	Statement string               `json:"statement"`
	Version   string               `json:"version" doc:"Of what is offered and what was accepted"`
}

// PartLasting is one part among several.
type PartLasting struct {
	Name   string   `json:"name"`
	Lives  int      `json:"lives"`
	Ended  int      `json:"ended"`
	Median *float64 `json:"median,omitempty"`
}

// ProductLasting is one product among several.
type ProductLasting struct {
	Product string   `json:"product"`
	Lives   int      `json:"lives"`
	Ended   int      `json:"ended"`
	Median  *float64 `json:"median,omitempty"`
}

// Compared is two products beside each other.
type Compared struct {
	A         string              `json:"a"`
	B         string              `json:"b"`
	Test      lifespan.CompareOut `json:"test"`
	Statement string              `json:"statement"`
}

// lived is a life as it enters an estimate.
type lived struct {
	part, product string
	days, hours   float64
	ended         bool
}

// shortest is what a part counts as having lasted that ended on the day on which it was put on.
const shortest = 0.5

// Lasting works out for every kind and routine how long what it renews lasts here.
func (r *Room) Lasting(ctx context.Context, by journal.Person) ([]Lasting, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	var all []upkeeprows.PartLife
	if err := r.schools.Read(ctx, by, func(tx *store.Tx) (err error) {
		all, err = upkeeprows.Lives(ctx, tx)
		return err
	}); err != nil {
		return nil, err
	}
	groups := map[[2]string][]lived{}
	for _, l := range all {
		i := s.ByID[l.Instrument]
		if i == nil {
			i = s.Gone[l.Instrument]
		}
		if i == nil {
			continue
		}
		routine, ok := r.schools.Catalog.Renewal(i.Kind, l.Part)
		if !ok {
			continue
		}
		until := s.Today
		if l.EndedOn != nil {
			until = *l.EndedOn
		}
		x := lived{part: l.Part, product: l.Product, days: math.Max(shortest, float64(until-l.PutOn))}
		x.ended = l.EndedOn != nil && !r.schools.Catalog.Outlived(l.Cause)
		if i.Care.Playing != nil {
			x.hours = i.Care.Playing.Over(day.Span{From: l.PutOn + 1, To: until}).Hours
		}
		key := [2]string{i.Kind.Key, routine.Key}
		groups[key] = append(groups[key], x)
	}
	list := []Lasting{}
	for _, k := range r.schools.KindsOf(s) {
		for _, key := range k.Routines {
			lives := groups[[2]string{k.Key, key}]
			if len(lives) == 0 {
				continue
			}
			l, err := r.lasting(s, k.Key, key, lives)
			if err != nil {
				return nil, err
			}
			l.Version = journal.Version(l.seen(l.Accepted))
			list = append(list, l)
		}
	}
	return list, nil
}

// accepted are the days that were accepted for a routine; nil for none.
func accepted(s *school.Snapshot, kind, routine string) *float64 {
	for _, l := range s.Learned {
		if l.Kind == kind && l.Routine == routine {
			return &l.Days
		}
	}
	return nil
}

func (l Lasting) seen(accepted *float64) [2]*float64 { return [2]*float64{l.Offered, accepted} }

func (r *Room) lasting(s *school.Snapshot, kindKey, routineKey string, lives []lived) (Lasting, error) {
	kind, _ := r.schools.Catalog.Kind(kindKey)
	routine, _ := r.schools.Catalog.Routine(routineKey)
	out := Lasting{
		Kind: kindKey, KindName: kind.Name, Routine: routineKey, Title: routine.Title, Parts: []PartLasting{}, Lives: len(lives),
		Products: []ProductLasting{}, Compared: []Compared{}, TradeIs: routine.LimitBasis(s.Choices),
	}
	if usual, _, ok := routine.LimitsFor(s.Choices); ok {
		out.Trade = usual.Days
	}
	out.Accepted = accepted(s, kindKey, routineKey)
	days, hours := sample(lives, func(l lived) float64 { return l.days }), sample(lives, func(l lived) float64 { return l.hours })
	var err error
	if out.Days, err = lifespan.Estimate(lifespan.EstimateIn{Durations: days.Durations, Ended: days.Ended}); err != nil {
		return out, err
	}
	if len(hours.Durations) > 0 {
		played, err := lifespan.Estimate(lifespan.EstimateIn{Durations: hours.Durations, Ended: hours.Ended})
		if err != nil {
			return out, err
		}
		out.Hours = played.QuantileTime
	}
	for _, l := range lives {
		if l.ended {
			out.Ended++
		}
	}
	if out.Days.Enough && out.Days.QuantileTime != nil {
		d := math.Max(1, math.Floor(*out.Days.QuantileTime))
		out.Offered = &d
	}
	if len(routine.On) > 1 {
		for _, part := range routine.On {
			p, _ := kind.Part(part)
			of := ofLives(lives, func(l lived) bool { return l.part == part })
			if len(of) > 0 {
				out.Parts = append(out.Parts, PartLasting{p.Name, len(of), endedOf(of), medianOf(of)})
			}
		}
	}
	out.Products, out.Compared, err = products(lives)
	out.Statement = statement(out)
	return out, err
}

// sample is lives as an estimate takes them. What was hardly played gives no hours.
func sample(lives []lived, of func(lived) float64) lifespan.Sample {
	var s lifespan.Sample
	for _, l := range lives {
		if d := of(l); d > 0 {
			s.Durations, s.Ended = append(s.Durations, d), append(s.Ended, l.ended)
		}
	}
	return s
}

func ofLives(lives []lived, which func(lived) bool) []lived {
	var list []lived
	for _, l := range lives {
		if which(l) {
			list = append(list, l)
		}
	}
	return list
}

func endedOf(lives []lived) int { return len(ofLives(lives, func(l lived) bool { return l.ended })) }

func medianOf(lives []lived) *float64 {
	s := sample(lives, func(l lived) float64 { return l.days })
	got, err := lifespan.Estimate(lifespan.EstimateIn{Durations: s.Durations, Ended: s.Ended})
	if err != nil {
		return nil
	}
	return got.Median
}

// products compares the products that were used, the two most used with each other.
func products(lives []lived) ([]ProductLasting, []Compared, error) {
	list, compared := []ProductLasting{}, []Compared{}
	by := map[string][]lived{}
	for _, l := range lives {
		if l.product != "" {
			by[l.product] = append(by[l.product], l)
		}
	}
	for name, of := range by {
		if n := endedOf(of); n > 0 {
			list = append(list, ProductLasting{name, len(of), n, medianOf(of)})
		}
	}
	slices.SortFunc(list, func(a, b ProductLasting) int { return cmp.Or(b.Lives-a.Lives, cmp.Compare(a.Product, b.Product)) })
	if len(list) < 2 {
		return list, compared, nil
	}
	days := func(l lived) float64 { return l.days }
	a, b := list[0].Product, list[1].Product
	test, err := lifespan.Compare(lifespan.CompareIn{A: sample(by[a], days), B: sample(by[b], days)})
	if err != nil {
		return list, compared, err
	}
	c := Compared{A: a, B: b, Test: test}
	switch {
	case !test.Enough:
		c.Statement = fmt.Sprintf("Too few of one or the other have ended to compare them (%d are wanted of each).", lifespan.Enough)
	case test.Differ():
		c.Statement = fmt.Sprintf("They do not last alike: chance alone would show so great a difference %s.", share(test.PValue))
	default:
		c.Statement = fmt.Sprintf("Nothing tells them apart: chance alone shows as great a difference %s.", share(test.PValue))
	}
	return list, append(compared, c), nil
}

func share(p float64) string {
	if p < 0.01 {
		return "less than once in a hundred times"
	}
	return fmt.Sprintf("%.0f times in a hundred", 100*p)
}

func statement(l Lasting) string {
	switch {
	case l.Ended == 0:
		return fmt.Sprintf("None of %d has come to its end yet.", l.Lives)
	case !l.Days.Enough:
		return fmt.Sprintf("%d of %d have ended; at %d an interval is offered.", l.Ended, l.Lives, lifespan.Enough)
	case l.Offered == nil:
		return fmt.Sprintf("%d of %d have ended, too few of those in use to say when a fifth will have.", l.Ended, l.Lives)
	}
	text := fmt.Sprintf("After %.0f days a fifth have ended", *l.Offered)
	if l.Days.Weibull != nil {
		text += map[lifespan.Manner]string{
			lifespan.Wear:   ", and the older the sooner: they wear out",
			lifespan.Early:  ", most of them early: handling rather than wear",
			lifespan.Chance: ", at any age alike: chance rather than wear",
		}[l.Days.Weibull.Manner()]
	}
	return text + "."
}

// Accepting names what of the school's own learning is taken in place of the trade's figure.
type Accepting struct {
	Kind    string `json:"kind"`
	Routine string `json:"routine"`
	Accept  bool   `json:"accept" doc:"False to go back to the trade's figure"`
}

// AcceptInterval puts the interval that was learned in place of the trade's, or goes back. What is accepted is worked out anew from the
// lives, so that nobody accepts a figure that does not hold any more.
func (r *Room) AcceptInterval(ctx context.Context, by journal.Person, in Accepting) (Lasting, error) {
	list, err := r.Lasting(ctx, by)
	if err != nil {
		return Lasting{}, err
	}
	n := slices.IndexFunc(list, func(l Lasting) bool { return l.Kind == in.Kind && l.Routine == in.Routine })
	if n < 0 {
		return Lasting{}, journal.Refuse("routine", "nothing is known of how long this lasts here", in.Routine)
	}
	l := list[n]
	if in.Accept && l.Offered == nil {
		return Lasting{}, journal.Refuse("accept", l.Statement, in.Accept)
	}
	return school.Write(ctx, r.schools, by, journal.MayChangeSettings, func(tx *store.Tx, s *school.Snapshot) (Lasting, error) {
		if err := journal.AsSeen(ctx, l.seen(accepted(s, in.Kind, in.Routine))); err != nil {
			return Lasting{}, err
		}
		if !in.Accept {
			l.Accepted = nil
			return l, upkeeprows.DropInterval(ctx, tx, in.Kind, in.Routine)
		}
		l.Accepted = l.Offered
		return l, upkeeprows.AcceptInterval(ctx, tx, upkeeprows.LearnedInterval{Kind: in.Kind, Routine: in.Routine, Days: *l.Offered, Observations: l.Ended})
	})
}
