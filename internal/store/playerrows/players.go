// Package playerrows keeps the players, and finds what is typed about them anywhere.
package playerrows

import (
	"context"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/store/internal/query"
)

// Player is somebody who plays an instrument of the school.
type Player struct {
	ID              uuid.UUID     `db:"id" json:"id"`
	ExternalID      string        `db:"external_id" json:"external_id" maxLength:"120" doc:"What the school's roster calls the player; empty when it does not"`
	GivenName       string        `db:"given_name" json:"given_name" minLength:"1" maxLength:"120"`
	FamilyName      string        `db:"family_name" json:"family_name" maxLength:"120"`
	GradeYear       string        `db:"grade_year" json:"grade_year" maxLength:"20"`
	Kind            string        `db:"kind" json:"kind" doc:"Key of the kind of instrument that the player learns; empty when that is not known"`
	PracticeMinutes float64       `db:"practice_minutes_per_week" json:"practice_minutes_per_week" minimum:"0" maximum:"10080"`
	PracticeDays    float64       `db:"practice_days_per_week" json:"practice_days_per_week" minimum:"0" maximum:"7"`
	VacationShare   float64       `db:"vacation_share" json:"vacation_share" minimum:"0" maximum:"1"`
	HeavySweat      bool          `db:"heavy_sweat" json:"heavy_sweat"`
	Transport       string        `db:"transport" json:"transport" enum:",foot,bicycle,bus,car" doc:"How the instrument travels; empty when that is not known"`
	ReedStrength    string        `db:"reed_strength" json:"reed_strength,omitempty" maxLength:"20" doc:"As the catalogue names it for the kind; left out when it is not known"`
	Guardian        string        `db:"guardian" json:"guardian" maxLength:"200" doc:"How to reach a guardian; may be empty"`
	Notes           string        `db:"notes" json:"notes" maxLength:"500"`
	LeftOn          *day.Day      `db:"left_on" json:"left_on,omitempty" doc:"Left out while the player is here"`
	Version         int           `db:"version" json:"version" doc:"0 for a new one; else the version that was read"`
	Ensembles       []uuid.UUID   `db:"-" json:"ensembles"`
	Measurements    []Measurement `db:"-" json:"measurements" doc:"The earliest first"`
}

// Name is how the player is called in a list.
func (p Player) Name() string {
	if p.FamilyName == "" {
		return p.GivenName
	}
	return p.GivenName + " " + p.FamilyName
}

// Measurement is how long a player's arm is, neck to mid-palm, or how tall they are, on a day.
type Measurement struct {
	MeasuredOn day.Day  `db:"measured_on" json:"measured_on"`
	ArmLength  *float64 `db:"arm_length_cm" json:"arm_length_cm,omitempty" exclusiveMinimum:"0" exclusiveMaximum:"300"`
	Height     *float64 `db:"height_cm" json:"height_cm,omitempty" exclusiveMinimum:"0" exclusiveMaximum:"300"`
}

const playerColumns = `id, external_id, given_name, family_name, grade_year, kind, practice_minutes_per_week, practice_days_per_week,
	vacation_share, heavy_sweat, transport, guardian, notes, left_on, version, reed_strength`

// Players lists players by name: those named, or all.
func Players(ctx context.Context, tx *query.Tx, of ...uuid.UUID) ([]Player, error) {
	var list []Player
	where, args := query.Only("id", of, tx.School)
	if err := query.Select(ctx, tx, &list, `SELECT `+playerColumns+` FROM player WHERE school_id = $1`+where+`
		ORDER BY family_name, given_name, id`, args...); err != nil {
		return nil, err
	}
	at := make(map[uuid.UUID]int, len(list))
	for n := range list {
		at[list[n].ID] = n
		list[n].Ensembles, list[n].Measurements = []uuid.UUID{}, []Measurement{}
	}
	if len(of) > 0 {
		where, args = query.Only("player_id", of, tx.School)
	}
	var links []struct {
		Player   uuid.UUID `db:"player_id"`
		Ensemble uuid.UUID `db:"ensemble_id"`
	}
	if err := query.Select(ctx, tx, &links, `SELECT player_id, ensemble_id FROM player_ensemble WHERE school_id = $1`+where+`
		ORDER BY ensemble_id`, args...); err != nil {
		return nil, err
	}
	for _, l := range links {
		p := &list[at[l.Player]]
		p.Ensembles = append(p.Ensembles, l.Ensemble)
	}
	var measured []struct {
		Player uuid.UUID `db:"player_id"`
		Measurement
	}
	if err := query.Select(ctx, tx, &measured, `SELECT player_id, measured_on, arm_length_cm, height_cm FROM player_measurement
		WHERE school_id = $1`+where+` ORDER BY measured_on`, args...); err != nil {
		return nil, err
	}
	for _, m := range measured {
		p := &list[at[m.Player]]
		p.Measurements = append(p.Measurements, m.Measurement)
	}
	return query.NonNil(list, nil)
}

// PutPlayer adds a player of version 0, or saves one if its version is the current one, with ensembles and measurements.
func PutPlayer(ctx context.Context, tx *query.Tx, p Player) error {
	row := struct {
		School uuid.UUID `db:"school_id"`
		Player
	}{tx.School, p}
	if p.Version == 0 {
		if _, err := query.NamedExec(ctx, tx, `
			INSERT INTO player (school_id, id, external_id, given_name, family_name, grade_year, kind, practice_minutes_per_week,
				practice_days_per_week, vacation_share, heavy_sweat, transport, guardian, notes, left_on, reed_strength)
			VALUES (:school_id, :id, :external_id, :given_name, :family_name, :grade_year, :kind, :practice_minutes_per_week,
				:practice_days_per_week, :vacation_share, :heavy_sweat, :transport, :guardian, :notes, :left_on, :reed_strength)`, row); err != nil {
			return err
		}
	} else if err := query.NamedDoOne(ctx, tx, `
		UPDATE player SET external_id = :external_id, given_name = :given_name, family_name = :family_name, grade_year = :grade_year,
		kind = :kind,
			practice_minutes_per_week = :practice_minutes_per_week, practice_days_per_week = :practice_days_per_week,
			vacation_share = :vacation_share, heavy_sweat = :heavy_sweat, transport = :transport, guardian = :guardian, notes = :notes,
			left_on = :left_on, reed_strength = :reed_strength, version = version + 1
		WHERE school_id = :school_id AND id = :id AND version = :version`, row); err != nil {
		return err
	}
	for _, table := range []string{"player_ensemble", "player_measurement"} {
		if _, err := query.Exec(ctx, tx, `DELETE FROM `+table+` WHERE school_id = $1 AND player_id = $2`, tx.School, p.ID); err != nil {
			return err
		}
	}
	for _, e := range p.Ensembles {
		if _, err := query.Exec(ctx, tx, `INSERT INTO player_ensemble (school_id, player_id, ensemble_id) VALUES ($1, $2, $3)
			ON CONFLICT DO NOTHING`, tx.School, p.ID, e); err != nil {
			return err
		}
	}
	for _, m := range p.Measurements {
		if _, err := query.Exec(ctx, tx, `INSERT INTO player_measurement (school_id, player_id, measured_on, arm_length_cm, height_cm)
			VALUES ($1, $2, $3, $4, $5)`,
			tx.School, p.ID, m.MeasuredOn, m.ArmLength, m.Height); err != nil {
			return err
		}
	}
	return nil
}

// ErasePlayer removes a player of this version with the notices written to them. What they played stays in the assignments and
// hand-overs, without their name, signature and words.
func ErasePlayer(ctx context.Context, tx *query.Tx, id uuid.UUID, version int) error {
	if _, err := query.Exec(ctx, tx, `UPDATE assignment SET player_id = NULL WHERE school_id = $1 AND player_id = $2`,
		tx.School, id); err != nil {
		return err
	}
	if _, err := query.Exec(ctx, tx, `UPDATE hand_over SET player_id = NULL, signed_by = '', signature = NULL, reported = ''
		WHERE school_id = $1 AND player_id = $2`, tx.School, id); err != nil {
		return err
	}
	return query.DoOne(ctx, tx, `DELETE FROM player WHERE school_id = $1 AND id = $2 AND version = $3`, tx.School, id, version)
}
