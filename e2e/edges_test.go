package e2e

import (
	"encoding/json"
	"fmt"
	"strconv"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/demo"
)

// routes are the pages of the program, each with a sign that it is all there.
var routes = []struct{ path, sign string }{
	{"/", "minutes used"}, {"/room?as=wall", "FL-01"}, {"/room?as=score", "FL-01"}, {"/room?as=list", "FL-01"},
	{"/room/add", "Many at once"},
	{"/hand-out", "proposed"}, {"/hand-out/players", "Add a player"}, {"/hand-out/sizes", "from memory"}, {"/hand-out/roster", "OneRoster"},
	{"/hand-out/batch", "Now the tag"}, {"/hand-out/rented", "Hollin Hire House"}, {"/hand-out/notices", "could be sent"},
	{"/bench", "Another one"}, {"/bench/record", "A year"}, {"/strings-reeds", "chair by chair"}, {"/strings-reeds/strings", "Violins"},
	{"/strings-reeds/bows", "How tight"}, {"/strings-reeds/reeds", "Breaking in"}, {"/strings-reeds/lasting", "Each part"},
	{"/shop", "without a job"}, {"/shop/trips", "Loaded"}, {"/shop/shops", "half are back"}, {"/season", "How late it is"},
	{"/season/readiness", "chairs ready"}, {"/supplies", "to put in order"}, {"/supplies/stock", "Valve oil"},
	{"/supplies/order", "certainty"},
	{"/supplies/orders", "ordered"}, {"/supplies/costs", "use up"}, {"/settings/school", "Currency"},
	{"/settings/practices", "varnished body"},
	{"/settings/rooms", "New shelf"}, {"/settings/calendar", "Days between"}, {"/settings/ensembles", "Add a rehearsal"},
	{"/settings/instruments", "Take instruments out"}, {"/settings/people", "Your own password"}, {"/settings/letters", "no legal text"},
	{"/cards", "Print 160 cards"}, {"/cards/reports", "cannot play"}, {"/cards/pack-up", "longest routine"},
	{"/cards/drills", "questions are known"},
	{"/cards/lessons", "In the kit"}, {"/cards/habits", "Teach next"},
	{"/settings/products", "Soak vessel"}, {"/help/bench", "cautions stand on top"},
}

// beyond lists what is cut off by the right edge of the window: the page itself, or a thing to use in no box that scrolls.
const beyond = `(() => {
  const out = [], wide = document.documentElement.clientWidth;
  if (document.documentElement.scrollWidth > wide) out.push('the page is ' + document.documentElement.scrollWidth);
  for (const e of document.querySelectorAll('a, button, input, select, textarea, summary, h1, h2')) {
    const r = e.getBoundingClientRect();
    if (r.width === 0 || r.height === 0 || r.right <= wide + 1 && r.left >= -1 || e.closest('.sr-only, [aria-hidden=true]')) continue;
    let box = e.parentElement, scrolls = false;
    for (; box && !scrolls; box = box.parentElement) scrolls = /auto|scroll/.test(getComputedStyle(box).overflowX);
    if (!scrolls) out.push((e.getAttribute('aria-label') || e.innerText || e.tagName).slice(0, 40) + ' ends at ' + Math.round(r.right));
  }
  return JSON.stringify(out.slice(0, 5));
})()`

// tight lists things to touch of under 44 px with no such room of their own. A label counts with what it labels; a link within a
// sentence need not be so large (WCAG 2.2, 2.5.8).
const tight = `(() => {
  const out = [];
  const tall = (e) => {
    const r = e.getBoundingClientRect(), s = getComputedStyle(e);
    const room = (side) => Math.max(0, parseFloat(s[side]));
    return r.height + room('marginTop') + room('marginBottom') >= 43.5 && r.width + room('marginLeft') + room('marginRight') >= 43.5;
  };
  for (const e of document.querySelectorAll('a, button, input:not([type=hidden]), select, textarea, summary, [role=tab], [role=button]')) {
    const r = e.getBoundingClientRect();
    if (r.width === 0 || r.height === 0 || e.disabled || getComputedStyle(e).visibility === 'hidden' || e.closest('.sr-only, svg') || /sr-only/.test(e.className)) continue;
    if (tall(e) || e.closest('label') && tall(e.closest('label')) || e.labels && [...e.labels].some(tall)) continue;
    const within = e.parentElement.closest('a, button, label, summary');
    if (within && tall(within)) continue;
    if (getComputedStyle(e).display === 'inline' && e.closest('p, li, td, dd, figcaption')) continue;
    out.push((e.getAttribute('aria-label') || e.innerText || e.tagName + ' ' + e.type).slice(0, 40) + ' ' + Math.round(r.width) + '×' + Math.round(r.height));
  }
  return JSON.stringify([String(out.length), ...out.slice(0, 6)].slice(0, out.length && 7));
})()`

func (b *page) list(expression string) (found []string) {
	b.t.Helper()
	require.NoError(b.t, json.Unmarshal([]byte(b.text(expression)), &found))
	return found
}

// Nothing is cut off at any width from a small phone to a desk, nor at 200 % zoom, which is a window of half the width.
func TestNothingBeyondTheEdge(t *testing.T) {
	t.Parallel()
	p := start(t, "demo", morning)
	b := p.open(1280, 800)
	b.signIn(demo.DirectorEmail, demo.Password)
	for _, route := range routes {
		b.do(chromedp.EmulateViewport(1280, 800))
		b.visit(route.path)
		b.see(route.sign)
		for _, width := range []int64{1280, 1024, 900, 820, 768, 640, 390, 320} {
			b.do(chromedp.EmulateViewport(width, 800))
			b.until(fmt.Sprintf("innerWidth === %d", width), "the window did not change")
			assert.Empty(t, b.list(beyond), "%s at %d", route.path, width)
		}
	}
}

// What is touched has room for a finger, and Today does not jump while it loads.
func TestOnATouchScreen(t *testing.T) {
	t.Parallel()
	p := start(t, "demo", morning)
	b := p.open(390, 844)
	b.do(chromedp.EmulateViewport(390, 844, chromedp.EmulateMobile, chromedp.EmulateTouch))
	b.signIn(demo.DirectorEmail, demo.Password)
	for _, route := range routes {
		b.visit(route.path)
		b.see(route.sign)
		assert.Empty(t, b.list(tight), "%s", route.path)
	}
	b.visit("/")
	b.see("minutes used")
	b.evaluate(`(() => { window.shift = 0; new PerformanceObserver((list) => { for (const e of list.getEntries()) if (!e.hadRecentInput) window.shift += e.value; })
      .observe({ type: 'layout-shift', buffered: true }); return true })()`)
	b.until("document.readyState === 'complete'", "the page is not loaded")
	shift, err := strconv.ParseFloat(b.text("String(window.shift)"), 64)
	require.NoError(t, err)
	assert.Less(t, shift, 0.05, "layout shift (web.dev calls 0.1 good)")
}
