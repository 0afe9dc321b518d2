package e2e

import (
	"testing"

	"solfeggio/internal/demo"
)

func TestZZ(t *testing.T) {
	p := start(t, "demo", morning)
	b := p.open(390, 844)
	b.signIn(demo.DirectorEmail, demo.Password)
	for _, s := range []struct{ path, wait, name string }{
		{"/strings-reeds", "chair by chair", "before-390"},
		{"/strings-reeds/strings", "Violins", "strings-390"},
		{"/strings-reeds/bows", "How tight", "bows-390"},
		{"/strings-reeds/reeds", "Breaking in", "reeds-390"},
		{"/strings-reeds/lasting", "Each part that came", "lasting-390"},
		{"/settings/calendar", "For your own calendar", "calendar-390"},
	} {
		b.visit(s.path)
		b.see(s.wait)
		b.until("document.documentElement.scrollWidth <= 390", "%s is wider than the phone", s.name)
		b.picture("/tmp/" + s.name + ".png")
	}
	b.visit("/")
	b.click("link", "Change VA-03")
	b.click("button", "Read, begin")
	b.see("The change")
	b.until("document.documentElement.scrollWidth <= 390", "change is wider than the phone")
	b.picture("/tmp/change-390.png")
	w := p.open(1280, 800)
	w.signIn(demo.DirectorEmail, demo.Password)
	w.visit("/settings/calendar")
	w.click("button", "Make a secret address")
	w.see("Copy it now")
	w.picture("/tmp/calendar.png")
	w.visit("/strings-reeds/bows")
	w.see("How tight")
	w.click("button", "Why: VN-12")
	w.picture("/tmp/bows.png")
}
