package e2e

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"solfeggio/internal/demo"
)

// A helper ticks off and undoes, also later from the timeline, but changes no setting; the director does.
func TestAHelperAndADirector(t *testing.T) {
	t.Parallel()
	p := start(t, "demo", morning)
	helper := p.open(390, 844)
	helper.visit("/")
	helper.click("button", "forgot your password?")
	helper.see("Type your e-mail address above first.")
	helper.fill("E-mail address", demo.HelperEmail)
	helper.click("button", "forgot your password?")
	helper.see("No mail is set up here. A director can give you a link")
	helper.signIn(demo.HelperEmail, demo.Password)
	helper.see("minutes used")
	line := helper.text(`document.querySelector('main li[id]').id`)
	helper.press("d")
	helper.see("1 task done.")
	helper.evaluate(`history.pushState(null, '', '/instruments/` + line[:36] + `'); dispatchEvent(new PopStateEvent('popstate')); true`)
	helper.see("Timeline")
	helper.until(`document.querySelector('aside li').innerText.includes('Pell Arrowby')`, "the timeline does not name the helper")
	helper.evaluate(`document.querySelector('aside li button').click(); true`)
	helper.until(`document.querySelector('aside li').innerText.startsWith('Undone: ')`, "the timeline does not show the undoing")
	helper.visit("/settings/school")
	helper.see("Only a director changes these.")
	assert.True(t, helper.evaluate(`document.querySelector('input[name=name]').matches(':disabled')`))
	helper.visit("/settings/instruments")
	helper.see("Only a director or an assistant brings instruments in.")

	director := p.open(1280, 800)
	director.signIn(demo.DirectorEmail, demo.Password)
	director.see("All due (")
	due := `Number(document.body.innerText.match(/All due \((\d+)\)/)[1])`
	director.evaluate("window.before = " + due + "; true")
	director.click("link", "Settings")
	director.click("link", "Schools of practice")
	director.click("radio", "How strictly clocks are kept: Concert")
	director.see("Routines and clocks follow.")
	director.click("link", "Today")
	director.until(due+" > window.before", "stricter intervals make nothing more due")

	// The director lets somebody new in, and switches the helper off, who is out at once.
	director.visit("/settings/people")
	director.fillIn("New person", "New person", "Jory Tamm")
	director.fillIn("New person", "E-mail address", "jory@quillhaven.example")
	director.fillIn("New person", "Role", "viewer")
	director.fillIn("New person", "Password", "short")
	director.clickIn("New person", "button", "Add")
	director.see("use at least 8 characters")
	director.fillIn("New person", "Password", "a long password")
	director.clickIn("New person", "button", "Add")
	director.await("field", "Name", "person Jory Tamm")
	director.clickIn("person Pell Arrowby", "checkbox", "may sign in")
	director.clickIn("person Pell Arrowby", "button", "Save")
	director.until(
		`(() => { const r = new XMLHttpRequest(); r.open('GET', '/api/v1/settings/people', false); r.send(); return JSON.parse(r.responseText).some((p) => p.name === 'Pell Arrowby' && !p.active) })()`,
		"the helper is not switched off",
	)
	helper.click("button", "More")
	helper.click("link", "Supplies") // on a page that was open all the while
	helper.await("button", "Sign in", "")
	helper.visit("/")
	helper.await("button", "Sign in", "")

	// Jory has forgotten the password already, and gets a link that leads to a new one, once.
	director.click("button", "Link for a new password: Jory Tamm")
	director.await("field", "Link for Jory Tamm", "")
	link := strings.TrimPrefix(director.text(`document.querySelector('[aria-label="Link for Jory Tamm"]').value`), public)
	helper.visit(link)
	helper.fill("New password, 8 characters or more", "short")
	helper.click("button", "Keep it")
	helper.see("use at least 8 characters")
	helper.fill("New password, 8 characters or more", "plum harbour lantern")
	helper.click("button", "Keep it")
	helper.see("You sign in as jory@quillhaven.example")
	helper.click("link", "Sign in")
	helper.await("button", "Sign in", "")
	helper.signIn("jory@quillhaven.example", "plum harbour lantern")
	helper.see("minutes used")
	assert.True(
		t,
		helper.evaluate(`[...document.querySelectorAll('button')].every((b) => b.innerText !== 'Done')`),
		"a viewer ticks nothing off",
	)

	// Jory makes two keys, which takes the password; a new password ends the one that is not ticked.
	helper.visit("/settings/people")
	key := func(name, password string) {
		t.Helper()
		helper.fillIn("New key", "What it is for", name)
		helper.fillIn("New key", "Last day", "2026-11-30")
		helper.fillIn("New key", "Your password", password)
		helper.clickIn("New key", "button", "Make a key")
	}
	key("nightly lists", "a guess")
	helper.see("is not your password")
	for _, name := range []string{"nightly lists", "supplies"} {
		key(name, "plum harbour lantern")
		helper.await("button", "End "+name, "")
	}
	helper.click("button", "Renew supplies")
	helper.fillIn("New last day of supplies", "New last day", "2027-11-24")
	helper.fillIn("New last day of supplies", "Your password", "plum harbour lantern")
	helper.clickIn("New last day of supplies", "button", "Renew")
	helper.see("until 24 Nov 2027, never used")
	helper.click("checkbox", "supplies")
	helper.fill("Present password", "plum harbour lantern")
	helper.fill("New password, 8 characters or more", "copper mill lantern")
	helper.click("button", "Change it")
	helper.see("Your password is changed.")
	helper.until(`document.querySelector('[aria-label="End nightly lists"]') === null`, "a key outlasts the password")
	helper.await("button", "End supplies", "")
	director.visit("/")
	director.see("minutes used")

	// The box finds names, places and commands; the keys go elsewhere.
	director.until(`document.querySelector('[cmdk-input]') !== null`, "the box does not come")
	director.press("/")
	director.press("cello store")
	director.see("M-01")
	director.press("\x1b")
	director.press("gr")
	director.click("tab", "List")
	director.see("160 instruments")
	director.fill("All sections", "Cellos")
	director.until(
		`[...document.querySelectorAll('[role=row] a')].every((a) => a.innerText.startsWith('VC-'))`,
		"something else than cellos is shown",
	)
	director.click("columnheader", "Tag")
	director.click("columnheader", "Tag")
	director.until(`document.querySelector('[role=row] a').innerText === 'VC-08'`, "the list is not turned round")
	director.press("/")
	director.press("sign out")
	director.until(`document.querySelector('[cmdk-item][data-selected=true]')?.innerText === 'Sign out'`, "the command is not offered")
	director.press("\r")
	director.await("button", "Sign in", "")
}
