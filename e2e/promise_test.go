package e2e

import (
	"testing"
)

// A director keeps a clarinet for a player by name, sees it on its file, and takes it back; a remark that came with the list is offered as
// findings, one is noted with a tap, and the agreement says both.
func TestAPromiseAndARemark(t *testing.T) {
	t.Parallel()
	_, b := atTheDesk(t)
	b.visit("/hand-out")
	b.click("button", "Promise: Anouk Sorley, CL-11")
	b.fill("Until", "2026-12-04")
	b.click("button", "Promise it")
	b.see("CL-11 is kept for Anouk Sorley.")
	b.see("promised until 4 December 2026")
	b.scan("CL-11")
	b.see("Promised to Anouk Sorley until 4 Dec 2026.")
	b.click("button", "take it back")
	b.see("CL-11 is promised to nobody.")
	b.seeNot("Promised to Anouk Sorley until 4 Dec 2026.")

	b.scan("VN-18")
	b.click("tab", "Details")
	b.fill("Remark; it stands on agreements", "Brigde warped, pegs replaced")
	b.click("button", "Save")
	b.see("Saved.")
	b.click("tab", "Condition")
	b.see("The remark may mean, if you find it so:")
	b.seeNot("It is so: Peg slips")
	b.click("button", "It is so: Bridge warped or its feet not flush")
	b.see("Noted.")
	b.see("Bridge warped or its feet not flush")
	b.seeNot("The remark may mean")
}
