package playerrows

import (
	"context"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/store/internal/query"
)

// A typedTable is a table in which people type freely, and so about players. Its expressions are SQL about a row t; one that is empty is
// what the table does not know.
type typedTable struct {
	name       string
	columns    []typedColumn
	instrument string // whose text it is
	at         string // when it was typed
	player     string // who the row is about
	versioned  bool
	reword     string // the function that changes a row of a table that the application may only add to
}

type typedColumn struct {
	name string
	what string // on the screen
	json bool   // its texts lie within it
	goes bool   // it goes with the player who the row is about
	ours bool   // mostly the program's own words, and so only of interest where a name stands in them
}

const jobsInstrument = "(SELECT j.instrument_id FROM shop_job j WHERE j.school_id = t.school_id AND j.id = t.job_id)"

// typed is where people type freely. A test of the whole API finds what is missing here.
var typed = []typedTable{
	{name: "instrument", columns: []typedColumn{{name: "notes", what: "notes on the instrument"}, {name: "gone_how", what: "how it left"}},
		instrument: "t.id", versioned: true},
	{name: "finding", columns: []typedColumn{{name: "note", what: "a finding"}, {name: "cleared_how", what: "how a finding was cleared"}},
		instrument: "t.instrument_id", at: "t.found_at"},
	{name: "inspection", columns: []typedColumn{{name: "answers", what: "a check", json: true}}, instrument: "t.instrument_id",
		at: "t.ended_at", reword: "reword_inspection"},
	{name: "report", columns: []typedColumn{{name: "answer", what: "an answer on a card"}}, instrument: "t.instrument_id",
		at: "t.reported_at"},
	{name: "hold", columns: []typedColumn{{name: "because", what: "why it was held", ours: true}, {name: "how", what: "how a hold ended"}},
		instrument: "t.instrument_id", at: "t.began_at"},
	{name: "hand_over", columns: []typedColumn{{name: "terms", what: "terms of a hand-over", ours: true},
		{name: "known", what: "what was known at a hand-over", ours: true}, {name: "signed_by", what: "a signature", goes: true},
		{name: "reported", what: "what was said at a return", goes: true}, {name: "kit", what: "a kit", json: true},
		{name: "return_kit", what: "a kit", json: true}},
		instrument: "t.instrument_id", at: "t.given_at", player: "t.player_id"},
	{name: "charge", columns: []typedColumn{{name: "reason", what: "the reason of a charge"}},
		instrument: "(SELECT h.instrument_id FROM hand_over h WHERE h.school_id = t.school_id AND h.id = t.hand_over_id)", at: "t.decided_at",
		player: "(SELECT h.player_id FROM hand_over h WHERE h.school_id = t.school_id AND h.id = t.hand_over_id)"},
	{name: "notice", columns: []typedColumn{{name: "addressed_to", what: "a notice", goes: true, ours: true}, {name: "subject", what: "a notice", goes: true, ours: true},
		{name: "body", what: "a notice", goes: true, ours: true}}, instrument: "t.instrument_id", at: "t.sent_at", player: "t.player_id"},
	{name: "passkey", columns: []typedColumn{{name: "name", what: "the name of a passkey"}}},
	{name: "letter", columns: []typedColumn{{name: "wording", what: "the wording of a letter"}}},
	{name: "player", columns: []typedColumn{{name: "notes", what: "notes on another player", goes: true}, {name: "guardian", what: "a guardian", goes: true}},
		player: "t.id", versioned: true},
	{name: "bench_item", columns: []typedColumn{{name: "taken_off", what: "why it left the bench"}}, instrument: "t.instrument_id"},
	{name: "bench_step", columns: []typedColumn{{name: "override", what: "why somebody did not wait"}}, instrument: "t.instrument_id",
		at: "t.done_at"},
	{name: "shop_job", columns: []typedColumn{{name: "asks", what: "what was asked of a shop"},
		{name: "not_wanted", what: "what was not wanted of a shop"}, {name: "ended_how", what: "how a job ended"},
		{name: "decides", what: "who decides"}, {name: "told", what: "what was told to a shop", json: true, ours: true}}, instrument: "t.instrument_id",
		at: "t.wanted_on::timestamptz", versioned: true},
	{name: "shop_job_line", columns: []typedColumn{{name: "words", what: "work for a shop", ours: true}}, instrument: jobsInstrument},
	{name: "shop_quote", columns: []typedColumn{{name: "note", what: "a quote"}, {name: "lines", what: "a quote", json: true}},
		instrument: jobsInstrument, at: "t.given_at"},
	{name: "shop_trip", columns: []typedColumn{{name: "driver", what: "who drives"}, {name: "note", what: "a trip"}},
		at: "t.on_day::timestamptz", versioned: true},
	{name: "shop", columns: []typedColumn{{name: "notes", what: "notes on a shop"}}, versioned: true},
	{name: "rental", columns: []typedColumn{{name: "contact", what: "whom to reach about a rental"}, {name: "contract", what: "a contract"}},
		instrument: "t.instrument_id", versioned: true},
	{name: "event", columns: []typedColumn{{name: "detail", what: "the log", json: true}}, instrument: "t.instrument_id", at: "t.at",
		reword: "reword_event"},
	{name: "request", columns: []typedColumn{{name: "response", what: AnswersAgain, json: true}}, at: "t.at"},
}

// AnswersAgain is what is kept for a week to answer a request that comes once more: copies of what stands elsewhere.
const AnswersAgain = "an answer that is kept for a week"

// A TypedRow is a row in which people typed.
type TypedRow struct {
	table int
	row   string // where it is, until it is changed

	Texts      []TypedText
	Instrument *uuid.UUID
	At         *time.Time
	Player     *uuid.UUID // who the row is about
	During     bool       // it is of an instrument while the player had it, or of the week after
}

// A TypedText is a column of such a row.
type TypedText struct {
	What string
	JSON bool // texts lie within it
	Ours bool // mostly the program's own words
	Text string
	was  string
}

// TypedRows are the rows in which a text matches one of the patterns, as LIKE has them, or was typed about an instrument while a player
// had it.
func TypedRows(ctx context.Context, tx *query.Tx, patterns []string, player uuid.UUID) ([]TypedRow, error) {
	var all []TypedRow
	for n, t := range typed {
		rows, err := query.Query(ctx, tx, t.query(), tx.School, patterns, player)
		if err != nil {
			return nil, fmt.Errorf("reading what was typed into %s: %w", t.name, err)
		}
		for rows.Next() {
			r := TypedRow{table: n, Texts: make([]TypedText, len(t.columns))}
			into := []any{&r.row, &r.Instrument, &r.At, &r.Player, &r.During}
			for c := range t.columns {
				r.Texts[c] = TypedText{What: t.columns[c].what, JSON: t.columns[c].json, Ours: t.columns[c].ours}
				into = append(into, &r.Texts[c].Text)
			}
			if err := rows.Scan(into...); err != nil {
				_ = rows.Close() // what went wrong is said
				return nil, err
			}
			for c := range t.columns {
				if t.columns[c].goes && r.Player != nil && *r.Player == player {
					r.Texts[c].Text = ""
				}
				r.Texts[c].was = r.Texts[c].Text
			}
			all = append(all, r)
		}
		if err := rows.Err(); err != nil {
			return nil, err
		}
	}
	return all, nil
}

func (t typedTable) query() string {
	or := func(expression, otherwise string) string {
		if expression == "" {
			return otherwise
		}
		return expression
	}
	row, during := "t.ctid::text", "false"
	if t.reword != "" {
		row = "t.id::text"
	}
	if t.instrument != "" && t.at != "" {
		during = fmt.Sprintf(`EXISTS (SELECT FROM assignment a WHERE a.school_id = t.school_id AND a.player_id = $3 AND a.instrument_id = %s
			AND (%s)::date BETWEEN a.starts_on AND coalesce(a.ends_on, 'infinity') + 7)`, t.instrument, t.at)
	}
	columns, like := []string{}, []string{}
	for n, c := range t.columns {
		columns = append(columns, fmt.Sprintf("coalesce(t.%s::text, '') AS text%d", c.name, n))
		like = append(like, fmt.Sprintf("t.%s::text ILIKE ANY ($2)", c.name))
	}
	return fmt.Sprintf(`SELECT * FROM (
			SELECT %s AS row, %s AS instrument, %s AS at, %s AS player, %s AS during, %s FROM %s t
			WHERE t.school_id = $1 AND $3::uuid IS NOT NULL AND (%s OR %s)
		) found ORDER BY at NULLS FIRST, row`,
		row, or(t.instrument, "NULL::uuid"), or(t.at, "NULL::timestamptz"), or(t.player, "NULL::uuid"), during,
		strings.Join(columns, ", "), t.name, strings.Join(like, " OR "), during)
}

// Retype keeps a row with those of its texts that were changed.
func Retype(ctx context.Context, tx *query.Tx, r TypedRow) error {
	t := typed[r.table]
	if t.reword != "" {
		return query.Do(ctx, tx, `SELECT `+t.reword+`($1, $2::text::jsonb)`, r.row, r.Texts[0].Text)
	}
	set, values := []string{}, []any{tx.School, r.row}
	for n, c := range t.columns {
		if r.Texts[n].Text == r.Texts[n].was {
			continue
		}
		values = append(values, r.Texts[n].Text)
		value := fmt.Sprintf("$%d::text", len(values))
		if c.json {
			value += "::jsonb"
		}
		set = append(set, c.name+" = "+value)
	}
	if len(set) == 0 {
		return nil
	}
	if t.versioned {
		set = append(set, "version = version + 1")
	}
	return query.DoOne(ctx, tx, fmt.Sprintf(`UPDATE %s SET %s WHERE school_id = $1 AND ctid = $2::text::tid`,
		t.name, strings.Join(set, ", ")), values...)
}
