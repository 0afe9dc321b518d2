package instrumentrows

import (
	"context"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/store/internal/query"
)

// Rental is the contract under which a school has an instrument of somebody else's.
type Rental struct {
	ID           uuid.UUID `db:"id" json:"id" doc:"Made by the client"`
	Instrument   uuid.UUID `db:"instrument_id" json:"-"`
	Owner        string    `db:"owner" json:"owner" minLength:"1" maxLength:"120"`
	Contact      string    `db:"contact" json:"contact" maxLength:"200"`
	Contract     string    `db:"contract" json:"contract" maxLength:"80" doc:"Number of the contract"`
	StartsOn     day.Day   `db:"starts_on" json:"starts_on"`
	ReturnBy     *day.Day  `db:"return_by" json:"return_by,omitempty"`
	MonthlyCents *int64    `db:"monthly_cents" json:"monthly_cents,omitempty" minimum:"0" maximum:"100000000"`
	Version      int       `db:"version" json:"version" doc:"0 for a new one; else the version that was read"`
}

// RunningRentals lists the contracts that run.
func RunningRentals(ctx context.Context, tx *query.Tx, of ...uuid.UUID) ([]Rental, error) {
	where, args := query.Only("instrument_id", of, tx.School)
	return query.List[Rental](ctx, tx,
		`SELECT id, instrument_id, owner, contact, contract, starts_on, return_by, monthly_cents, version FROM rental
		WHERE school_id = $1 AND ended_on IS NULL`+where,
		args...)
}

// PutRental adds a contract of version 0, or saves one if its version is the current one.
func PutRental(ctx context.Context, tx *query.Tx, r Rental) error {
	args := []any{tx.School, r.ID, r.Instrument, r.Owner, r.Contact, r.Contract, r.StartsOn, r.ReturnBy, r.MonthlyCents}
	if r.Version == 0 {
		return query.Do(
			ctx, tx,
			`INSERT INTO rental (school_id, id, instrument_id, owner, contact, contract, starts_on, return_by, monthly_cents)
			VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)`,
			args...)
	}
	return query.MetOne(
		query.Exec(
			ctx, tx,
			`UPDATE rental SET owner = $4, contact = $5, contract = $6, starts_on = $7, return_by = $8, monthly_cents = $9, version = version + 1
		WHERE school_id = $1 AND id = $2 AND instrument_id = $3 AND ended_on IS NULL AND version = $10`,
			append(args, r.Version)...),
	)
}

// EndRental ends the running contract of an instrument; ErrStale when there is none.
func EndRental(ctx context.Context, tx *query.Tx, instrument uuid.UUID, on day.Day) error {
	return query.MetOne(
		query.Exec(
			ctx, tx,
			`UPDATE rental SET ended_on = $3, version = version + 1 WHERE school_id = $1 AND instrument_id = $2 AND ended_on IS NULL`,
			tx.School,
			instrument,
			on,
		),
	)
}

// RentalPrice is what an instrument of a kind and size costs to rent.
type RentalPrice struct {
	Kind         string `db:"kind" json:"kind"`
	Size         string `db:"size" json:"size" doc:"Empty for all sizes"`
	MonthlyCents int64  `db:"monthly_cents" json:"monthly_cents" minimum:"0" maximum:"100000000"`
}

// RentalPrices lists the prices.
func RentalPrices(ctx context.Context, tx *query.Tx) ([]RentalPrice, error) {
	return query.List[RentalPrice](ctx, tx,
		`SELECT kind, size, monthly_cents FROM rental_price WHERE school_id = $1 ORDER BY kind, size`,
		tx.School,
	)
}

// SetRentalPrices puts a list in place of the present one.
func SetRentalPrices(ctx context.Context, tx *query.Tx, list []RentalPrice) error {
	if _, err := query.Exec(ctx, tx, `DELETE FROM rental_price WHERE school_id = $1`, tx.School); err != nil {
		return err
	}
	for _, p := range list {
		if _, err := query.Exec(ctx, tx, `INSERT INTO rental_price (school_id, kind, size, monthly_cents) VALUES ($1, $2, $3, $4)`,
			tx.School, p.Kind, p.Size, p.MonthlyCents); err != nil {
			return err
		}
	}
	return nil
}
