package demand

import (
	"context"
	"fmt"
	"slices"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/supplyrows"
)

// KitTiers is the kit of a kind with where the school keeps each thing.
type KitTiers struct {
	Kit    string     `json:"kit"`
	Kinds  []string   `json:"kinds" doc:"Names of the kinds at this school that have it"`
	Things []TierOf   `json:"things"`
	Empty  []TierName `json:"empty" doc:"Tiers in which there is nothing"`
}

// TierOf is where a thing of a kit is kept.
type TierOf struct {
	Supply  string       `json:"supply"`
	Name    string       `json:"name"`
	Note    string       `json:"note"`
	ToPlay  bool         `json:"to_play" doc:"Nobody can play without it"`
	Tier    catalog.Tier `json:"tier" enum:"case,full,cupboard"`
	Usual   catalog.Tier `json:"usual" enum:"case,full,cupboard" doc:"Where it is kept when nobody says otherwise"`
	Version string       `json:"version"`
}

// TierName is a tier, so that the API's document says which there are.
type TierName string

// KitTiers lists the kits of the kinds that the school has, in score order.
func (r *Room) KitTiers(ctx context.Context, by journal.Person) ([]KitTiers, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	list := []KitTiers{}
	has := map[string]bool{}
	for _, i := range s.Instruments {
		has[i.Kind.Key] = true
	}
	for _, kind := range r.schools.KindsOf(s) {
		if !has[kind.Key] {
			continue
		}
		kit := r.schools.Catalog.KitOf(kind)
		n := slices.IndexFunc(list, func(k KitTiers) bool { return k.Kit == kit.Key })
		if n >= 0 {
			list[n].Kinds = append(list[n].Kinds, kind.Name)
			continue
		}
		tiers := KitTiers{Kit: kit.Key, Kinds: []string{kind.Name}, Things: []TierOf{}, Empty: []TierName{}}
		for _, item := range kit.Items {
			thing, _ := r.schools.Catalog.Supply(item.Supply)
			tier := kit.Tier(item, s.Moved)
			tiers.Things = append(tiers.Things, TierOf{
				item.Supply, thing.Name, item.Note, item.ToPlay, tier, kit.Tier(item, nil), journal.Version(tier),
			})
		}
		for _, tier := range catalog.Tiers {
			if !slices.ContainsFunc(tiers.Things, func(t TierOf) bool { return t.Tier == tier }) {
				tiers.Empty = append(tiers.Empty, TierName(tier))
			}
		}
		list = append(list, tiers)
	}
	return list, nil
}

// KitMove says where a thing of a kit is kept from now on.
type KitMove struct {
	Kit    string       `json:"kit"`
	Supply string       `json:"supply"`
	Tier   catalog.Tier `json:"tier" enum:"case,full,cupboard"`
}

// MoveInKit keeps a thing of a kit elsewhere. What nobody can play without stays in the case, and no case is left with nothing in it.
func (r *Room) MoveInKit(ctx context.Context, by journal.Person, in KitMove) error {
	if err := by.Need(journal.MayChangeSettings); err != nil {
		return err
	}
	kit, ok := r.schools.Catalog.Kit(in.Kit)
	if !ok {
		return journal.Refuse("kit", "is no kit", in.Kit)
	}
	item, ok := kit.Item(in.Supply)
	if !ok {
		return journal.Refuse("supply", "does not belong to this kit", in.Supply)
	}
	thing, _ := r.schools.Catalog.Supply(item.Supply)
	switch {
	case !slices.Contains(catalog.Tiers, in.Tier):
		return journal.Refuse("tier", "is one of case, full and cupboard", in.Tier)
	case item.ToPlay && in.Tier != catalog.EveryCase:
		return journal.Refuse("tier", fmt.Sprintf("nobody can play without the %s: it stays in every case", catalog.InText(thing.Name)), in.Tier)
	}
	_, err := school.Write(ctx, r.schools, by, journal.MayChangeSettings, func(tx *store.Tx, s *school.Snapshot) (struct{}, error) {
		key := catalog.TierKey{Kit: kit.Key, Supply: item.Supply}
		left := slices.ContainsFunc(kit.Items, func(other catalog.KitItem) bool {
			return other.Supply != item.Supply && kit.Tier(other, s.Moved) == catalog.EveryCase
		})
		if in.Tier != catalog.EveryCase && !left {
			return struct{}{}, journal.Refuse("tier", "then there would be nothing in the case: leave at least one thing there", in.Tier)
		}
		if err := journal.AsSeen(ctx, kit.Tier(item, s.Moved)); err != nil {
			return struct{}{}, err
		}
		if err := supplyrows.SetKitTier(ctx, tx, key, in.Tier); err != nil {
			return struct{}{}, err
		}
		_, err := r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.SettingsChanged}, map[string]any{"operation": "move-in-kit", "to": in})
		return struct{}{}, err
	})
	return err
}
