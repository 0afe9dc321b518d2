package e2e

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"solfeggio/internal/demo"
)

// Who has what: columns of one's own choice, which stay, a filter, and the same as a file.
func TestWhoHasWhat(t *testing.T) {
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
	assert.True(t, b.evaluate(names+`.every((name, n, all) => name !== '' && (n === 0 || all[n - 1].localeCompare(name) <= 0))`), b.text(`String(`+names+`)`))
	status, text := fetch(t, b.text(`document.querySelector('[aria-label="Who has what, as CSV"]').href`))
	assert.Equal(t, 401, status, "a list of names wants a sign-in")
	assert.NotContains(t, text, "family_name")
	b.until(`(() => { const file = new XMLHttpRequest(); file.open('GET', '/api/v1/lists/who-has-what.csv', false); file.send(); return file.responseText.startsWith('family_name,given_name') })()`, "no file came")
}

// A class moves up a year in one go, and back again.
func TestManyPlayersAtOnce(t *testing.T) {
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
}
