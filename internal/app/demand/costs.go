package demand

import (
	"cmp"
	"maps"
	"math"
	"slices"
	"strings"

	"solfeggio/internal/app/school"
	"solfeggio/internal/core/kits"
	"solfeggio/internal/store/supplyrows"
)

// KitCost is what the kit of a kind costs for one player.
type KitCost struct {
	KindName  string `json:"kind_name"`
	Players   int    `json:"players" doc:"Who have one now"`
	KitCents  int64  `json:"kit_cents" doc:"To fill an empty kit"`
	YearCents int64  `json:"year_cents" doc:"To keep it filled for a year"`
	Unpriced  int    `json:"unpriced" doc:"Things of the kit without a price, which count as nothing"`
}

// playedKits are the kits of the instruments of one kind that somebody plays.
type playedKits struct {
	players int
	things  map[supplyrows.Stocked]*thing
	variety map[[2]string][]supplyrows.Stocked // what is in a kit, by size and strength of reeds
}

// A thing is what such kits have and use up of one supply.
type thing struct{ wanted, perWeek float64 }

func (p *playedKits) of(key supplyrows.Stocked) *thing {
	t := p.things[key]
	if t == nil {
		t = &thing{}
		p.things[key] = t
	}
	return t
}

// playedKitsOf gathers kits by kind, as they are used up in any year: not what happens to run out in this one.
func (r *Room) playedKitsOf(s *school.Snapshot, instruments []*school.Instrument, year horizon) map[string]*playedKits {
	all := map[string]*playedKits{}
	for _, i := range instruments {
		if i.Habit == nil {
			continue
		}
		kits := kitsOf(all, i.Kind.Key)
		kits.players++
		r.addKit(s, i, year, kits)
	}
	return all
}

func kitsOf(all map[string]*playedKits, kind string) *playedKits {
	if all[kind] == nil {
		all[kind] = &playedKits{things: map[supplyrows.Stocked]*thing{}, variety: map[[2]string][]supplyrows.Stocked{}}
	}
	return all[kind]
}

func (r *Room) addKit(s *school.Snapshot, i *school.Instrument, year horizon, to *playedKits) {
	of := r.caseOf(s, i, year)
	of.Renewals = nil
	var list []supplyrows.Stocked
	for _, item := range r.schools.Catalog.KitOf(i.Kind).Items {
		supply, _ := r.schools.Catalog.Supply(item.Supply)
		key := i.Stocked(supply)
		list = append(list, key)
		t := to.of(key)
		perWeek, _ := kits.Demand(supply, of)
		t.perWeek += perWeek
		if !r.Elsewhere(i, supply.Key) {
			t.wanted += float64(item.Wanted())
		}
	}
	to.variety[[2]string{i.Size, i.Reeds}] = list
}

// KitCosts works out what a kit costs for a player of each kind that is played, by the price of a unit in cents.
func (r *Room) KitCosts(s *school.Snapshot, price map[supplyrows.Stocked]float64) []KitCost {
	played := map[string]*playedKits{}
	year := horizonOf(s, 364)
	for _, b := range s.Blocks() {
		of := school.KeptOf(b, "supply.costs", func(map[string]*playedKits) bool { return true }, func() map[string]*playedKits {
			return r.playedKitsOf(s, b.Instruments, year)
		})
		for kind, more := range of {
			all := kitsOf(played, kind)
			all.players += more.players
			maps.Copy(all.variety, more.variety)
			for key, t := range more.things {
				of := all.of(key)
				of.wanted, of.perWeek = of.wanted+t.wanted, of.perWeek+t.perWeek
			}
		}
	}
	costs := []KitCost{}
	for _, kind := range r.schools.KindsOf(s) {
		of := played[kind.Key]
		if of == nil {
			continue
		}
		cost := KitCost{KindName: kind.Name, Players: of.players}
		for _, list := range of.variety {
			unpriced := 0
			for _, key := range list {
				if _, known := price[key]; !known {
					unpriced++
				}
			}
			cost.Unpriced = max(cost.Unpriced, unpriced)
		}
		var kit, year float64
		for _, key := range slices.SortedFunc(maps.Keys(of.things), bySupply) {
			kit += price[key] * of.things[key].wanted
			year += price[key] * of.things[key].perWeek * 52
		}
		cost.KitCents, cost.YearCents = int64(math.Round(kit/float64(of.players))), int64(math.Round(year/float64(of.players)))
		costs = append(costs, cost)
	}
	return costs
}

func bySupply(x, y supplyrows.Stocked) int {
	return cmp.Or(strings.Compare(x.Supply, y.Supply), strings.Compare(x.Size, y.Size))
}
