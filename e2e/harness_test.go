// Package e2e drives the real program in headless Chromium: the built binary, a real PostgreSQL, and the screens as a
// person finds them, by role and by label.
package e2e

import (
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/pgtest"
)

// morning is when the demo school wakes up in tests and pictures.
var morning = time.Date(2026, 11, 24, 8, 0, 0, 0, time.UTC)

// inSchool is this machine under a name, as on a school's own network.
const inSchool = "quillhaven.example"

// public is under which address people come to the programs of tests, which listen on this machine.
const public = "https://solfeggio.quillhaven.example"

// A program is a running solfeggio.
type program struct {
	t        *testing.T
	local    bool // nobody said under which address people come
	address  string
	database string
	line     *line // to the database
	command  *exec.Cmd
	ended    chan struct{} // closed when the command has
}

func binary(t *testing.T) string {
	path, err := filepath.Abs("../bin/solfeggio")
	require.NoError(t, err)
	_, err = os.Stat(path)
	require.NoError(t, err, "build the program first: make build")
	return path
}

// start runs solfeggio serve or demo on a database of its own. The demo school is made once, and copied for the others.
func start(t *testing.T, verb string, now time.Time) *program {
	t.Helper()
	return startAs(t, verb, now, program{})
}

func startAs(t *testing.T, verb string, now time.Time, as program) *program {
	t.Helper()
	database := ""
	if verb == "demo" {
		database = pgtest.NewFrom(t, fmt.Sprintf("demo_%s_%d", digestOf(t, binary(t)), now.Unix()), func(address string) {
			first := &program{t: t, database: address}
			first.run(verb, now)
			first.kill()
		})
	} else {
		database = pgtest.New(t)
	}
	p := &as
	p.t = t
	p.line, p.database = through(t, database)
	p.run(verb, now)
	t.Cleanup(p.kill)
	return p
}

// digestOf tells one build of the program from another.
func digestOf(t *testing.T, path string) string {
	t.Helper()
	file, err := os.Open(path)
	require.NoError(t, err)
	defer file.Close()
	sum := sha256.New()
	_, err = io.Copy(sum, file)
	require.NoError(t, err)
	return hex.EncodeToString(sum.Sum(nil))[:12]
}

func (p *program) environment(now time.Time) []string {
	address := public
	if p.local {
		address = ""
	}
	return append(
		os.Environ(),
		"SOLFEGGIO_PUBLIC_URL="+address,
		"SOLFEGGIO_DATABASE_URL="+p.database,
		"SOLFEGGIO_ADDRESS="+cmp.Or(p.address, "127.0.0.1:0"),
		"SOLFEGGIO_NOW="+now.Format(time.RFC3339),
	)
}

// serving is what the program logs once it listens.
var serving = regexp.MustCompile(`msg=serving address=http://(\S+)`)

// run starts the program and waits until it is ready. At first the program chooses the address; what was given up before it listens
// somebody else could take.
func (p *program) run(verb string, now time.Time) {
	p.t.Helper()
	p.command = exec.Command(binary(p.t), verb)
	p.command.Env = p.environment(now)
	log := filepath.Join(p.t.TempDir(), "log")
	file, err := os.Create(log)
	require.NoError(p.t, err)
	defer file.Close()
	p.command.Stdout, p.command.Stderr = file, file
	require.NoError(p.t, p.command.Start())
	p.ended = make(chan struct{})
	go func(command *exec.Cmd, ended chan struct{}) { _ = command.Wait(); close(ended) }(p.command, p.ended)
	client := &http.Client{Timeout: 5 * time.Second}
	ready := func() bool {
		said, _ := os.ReadFile(log)
		found := serving.FindSubmatch(said)
		if found == nil {
			return false
		}
		p.address = string(found[1])
		answer, err := client.Get("http://" + p.address + "/readyz")
		if err != nil {
			return false
		}
		defer answer.Body.Close()
		return answer.StatusCode == http.StatusOK
	}
	patience := time.After(4 * time.Minute)
	for !ready() {
		select {
		case <-time.After(50 * time.Millisecond):
			continue
		case <-p.ended:
		case <-patience:
		}
		said, _ := os.ReadFile(log)
		p.kill()
		p.t.Fatalf("the program did not get ready; it said:\n%s", said)
	}
}

// kill ends the program at once, as a power cut would.
func (p *program) kill() {
	if p.command.Process != nil {
		_ = p.command.Process.Kill()
		<-p.ended
	}
}

// restart kills the program and starts it again at another time, on the same address and database.
func (p *program) restart(now time.Time) {
	p.t.Helper()
	p.kill()
	p.run("serve", now)
}

// tool runs another command of the program.
func (p *program) tool(input string, args ...string) string {
	p.t.Helper()
	cmd := exec.Command(binary(p.t), args...)
	cmd.Env = p.environment(morning)
	cmd.Stdin = strings.NewReader(input)
	out, err := cmd.CombinedOutput()
	require.NoError(p.t, err, string(out))
	return string(out)
}

// A page is a browser looking at the program.
type page struct {
	t    *testing.T
	ctx  context.Context
	base string
}

// open starts a browser.
func (p *program) open(width, height int64) *page {
	p.t.Helper()
	const chromium = "/usr/bin/chromium"
	require.FileExists(p.t, chromium, "scripts/packages test installs it")
	folder, err := os.MkdirTemp("", "solfeggio-chromium")
	require.NoError(p.t, err)
	options := append(chromedp.DefaultExecAllocatorOptions[:], chromedp.ExecPath(chromium), chromedp.NoSandbox, chromedp.DisableGPU,
		chromedp.UserDataDir(folder), chromedp.WindowSize(int(width), int(height)), chromedp.Flag("disable-quic", true),
		chromedp.Flag("disable-component-update", true), chromedp.Flag("no-proxy-server", true),
		chromedp.Flag("host-resolver-rules", "MAP "+inSchool+" 127.0.0.1, MAP localhost 127.0.0.1, MAP * ~NOTFOUND, EXCLUDE 127.0.0.1"),
		chromedp.Flag("disable-features", "Translate,OptimizationHints,MediaRouter"),
		chromedp.Flag("font-render-hinting", "none"), chromedp.Flag("force-prefers-reduced-motion", true), chromedp.Flag("lang", "en-GB"))
	ctx, stopBrowser := chromedp.NewExecAllocator(context.Background(), options...)
	ctx, stopTab := chromedp.NewContext(ctx)
	ctx, stopTime := context.WithTimeout(ctx, 10*time.Minute)
	p.t.Cleanup(func() {
		stopTime()
		_ = chromedp.Cancel(ctx)
		stopTab()
		stopBrowser()
		_ = os.RemoveAll(folder)
	})
	require.NoError(p.t, chromedp.Do(ctx, chromedp.EmulateViewport(width, height)), "starting the browser")
	return &page{p.t, ctx, "http://" + p.address}
}

func (b *page) do(steps ...chromedp.Action[chromedp.Void]) {
	b.t.Helper()
	if err := chromedp.Do(b.ctx, steps...); err != nil {
		b.fail("%v", err)
	}
}

func (b *page) fail(format string, args ...any) {
	b.t.Helper()
	// A browser that answers no more has nothing to show.
	ctx, stop := context.WithTimeout(b.ctx, 10*time.Second)
	defer stop()
	text, _ := chromedp.Run(ctx, chromedp.Evaluate[string]("document.body.innerText"))
	if png, err := chromedp.Run(ctx, chromedp.CaptureScreenshot()); err == nil {
		name := filepath.Join(os.TempDir(), strings.ReplaceAll(b.t.Name(), "/", "-")+".png")
		if os.WriteFile(name, png, 0o600) == nil {
			b.t.Logf("picture: %s", name)
		}
	}
	b.t.Fatalf("%s\nThe page says:\n%s", fmt.Sprintf(format, args...), text)
}

func (b *page) visit(path string) { b.t.Helper(); b.do(chromedp.Navigate(b.base + path)) }

// find is how a person finds a thing: what it is, and what it is called. within names a region around it.
const find = `((role, name, within) => {
  const kinds = {
    button: 'button', link: 'a[href]', tab: '[role=tab]', option: '[cmdk-item]',
    field: 'input:not([type=checkbox]):not([type=radio]):not([type=file]), textarea, select',
    checkbox: 'input[type=checkbox]', radio: 'input[type=radio]', file: 'input[type=file]', summary: 'summary', radiobutton: '[role=radio]', columnheader: '[role=columnheader]',
  };
  const called = (e) => (e.getAttribute('aria-label') || (e.labels && [...e.labels].map((l) => l.innerText).join(' ')) || e.innerText || '').replace(/\s+/g, ' ').trim();
  const scope = within ? [...document.querySelectorAll('[aria-label]')].find((e) => e.getAttribute('aria-label') === within) : document;
  if (!scope) return null;
  const all = [...scope.querySelectorAll(kinds[role])].filter((e) => e.checkVisibility() && !e.matches(':disabled'));
  return all.find((e) => called(e) === name) ?? all.find((e) => called(e).startsWith(name)) ?? null;
})`

func (b *page) thing(role, name, within string) chromedp.JSPath {
	return chromedp.JSPath(fmt.Sprintf("%s(%q, %q, %q)", find, role, name, within))
}

// click clicks a thing; wherever it is asked for, it is waited for first.
func (b *page) click(role, name string) { b.t.Helper(); b.clickIn("", role, name) }

func (b *page) clickIn(within, role, name string) {
	b.t.Helper()
	// A page that is still filling moves what stands below: what is clicked has to stand where it stood at the last look.
	b.evaluate("window.stoodAt = ''; true")
	b.until(fmt.Sprintf(`(() => {
      const e = %s(%q, %q, %q);
      if (!e) return false;
      const { x, y, width, height } = e.getBoundingClientRect();
      const was = window.stoodAt;
      window.stoodAt = [x, y, width, height].join();
      return was === window.stoodAt })()`, find, role, name, within), "no %s %q %s", role, name, within)
	b.do(chromedp.Click(b.thing(role, name, within)))
}

func (b *page) await(role, name, within string) {
	b.t.Helper()
	b.until(fmt.Sprintf("%s(%q, %q, %q) !== null", find, role, name, within), "no %s %q %s", role, name, within)
}

// fill replaces what stands in a field. Dates and times are set as their ISO text.
func (b *page) fill(name, text string) { b.t.Helper(); b.fillIn("", name, text) }

func (b *page) fillIn(within, name, text string) {
	b.t.Helper()
	b.await("field", name, within)
	// React listens to the input event and ignores a value that it set itself.
	b.evaluate(fmt.Sprintf(`(() => {
      const e = %s("field", %q, %q);
      const of = e.tagName === 'SELECT' ? HTMLSelectElement : e.tagName === 'TEXTAREA' ? HTMLTextAreaElement : HTMLInputElement;
      e.focus();
      Object.getOwnPropertyDescriptor(of.prototype, 'value').set.call(e, %q);
      e.dispatchEvent(new Event(e.tagName === 'SELECT' ? 'change' : 'input', { bubbles: true }));
      e.blur();
      return true })()`, find, name, within, text))
}

// choose takes the option of a field that reads so.
func (b *page) choose(name, option string) {
	b.t.Helper()
	b.await("field", name, "")
	value := fmt.Sprintf(`([...%s("field", %q, "").options].find((o) => o.text === %q)?.value ?? "")`, find, name, option)
	b.until(value+` !== ""`, "%s has no %s", name, option)
	b.fill(name, b.text(value))
}

func (b *page) upload(name, file string) {
	b.t.Helper()
	b.await("file", name, "")
	b.do(chromedp.SetUploadFiles(b.thing("file", name, ""), []string{file}))
}

func (b *page) press(keys string) { b.t.Helper(); b.do(chromedp.KeyEvent(keys)) }

// see waits until the page shows a text.
func (b *page) see(text string) {
	b.t.Helper()
	b.until(fmt.Sprintf("document.body.innerText.replace(/\\s+/g, ' ').includes(%q)", text), "the page does not say %q", text)
}

// seeIn waits until a region shows a text.
func (b *page) seeIn(region, text string) {
	b.t.Helper()
	b.until(
		fmt.Sprintf(
			"[...document.querySelectorAll('[aria-label]')].some((e) => e.getAttribute('aria-label') === %q && e.innerText.includes(%q))",
			region,
			text,
		),
		"%s does not say %q",
		region,
		text,
	)
}

func (b *page) seeNot(text string) {
	b.t.Helper()
	b.until(fmt.Sprintf("!document.body.innerText.replace(/\\s+/g, ' ').includes(%q)", text), "the page still says %q", text)
}

func (b *page) until(condition, format string, args ...any) {
	b.t.Helper()
	deadline := time.Now().Add(40 * time.Second)
	for {
		ok, err := chromedp.Run(b.ctx, chromedp.Evaluate[bool](condition))
		if err == nil && ok {
			return
		}
		if time.Now().After(deadline) {
			b.fail(format, args...)
		}
		time.Sleep(30 * time.Millisecond)
	}
}

func (b *page) evaluate(expression string) bool {
	b.t.Helper()
	got, err := chromedp.Run(b.ctx, chromedp.Evaluate[bool](expression))
	require.NoError(b.t, err)
	return got
}

// box is where a thing stands on the screen: left, top, width and height in pixels.
func (b *page) box(selector string) (x, y, w, h float64) {
	b.t.Helper()
	got, err := chromedp.Run(b.ctx, chromedp.Evaluate[[4]float64](fmt.Sprintf(`(() => {
      const r = document.querySelector(%q).getBoundingClientRect();
      return [r.x, r.y, r.width, r.height] })()`, selector)))
	if err != nil {
		b.fail("%v", err)
	}
	return got[0], got[1], got[2], got[3]
}

func (b *page) middle(selector string) (x, y float64) {
	b.t.Helper()
	x, y, w, h := b.box(selector)
	return x + w/2, y + h/2
}

func (b *page) text(expression string) string {
	b.t.Helper()
	got, err := chromedp.Run(b.ctx, chromedp.Evaluate[string](expression))
	require.NoError(b.t, err)
	return got
}

func (b *page) signIn(email, password string) {
	b.t.Helper()
	b.visit("/")
	b.fill("E-mail address", email)
	b.fill("Password", password)
	b.click("button", "Sign in")
	b.await("link", "Today", "")
}

// picture writes what the page shows, once its fonts are there.
func (b *page) picture(file string) {
	b.t.Helper()
	b.until("document.fonts.status === 'loaded'", "the fonts are not loaded")
	b.evaluate("window.drawn = false; requestAnimationFrame(() => requestAnimationFrame(() => { window.drawn = true })); true")
	b.until("window.drawn", "the page does not draw")
	png, err := chromedp.Run(b.ctx, chromedp.CaptureScreenshot())
	require.NoError(b.t, err)
	require.NoError(b.t, os.MkdirAll(filepath.Dir(file), 0o755))
	require.NoError(b.t, os.WriteFile(file, png, 0o644))
}
