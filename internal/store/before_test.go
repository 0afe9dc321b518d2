package store_test

import (
	"database/sql"
	"os"
	"testing"

	"github.com/pressly/goose/v3"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/pgtest"
	"solfeggio/internal/store"
)

// before is a database as it stood before a migration, as the program and as its owner see it.
func before(t *testing.T, migration int64) (*store.DB, *sql.DB, *goose.Provider) {
	t.Helper()
	db, owner := both(t)
	migrations, err := goose.NewProvider(goose.DialectPostgres, owner, os.DirFS("migrations"))
	require.NoError(t, err)
	_, err = migrations.DownTo(ctx, migration-1)
	require.NoError(t, err)
	return db, owner, migrations
}

// both is a database as the program and as its owner see it.
func both(t *testing.T) (*store.DB, *sql.DB) {
	t.Helper()
	url := pgtest.New(t)
	owner, err := sql.Open("pgx", url)
	require.NoError(t, err)
	t.Cleanup(func() { _ = owner.Close() })
	db, err := store.Open(url)
	require.NoError(t, err)
	t.Cleanup(func() { _ = db.Close() })
	return db, owner
}

// executing is what carries out a statement of the owner's that has to succeed.
func executing(t *testing.T, owner *sql.DB) func(query string, args ...any) {
	return func(query string, args ...any) {
		t.Helper()
		_, err := owner.ExecContext(ctx, query, args...)
		require.NoError(t, err)
	}
}
