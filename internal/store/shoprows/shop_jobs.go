// Package shoprows keeps repair shops, their jobs and quotes, and trips to them.
package shoprows

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/shop"
	"solfeggio/internal/store/internal/query"
)

// Job is a job for a repair shop: one instrument, and what is to be done to it.
type Job struct {
	ID            uuid.UUID       `db:"id" json:"id" doc:"Made by the client"`
	Instrument    uuid.UUID       `db:"instrument_id" json:"instrument_id"`
	Shop          *uuid.UUID      `db:"shop_id" json:"shop_id,omitempty" doc:"Left out while nobody chose one"`
	State         shop.State      `db:"state" json:"state" enum:"wanted,asked,quoted,agreed,booked,away,back,closed,called-off"`
	Origin        Origin          `db:"origin" json:"origin" enum:"finding,care,diagnosis,rehair,hand"`
	Asks          string          `db:"asks" json:"asks" maxLength:"2000" doc:"What is asked beside its lines"`
	NotWanted     string          `db:"not_wanted" json:"not_wanted" maxLength:"2000"`
	Decides       string          `db:"decides" json:"decides" maxLength:"120" doc:"Whom the shop asks before it does more"`
	Reference     string          `db:"reference" json:"reference" maxLength:"80" doc:"The shop's own"`
	WantedOn      day.Day         `db:"wanted_on" json:"wanted_on"`
	AskedOn       *day.Day        `db:"asked_on" json:"asked_on,omitempty"`
	QuoteCents    *int64          `db:"quote_cents" json:"quote_cents,omitempty" doc:"Of the quote on which nobody has decided"`
	QuoteUntil    *day.Day        `db:"quote_until" json:"quote_until,omitempty" doc:"Until when that holds"`
	AgreedCents   *int64          `db:"agreed_cents" json:"agreed_cents,omitempty"`
	Trip          *uuid.UUID      `db:"trip_id" json:"trip_id,omitempty" doc:"On which it rides"`
	FetchedOn     *day.Day        `db:"fetched_on" json:"fetched_on,omitempty" doc:"When the shop fetches it"`
	SentOn        *day.Day        `db:"sent_on" json:"sent_on,omitempty"`
	ExpectedOn    *day.Day        `db:"expected_on" json:"expected_on,omitempty" doc:"Back by"`
	BackOn        *day.Day        `db:"back_on" json:"back_on,omitempty"`
	ClosedOn      *day.Day        `db:"closed_on" json:"closed_on,omitempty"`
	ReadyOn       *day.Day        `db:"ready_on" json:"ready_on,omitempty" doc:"Since when the shop says that it can be fetched"`
	Told          json.RawMessage `db:"-" json:"-"` // what the simulated shop said last
	Untold        bool            `db:"untold" json:"untold" doc:"The simulated shop has not heard of the last step; asking for news tells it"`
	RealCents     *int64          `db:"real_cents" json:"real_cents,omitempty" doc:"What it cost"`
	WarrantyUntil *day.Day        `db:"warranty_until" json:"warranty_until,omitempty"`
	EndedHow      string          `db:"ended_how" json:"ended_how"`
	Player        *uuid.UUID      `db:"player_id" json:"-"` // in whose hands it was when it was sent
	Habit         json.RawMessage `db:"-" json:"-"`         // how it was played; empty when nobody did
	Loaner        *uuid.UUID      `db:"loaner_id" json:"loaner_id,omitempty" doc:"What was lent instead"`
	Version       int             `db:"version" json:"version"`

	Lines []JobLine `db:"-" json:"lines"`
}

// Origin is where a job comes from.
type Origin string

// The origins.
const (
	FromFinding   Origin = "finding"
	FromCare      Origin = "care"
	FromDiagnosis Origin = "diagnosis"
	FromRehair    Origin = "rehair"
	ByHand        Origin = "hand"
)

// JobLine is one thing that is to be done.
type JobLine struct {
	Work            string     `db:"work" json:"work" maxLength:"60" doc:"Key of a repair; empty for one in the school's own words"`
	Words           string     `db:"words" json:"words" maxLength:"300"`
	Finding         *uuid.UUID `db:"finding_id" json:"finding_id,omitempty" doc:"That it is to end"`
	Routine         string     `db:"routine" json:"routine,omitempty" maxLength:"60" doc:"Care that is done with it"`
	Part            string     `db:"part" json:"part,omitempty" maxLength:"60" doc:"Of that care"`
	ExpectedCents   *int64     `db:"expected_cents" json:"expected_cents,omitempty" minimum:"0" maximum:"100000000"`
	ExpectedMinutes *int       `db:"expected_minutes" json:"expected_minutes,omitempty" minimum:"0" maximum:"100000"`
	RealCents       *int64     `db:"real_cents" json:"real_cents,omitempty" minimum:"0" maximum:"100000000"`
	Outcome         Outcome    `db:"outcome" json:"outcome" enum:",mended,not mended" doc:"Empty until it was checked in"`
}

// Outcome is what became of a line.
type Outcome string

// The outcomes.
const (
	Mended    Outcome = "mended"
	NotMended Outcome = "not mended"
)

type jobRow struct {
	School uuid.UUID `db:"school_id"`
	Job
	Habit query.JSON[json.RawMessage] `db:"habit"`
	Told  query.JSON[json.RawMessage] `db:"told"`
}

func (r jobRow) job() Job {
	r.Job.Habit, r.Job.Told, r.Job.Lines = r.Habit.Of, r.Told.Of, []JobLine{}
	return r.Job
}

func rowOf(tx *query.Tx, j Job) jobRow {
	return jobRow{tx.School, j, query.AsJSON(j.Habit), query.AsJSON(j.Told)}
}

const jobColumns = `id, instrument_id, shop_id, state, origin, asks, not_wanted, decides, reference, wanted_on, asked_on,
	agreed_cents, trip_id,
	fetched_on, sent_on, expected_on, back_on, closed_on, ready_on, told, untold, real_cents, warranty_until, ended_how, player_id, habit,
	loaner_id, version,
	(SELECT total_cents FROM shop_quote q WHERE q.school_id = j.school_id AND q.job_id = j.id AND q.decision = '') AS quote_cents,
	(SELECT valid_until FROM shop_quote q WHERE q.school_id = j.school_id AND q.job_id = j.id AND q.decision = '') AS quote_until`

// OpenJobs lists the open jobs of the instruments named, or of all, with their lines.
func OpenJobs(ctx context.Context, tx *query.Tx, of ...uuid.UUID) ([]Job, error) {
	where, args := query.Only("instrument_id", of, tx.School)
	return readJobs(ctx, tx, `state NOT IN ('closed', 'called-off')`+where, args...)
}

// EndedJobs lists the jobs that were closed or called off since a day, the latest first.
func EndedJobs(ctx context.Context, tx *query.Tx, since day.Day) ([]Job, error) {
	return readJobs(ctx, tx, `state IN ('closed', 'called-off') AND closed_on >= $2`, tx.School, since)
}

// JobByID reads one job with its lines.
func JobByID(ctx context.Context, tx *query.Tx, id uuid.UUID) (Job, error) {
	list, err := readJobs(ctx, tx, `id = $2`, tx.School, id)
	switch {
	case err != nil:
		return Job{}, err
	case len(list) == 0:
		return Job{}, query.ErrNotFound
	}
	return list[0], nil
}

// JobsOf lists all jobs of an instrument, the latest first.
func JobsOf(ctx context.Context, tx *query.Tx, instrument uuid.UUID) ([]Job, error) {
	return readJobs(ctx, tx, `instrument_id = $2`, tx.School, instrument)
}

func readJobs(ctx context.Context, tx *query.Tx, where string, args ...any) ([]Job, error) {
	var rows []jobRow
	if err := query.Select(ctx, tx, &rows, `SELECT `+jobColumns+` FROM shop_job j WHERE school_id = $1 AND `+where+`
		ORDER BY coalesce(closed_on, wanted_on) DESC, id DESC`, args...); err != nil {
		return nil, err
	}
	list, at, ids := make([]Job, len(rows)), map[uuid.UUID]int{}, make([]uuid.UUID, len(rows))
	for n, r := range rows {
		list[n], at[r.ID], ids[n] = r.job(), n, r.ID
	}
	if len(ids) == 0 {
		return list, nil
	}
	var lines []struct {
		Job uuid.UUID `db:"job_id"`
		JobLine
	}
	if err := query.Select(ctx, tx, &lines,
		`SELECT job_id, work, words, finding_id, routine, part, expected_cents, expected_minutes, real_cents, outcome
		FROM shop_job_line WHERE school_id = $1 AND job_id = ANY($2) ORDER BY job_id, place`, tx.School, ids); err != nil {
		return nil, err
	}
	for _, l := range lines {
		j := &list[at[l.Job]]
		j.Lines = append(j.Lines, l.JobLine)
	}
	return list, nil
}

// InsertJob adds a job with its lines.
func InsertJob(ctx context.Context, tx *query.Tx, j Job) error {
	if _, err := query.NamedExec(ctx, tx,
		`INSERT INTO shop_job (school_id, id, instrument_id, shop_id, state, origin, asks, not_wanted, decides, wanted_on)
		VALUES (:school_id, :id, :instrument_id, :shop_id, :state, :origin, :asks, :not_wanted, :decides, :wanted_on)`,
		rowOf(tx, j)); err != nil {
		return err
	}
	return setLines(ctx, tx, j)
}

// UpdateJob saves a job with its lines if its version is the current one.
func UpdateJob(ctx context.Context, tx *query.Tx, j Job) error {
	if err := query.NamedDoOne(ctx, tx, `
		UPDATE shop_job SET shop_id = :shop_id, state = :state, asks = :asks, not_wanted = :not_wanted, decides = :decides,
		reference = :reference,
			asked_on = :asked_on, agreed_cents = :agreed_cents, trip_id = :trip_id, fetched_on = :fetched_on, sent_on = :sent_on,
			expected_on = :expected_on, back_on = :back_on, closed_on = :closed_on, ready_on = :ready_on, told = :told, untold = :untold,
			real_cents = :real_cents, warranty_until = :warranty_until,
			ended_how = :ended_how, player_id = :player_id, habit = :habit, loaner_id = :loaner_id, version = version + 1
		WHERE school_id = :school_id AND id = :id AND version = :version`, rowOf(tx, j)); err != nil {
		return err
	}
	if _, err := query.Exec(ctx, tx, `DELETE FROM shop_job_line WHERE school_id = $1 AND job_id = $2`, tx.School, j.ID); err != nil {
		return err
	}
	return setLines(ctx, tx, j)
}

// JobTold keeps what the shop's computer said when it heard of this version of a job; ErrStale when the job has moved on since.
func JobTold(ctx context.Context, tx *query.Tx, id uuid.UUID, version int, said json.RawMessage) error {
	return query.DoOne(ctx, tx, `UPDATE shop_job SET told = coalesce($4, told), untold = false
		WHERE school_id = $1 AND id = $2 AND version = $3`, tx.School, id, version, query.AsJSON(said))
}

// DeleteJob takes a job away that has this version; ErrStale when something was done about it since.
func DeleteJob(ctx context.Context, tx *query.Tx, id uuid.UUID, version int) error {
	return query.DoOne(ctx, tx, `DELETE FROM shop_job WHERE school_id = $1 AND id = $2 AND version = $3`,
		tx.School, id, version)
}

func setLines(ctx context.Context, tx *query.Tx, j Job) error {
	for n, l := range j.Lines {
		if _, err := query.Exec(ctx, tx,
			`INSERT INTO shop_job_line (school_id, job_id, instrument_id, place, work, words, finding_id, routine, part,
				expected_cents, expected_minutes, real_cents, outcome)
			VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13)`,
			tx.School, j.ID, j.Instrument, n, l.Work, l.Words, l.Finding, l.Routine, l.Part,
			l.ExpectedCents, l.ExpectedMinutes, l.RealCents, l.Outcome); err != nil {
			return err
		}
	}
	return nil
}

// ShopQuote is what a shop says that a job will cost.
type ShopQuote struct {
	ID         uuid.UUID   `json:"id" doc:"Made by the client"`
	Job        uuid.UUID   `json:"-"`
	GivenAt    time.Time   `json:"given_at"`
	ValidUntil *day.Day    `json:"valid_until,omitempty"`
	TotalCents int64       `json:"total_cents"`
	Lines      []QuoteLine `json:"lines"`
	Note       string      `json:"note"`
	ByService  bool        `json:"by_service" doc:"The simulated shop said so"`
	Decision   string      `json:"decision" enum:",accepted,refused,overtaken" doc:"Empty while it is open"`
	DecidedAt  *time.Time  `json:"decided_at,omitempty"`
}

// QuoteLine is a line of a quote, in the shop's words.
type QuoteLine struct {
	Words string `json:"words" maxLength:"300"`
	Cents int64  `json:"cents" minimum:"0" maximum:"100000000"`
}

// QuotesOf lists the quotes for a job: the open one, then those that were decided on, the latest first.
func QuotesOf(ctx context.Context, tx *query.Tx, job uuid.UUID) ([]ShopQuote, error) {
	var rows []struct {
		ID         uuid.UUID               `db:"id"`
		Job        uuid.UUID               `db:"job_id"`
		GivenAt    time.Time               `db:"given_at"`
		ValidUntil *day.Day                `db:"valid_until"`
		TotalCents int64                   `db:"total_cents"`
		Lines      query.JSON[[]QuoteLine] `db:"lines"`
		Note       string                  `db:"note"`
		ByService  bool                    `db:"by_service"`
		Decision   string                  `db:"decision"`
		DecidedAt  *time.Time              `db:"decided_at"`
	}
	if err := query.Select(ctx, tx, &rows,
		`SELECT id, job_id, given_at, valid_until, total_cents, lines, note, by_service, decision, decided_at
		FROM shop_quote WHERE school_id = $1 AND job_id = $2 ORDER BY decision <> '', given_at DESC, id DESC`, tx.School, job); err != nil {
		return nil, err
	}
	list := make([]ShopQuote, len(rows))
	for n, r := range rows {
		list[n] = ShopQuote{r.ID, r.Job, r.GivenAt, r.ValidUntil, r.TotalCents, r.Lines.Of, r.Note, r.ByService, r.Decision, r.DecidedAt}
	}
	return list, nil
}

// InsertQuote keeps a quote; an open one for the same job is overtaken by it.
func InsertQuote(ctx context.Context, tx *query.Tx, q ShopQuote) error {
	if _, err := DecideQuote(ctx, tx, q.Job, "overtaken", q.GivenAt); err != nil {
		return err
	}
	if q.Lines == nil {
		q.Lines = []QuoteLine{}
	}
	return query.Do(ctx, tx,
		`INSERT INTO shop_quote (school_id, id, job_id, given_at, valid_until, total_cents, lines, note, by_service)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)`,
		tx.School, q.ID, q.Job, q.GivenAt, q.ValidUntil, q.TotalCents, query.AsJSON(q.Lines), q.Note, q.ByService)
}

// DecideQuote decides on the open quote for a job and says which that was; nil where there is none.
func DecideQuote(ctx context.Context, tx *query.Tx, job uuid.UUID, decision string, at time.Time) (*uuid.UUID, error) {
	var decided []uuid.UUID
	if err := query.Select(ctx, tx, &decided, `UPDATE shop_quote SET decision = $3, decided_at = $4
		WHERE school_id = $1 AND job_id = $2 AND decision = '' RETURNING id`, tx.School, job, decision, at); err != nil || len(decided) == 0 {
		return nil, err
	}
	return &decided[0], nil
}

// ReopenQuote takes the decision on a quote back.
func ReopenQuote(ctx context.Context, tx *query.Tx, id uuid.UUID) error {
	return query.DoOne(ctx, tx, `UPDATE shop_quote SET decision = '', decided_at = NULL
		WHERE school_id = $1 AND id = $2`, tx.School, id)
}
