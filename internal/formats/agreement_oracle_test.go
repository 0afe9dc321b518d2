//go:build oracle

package formats

import (
	"bytes"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Debian's pdftotext reads an agreement's words back, and pdftoppm finds the ink of its signature.
func TestAnAgreementIsReadBack(t *testing.T) {
	sheet := Agreement{
		School: "Quillhaven Community School", Heading: "Agreement for the loan of VN-01",
		Terms: "It is for Ode alone.\n\nIt comes back, “dry”.",
		Facts: [][2]string{{"Player", "Ode Márquez"}}, Kit: []string{"2 × Cloth", "Rosin cake (low)"}, Known: []string{"Peg slips"},
	}
	unsigned, words := ink(t, sheet)
	for _, text := range []string{"Quillhaven", "Agreement for the loan of VN-01", "It is for Ode alone.", "“dry”", "Ode Márquez",
		"2 × Cloth", "Rosin cake (low)", "Peg slips", "Date, signature"} {
		assert.Contains(t, words, text)
	}
	sheet.Signed = Signed{
		By:      "R. Márquez",
		At:      time.Date(2026, 11, 24, 9, 5, 0, 0, time.UTC),
		Strokes: [][][2]int{{{100, 500}, {400, 100}, {700, 900}, {950, 300}}},
	}
	signed, words := ink(t, sheet)
	assert.Contains(t, words, "R. Márquez, on 24 November 2026, 09:05")
	assert.Greater(t, signed, unsigned+200, "the strokes are drawn")
	sheet.Signed = Signed{By: "R. Márquez", At: sheet.Signed.At, OnPaper: true}
	_, words = ink(t, sheet)
	assert.Contains(t, words, "Signed on paper by R. Márquez")

	sheet.Terms = strings.Repeat("A long paragraph that goes on and on, as those of schools do.\n\n", 60)
	_, words = ink(t, sheet)
	assert.Equal(t, 60, strings.Count(words, "A long paragraph"), "nothing falls off the page")
}

// ink counts the dark points where a signature stands, and reads the words.
func ink(t *testing.T, a Agreement) (dark int, words string) {
	t.Helper()
	var file bytes.Buffer
	require.NoError(t, WriteAgreement(&file, a))
	pdf := filepath.Join(t.TempDir(), "agreement.pdf")
	require.NoError(t, os.WriteFile(pdf, file.Bytes(), 0o600))
	text, err := exec.Command("pdftotext", "-layout", pdf, "-").Output()
	require.NoError(t, err)
	out, err := exec.Command("pdftoppm", "-r", "72", "-gray", "-png", "-f", "1", "-l", "1", pdf, strings.TrimSuffix(pdf, ".pdf")).
		CombinedOutput()
	require.NoError(t, err, string(out))
	pages, err := filepath.Glob(strings.TrimSuffix(pdf, ".pdf") + "*.png")
	require.NoError(t, err)
	picture, err := os.Open(pages[0])
	require.NoError(t, err)
	defer picture.Close()
	page, err := png.Decode(picture)
	require.NoError(t, err)
	for y := range page.Bounds().Dy() {
		for x := range page.Bounds().Dx() {
			if r, _, _, _ := page.At(x, y).RGBA(); r < 0x8000 {
				dark++
			}
		}
	}
	return dark, string(text)
}
