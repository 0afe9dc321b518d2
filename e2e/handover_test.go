package e2e

import (
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// handOver goes through a proposed hand-over with a paper agreement, from the list of the proposal to its end.
func (b *page) handOver(player, tag string) {
	b.t.Helper()
	b.click("link", "Hand out: "+player+", "+tag)
	b.see(tag)
	for b.text(`document.querySelector('[aria-current=step]')?.innerText ?? ''`) == "" {
		time.Sleep(30 * time.Millisecond)
	}
	for !b.evaluate(`document.querySelector('[aria-current=step]').innerText.includes('Agreement')`) {
		b.click("button", "Next")
	}
	b.click("button", "Signed on paper")
	b.fill("Who signs", "A guardian")
	b.clickIn("Hand-over", "button", "Hand out")
	b.see(tag + " is " + player + "’s now")
}

// takeBack takes the instrument back whose file is open, as it went out.
func (b *page) takeBack(tag string) {
	b.t.Helper()
	b.click("link", "Return")
	b.see("Changed since it went out")
	b.click("button", "Take it back")
	b.see(tag + " is back, and held until its turnover is done.")
	b.see("Held: ") // the file as it is now, and not as it was before
}

// sign draws over the line, through points in parts of the pad.
func (b *page) sign(points ...[2]float64) {
	b.t.Helper()
	const pad = `[aria-label="Sign here"]`
	b.evaluate(`document.querySelector('` + pad + `').scrollIntoView({ block: 'center' }); true`)
	x, y, w, h := b.box(pad)
	for n, p := range points {
		at := [2]float64{x + p[0]*w, y + p[1]*h}
		kind := chromedp.MouseMoved
		if n == 0 {
			kind = chromedp.MousePressed
		}
		b.do(chromedp.MouseEvent(kind, at[0], at[1], chromedp.ButtonLeft))
		if n == len(points)-1 {
			b.do(chromedp.MouseEvent(chromedp.MouseReleased, at[0], at[1], chromedp.ButtonLeft))
		}
	}
}

// A signature is abandoned half-way: nothing was handed out, and what was noted is still there.
func TestASignatureIsAbandoned(t *testing.T) {
	t.Parallel()
	_, b := waiting(t)
	b.click("link", "Hand out: Ode Marchetti, VN-01")
	b.see("The checks stand above")
	b.click("button", "comfortably")
	b.click("button", "about a right angle")
	b.click("button", "relaxed and round")
	b.see("Violin 4/4 fits.")
	b.click("button", "Next")
	b.fill("Add something new", "peg-slips")
	b.fill("Peg slips: a word about it", "The A peg.")
	b.click("button", "Next")
	b.click("radiobutton", "Mute: missing")
	b.click("button", "Next")
	b.fill("Who signs", "R. Marchetti")
	b.sign([2]float64{0.2, 0.5}, [2]float64{0.22, 0.5})
	b.clickIn("Hand-over", "button", "Hand out")
	b.see("is not finished; sign over the line")
	b.see("Nothing was handed out; what you noted is kept here.")
	b.visit("/hand-out/players")
	b.see("waits for one")

	// An hour later, the same two: only the signature has to be made again.
	b.visit("/hand-out")
	b.click("link", "Hand out: Ode Marchetti, VN-01")
	b.until(`document.querySelector('input[placeholder^="Name of the player"]')?.value === 'R. Marchetti'`, "the name is not kept")
	b.see("Sign")
	b.sign([2]float64{0.1, 0.5}, [2]float64{0.4, 0.3}, [2]float64{0.6, 0.7}, [2]float64{0.9, 0.4})
	b.clickIn("Hand-over", "button", "Hand out")
	b.see("VN-01 is Ode Marchetti’s now")
	b.see("Before the first note")
	b.evaluate(
		`fetch(document.querySelector('a[href*="agreement.pdf"]').href).then((r) => r.blob()).then((f) => { window.paper = f.type + ' ' + f.size }); true`,
	)
	b.until(`window.paper?.startsWith('application/pdf') && Number(window.paper.split(' ')[1]) > 5000`, "there is no agreement")
	b.click("link", "Its file")
	b.see("Found: Peg slips (The A peg.)")
	b.see("Kit: mute missing")
	b.see("Handed out to Ode Marchetti")
}

// A trumpet goes out, and comes back with a dent and without its sponge mat.
func TestATrumpetComesBackWithADent(t *testing.T) {
	t.Parallel()
	p, b := school(t, "tag,kind,care_from,acquired_on", "TR-01,trumpet,2026-11-01,2024-11-24", "TR-02,trumpet,2026-11-01,")
	b.visit("/hand-out/players")
	b.click("button", "Add a player")
	b.fill("Given name", "Fen")
	b.fill("Instrument", "trumpet")
	b.clickIn("New player", "button", "Save")
	b.see("waits for one")
	b.scan("TR-01")
	b.click("link", "Hand out")
	b.see("choose who gets it")
	b.click("link", "Hand out to Fen")
	for _, step := range []string{"Changed since?", "Everything counts as there"} {
		b.see(step)
		b.click("button", "Next")
	}
	b.click("button", "Signed later")
	b.clickIn("Hand-over", "button", "Hand out")
	b.see("TR-01 is Fen’s now")
	b.click("link", "Its file")

	b.click("link", "Return")
	b.see("Nothing is noted.")
	b.fill("Add what is new", "dent-small")
	b.fill("Small dent: a word about it", "Bell rim.")
	b.click("radiobutton", "Sponge mat: missing")
	b.see("1 thing missing since: sponge mat")
	b.fill("What the player says of it", "It fell.")
	b.click("button", "ask for a part of the repair")
	b.fill("What the repair costs", "60")
	b.see("Proposed:")
	b.click("button", "take it over")
	b.until(`[...document.querySelectorAll('input')].some((i) => i.value === '52.00')`, "two of fifteen years are gone: 60 × 13/15")
	b.click("button", "Take it back")
	b.see("say what it is for")
	b.see("What you noted is kept here.")
	b.fill("For what; it stands in the notice", "a dent in the bell rim")
	b.fill("What is asked for", "20")
	b.click("button", "Take it back")
	b.see("Held: turnover")
	b.see("Found: Small dent (Bell rim.)")

	// Nobody gets it before its turnover is done; then it is free.
	b.visit("/hand-out")
	b.see("Hand out all 1")
	assert.True(
		t,
		b.evaluate(`document.body.innerText.includes('TR-02') && !document.body.innerText.includes('TR-01')`),
		"a held one is not proposed",
	)
	b.visit("/hand-out/notices")
	b.see("About the repair of TR-01")
	b.click("button", "read it: About the repair")
	b.see("The school asks for")
	b.click("button", "Send 1 (simulated)")
	b.see("1 notice in the simulated outbox")
	b.see("Nothing has to be written")
	b.scan("TR-01")
	b.click("button", "it is done")
	b.see("never mix products")
	b.click("button", "Let it go")
	b.see("say what was done")
	b.fill("What was done, with which product and lot, and until when it dried", "Bath, dried overnight.")
	b.click("button", "Let it go")
	b.see("TR-01 is free again.")
	b.press("u")
	b.see("Held: turnover")
	p.restart(morning.AddDate(0, 0, 1))
	b.visit("/supplies")
	b.see("Sponge mat")
}

// A class by hand scanner: tag, card, tag, card; a tag read twice, a card first, a held instrument.
func TestABatchByScanner(t *testing.T) {
	t.Parallel()
	_, b := waiting(t, "VN-03,violin,1/2,2026-11-01")
	b.visit("/hand-out/players")
	b.see("Ode Marchetti")
	card := func(name string) string {
		b.evaluate(
			`window.card = ''; fetch('/api/v1/players').then((r) => r.json()).then((l) => { window.card = l.find((p) => p.name === '` + name + `').card }); true`,
		)
		b.until(`window.card !== ''`, "%s has no card", name)
		return b.text(`window.card`)
	}
	ode, ilse := card("Ode Marchetti"), card("Ilse Quandt")
	b.read(ode, `location.search.includes('card=') && document.body.innerText.includes('Notes the director needs')`)
	b.visit("/hand-out/batch")
	b.see("Print 2 cards")
	says := func(text string) string {
		return `document.querySelector('main').innerText.includes(` + "`" + text + "`" + `)`
	}
	b.read(ode, says("Read the tag of the instrument first."))
	b.read("VN-01", says("now a player’s card"))
	b.read("VN-01", says("VN-01 was read twice."))
	b.read(ode, says("1 instrument handed out"))
	b.read("VN-01", says("VN-01 is in the hands of Ode Marchetti."))
	b.read("XX-99", says("is no tag and no card here."))
	b.read("VN-02", says("VN-02"))
	b.read(ilse, says("2 instruments handed out"))
	b.click("button", "Undo: VN-02, Ilse Quandt")
	b.see("1 instrument handed out")
	b.read("VN-03", says("VN-03"))
	b.read(ilse, says("measures for 4/4, this is 1/2: make the checks"))
	b.click("button", "Undo: VN-03, Ilse Quandt")
	b.see("1 instrument handed out")
	b.visit("/hand-out/players")
	b.see("waits for one")
}

// The server goes down in the middle of a return: what was noted is kept, also over a closed page, and is sent once.
func TestAReturnOverALostServer(t *testing.T) {
	t.Parallel()
	p, b := waiting(t)
	b.handOver("Ilse Quandt", "VN-02")
	b.click("link", "Its file")
	b.click("link", "Return")
	b.see("Changed since it went out")
	b.click("radiobutton", "Rosin cake: low")
	b.fill("What the player says of it", "The bow squeaks.")
	p.kill()
	b.click("button", "Take it back")
	b.see("The server does not answer")
	b.see("What you noted is kept here.")
	p.run("serve", morning)
	b.visit("/")
	b.see("minutes")
	b.scan("VN-02")
	b.see("in the hands of Ilse Quandt")
	b.click("link", "Return")
	b.until(`document.querySelector('textarea')?.value === 'The bow squeaks.'`, "what the player says is lost")
	b.click("button", "Take it back")
	b.see("Held: turnover")
	b.see("Kit: rosin cake low")
	b.visit("/")
	b.see("minutes")
	b.until(
		`!Object.keys(localStorage).some((k) => k.startsWith('solfeggio-drafts/back'))`,
		"a return that is done is still kept in the browser",
	)
}

// The school words its agreement itself: a place that there is not is named, and the next hand-over shows the new words.
func TestTheSchoolsOwnWords(t *testing.T) {
	t.Parallel()
	_, b := waiting(t)
	b.visit("/settings/letters")
	b.click("summary", "Agreement at the hand-out")
	b.fill("Wording: Agreement at the hand-out", "Our loan of {tag}\n{player} minds it, and so does {parent}.")
	b.clickIn("", "button", "Save")
	b.see("has the place {parent}, which is unknown here")
	b.fill("Wording: Agreement at the hand-out", "Our loan of {tag}\n{player} minds it until {due_back}.")
	b.click("button", "Save")
	b.see("your wording")
	b.visit("/settings/school")
	b.fill("And at most; empty for no limit", "150,50")
	b.click("button", "Save")
	b.see("Saved.")
	b.visit("/settings/school")
	b.until(`[...document.querySelectorAll('input')].some((i) => i.value === '150.50')`, "the limit is not kept")
	b.visit("/hand-out")
	b.click("link", "Hand out: Ode Marchetti, VN-01")
	for _, step := range []string{"The checks stand above", "Changed since?", "Everything counts as there"} {
		b.see(step)
		b.click("button", "Next")
	}
	b.seeIn("What is agreed", "Our loan of VN-01")
	b.seeIn("What is agreed", "Ode Marchetti minds it until further notice.")
}
