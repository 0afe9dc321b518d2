package shoprows

import (
	"context"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/store/internal/query"
)

// RepairShop is a repair shop.
type RepairShop struct {
	ID           uuid.UUID `json:"id" doc:"Made by the client"`
	Name         string    `json:"name" minLength:"1" maxLength:"120"`
	Trades       []string  `json:"trades" minItems:"1" maxItems:"10" doc:"What it mends, as the catalogue names it"`
	Way          Way       `json:"way" enum:"message,service" doc:"How it takes work; service is the simulated shop"`
	Address      string    `json:"address" maxLength:"200" doc:"Where messages go"`
	Phone        string    `json:"phone" maxLength:"60"`
	OpenDays     []int     `json:"open_days" maxItems:"7" doc:"ISO weekdays, Monday is 1; empty when that is not known"`
	PromiseDays  *int      `json:"promise_days,omitempty" minimum:"1" maximum:"365" doc:"How long it says that a job takes"`
	WarrantyDays int       `json:"warranty_days" minimum:"0" maximum:"3650"`
	Notes        string    `json:"notes" maxLength:"2000"`
	Version      int       `json:"version" doc:"0 for a new one; else the version that was read"`
}

// Way is how a shop takes work.
type Way string

// The ways.
const (
	ByMessage Way = "message"
	ByService Way = "service"
)

type shopRow struct {
	School       uuid.UUID            `db:"school_id"`
	ID           uuid.UUID            `db:"id"`
	Name         string               `db:"name"`
	Trades       query.JSON[[]string] `db:"trades"`
	Way          Way                  `db:"way"`
	Address      string               `db:"address"`
	Phone        string               `db:"phone"`
	OpenDays     query.JSON[[]int]    `db:"open_days"`
	PromiseDays  *int                 `db:"promise_days"`
	WarrantyDays int                  `db:"warranty_days"`
	Notes        string               `db:"notes"`
	Version      int                  `db:"version"`
}

// Shops lists the shops to which work is given, by name.
func Shops(ctx context.Context, tx *query.Tx) ([]RepairShop, error) {
	var rows []shopRow
	if err := query.Select(ctx, tx, &rows,
		`SELECT id, name, trades, way, address, phone, open_days, promise_days, warranty_days, notes, version
		FROM shop WHERE school_id = $1 AND left_on IS NULL ORDER BY lower(name)`, tx.School); err != nil {
		return nil, err
	}
	list := make([]RepairShop, len(rows))
	for n, r := range rows {
		list[n] = RepairShop{
			r.ID, r.Name, r.Trades.Of, r.Way, r.Address, r.Phone, r.OpenDays.Of, r.PromiseDays, r.WarrantyDays, r.Notes, r.Version,
		}
	}
	return list, nil
}

// PutShop adds a shop of version 0, or saves one if its version is the current one.
func PutShop(ctx context.Context, tx *query.Tx, s RepairShop) error {
	if s.OpenDays == nil {
		s.OpenDays = []int{}
	}
	row := shopRow{
		tx.School, s.ID, s.Name, query.AsJSON(s.Trades), s.Way, s.Address, s.Phone, query.AsJSON(s.OpenDays),
		s.PromiseDays, s.WarrantyDays, s.Notes, s.Version,
	}
	if s.Version == 0 {
		return query.NamedDo(ctx, tx, `
			INSERT INTO shop (school_id, id, name, trades, way, address, phone, open_days, promise_days, warranty_days, notes)
			VALUES (:school_id, :id, :name, :trades, :way, :address, :phone, :open_days, :promise_days, :warranty_days, :notes)`, row)
	}
	return query.NamedDoOne(ctx, tx, `
		UPDATE shop SET name = :name, trades = :trades, way = :way, address = :address, phone = :phone, open_days = :open_days,
			promise_days = :promise_days, warranty_days = :warranty_days, notes = :notes, version = version + 1
		WHERE school_id = :school_id AND id = :id AND version = :version AND left_on IS NULL`, row)
}

// LeaveShop gives a shop nothing more; what it did stays known.
func LeaveShop(ctx context.Context, tx *query.Tx, id uuid.UUID, version int, on day.Day) error {
	return query.DoOne(ctx, tx, `UPDATE shop SET left_on = $4, version = version + 1
		WHERE school_id = $1 AND id = $2 AND version = $3 AND left_on IS NULL`, tx.School, id, version, on)
}

// Trip is a drive to the shops.
type Trip struct {
	ID         uuid.UUID  `db:"id" json:"id" doc:"Made by the client"`
	On         day.Day    `db:"on_day" json:"on"`
	Driver     string     `db:"driver" json:"driver" maxLength:"120"`
	Places     int        `db:"places" json:"places" minimum:"1" maximum:"500" doc:"A violin takes one, a tuba two"`
	FixedCents int64      `db:"fixed_cents" json:"fixed_cents" minimum:"0" maximum:"100000000" doc:"What it costs however much rides along"`
	Note       string     `db:"note" json:"note" maxLength:"2000"`
	DrivenAt   *time.Time `db:"driven_at" json:"driven_at,omitempty" readOnly:"true"`
	Version    int        `db:"version" json:"version" doc:"0 for a new one; else the version that was read"`
}

// Trips lists the trips from a day on, and those before it that were never driven, by day.
func Trips(ctx context.Context, tx *query.Tx, from day.Day) ([]Trip, error) {
	return query.List[Trip](ctx, tx, `SELECT id, on_day, driver, places, fixed_cents, note, driven_at, version FROM shop_trip
		WHERE school_id = $1 AND (on_day >= $2 OR driven_at IS NULL) ORDER BY on_day`, tx.School, from)
}

// PutTrip adds a trip of version 0, or saves one if its version is the current one. One that was driven stays as it was.
func PutTrip(ctx context.Context, tx *query.Tx, t Trip) error {
	args := []any{tx.School, t.ID, t.On, t.Driver, t.Places, t.FixedCents, t.Note}
	if t.Version == 0 {
		return query.Do(ctx, tx, `INSERT INTO shop_trip (school_id, id, on_day, driver, places, fixed_cents, note)
			VALUES ($1, $2, $3, $4, $5, $6, $7)`, args...)
	}
	return query.DoOne(ctx, tx, `UPDATE shop_trip SET on_day = $3, driver = $4, places = $5, fixed_cents = $6, note = $7,
			version = version + 1
		WHERE school_id = $1 AND id = $2 AND version = $8 AND driven_at IS NULL`, append(args, t.Version)...)
}

// DeleteTrip calls a trip off that was not driven; ErrStale when it was. Nothing may ride on it.
func DeleteTrip(ctx context.Context, tx *query.Tx, id uuid.UUID, version int) error {
	return query.DoOne(ctx, tx, `DELETE FROM shop_trip WHERE school_id = $1 AND id = $2 AND version = $3 AND driven_at IS NULL`,
		tx.School, id, version)
}

// DriveTrip notes that a trip was driven; ErrStale when it was already. A nil time takes that back.
func DriveTrip(ctx context.Context, tx *query.Tx, id uuid.UUID, at *time.Time) error {
	return query.DoOne(ctx, tx, `UPDATE shop_trip SET driven_at = $3, version = version + 1
		WHERE school_id = $1 AND id = $2 AND (driven_at IS NULL) = ($3::timestamptz IS NOT NULL)`, tx.School, id, at)
}
