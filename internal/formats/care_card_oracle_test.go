package formats

import (
	"bytes"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/core/card"
	"solfeggio/internal/core/catalog"
)

// cardsOfAllKinds are a card of each kind in a language.
func cardsOfAllKinds(l card.Language) (list []CareCard) {
	c := catalog.Embedded()
	for n := range c.Kinds {
		k := &c.Kinds[n]
		list = append(list, CareCard{
			Card: card.Make(c, catalog.Subject{Kind: k, Body: k.Bodies[0], Choices: c.Choose()}).In(l),
			Tag:  fmt.Sprintf("%s-%02d", k.TagPrefix, n), School: "Quillhaven Community School", Language: l,
			Address: fmt.Sprintf("https://care.quillhaven.example/c/abcdefghijklmnopqrstuvw%04d", n),
		})
	}
	return list
}

// What is on paper is read back by Debian's pdftotext: on every size, in every language, of every kind.
func TestCareCardsHoldTheirText(t *testing.T) {
	for _, size := range CardSizes {
		for _, l := range card.Languages() {
			t.Run(size.Key+" "+l.Key, func(t *testing.T) {
				cards := cardsOfAllKinds(l)
				var b bytes.Buffer
				require.NoError(t, WriteCareCards(&b, size, cards))
				pdf := filepath.Join(t.TempDir(), "cards.pdf")
				require.NoError(t, os.WriteFile(pdf, b.Bytes(), 0o600))
				out, err := exec.Command("pdftotext", "-raw", pdf, "-").Output()
				require.NoError(t, err)
				words := strings.Join(strings.Fields(string(out)), " ")
				for _, c := range cards {
					assert.Contains(t, words, c.Tag)
					for _, s := range c.Sections {
						if len(s.Lines) > 0 {
							guarding := s.Of(1).Lines[0].Text
							assert.Contains(t, words, guarding, "%s of %s", s.Title, c.KindName)
						}
					}
				}
				assert.Equal(t, l.Draft, strings.Contains(words, l.Say("Draft translation: to be read by a speaker.")))
				assert.Contains(t, words, l.Say("No pliers, no glue, no force."))
			})
		}
	}
}

// The codes are read by Debian's zbarimg.
func TestTheCodeOfACardIsReadAtEverySize(t *testing.T) {
	for _, size := range CardSizes {
		var cards []CareCard
		wanted := map[string]bool{}
		for n, c := range cardsOfAllKinds(card.English) {
			if n%3 == 0 {
				cards, wanted[c.Address] = append(cards, c), true
			}
		}
		var b bytes.Buffer
		require.NoError(t, WriteCareCards(&b, size, cards))
		pdf := filepath.Join(t.TempDir(), "cards.pdf")
		require.NoError(t, os.WriteFile(pdf, b.Bytes(), 0o600))
		// A camera comes nearer until it has read the code.
		for _, dots := range []string{"120", "150", "200"} {
			for _, code := range codesIn(t, pdf, dots) {
				delete(wanted, code)
			}
			if len(wanted) == 0 {
				break
			}
		}
		assert.Empty(t, wanted, "codes on %s that nobody can read", size.Name)
	}
}

// codesIn are the QR codes of a PDF, seen with so many dots to the inch.
func codesIn(t *testing.T, pdf, dots string) (codes []string) {
	t.Helper()
	pages := filepath.Join(filepath.Dir(pdf), "page"+dots)
	require.NoError(t, exec.Command("pdftoppm", "-r", dots, "-png", pdf, pages).Run())
	files, err := filepath.Glob(pages + "*.png")
	require.NoError(t, err)
	for _, page := range files {
		out, _ := exec.Command("zbarimg", "--quiet", "--raw", page).Output() // it fails where it sees none
		codes = append(codes, strings.Fields(string(out))...)
	}
	return codes
}

// Nothing is written over the edge of a card or over what stands below it: what does not fit is left out, and the letters are never smaller
// than can be read at arm's length.
func TestACardLeavesOutWhatDoesNotFit(t *testing.T) {
	size := CardSizes[0]
	c := cardsOfAllKinds(card.English)[0]
	for n := range 40 {
		c.Sections[1].Lines = append(c.Sections[1].Lines, card.Line{Text: fmt.Sprintf("Another line of no use, number %d.", n)})
	}
	var b bytes.Buffer
	require.NoError(t, WriteCareCards(&b, size, []CareCard{c}))
	pdf := filepath.Join(t.TempDir(), "card.pdf")
	require.NoError(t, os.WriteFile(pdf, b.Bytes(), 0o600))
	// The box of every word, in points from the top left of the sheet.
	out, err := exec.Command("pdftotext", "-bbox", pdf, "-").Output()
	require.NoError(t, err)
	var lowest, smallest float64 = 0, 99
	for line := range strings.Lines(string(out)) {
		var x0, y0, x1, y1 float64
		if n, _ := fmt.Sscanf(strings.TrimSpace(line), `<word xMin="%f" yMin="%f" xMax="%f" yMax="%f">`, &x0, &y0, &x1, &y1); n == 4 {
			lowest, smallest = max(lowest, y1), min(smallest, y1-y0)
		}
	}
	assert.Less(t, lowest, size.height/pointMM)
	assert.Greater(t, smallest, 6.0)
	assert.Greater(t, lowest, size.height/pointMM*0.8, "and the card is full")
}

// BenchmarkCareCards writes the cards of 600 instruments.
func BenchmarkCareCards(b *testing.B) {
	kinds := cardsOfAllKinds(card.English)
	var cards []CareCard
	for n := range 600 {
		cards = append(cards, kinds[n%len(kinds)])
	}
	for b.Loop() {
		var out bytes.Buffer
		require.NoError(b, WriteCareCards(&out, CardSizes[0], cards))
	}
}
