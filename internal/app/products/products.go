package products

import (
	"bytes"
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/hygiene"
	"solfeggio/internal/store"
	"solfeggio/internal/store/benchrows"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/supplyrows"
)

// OwnedProduct is a product with what is in stock of it.
type OwnedProduct struct {
	benchrows.Product
	MadeOfNames  []string `json:"made_of_names"`
	Ask          bool     `json:"ask" doc:"Nobody has said yet what it is made of; until then it goes onto the outside of cases only"`
	SurfaceNames []string `json:"surface_names"`
	InStock      float64  `json:"in_stock" doc:"Units of its supply that are not out of date"`
	Unit         string   `json:"unit"`
	Lot          string   `json:"lot" doc:"Of what is used next; empty where the pack has no number"`
	Warning      string   `json:"warning" doc:"Why it is not used now; empty when it is"`
	SheetOnFile  bool     `json:"sheet_on_file" doc:"Its safety sheet can be read here"`
	SheetVersion string   `json:"sheet_version" doc:"Of its safety sheet, there or not"`
}

// Products is what the school disinfects with, and what can be said of a product.
type Products struct {
	Products      []OwnedProduct  `json:"products"`
	Groups        []Ingredient    `json:"groups" doc:"What a product can be made of"`
	Surfaces      []Pick          `json:"surfaces" doc:"What a label can name"`
	Supplies      []Pick          `json:"supplies" doc:"What its stock can be counted under"`
	Vessel        *hygiene.Vessel `json:"vessel,omitempty" doc:"What mouthpieces soak in; left out while nobody has measured it"`
	VesselVersion string          `json:"vessel_version"`
}

// Ingredient is something that a product can be made of.
type Ingredient struct {
	Pick
	Rinsed bool     `json:"rinsed" doc:"It leaves something behind and is rinsed off where it touches an instrument"`
	Bears  []string `json:"bears" doc:"Names of the materials that it may touch"`
	Clash  []Clash  `json:"clash"`
}

// Clash is what must not be in one bottle with it.
type Clash struct {
	With string `json:"with" doc:"Key"`
	Says string `json:"says"`
}

// ingredients lists what a product can be made of.
func (r *Room) ingredients() []Ingredient {
	list := []Ingredient{}
	for _, key := range r.schools.Catalog.Disinfectants() {
		g, _ := r.schools.Catalog.ProductGroup(key)
		one := Ingredient{Pick: Pick{key, g.Name}, Bears: []string{}, Clash: []Clash{}}
		if a, ok := r.schools.Catalog.Active(g.Active); ok {
			one.Rinsed = a.After == catalog.RinseAndDry
		}
		for _, m := range r.schools.Catalog.Materials {
			if allowed, _, _ := r.schools.Catalog.Bears(m.Key, g.Active); allowed {
				one.Bears = append(one.Bears, m.Name)
			}
		}
		for _, surface := range r.schools.Catalog.Surfaces {
			if allowed, _, _ := r.schools.Catalog.Bears(surface.Key, g.Active); allowed {
				one.Bears = append(one.Bears, surface.Name)
			}
		}
		for _, other := range r.schools.Catalog.Disinfectants() {
			if says := r.schools.Catalog.Clash(key, other); says != "" {
				one.Clash = append(one.Clash, Clash{other, says})
			}
		}
		list = append(list, one)
	}
	return list
}

// Pick is something that can be picked.
type Pick struct {
	Key  string `json:"key"`
	Name string `json:"name"`
}

// Products lists what the school disinfects with.
func (r *Room) Products(ctx context.Context, by journal.Person) (Products, error) {
	out := Products{Products: []OwnedProduct{}, Groups: r.ingredients(), Surfaces: []Pick{}, Supplies: []Pick{}}
	for _, s := range r.schools.Catalog.Surfaces {
		out.Surfaces = append(out.Surfaces, Pick{s.Key, s.Name})
	}
	for _, s := range r.schools.Catalog.Supplies {
		if s.AtBench && s.Expires {
			out.Supplies = append(out.Supplies, Pick{s.Key, s.Name})
		}
	}
	err := r.schools.Read(ctx, by, func(tx *store.Tx) (err error) {
		if out.Vessel, err = benchrows.SoakVessel(ctx, tx); err != nil {
			return err
		}
		out.VesselVersion = journal.Version(out.Vessel)
		out.Products, err = r.Owned(ctx, tx)
		return err
	})
	return out, err
}

// Owned lists the products with their stock.
func (r *Room) Owned(ctx context.Context, tx *store.Tx) ([]OwnedProduct, error) {
	today, err := r.schools.TodayIn(ctx, tx)
	if err != nil {
		return nil, err
	}
	products, err := benchrows.Products(ctx, tx)
	if err != nil {
		return nil, err
	}
	lots, err := supplyrows.Lots(ctx, tx, nil)
	if err != nil {
		return nil, err
	}
	list := make([]OwnedProduct, len(products))
	for n, p := range products {
		thing, _ := r.schools.Catalog.Supply(p.Supply)
		o := OwnedProduct{Product: p, SheetOnFile: p.Sheet != nil, SheetVersion: journal.Version(p.Sheet), Ask: !p.Asked && !p.Retired, Unit: thing.Unit, SurfaceNames: []string{}}
		for _, key := range p.MadeOf {
			group, _ := r.schools.Catalog.ProductGroup(key)
			o.MadeOfNames = append(o.MadeOfNames, group.Name)
		}
		for _, key := range p.Surfaces {
			s, _ := r.schools.Catalog.Surface(key)
			o.SurfaceNames = append(o.SurfaceNames, s.Name)
		}
		old := 0
		for _, l := range lots {
			switch {
			case l.Supply != p.Supply:
			case supply.OutOfDate(l, today):
				old++
			default:
				if o.InStock == 0 {
					o.Lot = l.Lot
				}
				o.InStock += l.Remaining
			}
		}
		switch {
		case p.Retired:
			o.Warning = "It is not used any more."
		case o.InStock == 0 && old > 0:
			o.Warning = "All of it is out of date."
		case o.InStock == 0:
			o.Warning = "None of it is in stock."
		}
		list[n] = o
	}
	return list, nil
}

// Usable are those that the bench may choose from.
func Usable(list []OwnedProduct) (products []hygiene.Product) {
	for _, p := range list {
		if !p.Retired {
			products = append(
				products,
				hygiene.Product{
					ID:             p.ID.String(),
					Name:           p.Name,
					MadeOf:         p.MadeOf,
					ContactMinutes: p.ContactMinutes,
					Surfaces:       p.Surfaces,
					InDate:         p.InStock > 0,
				},
			)
		}
	}
	return products
}

// SaveProduct adds a product or changes one. Without a contact time or a surface it could only do harm, so neither may be missing.
func (r *Room) SaveProduct(ctx context.Context, by journal.Person, in benchrows.Product) error {
	if in.Name = strings.TrimSpace(in.Name); in.Name == "" {
		return journal.Refuse("name", "is empty", in.Name)
	}
	if in.ID == uuid.Nil {
		return journal.Refuse("id", "is missing", nil)
	}
	if err := r.checkMadeOf(in.MadeOf); err != nil {
		return err
	}
	if in.ContactMinutes < 1 || in.ContactMinutes > 24*60 {
		return journal.Refuse("contact_minutes", "read the contact time from the label: 1 minute to a day", in.ContactMinutes)
	}
	if len(in.Surfaces) == 0 {
		return journal.Refuse("surfaces", "name what the label names; on nothing else it may be used", nil)
	}
	for n, key := range in.Surfaces {
		if _, ok := r.schools.Catalog.Surface(key); !ok || slices.Contains(in.Surfaces[:n], key) {
			return journal.Refuse(fmt.Sprintf("surfaces[%d]", n), "is unknown or stands there twice", key)
		}
	}
	if s, ok := r.schools.Catalog.Supply(in.Supply); !ok || !s.AtBench {
		return journal.Refuse("supply", "say under which supply of the bench its stock is counted", in.Supply)
	}
	_, err := school.Write(ctx, r.schools, by, journal.MayChangeSettings, func(tx *store.Tx, s *school.Snapshot) (struct{}, error) {
		if err := benchrows.PutProduct(ctx, tx, in); err != nil {
			return struct{}{}, err
		}
		_, err := r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.SettingsChanged}, map[string]any{"operation": "save-product", "to": in})
		return struct{}{}, err
	})
	return err
}

// checkMadeOf refuses what no product is made of: nothing, something twice, what nobody knows beside what is known, and two that must not be
// in one bottle.
func (r *Room) checkMadeOf(groups []string) error {
	if len(groups) == 0 {
		return journal.Refuse("made_of", "say what it works by; the label does. If it does not, pick that nobody has said", nil)
	}
	for n, key := range groups {
		path := fmt.Sprintf("made_of[%d]", n)
		g, ok := r.schools.Catalog.ProductGroup(key)
		switch {
		case !ok || !g.Disinfects:
			return journal.Refuse(path, "is nothing that disinfects", key)
		case slices.Contains(groups[:n], key):
			return journal.Refuse(path, "stands there twice", key)
		case g.Active == catalog.Unknown && len(groups) > 1:
			return journal.Refuse(path, "stands alone: pick what is known, or that nobody has said", key)
		}
		for _, other := range groups[:n] {
			if clash := r.schools.Catalog.Clash(other, key); clash != "" {
				return journal.Refuse(path, "cannot be in one bottle: "+clash+". Read the label again", key)
			}
		}
	}
	return nil
}

// MaxSheetBytes is how large a safety sheet may be.
const MaxSheetBytes = 5 << 20

// SaveSafetySheet keeps the safety sheet of a product, a PDF, instead of the one that was there.
func (r *Room) SaveSafetySheet(ctx context.Context, by journal.Person, product uuid.UUID, pdf []byte) error {
	switch {
	case len(pdf) > MaxSheetBytes:
		return journal.Refuse("sheet", "is larger than 5 MB", len(pdf))
	case !bytes.HasPrefix(pdf, []byte("%PDF-")):
		return journal.Refuse("sheet", "is no PDF", nil)
	}
	_, err := school.Write(ctx, r.schools, by, journal.MayChangeSettings, func(tx *store.Tx, s *school.Snapshot) (struct{}, error) {
		products, err := benchrows.Products(ctx, tx)
		if err != nil {
			return struct{}{}, err
		}
		if n := slices.IndexFunc(products, func(p benchrows.Product) bool { return p.ID == product }); n >= 0 {
			if err := journal.AsSeen(ctx, products[n].Sheet); err != nil {
				return struct{}{}, err
			}
		}
		if err := benchrows.PutProductSheet(ctx, tx, product, pdf, r.schools.Now(), &by.ID); err != nil {
			return struct{}{}, err
		}
		_, err = r.schools.Record(
			ctx,
			tx,
			by,
			eventrows.Event{What: eventrows.SettingsChanged},
			map[string]any{"operation": "save-safety-sheet", "to": product},
		)
		return struct{}{}, err
	})
	return err
}

// SafetySheet reads the safety sheet of a product.
func (r *Room) SafetySheet(ctx context.Context, by journal.Person, product uuid.UUID) (pdf []byte, err error) {
	err = r.schools.Read(ctx, by, func(tx *store.Tx) error {
		pdf, err = benchrows.ProductSheet(ctx, tx, product)
		return err
	})
	return pdf, err
}

// Handling is what the label of a product that is used warns of.
type Handling struct {
	ProductID   uuid.UUID `json:"product_id"`
	Product     string    `json:"product"`
	Hazards     string    `json:"hazards"`
	SafetySheet string    `json:"safety_sheet" doc:"Link, or where the paper lies"`
	SheetOnFile bool      `json:"sheet_on_file"`
}

// HandlingOf lists the warnings of the products that are used.
func HandlingOf(products []benchrows.Product, used func(uuid.UUID) bool) []Handling {
	list := []Handling{}
	for _, p := range products {
		if used(p.ID) && (p.Hazards != "" || p.SafetySheet != "" || p.Sheet != nil) {
			list = append(list, Handling{p.ID, p.Name, p.Hazards, p.SafetySheet, p.Sheet != nil})
		}
	}
	return list
}

// SaveVessel keeps the measures of what mouthpieces soak in.
func (r *Room) SaveVessel(ctx context.Context, by journal.Person, in hygiene.Vessel) error {
	if _, err := in.FillML(); err != nil {
		return journal.RefuseInput(err)
	}
	_, err := school.Write(ctx, r.schools, by, journal.MayChangeSettings, func(tx *store.Tx, s *school.Snapshot) (struct{}, error) {
		now, err := benchrows.SoakVessel(ctx, tx)
		if err == nil {
			err = journal.AsSeen(ctx, now)
		}
		if err != nil {
			return struct{}{}, err
		}
		return struct{}{}, benchrows.SetSoakVessel(ctx, tx, in)
	})
	return err
}
