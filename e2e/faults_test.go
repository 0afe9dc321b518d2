package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// small is a school with one violin whose E string is due.
func small(t *testing.T) (*program, *page) {
	return school(t, "tag,kind,care_from,last:violin-strings:string-e", "VN-01,violin,2026-11-20,2025-09-01")
}

func TestATickOutlivesTheServerAndThePage(t *testing.T) {
	t.Parallel()
	p, b := small(t)
	b.visit("/")
	b.see("E string 449 days")
	p.kill()
	b.press("d")
	b.see("The server does not answer. What you ticked is kept here")
	p.run("serve", morning)
	b.see("1 task done.")
	b.seeNot("kept here")

	// The same, but the page is closed before the server is back.
	b.press("u")
	b.see("E string 449 days")
	p.kill()
	b.press("d")
	b.see("What you ticked is kept here")
	p.run("serve", morning)
	b.visit("/room")
	b.until("localStorage.getItem('solfeggio-unsent') === '[]'", "the tick was not sent")
	b.visit("/")
	b.see("Nothing is waiting")
}

func TestAFormOutlivesALostServer(t *testing.T) {
	t.Parallel()
	p, b := small(t)
	b.visit("/settings/calendar")
	b.fillIn("New term", "New term", "Autumn term")
	b.fillIn("New term", "First day", "2026-08-31")
	b.fillIn("New term", "Last day", "2026-12-18")
	p.kill()
	b.clickIn("New term", "button", "Add")
	b.see("The server does not answer. What you typed is kept here")
	assert.Equal(t, "Autumn term", b.text(`document.querySelector('form[aria-label="New term"] input').value`))
	p.run("serve", morning)
	b.clickIn("New term", "button", "Add")
	b.await("button", "Remove Autumn term", "")
}

func TestALostDatabase(t *testing.T) {
	t.Parallel()
	p, b := small(t)
	b.visit("/settings/calendar")
	b.fillIn("New break", "New break", "Fog")
	b.fillIn("New break", "First day", "2026-12-01")
	b.fillIn("New break", "Last day", "2026-12-01")
	p.line.cut()
	b.clickIn("New break", "button", "Add")
	b.see("The database does not answer just now. Nothing was changed")
	assert.Equal(t, "Fog", b.text(`document.querySelector('form[aria-label="New break"] input').value`))
	p.line.mend()
	b.clickIn("New break", "button", "Add")
	b.await("button", "Remove Fog", "")

	// A tick meanwhile waits by itself.
	b.visit("/")
	b.see("E string 449 days")
	p.line.cut()
	b.press("d")
	b.see("What you ticked is kept here")
	p.line.mend()
	b.see("1 task done.")
}

func TestTwoPeopleAtOneInstrument(t *testing.T) {
	t.Parallel()
	p, one := small(t)
	two := p.open(1280, 800)
	two.signIn("ines@quillhaven.example", "a long password")
	for _, b := range []*page{one, two} {
		b.visit("/")
		b.press("j")
		b.see("E string 449 days")
		b.scan("VN-01")
		b.click("tab", "Details")
		b.await("field", "Maker", "")
	}
	one.fill("Maker", "Oriel")
	one.click("button", "Save")
	one.see("Saved.")
	two.fill("Maker", "Lissom")
	two.click("button", "Save")
	two.see("Somebody else changed this since you opened it")
	assert.Equal(
		t,
		"Lissom",
		two.text(`[...document.querySelectorAll('label')].find((l) => l.innerText.startsWith('Maker')).querySelector('input').value`),
	)
}

func TestAFileThatIsTooLarge(t *testing.T) {
	t.Parallel()
	_, b := small(t)
	b.visit("/settings/instruments")
	file := filepath.Join(t.TempDir(), "rubbish.csv")
	require.NoError(t, os.WriteFile(file, make([]byte, 50<<20), 0o600))
	b.upload("Instrument file", file)
	b.see("rubbish.csv is larger than 5 MB. Is it the right file?")
}
