package instrumentrows

import (
	"context"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/store/internal/query"
)

// Shelf is a row of slots, named by its name and their number.
type Shelf struct {
	ID       uuid.UUID `db:"id" json:"id"`
	Room     string    `db:"room" json:"room" minLength:"1" maxLength:"80"`
	Rack     string    `db:"rack" json:"rack" maxLength:"80" doc:"Empty when the room has one rack only"`
	Name     string    `db:"name" json:"name" pattern:"^[A-Za-z0-9]{1,6}$" patternDescription:"letters and digits, at most six"`
	Position int       `db:"position" json:"position" doc:"From the top"`
	Slots    int       `db:"slots" json:"slots" minimum:"1" maximum:"99"`
	Version  int       `db:"version" json:"version" doc:"0 for a new one; else the version that was read"`
}

// Shelves lists the shelves from the top.
func Shelves(ctx context.Context, tx *query.Tx) ([]Shelf, error) {
	return query.List[Shelf](ctx, tx, `SELECT id, room, rack, name, position, slots, version FROM shelf
		WHERE school_id = $1 ORDER BY position, room, name`, tx.School)
}

// PutShelf adds a shelf of version 0, or saves one if its version is the current one.
func PutShelf(ctx context.Context, tx *query.Tx, s Shelf) error {
	if s.Version == 0 {
		return query.Do(
			ctx, tx,
			`INSERT INTO shelf (school_id, id, room, rack, name, position, slots) VALUES ($1, $2, $3, $4, $5, $6, $7)`,
			tx.School,
			s.ID,
			s.Room,
			s.Rack,
			s.Name,
			s.Position,
			s.Slots,
		)
	}
	return query.DoOne(ctx, tx, `UPDATE shelf SET room = $3, rack = $4, name = $5, position = $6, slots = $7, version = version + 1
		WHERE school_id = $1 AND id = $2 AND version = $8`, tx.School, s.ID, s.Room, s.Rack, s.Name, s.Position, s.Slots, s.Version)
}

// DeleteShelf takes a shelf away; what stands on it keeps the name of its slot.
func DeleteShelf(ctx context.Context, tx *query.Tx, id uuid.UUID) error {
	return query.DoOne(ctx, tx, `DELETE FROM shelf WHERE school_id = $1 AND id = $2`, tx.School, id)
}

// Stocktake is a count of what stands in a room.
type Stocktake struct {
	ID      uuid.UUID  `db:"id" json:"id"`
	Room    string     `db:"room" json:"room"`
	BeganAt time.Time  `db:"began_at" json:"began_at"`
	EndedAt *time.Time `db:"ended_at" json:"ended_at,omitempty"`
	Person  *uuid.UUID `db:"person_id" json:"-"`
}

// Scan is one tag that was seen.
type Scan struct {
	Tag  string    `db:"tag" json:"tag"`
	Slot string    `db:"slot" json:"slot" doc:"Where it was seen, empty when that was not said"`
	At   time.Time `db:"at" json:"at"`
}

// InsertStocktake begins a count; one of that id stays as it is.
func InsertStocktake(ctx context.Context, tx *query.Tx, s Stocktake) error {
	return query.Do(
		ctx, tx,
		`INSERT INTO stocktake (school_id, id, room, began_at, person_id) VALUES ($1, $2, $3, $4, $5) ON CONFLICT DO NOTHING`,
		tx.School,
		s.ID,
		s.Room,
		s.BeganAt,
		s.Person,
	)
}

// OpenStocktake reads the count of a room that is under way; ErrNotFound when there is none.
func OpenStocktake(ctx context.Context, tx *query.Tx, room string) (Stocktake, error) {
	var s Stocktake
	err := query.Get(ctx, tx, &s, `SELECT id, room, began_at, ended_at, person_id FROM stocktake
		WHERE school_id = $1 AND room = $2 AND ended_at IS NULL ORDER BY began_at DESC LIMIT 1`, tx.School, room)
	return s, err
}

// StocktakeByID reads a count with its scans.
func StocktakeByID(ctx context.Context, tx *query.Tx, id uuid.UUID) (Stocktake, []Scan, error) {
	var s Stocktake
	if err := query.Get(ctx, tx, &s, `SELECT id, room, began_at, ended_at, person_id FROM stocktake
		WHERE school_id = $1 AND id = $2`, tx.School, id); err != nil {
		return s, nil, err
	}
	var scans []Scan
	err := query.Select(
		ctx, tx,
		&scans,
		`SELECT tag, slot, at FROM stocktake_scan WHERE school_id = $1 AND stocktake_id = $2 ORDER BY at, tag`,
		tx.School,
		id,
	)
	return s, scans, err
}

// InsertScan notes a tag; one seen before is noted where it was seen last.
func InsertScan(ctx context.Context, tx *query.Tx, stocktake uuid.UUID, s Scan) error {
	return query.Do(ctx, tx, `INSERT INTO stocktake_scan (school_id, stocktake_id, tag, slot, at) VALUES ($1, $2, $3, $4, $5)
		ON CONFLICT (school_id, stocktake_id, tag) DO UPDATE SET slot = excluded.slot, at = excluded.at`,
		tx.School, stocktake, s.Tag, s.Slot, s.At)
}

// EndStocktake closes a count.
func EndStocktake(ctx context.Context, tx *query.Tx, id uuid.UUID, at time.Time) error {
	return query.MetOne(
		query.Exec(
			ctx, tx,
			`UPDATE stocktake SET ended_at = $3 WHERE school_id = $1 AND id = $2 AND ended_at IS NULL`,
			tx.School,
			id,
			at,
		),
	)
}
