package supply

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/kits"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/supplyrows"
)

// KitThing is something that belongs in a case, and how it was last found.
type KitThing struct {
	Supply string             `json:"supply"`
	Name   string             `json:"name"`
	Size   string             `json:"size" doc:"Its size, or the strength of the player's reeds; empty where there is one for all or it is not known"`
	Wanted int                `json:"wanted" doc:"How many belong in the kit"`
	ToPlay bool               `json:"to_play" doc:"Nobody can play without it"`
	Note   string             `json:"note"`
	State  catalog.KitState   `json:"state" enum:"there,low,wet,missing"`
	States []catalog.KitState `json:"states" enum:"there,low,wet,missing" doc:"What it can be"`
	Since  *time.Time         `json:"since,omitempty" doc:"When it was first found so; left out while it is in order"`
}

// KitOf lists what belongs in the case of an instrument in the hands of a player of reeds of a strength, in the order of the catalogue, and
// what else of its kit was given with it.
func (r *Room) KitOf(i *school.Instrument, reeds string, given KeptStates) []KitThing {
	list := []KitThing{}
	for _, item := range r.schools.Catalog.KitOf(i.Kind).Items {
		if _, with := given[item.Supply]; !with && r.demand.Elsewhere(i, item.Supply) {
			continue
		}
		s, _ := r.schools.Catalog.Supply(item.Supply)
		thing := KitThing{
			Supply: s.Key,
			Name:   s.Name,
			Size:   s.In(i.Size, reeds),
			Wanted: item.Wanted(),
			ToPlay: item.ToPlay,
			Note:   item.Note,
			State:  catalog.There,
			States: s.States(),
		}
		if f, ok := i.Kit[s.Key]; ok {
			thing.State, thing.Since = f.State, &f.NotedAt
		}
		list = append(list, thing)
	}
	return list
}

// Gaps names what is missing from the kit of an instrument.
func (r *Room) Gaps(i *school.Instrument) []string {
	names := []string{}
	for _, item := range r.schools.CaseOf(i) {
		if i.Kit[item.Supply].State == catalog.Missing {
			s, _ := r.schools.Catalog.Supply(item.Supply)
			names = append(names, catalog.InText(s.Name))
		}
	}
	return names
}

// KitCheck is how the things of a kit were found. What is not named is left as it was.
type KitCheck struct {
	States map[string]catalog.KitState `json:"states" doc:"State by key of the supply"`
}

// KitDetail is what the log keeps of a kit that was looked through or refilled.
type KitDetail struct {
	Changes []KitChange `json:"changes"`
}

// KitChange is one thing of a kit before and after.
type KitChange struct {
	Supply string                `json:"supply"`
	Name   string                `json:"name"`
	Before catalog.KitState      `json:"before"`
	After  catalog.KitState      `json:"after"`
	Took   map[uuid.UUID]float64 `json:"took,omitempty" doc:"From stock, by lot"`
}

// CheckKit notes how a kit was found.
func (r *Room) CheckKit(ctx context.Context, by journal.Person, id uuid.UUID, in KitCheck) (journal.Changed, error) {
	return school.Write(ctx, r.schools, by, journal.MayInspect, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		i, err := s.Instrument(id)
		if err != nil {
			return journal.Changed{}, err
		}
		changes, err := r.SetKit(ctx, tx, by, i, in.States, s.Today)
		if err != nil {
			return journal.Changed{}, err
		}
		event, err := r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.KitChecked, Instrument: &id}, KitDetail{changes})
		return journal.Changed{Events: []uuid.UUID{event}}, err
	})
}

// SetKit notes the states of things of a kit and says what changed, in the order of the catalogue.
func (r *Room) SetKit(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	i *school.Instrument,
	states map[string]catalog.KitState,
	today day.Day,
) ([]KitChange, error) {
	kit := r.schools.Catalog.KitOf(i.Kind)
	for supply, state := range states {
		known, ok := r.schools.Catalog.Supply(supply)
		if _, in := kit.Item(supply); !ok || !in {
			return nil, journal.Refuse("kit."+supply, "does not belong to the kit of a "+catalog.InText(i.Kind.Name), supply)
		}
		if !slices.Contains(known.States(), state) {
			return nil, journal.Refuse("kit."+supply, fmt.Sprintf("a %s cannot be %q", catalog.InText(known.Name), state), state)
		}
	}
	before, err := KitStates(ctx, tx, i.ID)
	if err != nil {
		return nil, err
	}
	changes := []KitChange{}
	for _, item := range kit.Items {
		state, named := states[item.Supply]
		if !named || state == before.Of(item.Supply) {
			continue
		}
		s, _ := r.schools.Catalog.Supply(item.Supply)
		if err := supplyrows.SetKit(ctx, tx, supplyrows.KitFault{Instrument: i.ID, Supply: item.Supply, State: state, NotedAt: r.schools.Now()}, &by.ID); err != nil {
			return nil, err
		}
		changes = append(changes, KitChange{Supply: item.Supply, Name: s.Name, Before: before.Of(item.Supply), After: state})
	}
	return changes, supplyrows.KitLooked(ctx, tx, i.ID, today)
}

// KeptStates are the states of a kit as the database has them.
type KeptStates map[string]catalog.KitState

// Of is the state of a thing; what nobody noted is there.
func (k KeptStates) Of(supply string) catalog.KitState {
	if state, ok := k[supply]; ok {
		return state
	}
	return catalog.There
}

// KitStates reads what is noted of the kit of an instrument.
func KitStates(ctx context.Context, tx *store.Tx, instrument uuid.UUID) (KeptStates, error) {
	faults, err := supplyrows.KitFaults(ctx, tx, instrument)
	states := KeptStates{}
	for _, f := range faults {
		states[f.Supply] = f.State
	}
	return states, err
}

// KitToRefill is a kit with something to put in order.
type KitToRefill struct {
	InstrumentID uuid.UUID     `json:"instrument_id"`
	Tag          string        `json:"tag"`
	KindName     string        `json:"kind_name"`
	Room         string        `json:"room"`
	Slot         string        `json:"slot"`
	Holder       string        `json:"holder" doc:"Empty when it stands in the room"`
	Things       []RefillThing `json:"things"`
}

// RefillThing is something to put in order in a kit.
type RefillThing struct {
	KitThing
	Takes   int     `json:"takes" doc:"Units that it takes from stock"`
	Unit    string  `json:"unit"`
	InStock float64 `json:"in_stock" doc:"Units that are not out of date"`
}

// RefillRound lists the kits with something to put in order: what keeps somebody from playing first, then in the order of the
// shelves.
func (r *Room) RefillRound(ctx context.Context, by journal.Person) ([]KitToRefill, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	var stock map[supplyrows.Stocked]float64
	if err := r.schools.Read(ctx, by, func(tx *store.Tx) error {
		stock, err = Usable(ctx, tx, s.Today)
		return err
	}); err != nil {
		return nil, err
	}
	list := []KitToRefill{}
	for _, i := range s.Instruments {
		if len(i.Kit) == 0 {
			continue
		}
		kit := KitToRefill{
			InstrumentID: i.ID,
			Tag:          i.Tag,
			KindName:     i.Named(),
			Room:         i.Room,
			Slot:         i.Slot,
			Holder:       s.Listed(i).Holder,
			Things:       []RefillThing{},
		}
		for _, thing := range r.KitOf(i, i.Reeds, nil) {
			if thing.State == catalog.There {
				continue
			}
			supply, _ := r.schools.Catalog.Supply(thing.Supply)
			item, _ := r.schools.Catalog.KitOf(i.Kind).Item(thing.Supply)
			of := i.Stocked(supply)
			kit.Things = append(
				kit.Things,
				RefillThing{KitThing: thing, Takes: kits.Takes(item, thing.State), Unit: supply.Unit, InStock: stock[of]},
			)
		}
		if len(kit.Things) > 0 {
			list = append(list, kit)
		}
	}
	slices.SortStableFunc(list, func(x, y KitToRefill) int {
		return cmp.Or(urgency(y)-urgency(x), strings.Compare(x.Room, y.Room), strings.Compare(x.Slot, y.Slot))
	})
	return list, nil
}

// urgency is 1 for a kit whose player cannot play, else 0.
func urgency(k KitToRefill) int {
	if k.Holder != "" && slices.ContainsFunc(k.Things, func(t RefillThing) bool { return t.ToPlay && t.State == catalog.Missing }) {
		return 1
	}
	return 0
}

// Refill says which things of which kits were put in order.
type Refill struct {
	Things []ThingOfKit `json:"things" minItems:"1" maxItems:"500"`
}

// ThingOfKit names a thing of the kit of an instrument.
type ThingOfKit struct {
	InstrumentID uuid.UUID `json:"instrument_id"`
	Supply       string    `json:"supply"`
}

// Refilled says what was done, and of what the stock did not hold enough by the books.
type Refilled struct {
	Events []uuid.UUID `json:"events"`
	Short  []string    `json:"short" doc:"Supplies of which there was less in stock than was used; count them"`
}

// Refill puts things of kits in order and takes them from stock, what is soonest out of date first. By hand there may be more
// than the books say: then the stock goes to nothing and the supply is named.
func (r *Room) Refill(ctx context.Context, by journal.Person, in Refill) (Refilled, error) {
	return school.Write(ctx, r.schools, by, journal.MayFinishCare, func(tx *store.Tx, s *school.Snapshot) (Refilled, error) {
		out := Refilled{Events: []uuid.UUID{}, Short: []string{}}
		for n, t := range in.Things {
			i := s.ByID[t.InstrumentID]
			if i == nil {
				return out, journal.Refuse(fmt.Sprintf("things[%d].instrument_id", n), "no such instrument", t.InstrumentID)
			}
			item, ok := r.schools.Catalog.KitOf(i.Kind).Item(t.Supply)
			if !ok {
				return out, journal.Refuse(fmt.Sprintf("things[%d].supply", n), "does not belong to its kit", t.Supply)
			}
			states, err := KitStates(ctx, tx, i.ID)
			if err != nil {
				return out, err
			}
			before := states.Of(t.Supply)
			if before == catalog.There { // somebody was quicker
				continue
			}
			supply, _ := r.schools.Catalog.Supply(t.Supply)
			lots, err := GoingWith(ctx, tx, i.Stocked(supply))
			if err != nil {
				return out, err
			}
			took, short, err := TakeFromStock(ctx, tx, lots, float64(kits.Takes(item, before)), s.Today)
			if err != nil {
				return out, err
			}
			if short > 0 && !slices.Contains(out.Short, supply.Name) {
				out.Short = append(out.Short, supply.Name)
			}
			if err := supplyrows.SetKit(ctx, tx, supplyrows.KitFault{Instrument: i.ID, Supply: t.Supply, State: catalog.There}, &by.ID); err != nil {
				return out, err
			}
			event, err := r.schools.Record(
				ctx,
				tx,
				by,
				eventrows.Event{What: eventrows.KitRefilled, Instrument: &i.ID},
				KitDetail{[]KitChange{{t.Supply, supply.Name, before, catalog.There, took}}},
			)
			if err != nil {
				return out, err
			}
			out.Events = append(out.Events, event)
		}
		return out, nil
	})
}

// undoKit puts a kit back as it was before, and what was taken for it back into stock.
func (r *Room) undoKit(ctx context.Context, tx *store.Tx, u school.Undoing, d KitDetail) error {
	now, err := KitStates(ctx, tx, *u.Event.Instrument)
	if err != nil {
		return err
	}
	for _, c := range d.Changes {
		if now.Of(c.Supply) != c.After {
			return &journal.Fault{Kind: journal.Conflict, Message: fmt.Sprintf("%s was looked at again since; change it by hand.", c.Name)}
		}
		if err := supplyrows.SetKit(ctx, tx, supplyrows.KitFault{Instrument: *u.Event.Instrument, Supply: c.Supply, State: c.Before, NotedAt: r.schools.Now()},
			&u.By.ID); err != nil {
			return err
		}
		for lot, quantity := range c.Took {
			if err := supplyrows.PutBack(ctx, tx, lot, quantity); err != nil {
				return err
			}
		}
	}
	return nil
}
