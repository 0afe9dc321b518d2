package placing

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/assign"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/why"
	"solfeggio/internal/store/playerrows"
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

	PromisedUntil *day.Day `json:"promised_until,omitempty" doc:"It is promised to this player by name until then"`
	Why           why.Why  `json:"why"`
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

// Propose pairs every player who plays a kind and has none of it with a free instrument, as the book has it (see Book): what is kept for
// those whose own cannot be played, or is at a shop, is given to nobody else.
func (r *Room) Propose(ctx context.Context, by journal.Person, in Wish) (Proposal, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return Proposal{}, err
	}
	out := Proposal{Pairs: []ProposedPair{}, Without: []Without{}, Order: []Needed{}, AtHome: []Needed{}}
	settled, err := settle(s, in)
	if err != nil {
		return out, err
	}
	book := r.book(s, in.Weights, settled)
	asked := func(kind string) bool { return len(in.Kinds) == 0 || slices.Contains(in.Kinds, kind) }
	free, players := map[string]int{}, map[string]int{}
	for _, i := range s.Instruments {
		if o := book.Of(i.ID); i.CannotBeHandedOut() == nil && (o == nil || o.Instead == nil) {
			free[i.Instrument.Kind]++
		}
	}
	for _, o := range book.Offers {
		switch {
		case !asked(o.kind):
		case o.Instead == nil:
			players[o.kind]++
			i := s.ByID[o.InstrumentID]
			pair := ProposedPair{
				Pair: school.Pair{PlayerID: *o.PlayerID, InstrumentID: i.ID}, Player: o.Player, Tag: i.Tag, KindName: i.Kind.Name, Size: i.Size,
				Cost: o.Cost, Parts: o.Parts, Pinned: o.Pinned, Remark: i.Notes, Why: o.Why,
			}
			if !i.Looked.IsZero() {
				pair.Looked = &i.Looked
			}
			if s.PromisedTo(i) != nil {
				pair.PromisedUntil = &i.Promise.Until
			}
			out.Pairs = append(out.Pairs, pair)
			out.Total += o.Cost
		case o.has.Away():
			out.Without = append(out.Without, meanwhile(s, o.Need, &o))
		}
	}
	for _, n := range book.Unmet {
		if n.Instead == nil {
			players[n.kind]++
		}
	}
	for _, n := range book.Unmet {
		switch {
		case !asked(n.kind):
		case n.Instead == nil:
			without(s, n, settled, free[n.kind], players[n.kind], &out)
		case n.has.Away():
			out.Without = append(out.Without, meanwhile(s, n, nil))
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
func tooLargeForTheWay(p *playerrows.Player, i *school.Instrument) bool {
	return i.Kind.Bulky && onFoot(p)
}

func onFoot(p *playerrows.Player) bool { return p.Transport != "" && p.Transport != "car" }

// without says of a player for whom there is no instrument why, and counts the order.
func without(s *school.Snapshot, n Need, by settled, free, players int, out *Proposal) {
	kind := n.kind
	w := Without{PlayerID: *n.PlayerID, Player: n.Player, KindName: n.named, Because: "no free instrument fits"}
	if size := school.SizeOf(*n.player); size != nil {
		w.Size = size.Size
	}
	switch pin, pinned := by.instrument[*n.PlayerID]; {
	case pinned:
		w.Because = "settled on " + s.ByID[pin].Tag + ", which is not free"
	case free == 0:
		w.Because = "none is free"
	case free < players:
		w.Because = fmt.Sprintf("%d %s free for %d players", free, map[bool]string{true: "is", false: "are"}[free == 1], players)
	}
	out.Without = append(out.Without, w)
	at := slices.IndexFunc(out.Order, func(n Needed) bool { return n.kind == kind && n.Size == w.Size })
	if at < 0 {
		at = len(out.Order)
		out.Order = append(out.Order, Needed{kind: kind, KindName: w.KindName, Size: w.Size})
	}
	out.Order[at].Count++
}

// meanwhile says of a player whose instrument a shop has what they can have until it is back.
func meanwhile(s *school.Snapshot, n Need, offered *Offer) Without {
	w := Without{PlayerID: *n.PlayerID, Player: n.Player, KindName: n.named, Size: n.has.Size}
	w.Because = fmt.Sprintf("%s is at the shop until about %s", n.has.Tag, n.has.Job.ExpectedOn.Words())
	if offered != nil {
		w.Because += "; " + offered.Tag + " can be lent meanwhile"
	}
	return w
}

// candidate puts an instrument beside a player.
func candidate(s *school.Snapshot, p *playerrows.Player, i *school.Instrument, wanted string) assign.Candidate {
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
