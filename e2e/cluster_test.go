package e2e

import (
	"context"
	"database/sql"
	"fmt"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// A cluster is a PostgreSQL server of its own that keeps its data as a school's does, and that may be killed.
type cluster struct {
	t       *testing.T
	data    string
	port    int
	more    []string // settings
	command *exec.Cmd
	ended   chan struct{}
}

// postgresPrograms is where Debian keeps PostgreSQL's programs.
func postgresPrograms(t *testing.T) string {
	found, err := filepath.Glob("/usr/lib/postgresql/*/bin")
	require.NoError(t, err)
	require.NotEmpty(t, found, "scripts/packages test installs it")
	return slices.Max(found)
}

// asPostgres makes a command run as the user postgres where the test runs as root, which the server refuses.
func asPostgres(t *testing.T, name string, args ...string) *exec.Cmd {
	t.Helper()
	c := exec.Command(name, args...)
	c.SysProcAttr = &syscall.SysProcAttr{Credential: postgresUser(t)}
	return c
}

func postgresUser(t *testing.T) *syscall.Credential {
	t.Helper()
	if os.Getuid() != 0 {
		return nil
	}
	postgres, err := user.Lookup("postgres")
	require.NoError(t, err)
	uid, err := strconv.ParseUint(postgres.Uid, 10, 32)
	require.NoError(t, err)
	gid, err := strconv.ParseUint(postgres.Gid, 10, 32)
	require.NoError(t, err)
	return &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}
}

// folder makes a folder that the server may use, on a disk and not in memory.
func folder(t *testing.T) string {
	t.Helper()
	path, err := os.MkdirTemp("/var/tmp", "solfeggio-campaign")
	require.NoError(t, err)
	t.Cleanup(func() { _ = os.RemoveAll(path) })
	if id := postgresUser(t); id != nil {
		require.NoError(t, os.Chown(path, int(id.Uid), int(id.Gid)))
	}
	return path
}

// A smallDisk lies in memory and is soon full.
type smallDisk struct {
	t    *testing.T
	path string
}

// newSmallDisk makes one that the server may use, as large as mount says it. Only root can.
func newSmallDisk(t *testing.T, size string) smallDisk {
	t.Helper()
	path := folder(t)
	require.NoError(t, syscall.Mount("tmpfs", path, "tmpfs", 0, "size="+size))
	t.Cleanup(func() { _ = syscall.Unmount(path, syscall.MNT_DETACH) })
	id := postgresUser(t)
	require.NoError(t, os.Chown(path, int(id.Uid), int(id.Gid)))
	return smallDisk{t, path}
}

// fill leaves no room.
func (d smallDisk) fill() {
	d.t.Helper()
	var room syscall.Statfs_t
	require.NoError(d.t, syscall.Statfs(d.path, &room))
	file, err := os.Create(d.path + "/ballast")
	require.NoError(d.t, err)
	require.NoError(d.t, syscall.Fallocate(int(file.Fd()), 0, 0, int64(room.Bavail)*room.Bsize))
	require.NoError(d.t, file.Close())
}

// free gives the room back.
func (d smallDisk) free() {
	d.t.Helper()
	require.NoError(d.t, os.Remove(d.path+"/ballast"))
}

func freePort(t *testing.T) int {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port
}

// done runs a command to its end.
func done(t *testing.T, c *exec.Cmd) {
	t.Helper()
	said, err := c.CombinedOutput()
	require.NoError(t, err, "%s: %s", c, said)
}

func newCluster(t *testing.T) *cluster {
	t.Helper()
	c := &cluster{t: t, data: folder(t), port: freePort(t)}
	done(t, asPostgres(t, postgresPrograms(t)+"/initdb", "-D", c.data, "-U", "postgres", "--auth=trust", "-E", "UTF8", "--locale=C.UTF-8"))
	c.start()
	t.Cleanup(c.kill)
	return c
}

// start starts the server and waits until it answers. What was killed a moment ago may still hold its memory: then it is tried again.
func (c *cluster) start() {
	c.t.Helper()
	args := []string{"-D", c.data, "-p", strconv.Itoa(c.port)}
	for _, s := range append([]string{"listen_addresses=127.0.0.1", "unix_socket_directories=", "max_connections=100"}, c.more...) {
		args = append(args, "-c", s)
	}
	require.Eventually(c.t, func() bool {
		if c.command == nil || c.over() {
			c.command = asPostgres(c.t, postgresPrograms(c.t)+"/postgres", args...)
			log, err := os.OpenFile(c.data+".log", os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
			require.NoError(c.t, err)
			c.t.Cleanup(func() { _ = os.Remove(log.Name()) })
			c.command.Stdout, c.command.Stderr = log, log
			require.NoError(c.t, c.command.Start())
			_ = log.Close()
			c.ended = make(chan struct{})
			go func(command *exec.Cmd, ended chan struct{}) { _ = command.Wait(); close(ended) }(c.command, c.ended)
		}
		return c.try("postgres", `SELECT 1`) == nil
	}, time.Minute, 50*time.Millisecond, "the database does not start")
}

func (c *cluster) over() bool {
	select {
	case <-c.ended:
		return true
	default:
		return false
	}
}

// kill ends the server and everything that it began at once, as a power cut would.
func (c *cluster) kill() {
	if c.command != nil && c.command.Process != nil {
		c.signal(syscall.SIGKILL)
		<-c.ended
	}
}

// signal sends a signal to the server and its children: SIGSTOP freezes it in the middle of whatever it does, without closing anything,
// and SIGCONT lets it go on.
func (c *cluster) signal(s syscall.Signal) { signal(c.command.Process.Pid, s) }

// signal sends a signal to a process and its children.
func signal(parent int, s syscall.Signal) {
	_ = syscall.Kill(parent, s)
	states, _ := filepath.Glob("/proc/[0-9]*/stat")
	for _, path := range states {
		said, err := os.ReadFile(path)
		if err != nil {
			continue // it has ended
		}
		// "pid (name) state parent …"; a name may hold blanks.
		fields := strings.Fields(string(said[strings.LastIndexByte(string(said), ')')+1:]))
		if pid, err := strconv.Atoi(filepath.Base(filepath.Dir(path))); err == nil && len(fields) > 1 && fields[1] == strconv.Itoa(parent) {
			_ = syscall.Kill(pid, s)
		}
	}
}

// url is the address of a database, as somebody.
func (c *cluster) url(as, database string) string {
	return fmt.Sprintf("postgres://%s@127.0.0.1:%d/%s?sslmode=disable", as, c.port, database)
}

func (c *cluster) try(database, statement string) error {
	db, err := sql.Open("pgx", c.url("postgres", database))
	if err != nil {
		return err
	}
	defer db.Close()
	ctx, stop := context.WithTimeout(context.Background(), 5*time.Second)
	defer stop()
	_, err = db.ExecContext(ctx, statement)
	return err
}

func (c *cluster) run(database string, statements ...string) {
	c.t.Helper()
	for _, s := range statements {
		require.NoError(c.t, c.try(database, s), s)
	}
}

// one reads a value.
func (c *cluster) one(database, question string, into any) {
	c.t.Helper()
	db, err := sql.Open("pgx", c.url("postgres", database))
	require.NoError(c.t, err)
	defer db.Close()
	require.NoError(c.t, db.QueryRow(question).Scan(into), question)
}

// standby is a copy of the server that follows it, ready to take over.
func (c *cluster) standby() *cluster {
	c.t.Helper()
	s := &cluster{t: c.t, data: folder(c.t), port: freePort(c.t), more: c.more}
	copying := []string{"-R", "-D", s.data, "-h", "127.0.0.1", "-p", strconv.Itoa(c.port), "-U", "postgres", "-X", "stream",
		"--checkpoint=fast"}
	done(c.t, asPostgres(c.t, postgresPrograms(c.t)+"/pg_basebackup", copying...))
	s.start()
	c.t.Cleanup(s.kill)
	return s
}

// setUp makes an empty database for the program, with the roles of docs/running.md.
func (c *cluster) setUp(name string) {
	c.t.Helper()
	c.run("postgres", `CREATE ROLE solfeggio_app NOLOGIN`, `CREATE ROLE solfeggio_owner LOGIN`,
		`CREATE ROLE solfeggio_web LOGIN IN ROLE solfeggio_app`,
		`GRANT solfeggio_app TO solfeggio_owner`, `CREATE DATABASE `+name+` OWNER solfeggio_owner`)
}
