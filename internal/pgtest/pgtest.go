// Package pgtest gives each test a PostgreSQL database of its own, migrated and empty.
package pgtest

import (
	"context"
	"database/sql"
	"fmt"
	"net/url"
	"os"
	"strings"
	"testing"

	"github.com/alexedwards/argon2id"
	"github.com/google/uuid"
	_ "github.com/jackc/pgx/v5/stdlib" // the driver
	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/store"
	"solfeggio/internal/store/schoolrows"
)

const (
	variable = "SOLFEGGIO_TEST_DATABASE_URL"
	template = "solfeggio_template"
	lockKey  = 7_041_742
)

// New makes a database and returns its address; it is dropped when the test ends. The first one of a run migrates a
// template, the others are copies of it.
func New(t testing.TB) string {
	t.Helper()
	// The template is made afresh when the migrations have changed.
	return NewFrom(t, "schema_"+store.MigrationsSum()[:12], func(address string) {
		require.NoError(t, store.Migrate(context.Background(), address))
	})
}

// NewFrom is New on a template of one's own, which is filled once and stays for as long as its name. The name begins with what it is of, up
// to the first underscore; an older template of that is dropped.
func NewFrom(t testing.TB, name string, fill func(address string)) string {
	t.Helper()
	server := os.Getenv(variable)
	if server == "" {
		t.Fatalf("%s is not set: run make test, or export %s=$(scripts/postgres start test)", variable, variable)
	}
	ctx := context.Background()
	admin, err := sql.Open("pgx", server)
	require.NoError(t, err)
	t.Cleanup(func() { _ = admin.Close() })
	conn, err := admin.Conn(ctx)
	require.NoError(t, err)
	defer conn.Close()
	of, _, _ := strings.Cut(name, "_")
	_, err = conn.ExecContext(ctx, `SELECT pg_advisory_lock($1, hashtext($2))`, lockKey, of)
	require.NoError(t, err)
	defer conn.ExecContext(ctx, `SELECT pg_advisory_unlock($1, hashtext($2))`, lockKey, of) //nolint:errcheck // closing unlocks too

	source := template + "_" + name
	var made bool
	require.NoError(
		t,
		conn.QueryRowContext(ctx, `SELECT EXISTS (SELECT FROM pg_database WHERE datname = $1 AND datistemplate)`, source).Scan(&made),
	)
	if !made {
		dropTemplates(t, conn, template+"_"+of)
		_, err = conn.ExecContext(ctx, `CREATE DATABASE `+source)
		require.NoError(t, err)
		fill(at(t, server, source))
		_, err = conn.ExecContext(ctx, `SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = $1`, source)
		require.NoError(t, err)
		_, err = conn.ExecContext(ctx, `ALTER DATABASE `+source+` IS_TEMPLATE true`)
		require.NoError(t, err)
	}
	copied := "test_" + strings.ReplaceAll(uuid.NewString(), "-", "")
	_, err = conn.ExecContext(ctx, fmt.Sprintf(`CREATE DATABASE %s TEMPLATE %s`, copied, source))
	require.NoError(t, err)
	t.Cleanup(func() {
		_, err := admin.ExecContext(ctx, `DROP DATABASE IF EXISTS `+copied+` WITH (FORCE)`)
		require.NoError(t, err)
	})
	return at(t, server, copied)
}

// dropTemplates drops the templates of something that is made afresh now.
func dropTemplates(t testing.TB, conn *sql.Conn, prefix string) {
	t.Helper()
	ctx := context.Background()
	rows, err := conn.QueryContext(ctx, `SELECT datname FROM pg_database WHERE starts_with(datname, $1)`, prefix)
	require.NoError(t, err)
	var names []string
	for rows.Next() {
		var name string
		require.NoError(t, rows.Scan(&name))
		names = append(names, name)
	}
	require.NoError(t, rows.Err())
	for _, name := range names {
		_, err = conn.ExecContext(ctx, `ALTER DATABASE `+name+` IS_TEMPLATE false`)
		require.NoError(t, err)
		_, err = conn.ExecContext(ctx, `DROP DATABASE `+name+` WITH (FORCE)`)
		require.NoError(t, err)
	}
}

// Open is New with what the program makes of it.
func Open(t testing.TB) *store.DB {
	t.Helper()
	db, _ := OpenBeside(t)
	return db
}

// OpenBeside is Open with a pool beside the program's, which works as the same role and asks whatever it likes.
func OpenBeside(t testing.TB) (*store.DB, *sqlx.DB) {
	t.Helper()
	address := New(t)
	db, err := store.Open(address)
	require.NoError(t, err)
	t.Cleanup(func() { _ = db.Close() })
	raw, err := sqlx.Open("pgx", address+"&role=solfeggio_app")
	require.NoError(t, err)
	t.Cleanup(func() { _ = raw.Close() })
	return db, raw
}

func at(t testing.TB, server, name string) string {
	u, err := url.Parse(server)
	require.NoError(t, err)
	u.Path = "/" + name
	return u.String()
}

// School is a school as the tests set it up.
func School() schoolrows.School {
	return schoolrows.School{
		ID: uuid.New(), Name: "Quillhaven", TimeZone: "UTC", Locale: "en-GB", Currency: "EUR", PlayerCare: "trusted", OpensAt: 0.75,
		LateAt:        1.25,
		HeatingBegins: "10-15", HeatingEnds: "04-15",
	}
}

// QuickPasswords are tried in no time, for tests that are about something else.
var QuickPasswords = argon2id.Params{Memory: 64, Iterations: 1, Parallelism: 1, SaltLength: 16, KeyLength: 32}

// Everything is all that is kept of a school, row by row of every table there is, as the program's own role sees it.
func Everything(t testing.TB, raw *sqlx.DB, school uuid.UUID) string {
	t.Helper()
	tx, err := raw.Beginx()
	require.NoError(t, err)
	defer func() { _ = tx.Rollback() }()
	_, err = tx.Exec(`SELECT set_config('solfeggio.school_id', $1, true)`, school.String())
	require.NoError(t, err)
	var tables []string
	require.NoError(t, tx.Select(&tables, `SELECT relname FROM pg_class
		WHERE relkind IN ('r', 'p') AND relnamespace = 'public'::regnamespace AND relname <> 'goose_db_version' ORDER BY 1`))
	var all strings.Builder
	for _, table := range tables {
		var rows []string
		require.NoError(t, tx.Select(&rows, `SELECT x::text FROM "`+table+`" x`), table)
		for _, row := range rows {
			fmt.Fprintf(&all, "%s %s\n", table, row)
		}
	}
	require.Greater(t, strings.Count(all.String(), "\n"), 10)
	return all.String()
}
