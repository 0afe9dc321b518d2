package web_test

import (
	"slices"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/pgtest"
)

// tenYears puts what ten years of a large school leave behind into the tables that grow, all of it over and done with.
const tenYears = `
SET ROLE NONE;
SET session_replication_role = replica; -- no triggers, no checks of what belongs to what: this is history
INSERT INTO instrument (school_id, id, tag, kind, size, body, care_from)
	SELECT school_id, gen_random_uuid(), 'OLD-' || n, kind, size, body, care_from FROM instrument, generate_series(1, 300) n WHERE tag = 'FREE';
CREATE TEMP TABLE old AS
	SELECT i.school_id, i.id AS instrument_id, n, gen_random_uuid() AS id, timestamptz '2016-09-01' + n * interval '9 days' AS at
	FROM instrument i, generate_series(1, 400) n;
INSERT INTO event (school_id, id, at, instrument_id, what, detail) SELECT school_id, id, at, instrument_id, 'care-done', '{}' FROM old;
INSERT INTO completion (school_id, event_id, instrument_id, routine, part, done_on, implied)
	SELECT school_id, id, instrument_id, 'violin-wipe', '', at::date, false FROM old;
INSERT INTO inspection (school_id, id, instrument_id, template, edition, began_at, ended_at, grade, answers)
	SELECT school_id, id, instrument_id, 'violin', '1', at, at, 'class', '[]' FROM old WHERE n % 4 = 0;
INSERT INTO finding (school_id, id, instrument_id, code, severity, action, avoidable, touches_tone, found_at, cleared_at)
	SELECT school_id, id, instrument_id, 'peg-fit', 1, 'director', false, false, at, at FROM old WHERE n % 2 = 0;
INSERT INTO photo (school_id, id, instrument_id, taken_at, width, height, full_size, thumbnail)
	SELECT school_id, id, instrument_id, at, 10, 10, '\x00', '\x00' FROM old WHERE n % 2 = 0;
INSERT INTO part_life (school_id, id, instrument_id, part, put_on, ended_on, begun_by, ended_by)
	SELECT school_id, id, instrument_id, 'string-e', at::date, at::date, id, id FROM old WHERE n % 2 = 0;
INSERT INTO shop_job (school_id, id, instrument_id, state, origin, wanted_on, closed_on, asks)
	SELECT school_id, id, instrument_id, 'called-off', 'hand', at::date, at::date, 'x' FROM old WHERE n % 4 = 0;
INSERT INTO shop_job_line (school_id, job_id, instrument_id, place, words)
	SELECT school_id, id, instrument_id, 0, 'x' FROM old WHERE n % 4 = 0;
INSERT INTO notice (school_id, id, letter, about, instrument_id, addressed_to, subject, body, sent_at)
	SELECT school_id, id, 'due-back', id::text, instrument_id, 'home@quillhaven.example', 'x', 'x', at FROM old WHERE n % 4 = 0;
INSERT INTO hand_over (school_id, id, instrument_id, given_at, returned_at)
	SELECT school_id, id, instrument_id, at, at FROM old WHERE n % 4 = 0;
INSERT INTO hold (school_id, id, instrument_id, because, began_at, ended_at)
	SELECT school_id, id, instrument_id, 'x', at, at FROM old WHERE n % 4 = 0;
DROP TABLE old;
ANALYZE;`

// No screen of a school reads a table as a whole that grows with the years. Only who wants to know all that stands anywhere of a player, to
// take it along or to have it forgotten, has every text searched.
func TestNoQuestionReadsTheYearsGoneBy(t *testing.T) {
	db, raw := pgtest.OpenBeside(t)
	w := newWorld(t, db, "grown@quillhaven.example")
	c, all := readContract(t)
	conn, err := raw.Connx(t.Context())
	require.NoError(t, err)
	for _, statement := range []string{tenYears, `SELECT pg_stat_force_next_flush()`, `SELECT pg_stat_reset()`} {
		_, err = conn.ExecContext(t.Context(), statement)
		require.NoError(t, err)
	}
	require.NoError(t, conn.Close())
	all = slices.DeleteFunc(all, func(o *operation) bool { return o.OperationID == "mentions" || o.OperationID == "player-data" })
	w.asksEverything(t, c, all, "ten years")
	require.NoError(t, w.app.Schools.DB.Close()) // and with its connections their figures are told
	assert.Empty(t, readWhole(t, raw))
}

// readWhole lists tables that grow and were read as a whole, with how often.
func readWhole(t *testing.T, raw *sqlx.DB) (list []string) {
	time.Sleep(time.Second)
	require.NoError(t, raw.SelectContext(t.Context(), &list, `SELECT c.relname || ' ' || seq_scan
		FROM pg_stat_user_tables s JOIN pg_class c ON c.oid = s.relid WHERE seq_scan > 0 AND reltuples > 5000 ORDER BY 1`))
	return list
}
