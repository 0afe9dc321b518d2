package placing

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/assign"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/why"
	"solfeggio/internal/store"
)

// Wish asks for a proposal.
type Wish struct {
	Kinds    []string       `json:"kinds,omitempty" maxItems:"60" doc:"Keys of the kinds; left out for all"`
	Weights  assign.Weights `json:"weights"`
	Pins     []school.Pair  `json:"pins,omitempty" maxItems:"500" doc:"Pairs that are settled"`
	Refusals []school.Pair  `json:"refusals,omitempty" maxItems:"2000" doc:"Pairs that must not be"`
}

// Proposal is who should get what.
type Proposal struct {
	Pairs   []ProposedPair `json:"pairs" doc:"In score order, then by name"`
	Without []Without      `json:"without" doc:"Players for whom there is none"`
	Order   []Needed       `json:"order" doc:"What would have to be rented or bought for them"`
	AtHome  []Needed       `json:"at_home" doc:"Second ones, for players whose instrument is too large for their way to school"`
	Total   float64        `json:"total"`
}

// ProposedPair is a pair with its reasons.
type ProposedPair struct {
	school.Pair
	Player   string            `json:"player"`
	Tag      string            `json:"tag"`
	KindName string            `json:"kind_name"`
	Size     string            `json:"size"`
	Cost     float64           `json:"cost"`
	Parts    []assign.CostPart `json:"parts"`
	Pinned   bool              `json:"pinned"`
	Looked   *day.Day          `json:"looked,omitempty" doc:"When it was looked over last; left out when it never was"`
	Remark   string            `json:"remark" doc:"As it stands in the school's list"`
	Why      why.Why           `json:"why"`
}

// Without is a player who goes without, and why.
type Without struct {
	PlayerID uuid.UUID `json:"player_id"`
	Player   string    `json:"player"`
	KindName string    `json:"kind_name"`
	Size     string    `json:"size" doc:"What would fit; empty when that is not known or there is one size only"`
	Because  string    `json:"because"`
}

// Needed is a line of the order.
type Needed struct {
	KindName     string `json:"kind_name"`
	Size         string `json:"size"`
	Count        int    `json:"count"`
	Months       int    `json:"months" doc:"Of rental: until the school year ends"`
	MonthlyCents *int64 `json:"monthly_cents,omitempty" doc:"For one; left out when no price is known"`
	Cents        *int64 `json:"cents,omitempty" doc:"For all, over the months"`

	kind string
}

// Propose pairs every player who plays a kind and has none of it with a free instrument: as many as can be, at the least cost.
func (r *Room) Propose(ctx context.Context, by journal.Person, in Wish) (Proposal, error) {
	s, err := r.Snapshot(ctx, by)
	if err != nil {
		return Proposal{}, err
	}
	out := Proposal{Pairs: []ProposedPair{}, Without: []Without{}, Order: []Needed{}, AtHome: []Needed{}}
	settled, err := settle(s, in)
	if err != nil {
		return out, err
	}
	for _, kind := range r.KindsOf(s) {
		if len(in.Kinds) > 0 && !slices.Contains(in.Kinds, kind.Key) {
			continue
		}
		if err := proposeKind(s, kind.Key, kind.Name, in.Weights, settled, &out); err != nil {
			return out, err
		}
	}
	slices.SortStableFunc(out.Order, func(x, y Needed) int {
		return cmp.Or(strings.Compare(x.KindName, y.KindName), strings.Compare(x.Size, y.Size))
	})
	for n := range out.Order {
		out.Order[n] = needed(s, out.Order[n].kind, out.Order[n].KindName, out.Order[n].Size, out.Order[n].Count)
	}
	secondAtHome(s, in.Kinds, &out)
	return out, nil
}

// secondAtHome counts the players whose instrument is too large for their way to school.
func secondAtHome(s *school.Snapshot, kinds []string, out *Proposal) {
	count := map[[2]string]int{}
	for _, i := range s.Instruments {
		if (len(kinds) == 0 || slices.Contains(kinds, i.Instrument.Kind)) && i.Habit != nil && i.Habit.Player != nil &&
			tooLargeForTheWay(s.Players[*i.Habit.Player], i) {
			count[[2]string{i.Instrument.Kind, i.Size}]++
		}
	}
	for _, pair := range out.Pairs {
		if i := s.ByID[pair.InstrumentID]; tooLargeForTheWay(s.Players[pair.PlayerID], i) {
			count[[2]string{i.Instrument.Kind, i.Size}]++
		}
	}
	for _, i := range s.Instruments { // in score order
		key := [2]string{i.Instrument.Kind, i.Size}
		if count[key] > 0 {
			out.AtHome = append(out.AtHome, needed(s, key[0], i.Kind.Name, key[1], count[key]))
			delete(count, key)
		}
	}
}

// tooLargeForTheWay reports whether a player would have to carry a large instrument on foot, by bicycle or by bus.
func tooLargeForTheWay(p *store.Player, i *school.Instrument) bool { return i.Kind.Bulky && onFoot(p) }

func onFoot(p *store.Player) bool { return p.Transport != "" && p.Transport != "car" }

// waiting lists the players who play a kind and hold none of it.
func waiting(s *school.Snapshot, kind string) []*store.Player {
	has := map[uuid.UUID]bool{}
	for _, i := range s.Instruments {
		if i.Instrument.Kind == kind && i.Habit != nil && i.Habit.Player != nil {
			has[*i.Habit.Player] = true
		}
	}
	var list []*store.Player
	for n := range s.Roster {
		if p := &s.Roster[n]; p.Kind == kind && p.LeftOn == nil && !has[p.ID] {
			list = append(list, p)
		}
	}
	return list
}

func proposeKind(s *school.Snapshot, kind, kindName string, weights assign.Weights, settled settled, out *Proposal) error {
	players := waiting(s, kind)
	if len(players) == 0 {
		return nil
	}
	var free []*school.Instrument
	for _, i := range s.Instruments {
		if i.Instrument.Kind == kind && i.CannotBeHandedOut() == nil {
			free = append(free, i)
		}
	}
	cost := make([][]*float64, len(players))
	parts := make([][][]assign.CostPart, len(players))
	for r, p := range players {
		cost[r], parts[r] = make([]*float64, len(free)), make([][]assign.CostPart, len(free))
		wanted := ""
		if size := school.SizeOf(*p); size != nil {
			wanted = size.Size
		}
		for c, i := range free {
			if !settled.allows(school.Pair{PlayerID: p.ID, InstrumentID: i.ID}) {
				continue
			}
			list, ok := candidate(s, p, i, wanted).Parts(weights)
			if !ok && settled.pinned(school.Pair{PlayerID: p.ID, InstrumentID: i.ID}) { // a person decides over the chart
				list, ok = []assign.CostPart{{Name: "settled", Says: "settled by you"}}, true
			}
			if ok {
				sum := 0.
				for _, part := range list {
					sum += part.Cost
				}
				cost[r][c], parts[r][c] = &sum, list
			}
		}
	}
	got, err := assign.Match(assign.MatchIn{Cost: cost})
	if err != nil {
		return fmt.Errorf("matching players of the %s: %w", kindName, err)
	}
	for _, pair := range got.Pairs {
		p, i := players[pair[0]], free[pair[1]]
		list := parts[pair[0]][pair[1]]
		proposed := ProposedPair{
			Pair: school.Pair{
				PlayerID:     p.ID,
				InstrumentID: i.ID,
			}, Player: p.Name(), Tag: i.Tag, KindName: kindName, Size: i.Size, Cost: *cost[pair[0]][pair[1]], Parts: list,
			Pinned: settled.pinned(school.Pair{PlayerID: p.ID, InstrumentID: i.ID}), Remark: i.Notes,
		}
		if !i.Looked.IsZero() {
			proposed.Looked = &i.Looked
		}
		proposed.Why = proposed.because(len(players), len(free))
		out.Pairs = append(out.Pairs, proposed)
		out.Total += proposed.Cost
	}
	for _, r := range got.UnmatchedRows {
		p := players[r]
		without := Without{PlayerID: p.ID, Player: p.Name(), KindName: kindName, Because: "no free instrument fits"}
		if size := school.SizeOf(*p); size != nil {
			without.Size = size.Size
		}
		switch pin, pinned := settled.instrument[p.ID]; {
		case pinned:
			without.Because = "settled on " + s.ByID[pin].Tag + ", which is not free"
		case len(free) == 0:
			without.Because = "none is free"
		case len(free) < len(players):
			without.Because = fmt.Sprintf("%d %s free for %d players", len(free), map[bool]string{true: "is", false: "are"}[len(free) == 1],
				len(players))
		}
		out.Without = append(out.Without, without)
		at := slices.IndexFunc(out.Order, func(n Needed) bool { return n.KindName == kindName && n.Size == without.Size })
		if at < 0 {
			at = len(out.Order)
			out.Order = append(out.Order, Needed{kind: kind, KindName: kindName, Size: without.Size})
		}
		out.Order[at].Count++
	}
	return nil
}

// candidate puts an instrument beside a player.
func candidate(s *school.Snapshot, p *store.Player, i *school.Instrument, wanted string) assign.Candidate {
	c := assign.Candidate{
		Kind: p.Kind, Size: i.Size, Wanted: wanted, Grade: i.Triage.Grade, Unseen: i.NeverSeen(),
		Kept:  len(i.HeldBy) > 0 && i.HeldBy[len(i.HeldBy)-1] == p.ID,
		Bulky: i.Kind.Bulky, OnFoot: onFoot(p), KitGaps: i.Missing(),
	}
	if r := i.Rental; r != nil && r.ReturnBy != nil {
		if end := s.YearEnd(); end == nil || *r.ReturnBy < *end {
			weeks := max(0, float64(*r.ReturnBy-s.Today)/7)
			c.RentalWeeks = &weeks
		}
	}
	return c
}

func (p ProposedPair) because(players, free int) why.Why {
	w := why.Why{
		Rule: "assign.match", Basis: why.Basis{Kind: why.OwnRule, Source: "size chart from memory; weights are the school's"},
		Statement: fmt.Sprintf(
			"As many of %d players as can be, with %d free instruments, at the least cost in all; this pair costs %.1f of it.",
			players,
			free,
			math.Round(p.Cost*10)/10,
		),
	}
	for _, part := range p.Parts {
		if part.Says == "" {
			continue
		}
		w.Inputs = append(w.Inputs, why.Input{Name: part.Name, Value: fmt.Sprintf("%s (%.1f)", part.Says, part.Cost)})
	}
	if p.Pinned {
		w.Statement = "You settled this pair."
	}
	return w
}
