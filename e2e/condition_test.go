package e2e

import (
	"fmt"
	"image"
	"image/color"
	"image/png"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// school is an empty school with the given instruments, and its director looking at it.
func school(t *testing.T, rows ...string) (*program, *page) {
	p := start(t, "serve", morning)
	p.tool("a long password\n", "school", "--name", "Quillhaven", "--director", "Ines Corvane", "--email", "ines@quillhaven.example")
	b := p.open(1280, 800)
	b.signIn("ines@quillhaven.example", "a long password")
	b.visit("/settings/instruments")
	file := filepath.Join(t.TempDir(), "instruments.csv")
	require.NoError(t, os.WriteFile(file, []byte(strings.Join(rows, "\n")+"\n"), 0o600))
	b.upload("Instrument file", file)
	b.click("button", "Import "+map[bool]string{true: "1 instrument", false: ""}[len(rows) == 2])
	b.see("Imported ")
	return p, b
}

var twoViolins = []string{
	"tag,kind,size,room,slot,care_from,ensembles,practice_minutes_per_week",
	"VN-01,violin,4/4,Store,A-01,2026-06-01,String orchestra,60", "VN-02,violin,4/4,Store,A-02,2026-06-01,,",
}

// scan opens an instrument's file by its tag, as a hand scanner does.
func (b *page) scan(tag string) {
	b.t.Helper()
	b.read(tag, `!!document.querySelector('main h1')?.innerText.includes("`+tag+`") && document.body.innerText.includes('Timeline')`)
}

// read is the simulated hand scanner: a keyboard that types a code in one go and ends it with Enter, wherever the cursor is.
func (b *page) read(code, until string) {
	b.t.Helper()
	b.until("document.readyState === 'complete'", "the page does not load")
	for range 5 { // until the page is there to listen
		b.evaluate(
			fmt.Sprintf(
				`for (const key of [...%q, 'Enter']) document.activeElement.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true })); true`,
				code,
			),
		)
		for range 60 {
			if b.evaluate(until) {
				return
			}
			time.Sleep(50 * time.Millisecond)
		}
	}
	b.fail("reading %s does nothing", code)
}

// pull scans tags one right after the other, once each, where the cursor stands in a box that takes them.
func (b *page) pull(tags ...string) {
	b.t.Helper()
	b.until("document.activeElement?.id === 'tag'", "the cursor is not where tags are taken")
	for _, tag := range tags {
		b.press(tag + "\r")
	}
}

// right taps "Looks right" until the walk is at its end.
func (b *page) right() {
	b.t.Helper()
	for range 20 {
		if b.evaluate(`document.body.innerText.includes('All looked at')`) {
			return
		}
		at := b.text(`document.querySelector('main header').innerText`)
		b.press("1")
		b.until(
			`document.querySelector('main header').innerText !== `+quote(at)+` || document.body.innerText.includes('All looked at')`,
			"the walk does not go on after %s",
			at,
		)
	}
	b.fail("the walk does not end")
}

func quote(s string) string { return `"` + strings.ReplaceAll(s, "\n", `\n`) + `"` }

func photograph(t *testing.T) string {
	m := image.NewRGBA(image.Rect(0, 0, 64, 48))
	m.Set(9, 9, color.White)
	name := filepath.Join(t.TempDir(), "seam.png")
	f, err := os.Create(name)
	require.NoError(t, err)
	defer f.Close()
	require.NoError(t, png.Encode(f, m))
	return name
}

// An open seam is found at the desk, and the violin is stopped on every screen, with its first aid, until it is cleared.
func TestAnOpenSeamIsStoppedOnEveryScreen(t *testing.T) {
	t.Parallel()
	_, b := school(t, twoViolins...)
	b.putUpShelf()
	b.scan("VN-01")
	b.click("link", "Check")
	b.see("slacken the strings at once, no glue")
	b.press("2")
	b.fill("Open seam: a word about it", "Lower bout, bass side.")
	b.upload("Photograph of Open seam", photograph(t))
	b.see("1 kept")
	b.click("button", "Next")
	b.right()
	b.press("d")
	b.see("Stop playing")
	b.see("Slacken all strings at once")
	b.see("No glue.")

	b.click("link", "Open its file")
	b.see("Stopped: open seam.")
	b.see("Lower bout, bass side.")
	b.until(`document.querySelector('img[alt="Photograph of open seam"]')?.naturalWidth > 0`, "the photograph does not show")
	b.click("tab", "Routines")
	b.click("link", "Today")
	b.see("1 player can’t play")
	b.see("First: Slacken all strings at once")
	b.fill("minutes", "400")
	b.see("of 400 minutes used")
	assert.False(
		t,
		b.evaluate(`[...document.querySelectorAll('[aria-labelledby^=place] a')].some((a) => a.innerText === 'VN-01')`),
		"no work is offered on it",
	)
	b.click("tab", "All due")
	b.see("stopped: open seam; not now")
	assert.False(
		t,
		b.evaluate(`[...document.querySelectorAll('button')].some((e) => e.getAttribute('aria-label')?.startsWith('Done: VN-01'))`),
		"nor can it be ticked off",
	)
	b.click("link", "Room")
	b.until(`document.querySelector('a[title^="VN-01"]')?.title.includes('open seam')`, "the wall does not show it")
	b.visit("/room?as=list")
	b.see("open seam")
	b.click("link", "Today")
	b.await("button", "Lend VN-02", "")
	b.press("l")
	b.see("Lend VN-02: press l again")
	b.press("l")
	b.see("VN-02 is lent for VN-01.")
	b.seeNot("can’t play")

	b.scan("VN-01")
	b.click("tab", "Condition")
	b.click("button", "Clear: Open seam")
	b.click("button", "Clear it")
	b.see("say who mended it or looked at it, and how")
	b.fill("How it was put right", "The luthier closed it.")
	b.click("button", "Clear it")
	b.see("Cleared: Open seam, The luthier closed it.")
	b.see("Fit for a concert")
}

func TestARoundOfEight(t *testing.T) {
	t.Parallel()
	rows := []string{"tag,kind,room,slot,care_from,last:brass-slide-check"}
	for _, n := range []string{"3", "1", "2", "8", "7", "6", "5", "4"} {
		rows = append(rows, "TR-0"+n+",trumpet,Store,A-0"+n+",2026-11-20,2026-10-01")
	}
	_, b := school(t, rows...)
	b.click("link", "Today")
	b.click("tab", "Rounds")
	b.click("button", "Begin the round: Pull and grease the slides")
	b.see("No pliers, no vice")
	for n, tag := range []string{"TR-01", "TR-02", "TR-03", "TR-04", "TR-05", "TR-06", "TR-07", "TR-08"} {
		b.until(
			`document.querySelector('[aria-label=Round] [aria-current=true]')?.innerText.includes('`+tag+`')`,
			"%s is not next on the shelf",
			tag,
		)
		b.press("d")
		b.see(string(rune('1'+n)) + " of 8 done")
	}
	b.see("The round is done.")
	b.press("u")
	b.see("7 of 8 done")
}

func TestAStocktakeWithTwoMissing(t *testing.T) {
	t.Parallel()
	_, b := school(t, "tag,kind,room,slot,care_from", "TR-01,trumpet,Store,A-01,2026-11-20", "TR-02,trumpet,Store,A-02,2026-11-20",
		"TR-03,trumpet,Store,A-03,2026-11-20", "TU-01,tuba,Hall,B-01,2026-11-20")
	b.visit("/room")
	b.see("0 places: 3 instruments here")
	b.click("link", "Stocktake")
	b.see("Scan or type the tag of everything")
	b.fill("Room", "Store")
	b.click("button", "Begin")
	b.see("0 of the 3 instruments that belong here seen, 3 missing")
	b.pull("TR-02", "TU-01", "TR-02", "TU-01")
	b.see("1 of the 3 instruments that belong here seen, 2 missing")
	b.see("belongs in Hall B-01")
	b.see("1 out of place")
	b.fill("Tag", "ZZ-9")
	b.click("button", "Note it")
	b.see("no instrument has this tag")
	b.click("button", "End the count")
	b.see("the files of the missing say so")
	b.scan("TR-03")
	b.see("Not found at a stocktake in A-03")
}

// A check goes on where there is no network, also after the page was closed, and is sent when the server is back.
func TestACheckWithoutANetwork(t *testing.T) {
	t.Parallel()
	p, b := school(t, twoViolins...)
	b.scan("VN-01")
	b.click("link", "Check")
	b.see("1 of 17")
	b.evaluate(`window.ready = false; setInterval(async () => {
      const keys = (await (await caches.open('solfeggio-1')).keys()).map((r) => new URL(r.url).pathname)
      window.ready = keys.some((k) => k.includes('/Check-')) && keys.some((k) => k.endsWith('/check')) && keys.includes('/api/v1/session')
    }, 200); true`)
	b.visit(b.text("location.pathname"))
	b.see("1 of 17")
	b.evaluate(`window.ready = false; setInterval(async () => {
      const keys = (await (await caches.open('solfeggio-1')).keys()).map((r) => new URL(r.url).pathname)
      window.ready = keys.some((k) => k.includes('/Check-')) && keys.some((k) => k.endsWith('/check')) && keys.includes('/api/v1/session')
    }, 200); true`)
	b.until("window.ready", "the browser does not keep what a walk needs")
	p.kill()
	for range 4 {
		b.press("1")
	}
	b.see("5 of 17")
	b.press("2") // the bridge leans
	b.see("a word about it")
	b.visit(b.text("location.pathname"))
	b.see("5 of 17")
	b.until(`document.querySelector('[aria-pressed=true]')?.innerText.includes('Bridge leans')`, "the answer is lost")
	b.click("button", "Next")
	b.right()
	b.press("d")
	b.see("The check is kept here and is being sent")
	b.see("1 check waits for the server")
	p.run("serve", morning)
	b.see("Fit for class")
	b.see("Both hands, two fingers each side")
	b.seeNot("waits for the server")
}

// Two walk along the same violin: the second is told, nothing is lost, and both are kept. A figure that is none, and a
// file that is no photograph, are named; the answers stay.
func TestChecksThatClash(t *testing.T) {
	t.Parallel()
	p, b := school(t, twoViolins...)
	other := p.open(390, 844)
	other.signIn("ines@quillhaven.example", "a long password")
	for _, who := range []*page{b, other} {
		who.visit("/room?as=list")
		who.click("link", "VN-01")
		who.see("Timeline")
		who.click("link", "Check")
		who.see("1 of 17")
	}
	b.press("2")
	b.click("button", "Next")
	b.right()
	b.press("d")
	b.see("Stop playing")

	for range 10 {
		other.press("1")
	}
	other.see("Height, highest string")
	other.fill("Height of the highest string", "quite high")
	other.click("button", "Next")
	other.press("2") // the lowest string is too high
	no := filepath.Join(t.TempDir(), "virus.jpg")
	require.NoError(t, os.WriteFile(no, []byte("no picture at all"), 0o600))
	other.upload("Photograph of Strings stand too high", no)
	other.see("1 kept")
	other.click("button", "Next")
	other.right()
	other.press("d")
	other.see("is not a JPEG or PNG photograph")
	other.click("button", "Send it without the photographs")
	other.see(`"quite high" is no figure`)
	other.click("button", "Go through it again")
	other.see("All looked at")
	other.click("button", "11 Height, highest string")
	other.fill("Height of the highest string", "4,4 mm")
	other.click("button", "Next")
	for other.evaluate(`!document.body.innerText.includes('All looked at')`) {
		other.press("j")
	}
	other.click("button", "Finish the check")
	other.see("Stop playing")
	other.see("Strings stand too high")
}

// putUpShelf makes shelf A of the Store, with six slots.
func (b *page) putUpShelf() {
	b.t.Helper()
	b.visit("/settings/rooms")
	b.fillIn("New shelf", "Room", "Store")
	b.fillIn("New shelf", "Shelf", "A")
	b.fillIn("New shelf", "Slots", "6")
	b.clickIn("New shelf", "button", "Add")
	b.await("button", "Remove shelf A", "")
}

// drag takes an instrument from its slot and lets it go over another, as a hand does: it lets go once the slot shows
// that the instrument would land there.
func (b *page) drag(tag, slot string) {
	b.t.Helper()
	target := `[data-slot="` + slot + `"]`
	x, y := b.middle(`a[title^="` + tag + `"]`)
	b.do(chromedp.MouseEvent(chromedp.MousePressed, x, y, chromedp.ButtonLeft),
		chromedp.MouseEvent(chromedp.MouseMoved, x+9, y, chromedp.ButtonLeft))
	x, y = b.middle(target)
	b.do(chromedp.MouseEvent(chromedp.MouseMoved, x, y, chromedp.ButtonLeft))
	b.until(`document.querySelector('`+target+`').dataset.over === 'true'`, "%s is not over %s", tag, slot)
	b.do(chromedp.MouseEvent(chromedp.MouseReleased, x, y, chromedp.ButtonLeft))
}

// The wall: an instrument is dragged to a free slot, upon another to change places, and many are moved at once.
func TestMovingAlongTheWall(t *testing.T) {
	t.Parallel()
	_, b := school(
		t,
		"tag,kind,room,slot,care_from",
		"TR-01,trumpet,Store,A-01,2026-11-20",
		"TR-02,trumpet,Store,A-02,2026-11-20",
		"TR-03,trumpet,Store,,2026-11-20",
		"FL-01,flute,Store,,2026-11-20",
	)
	b.putUpShelf()
	b.click("link", "Room")
	b.see("6 places: 4 instruments here")
	stands := func(tag, slot string) {
		t.Helper()
		b.until(`document.querySelector('[data-slot="`+slot+`"]')?.innerText.includes('`+tag+`')`, "%s does not stand in %s", tag, slot)
	}
	stands("TR-01", "A-01")
	b.drag("TR-01", "A-04")
	stands("TR-01", "A-04")
	b.press("u")
	stands("TR-01", "A-01")
	b.drag("TR-01", "A-02")
	stands("TR-01", "A-02")
	stands("TR-02", "A-01")
	b.click("tab", "List")
	b.click("checkbox", "Select TR-03")
	b.click("checkbox", "Select FL-01")
	b.see("2 selected")
	b.fill("Move them to", "Store\tA-05")
	b.click("button", "Move")
	b.see("2 instruments moved.")
	b.click("tab", "Wall")
	stands("FL-01", "A-05")
	stands("TR-03", "A-06")
}
