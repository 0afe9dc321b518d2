package e2e

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// waiting is a school with two violins and two players who wait for them.
func waiting(t *testing.T, more ...string) (*program, *page) {
	p, b := school(t, append([]string{"tag,kind,size,care_from", "VN-01,violin,4/4,2026-11-01", "VN-02,violin,4/4,2026-11-01"}, more...)...)
	b.visit("/hand-out/roster")
	b.upload(
		"Roster file",
		saved(t, "roster.csv", "given_name,family_name,instrument,arm_length_cm\nOde,Marchetti,violin,60\nIlse,Quandt,violin,61\n"),
	)
	b.click("button", "Import 2 players")
	b.see("Imported: 2 new")
	b.visit("/hand-out")
	b.see("2 pairs proposed")
	return p, b
}

func saved(t *testing.T, name, text string) string {
	t.Helper()
	file := filepath.Join(t.TempDir(), name)
	require.NoError(t, os.WriteFile(file, []byte(text), 0o600))
	return file
}

// The server is gone when everybody stands in a row: nothing is said to be handed out that is not, and the list is still there.
func TestHandingOutWhileTheServerIsAway(t *testing.T) {
	t.Parallel()
	p, b := waiting(t)
	b.click("button", "Pin: Ode Marchetti, VN-01")
	b.until(
		`document.querySelector('[aria-label="Pin: Ode Marchetti, VN-01"]')?.getAttribute('aria-pressed') === 'true'`,
		"the pair is not pinned",
	)
	p.kill()
	b.click("button", "Hand out all 2")
	b.see("The server does not answer")
	b.see("2 pairs proposed")
	p.run("serve", morning)
	b.await("button", "Pin: Ode Marchetti, VN-01", "")
	b.click("button", "Hand out all 2")
	b.see("2 instruments handed out.")
	b.click("link", "Players")
	b.see("Ode Marchetti")
	assert.True(t, b.evaluate(`!document.body.innerText.includes('waits for one')`))
}

// Two desks have the same list; what the first gave away the second cannot, and is told.
func TestTwoDesksHandOut(t *testing.T) {
	t.Parallel()
	p, one := waiting(t)
	two := p.open(390, 844)
	two.signIn("ines@quillhaven.example", "a long password")
	two.visit("/hand-out")
	two.see("2 pairs proposed")
	one.handOver("Ode Marchetti", "VN-01")
	two.click("button", "Hand out all 2")
	two.see("VN-01 is in somebody's hands already.")
	two.see("1 pair proposed")
	two.visit("/hand-out/players")
	two.see("waits for one")
	assert.Equal(t, "1", two.text(`String(document.body.innerText.split('waits for one').length - 1)`), "all or none: Ilse has nothing yet")
}

func TestRostersThatAreNone(t *testing.T) {
	t.Parallel()
	_, b := school(t, "tag,kind,care_from", "VN-01,violin,2026-11-01")
	b.visit("/hand-out/roster")
	for name, tt := range map[string]struct{ content, says string }{
		"broken.zip": {"PK\x03\x04 and no more", "not a zip archive, or it is damaged"},
		"photo.jpg":  {"\xff\xd8\xff\xe0\x00\x10JFIF", "is neither a text nor a workbook"},
		"empty.csv":  {"given_name,family_name\n", "0 new"},
		"twice.csv":  {"given_name,family_name,grade_year\nOde,Marchetti,7\nOde,Marchetti,7\n", "two of one name need an external_id each"},
	} {
		b.upload("Roster file", saved(t, name, tt.content))
		b.see(tt.says)
		assert.False(t, strings.Contains(b.text(`document.querySelector('main').innerText`), "Something went wrong"), name)
	}
	b.visit("/hand-out/players")
	b.see("0 players")
}

// At a phone: one player gets a violin, the timeline knows, and it comes back.
func TestHandingOutOnAPhone(t *testing.T) {
	t.Parallel()
	p, _ := waiting(t)
	b := p.open(390, 844)
	b.signIn("ines@quillhaven.example", "a long password")
	b.click("link", "Hand-out")
	b.see("2 pairs proposed")
	b.click("button", "why")
	b.see("As many of 2 players")
	assert.True(t, b.evaluate(`document.documentElement.scrollWidth <= innerWidth`), "nothing sticks out at the side")
	b.handOver("Ilse Quandt", "VN-02")
	b.click("link", "Its file")
	b.see("in the hands of Ilse Quandt")
	b.click("link", "Return")
	b.see("Changed since it went out")
	assert.True(t, b.evaluate(`document.documentElement.scrollWidth <= innerWidth`), "nor here")
	b.click("button", "Take it back")
	b.see("VN-02 is back")
	b.see("Came back from Ilse Quandt")
}
