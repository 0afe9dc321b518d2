package e2e

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"math/rand/v2"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The campaign attacks the program while people work and counts what they were told against what is kept. In a small form it is part of
// make test; scripts/campaign runs it for as long as it is told to, with everything that Debian has to put in between, and prints the
// figures of docs/reliability.md.

// campaignVariable says how long each part of the campaign goes on, as 2m; without it the campaign is a small one.
const campaignVariable = "SOLFEGGIO_CAMPAIGN"

func campaignTime(t *testing.T, small time.Duration) time.Duration {
	t.Helper()
	text := os.Getenv(campaignVariable)
	if text == "" {
		return small
	}
	long, err := time.ParseDuration(text)
	require.NoError(t, err, campaignVariable)
	return long
}

func onlyInFull(t *testing.T) {
	t.Helper()
	if os.Getenv(campaignVariable) == "" {
		t.Skip("part of scripts/campaign")
	}
}

// figure writes a line of the table of docs/reliability.md.
func figure(t *testing.T, what string, d *desk, trouble string, lost, doubled int64) {
	t.Helper()
	t.Logf("| %s | %d | %d | %s | %d | %d | %.1f s |", what, d.attempts.Load(), d.answered.Load(), trouble, lost, doubled, time.Duration(d.longest.Load()).Seconds())
	assert.Zero(t, lost, "what somebody was told is kept is not there")
	assert.Zero(t, doubled, "something was done twice")
	assert.Positive(t, d.answered.Load())
}

// processes starts so many of the program on one address of a database.
func processes(t *testing.T, n int, address, owner string) (list []*program, bases []string) {
	t.Helper()
	t.Setenv("SOLFEGGIO_OWNER_URL", owner)
	for range n {
		p := &program{t: t, database: address}
		p.run("serve", morning)
		t.Cleanup(func() { p.kill() })
		list, bases = append(list, p), append(bases, "http://"+p.address)
	}
	return list, bases
}

const workers = 6

// killing kills a process or the database, each as likely, and starts it again, until ctx ends, and says how often. Between two kills there
// is up to that much time.
func killing(ctx context.Context, programs []*program, c *cluster, apart time.Duration) string {
	processes, databases := 0, 0
	for ctx.Err() == nil {
		time.Sleep(200*time.Millisecond + rand.N(apart))
		if n := rand.IntN(len(programs) + 1); n < len(programs) {
			programs[n].restart(morning)
			processes++
		} else {
			c.kill()
			c.start()
			databases++
		}
	}
	return fmt.Sprintf("%d processes, %d databases", processes, databases)
}

// Processes and the database are killed again and again while people work.
func TestCampaignOfKills(t *testing.T) {
	c := newCluster(t)
	c.setUp("quillhaven")
	programs, bases := processes(t, 2, c.url("solfeggio_web", "quillhaven"), c.url("solfeggio_owner", "quillhaven"))
	d := newDesk(t, programs[0], bases...)
	ctx, stop := context.WithTimeout(context.Background(), campaignTime(t, 8*time.Second))
	defer stop()
	finished := d.work(ctx, workers)
	killed := killing(ctx, programs, c, 1200*time.Millisecond)
	finished()
	lost, doubled := d.counted(t, c, "quillhaven")
	figure(t, "killed at once and started again", d, killed, lost, doubled)
}

// Several people hand out the same instrument at the same moment, at different processes: one succeeds.
func TestCampaignOfRaces(t *testing.T) {
	c := newCluster(t)
	c.setUp("quillhaven")
	programs, bases := processes(t, 2, c.url("solfeggio_web", "quillhaven"), c.url("solfeggio_owner", "quillhaven"))
	d := newDesk(t, programs[0], bases...)
	rows, names := "tag,kind,size,care_from\n", "external_id,given_name,instrument\n"
	for n := range 8 {
		rows += fmt.Sprintf("VN-%02d,violin,4/4,2026-11-01\n", n+1)
		names += fmt.Sprintf("p%d,Player %d,violin\n", n, n)
	}
	d.until(t, "POST", "/api/v1/instruments/file", rows)
	d.until(t, "POST", "/api/v1/players/roster", names)
	players := d.list(t, "/api/v1/players")
	rounds := 0
	until := time.Now().Add(campaignTime(t, 0))
	for first := true; first || time.Now().Before(until); first = false {
		for _, instrument := range d.list(t, "/api/v1/instruments") {
			assert.Equal(t, 1, d.wins(t, instrument, players), "people with the same instrument in their hands")
			rounds++
			d.until(t, "POST", "/api/v1/instruments/"+instrument+"/return", `{}`)
			d.until(t, "POST", "/api/v1/instruments/"+instrument+"/release", `{"how":"Wiped dry."}`)
		}
	}
	t.Logf("races for one instrument, %d people each: %d, and one winner in each", len(players), rounds)
}

// The database stops in the middle of whatever it does, and closes nothing, as over a network that is stalled or beside a laptop that
// sleeps. People are told within seconds, and nothing is lost when it goes on.
func TestCampaignOfSilence(t *testing.T) {
	silence := 9 * time.Second
	if os.Getenv(campaignVariable) != "" {
		silence = time.Minute
	}
	c := newCluster(t)
	c.setUp("quillhaven")
	programs, bases := processes(t, 1, c.url("solfeggio_web", "quillhaven"), c.url("solfeggio_owner", "quillhaven"))
	d := newDesk(t, programs[0], bases...)
	ctx, stop := context.WithCancel(context.Background())
	finished := d.work(ctx, workers)
	time.Sleep(time.Second)
	c.signal(syscall.SIGSTOP)
	began := time.Now()
	status, answer := d.once("GET", "/api/v1/today", "", "")
	told := time.Since(began)
	assert.Equal(t, http.StatusServiceUnavailable, status)
	assert.Contains(t, string(answer), "The database does not answer just now")
	if left := silence - time.Since(began); left > 0 {
		time.Sleep(left)
	}
	c.signal(syscall.SIGCONT)
	time.Sleep(time.Second)
	stop()
	finished()
	lost, doubled := d.counted(t, c, "quillhaven")
	figure(t, "database silent for "+silence.String(), d, fmt.Sprintf("told after %.1f s", told.Seconds()), lost, doubled)
}

// A primary dies while people work, its standby is promoted, and the program finds it by itself: both stand in its address.
func TestCampaignOfFailover(t *testing.T) {
	onlyInFull(t)
	primary := newCluster(t)
	primary.setUp("quillhaven")
	standby := primary.standby()
	// A write is answered once the standby has it too, so that nothing that was answered can be lost with the primary.
	primary.run("postgres", `ALTER SYSTEM SET synchronous_standby_names = '*'`, `SELECT pg_reload_conf()`)
	address := fmt.Sprintf("postgres://solfeggio_web@127.0.0.1:%d,127.0.0.1:%d/quillhaven?sslmode=disable&target_session_attrs=read-write", primary.port, standby.port)
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
	status, answer = d.once("POST", "/api/v1/supply-orders/"+d.order+"/receive", `{"lines":[{"supply":"rosin","size":"","packs":1}],"close":false}`, uuid.NewString())
	assert.Equal(t, http.StatusServiceUnavailable, status)
	assert.Contains(t, string(answer), "can only be read just now")
}

// A table space runs full while people work. Nothing is kept by half, they are told in plain words, and they go on once there is room.
func TestCampaignOfAFullDisk(t *testing.T) {
	onlyInFull(t)
	if os.Getuid() != 0 {
		t.Skip("a small disk can be made by root only")
	}
	small := folder(t)
	require.NoError(t, syscall.Mount("tmpfs", small, "tmpfs", 0, "size=24m"))
	t.Cleanup(func() { _ = syscall.Unmount(small, syscall.MNT_DETACH) })
	id := postgresUser(t)
	require.NoError(t, os.Chown(small, int(id.Uid), int(id.Gid)))
	c := newCluster(t)
	c.run("postgres", `CREATE TABLESPACE small LOCATION '`+small+`'`, `CREATE ROLE solfeggio_app NOLOGIN`, `CREATE ROLE solfeggio_web LOGIN IN ROLE solfeggio_app`,
		`CREATE DATABASE quillhaven TABLESPACE small`)
	programs, bases := processes(t, 1, c.url("solfeggio_web", "quillhaven"), c.url("postgres", "quillhaven"))
	d := newDesk(t, programs[0], bases...)
	ballast := small + "/ballast"
	var room syscall.Statfs_t
	require.NoError(t, syscall.Statfs(small, &room))
	file, err := os.Create(ballast)
	require.NoError(t, err)
	require.NoError(t, syscall.Fallocate(int(file.Fd()), 0, 0, int64(room.Bavail)*room.Bsize))
	require.NoError(t, file.Close())

	ctx, stop := context.WithCancel(context.Background())
	finished := d.work(ctx, workers)
	require.Eventually(t, func() bool {
		said, _ := d.lastLater.Load().(string)
		return strings.Contains(said, "The database has no room left")
	}, 2*time.Minute, 20*time.Millisecond, "the disk does not fill")
	status, _ := d.once("GET", "/api/v1/today", "", "")
	assert.Equal(t, http.StatusOK, status, "what is there can be read")
	require.NoError(t, os.Remove(ballast))
	time.Sleep(2 * time.Second)
	stop()
	finished()
	lost, doubled := d.counted(t, c, "quillhaven")
	figure(t, "disk full, then with room again", d, "1", lost, doubled)
}

// Whoever is signed in as one who may change nothing, and whoever is not signed in, cannot bring the program down: its memory stays
// within bounds, and a person who works is served.
func TestCampaignOfFloods(t *testing.T) {
	onlyInFull(t)
	c := newCluster(t)
	c.setUp("quillhaven")
	programs, bases := processes(t, 1, c.url("solfeggio_web", "quillhaven"), c.url("solfeggio_owner", "quillhaven"))
	d := newDesk(t, programs[0], bases...)
	programs[0].tool(campaignPassword+"\n", "person", "add", "--beside", campaignEmail, "--name", "Jory Tamm", "--email", "jory@quillhaven.example", "--role", "viewer")
	viewer := newCaller(t, bases...)
	viewer.until(t, "POST", "/api/v1/session", fmt.Sprintf(`{"email":"jory@quillhaven.example","password":%q}`, campaignPassword))
	stranger := newCaller(t, bases...)
	d.until(t, "POST", "/api/v1/instruments/file", "tag,kind,size,care_from\nVN-01,violin,4/4,2026-11-01\n")
	instrument := d.list(t, "/api/v1/instruments")[0]
	picture := string(manyPoints(t))
	floods := []struct {
		name  string
		flood func()
	}{
		{"pictures of 52 million points by a viewer", func() {
			viewer.once("POST", "/api/v1/instruments/"+instrument+"/photos?photo="+uuid.NewString(), picture, "")
		}},
		{"pictures of 52 million points on a card that is none", func() {
			stranger.once("POST", "/c/"+strings.Repeat("a", 32)+"/report", picture, "")
		}},
		{"bodies of 32 MB to a calculator", func() { stranger.once("POST", "/api/v1/calc/plan.season", strings.Repeat("[", 32<<20), "") }},
		{"sign-ins with wrong passwords", func() {
			stranger.once("POST", "/api/v1/session", fmt.Sprintf(`{"email":"%d@quillhaven.example","password":"wrong"}`, rand.Int()), "")
		}},
	}
	for _, f := range floods {
		ctx, stop := context.WithTimeout(context.Background(), min(30*time.Second, campaignTime(t, 0)))
		var all sync.WaitGroup
		for range 16 {
			all.Go(func() {
				for ctx.Err() == nil {
					f.flood()
				}
			})
		}
		slowest := time.Duration(0)
		for ctx.Err() == nil {
			began := time.Now()
			status, answer := d.once("GET", "/api/v1/today", "", "")
			assert.Equal(t, http.StatusOK, status, string(answer))
			slowest = max(slowest, time.Since(began))
			time.Sleep(100 * time.Millisecond)
		}
		all.Wait()
		stop()
		t.Logf("| %s, 16 at once | %d MB | %.2f s |", f.name, peakMemory(t, programs[0])>>20, slowest.Seconds())
		assert.Less(t, peakMemory(t, programs[0]), int64(1)<<30)
	}
}

// peakMemory is the most that a process has held since it began.
func peakMemory(t *testing.T, p *program) int64 {
	t.Helper()
	said, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", p.command.Process.Pid))
	require.NoError(t, err)
	_, after, found := strings.Cut(string(said), "VmHWM:")
	require.True(t, found)
	kilobytes, err := strconv.ParseInt(strings.Fields(after)[0], 10, 64)
	require.NoError(t, err)
	return kilobytes << 10
}

// manyPoints is a picture of 52 million points in few bytes.
func manyPoints(t *testing.T) []byte {
	t.Helper()
	var out bytes.Buffer
	require.NoError(t, png.Encode(&out, image.NewPaletted(image.Rect(0, 0, 8000, 6500), color.Palette{color.White})))
	return out.Bytes()
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
	t.Logf("pgBackRest: full backup %.1f s, restore %.1f s, ready after another %.1f s, as of the moment: %d of %d writes", took.Seconds(), back.Seconds(), ready.Seconds(), kept, kept+25)
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
	both, bases := processes(t, 2, near.url("solfeggio_web", "north")+" "+far.url("solfeggio_web", "south"), near.url("solfeggio_owner", "north")+" "+far.url("solfeggio_owner", "south"))
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
	figure(t, fmt.Sprintf("two databases, one killed; the other school waited %.2f s at most", slowest.Seconds()), inSouth, strconv.Itoa(kills), lost, doubled)
}
