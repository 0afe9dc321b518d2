package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"solfeggio/internal/demo"
)

// TestScreenshots takes the pictures of the README from the demo school, with the clock fixed: make screenshots. In
// other runs they go to a temporary folder, so that every view is drawn in both themes at both widths all the same.
func TestScreenshots(t *testing.T) {
	folder := os.Getenv("SOLFEGGIO_SCREENSHOTS")
	if folder == "" {
		folder = t.TempDir()
	}
	p := start(t, "demo", morning)
	wide := p.open(1280, 800)
	wide.signIn(demo.DirectorEmail, demo.Password)
	shot := func(b *page, name string) { b.picture(filepath.Join(folder, name+".png")) }
	wide.fill("helpers", "1")
	wide.see("minutes used")
	shot(wide, "today")
	wide.press("w")
	wide.see("Where the limit comes from")
	shot(wide, "why")
	wide.press("\x1b")
	wide.click("tab", "Rounds")
	wide.click("button", "Begin the round: Pull and grease the slides")
	wide.see("ticks off")
	shot(wide, "round")
	wide.visit("/room")
	wide.see("124 places")
	shot(wide, "room")
	wide.click("tab", "List")
	wide.fill("Find in the room", "VA-07")
	wide.click("link", "VA-07")
	wide.see("Stop playing")
	shot(wide, "condition")
	wide.click("tab", "Routines")
	wide.click("summary", "Deep clean, upper half first")
	wide.see("First the check in a luthier")
	shot(wide, "routines")
	wide.click("link", "What is wrong?")
	wide.click("button", "It buzzes")
	wide.see("Check 1 of")
	shot(wide, "diagnosis")
	wide.visit("/room?as=list")
	wide.fill("Find in the room", "VN-12")
	wide.click("link", "VN-12")
	wide.see("Timeline")
	shot(wide, "instrument")
	wide.visit("/hand-out")
	wide.see("7 pairs proposed")
	shot(wide, "hand-out")
	wide.visit("/stocktake?room=Cello+store")
	wide.click("button", "Begin")
	wide.see("9 missing")
	for _, tag := range []string{"VN-08", "VN-18", "FL-11", "VC-08"} {
		wide.fill("Tag", tag)
		wide.click("button", "Note it")
		wide.seeIn("Seen", tag)
	}
	shot(wide, "stocktake")
	for name, sign := range map[string]string{"practices": "Cleaning the varnished body", "calendar": "Concerts", "ensembles": "Add a rehearsal", "instruments": "Take instruments out"} {
		wide.visit("/settings/" + name)
		wide.see(sign)
		shot(wide, "settings-"+name)
	}
	wide.visit("/")
	wide.see("minutes used")
	wide.click("button", "Light, dark")
	shot(wide, "today-dark")

	phone := p.open(390, 844)
	phone.signIn(demo.HelperEmail, demo.Password)
	phone.see("minutes used")
	phone.visit("/room")
	phone.see("124 places")
	shot(phone, "room-phone")
	phone.visit("/room?as=list")
	phone.fill("Find in the room", "VN-03")
	phone.click("link", "VN-03")
	phone.see("Timeline")
	phone.click("link", "Check")
	phone.see("1 of 15")
	for range 4 {
		phone.press("1")
	}
	phone.see("Bridge")
	shot(phone, "check-phone")
}
