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
	wide.fill("helpers", "1")
	wide.see("minutes used")
	wide.picture(filepath.Join(folder, "today.png"))
	wide.press("w")
	wide.see("Where the limit comes from")
	wide.picture(filepath.Join(folder, "why.png"))
	wide.press("\x1b")
	wide.click("tab", "All due")
	wide.see("more may be done early")
	wide.picture(filepath.Join(folder, "all-due.png"))
	wide.visit("/room")
	wide.see("instruments in score order")
	wide.picture(filepath.Join(folder, "room.png"))
	wide.fill("Find in the room", "VN-12")
	wide.click("link", "VN-12")
	wide.see("Timeline")
	wide.picture(filepath.Join(folder, "instrument.png"))
	wide.click("tab", "Routines")
	wide.click("summary", "Change the string")
	wide.see("One string off")
	wide.picture(filepath.Join(folder, "routines.png"))
	wide.click("tab", "Details")
	wide.see("How it is played")
	wide.picture(filepath.Join(folder, "details.png"))
	for _, name := range []string{"school", "calendar", "ensembles", "instruments", "people"} {
		wide.visit("/settings/" + name)
		wide.await("link", "Instruments in and out", "")
		wide.await("link", "Today", "")
		wide.see(map[string]string{"school": "Currency", "calendar": "Concerts", "ensembles": "Add a rehearsal", "instruments": "Take instruments out", "people": "This is you"}[name])
		wide.picture(filepath.Join(folder, "settings-"+name+".png"))
	}
	wide.visit("/")
	wide.see("minutes used")
	wide.click("button", "Light, dark")
	wide.picture(filepath.Join(folder, "today-dark.png"))

	phone := p.open(390, 844)
	phone.signIn(demo.HelperEmail, demo.Password)
	phone.see("minutes used")
	phone.picture(filepath.Join(folder, "today-phone.png"))
	phone.visit("/room")
	phone.see("in score order")
	phone.picture(filepath.Join(folder, "room-phone.png"))
	phone.fill("Find in the room", "VN-12")
	phone.click("link", "VN-12")
	phone.see("Timeline")
	phone.picture(filepath.Join(folder, "instrument-phone.png"))
}
