package formats

import (
	"bytes"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"codeberg.org/go-pdf/fpdf"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Given names as they are written in the scripts of the world.
var written = map[string]string{
	"Latin": "Łukasz Þóra Nguyễn Çağla Ōe", "Greek": "Ελένη", "Cyrillic": "Юрій Ђорђе Ғалым", "Armenian": "Անահիտ",
	"Georgian": "ნინო", "Hebrew": "נועה", "Arabic": "ليلى پرویز",
	"Devanagari": "कृष्णा", "Bengali": "ঋতু", "Gurmukhi": "ਗੁਰਪ੍ਰੀਤ", "Gujarati": "ધ્રુવ", "Tamil": "கயல்", "Telugu": "శ్రీ",
	"Kannada": "ಕೃತಿ", "Malayalam": "അഞ്ജലി",
	"Sinhala": "සඳුනි", "Thai": "นภา", "Lao": "ແກ້ວ", "Khmer": "សុភា", "Myanmar": "သန္တာ", "Ethiopic": "ሰላም", "Han": "张伟 陳美玲",
	"kana": "さくら ケンジ", "Hangul": "서연", "Cherokee": "ᏌᎳ",
}

func TestEveryFontIsEmbedded(t *testing.T) {
	for _, name := range append([]string{"DejaVuSans-Bold"}, otherwise...) {
		_, err := fs.Stat(fontFiles, "fonts/"+name+".ttf")
		require.NoError(t, err)
	}
}

func TestTheWorldsNamesHaveTheirLetters(t *testing.T) {
	for _, style := range []string{"", "B"} {
		f := newTypesetter(fpdf.New("P", "mm", "A4", "")).faces[style]
		for script, name := range written {
			if script == "Cherokee" {
				assert.Contains(t, string(legible(f, name)), "□", "a script that no font here has is marked")
				continue
			}
			assert.NotContains(t, string(legible(f, name)), "□", script)
		}
		assert.Equal(t, "Ode □ Marchetti", string(legible(f, "Ode 🎺🎻️ Marchetti")), "one mark for what nobody can print")
		assert.Equal(t, "é", string(legible(f, "e\u0301")), "a letter and its accent are one")
	}
}

// A name of any script comes onto labels and agreements, as shapes on the page: nothing panics and nothing is left out.
func TestAnyNameIsPrinted(t *testing.T) {
	folder := t.TempDir()
	render := func(name string, pdf []byte) int {
		file := filepath.Join(folder, "sheet.pdf")
		require.NoError(t, os.WriteFile(file, pdf, 0o600))
		out, err := exec.Command("pdftoppm", "-r", "60", "-gray", file, filepath.Join(folder, "sheet")).CombinedOutput()
		require.NoError(t, err, "%s: %s", name, out)
		pages, err := filepath.Glob(filepath.Join(folder, "sheet*.pgm"))
		require.NoError(t, err)
		dark := 0
		for _, page := range pages {
			picture, err := os.ReadFile(page)
			require.NoError(t, err)
			for _, grey := range picture[20:] {
				if grey < 128 {
					dark++
				}
			}
			require.NoError(t, os.Remove(page))
		}
		return dark
	}
	agreement := func(name string) []byte {
		var pdf bytes.Buffer
		require.NoError(
			t,
			WriteAgreement(
				&pdf,
				Agreement{
					School:  name,
					Heading: "Agreement",
					Terms:   strings.Repeat(name+" takes care of it. ", 30),
					Facts:   [][2]string{{"Player", name}},
					Signed:  Signed{By: name, OnPaper: true},
				},
			),
		)
		return pdf.Bytes()
	}
	blank := render("blank", agreement(" "))
	for script, name := range written {
		if script != "Cherokee" {
			assert.Greater(t, render(script, agreement(name)), blank+200, script)
		}
	}
	sheet, _ := FindSheet("a4-24")
	var labels []Label
	for _, name := range written {
		labels = append(labels, Label{Tag: name + " 🎷", Code: "PL-0", Name: name, School: "Quillhaven 🏫"})
	}
	var pdf bytes.Buffer
	require.NoError(t, WriteLabels(&pdf, sheet, labels, 0))
	assert.Positive(t, render("labels", pdf.Bytes()))
}
