package e2e

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/officetest"
)

// The first day of a director: from sign-in on an empty school to a ticked-off task, tomorrow's list, and back.
func TestADirectorsFirstDay(t *testing.T) {
	t.Parallel()
	p := start(t, "serve", morning)
	p.tool(
		"a long password\n",
		"school",
		"--name",
		"Quillhaven Community School",
		"--director",
		"Ines Corvane",
		"--email",
		"ines@quillhaven.example",
	)
	b := p.open(1280, 800)

	b.visit("/")
	b.fill("E-mail address", "ines@quillhaven.example")
	b.fill("Password", "a wrong password")
	b.click("button", "Sign in")
	b.see("E-mail address or password is not right.")
	assert.Equal(t, "ines@quillhaven.example", b.text(`document.querySelector('input[type=email]').value`), "what was typed is still there")
	b.fill("Password", "a long password")
	b.click("button", "Sign in")
	b.see("Welcome. First steps")

	// The instruments: first a file with faults, then a good one.
	b.click("link", "Bring your instruments in")
	folder := t.TempDir()
	bad := filepath.Join(folder, "bad.csv")
	require.NoError(
		t,
		os.WriteFile(
			bad,
			[]byte("tag,kind,acquired_on\nVN-01,violin,spring 2021\nVN-01,violin,\nKZ-01,kazoo,\nTR-01,trumpet,=NOW()\n"),
			0o600,
		),
	)
	b.upload("Instrument file", bad)
	b.see("Nothing was imported. 3 places to mend")
	b.see("spring 2021")
	b.see("stands in row 2 already")
	b.see("One name is not known here.")
	// A list as a director has it, typed into a spreadsheet program, which took the size for a day.
	b.upload("Instrument file", officetest.Workbook(t, "instruments", strings.Join([]string{
		"Our instruments", "",
		"Inventory no,Instrument,Size,Group,practice_minutes_per_week,care_from,last:violin-strings:string-e,last:valve-brass-bath,Locker,Insured",
		"VN-01,Geige,3/4,String orchestra,120,01/11/2026,01/05/2026,,F-01,yes",
		"VN-02,Geige,4/4,String orchestra,90,01/11/2026,29/05/2026,,F-02,yes", // its E string is due tomorrow: 180 days
		"TR-01,Trompete,,Wind band,60,01/11/2026,,01/07/2026,D-01,yes",
		"FL-01,flute,,Wind band,60,20/11/2026,,,A-01,no",
		"OD-01,Ocean drum,,Wind band,,20/11/2026,,,E-01,no",
	}, "\n")))
	b.see("a spreadsheet program made a day of")
	b.see("Not read: insured")
	b.click("button", "Put 3/4 and the others back")
	b.see("One name is not known here.")
	b.choose("How Ocean drum is meant", "is cared for like")
	b.choose("Kind of Ocean drum", "Other instrument")
	b.click("button", "That is what they are")
	b.see("Dry run: 5 rows, nothing wrong.")
	b.see("New ensembles will be made: String orchestra, Wind band")
	b.click("button", "Import 5 instruments")
	b.see("Imported 5 instruments.")

	// Terms and breaks.
	b.click("link", "Terms and concerts")
	b.fillIn("New term", "New term", "Autumn term")
	b.fillIn("New term", "First day", "2026-08-31")
	b.fillIn("New term", "Last day", "2026-08-01")
	b.clickIn("New term", "button", "Add")
	b.see("lies before the first day")
	b.fillIn("New term", "Last day", "2026-12-18")
	b.clickIn("New term", "button", "Add")
	b.await("button", "Remove Autumn term", "")
	b.fillIn("New break", "New break", "Autumn break")
	b.fillIn("New break", "First day", "2026-10-26")
	b.fillIn("New break", "Last day", "2026-11-01")
	b.clickIn("New break", "button", "Add")
	b.await("button", "Remove Autumn break", "")

	b.click("button", "Remove Autumn break")
	b.see("Removed.")
	b.click("button", "Undo")
	b.await("button", "Remove Autumn break", "")

	// One ensemble's rehearsals.
	b.click("link", "Ensembles")
	const orchestra = "ensemble String orchestra"
	b.clickIn(orchestra, "button", "Add a rehearsal")
	b.fillIn(orchestra, "Weekday", "3")
	b.fillIn(orchestra, "Begins at", "10:20")
	b.clickIn(orchestra, "button", "Save")
	b.see("Saved.")

	// The school itself, by names and not by codes.
	b.visit("/settings/school")
	b.fill("The heating season begins on: day", "20")
	b.fill("Time zone", "Europe/Lisbon")
	b.click("button", "Save")
	b.see("Saved.")
	b.visit("/settings/school")
	b.until(`document.querySelector('[aria-label="The heating season begins on: day"]')?.value === '20'`, "the day was not kept")

	// One more comes by hand, and was a mistake.
	b.visit("/room/add")
	b.fill("What it is", "violin")
	b.click("button", "Use the next tag, VN-03")
	b.fill("Size", "3/4")
	b.click("button", "Add it")
	b.see("VN-03 is one of the school’s instruments now.")
	assert.Equal(t, "Add an instrument · Solfeggio", b.text("document.title"))
	b.click("button", "Undo")
	b.see("Undone.")

	// Another kind than the catalogue knows is kept like one that it knows; and then it turns out to be something else.
	b.visit("/room/add")
	b.fill("What it is", "another")
	b.fill("What you call it", "Ocarina")
	b.fill("It is kept like a", "flute")
	b.fill("Tag", "OC-01")
	b.click("button", "Add it")
	b.see("OC-01 is one of the school’s instruments now.")
	b.visit("/room?as=list")
	b.see("Ocarina")
	b.click("link", "OC-01")
	b.see("Timeline")
	b.click("tab", "Details")
	b.click("summary", "It is no Ocarina?")
	b.fill("It is a", "piccolo")
	b.see("As a Piccolo, body: silver plate.")
	b.click("button", "Correct it")
	b.see("OC-01 is a Piccolo now.")
	b.visit("/room?as=list")
	b.see("Piccolo")

	// They play much, so the clocks are kept more strictly; what that takes in a year is said before.
	b.visit("/settings/practices")
	b.seeIn("What a profile takes in a year", "Classroom, as now")
	b.seeIn("What a profile takes in a year", "shop jobs more")
	b.click("radio", "How strictly clocks are kept: Standard")
	b.see("Routines and clocks follow.")
	b.seeIn("What a profile takes in a year", "Standard, as now")

	// Today: what is due, with its reason.
	b.click("link", "Today")
	b.see("Change the string: E string 207 days, due 28 Oct")
	b.seeNot("Brass bath") // half an hour does not fit into 25 minutes
	b.fill("minutes", "240")
	b.see("of 240 minutes used")
	b.see("Brass bath 146 days, due 29 Oct")
	b.seeNot("179 days") // the string of VN-02 has a day to go, and a part is not replaced before its time
	b.press("w")
	b.see("Where the limit comes from")
	b.see("common practice, no published source")
	b.click("button", "Close")

	// Ticked off with the keyboard; undone; ticked again.
	b.until(`document.querySelector('[aria-current=true]') !== null`, "no line is current")
	first := b.text(`document.querySelector('[aria-current=true]').id`)
	b.press("d")
	b.see("1 task done.")
	b.until("document.getElementById('"+first+"') === null", "%s is still on the list", first)
	b.press("u")
	b.see("Undone")
	b.until("document.getElementById('"+first+"') !== null", "%s is not back", first)
	b.click("checkbox", "Select VN-01, Change the string: E string")
	b.click("checkbox", "Select TR-01, Brass bath")
	b.press("d")
	b.see("2 tasks done.")
	b.seeNot("207 days")

	// The timeline shows it; a scanned tag opens the file from anywhere.
	b.scan("VN-01")
	b.see("Timeline")
	b.see("Change the string: E string done")
	b.see("in 6 months")

	// Tomorrow, after a power cut: still signed in, and the list is right again.
	p.restart(morning.AddDate(0, 0, 1))
	b.click("link", "Today")
	b.visit("/")
	b.see("Wednesday 25 November")
	b.click("tab", "All due")
	b.see("VN-02 Change the string: E string 180 days, due 25 Nov")
	b.seeNot("207 days")
}
