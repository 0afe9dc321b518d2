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

// Every view is free of what axe-core calls serious or critical, in both themes, and on a phone. Themes differ in colours only, so the
// second is asked about contrast alone; and colours are those of the wide screen, so that a phone is asked about everything else.
func TestAccessibility(t *testing.T) {
	t.Parallel()
	axe, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	require.NoError(t, err, "install the front end's packages first: make build")
	p := start(t, "demo", morning)
	ask := func(b *page, options string) (found []string) {
		t.Helper()
		b.evaluate(`window.found = ''; axe.run({ resultTypes: ['violations'], ` + options + ` }).then((r) => {
          window.found = JSON.stringify(r.violations.filter((v) => v.impact === 'serious' || v.impact === 'critical').map((v) => v.id + ': ' + v.nodes.map((n) => n.html.slice(0, 160)).slice(0, 3).join(' | ')))
        }); true`)
		b.until("window.found !== ''", "axe did not end")
		require.NoError(t, json.Unmarshal([]byte(b.text("window.found")), &found))
		return found
	}
	// theme clothes the page as the button in the rail does, without a walk back to it.
	theme := func(b *page, name string) {
		b.evaluate("document.documentElement.setAttribute('data-theme', '" + name + "'); true")
	}
	for _, width := range []int64{1280, 390} {
		b := p.open(width, 800)
		check := func(view string) {
			t.Helper()
			// Evaluated through the debugger, so that the page's own policy against foreign scripts stands.
			_, err := chromedp.Run(b.ctx, chromedp.Evaluate[any](string(axe)+";null"))
			require.NoError(t, err)
			if width != 1280 {
				assert.Empty(t, ask(b, "rules: { 'color-contrast': { enabled: false } }"), view)
				return
			}
			assert.Empty(t, ask(b, ""), view)
			theme(b, "pit")
			assert.Empty(t, ask(b, "runOnly: ['color-contrast']"), "%s in the dark", view)
			theme(b, "page")
		}
		b.visit("/")
		b.await("button", "Sign in", "")
		check("sign-in")
		b.signIn(demo.DirectorEmail, demo.Password)
		b.see("minutes used")
		check("today")
		b.press("?")
		b.see("Marks and keys")
		check("legend")
		b.click("button", "Close")
		b.press("w")
		b.see("Where the limit comes from")
		check("why")
		b.click("button", "Close")
		b.click("tab", "Rounds")
		b.click("button", "Begin the round")
		check("round")
		for _, way := range []string{"wall", "score", "list"} {
			b.visit("/room?as=" + way)
			b.await("tab", "Score order", "")
			b.see("FL-01")
			check("room " + way)
		}
		b.click("button", "select all")
		for _, what := range []string{"Change…", "Take back", "Labels…"} {
			b.click("button", what)
			check("selected: " + what)
		}
		b.fill("Find in the room", "VA-07")
		b.click("link", "VA-07")
		b.see("Timeline")
		b.see("Stop playing")
		check("condition")
		for tab, sign := range map[string]string{"Wear": "Never", "Kit": "Rosin cake", "Routines": "Where practitioners disagree"} {
			b.click("tab", tab)
			b.see(sign)
			check(tab)
		}
		b.click("link", "What is wrong?")
		b.click("button", "It buzzes")
		b.see("Check 1 of")
		check("diagnosis")
		b.visit("/stocktake?room=Cello+store")
		b.click("button", "Begin")
		b.see("missing")
		check("stocktake")
		b.visit("/room?as=list")
		b.fill("Find in the room", "VN-12")
		b.click("link", "VN-12")
		b.see("Timeline")
		b.click("link", "Check")
		b.see("why look here?")
		b.press("2")
		b.see("a word about it")
		check("check")
		b.press("\x1b")
		b.see("Timeline")
		b.click("tab", "Details")
		b.see("How it is played")
		check("details")
		b.visit("/hand-out")
		b.see("proposed")
		check("propose")
		b.visit("/hand-out/players")
		b.click("button", "Add a player")
		b.see("Notes the director needs")
		check("players")
		b.visit("/hand-out/sizes")
		b.see("The chart is from memory")
		check("size order")
		for path, sign := range map[string]string{
			"hand-out/roster": "OneRoster 1.1", "hand-out/batch": "Now the tag", "hand-out/rented": "Hollin Hire House",
			"hand-out/notices": "could be sent",
			"supplies":         "to put in order", "supplies/stock": "Valve oil", "supplies/order": "certainty",
			"supplies/orders": "ordered", "supplies/costs": "use up", "settings/letters": "no legal text", "bench/record": "A year",
			"settings/products": "Soak vessel",
		} {
			b.visit("/" + path)
			b.see(sign)
			check(path)
		}
		b.visit("/supplies/stock")
		for _, what := range []string{"From a file…", "One of your own…"} {
			b.click("button", what)
			check("stock: " + what)
		}
		for path, sign := range map[string]string{
			"": "chair by chair", "/strings": "Violins", "/bows": "How tight", "/reeds": "Breaking in", "/lasting": "Each part that came",
		} {
			b.visit("/strings-reeds" + path)
			b.see(sign)
			check("strings and reeds " + path)
		}
		b.visit("/strings-reeds")
		b.click("button", "Violas")
		b.see("Drag a string")
		check("plan")
		for path, sign := range map[string]string{
			"shop": "without a job", "shop/trips": "Loaded in this order", "shop/shops": "half are back after",
			"season":           "How late it is",
			"season/readiness": "chairs ready", "room/add": "Many at once come from", "help/bench": "cautions stand on top",
			"cards": "Print 160 cards", "cards/reports": "cannot play", "cards/pack-up": "longest routine",
			"cards/drills":  "questions are known",
			"cards/lessons": "In the kit", "cards/habits": "Teach next",
		} {
			if path == "season" && width != 1280 { // a score of hundreds of notes takes axe long, and is the same drawing on a phone
				continue
			}
			b.visit("/" + path)
			b.see(sign)
			check(path)
		}
		card := b.cardOf("FL-02")
		b.visit("/cards/pack-up")
		b.click("link", "Open the board")
		b.click("button", "Begin")
		check("pack-up")
		b.visit("/cards/drills")
		b.click("link", "Start the drill")
		b.click("button", "Show the answer")
		check("drill")
		b.visit(card)
		b.see("Something is wrong")
		check("page of a card")
		b.click("link", "Practise")
		b.await("link", "Back to the card", "")
		check("practising")
		b.visit("/shop")
		b.clickIn("Open jobs", "link", "TU-02")
		b.click("button", "change a figure")
		b.click("button", "take down a quote")
		check("job")
		b.visit("/season")
		b.click("tab", "What if")
		b.see("Side by side")
		check("what if")
		if width != 1280 {
			b.click("tab", "List")
			b.see("Week 13")
			check("season list")
		}
		b.visit("/")
		b.click("link", "Change it: VA-03")
		b.click("button", "Read, begin")
		b.see("The change")
		check("change")
		b.visit("/bench")
		b.see("Another one")
		if !b.evaluate(find + `("link", "Go on with the work") !== null`) {
			b.seeIn("Plan", "for 7 instruments")
			b.click("button", "why so long")
			check("bench")
			b.click("button", "Begin")
		} else {
			check("bench")
			b.click("link", "Go on with the work")
		}
		b.see("We have read it")
		b.click("button", "We have read it")
		b.tick("To do now")
		b.click("button", "do not wait")
		check("bench run")
		b.visit("/hand-out")
		b.click("link", "Hand out: Senna Iskander")
		for _, sign := range []string{"The checks stand above", "Changed since?", "Everything counts as there", "Who signs"} {
			b.see(sign)
			check(sign)
			b.click("button", map[bool]string{true: "Signed later", false: "Next"}[sign == "Who signs"])
		}
		b.visit("/room?as=list")
		b.fill("Find in the room", "CL-03")
		b.click("link", "CL-03")
		b.see("Timeline")
		b.click("link", "Return")
		b.see("Changed since it went out")
		b.click("button", "ask for a part of the repair")
		check("return")
		for path, sign := range map[string]string{"school": "Currency", "practices": "Cleaning the varnished body", "rooms": "New shelf",
			"calendar": "Days between two terms", "ensembles": "Add a rehearsal", "instruments": "Take instruments out",
			"people": "Your own password"} {
			b.visit("/settings/" + path)
			b.see(sign)
			check(path)
		}
	}
}
