// Package benchrows keeps products and what is done with them at the bench.
package benchrows

import (
	"context"
	"database/sql/driver"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/hygiene"
	"solfeggio/internal/store/internal/query"
)

// Product is what the school disinfects with, as its label has it.
type Product struct {
	ID             uuid.UUID `db:"id" json:"id" doc:"Made by the client"`
	Name           string    `db:"name" json:"name" minLength:"1" maxLength:"80"`
	MadeOf         []string  `db:"-" json:"made_of" maxItems:"4" doc:"What it works by, as its label has it: product groups of the catalogue"`
	Asked          bool      `db:"made_of_asked" json:"-"`
	StrengthPct    *float64  `db:"strength_pct" json:"strength_pct,omitempty" exclusiveMinimum:"0" maximum:"100"`
	ContactMinutes int       `db:"contact_minutes" json:"contact_minutes" doc:"Minutes that the surface stays wet, from the label; 1 to 1440"`
	RegisteredUse  string    `db:"registered_use" json:"registered_use" maxLength:"200" doc:"What it is registered against"`
	Surfaces       []string  `db:"-" json:"surfaces" maxItems:"20" doc:"That the label names"`
	Hazards        string    `db:"hazards" json:"hazards" maxLength:"300" doc:"From the label"`
	SafetySheet    string    `db:"safety_sheet" json:"safety_sheet" maxLength:"300" doc:"Link, or where the paper lies"`
	Supply         string    `db:"supply" json:"supply" doc:"Supply whose lots it comes from"`
	Retired        bool      `db:"retired" json:"retired" doc:"Not used any more"`
	Version        int       `db:"version" json:"version" doc:"0 for a new one; else the version that was read"`
	Sheet          *string   `db:"sheet" json:"-"` // which safety sheet is on file; nil for none
}

// Products lists what the school owns, by name; retired ones last.
func Products(ctx context.Context, tx *query.Tx) ([]Product, error) {
	var rows []struct {
		Product
		On   string `db:"surfaces"`
		Made string `db:"made_of"`
	}
	err := query.Select(
		ctx, tx,
		&rows,
		`SELECT id, name, array_to_string(made_of, ' ') AS made_of, made_of_asked, strength_pct, contact_minutes, registered_use,
		array_to_string(surfaces, ' ') AS surfaces, hazards,
		safety_sheet, supply, retired, version, (SELECT s.xmin::text FROM product_sheet s
		WHERE s.school_id = product.school_id AND s.product_id = product.id) AS sheet -- which transaction wrote it
		FROM product WHERE school_id = $1 ORDER BY retired, name, id`,
		tx.School,
	)
	list := make([]Product, len(rows))
	for n, r := range rows {
		list[n] = r.Product
		list[n].Surfaces, list[n].MadeOf = strings.Fields(r.On), strings.Fields(r.Made)
	}
	return list, err
}

// PutProduct adds a product of version 0, or saves one if its version is the current one. Who saves it has said what it is made of.
func PutProduct(ctx context.Context, tx *query.Tx, p Product) error {
	args := []any{
		tx.School,
		p.ID,
		p.Name,
		p.MadeOf,
		p.StrengthPct,
		p.ContactMinutes,
		p.RegisteredUse,
		p.Surfaces,
		p.Hazards,
		p.SafetySheet,
		p.Supply,
		p.Retired,
	}
	if p.Version == 0 {
		return query.Do(
			ctx, tx,
			`INSERT INTO product (school_id, id, name, made_of, made_of_asked, strength_pct, contact_minutes, registered_use, surfaces, hazards,
				safety_sheet, supply, retired)
			VALUES ($1, $2, $3, $4, true, $5, $6, $7, $8, $9, $10, $11, $12)`,
			args...)
	}
	return query.MetOne(
		query.Exec(
			ctx, tx,
			`UPDATE product SET name = $3, made_of = $4, made_of_asked = true, strength_pct = $5,
					contact_minutes = $6, registered_use = $7, surfaces = $8,
		hazards = $9, safety_sheet = $10, supply = $11, retired = $12, version = version + 1 WHERE school_id = $1 AND id = $2 AND version = $13`,
			append(args, p.Version)...),
	)
}

// PutProductSheet keeps the safety sheet of a product instead of the one that was there.
func PutProductSheet(ctx context.Context, tx *query.Tx, product uuid.UUID, pdf []byte, at time.Time, by *uuid.UUID) error {
	return query.Do(ctx, tx, `INSERT INTO product_sheet (school_id, product_id, pdf, kept_at, kept_by) VALUES ($1, $2, $3, $4, $5)
		ON CONFLICT (school_id, product_id) DO UPDATE SET pdf = $3, kept_at = $4, kept_by = $5`, tx.School, product, pdf, at, by)
}

// ProductSheet reads the safety sheet of a product; ErrNotFound when there is none.
func ProductSheet(ctx context.Context, tx *query.Tx, product uuid.UUID) (pdf []byte, err error) {
	err = query.Get(ctx, tx, &pdf, `SELECT pdf FROM product_sheet WHERE school_id = $1 AND product_id = $2`, tx.School, product)
	return pdf, err
}

// SoakVessel is what mouthpieces soak in; nil while nobody has measured it.
func SoakVessel(ctx context.Context, tx *query.Tx) (*hygiene.Vessel, error) {
	var v query.JSON[*hygiene.Vessel]
	err := query.Get(ctx, tx, &v, `SELECT soak_vessel FROM school WHERE school_id = $1`, tx.School)
	return v.Of, err
}

// SetSoakVessel saves it.
func SetSoakVessel(ctx context.Context, tx *query.Tx, v hygiene.Vessel) error {
	return query.Do(ctx, tx, `UPDATE school SET soak_vessel = $2 WHERE school_id = $1`, tx.School, query.AsJSON(v))
}

// Stations are how many there are of each.
type Stations map[string]int

// Value writes them as JSON.
func (s Stations) Value() (driver.Value, error) { return query.AsJSON(s).Value() }

// Scan reads them from JSON.
func (s *Stations) Scan(from any) error {
	var j query.JSON[map[string]int]
	err := j.Scan(from)
	*s = j.Of
	return err
}

// BenchRun is work at the bench, from its beginning to its end.
type BenchRun struct {
	ID       uuid.UUID  `db:"id"`
	BeganAt  time.Time  `db:"began_at"`
	BeganBy  *uuid.UUID `db:"began_by"`
	EndedAt  *time.Time `db:"ended_at"`
	People   int        `db:"people"`
	Stations Stations   `db:"stations"`
	FinishBy *time.Time `db:"finish_by"`
}

// BenchItem is an instrument in a run.
type BenchItem struct {
	Run        uuid.UUID      `db:"run_id"`
	Instrument uuid.UUID      `db:"instrument_id"`
	Position   int            `db:"position"`
	Reason     catalog.Reason `db:"reason"`
	Routine    string         `db:"routine"`
	RestHours  int            `db:"rest_hours"`
	FinishedAt *time.Time     `db:"finished_at"`
	FreeAt     *time.Time     `db:"free_at"`
	TakenOff   string         `db:"taken_off"`
	Steps      []BenchStep    `db:"-"`
}

// Open reports whether something is still to be done.
func (i BenchItem) Open() bool { return i.FinishedAt == nil && i.TakenOff == "" }

// Uses reports whether a product stays on it in one of its steps.
func (i BenchItem) Uses(product uuid.UUID) bool {
	return slices.ContainsFunc(i.Steps, func(s BenchStep) bool { return s.Product != nil && *s.Product == product })
}

// BenchStep is a step of an item.
type BenchStep struct {
	Run             uuid.UUID  `db:"run_id"`
	Instrument      uuid.UUID  `db:"instrument_id"`
	N               int        `db:"n"`
	Name            string     `db:"name"`
	Instruction     string     `db:"instruction"`
	Reason          string     `db:"reason"`
	Caution         string     `db:"caution"`
	Gloves          string     `db:"gloves"`
	Gate            string     `db:"gate"`
	Station         string     `db:"station"`
	ActiveMinutes   int        `db:"active_minutes"`
	WaitMinutes     int        `db:"wait_minutes"`
	MostWaitMinutes *int       `db:"most_wait_minutes"`
	Held            bool       `db:"held"`
	Surface         string     `db:"surface"`
	Product         *uuid.UUID `db:"product_id"`
	ContactMinutes  int        `db:"contact_minutes"`
	Lot             string     `db:"lot"`
	PlannedAt       *time.Time `db:"planned_at"`
	PlannedPerson   *int       `db:"planned_person"`
	PlannedStation  *int       `db:"planned_station"`
	BegunAt         *time.Time `db:"begun_at"`
	BegunBy         *uuid.UUID `db:"begun_by"`
	DoneAt          *time.Time `db:"done_at"`
	DoneBy          *uuid.UUID `db:"done_by"`
	Override        string     `db:"override"`
}

const runColumns = `id, began_at, began_by, ended_at, people, stations, finish_by`

// OpenBenchRuns lists the runs that go on, the latest first.
func OpenBenchRuns(ctx context.Context, tx *query.Tx) ([]BenchRun, error) {
	return query.List[BenchRun](ctx, tx,
		`SELECT `+runColumns+` FROM bench_run WHERE school_id = $1 AND ended_at IS NULL ORDER BY began_at DESC, id`,
		tx.School,
	)
}

// LatestBenchRun is the run that began last; nil while there was none.
func LatestBenchRun(ctx context.Context, tx *query.Tx) (*BenchRun, error) {
	var list []BenchRun
	if err := query.Select(ctx, tx, &list, `SELECT `+runColumns+` FROM bench_run WHERE school_id = $1 ORDER BY began_at DESC, id
		LIMIT 1`, tx.School); err != nil ||
		len(list) == 0 {
		return nil, err
	}
	return &list[0], nil
}

// BenchRunByID reads a run and locks it, so that what is ticked at one bench is ticked one after the other.
func BenchRunByID(ctx context.Context, tx *query.Tx, id uuid.UUID, lock bool) (BenchRun, error) {
	one := `SELECT ` + runColumns + ` FROM bench_run WHERE school_id = $1 AND id = $2`
	if lock {
		one += ` FOR UPDATE`
	}
	var r BenchRun
	err := query.Get(ctx, tx, &r, one, tx.School, id)
	return r, err
}

const (
	itemColumns = `run_id, instrument_id, position, reason, routine, rest_hours, finished_at, free_at, taken_off`
	stepColumns = `run_id, instrument_id, n, name, instruction, reason, caution, gloves, gate, station, active_minutes, wait_minutes,
		most_wait_minutes, held, surface, product_id,
		contact_minutes, lot, planned_at, planned_person, planned_station, begun_at, begun_by, done_at, done_by, override`
)

// BenchItems lists the instruments of a run with their steps, in their order.
func BenchItems(ctx context.Context, tx *query.Tx, run uuid.UUID) ([]BenchItem, error) {
	return readBenchItems(ctx, tx, `run_id = $2`, `ORDER BY position`, run)
}

// OpenBenchItems lists what lies on any bench.
func OpenBenchItems(ctx context.Context, tx *query.Tx, of ...uuid.UUID) ([]BenchItem, error) {
	if len(of) == 0 {
		return readBenchItems(ctx, tx, `finished_at IS NULL AND taken_off = ''`, `ORDER BY run_id, position`)
	}
	return readBenchItems(ctx, tx, `finished_at IS NULL AND taken_off = '' AND instrument_id = ANY($2)`, `ORDER BY run_id, position`, of)
}

// OpenBenchItem is an instrument on a bench; nil when it lies on none.
func OpenBenchItem(ctx context.Context, tx *query.Tx, instrument uuid.UUID) (*BenchItem, error) {
	list, err := readBenchItems(ctx, tx, `finished_at IS NULL AND taken_off = '' AND instrument_id = $2`, ``, instrument)
	if err != nil || len(list) == 0 {
		return nil, err
	}
	return &list[0], nil
}

// FinishedBenchItems lists what was finished from a time to before another, of one instrument or of all when it is nil; the latest
// first, and at most so many.
func FinishedBenchItems(ctx context.Context, tx *query.Tx, instrument *uuid.UUID, from, to time.Time, most int) ([]BenchItem, error) {
	return readBenchItems(
		ctx, tx,
		`finished_at >= $2 AND finished_at < $3 AND ($4::uuid IS NULL OR instrument_id = $4)`,
		`ORDER BY finished_at DESC, position LIMIT $5`,
		from,
		to,
		instrument,
		most,
	)
}

func readBenchItems(ctx context.Context, tx *query.Tx, where, order string, args ...any) ([]BenchItem, error) {
	var list []BenchItem
	if err := query.Select(ctx, tx, &list, `SELECT `+itemColumns+` FROM bench_item WHERE school_id = $1 AND `+where+` `+order,
		append([]any{tx.School}, args...)...); err != nil {
		return nil, err
	}
	type key struct{ run, instrument uuid.UUID }
	at := map[key]int{}
	var runs []uuid.UUID
	for n, i := range list {
		at[key{i.Run, i.Instrument}] = n
		runs = append(runs, i.Run)
	}
	var steps []BenchStep
	if err := query.Select(ctx, tx, &steps, `SELECT `+stepColumns+` FROM bench_step WHERE school_id = $1 AND run_id = ANY($2)
		ORDER BY run_id, instrument_id, n`, tx.School, runs); err != nil {
		return nil, err
	}
	for _, s := range steps {
		if n, ok := at[key{s.Run, s.Instrument}]; ok {
			list[n].Steps = append(list[n].Steps, s)
		}
	}
	return query.NonNil(list, nil)
}

// InsertBenchRun begins a run with its instruments and their steps.
func InsertBenchRun(ctx context.Context, tx *query.Tx, r BenchRun, items []BenchItem) error {
	if _, err := query.Exec(ctx, tx, `INSERT INTO bench_run (school_id, id, began_at, began_by, people, stations, finish_by)
		VALUES ($1, $2, $3, $4, $5, $6, $7)`,
		tx.School, r.ID, r.BeganAt, r.BeganBy, r.People, r.Stations, r.FinishBy); err != nil {
		return err
	}
	for _, i := range items {
		if _, err := query.Exec(ctx, tx,
			`INSERT INTO bench_item (school_id, run_id, instrument_id, position, reason, routine, rest_hours) VALUES ($1, $2, $3, $4, $5, $6, $7)`,
			tx.School, r.ID, i.Instrument, i.Position, i.Reason, i.Routine, i.RestHours); err != nil {
			return err
		}
		for _, step := range i.Steps {
			step.Run, step.Instrument = r.ID, i.Instrument
			if _, err := query.NamedExec(ctx, tx, `
				INSERT INTO bench_step (school_id, run_id, instrument_id, n, name, instruction, reason, caution, gloves, gate, station, active_minutes,
					wait_minutes, most_wait_minutes, held, surface, product_id, contact_minutes, lot, planned_at, planned_person, planned_station)
				VALUES (:school_id, :run_id, :instrument_id, :n, :name, :instruction, :reason, :caution, :gloves, :gate, :station, :active_minutes,
					:wait_minutes, :most_wait_minutes, :held, :surface, :product_id, :contact_minutes, :lot, :planned_at, :planned_person,
					:planned_station)`,
				stepOf{tx.School, step}); err != nil {
				return err
			}
		}
	}
	return nil
}

// stepOf is a step as a query names its values.
type stepOf struct {
	School uuid.UUID `db:"school_id"`
	BenchStep
}

// SetBenchRun saves who and what is at the bench, and its end.
func SetBenchRun(ctx context.Context, tx *query.Tx, r BenchRun) error {
	return query.MetOne(
		query.Exec(
			ctx, tx,
			`UPDATE bench_run SET people = $3, stations = $4, finish_by = $5, ended_at = $6 WHERE school_id = $1 AND id = $2`,
			tx.School,
			r.ID,
			r.People,
			r.Stations,
			r.FinishBy,
			r.EndedAt,
		),
	)
}

// SetBenchItem saves how an instrument left the bench.
func SetBenchItem(ctx context.Context, tx *query.Tx, i BenchItem) error {
	return query.MetOne(
		query.Exec(
			ctx, tx,
			`UPDATE bench_item SET finished_at = $4, free_at = $5, taken_off = $6 WHERE school_id = $1 AND run_id = $2 AND instrument_id = $3`,
			tx.School,
			i.Run,
			i.Instrument,
			i.FinishedAt,
			i.FreeAt,
			i.TakenOff,
		),
	)
}

// SetBenchStep saves how far a step is and when it is planned.
func SetBenchStep(ctx context.Context, tx *query.Tx, s BenchStep) error {
	return query.NamedDoOne(ctx, tx, `
		UPDATE bench_step SET planned_at = :planned_at, planned_person = :planned_person, planned_station = :planned_station,
		begun_at = :begun_at,
			begun_by = :begun_by, done_at = :done_at, done_by = :done_by, override = :override, lot = :lot
		WHERE school_id = :school_id AND run_id = :run_id AND instrument_id = :instrument_id AND n = :n`, stepOf{tx.School, s})
}
