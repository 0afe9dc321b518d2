package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

var threeTrumpets = []string{
	"tag,kind,room,slot,care_from", "TR-01,trumpet,Store,A-01,2026-11-20", "TR-02,trumpet,Store,A-02,2026-11-20",
	"TR-03,trumpet,Store,,2026-11-20",
}

// Two count the same room with two phones; the server dies in between and what one typed is not lost; both end at one count.
func TestAStocktakeWithTwoPhonesAndADeadServer(t *testing.T) {
	t.Parallel()
	p, one := school(t, threeTrumpets...)
	two := p.open(390, 844)
	two.signIn("ines@quillhaven.example", "a long password")
	for _, b := range []*page{one, two} {
		b.visit("/room")
		b.click("link", "Stocktake")
		b.fill("Room", "Store")
		b.click("button", "Begin")
		b.see("0 of the 3 instruments that belong here seen, 3 missing")
	}
	note := func(b *page, tag string) {
		t.Helper()
		b.fill("Tag", tag)
		b.click("button", "Note it")
	}
	note(one, "TR-01")
	one.see("1 of the 3 instruments that belong here seen, 2 missing")
	note(two, "TR-02")
	two.see("2 of the 3 instruments that belong here seen, 1 missing")
	p.kill()
	note(two, "TR-03")
	two.see("TR-03 was not noted")
	assert.Equal(t, "TR-03", two.text(`document.getElementById('tag').value`), "what was typed is still there")
	p.run("serve", morning)
	two.click("button", "Note it")
	two.see("3 of the 3 instruments that belong here seen, 0 missing")
	note(one, "TR-02")
	one.see("3 of the 3 instruments that belong here seen, 0 missing")
	one.click("button", "End the count")
	one.see("the files of the missing say so")
	note(two, "TR-01")
	two.see("TR-01 was not noted")
}

// A move that cannot be sent changes nothing on the screen, and the same selection is moved once the server is back.
func TestMovingWhileTheServerIsAway(t *testing.T) {
	t.Parallel()
	p, b := school(t, threeTrumpets...)
	b.putUpShelf()
	b.fillIn("New shelf", "Room", "Store")
	b.fillIn("New shelf", "Shelf", "A")
	b.fillIn("New shelf", "Slots", "9")
	b.clickIn("New shelf", "button", "Add")
	b.see("is taken in this room")

	b.visit("/room")
	b.click("tab", "List")
	b.click("checkbox", "Select TR-03")
	b.see("1 selected")
	b.fill("Move them to", "Store\tA-03")
	p.kill()
	b.click("button", "Move")
	b.see("The server does not answer")
	b.see("1 selected")
	p.run("serve", morning)
	b.click("button", "Move")
	b.see("1 instrument moved.")

	// Labels of what is selected come as a PDF from this server.
	b.click("checkbox", "Select TR-01")
	b.click("button", "Labels")
	b.fill("Sheet", "a4-14")
	b.await("link", "Print 1 label", "")
	b.evaluate(
		`fetch([...document.querySelectorAll('a')].find((a) => a.innerText === 'Print 1 label').href).then((r) => r.arrayBuffer().then((bytes) => { window.sheet = r.headers.get('Content-Type') + ' ' + String(bytes.byteLength > 2000) })); true`,
	)
	b.until(`window.sheet === 'application/pdf true'`, "no labels")
}
