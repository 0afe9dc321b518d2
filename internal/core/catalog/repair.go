package catalog

import (
	"errors"
	"fmt"
	"slices"
)

// A Trade is a kind of work that repair shops do: not every shop does all.
type Trade struct {
	Key       string   `json:"key"`
	Name      string   `json:"name"`
	Families  []string `json:"families" jsonschema:"enum=woodwind,enum=brass,enum=percussion,enum=keyboard,enum=strings" doc:"Families of kinds whose instruments it mends; empty for bows"`
	Besides   []string `json:"besides,omitempty" doc:"Kinds of these families that it leaves to others"`
	NotWanted string   `json:"not_wanted" doc:"What a shop is usually asked to leave alone"`
	PlayTest  []string `json:"play_test" jsonschema:"minItems=1" doc:"How it is tried when it is back, in order"`
}

// A Repair is a line of a shop's work, in the trade's words.
type Repair struct {
	Key      string   `json:"key"`
	Name     string   `json:"name"`
	Trade    string   `json:"trade"`
	Mends    []string `json:"mends" doc:"Codes of the findings that it ends"`
	Routines []string `json:"routines,omitempty" doc:"Care by a technician that is done with it"`
	Minutes  int      `json:"minutes" doc:"At the shop's bench, from memory"`
	Cents    int64    `json:"cents" doc:"Usual price, from memory"`
}

// NeedsShop reports whether a finding's action is a repair shop's: what stops an instrument mostly ends there too.
func NeedsShop(action string) bool {
	return slices.Contains([]string{"shop", "shop-now", "stop"}, action)
}

// bows are mended by those who mend bows, whatever instrument they belong to.
const bowTrade = "bows"

// Trade finds a trade by its key.
func (c *Catalog) Trade(key string) (*Trade, bool) { t, ok := c.trades[key]; return t, ok }

// Repair finds a repair by its key.
func (c *Catalog) Repair(key string) (*Repair, bool) { r, ok := c.repairs[key]; return r, ok }

// RepairsOf lists what shops do to instruments of the kind, those of its bow after its own.
func (c *Catalog) RepairsOf(k *Kind) []*Repair {
	var list []*Repair
	for i := range c.Repairs {
		if r := &c.Repairs[i]; c.does(r, k) {
			list = append(list, r)
		}
	}
	return list
}

// does reports whether a repair can be made on instruments of the kind.
func (c *Catalog) does(r *Repair, k *Kind) bool {
	if r.Trade == bowTrade {
		return slices.ContainsFunc(k.Parts, func(p Part) bool { return p.Material == BowHair })
	}
	t := c.trades[r.Trade]
	return t != nil && slices.Contains(t.Families, k.Family) && !slices.Contains(t.Besides, k.Base())
}

// Mending finds the repair that ends a finding on instruments of the kind.
func (c *Catalog) Mending(k *Kind, finding string) (*Repair, bool) {
	return c.repairWhere(k, func(r *Repair) bool { return slices.Contains(r.Mends, finding) })
}

// RepairDoing finds the repair by which a technician's care is done on instruments of the kind.
func (c *Catalog) RepairDoing(k *Kind, routine string) (*Repair, bool) {
	return c.repairWhere(k, func(r *Repair) bool { return slices.Contains(r.Routines, routine) })
}

func (c *Catalog) repairWhere(k *Kind, fits func(*Repair) bool) (*Repair, bool) {
	for i := range c.Repairs {
		if r := &c.Repairs[i]; fits(r) && c.does(r, k) {
			return r, true
		}
	}
	return nil, false
}

// NewCents is what a new instrument of the kind and size usually costs, from memory.
func (k Kind) NewCents(size string) int64 {
	if k.NewSmall > 0 && k.fractional(size) {
		return k.NewSmall
	}
	return k.New
}

// fractional reports whether a size is one for children: all but the largest. Those of bows and of unknown size count as whole.
func (k Kind) fractional(size string) bool {
	return size != "" && len(k.Sizes) > 0 && size != k.Sizes[len(k.Sizes)-1]
}

// Places is how many places it takes in a van.
func (k Kind) Places() int { return max(1, k.VanPlaces) }

func (c *Catalog) checkRepairs() error {
	for _, r := range c.Repairs {
		if c.trades[r.Trade] == nil {
			return fmt.Errorf("repair %s: no trade %q", r.Key, r.Trade)
		}
		for _, code := range r.Mends {
			if c.findings[code] == nil {
				return fmt.Errorf("repair %s: no finding %q", r.Key, code)
			}
		}
		for _, routine := range r.Routines {
			if c.routines[routine] == nil {
				return fmt.Errorf("repair %s: no routine %q", r.Key, routine)
			}
		}
	}
	// Whatever a kind can have that needs a shop is mended by one, and so is the care that is a technician's.
	var faults []error
	for i := range c.Kinds {
		k := &c.Kinds[i]
		for _, f := range c.FindingsOf(k) {
			if !NeedsShop(f.Action) || f.FixesRoutine != "" {
				continue
			}
			if _, ok := c.Mending(k, f.Code); !ok && len(f.Bench) == 0 {
				faults = append(faults, fmt.Errorf("finding %s of a %s is a shop's, and no repair mends it", f.Code, k.Key))
			}
		}
		for _, key := range k.Routines {
			if r := c.routines[key]; r.Who == Technician {
				if _, ok := c.RepairDoing(k, key); !ok {
					faults = append(faults, fmt.Errorf("routine %s of a %s is a technician's, and no repair does it", key, k.Key))
				}
			}
		}
	}
	return errors.Join(faults...)
}
