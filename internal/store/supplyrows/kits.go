// Package supplyrows keeps kits, stock and orders.
package supplyrows

import (
	"context"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store/internal/query"
)

// KitFault is a thing of a kit that is not in order.
type KitFault struct {
	Instrument uuid.UUID        `db:"instrument_id"`
	Supply     string           `db:"supply"`
	State      catalog.KitState `db:"state"`
	NotedAt    time.Time        `db:"noted_at"`
}

// KitFaults lists what is not in order in the kits of the instruments named, or in all.
func KitFaults(ctx context.Context, tx *query.Tx, of ...uuid.UUID) ([]KitFault, error) {
	where, args := query.Only("instrument_id", of, tx.School)
	return query.List[KitFault](ctx, tx, `SELECT instrument_id, supply, state, noted_at FROM kit_fault
		WHERE school_id = $1`+where+` ORDER BY instrument_id, supply`, args...)
}

// SetKit notes how a thing of a kit was found; what is there has nothing noted.
func SetKit(ctx context.Context, tx *query.Tx, f KitFault, by *uuid.UUID) error {
	if f.State == catalog.There {
		return query.Do(
			ctx, tx,
			`DELETE FROM kit_fault WHERE school_id = $1 AND instrument_id = $2 AND supply = $3`,
			tx.School,
			f.Instrument,
			f.Supply,
		)
	}
	return query.Do(
		ctx, tx,
		`INSERT INTO kit_fault (school_id, instrument_id, supply, state, noted_at, noted_by) VALUES ($1, $2, $3, $4, $5, $6)
		ON CONFLICT (school_id, instrument_id, supply) DO UPDATE SET noted_by = excluded.noted_by,
			noted_at = CASE WHEN kit_fault.state = excluded.state THEN kit_fault.noted_at ELSE excluded.noted_at END, state = excluded.state`,
		tx.School,
		f.Instrument,
		f.Supply,
		f.State,
		f.NotedAt,
		by,
	)
}

// KitLooked notes the day on which a kit was last looked through.
func KitLooked(ctx context.Context, tx *query.Tx, instrument uuid.UUID, on day.Day) error {
	return query.Do(
		ctx, tx,
		`UPDATE instrument SET kit_checked_on = $3 WHERE school_id = $1 AND id = $2`,
		tx.School,
		instrument,
		on,
	)
}

// Stocked names a supply in a size, which is empty where there is one for all.
type Stocked struct {
	Supply string `db:"supply" json:"supply"`
	Size   string `db:"size" json:"size"`
}

// SupplySetting is how a school buys a supply.
type SupplySetting struct {
	Stocked
	Supplier       string  `db:"supplier" json:"supplier" maxLength:"120"`
	PackSize       float64 `db:"pack_size" json:"pack_size" exclusiveMinimum:"0" maximum:"100000"`
	PackPriceCents *int64  `db:"pack_price_cents" json:"pack_price_cents,omitempty" minimum:"0" maximum:"100000000" doc:"Left out while it is not known"`
	LeadWeeks      float64 `db:"lead_weeks" json:"lead_weeks" minimum:"0" maximum:"104"`
	Version        int     `db:"version" json:"version" doc:"0 for one that was never saved; else the version that was read"`
}

// SupplySettings lists how the school buys.
func SupplySettings(ctx context.Context, tx *query.Tx) ([]SupplySetting, error) {
	return query.List[SupplySetting](ctx, tx,
		`SELECT supply, size, supplier, pack_size, pack_price_cents, lead_weeks, version FROM supply_setting
		WHERE school_id = $1 ORDER BY supply, size`,
		tx.School,
	)
}

// PutSupplySetting saves how a supply is bought if its version is the current one.
func PutSupplySetting(ctx context.Context, tx *query.Tx, s SupplySetting) error {
	if s.Version == 0 {
		return query.MetOne(
			query.Exec(
				ctx, tx,
				`INSERT INTO supply_setting (school_id, supply, size, supplier, pack_size, pack_price_cents, lead_weeks)
			VALUES ($1, $2, $3, $4, $5, $6, $7) ON CONFLICT DO NOTHING`,
				tx.School,
				s.Supply,
				s.Size,
				s.Supplier,
				s.PackSize,
				s.PackPriceCents,
				s.LeadWeeks,
			),
		)
	}
	return query.MetOne(
		query.Exec(
			ctx, tx,
			`UPDATE supply_setting SET supplier = $4, pack_size = $5, pack_price_cents = $6, lead_weeks = $7, version = version + 1
		WHERE school_id = $1 AND supply = $2 AND size = $3 AND version = $8`,
			tx.School,
			s.Supply,
			s.Size,
			s.Supplier,
			s.PackSize,
			s.PackPriceCents,
			s.LeadWeeks,
			s.Version,
		),
	)
}

// Lot is what is left of goods that came in together.
type Lot struct {
	ID uuid.UUID `db:"id" json:"id"`
	Stocked
	Lot        string   `db:"lot" json:"lot" doc:"Number on the pack; may be empty"`
	ExpiresOn  *day.Day `db:"expires_on" json:"expires_on,omitempty"`
	ReceivedOn day.Day  `db:"received_on" json:"received_on"`
	Quantity   float64  `db:"quantity" json:"quantity"`
	Remaining  float64  `db:"remaining" json:"remaining"`
}

// soonestFirst is the order in which lots are used up.
const soonestFirst = `ORDER BY supply, size, expires_on NULLS LAST, received_on, id`

// Lots lists what is in stock; of one supply when in is given.
func Lots(ctx context.Context, tx *query.Tx, in *Stocked) ([]Lot, error) {
	sql, args := `SELECT id, supply, size, lot, expires_on, received_on, quantity, remaining FROM supply_lot
		WHERE school_id = $1 AND remaining > 0 `, []any{tx.School}
	if in != nil {
		sql, args = sql+`AND supply = $2 AND size = $3 `, append(args, in.Supply, in.Size)
	}
	return query.List[Lot](ctx, tx, sql+soonestFirst, args...)
}

// InsertLot puts goods into stock.
func InsertLot(ctx context.Context, tx *query.Tx, l Lot) error {
	return query.Do(
		ctx, tx,
		`INSERT INTO supply_lot (school_id, id, supply, size, lot, expires_on, received_on, quantity, remaining)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)`,
		tx.School,
		l.ID,
		l.Supply,
		l.Size,
		l.Lot,
		l.ExpiresOn,
		l.ReceivedOn,
		l.Quantity,
		l.Remaining,
	)
}

// SetLot says what is left of a lot.
func SetLot(ctx context.Context, tx *query.Tx, id uuid.UUID, remaining float64) error {
	return query.DoOne(ctx, tx, `UPDATE supply_lot SET remaining = $3 WHERE school_id = $1 AND id = $2`, tx.School, id, remaining)
}

// PutBack puts into a lot what was taken out of it.
func PutBack(ctx context.Context, tx *query.Tx, id uuid.UUID, quantity float64) error {
	return query.MetOne(
		query.Exec(
			ctx, tx,
			`UPDATE supply_lot SET remaining = least(quantity, remaining + $3) WHERE school_id = $1 AND id = $2`,
			tx.School,
			id,
			quantity,
		),
	)
}

// Order is what was ordered from a supplier. ClosedOn nil means that something is still to come.
type Order struct {
	ID         uuid.UUID   `db:"id" json:"id"`
	Supplier   string      `db:"supplier" json:"supplier"`
	PlacedOn   day.Day     `db:"placed_on" json:"placed_on"`
	PlacedBy   *uuid.UUID  `db:"placed_by" json:"-"`
	ExpectedOn *day.Day    `db:"expected_on" json:"expected_on,omitempty"`
	ClosedOn   *day.Day    `db:"closed_on" json:"closed_on,omitempty"`
	Lines      []OrderLine `db:"-" json:"lines"`
}

// OrderLine is a line of an order.
type OrderLine struct {
	Stocked
	Packs          int     `db:"packs" json:"packs" minimum:"1" maximum:"100000"`
	PackSize       float64 `db:"pack_size" json:"pack_size"`
	PackPriceCents *int64  `db:"pack_price_cents" json:"pack_price_cents,omitempty"`
	ReceivedPacks  int     `db:"received_packs" json:"received_packs"`
}

// closedOrders is how many closed orders are listed.
const closedOrders = 200

// Orders lists all open orders and the latest closed ones, the latest first, with their lines.
func Orders(ctx context.Context, tx *query.Tx) ([]Order, error) {
	return readOrders(ctx, tx, `WHERE school_id = $1 AND (closed_on IS NULL OR id IN (
		SELECT id FROM supply_order WHERE school_id = $1 AND closed_on IS NOT NULL ORDER BY placed_on DESC, id DESC LIMIT $2))`, closedOrders)
}

// OrderByID reads one order, however old.
func OrderByID(ctx context.Context, tx *query.Tx, id uuid.UUID) (Order, error) {
	list, err := readOrders(ctx, tx, `WHERE school_id = $1 AND id = $2`, id)
	if err == nil && len(list) == 0 {
		err = query.ErrNotFound
	}
	if err != nil {
		return Order{}, err
	}
	return list[0], nil
}

func readOrders(ctx context.Context, tx *query.Tx, which string, of any) ([]Order, error) {
	var list []Order
	if err := query.Select(ctx, tx, &list, `SELECT id, supplier, placed_on, placed_by, expected_on, closed_on FROM supply_order `+which+`
		ORDER BY placed_on DESC, id DESC`, tx.School, of); err != nil {
		return nil, err
	}
	at := map[uuid.UUID]int{}
	for n := range list {
		at[list[n].ID], list[n].Lines = n, []OrderLine{}
	}
	var lines []struct {
		Order uuid.UUID `db:"order_id"`
		OrderLine
	}
	if err := query.Select(ctx, tx, &lines, `SELECT order_id, supply, size, packs, pack_size, pack_price_cents, received_packs
		FROM supply_order_line
		WHERE school_id = $1 AND order_id IN (SELECT id FROM supply_order `+which+`) ORDER BY order_id, supply, size`,
		tx.School, of); err != nil {
		return nil, err
	}
	for _, l := range lines {
		n := at[l.Order]
		list[n].Lines = append(list[n].Lines, l.OrderLine)
	}
	return query.NonNil(list, nil)
}

// InsertOrder keeps an order with its lines.
func InsertOrder(ctx context.Context, tx *query.Tx, o Order) error {
	if _, err := query.Exec(ctx, tx, `INSERT INTO supply_order (school_id, id, supplier, placed_on, placed_by, expected_on)
		VALUES ($1, $2, $3, $4, $5, $6)`,
		tx.School, o.ID, o.Supplier, o.PlacedOn, o.PlacedBy, o.ExpectedOn); err != nil {
		return err
	}
	for _, l := range o.Lines {
		if _, err := query.Exec(ctx, tx, `INSERT INTO supply_order_line (school_id, order_id, supply, size, packs, pack_size, pack_price_cents)
			VALUES ($1, $2, $3, $4, $5, $6, $7)`, tx.School, o.ID, l.Supply, l.Size, l.Packs, l.PackSize, l.PackPriceCents); err != nil {
			return err
		}
	}
	return nil
}

// ReceivePacks adds packs that came in to a line of an order; ErrStale when the order has no such line.
func ReceivePacks(ctx context.Context, tx *query.Tx, order uuid.UUID, of Stocked, packs int) error {
	return query.DoOne(ctx, tx, `UPDATE supply_order_line SET received_packs = received_packs + $5
		WHERE school_id = $1 AND order_id = $2 AND supply = $3 AND size = $4`, tx.School, order, of.Supply, of.Size, packs)
}

// CloseOrder ends an order: nothing more is expected of it. ErrStale when it was closed already.
func CloseOrder(ctx context.Context, tx *query.Tx, id uuid.UUID, on day.Day) error {
	return query.MetOne(
		query.Exec(
			ctx, tx,
			`UPDATE supply_order SET closed_on = $3 WHERE school_id = $1 AND id = $2 AND closed_on IS NULL`,
			tx.School,
			id,
			on,
		),
	)
}

// KitTiers reads which things of kits the school keeps elsewhere than the catalogue has them.
func KitTiers(ctx context.Context, tx *query.Tx) (catalog.Moved, error) {
	var rows []struct{ Kit, Supply, Tier string }
	err := query.Select(ctx, tx, &rows, `SELECT kit, supply, tier FROM kit_tier WHERE school_id = $1`, tx.School)
	moved := catalog.Moved{}
	for _, r := range rows {
		moved[catalog.TierKey{Kit: r.Kit, Supply: r.Supply}] = catalog.Tier(r.Tier)
	}
	return moved, err
}

// SetKitTier keeps where the school has a thing of a kit.
func SetKitTier(ctx context.Context, tx *query.Tx, key catalog.TierKey, tier catalog.Tier) error {
	return query.Do(ctx, tx, `INSERT INTO kit_tier (school_id, kit, supply, tier) VALUES ($1, $2, $3, $4)
		ON CONFLICT (school_id, kit, supply) DO UPDATE SET tier = excluded.tier`, tx.School, key.Kit, key.Supply, string(tier))
}
