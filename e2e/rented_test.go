package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// A violin turns out to be rented; its owner brings another for it, and whoever had the one has the other. Later it goes home.
func TestARentedViolinIsExchanged(t *testing.T) {
	t.Parallel()
	_, b := waiting(t)
	b.handOver("Ode Marchetti", "VN-01")
	b.click("link", "Its file")
	b.click("tab", "Details")
	b.click("button", "it is rented")
	b.fill("Owner", "Hollin Hire House")
	b.fill("To be returned by", "2026-01-01")
	b.clickIn("Contract", "button", "Save")
	b.see("lies before its first day")
	b.fill("To be returned by", "2026-12-10")
	b.fill("Price a month", "19,50")
	b.clickIn("Contract", "button", "Save")
	b.see("Rented from Hollin Hire House")
	b.visit("/")
	b.see("to Hollin Hire House")
	b.visit("/hand-out/rented")
	b.see("1 rented, €19.50 a month.")
	b.visit("/hand-out/notices")
	b.see("VN-01 goes back to its owner on 10 December 2026")

	b.visit("/hand-out/rented")
	b.click("link", "VN-01")
	b.click("tab", "Details")
	b.click("button", "exchange it for another")
	b.fill("Its tag", "VN-02")
	b.clickIn("Exchange", "button", "Exchange")
	b.see("There is an instrument with that tag already.")
	b.fill("Its tag", "VN-51")
	b.clickIn("Exchange", "button", "Exchange")
	b.see("VN-51 stands in for VN-01")
	b.until(
		`document.querySelector('main h1')?.innerText.startsWith('VN-51') && document.body.innerText.includes('in the hands of Ode Marchetti')`,
		"VN-51 is not opened",
	)
	b.takeBack("VN-51")
	b.click("tab", "Details")
	b.click("button", "give it back")
	b.clickIn("Leave", "button", "It is gone")
	b.see("Not at the school since")
	b.visit("/room?as=list")
	b.see("VN-02")
	assert.True(t, b.evaluate(`!document.body.innerText.includes('VN-51')`), "it is in no list")
}
