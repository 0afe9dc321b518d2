package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"solfeggio/internal/demo"
)

// A school takes another side, one violin keeps to the first, and the Why names who chose what.
func TestAnotherSchoolOfPractice(t *testing.T) {
	t.Parallel()
	_, b := school(
		t,
		"tag,kind,size,care_from,last:violin-strings",
		"VN-01,violin,4/4,2026-11-20,2026-10-15",
		"VN-02,violin,4/4,2026-11-20,2026-10-15",
	)
	b.visit("/settings/practices")
	b.click("radio", "Contact points of shared string instruments: Folded alcohol wipe")
	b.see("Routines and clocks follow.")
	b.click("radio", "Cleaning the varnished body: Damp cloth")
	b.scan("VN-01")
	b.click("tab", "Routines")
	b.click("summary", "Wipe the contact points")
	b.see("On varnish alcohol does damage in a second")
	b.see("Nothing added. Dry cloth and clean hands.")
	b.fill("Contact points of shared string instruments", "none")
	b.see("Its routines and clocks follow.")
	b.until(
		`![...document.querySelectorAll('summary')].some((s) => s.innerText.includes('Wipe the contact points'))`,
		"VN-01 still follows the school",
	)
	b.scan("VN-02")
	b.click("tab", "Routines")
	b.await("summary", "Wipe the contact points", "")

	// An open seam: the damp cloth that the school chose stays off this body, and the step says why.
	b.click("link", "What is wrong?")
	b.click("button", "I know what it is")
	b.until("document.querySelector('option[value=open-seam]') !== null", "an open seam is not offered")
	b.fill("Finding", "open-seam")
	b.fill("A word about it", "Heard it while wiping.")
	b.click("button", "Report it")
	b.see("It stands in the file.")
	b.click("tab", "Routines")
	b.click("summary", "Wipe the body with a damp cloth")
	b.see("No well wrung damp cloth until it is mended: Open seam.")
	b.see("Dry microfibre only.")

	// A limit of its own, in the Why of the clock.
	b.scan("VN-01")
	b.click("tab", "Wear")
	b.click("button", "Why: VN-01, Change the string E string")
	b.see("how strictly clocks are kept")
	b.fill("Days", "30")
	b.click("button", "Set")
	b.see("VN-01 has its own limit now.")
	b.click("button", "Why: VN-01, Change the string E string")
	b.see("this instrument's own limit")
	b.see("Due after 30 days.")
	b.click("button", "Follow the usual limit again")
	b.see("VN-01 follows the usual limit again.")
}

// What a player says leads to a quick fix or to a finding that stands in the file, with keys alone.
func TestWhatIsWrong(t *testing.T) {
	t.Parallel()
	_, b := school(t, "tag,kind,care_from", "TU-01,tuba,2026-11-20")
	b.scan("TU-01")
	b.click("link", "What is wrong?")
	b.click("button", "It gurgles")
	b.see("Check 1 of 2, only look")
	b.press("n")
	b.see("Does water come out")
	b.press("y")
	b.see("Does that help?")
	b.press("y")
	b.see("That was it.")
	b.click("button", "Something else")
	b.click("button", "The mouthpiece is stuck")
	b.see("No pliers, no vice, no two people pulling.")
	b.press("n")
	b.press("n")
	b.see("to the shop at once")
	b.click("button", "One step back")
	b.see("Is there a puller and somebody trained to use it?")
	b.press("n")
	b.click("button", "Put it in the file")
	b.see("Playable, and it hampers the player")
	b.see("Found: Mouthpiece stuck")
}

// A helper inspects and reports, but does not clear what stops an instrument, move one, or lend one.
func TestAHelperInspects(t *testing.T) {
	t.Parallel()
	p := start(t, "demo", morning)
	b := p.open(390, 844)
	b.signIn(demo.HelperEmail, demo.Password)
	b.see("can’t play")
	assert.False(
		t,
		b.evaluate(`[...document.querySelectorAll('button')].some((e) => e.innerText.startsWith('Lend'))`),
		"a helper lends nothing",
	)
	b.visit("/room?as=list")
	b.fill("Find in the room", "VA-07")
	b.click("link", "VA-07")
	b.see("Stop playing")
	assert.False(
		t,
		b.evaluate(`[...document.querySelectorAll('button')].some((e) => e.innerText === 'Clear')`),
		"a helper does not clear a stop",
	)
	b.click("link", "Check")
	b.see("1 of 17")
	b.press("\x1b")
	b.see("Timeline")
	b.visit("/room?as=list")
	b.fill("Find in the room", "VN-03")
	b.click("link", "VN-03")
	b.click("button", "Clear: Bridge leans")
	b.fill("How it was put right", "Set upright with both hands.")
	b.click("button", "Clear it")
	b.see("Cleared: Bridge leans, Set upright with both hands.")
}
