package e2e

import (
	"bytes"
	"context"
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The part of the campaign in which more than one machine is at work, each a folder and a port of this one.

// A primary dies while people work, its standby is promoted, and the program finds it by itself: both stand in its address.
func TestCampaignOfFailover(t *testing.T) {
	onlyInFull(t)
	primary := newCluster(t)
	primary.setUp("quillhaven")
	standby := primary.standby()
	// A write is answered once the standby has it too, so that nothing that was answered can be lost with the primary.
	primary.run("postgres", `ALTER SYSTEM SET synchronous_standby_names = '*'`, `SELECT pg_reload_conf()`)
	address := fmt.Sprintf(
		"postgres://solfeggio_web@127.0.0.1:%d,127.0.0.1:%d/quillhaven?sslmode=disable&target_session_attrs=read-write",
		primary.port,
		standby.port,
	)
	programs, bases := processes(t, 2, address, primary.url("solfeggio_owner", "quillhaven"))
	d := newDesk(t, programs[0], bases...)
	ctx, stop := context.WithTimeout(context.Background(), max(15*time.Second, campaignTime(t, 0)))
	defer stop()
	finished := d.work(ctx, workers)
	time.Sleep(5 * time.Second)
	before := d.answered.Load()
	primary.kill()
	standby.run("postgres", `SELECT pg_promote()`)
	<-ctx.Done()
	finished()
	assert.Greater(t, d.answered.Load(), before, "nobody could go on")
	lost, doubled := d.counted(t, standby, "quillhaven")
	figure(t, "primary killed, standby promoted by hand at once", d, "1", lost, doubled)
}

// What is only read is said so: a standby that was not promoted serves what is asked, and refuses what is written in plain words.
func TestCampaignOnAStandby(t *testing.T) {
	onlyInFull(t)
	primary := newCluster(t)
	primary.setUp("quillhaven")
	programs, bases := processes(t, 1, primary.url("solfeggio_web", "quillhaven"), primary.url("solfeggio_owner", "quillhaven"))
	d := newDesk(t, programs[0], bases...)
	standby := primary.standby()
	// The program begins with the owner at the primary and works at the standby.
	_, at := processes(t, 1, standby.url("solfeggio_web", "quillhaven"), primary.url("solfeggio_owner", "quillhaven"))
	d.bases = at
	status, answer := d.once("GET", "/api/v1/supplies", "", "")
	assert.Equal(t, http.StatusOK, status, string(answer))
	status, answer = d.receive(uuid.NewString())
	assert.Equal(t, http.StatusServiceUnavailable, status)
	assert.Contains(t, string(answer), "can only be read just now")
}

// written puts a file where the server's user may read it.
func written(t *testing.T, in, name, text string) string {
	t.Helper()
	path := filepath.Join(in, name)
	require.NoError(t, os.WriteFile(path, []byte(text), 0o600))
	if id := postgresUser(t); id != nil {
		require.NoError(t, os.Chown(path, int(id.Uid), int(id.Gid)))
	}
	return path
}

// background runs a program until the test ends.
func background(t *testing.T, c *exec.Cmd) {
	t.Helper()
	var said bytes.Buffer
	c.Stdout, c.Stderr = &said, &said
	c.WaitDelay = 5 * time.Second // what it began itself holds its output open
	require.NoError(t, c.Start())
	t.Cleanup(func() {
		_ = c.Process.Kill()
		_ = c.Wait()
		if t.Failed() {
			t.Log(said.String())
		}
	})
}

// debians is a program of a Debian package that only the campaign needs.
func debians(t *testing.T, name string) string {
	t.Helper()
	for _, at := range []string{"/usr/sbin/", "/usr/bin/"} {
		if _, err := os.Stat(at + name); err == nil {
			return at + name
		}
	}
	require.Fail(t, name+" is not there: scripts/packages campaign installs it")
	return ""
}

// Three processes stand behind HAProxy and share a pooler of transactions before the database. Processes and the database are killed.
func TestCampaignThroughProxies(t *testing.T) {
	onlyInFull(t)
	c := newCluster(t)
	c.setUp("quillhaven")
	at := folder(t)
	pooler, front := freePort(t), freePort(t)
	users := written(t, at, "users", `"solfeggio_web" ""`+"\n")
	ini := written(t, at, "pgbouncer.ini", fmt.Sprintf(`[databases]
* = host=127.0.0.1 port=%d
[pgbouncer]
listen_addr = 127.0.0.1
listen_port = %d
unix_socket_dir =
auth_type = trust
auth_file = %s
pool_mode = transaction
default_pool_size = 8
server_login_retry = 1
`, c.port, pooler, users))
	background(t, asPostgres(t, debians(t, "pgbouncer"), ini))
	address := fmt.Sprintf("postgres://solfeggio_web@127.0.0.1:%d/quillhaven?sslmode=disable&default_query_exec_mode=cache_describe", pooler)
	programs, bases := processes(t, 3, address, c.url("solfeggio_owner", "quillhaven"))
	servers := ""
	for n, base := range bases {
		servers += fmt.Sprintf("    server solfeggio%d %s check inter 500ms\n", n, strings.TrimPrefix(base, "http://"))
	}
	proxy := written(t, at, "haproxy.cfg", fmt.Sprintf(`defaults
    mode http
    timeout connect 3s
    timeout client 90s
    timeout server 90s
    retries 3
    option redispatch
frontend school
    bind 127.0.0.1:%d
    default_backend programs
backend programs
    option httpchk GET /readyz
%s`, front, servers))
	background(t, asPostgres(t, debians(t, "haproxy"), "-db", "-f", proxy))
	d := newDesk(t, programs[0], fmt.Sprintf("http://127.0.0.1:%d", front))
	ctx, stop := context.WithTimeout(context.Background(), max(20*time.Second, campaignTime(t, 0)))
	defer stop()
	finished := d.work(ctx, workers)
	killed := killing(ctx, programs, c, 2*time.Second)
	finished()
	lost, doubled := d.counted(t, c, "quillhaven")
	figure(t, "three processes behind HAProxy, PgBouncer in transaction mode", d, killed, lost, doubled)
}

// The database is archived as it is written, by pgBackRest. Somebody does something that cannot be undone; the database is brought back
// to the moment before.
func TestCampaignBackToAMoment(t *testing.T) {
	onlyInFull(t)
	at := folder(t)
	backrest := debians(t, "pgbackrest")
	c := &cluster{t: t, data: folder(t), port: freePort(t)}
	config := written(t, at, "pgbackrest.conf", fmt.Sprintf(`[global]
repo1-path=%[1]s/archive
log-path=%[1]s
lock-path=%[1]s
spool-path=%[1]s
start-fast=y
[school]
pg1-path=%[2]s
pg1-port=%[3]d
pg1-host-user=postgres
pg1-socket-path=%[1]s
pg1-user=postgres
`, at, c.data, c.port))
	tool := backrest + " --config=" + config + " --stanza=school"
	c.more = []string{"wal_level=replica", "archive_mode=on", "archive_command=" + tool + " archive-push %p", "unix_socket_directories=" + at}
	done(t, asPostgres(t, postgresPrograms(t)+"/initdb", "-D", c.data, "-U", "postgres", "--auth=trust", "-E", "UTF8", "--locale=C.UTF-8"))
	c.start()
	t.Cleanup(c.kill)
	ask := func(args ...string) time.Duration {
		began := time.Now()
		done(t, asPostgres(t, "/bin/sh", "-c", tool+" "+strings.Join(args, " ")))
		return time.Since(began)
	}
	ask("stanza-create")
	c.setUp("quillhaven")
	programs, bases := processes(t, 1, c.url("solfeggio_web", "quillhaven"), c.url("solfeggio_owner", "quillhaven"))
	d := newDesk(t, programs[0], bases...)
	took := ask("backup", "--type=full")
	time.Sleep(1100 * time.Millisecond) // a moment is told to the second, and has to lie behind the end of the backup
	for range 40 {
		d.putOne()
	}
	kept := d.answered.Load()
	var moment string
	c.one("quillhaven", `SELECT now()::text`, &moment)
	for range 25 {
		d.putOne()
	}
	c.run("postgres", `SELECT pg_switch_wal()`)
	time.Sleep(2 * time.Second) // until it is archived
	programs[0].kill()
	c.kill()
	require.NoError(t, os.Remove(filepath.Join(c.data, "postmaster.pid"))) // which a killed server leaves
	back := ask("restore", "--delta", "--type=time", fmt.Sprintf("'--target=%s'", moment), "--target-action=promote")
	began := time.Now()
	c.start()
	require.Eventually(t, func() bool {
		var following bool
		c.one("quillhaven", `SELECT pg_is_in_recovery()`, &following)
		return !following
	}, time.Minute, 100*time.Millisecond)
	ready := time.Since(began)
	d.answered.Store(kept)
	lost, doubled := d.counted(t, c, "quillhaven")
	assert.Zero(t, lost+doubled)
	t.Logf("pgBackRest: full backup %.1f s, restore %.1f s, ready after another %.1f s, as of the moment: %d of %d writes",
		took.Seconds(), back.Seconds(), ready.Seconds(), kept, kept+25)
	programs[0].run("serve", morning)
	d.bases = []string{"http://" + programs[0].address}
	status, answer := d.once("GET", "/api/v1/supplies", "", "")
	assert.Equal(t, http.StatusOK, status, string(answer))
}

// Two schools lie in two databases behind the same processes. One database is killed: the other school does not notice.
func TestCampaignOfTwoDatabases(t *testing.T) {
	onlyInFull(t)
	near, far := newCluster(t), newCluster(t)
	near.setUp("north")
	far.setUp("south")
	// Each school is set up at its own database, and served by both.
	_, _ = processes(t, 1, near.url("solfeggio_web", "north"), near.url("solfeggio_owner", "north"))
	alone, _ := processes(t, 1, far.url("solfeggio_web", "south"), far.url("solfeggio_owner", "south"))
	both, bases := processes(t, 2, near.url("solfeggio_web", "north")+" "+far.url("solfeggio_web", "south"),
		near.url("solfeggio_owner", "north")+" "+far.url("solfeggio_owner", "south"))
	inSouth := newDesk(t, alone[0], bases...) // the person is known in the south only, and found there
	both[0].tool(campaignPassword+"\n", "school", "--name", "Oriel", "--director", "Sabin Holt", "--email", "sabin@quillhaven.example")
	inNorth := newCaller(t, bases...)
	inNorth.until(t, "POST", "/api/v1/session", fmt.Sprintf(`{"email":"sabin@quillhaven.example","password":%q}`, campaignPassword))
	ctx, stop := context.WithTimeout(context.Background(), max(15*time.Second, campaignTime(t, 0)))
	defer stop()
	finished := inSouth.work(ctx, workers)
	slowest := time.Duration(0)
	kills := 0
	for ctx.Err() == nil {
		time.Sleep(2 * time.Second)
		far.kill()
		began := time.Now()
		status, answer := inNorth.once("GET", "/api/v1/today", "", "")
		assert.Equal(t, http.StatusOK, status, string(answer))
		slowest = max(slowest, time.Since(began))
		far.start()
		kills++
	}
	finished()
	lost, doubled := inSouth.counted(t, far, "south")
	figure(t, fmt.Sprintf("two databases, one killed; the other school waited %.2f s at most", slowest.Seconds()), inSouth,
		strconv.Itoa(kills), lost, doubled)
}
