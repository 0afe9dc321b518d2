//go:build oracle

package formats

import (
	"bytes"
	"image"
	"image/jpeg"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// printed writes a PDF and reads its words back with Debian's pdftotext.
func printed(t *testing.T, write func(*bytes.Buffer) error) (file, words string) {
	t.Helper()
	var text bytes.Buffer
	require.NoError(t, write(&text))
	for _, said := range []string{"/Title (", "/Lang ("} { // for whoever has it read aloud
		assert.Contains(t, text.String(), said)
	}
	file = filepath.Join(t.TempDir(), "sheet.pdf")
	require.NoError(t, os.WriteFile(file, text.Bytes(), 0o600))
	out, err := exec.Command("pdftotext", "-layout", file, "-").Output()
	require.NoError(t, err)
	return file, string(out)
}

// A job sheet says all that goes with an instrument on one page: pdftotext reads its words, zbarimg its codes.
func TestAJobSheetIsReadBack(t *testing.T) {
	outline, spots := Drawing("violin")
	require.NotEmpty(t, outline)
	var photo bytes.Buffer
	require.NoError(t, jpeg.Encode(&photo, image.NewGray(image.Rect(0, 0, 400, 300)), nil))
	sheet := JobSheet{
		School: "Quillhaven Community School, 555 0142",
		Label:  Label{Tag: "VN-01", Name: "Violin 4/4", School: "Quillhaven Community School"},
		Facts:  [][2]string{{"For", "Quoin Street Strings"}, {"Agreed", "115.00 EUR"}}, Works: []string{"Seam glued", "Hair"},
		Asks: "It buzzes on the lowest string.", NotWanted: "No varnish.", Decides: "Ines Corvane, 555 0142", Outline: outline,
		Found:  []SheetFinding{{1, "Open seam: lower bout"}, {0, "Dust inside"}},
		Spots:  []SheetSpot{{1, spots["seams"][0], spots["seams"][1]}},
		Photos: [][]byte{photo.Bytes()},
	}
	file, words := printed(t, func(b *bytes.Buffer) error { return WriteJobSheet(b, sheet) })
	for _, text := range []string{
		"Job sheet VN-01", "Quoin Street Strings", "115.00 EUR", "Seam glued", "Hair", "It buzzes", "Please leave alone", "No varnish.",
		"ask Ines Corvane", "Open seam: lower bout", "Dust inside",
	} {
		assert.Contains(t, words, text)
	}
	assert.Equal(t, 1, strings.Count(words, "\f"), "one page")
	folder := t.TempDir()
	out, err := exec.Command("pdftoppm", "-r", "200", "-gray", "-png", file, filepath.Join(folder, "page")).CombinedOutput()
	require.NoError(t, err, string(out))
	pages, err := filepath.Glob(filepath.Join(folder, "page*.png"))
	require.NoError(t, err)
	read, err := exec.Command("zbarimg", append([]string{"-q"}, pages...)...).Output()
	require.NoError(t, err)
	assert.Contains(t, string(read), "QR-Code:VN-01")
	assert.Contains(t, string(read), "CODE-128:VN-01")
}

// A trip sheet lists what is loaded in order, and has a page for each counter; a long list loses nothing.
func TestATripSheetIsReadBack(t *testing.T) {
	sheet := TripSheet{
		School: "Quillhaven Community School", Day: "26 November 2026", Driver: "Pell Arrowby",
		Shops: []Counter{{Name: "Tarn Lane Workshop", Leave: [][]string{{"TU-02", "Tuba", "Tube patched or renewed"}},
			Fetch: [][]string{{"TR-16", "Trumpet", "Slides"}}}},
	}
	for n := range 60 {
		sheet.Load = append(sheet.Load,
			[]string{"CL-" + string(rune('A'+n%26)) + string(rune('A'+n/26)), "B-flat clarinet", "1 place", "Band room, A-01", "Tarn Lane"})
	}
	_, words := printed(t, func(b *bytes.Buffer) error { return WriteTripSheet(b, sheet) })
	for _, row := range sheet.Load {
		assert.Contains(t, words, row[0])
	}
	for _, text := range []string{"Loading list", "Pell Arrowby drives", "To leave here", "TU-02", "Tube patched", "To fetch here",
		"TR-16", "Received at the counter"} {
		assert.Contains(t, words, text)
	}
}

// The outlines that ship are those that every kind's drawing needs.
func TestEveryDrawingHasAnOutline(t *testing.T) {
	strokes, spots := Drawing("nothing")
	assert.Empty(t, strokes)
	assert.Empty(t, spots)
	for name := range outlines() {
		strokes, spots = Drawing(name)
		assert.NotEmpty(t, strokes, name)
		pictured := strings.HasSuffix(name, "-case") || strings.HasSuffix(name, "-right") ||
			strings.HasSuffix(name, "-wrong") // nobody inspects these
		assert.Equal(t, pictured, len(spots) == 0, name)
	}
}
