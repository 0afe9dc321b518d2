package catalog

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"solfeggio/internal/core/spelling"
	"solfeggio/internal/core/why"
)

// A Supply is something that care kits hold or that the bench uses up.
type Supply struct {
	Key       string      `json:"key"`
	Name      string      `json:"name"`
	For       string      `json:"for,omitempty" doc:"What it is for, as a new player is told"`
	Unit      string      `json:"unit" doc:"What it is counted in, such as bottle"`
	Pack      float64     `json:"pack" doc:"Units in a usual pack"`
	HoldsML   float64     `json:"holds_ml,omitempty" doc:"What a unit holds, for what is used by the millilitre"`
	BySize    bool        `json:"by_size,omitempty" doc:"Each size of the instrument has its own"`
	Strengths []string    `json:"strengths,omitempty" doc:"Of a reed, from soft to hard: each has its own, and it goes by the player"`
	BreakIn   []float64   `json:"break_in,omitempty" doc:"Of a reed: minutes of playing on its first days"`
	BreakInIs why.Kind    `json:"break_in_basis,omitempty" jsonschema:"enum=common practice,enum=from memory" doc:"Common practice when left out"`
	TiresDays int         `json:"tires_days,omitempty" doc:"Of a reed: after so many days of taking turns it is tired"`
	Single    *Single     `json:"single,omitempty" doc:"A single part of a kind of instrument, kept in stock because it breaks by itself"`
	RunsOut   bool        `json:"runs_out,omitempty" doc:"It gets low before it is gone"`
	GetsWet   bool        `json:"gets_wet,omitempty" doc:"It must not stay in the case damp"`
	Role      Role        `json:"role,omitempty" jsonschema:"enum=gloves,enum=alcohol,enum=vinegar,enum=case-wipe,enum=patch,enum=pencil" doc:"What the bench counts it as"`
	AtBench   bool        `json:"at_bench,omitempty" doc:"Used at the bench, in no kit"`
	Expires   bool        `json:"expires,omitempty" doc:"It carries a date after which it is not used"`
	Use       []SupplyUse `json:"use" jsonschema:"minItems=1" doc:"How it is used up; what holds is added"`
}

// A Single is a part of a kind that is bought one by one.
type Single struct {
	Kind string `json:"kind"`
	Part string `json:"part"`
}

// A Role is what the bench counts a supply as.
type Role string

// The roles, each of which one supply has.
const (
	Gloves    Role = "gloves"
	Alcohol   Role = "alcohol"
	Vinegar   Role = "vinegar"
	CaseWipes Role = "case-wipe"
	Patches   Role = "patch"
	Pencils   Role = "pencil"
)

var roles = []Role{Gloves, Alcohol, Vinegar, CaseWipes, Patches, Pencils}

// SupplyFor is the supply that has a role.
func (c *Catalog) SupplyFor(r Role) *Supply { return c.roles[r] }

// SupplyUse is one way in which a supply is used up.
type SupplyUse struct {
	Each     string     `json:"each" jsonschema:"enum=session,enum=routine,enum=rotation,enum=life,enum=turnover"`
	When     Conditions `json:"when,omitempty" doc:"Choices under which it holds"`
	Families []string   `json:"families,omitempty" doc:"Families for which it holds; empty for all"`
	Routine  string     `json:"routine,omitempty" doc:"Care at which it is used; of a session, the care that must belong to the kind"`
	Count    float64    `json:"count,omitempty" doc:"Units; of a rotation, how many are in it"`
	Share    float64    `json:"share,omitempty" doc:"Part of a unit"`
	ML       float64    `json:"ml,omitempty"`
	Drops    float64    `json:"drops,omitempty" doc:"Of 0.05 mL"`
	PerValve bool       `json:"per_valve,omitempty"`
	Weeks    float64    `json:"weeks,omitempty" doc:"Of a rotation: how long it lasts"`
	Days     float64    `json:"days,omitempty" doc:"Of a life: until it is worn or lost"`
}

// A Kit is what belongs in the case of a kind.
type Kit struct {
	Key   string    `json:"key"`
	Items []KitItem `json:"items" jsonschema:"minItems=1"`
}

// A KitItem is a supply in a kit.
type KitItem struct {
	Supply string `json:"supply"`
	Count  int    `json:"count,omitempty" doc:"1 when left out"`
	ToPlay bool   `json:"to_play,omitempty" doc:"Nobody can play without it"`
	Tier   Tier   `json:"tier,omitempty" jsonschema:"enum=case,enum=full,enum=cupboard" doc:"Where it is kept; in every case when left out"`
	Note   string `json:"note,omitempty"`
}

// A Tier is where a thing of a kit is kept.
type Tier string

// The tiers: in every case, in a full kit only, or in the cupboard of the school.
const (
	EveryCase Tier = "case"
	FullKit   Tier = "full"
	Cupboard  Tier = "cupboard"
)

// Tiers lists them.
var Tiers = []Tier{EveryCase, FullKit, Cupboard}

// A TierKey names a thing of a kit.
type TierKey struct{ Kit, Supply string }

// Moved are the things of kits that a school keeps elsewhere than the catalogue has them.
type Moved map[TierKey]Tier

// KitPractice is the practice that says whether a case holds what every case does, or a full kit.
const KitPractice = "kit-size"

// Tier is where a school keeps a thing of a kit.
func (k Kit) Tier(i KitItem, moved Moved) Tier {
	return cmp.Or(moved[TierKey{k.Key, i.Supply}], i.Tier, EveryCase)
}

// CaseOf lists what belongs in the case of an instrument, as its school keeps things.
func (c *Catalog) CaseOf(of Subject) []KitItem {
	kit := c.KitOf(of.Kind)
	list := make([]KitItem, 0, len(kit.Items))
	for _, i := range kit.Items {
		if tier := kit.Tier(i, of.Moved); tier == EveryCase || tier == FullKit && of.Choices[KitPractice] == string(FullKit) {
			list = append(list, i)
		}
	}
	return list
}

// Wanted is how many belong in the kit.
func (i KitItem) Wanted() int { return max(1, i.Count) }

// A KitState is how a thing of a kit was found.
type KitState string

// The states of a thing in a kit.
const (
	There   KitState = "there"
	Low     KitState = "low"
	Wet     KitState = "wet"
	Missing KitState = "missing"
)

// States lists the states that a supply can be in.
func (s Supply) States() []KitState {
	states := []KitState{There}
	if s.RunsOut {
		states = append(states, Low)
	}
	if s.GetsWet {
		states = append(states, Wet)
	}
	return append(states, Missing)
}

// ownSupply begins the key of a supply that a school has named itself: own~Saddle soap. Its key says all there is of it.
const ownSupply = "own" + likeMark

// Supply finds a supply by its key, one of the school's own too.
func (c *Catalog) Supply(key string) (*Supply, bool) {
	if s, ok := c.supplies[key]; ok {
		return s, true
	}
	name, own := strings.CutPrefix(key, ownSupply)
	if again, err := c.OwnSupplyKey(name); !own || err != nil || again != key {
		return nil, false
	}
	return &Supply{Key: key, Name: name, Unit: "piece", Pack: 1}, true
}

// OwnSupplyKey is the key of a supply of the school's own. An error says what is wrong with the name.
func (c *Catalog) OwnSupplyKey(name string) (string, error) {
	name = strings.Join(strings.Fields(name), " ")
	if name == "" || len([]rune(name)) > mostName || strings.Contains(name, likeMark) {
		return "", fmt.Errorf("needs a name of at most %d letters", mostName)
	}
	if known, ok := c.SupplyCalled(name); ok {
		return "", fmt.Errorf("is known already, as %s", known.Name)
	}
	return ownSupply + name, nil
}

// Own reports whether a supply is one that the school has named itself.
func (s Supply) Own() bool { return strings.HasPrefix(s.Key, ownSupply) }

// SupplyCalled finds a supply of the catalogue by its key or its name; capitals, accents and hyphens do not count.
func (c *Catalog) SupplyCalled(name string) (*Supply, bool) {
	name = spelling.Fold(name)
	n := slices.IndexFunc(c.Supplies, func(s Supply) bool { return name == spelling.Fold(s.Name) || name == spelling.Fold(s.Key) })
	if n < 0 {
		return nil, false
	}
	return &c.Supplies[n], true
}

// SupplySpelled finds the supply whose name is spelled most nearly like name, see spelling.Nearest.
func (c *Catalog) SupplySpelled(name string) (*Supply, bool) {
	called, ok := spelling.Nearest(name, func(yield func(string) bool) {
		for n := range c.Supplies {
			if !yield(c.Supplies[n].Name) {
				return
			}
		}
	})
	if !ok {
		return nil, false
	}
	return c.SupplyCalled(called)
}

// Kit finds a kit by its key.
func (c *Catalog) Kit(key string) (*Kit, bool) { k, ok := c.kits[key]; return k, ok }

// KitOf is what belongs in the case of a kind.
func (c *Catalog) KitOf(k *Kind) *Kit { return c.kits[k.Kit] }

// Item finds a supply in the kit.
func (k Kit) Item(supply string) (KitItem, bool) {
	n := slices.IndexFunc(k.Items, func(i KitItem) bool { return i.Supply == supply })
	if n < 0 {
		return KitItem{}, false
	}
	return k.Items[n], true
}

// In says which size of a supply goes with an instrument of a size in the hands of a player of reeds of a strength: for reeds the
// strength, empty while it is not known.
func (s Supply) In(size, strength string) string {
	switch {
	case s.BySize:
		return size
	case slices.Contains(s.Strengths, strength):
		return strength
	}
	return ""
}

// Called names a supply in a size or strength.
func (s Supply) Called(size string) string {
	switch {
	case size != "":
		return s.Name + " " + size
	case len(s.Strengths) > 0:
		return s.Name + ", any strength"
	}
	return s.Name
}

// nameStrengths gives each kind the strengths of the reeds in its kit.
func (c *Catalog) nameStrengths() {
	for n := range c.Kinds {
		k := &c.Kinds[n]
		k.Strengths = nil
		if kit := c.kits[k.Kit]; kit != nil {
			for _, item := range kit.Items {
				if s := c.supplies[item.Supply]; s != nil && len(s.Strengths) > 0 {
					k.Strengths = s.Strengths
				}
			}
		}
	}
}

func (c *Catalog) checkSupply(s Supply) error {
	if !(s.Pack > 0) {
		return fmt.Errorf("a pack of %v", s.Pack)
	}
	if s.BySize && len(s.Strengths) > 0 || slices.Contains(s.Strengths, "") ||
		len(slices.Compact(slices.Sorted(slices.Values(s.Strengths)))) != len(s.Strengths) {
		return fmt.Errorf("strengths %q", s.Strengths)
	}
	if s.Single != nil {
		k := c.kinds[s.Single.Kind]
		if k == nil {
			return fmt.Errorf("a single of a %q, which is no kind", s.Single.Kind)
		}
		if _, ok := c.Renewal(k, s.Single.Part); !ok {
			return fmt.Errorf("a single of %q, which no %s has renewed", s.Single.Part, k.Key)
		}
	}
	for n, u := range s.Use {
		if err := c.checkUse(s, u); err != nil {
			return fmt.Errorf("use %d: %w", n+1, err)
		}
	}
	return nil
}

func (c *Catalog) checkUse(s Supply, u SupplyUse) error {
	if u.Routine != "" && c.routines[u.Routine] == nil {
		return fmt.Errorf("no routine %q", u.Routine)
	}
	for practice, options := range u.When {
		p := c.practices[practice]
		for _, o := range options {
			if p == nil {
				return fmt.Errorf("no practice %q", practice)
			}
			if _, ok := p.Option(o); !ok {
				return fmt.Errorf("practice %s has no option %q", practice, o)
			}
		}
	}
	switch {
	case (u.ML > 0 || u.Drops > 0) && s.HoldsML <= 0:
		return fmt.Errorf("is used by the millilitre and does not say what a %s holds", s.Unit)
	case u.Each == "routine" && u.Routine == "":
		return fmt.Errorf("names no routine")
	case u.Each == "rotation" && (u.Weeks <= 0 || u.Count <= 0):
		return fmt.Errorf("a rotation needs a count and weeks")
	case u.Each == "life" && u.Days <= 0:
		return fmt.Errorf("a life needs days")
	}
	return nil
}

func (c *Catalog) checkKit(k Kit) error {
	if !slices.ContainsFunc(k.Items, func(i KitItem) bool { return k.Tier(i, nil) == EveryCase }) {
		return fmt.Errorf("nothing of it is in the case")
	}
	seen := map[string]bool{}
	for _, i := range k.Items {
		switch {
		case c.supplies[i.Supply] == nil:
			return fmt.Errorf("no supply %q", i.Supply)
		case c.supplies[i.Supply].AtBench:
			return fmt.Errorf("%s belongs to the bench", i.Supply)
		case seen[i.Supply]:
			return fmt.Errorf("%s stands there twice", i.Supply)
		}
		seen[i.Supply] = true
	}
	return nil
}
