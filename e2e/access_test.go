package e2e

import (
	"encoding/json"
	"os"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/demo"
)

// Every view is free of what axe-core calls serious or critical, in both themes, and on a phone.
func TestAccessibility(t *testing.T) {
	axe, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	require.NoError(t, err, "install the front end's packages first: make build")
	p := start(t, "demo", morning)
	check := func(b *page, view string) {
		t.Helper()
		// Evaluated through the debugger, so that the page's own policy against foreign scripts stands.
		_, err := chromedp.Run(b.ctx, chromedp.Evaluate[any](string(axe)+";null"))
		require.NoError(t, err)
		b.evaluate(`window.found = ''; axe.run({ resultTypes: ['violations'] }).then((r) => {
          window.found = JSON.stringify(r.violations.filter((v) => v.impact === 'serious' || v.impact === 'critical').map((v) => v.id + ': ' + v.nodes.map((n) => n.html.slice(0, 160)).slice(0, 3).join(' | ')))
        }); true`)
		b.until("window.found !== ''", "axe did not end")
		var found []string
		require.NoError(t, json.Unmarshal([]byte(b.text("window.found")), &found))
		assert.Empty(t, found, view)
	}
	for _, theme := range []string{"page", "pit"} {
		for _, width := range []int64{1280, 390} {
			b := p.open(width, 800)
			b.visit("/")
			b.evaluate("localStorage.setItem('solfeggio-theme', '" + theme + "'); true")
			b.visit("/")
			b.await("button", "Sign in", "")
			check(b, "sign-in")
			b.signIn(demo.DirectorEmail, demo.Password)
			b.see("minutes used")
			check(b, "today "+theme)
			b.press("?")
			b.see("Marks and keys")
			check(b, "legend "+theme)
			b.click("button", "Close")
			b.press("w")
			b.see("Where the limit comes from")
			check(b, "why "+theme)
			b.click("button", "Close")
			b.visit("/room")
			b.see("in score order")
			check(b, "room "+theme)
			b.fill("Find in the room", "VN-12")
			b.click("link", "VN-12")
			b.see("Timeline")
			check(b, "instrument "+theme)
			b.click("tab", "Routines")
			b.see("Wipe down and slacken the bow")
			check(b, "routines "+theme)
			b.click("tab", "Details")
			b.see("How it is played")
			check(b, "details "+theme)
			for path, sign := range map[string]string{"school": "Currency", "calendar": "Days between two terms", "ensembles": "Add a rehearsal", "instruments": "Take instruments out", "people": "Your own password"} {
				b.visit("/settings/" + path)
				b.see(sign)
				check(b, path+" "+theme)
			}
		}
	}
}
