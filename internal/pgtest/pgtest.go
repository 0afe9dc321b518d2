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

	"github.com/google/uuid"
	_ "github.com/jackc/pgx/v5/stdlib" // the driver
	"github.com/stretchr/testify/require"

	"solfeggio/internal/store"
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
	_, err = conn.ExecContext(ctx, `SELECT pg_advisory_lock($1)`, lockKey)
	require.NoError(t, err)
	defer conn.ExecContext(ctx, `SELECT pg_advisory_unlock($1)`, lockKey) //nolint:errcheck // closing unlocks too

	// The template is made afresh when the migrations have changed.
	source := template + "_" + store.MigrationsSum()[:12]
	var made bool
	require.NoError(
		t,
		conn.QueryRowContext(ctx, `SELECT EXISTS (SELECT FROM pg_database WHERE datname = $1 AND datistemplate)`, source).Scan(&made),
	)
	if !made {
		_, err = conn.ExecContext(ctx, `DROP DATABASE IF EXISTS `+source+` WITH (FORCE)`)
		require.NoError(t, err)
		_, err = conn.ExecContext(ctx, `CREATE DATABASE `+source)
		require.NoError(t, err)
		require.NoError(t, store.Migrate(ctx, at(t, server, source)))
		_, err = conn.ExecContext(ctx, `ALTER DATABASE `+source+` IS_TEMPLATE true`)
		require.NoError(t, err)
	}
	name := "test_" + strings.ReplaceAll(uuid.NewString(), "-", "")
	_, err = conn.ExecContext(ctx, fmt.Sprintf(`CREATE DATABASE %s TEMPLATE %s`, name, source))
	require.NoError(t, err)
	t.Cleanup(func() {
		_, err := admin.ExecContext(ctx, `DROP DATABASE IF EXISTS `+name+` WITH (FORCE)`)
		require.NoError(t, err)
	})
	return at(t, server, name)
}

// Open is New with a pool on it.
func Open(t testing.TB) *store.DB {
	t.Helper()
	db, err := store.Open(New(t))
	require.NoError(t, err)
	t.Cleanup(func() { _ = db.Close() })
	return db
}

func at(t testing.TB, server, name string) string {
	u, err := url.Parse(server)
	require.NoError(t, err)
	u.Path = "/" + name
	return u.String()
}

// School is a school as the tests set it up.
func School() store.School {
	return store.School{
		ID: uuid.New(), Name: "Quillhaven", TimeZone: "UTC", Locale: "en-GB", Currency: "EUR", PlayerCare: "trusted", OpensAt: 0.75, LateAt: 1.25,
		HeatingBegins: "10-15", HeatingEnds: "04-15",
	}
}
