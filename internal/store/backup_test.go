package store_test

import (
	"archive/zip"
	"bytes"
	"context"
	"io"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/pgtest"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/instrumentrows"
)

// empty is the address of a database without tables.
func empty(t *testing.T) string { return pgtest.NewFrom(t, "empty_1", func(string) {}) }

// One file, taken while people write, holds one moment: as many events as the school counts writes.
func TestABackupComesBackElsewhere(t *testing.T) {
	address := pgtest.New(t)
	db, err := store.Open(address)
	require.NoError(t, err)
	defer db.Close()
	a, violin, _, _ := school(t, db, "A")
	b, _, _, _ := school(t, db, "B")
	stop, cancel := context.WithCancel(ctx)
	var writers sync.WaitGroup
	writers.Go(func() {
		for stop.Err() == nil {
			_ = db.Write(ctx, a, func(tx *store.Tx) error {
				return eventrows.InsertEvents(ctx, tx, eventrows.Event{ID: uuid.New(), At: time.Now(), Instrument: &violin, What: eventrows.CareDone})
			})
		}
	})
	path := filepath.Join(t.TempDir(), "school.backup")
	m, err := store.Backup(ctx, address, time.Now(), path)
	cancel()
	writers.Wait()
	require.NoError(t, err)
	assert.Positive(t, m.Bytes)
	info, err := os.Stat(path)
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode().Perm())

	elsewhere := empty(t)
	_, err = store.Restore(ctx, elsewhere, path)
	require.NoError(t, err)
	there, err := store.Open(elsewhere)
	require.NoError(t, err)
	defer there.Close()
	raw, err := sqlx.Open("pgx", elsewhere)
	require.NoError(t, err)
	defer raw.Close()
	var events, writes int
	require.NoError(t, raw.Get(&events, `SELECT count(*) FROM event WHERE school_id = $1`, a))
	require.NoError(t, raw.Get(&writes, `SELECT revision FROM school WHERE school_id = $1`, a))
	assert.Equal(t, writes, events, "each write of this school made one event: the file holds one moment")
	require.NoError(t, there.Read(ctx, a, func(tx *store.Tx) error {
		i, err := instrumentrows.InstrumentByID(ctx, tx, violin)
		assert.Equal(t, "VN-01", i.Tag)
		return err
	}))
	require.ErrorIs(t, there.Read(ctx, b, func(tx *store.Tx) error {
		_, err := instrumentrows.InstrumentByID(ctx, tx, violin)
		return err
	}), store.ErrNotFound, "the walls stand there too")
	_, err = store.Restore(ctx, elsewhere, path)
	require.ErrorIs(t, err, store.ErrBackup, "a database that holds something is left alone")
}

func TestADamagedBackupTouchesNothing(t *testing.T) {
	address := pgtest.New(t)
	folder := t.TempDir()
	whole := filepath.Join(folder, "whole")
	_, err := store.Backup(ctx, address, time.Now(), whole)
	require.NoError(t, err)
	good, err := os.ReadFile(whole)
	require.NoError(t, err)
	flipped := append([]byte{}, good...)
	flipped[len(flipped)/3] ^= 1
	elsewhere := empty(t)
	for name, file := range map[string][]byte{
		"one bit wrong": flipped, "cut off": good[:len(good)-100], "empty": {}, "something else": []byte("PK no archive"),
		"of a newer program": ofNewer(t, good),
	} {
		t.Run(name, func(t *testing.T) {
			path := filepath.Join(folder, strconv.Itoa(len(name)))
			require.NoError(t, os.WriteFile(path, file, 0o600))
			_, err := store.Restore(ctx, elsewhere, path)
			require.ErrorIs(t, err, store.ErrBackup)
		})
	}
	raw, err := sqlx.Open("pgx", elsewhere)
	require.NoError(t, err)
	defer raw.Close()
	var tables int
	require.NoError(t, raw.Get(&tables, `SELECT count(*) FROM pg_class WHERE relnamespace = 'public'::regnamespace AND relkind = 'r'`))
	assert.Zero(t, tables)
	_, err = store.Backup(ctx, address, time.Now(), filepath.Join(folder, "no", "such", "folder"))
	require.Error(t, err)
}

func TestAnOlderProgramLeavesANewerDatabaseAlone(t *testing.T) {
	address := pgtest.New(t)
	raw, err := sqlx.Open("pgx", address)
	require.NoError(t, err)
	defer raw.Close()
	_, err = raw.Exec(`INSERT INTO goose_db_version (version_id, is_applied) VALUES (9000, true)`)
	require.NoError(t, err)
	require.ErrorContains(t, store.Migrate(ctx, address), "a newer program")
}

// ofNewer is a backup as a program with more migrations would write it.
func ofNewer(t *testing.T, file []byte) []byte {
	archive, err := zip.NewReader(bytes.NewReader(file), int64(len(file)))
	require.NoError(t, err)
	var out bytes.Buffer
	w := zip.NewWriter(&out)
	for _, entry := range archive.File {
		from, err := entry.Open()
		require.NoError(t, err)
		text, err := io.ReadAll(from)
		require.NoError(t, err)
		to, err := w.Create(entry.Name)
		require.NoError(t, err)
		_, err = to.Write(bytes.Replace(text, []byte(`"migration":`), []byte(`"migration":9`), 1))
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	return out.Bytes()
}

// An owner that is no superuser and may make no roles: the application's role was made for it before, as docs/running.md says.
func TestAnOwnerNeedNotBeASuperuser(t *testing.T) {
	address := empty(t)
	raw, err := sqlx.Open("pgx", address)
	require.NoError(t, err)
	defer raw.Close()
	owner := "owner_" + strings.ReplaceAll(uuid.NewString(), "-", "")[:12]
	name := address[strings.LastIndex(address, "/")+1 : strings.Index(address, "?")]
	for _, statement := range []string{
		`DO $$ BEGIN IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = 'solfeggio_app') THEN CREATE ROLE solfeggio_app NOLOGIN; END IF; END $$`,
		`CREATE ROLE ` + owner + ` LOGIN NOSUPERUSER NOCREATEROLE PASSWORD 'owner'`,
		`GRANT solfeggio_app TO ` + owner,
		`ALTER DATABASE ` + name + ` OWNER TO ` + owner,
	} {
		_, err := raw.Exec(statement)
		require.NoError(t, err, statement)
	}
	t.Cleanup(func() {
		_, _ = raw.Exec(`REASSIGN OWNED BY ` + owner + ` TO CURRENT_USER`)
		_, _ = raw.Exec(`DROP OWNED BY ` + owner + `; DROP ROLE ` + owner)
	})
	theirs := strings.Replace(address, "postgres@", owner+":owner@", 1)
	require.NoError(t, store.Migrate(ctx, theirs))
	db, err := store.Open(theirs)
	require.NoError(t, err)
	defer db.Close()
	school(t, db, "A")
	path := filepath.Join(t.TempDir(), "theirs.backup")
	_, err = store.Backup(ctx, theirs, time.Now(), path)
	require.NoError(t, err)

	// The program signs in as somebody who owns nothing, so that no way back leads to the owner.
	web := strings.Replace(owner, "owner", "web", 1)
	_, err = raw.Exec(`CREATE ROLE ` + web + ` LOGIN PASSWORD 'web' IN ROLE solfeggio_app`)
	require.NoError(t, err)
	t.Cleanup(func() { _, _ = raw.Exec(`DROP ROLE ` + web) })
	asWeb := strings.Replace(address, "postgres@", web+":web@", 1)
	app, err := store.Open(asWeb)
	require.NoError(t, err)
	defer app.Close()
	school(t, app, "B")
	direct, err := sqlx.Connect("pgx", asWeb)
	require.NoError(t, err)
	defer direct.Close()
	for _, statement := range []string{`DROP TABLE event`, `ALTER TABLE event DISABLE ROW LEVEL SECURITY`, `DELETE FROM event`,
		`SET ROLE ` + owner} {
		_, err := direct.Exec(`RESET ROLE; ` + statement)
		assert.Error(t, err, statement)
	}

	// Nobody but the application may ask who signs in.
	var public int
	require.NoError(t, raw.Get(&public, `SELECT count(*) FROM pg_proc p WHERE p.pronamespace = 'public'::regnamespace AND p.prosecdef
		AND has_function_privilege('public', p.oid, 'execute')`))
	assert.Zero(t, public)
}
