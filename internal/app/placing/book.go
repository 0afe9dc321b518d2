package placing

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/school"
	"solfeggio/internal/core/assign"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/fit"
	"solfeggio/internal/core/why"
	"solfeggio/internal/store/playerrows"
)

// A Class says why somebody needs an instrument, and so who comes first.
type Class string

// The classes.
const (
	ByName     Class = "promised"    // it was promised by name until a day
	CannotPlay Class = "cannot-play" // theirs must not be played
	Parted     Class = "parted"      // theirs goes to a shop, or is there
	Outgrown   Class = "outgrown"    // theirs is too small today
	HasNone    Class = "without"     // they have none
)

// classWords say it.
var classWords = map[Class]string{
	ByName: "it is promised by name", CannotPlay: "theirs must not be played", Parted: "theirs is for a shop", Outgrown: "theirs is too small",
	HasNone: "they have none",
}

// A Need is somebody who needs a free instrument, to keep or for a while.
type Need struct {
	Class    Class      `json:"class" enum:"promised,cannot-play,parted,outgrown,without"`
	PlayerID *uuid.UUID `json:"player_id,omitempty" doc:"Left out where an ensemble plays it and nobody is named"`
	Player   string     `json:"player"`
	Instead  *uuid.UUID `json:"instead,omitempty" doc:"The instrument in whose place it goes; left out for one to keep"`
	First    *day.Day   `json:"first,omitempty" doc:"When it is needed first"`
	From     day.Day    `json:"from"`
	Until    *day.Day   `json:"until,omitempty" doc:"Left out while nobody knows"`

	kind   string
	named  string // of the kind
	size   string // that it must have in the place of another; by the chart for a player who has none, empty where nobody measured
	player *playerrows.Player
	has    *school.Instrument
	kept   *school.Instrument // what is promised by name
}

// An Offer is a free instrument that is for one need and for no other.
type Offer struct {
	Need
	InstrumentID uuid.UUID         `json:"instrument_id"`
	Tag          string            `json:"tag"`
	Cost         float64           `json:"cost" doc:"What it costs in the match; comparisons only"`
	Parts        []assign.CostPart `json:"parts"`
	Pinned       bool              `json:"pinned"`
	Why          why.Why           `json:"why"`
}

// A Book says of each free instrument for whom it is, from when to when, and why. Whatever screen names a loaner or a spare reads it.
type Book struct {
	Offers []Offer
	Unmet  []Need // for whom there is none
	of     map[uuid.UUID]*Offer
}

// Of is for whom a free instrument is; nil for nobody.
func (b *Book) Of(instrument uuid.UUID) *Offer { return b.of[instrument] }

// Kept reports whether a free instrument is for somebody to keep, or until one that must not be played is mended. What is for those whose
// own goes to a shop comes back with it, and the season's plan gives it to one after the other.
func (b *Book) Kept(instrument uuid.UUID) bool {
	o := b.Of(instrument)
	return o != nil && o.Class != Parted
}

// InsteadOf is what is offered in the place of an instrument; nil for nothing.
func (b *Book) InsteadOf(instrument uuid.UUID) *Offer {
	return b.find(func(o Offer) bool { return o.Instead != nil && *o.Instead == instrument })
}

// ToKeep is what is offered to a player who has none; nil for nothing.
func (b *Book) ToKeep(player uuid.UUID) *Offer {
	return b.find(func(o Offer) bool { return o.Instead == nil && o.PlayerID != nil && *o.PlayerID == player })
}

func (b *Book) find(is func(Offer) bool) *Offer {
	if n := slices.IndexFunc(b.Offers, is); n >= 0 {
		return &b.Offers[n]
	}
	return nil
}

// evenly is how the parts of a pair count where nobody said otherwise.
var evenly = assign.Weights{Size: 1, Grade: 1, Kept: 1, Rental: 1, Travel: 1, Kit: 1}

// Book decides for whom each free instrument is: first what was promised by name, then by the school's order of who comes first, as many as
// can be of each class, at the least cost in all.
func (r *Room) Book(s *school.Snapshot) *Book { return r.book(s, evenly, settled{}) }

func (r *Room) book(s *school.Snapshot, weights assign.Weights, by settled) *Book {
	b := &Book{Offers: []Offer{}, Unmet: []Need{}, of: map[uuid.UUID]*Offer{}}
	free := map[string][]*school.Instrument{}
	for _, i := range s.Instruments {
		if i.CannotBeHandedOut() == nil {
			free[i.Instrument.Kind] = append(free[i.Instrument.Kind], i)
		}
	}
	needs := r.needs(s)
	for len(needs) > 0 { // kind by kind
		n := slices.IndexFunc(needs, func(x Need) bool { return x.kind != needs[0].kind })
		if n < 0 {
			n = len(needs)
		}
		match(s, b, needs[:n], free[needs[0].kind], weights, by)
		needs = needs[n:]
	}
	for n := range b.Offers {
		b.of[b.Offers[n].InstrumentID] = &b.Offers[n]
	}
	return b
}

// needs lists who needs an instrument, kind by kind in score order, and of each kind by class.
func (r *Room) needs(s *school.Snapshot) (list []Need) {
	has := held(s)
	parted := map[uuid.UUID]bool{}
	for _, i := range s.Instruments {
		if need, ok := partedFrom(s, i, has); ok {
			list = append(list, need)
			if i.Away() {
				parted[*need.PlayerID] = true
			}
		}
	}
	for n := range s.Roster {
		p := &s.Roster[n]
		kind, known := r.schools.Catalog.Kind(p.Kind)
		if !known || p.LeftOn != nil {
			continue
		}
		i := has[heldBy{p.ID, p.Kind}]
		need := Need{
			Class: HasNone, PlayerID: &p.ID, Player: p.Name(), From: s.Today, First: firstOf(s, p),
			kind: p.Kind, named: kind.Name, player: p,
		}
		if i == nil {
			if !parted[p.ID] {
				need.size = chartSize(p)
				list = append(list, need)
			}
			continue
		}
		if who, ok := r.outgrows(s, p, i, s.Today); ok && who.On == nil {
			if _, other := partedFrom(s, i, has); !other {
				need.Class, need.Instead, need.size, need.has = Outgrown, &i.ID, who.Next, i
				list = append(list, need)
			}
		}
	}
	for _, i := range s.Instruments {
		if p := s.PromisedTo(i); p != nil && i.CannotBeHandedOut() == nil {
			n := slices.IndexFunc(list, func(x Need) bool { return x.PlayerID != nil && *x.PlayerID == p.ID && x.kind == i.Instrument.Kind })
			if n < 0 {
				list = append(list, Need{
					PlayerID: &p.ID, Player: p.Name(), From: s.Today,
					kind: i.Instrument.Kind, named: i.Kind.Name, size: chartSize(p), player: p,
				})
				n = len(list) - 1
			}
			list[n].Class, list[n].kept = ByName, i
		}
	}
	place := map[string]int{}
	for n, kind := range r.schools.KindsOf(s) {
		place[kind.Key] = n
	}
	slices.SortStableFunc(list, func(a, b Need) int {
		return cmp.Or(place[a.kind]-place[b.kind], strings.Compare(a.kind, b.kind), s.Rank(string(a.Class))-s.Rank(string(b.Class)))
	})
	return list
}

// partedFrom is the need of whoever cannot play the instrument that they have, or had before a shop got it.
func partedFrom(s *school.Snapshot, i *school.Instrument, has map[heldBy]*school.Instrument) (Need, bool) {
	need := Need{Instead: &i.ID, From: s.Today, kind: i.Instrument.Kind, named: i.Kind.Name, size: i.Size, has: i}
	switch {
	case i.Habit != nil && i.Care.Stopped != "":
		need.Class, need.PlayerID = CannotPlay, i.Habit.Player
	case i.Habit != nil && i.Job != nil && !i.Job.State.Begun():
		need.Class, need.PlayerID = Parted, i.Habit.Player
		if leaves := s.Leaves(i.Job); !leaves.IsZero() {
			need.From = max(s.Today, leaves)
		}
	case i.Away() && i.Job.Player != nil && has[heldBy{*i.Job.Player, i.Instrument.Kind}] == nil:
		need.Class, need.PlayerID, need.Until = Parted, i.Job.Player, i.Job.ExpectedOn
		if *need.Until < s.Today {
			need.Until = &s.Today
		}
	default:
		return need, false
	}
	for _, on := range []day.Day{i.Care.Rehearsal, i.Care.Concert} {
		if !on.IsZero() && (need.First == nil || on < *need.First) {
			need.First = &on
		}
	}
	if need.PlayerID != nil {
		p := s.Players[*need.PlayerID]
		if p == nil || p.LeftOn != nil {
			return need, false
		}
		need.player, need.Player = p, p.Name()
	}
	return need, true
}

// chartSize is the size that fits a player by the chart; empty where nobody measured, or there is one size only.
func chartSize(p *playerrows.Player) string {
	if size := school.SizeOf(*p); size != nil {
		return size.Size
	}
	return ""
}

// firstOf is the day of the next concert of a player's ensembles; nil for none.
func firstOf(s *school.Snapshot, p *playerrows.Player) *day.Day {
	for n := range s.Concerts { // by day
		c := &s.Concerts[n]
		if c.HeldOn >= s.Today && slices.ContainsFunc(c.Ensembles, func(id uuid.UUID) bool { return slices.Contains(p.Ensembles, id) }) {
			return &c.HeldOn
		}
	}
	return nil
}

// match gives the free instruments of a kind to those who need one.
func match(s *school.Snapshot, b *Book, needs []Need, free []*school.Instrument, weights assign.Weights, by settled) {
	ranks := make([]int, len(needs))
	cost := make([]float64, 0, len(needs)*len(free))
	parts := make([][][]assign.CostPart, len(needs))
	for n, need := range needs {
		ranks[n] = s.Rank(string(need.Class)) * farAhead
		if need.Class == CannotPlay || need.Class == Parted {
			ranks[n] += farAhead - 1
			if need.First != nil {
				ranks[n] += int(min(*need.First-s.Today, farAhead-1)) - farAhead + 1
			}
		}
		parts[n] = make([][]assign.CostPart, len(free))
		for c, i := range free {
			list, ok := need.pair(s, i, weights, by)
			if parts[n][c] = list; !ok {
				cost = append(cost, assign.Forbidden)
				continue
			}
			cost = append(cost, sum(list))
		}
	}
	got := assign.SolveRanked(ranks, len(free), cost)
	for _, pair := range got.Pairs {
		need, i := needs[pair[0]], free[pair[1]]
		o := Offer{Need: need, InstrumentID: i.ID, Tag: i.Tag, Parts: parts[pair[0]][pair[1]], Cost: sum(parts[pair[0]][pair[1]])}
		o.Pinned = need.PlayerID != nil && by.pinned(school.Pair{PlayerID: *need.PlayerID, InstrumentID: i.ID})
		if need.Class == ByName {
			o.Until = &i.Promise.Until
		}
		o.Why = o.because(s, len(needs), len(free))
		b.Offers = append(b.Offers, o)
	}
	for _, n := range got.UnmatchedRows {
		b.Unmet = append(b.Unmet, needs[n])
	}
}

// farAhead is by how many days ahead a need of the same class is told from another.
const farAhead = 400

func sum(parts []assign.CostPart) (cost float64) {
	for _, p := range parts {
		cost += p.Cost
	}
	return cost
}

// pair is what an instrument costs for a need; false where it must not be.
func (n Need) pair(s *school.Snapshot, i *school.Instrument, weights assign.Weights, by settled) ([]assign.CostPart, bool) {
	if p := s.PromisedTo(i); p != nil {
		if n.PlayerID == nil || *n.PlayerID != p.ID {
			return nil, false
		}
		return []assign.CostPart{{Name: "promised", Says: "promised until " + i.Promise.Until.Words()}}, true
	}
	if n.kept != nil {
		return nil, false
	}
	if n.Instead != nil { // in the place of one that is played: of one size, and nothing that an ensemble plays
		if i.Size != n.size || !i.Spare() || n.player != nil && !by.allows(school.Pair{PlayerID: n.player.ID, InstrumentID: i.ID}) {
			return nil, false
		}
		p := n.player
		if p == nil {
			p = &playerrows.Player{Kind: n.kind}
		}
		return candidate(s, p, i, i.Size).Parts(weights)
	}
	pair := school.Pair{PlayerID: n.player.ID, InstrumentID: i.ID}
	if !by.allows(pair) {
		return nil, false
	}
	list, ok := candidate(s, n.player, i, n.size).Parts(weights)
	if !ok && by.pinned(pair) { // a person decides over the chart
		return []assign.CostPart{{Name: "settled", Says: "settled by you"}}, true
	}
	return list, ok
}

func (o Offer) because(s *school.Snapshot, needs, free int) why.Why {
	w := why.Why{
		Rule: "assign.match", Basis: why.Basis{Kind: why.OwnRule, Source: "size chart from memory; weights are the school's"},
		Statement: fmt.Sprintf(
			"%s. As many of %d players who need one as can be, with %d free instruments, in the school's order of who comes first, at the "+
				"least cost in all; this pair costs %.1f of it. Nobody else is offered it.",
			capital(classWords[o.Class]), needs, free, math.Round(o.Cost*10)/10,
		),
	}
	if o.First != nil {
		w.Inputs = append(w.Inputs, why.Input{Name: "needed first", Value: o.First.Words()})
	}
	w.Inputs = append(w.Inputs, why.Input{Name: "who comes first", Value: s.Order()})
	for _, part := range o.Parts {
		if part.Says != "" {
			w.Inputs = append(w.Inputs, why.Input{Name: part.Name, Value: fmt.Sprintf("%s (%.1f)", part.Says, part.Cost)})
		}
	}
	if o.Pinned {
		w.Statement = "You settled this pair."
	}
	return w
}

func capital(text string) string { return strings.ToUpper(text[:1]) + text[1:] }

// turnover is when an instrument that is offered for a while is free for somebody else again; zero where nobody knows.
func (o Offer) turnover() day.Day {
	if o.Until == nil || o.Instead == nil {
		return 0
	}
	return *o.Until + fit.TurnoverDays
}
