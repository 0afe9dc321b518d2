package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"

	"solfeggio/internal/demo"
)

// From an open seam to checked in, with the simulated shop, a trip and a loaner; a dear quote is refused; and the string
// orchestra has one chair more that is ready for the winter concert.
func TestFromTheSeamToTheSlot(t *testing.T) {
	t.Parallel()
	p := start(t, "demo", morning)
	b := p.open(1280, 800)
	b.signIn(demo.DirectorEmail, demo.Password)
	b.visit("/season/readiness")
	b.seeIn("Winter concert", "103 of 110 chairs ready")
	b.seeIn("Winter concert", "String orchestra 26/27")
	b.seeIn("Winter concert", "open seam")

	// The seam becomes a job; the simulated shop quotes at once, since its days take no time here.
	b.visit("/shop")
	b.see("19 days longer away than it should be")
	b.click("button", "Make a job for VA-07")
	b.see("Seam glued")
	b.click("button", "Ask for a quote")
	b.see("Agree to")
	b.seeIn("Quotes", "simulated shop")
	b.click("button", "Agree to")
	b.click("button", "Put it on the trip")
	b.see("Leaves on Thu 26 Nov")

	// The van leaves: its player has another viola meanwhile, and the mark says where it is.
	b.visit("/shop/trips")
	b.see("Noor Velde has VA-08 meanwhile")
	b.see("3 of 6 places taken")
	b.click("button", "It leaves today")
	b.see("3 instruments on the way.")
	b.visit("/room?as=list")
	b.fill("Find in the room", "VA-07")
	b.until(`document.querySelector('svg[aria-label="at the shop"]') !== null`, "no mark says that it is at the shop")
	b.click("link", "VA-07")
	b.click("link", "Shop: at the shop")

	// It comes back: what the shop says is beside each line, nothing is closed untried.
	b.click("button", "Ask the simulated shop for news")
	b.see("Ready to be fetched since")
	b.click("button", "It is back")
	b.see("Try it first")
	b.seeIn("Check it in", "The bill")
	b.click("radio", "mended")
	b.click("button", "Check it in")
	b.see("try it first")
	b.click("checkbox", "It was tried and sounds right")
	b.click("button", "Check it in")
	b.see("What came of it")
	b.see("VA-07 is checked in.")
	b.visit("/season/readiness")
	b.seeIn("Winter concert", "String orchestra 27/27")

	// A dear quote: with other figures a new one is the better buy, and it is refused.
	b.visit("/shop")
	b.clickIn("Open jobs", "link", "TU-02")
	b.see("The total is €10.00 more than its lines. Ask what for.")
	b.see("Repairing is the better buy")
	b.click("button", "change a figure")
	b.fill("A new one", "400.00")
	b.see("A new one is the better buy")
	b.click("button", "Refuse")
	b.see("Refused.")
	b.seeIn("Quotes", "refused")
	b.await("button", "Ask for a quote", "")
}

// A year is planned: a note is moved by the keys and pinned, what cannot be is refused in words, the plan is accepted and stands on Today,
// and when a week is lost it says what no longer holds.
func TestTheYearAsAScore(t *testing.T) {
	t.Parallel()
	p := start(t, "demo", morning)
	b := p.open(1280, 800)
	b.signIn(demo.DirectorEmail, demo.Password)
	b.visit("/season")
	b.see("How late it is")
	b.see("CO-01, Yearly check-up, is booked for week 13 (23 Nov), but it would be away in the week of its concert")
	first := func(part string) string {
		return b.text(`[...document.querySelectorAll('g[role=button]')].map((g) => g.getAttribute('aria-label')).find((l) => l.includes('` + part + `')) ?? ''`)
	}
	label := first("Brass bath, at the bench")
	assert.NotEmpty(t, label)
	b.evaluate(`(() => { document.querySelector('g[aria-label="` + label + `"]').focus(); return true })()`)
	b.press(kb.Enter)
	b.see("Pin it here")
	b.click("button", "Pin it here")
	// What is pinned may take others of its kind along into its week.
	const pinned = `[...document.querySelectorAll('g[role=button]')].find((g) => /Brass bath.*pinned$/.test(g.getAttribute('aria-label')))`
	b.until(pinned+` !== undefined`, "it is not pinned")
	label = b.text(pinned + `.getAttribute('aria-label')`)
	b.evaluate(`(() => { ` + pinned + `.focus(); return true })()`)
	b.press(kb.ArrowRight)
	b.until(`(() => { const now = document.activeElement.getAttribute('aria-label') ?? ''; return now.endsWith('pinned') && now !== "`+label+`" })()`,
		"the note is not a week later with the hand still on it")
	b.evaluate(`(() => { document.querySelector('g[aria-label="` + first("by van to the shop") + `"]').focus(); return true })()`)
	b.press(kb.ArrowRight)
	b.see("no trip goes then. Nothing was moved.")
	// Or dragged two bars on. Whether a note may go there depends on the plan, so every one is tried that has two bars after it and
	// that no other lies over: it is pinned there, or refused in words.
	const dragged = `[...document.querySelectorAll('g[role=button]')].some((g) => /Peg compound.*pinned/.test(g.getAttribute('aria-label')))`
	const refused = `/Peg compound: not in week.*Nothing was moved/.test(document.querySelector('main [role=alert]')?.innerText ?? '')`
	for n := 0; n == 0 || b.evaluate(`!`+dragged); n++ {
		b.until(`document.querySelector('main [aria-busy=true]') === null`, "the plan is not done")
		b.until(`(() => {
			document.querySelector('#peg')?.removeAttribute('id')
			const sheet = document.querySelector('svg[aria-label^="The score"]').getBoundingClientRect()
			const peg = [...document.querySelectorAll('g[aria-label*="Peg compound, at the bench"] rect')].filter((r) => {
				const { x, y, width, height } = r.getBoundingClientRect()
				return x + 100 < sheet.right && r.parentNode.contains(document.elementFromPoint(x + width / 2, y + height / 2)) })[`+fmt.Sprint(n)+`]
			peg?.setAttribute('id', 'peg')
			return peg !== undefined })()`, "none of %d notes could be dragged", n)
		x, y := b.middle("#peg")
		b.do(chromedp.MouseEvent(chromedp.MousePressed, x, y, chromedp.ButtonLeft),
			chromedp.MouseEvent(chromedp.MouseMoved, x+15, y, chromedp.ButtonLeft),
			chromedp.MouseEvent(chromedp.MouseMoved, x+60, y, chromedp.ButtonLeft),
			chromedp.MouseEvent(chromedp.MouseReleased, x+60, y, chromedp.ButtonLeft))
		b.until(dragged+` || `+refused, "a dragged note is neither moved nor refused")
	}
	b.click("tab", "List")
	b.seeIn("Week of 7 Dec", "Winter concert")
	b.click("tab", "What if")
	b.fill("Bench minutes in a school week", "600")
	b.click("button", "Try it")
	b.see("−")
	b.click("tab", "Score")
	b.click("button", "Accept the plan")
	b.see("Accepted. Its work stands on Today in its week.")
	b.visit("/")
	b.seeIn("This week", "by the season’s plan")
	p.restart(morning.AddDate(0, 0, 8))
	b.visit("/season")
	b.see("its week has gone by")
	b.see("Everything else stays.")
}
