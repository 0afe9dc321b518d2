// Package schoolrows keeps a school itself: its settings and calendar, its choices of practice, and what its writes touched.
package schoolrows

import (
	"context"

	"github.com/google/uuid"

	"solfeggio/internal/core/money"
	"solfeggio/internal/store/internal/query"
)

// School is the school and its choices.
type School struct {
	ID               uuid.UUID      `db:"school_id" json:"id"`
	Name             string         `db:"name" json:"name"`
	TimeZone         string         `db:"time_zone" json:"time_zone" doc:"IANA name, such as Europe/Vienna"`
	Locale           string         `db:"locale" json:"locale" doc:"BCP 47 tag for dates and numbers, such as en-GB"`
	Currency         money.Currency `db:"currency" json:"currency" doc:"ISO 4217"`
	PlayerCare       string         `db:"player_care" json:"player_care" enum:"trusted,tracked" doc:"Whether the players' own weekly care has clocks"`
	OpensAt          float64        `db:"opens_at" json:"opens_at" minimum:"0" maximum:"1" doc:"Share of the limit at which care may be done early"`
	LateAt           float64        `db:"late_at" json:"late_at" minimum:"1" maximum:"10" doc:"Share of the limit beyond which care is late"`
	HeatingBegins    string         `db:"heating_begins" json:"heating_begins" pattern:"^[01][0-9]-[0-3][0-9]$" patternDescription:"month and day, as 10-15"`
	HeatingEnds      string         `db:"heating_ends" json:"heating_ends" pattern:"^[01][0-9]-[0-3][0-9]$" patternDescription:"month and day, as 04-15"`
	ChargeShare      float64        `db:"charge_share_pct" json:"charge_share_pct" minimum:"0" maximum:"100" doc:"What part of an avoidable repair is passed on, in percent"`
	ChargeCap        *int64         `db:"charge_cap_cents" json:"charge_cap_cents,omitempty" minimum:"0" doc:"The most that is ever asked for; left out for no cap"`
	WeighConvenience float64        `db:"weigh_convenience" json:"weigh_convenience" minimum:"0" maximum:"100" doc:"How much it counts when a task left undone costs convenience; the time box weighs by it"`
	WeighSound       float64        `db:"weigh_sound" json:"weigh_sound" minimum:"0" maximum:"100" doc:"The same for sound and tuning"`
	WeighPlaying     float64        `db:"weigh_playing" json:"weigh_playing" minimum:"0" maximum:"100" doc:"When somebody cannot play"`
	WeighHarm        float64        `db:"weigh_harm" json:"weigh_harm" minimum:"0" maximum:"100" doc:"When the instrument is harmed"`
	WeighHealth      float64        `db:"weigh_health" json:"weigh_health" minimum:"0" maximum:"100" doc:"When somebody is hurt or ill"`
	RehairCents      *int64         `db:"rehair_cents" json:"rehair_cents,omitempty" minimum:"0" maximum:"10000000" doc:"What new hair costs the school; left out for the usual price"`
	Phone            string         `db:"phone" json:"phone" maxLength:"40" doc:"Stands on tags and agreements"`
	SecondFactor     string         `db:"second_factor" json:"second_factor" enum:"chosen,directors,everybody" doc:"Who is asked for a code of their telephone beside the password: whoever chooses to, all directors, or everybody"`
	ServedFirst      string         `db:"served_first" json:"served_first" enum:"playing,without" doc:"Who comes first to a free instrument: whoever cannot play their own, or players without one"`
	Version          int            `db:"version" json:"version"`
	Revision         int64          `db:"revision" json:"revision"`

	AskedPractices string `db:"asked_practices" json:"-"` // keys, one blank apart: their defaults changed, and nobody has said what is to hold
}

// GetSchool reads the school of the transaction.
func GetSchool(ctx context.Context, tx *query.Tx) (School, error) {
	var s School
	err := query.Get(ctx, tx, &s, `
		SELECT school_id, name, time_zone, locale, currency, player_care, opens_at, late_at, heating_begins, heating_ends,
		charge_share_pct, charge_cap_cents, weigh_convenience, weigh_sound, weigh_playing, weigh_harm, weigh_health, rehair_cents, phone, second_factor,
		served_first, version, revision, array_to_string(asked_practices, ' ') AS asked_practices
		FROM school WHERE school_id = $1`, tx.School)
	return s, err
}

// InsertSchool makes the school of the transaction.
func InsertSchool(ctx context.Context, tx *query.Tx, s School) error {
	return query.NamedDo(ctx, tx, `
		INSERT INTO school (school_id, name, time_zone, locale, currency, player_care, opens_at, late_at, heating_begins, heating_ends,
		charge_share_pct, charge_cap_cents, weigh_convenience, weigh_sound, weigh_playing, weigh_harm, weigh_health, rehair_cents, phone,
		second_factor, served_first)
		VALUES (:school_id, :name, :time_zone, :locale, :currency, :player_care, :opens_at, :late_at, :heating_begins, :heating_ends,
		:charge_share_pct, :charge_cap_cents, :weigh_convenience, :weigh_sound, :weigh_playing, :weigh_harm, :weigh_health, :rehair_cents,
		:phone, coalesce(nullif(:second_factor, ''), 'chosen'), coalesce(nullif(:served_first, ''), 'playing'))`, s)
}

// UpdateSchool saves the school's choices if s.Version is the current one.
func UpdateSchool(ctx context.Context, tx *query.Tx, s School) error {
	return query.NamedDoOne(ctx, tx, `
		UPDATE school SET name = :name, time_zone = :time_zone, locale = :locale, currency = :currency,
			player_care = :player_care, opens_at = :opens_at, late_at = :late_at,
			heating_begins = :heating_begins, heating_ends = :heating_ends,
			charge_share_pct = :charge_share_pct, charge_cap_cents = :charge_cap_cents,
			weigh_convenience = :weigh_convenience, weigh_sound = :weigh_sound, weigh_playing = :weigh_playing, weigh_harm = :weigh_harm,
			weigh_health = :weigh_health,
			rehair_cents = :rehair_cents, phone = :phone, second_factor = :second_factor, served_first = :served_first,
			version = version + 1
		WHERE school_id = :school_id AND version = :version`, s)
}

// ImportColumns are which columns of a school's own files are which of ours: by file, then by their name. An empty one is not read.
type ImportColumns map[string]map[string]string

// GetImportColumns reads what was said of columns so far.
func GetImportColumns(ctx context.Context, tx *query.Tx) (ImportColumns, error) {
	var kept query.JSON[ImportColumns]
	err := query.Get(ctx, tx, &kept, `SELECT import_columns FROM school WHERE school_id = $1`, tx.School)
	return kept.Of, err
}

// PutImportColumns keeps what was said of columns.
func PutImportColumns(ctx context.Context, tx *query.Tx, columns ImportColumns) error {
	return query.Do(
		ctx, tx,
		`UPDATE school SET import_columns = $2 WHERE school_id = $1`,
		tx.School,
		query.AsJSON(columns),
	)
}

// StepsAside reads the keys of the first steps that the school does without.
func StepsAside(ctx context.Context, tx *query.Tx) ([]string, error) {
	var kept query.JSON[[]string]
	err := query.Get(ctx, tx, &kept, `SELECT steps_aside FROM school WHERE school_id = $1`, tx.School)
	return kept.Of, err
}

// SetStepsAside keeps them.
func SetStepsAside(ctx context.Context, tx *query.Tx, keys []string) error {
	return query.Do(ctx, tx, `UPDATE school SET steps_aside = $2 WHERE school_id = $1`, tx.School, query.AsJSON(keys))
}
