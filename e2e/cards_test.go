package e2e

import (
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"os"
	"path/filepath"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/demo"
)

// cardOf is where the page of an instrument's card stands.
func (b *page) cardOf(tag string) string {
	b.t.Helper()
	b.visit("/cards")
	b.see("Print 160 cards")
	b.click("button", tag)
	link := fmt.Sprintf(`document.querySelector('[aria-label="Card of %s"] a')`, tag)
	b.until(link+" !== null", "%s has no card", tag)
	return b.text(link + ".getAttribute('href')")
}

// atTheDesk is the demo school with its director signed in.
func atTheDesk(t *testing.T) (*program, *page) {
	t.Helper()
	p := start(t, "demo", morning)
	b := p.open(1280, 800)
	b.signIn(demo.DirectorEmail, demo.Password)
	b.see("minutes used")
	return p, b
}

// A player scans the card in the case and says what is wrong; the director makes a finding of it, and the card says so.
func TestSomethingIsWrong(t *testing.T) {
	t.Parallel()
	p, desk := atTheDesk(t)
	path := desk.cardOf("VC-03")

	phone := p.open(390, 844)
	phone.visit(path)
	phone.see("Something is wrong")
	phone.click("radio", "It buzzes")
	phone.see("Stop playing and look for a gap or a crack")
	phone.click("radio", "No")
	picture := filepath.Join(t.TempDir(), "photo.jpg")
	file, err := os.Create(picture)
	require.NoError(t, err)
	m := image.NewRGBA(image.Rect(0, 0, 3000, 2000))
	for n := range 2000 {
		m.Set(n, n, color.White)
	}
	require.NoError(t, jpeg.Encode(file, m, nil))
	require.NoError(t, file.Close())
	phone.upload("A photograph", picture)
	phone.click("button", "Send")
	phone.see("Your report was sent.")
	phone.see("Sent, nobody has looked yet")

	desk.visit("/")
	desk.seeIn("Reported on cards", "VC-03")
	desk.clickIn("Reported on cards", "link", "Look at them")
	desk.until(`document.querySelector('img[alt="Photograph with the report of VC-03"]')?.naturalWidth > 0`, "the photograph is not shown")
	desk.fill("What VC-03 has", "open-seam")
	desk.see("VC-03: it is a finding now.")
	phone.visit(path)
	phone.see("Seen: somebody will look at it")

	// Stopped, it stands among those who cannot play; mended, the card says so.
	desk.visit("/")
	desk.see("VC-03")
	desk.visit("/cards/reports")
	desk.see("VN-01")
	desk.clickIn("", "button", "Answer…")
	desk.fill("Answer for VN-01", "Push the peg in while turning.")
	desk.click("button", "Answer")
	desk.see("VN-01: the card says your answer.")
	desk.click("button", "Undo")
	desk.see("cannot play")
}

// A player trains by the card alone: the question, an answer, and the next.
func TestPractisingOnAPhone(t *testing.T) {
	t.Parallel()
	p, desk := atTheDesk(t)
	phone := p.open(390, 844)
	phone.visit(desk.cardOf("TB-02"))
	phone.click("link", "Practise")
	phone.see("Which is right?")
	first := phone.text(`document.querySelector('[name=question]').value`)
	phone.evaluate(`document.querySelector('button.option').click(); true`)
	phone.until(`/Right\.|Not quite\./.test(document.body.innerText)`, "no answer was judged")
	phone.click("link", "Next question")
	phone.until(`document.querySelector('[name=question]') !== null`, "there is no next question")
	assert.NotEqual(t, first, phone.text(`document.querySelector('[name=question]').value`))
	phone.click("link", "Deutsch")
	phone.see("Zurück zur Karte")
}

// Five sections pack up side by side until the bell, without a network; a phone may say that a section is ready.
func TestPackUpToTheBell(t *testing.T) {
	t.Parallel()
	p, b := atTheDesk(t)
	card := b.cardOf("VN-01")
	b.visit("/cards/pack-up")
	b.choose("Ensemble", "String orchestra")
	b.see("The longest routine takes")
	b.click("link", "Open the board")
	b.see("0 of 5 ready")
	b.click("button", "Begin")
	b.see("Slacken the bow at every pause.")
	for _, section := range []string{"Violins", "Violas", "Cellos", "Double basses", "Bows"} {
		b.seeIn(section, section)
	}
	phone := p.open(390, 844)
	phone.visit(card)
	phone.click("button", "Our section is ready")
	phone.see("Ready")
	b.see("1 of 5 ready")
	b.seeIn("Violins", "Ready")
	b.press("3")
	b.see("2 of 5 ready")
	b.press("3")
	b.see("1 of 5 ready")

	p.kill()
	for _, key := range []string{"2", "3", "4", "5"} {
		b.press(key)
	}
	b.see("5 of 5 ready")
	for range 5 {
		b.press("-")
	}
	b.see("the bell")
	b.see("0:00")
	// Letters: at least a fiftieth of the picture's width, whose capitals are 34 mm high on a picture of 2.4 m.
	small := b.text(`(() => { const w = innerWidth; return String(Math.min(...[...document.querySelectorAll('section p.font-bold')].map((e) => parseFloat(getComputedStyle(e).fontSize) / w))) })()`)
	share, err := strconv.ParseFloat(small, 64)
	require.NoError(t, err)
	assert.GreaterOrEqual(t, share, 0.02)
}

// A class holds up fingers; what most had wrong comes back, and what they knew does not.
func TestADrillInClass(t *testing.T) {
	t.Parallel()
	_, b := atTheDesk(t)
	b.visit("/cards/drills")
	b.choose("Class", "Wind band")
	b.until(`[...document.querySelectorAll('option')].some((o) => o.text === 'Horn')`, "nobody plays the horn")
	b.choose("Instrument", "Horn")
	b.until(`/0 of \d+ questions/.test(document.body.innerText)`, "the horn was never drilled")
	b.click("link", "Start the drill")
	b.see("Which is right?")
	asked := b.text(`document.querySelector('h1').innerText + document.querySelector('ol').innerText`)
	b.press("\r")
	b.see("right")
	b.fill("right", "19")
	b.fill("wrong", "3")
	b.click("button", "Count")
	b.see("1 of")
	b.until(`document.querySelector('h1').innerText + document.querySelector('ol').innerText !== `+quote(asked),
		"the same question comes again")
	b.press("\r")
	b.click("button", "Many were wrong")
	b.see("Hands up")
	b.visit("/cards/habits")
	b.see("Horn, Wind band")
	b.seeNot("NaN")
}
