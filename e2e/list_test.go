package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/demo"
)

// Who has what: columns of one's own choice, which stay, a filter, and the same as a file.
func TestWhoHasWhat(t *testing.T) {
	t.Parallel()
	p := start(t, "demo", morning)
	b := p.open(1280, 800)
	b.signIn(demo.DirectorEmail, demo.Password)
	b.visit("/room?as=list")
	b.see("FL-01")
	b.click("summary", "Columns")
	b.click("checkbox", "Who has it")
	b.click("checkbox", "Serial number")
	b.click("checkbox", "Maker")
	b.click("checkbox", "Grade")
	b.visit("/room?as=list")
	b.fill("Anywhere", "players")
	b.await("columnheader", "Who has it", "")
	b.click("columnheader", "Who has it")
	b.until(`document.querySelectorAll('[role=rowgroup] [role=row]').length > 5`, "no row is left")
	names := `[...document.querySelectorAll('[role=rowgroup] [role=row]')].slice(0, 8).map((r) => r.children[4].innerText)`
	assert.True(t, b.evaluate(names+`.every((name, n, all) => name !== '' && (n === 0 || all[n - 1].localeCompare(name) <= 0))`),
		b.text(`String(`+names+`)`))
	status, text := fetch(t, b.text(`document.querySelector('[aria-label="Who has what, as CSV"]').href`))
	assert.Equal(t, 401, status, "a list of names wants a sign-in")
	assert.NotContains(t, text, "family_name")
	b.until(`(() => { const file = new XMLHttpRequest(); file.open('GET', '/api/v1/lists/who-has-what.csv', false); file.send(); return file.responseText.startsWith('family_name,given_name') })()`, "no file came")
}

// A class moves up a year in one go, and back again.
func TestManyAtOnce(t *testing.T) {
	t.Parallel()
	p := start(t, "demo", morning)
	b := p.open(1280, 800)
	b.signIn(demo.DirectorEmail, demo.Password)
	b.visit("/hand-out/players")
	b.fill("Find a player", "Marchetti")
	b.see("select these")
	n := b.number(`[aria-label^="Select "]`)
	b.click("button", "select these")
	b.see("selected")
	b.fillIn("Change those selected", "Year", "12b")
	b.clickIn("Change those selected", "button", "Set")
	b.see("changed.")
	b.fill("Find a player", "12b")
	b.until(fmt.Sprintf(`document.querySelectorAll('[aria-label^="Select "]').length === %d`, n), "not all moved up")
	b.click("button", "Undo")
	b.see("Nobody is called that.")

	// All violas are given their maker, and then come back at once, as in June; both are one press away from undone.
	b.visit("/room?as=list")
	b.fill("All sections", "Violas")
	b.click("button", "select all")
	violas := b.number(`[aria-label^="Select "]:checked`)
	assert.Greater(t, violas, 3)
	b.click("button", "Change")
	b.fillIn("Change those selected", "Maker", "Tarnlane")
	b.clickIn("Change those selected", "button", fmt.Sprintf("Change %d instruments", violas))
	b.see(fmt.Sprintf("%d instruments changed.", violas))
	b.see("Tarnlane")
	b.fill("Anywhere", "players")
	b.click("button", "select all")
	out := b.number(`[aria-label^="Select "]:checked`)
	b.click("button", "Take back")
	b.see("Gloves before a case is opened")
	b.click("button", fmt.Sprintf("Take back %d instruments unseen", out))
	b.see(fmt.Sprintf("%d instruments taken back.", out))
	b.see("No instrument fits all of this.")
	b.click("button", "Undo")
	b.see("Undone. VA-07 is stopped")
	b.until(fmt.Sprintf(`document.querySelectorAll('[aria-label^="Select "]').length === %d`, out-1),
		"the others are not with their players again")

	// What stands in the cupboard comes from the list that the school has, with a supply of its own.
	b.visit("/supplies/stock")
	b.click("button", "From a file")
	list := filepath.Join(t.TempDir(), "supplies.csv")
	require.NoError(t, os.WriteFile(list,
		[]byte("Artikel,Lieferant,Preis,Bestand\nRotor oil,Marsh & Cane,7.5,9\nSaddle soap,,3.2,2\n"), 0o600))
	b.upload("File of supplies", list)
	b.see("New, and your own: Saddle soap.")
	b.click("button", "Bring them in")
	b.see("2 supplies changed, 2 counted.")
	b.fill("Find a supply", "soap")
	b.see("Saddle soap")
	b.see("2 pieces")
}
