package e2e

import (
	"io"
	"net/http"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/demo"
)

// The weeks before the winter concert: the violas' strings are planned and moved, one is changed and a string breaks on the way, the
// clarinets open reeds and stand ready day by day, the school's own interval is accepted, and the calendar is read elsewhere.
func TestBeforeTheConcert(t *testing.T) {
	t.Parallel()
	p := start(t, "demo", morning)
	b := p.open(1280, 800)
	b.signIn(demo.DirectorEmail, demo.Password)
	b.visit("/strings-reeds")
	b.see("open reeds by Monday 7 December")
	b.seeIn("Winter concert", "latest start: 3 Dec")

	// A string is moved with the arrow keys; the instrument keeps its days, and a day that would not do is refused.
	b.click("button", "Violas")
	b.await("button", "VA-01, A string, Thursday 3 December", "")
	b.evaluate(`(() => { document.querySelector('[aria-label="VA-01, A string, Thursday 3 December"]').focus(); return true })()`)
	b.press(kb.ArrowLeft)
	b.await("button", "VA-01, A string, Wednesday 2 December", "")
	b.seeIn("Plan, instrument by instrument", "VA-01 moved")
	b.evaluate(`(() => { document.querySelector('[aria-label="VA-01, C string, Wednesday 9 December"]').focus(); return true })()`)
	b.press(kb.ArrowRight)
	b.see("VA-01 would still be settling at the concert")
	b.click("button", "Plan it anew")
	b.await("button", "VA-01, A string, Thursday 3 December", "")

	// And dragged, onto the column of another string.
	x, y := b.middle(`[aria-label="VA-02, A string, Thursday 3 December"]`)
	monday, _ := b.middle(`[aria-label="VA-02, D string, Monday 7 December"]`)
	tuesday, _ := b.middle(`[aria-label="VA-02, G string, Tuesday 8 December"]`)
	b.do(chromedp.MouseEvent(chromedp.MousePressed, x, y, chromedp.ButtonLeft),
		chromedp.MouseEvent(chromedp.MouseMoved, x-(tuesday-monday)/2, y, chromedp.ButtonLeft),
		chromedp.MouseEvent(chromedp.MouseMoved, x-(tuesday-monday), y, chromedp.ButtonLeft),
		chromedp.MouseEvent(chromedp.MouseReleased, x-(tuesday-monday), y, chromedp.ButtonLeft))
	b.await("button", "VA-02, A string, Wednesday 2 December", "")
	b.evaluate(`(() => { document.querySelector('[aria-label="VA-02, A string, Wednesday 2 December"]').focus(); return true })()`)
	b.press(kb.ArrowRight)
	b.await("button", "VA-01, A string, Thursday 3 December", "")
	b.click("button", "We 9: no time for strings")
	b.await("button", "VA-01, A string, Wednesday 2 December", "")
	b.click("button", "We 9: no time for strings")
	b.await("button", "VA-01, A string, Thursday 3 December", "")
	b.click("button", "Put this plan on Today")
	b.see("Each string stands on Today on its day.")
	b.see("This plan stands on Today")

	// One is led through: cautions first, each step ticked; a string that snaps has its own short life, and the single follows.
	b.visit("/")
	b.clickIn("On the plan", "link", "Change it: VA-03")
	b.see("Turn your face away while tightening")
	b.seeNot("Instrument wiped and laid on a clean cloth.")
	b.click("button", "Read, begin")
	b.fill("Why it had come to its end", "dull")
	b.fill("Product", "Heronbill")
	b.see("8 steps to tick")
	tickAll(b)
	b.click("button", "It snapped")
	b.see("1 string snapped on the way and is written down")
	b.see("7 steps to tick")
	tickAll(b)
	b.click("button", "It is on")
	b.see("A string is on and settles until Friday 27 November.")
	b.await("link", "VA-03, A settles until 27 Nov: change it", "")
	b.click("link", "VA-03")
	b.see("snapped while tuning")

	// The clarinets without a reed for the concert open one each; seen again after the break-in they are ready.
	b.visit("/strings-reeds/reeds")
	b.click("button", "B-flat clarinet")
	for _, tag := range []string{"CL-02", "CL-06", "CL-08", "CL-09"} {
		b.click("button", tag+": a new reed is opened")
		b.see(tag + ": a new reed is opened.")
	}
	b.visit("/strings-reeds")
	b.seeIn("B-flat clarinet, chair by chair", "CL-02")
	b.seeIn("Winter concert", "B-flat clarinet ready")
	p.restart(morning.AddDate(0, 0, 3))
	b.visit("/strings-reeds/reeds")
	b.click("button", "B-flat clarinet")
	b.click("button", "CL-02, reed 3: day 4 of its break-in: 20 minutes today")
	b.click("button", "chipped")
	b.see("CL-02: the reed is out.")
	b.press("u")
	b.see("Undone.")
	p.restart(morning.AddDate(0, 0, 8))
	b.visit("/strings-reeds/reeds")
	b.click("button", "B-flat clarinet")
	b.await("button", "CL-02, reed 3: ready, until 29 Dec", "")

	// What the school has learned takes the place of the trade's figure, and Why says so.
	b.visit("/strings-reeds/lasting")
	b.clickIn("Violin: Change the string", "button", "Change them after")
	b.see("from now on.")
	b.scan("VN-01")
	b.click("button", "Why: VN-01, Change the string E string")
	b.see("learned here")
	b.see("The trade's figure")

	// The calendar: a secret address, and another that ends it.
	b.visit("/settings/calendar")
	b.click("button", "Make a secret address")
	first := b.address()
	status, text := fetch(t, first)
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, text, "SUMMARY:Winter concert")
	assert.Contains(t, text, "SUMMARY:Change ")
	b.click("button", "New address, the old one ends")
	b.until(`document.querySelector('[aria-label="Secret address"]').value !== '`+strings.Replace(first, b.base, public, 1)+`'`, "the address stays")
	status, _ = fetch(t, first)
	assert.Equal(t, http.StatusNotFound, status)
	status, _ = fetch(t, b.address())
	assert.Equal(t, http.StatusOK, status)
}

// tickAll ticks the steps of a guided change that are not ticked yet.
func tickAll(b *page) {
	b.t.Helper()
	b.evaluate(`(() => { document.querySelectorAll('ol input[type=checkbox]:not(:checked)').forEach((box) => box.click()); return true })()`)
	b.await("button", "It is on", "")
}

// address is the secret address that is shown.
func (b *page) address() string {
	b.t.Helper()
	b.await("field", "Secret address", "")
	shown := b.text(`document.querySelector('[aria-label="Secret address"]').value`)
	require.True(b.t, strings.HasPrefix(shown, public), shown)
	return strings.Replace(shown, public, b.base, 1)
}

func fetch(t *testing.T, address string) (status int, body string) {
	t.Helper()
	answer, err := http.Get(address)
	require.NoError(t, err)
	defer answer.Body.Close()
	text, err := io.ReadAll(answer.Body)
	require.NoError(t, err)
	return answer.StatusCode, strings.ReplaceAll(string(text), "\r\n ", "")
}
