package e2e

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// cutReply lets the next write reach the server and loses its answer on the way back.
func (b *page) cutReply() {
	b.t.Helper()
	b.evaluate(`(() => {
      const real = window.fetch
      window.cut = ''
      window.fetch = async (request) => {
        const answer = await real(request)
        if (request.method === 'GET' || request.url.endsWith('/proposals')) return answer
        window.fetch = real
        window.cut = String(answer.status)
        throw new TypeError('the reply is lost')
      }
      return true })()`)
}

// lost waits until the answer was lost that cutReply waits for, and makes sure that the server had done what was asked.
func (b *page) lost() {
	b.t.Helper()
	b.until(`window.cut !== ''`, "nothing was sent")
	assert.Regexp(b.t, "^20", b.text(`window.cut`), "the server had committed")
	b.see("The server does not answer")
}

// count counts what a list of the API holds; which is a condition on one of its entries, x.
func (b *page) count(path, list, which string) string {
	b.t.Helper()
	return b.text(fmt.Sprintf(`(() => {
      const r = new XMLHttpRequest()
      r.open('GET', %q, false)
      r.send()
      const list = JSON.parse(r.responseText)%s
      return String(list.filter((x) => %s).length) })()`, path, list, which))
}

// Replies are lost after the server has done what was asked: an order, a delivery, a hand-out, a return, a tick. Whoever presses again
// has one of each. All of it at a name on the school's own network without TLS, where browsers keep some of their own functions back.
func TestWhoPressesAgainAfterALostReplyHasOne(t *testing.T) {
	t.Parallel()
	_, b := waiting(t, "FL-01,flute,,2026-11-01")
	b.base = strings.Replace(b.base, "127.0.0.1", inSchool, 1)
	b.signIn("ines@quillhaven.example", "a long password")
	assert.Equal(t, "false", b.text(`String(window.isSecureContext)`))
	b.visit("/hand-out")
	b.see("2 pairs proposed")
	id := b.text(
		`(() => { const r = new XMLHttpRequest(); r.open('GET', '/api/v1/instruments', false); r.send(); return JSON.parse(r.responseText).find((i) => i.tag === 'VN-01').id })()`,
	)
	timeline := func(sentence string) string {
		return b.count("/api/v1/instruments/"+id, ".timeline", "x.sentence.startsWith('"+sentence+"')")
	}

	b.click("link", "Hand out: Ode Marchetti, VN-01")
	b.see("VN-01")
	for range 3 {
		b.click("button", "Next")
	}
	b.click("button", "Signed on paper")
	b.fill("Who signs", "A guardian")
	b.cutReply()
	b.clickIn("Hand-over", "button", "Hand out")
	b.lost()
	b.clickIn("Hand-over", "button", "Hand out")
	b.see("VN-01 is Ode Marchetti’s now")
	assert.Equal(t, "1", timeline("Handed out to Ode Marchetti"))
	b.visit("/hand-out")
	b.see("1 pair proposed")
	b.cutReply()
	b.click("button", "Hand out all 1")
	b.lost()
	b.see("Every player who is known to learn an instrument has one.") // the list shows what became of it

	b.visit("/instruments/" + id + "/return")
	b.see("Changed since it went out")
	b.cutReply()
	b.click("button", "Take it back")
	b.lost()
	b.see("What you noted is kept here.")
	b.click("button", "Take it back")
	b.see("VN-01 is back, and held until its turnover is done.")
	assert.Equal(t, "1", timeline("Came back from Ode Marchetti"))

	b.click("tab", "Wear")
	b.see("E string")
	b.cutReply()
	b.click("button", "Done: Change the string E string")
	b.until(`window.cut !== ''`, "nothing was sent")
	b.see("Done.") // a tick is sent again by itself
	assert.Equal(t, "1", timeline("Change the string: E string done"))

	b.visit("/supplies/order")
	b.fillIn("No supplier yet", "Packs of Body swab", "4")
	b.cutReply()
	b.clickIn("No supplier yet", "button", "Place the order")
	b.lost()
	b.clickIn("No supplier yet", "button", "Place the order")
	b.see("The order is kept.")
	assert.Equal(t, "1", b.count("/api/v1/supply-orders", "", "true"))
	b.click("button", "It came")
	b.fill("Packs of Body swab that came", "3")
	b.fill("Packs of Disinfecting wipe for cases that came", "0")
	b.cutReply()
	b.click("button", "Into stock")
	b.lost()
	b.click("button", "Into stock")
	b.see("It is in stock.")
	assert.Equal(t, "1", b.count("/api/v1/supply-orders", "[0].lines", "x.name === 'Body swab' && x.received_packs === 3"))
}
