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
	t.Logf("| %s | %d | %d | %s | %d | %d | %.1f s |", what, d.attempts.Load(), d.answered.Load(), trouble, lost, doubled,
		time.Duration(d.longest.Load()).Seconds())
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

// served is a database of its own with so many processes on it, and people at their desks.
func served(t *testing.T, n int) (*cluster, []*program, *desk) {
	c := newCluster(t)
	c.setUp("quillhaven")
	programs, bases := processes(t, n, c.url("solfeggio_web", "quillhaven"), c.url("solfeggio_owner", "quillhaven"))
	return c, programs, newDesk(t, programs[0], bases...)
}

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
	c, programs, d := served(t, 2)
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
	_, _, d := served(t, 2)
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
	c, _, d := served(t, 1)
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

// A table space runs full while people work. Nothing is kept by half, they are told in plain words, and they go on once there is room.
func TestCampaignOfAFullDisk(t *testing.T) {
	onlyInFull(t)
	if os.Getuid() != 0 {
		t.Skip("a small disk can be made by root only")
	}
	disk := newSmallDisk(t, "24m")
	c := newCluster(t)
	c.run("postgres", `CREATE TABLESPACE small LOCATION '`+disk.path+`'`, `CREATE ROLE solfeggio_app NOLOGIN`,
		`CREATE ROLE solfeggio_web LOGIN IN ROLE solfeggio_app`,
		`CREATE DATABASE quillhaven TABLESPACE small`)
	programs, bases := processes(t, 1, c.url("solfeggio_web", "quillhaven"), c.url("postgres", "quillhaven"))
	d := newDesk(t, programs[0], bases...)
	disk.fill()

	ctx, stop := context.WithCancel(context.Background())
	finished := d.work(ctx, workers)
	require.Eventually(t, func() bool {
		return d.toldOfNoRoom()
	}, 2*time.Minute, 20*time.Millisecond, "the disk does not fill")
	status, _ := d.once("GET", "/api/v1/today", "", "")
	assert.Equal(t, http.StatusOK, status, "what is there can be read")
	disk.free()
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
	_, programs, d := served(t, 1)
	programs[0].tool(campaignPassword+"\n", "person", "add", "--beside", campaignEmail, "--name", "Jory Tamm", "--email",
		"jory@quillhaven.example", "--role", "viewer")
	viewer := newCaller(t, d.bases...)
	viewer.until(t, "POST", "/api/v1/session", fmt.Sprintf(`{"email":"jory@quillhaven.example","password":%q}`, campaignPassword))
	stranger := newCaller(t, d.bases...)
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
