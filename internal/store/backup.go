package store

import (
	"archive/zip"
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/url"
	"os"
	"os/exec"
	"slices"
	"strings"
	"time"

	"github.com/pressly/goose/v3"

	"solfeggio/internal/store/internal/query"
)

// A backup is one file: what PostgreSQL's own pg_dump says of the database, seen at one moment while people work, and a manifest by which
// it is known to be whole before anything is touched. Sessions and counts of tries are left out: whoever restores signs in anew.
const (
	backupProgram  = "solfeggio"
	backupFormat   = 1
	backupManifest = "manifest.json"
	backupDump     = "database.dump"
)

// notBackedUp are tables whose rows do not outlive a server.
var notBackedUp = []string{"sessions", "sign_in_attempt", "report_try"}

// Manifest says what a backup holds.
type Manifest struct {
	Program   string    `json:"program"`
	Format    int       `json:"format"`
	TakenAt   time.Time `json:"taken_at"`
	Migration int64     `json:"migration"` // up to which the database was brought
	Server    string    `json:"server"`    // version of PostgreSQL
	Bytes     int64     `json:"bytes"`     // of the dump
	SHA256    string    `json:"sha256"`    // of the dump
}

// ErrBackup says that a file is no backup that can be restored. It is wrapped with the reason.
var ErrBackup = errors.New("this file cannot be restored, and nothing was touched")

// Backup writes the database of an address into a file, which stands there only once it is whole. Nobody else on the machine may read it.
func Backup(ctx context.Context, address string, now time.Time, path string) (Manifest, error) {
	m := Manifest{Program: backupProgram, Format: backupFormat, TakenAt: now.UTC()}
	if err := m.readState(ctx, address); err != nil {
		return m, fmt.Errorf("backup: %w", err)
	}
	part := path + ".part"
	file, err := os.OpenFile(part, os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
	if err != nil {
		return m, fmt.Errorf("backup: %w", err)
	}
	defer os.Remove(part) //nolint:errcheck // it is gone once it was renamed
	if err = m.write(ctx, address, file); err == nil {
		err = file.Sync()
	}
	if err := errors.Join(err, file.Close()); err != nil {
		return m, fmt.Errorf("backup: %w", err)
	}
	return m, os.Rename(part, path)
}

func (m *Manifest) readState(ctx context.Context, address string) error {
	db, err := sql.Open("pgx", address)
	if err != nil {
		return err
	}
	defer db.Close()
	err = db.QueryRowContext(ctx, `SELECT max(version_id), current_setting('server_version') FROM goose_db_version
		WHERE is_applied`).Scan(&m.Migration, &m.Server)
	return query.Named(err)
}

func (m *Manifest) write(ctx context.Context, address string, w io.Writer) error {
	archive := zip.NewWriter(w)
	entry, err := archive.CreateHeader(&zip.FileHeader{Name: backupDump, Method: zip.Store, Modified: m.TakenAt}) // pg_dump compresses
	if err != nil {
		return err
	}
	sum, size := sha256.New(), new(counter)
	args := []string{"--format=custom", "--no-owner"}
	for _, table := range notBackedUp {
		args = append(args, "--exclude-table-data="+table)
	}
	if err := tool(ctx, address, "pg_dump", nil, io.MultiWriter(entry, sum, size), args...); err != nil {
		return err
	}
	m.Bytes, m.SHA256 = int64(*size), hex.EncodeToString(sum.Sum(nil))
	if entry, err = archive.Create(backupManifest); err != nil {
		return err
	}
	if err := json.NewEncoder(entry).Encode(m); err != nil {
		return err
	}
	return archive.Close()
}

type counter int64

func (c *counter) Write(p []byte) (int, error) { *c += counter(len(p)); return len(p), nil }

// Restore brings a backup into the empty database of an address: the application's role is made where it is missing, migrations that are
// newer than the backup follow. A file that is damaged or of a newer program, and a database that is not empty, are refused before anything
// is touched.
func Restore(ctx context.Context, address, path string) (Manifest, error) {
	archive, m, err := openBackup(path)
	if err != nil {
		return m, err
	}
	defer archive.Close()
	db, err := sql.Open("pgx", address)
	if err != nil {
		return m, err
	}
	defer db.Close()
	var tables int
	if err := db.QueryRowContext(ctx, `SELECT count(*) FROM pg_class
		WHERE relnamespace = 'public'::regnamespace AND relkind = 'r'`).Scan(&tables); err != nil {
		return m, query.Named(err)
	}
	if tables > 0 {
		return m, fmt.Errorf("%w: the database holds %d tables already; make an empty one", ErrBackup, tables)
	}
	if _, err := db.ExecContext(ctx, makeRole); err != nil {
		return m, fmt.Errorf("making the role solfeggio_app: %w", err)
	}
	dump, err := archive.Open(backupDump)
	if err != nil {
		return m, err
	}
	defer dump.Close()
	if err := tool(ctx, address, "pg_restore", dump, nil, "--single-transaction", "--exit-on-error", "--no-owner"); err != nil {
		return m, err
	}
	if err := Migrate(ctx, address); err != nil {
		return m, err
	}
	return m, checkWalls(ctx, db)
}

// makeRole makes the role of the application, for whoever may; who may not has had it made before.
const makeRole = `DO $$ BEGIN
	IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = 'solfeggio_app') THEN CREATE ROLE solfeggio_app NOLOGIN; END IF;
END $$`

// openBackup opens a file that is whole.
func openBackup(path string) (*zip.ReadCloser, Manifest, error) {
	var m Manifest
	archive, err := zip.OpenReader(path)
	if err != nil {
		return nil, m, fmt.Errorf("%w: %w", ErrBackup, err)
	}
	if err := m.check(archive); err != nil {
		_ = archive.Close()
		return nil, m, fmt.Errorf("%w: %w", ErrBackup, err)
	}
	return archive, m, nil
}

func (m *Manifest) check(archive *zip.ReadCloser) error {
	entry, err := archive.Open(backupManifest)
	if err != nil {
		return errors.New("it is no backup of Solfeggio")
	}
	defer entry.Close()
	if err := json.NewDecoder(entry).Decode(m); err != nil || m.Program != backupProgram {
		return errors.New("it is no backup of Solfeggio")
	}
	newest, err := newestMigration()
	if err != nil {
		return err
	}
	if m.Format > backupFormat || m.Migration > newest {
		return fmt.Errorf("it was made by a newer program (migration %d; this one knows %d)", m.Migration, newest)
	}
	dump, err := archive.Open(backupDump)
	if err != nil {
		return errors.New("its dump is missing")
	}
	defer dump.Close()
	sum := sha256.New()
	size, err := io.Copy(sum, dump)
	if err != nil || size != m.Bytes || hex.EncodeToString(sum.Sum(nil)) != m.SHA256 {
		return errors.New("its dump is damaged")
	}
	return nil
}

// newestMigration is the highest that this program knows.
func newestMigration() (newest int64, err error) {
	entries, err := migrations.ReadDir("migrations")
	for _, e := range entries {
		number, err := goose.NumericComponent(e.Name())
		if err != nil {
			return 0, err
		}
		newest = max(newest, number)
	}
	return newest, err
}

// checkWalls makes sure that every table with rows of schools shows a transaction the rows of one.
func checkWalls(ctx context.Context, db *sql.DB) error {
	rows, err := db.QueryContext(ctx, `SELECT c.relname FROM pg_class c JOIN pg_attribute a ON a.attrelid = c.oid AND a.attname = 'school_id'
		WHERE c.relnamespace = 'public'::regnamespace AND c.relkind = 'r' AND NOT c.relrowsecurity AND NOT c.relname = ANY($1) ORDER BY 1`,
		notBackedUp)
	if err != nil {
		return err
	}
	defer rows.Close()
	var open []string
	for rows.Next() {
		var table string
		if err := rows.Scan(&table); err != nil {
			return err
		}
		open = append(open, table)
	}
	if len(open) > 0 {
		return fmt.Errorf("these tables would show schools to each other: %s", strings.Join(open, ", "))
	}
	return rows.Err()
}

// tool runs a program of PostgreSQL's on the database of an address. Its password goes by the environment, where no list of processes
// shows it.
func tool(ctx context.Context, address, name string, in io.Reader, out io.Writer, args ...string) error {
	shown, password := withoutPassword(address)
	args = append(args, "--dbname="+shown)
	cmd := exec.CommandContext(ctx, name, args...)
	var said strings.Builder
	cmd.Stdin, cmd.Stdout, cmd.Stderr = in, out, &said
	cmd.Env = os.Environ()
	if password != "" {
		cmd.Env = append(cmd.Env, "PGPASSWORD="+password)
	}
	err := cmd.Run()
	if errors.Is(err, exec.ErrNotFound) {
		return fmt.Errorf("%s is not installed here: it comes with PostgreSQL's client programs", name)
	}
	if err != nil {
		return fmt.Errorf("%s: %w: %s", name, err, strings.TrimSpace(said.String()))
	}
	return nil
}

func withoutPassword(address string) (shown, password string) {
	u, err := url.Parse(address)
	if err != nil || u.User == nil || !slices.Contains([]string{"postgres", "postgresql"}, u.Scheme) {
		return address, ""
	}
	password, _ = u.User.Password()
	u.User = url.User(u.User.Username())
	return u.String(), password
}
