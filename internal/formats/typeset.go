package formats

import (
	"bytes"
	"embed"
	"math"
	"slices"
	"strings"
	"sync"
	"unicode"

	"codeberg.org/go-pdf/fpdf"
	"github.com/go-text/typesetting/di"
	"github.com/go-text/typesetting/font"
	"github.com/go-text/typesetting/font/opentype"
	"github.com/go-text/typesetting/shaping"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/math/fixed"
	"golang.org/x/text/unicode/norm"
)

// Fonts with the letters of the world's names; LICENCES.txt beside them says whose they are.
//
//go:embed fonts/*.ttf
var fontFiles embed.FS

// otherwise are the fonts that are asked, in this order, for a letter that the usual one does not have.
var otherwise = []string{
	"DejaVuSans", "NotoSansDevanagari-Regular", "NotoSansBengali-Regular", "NotoSansGurmukhi-Regular", "NotoSansGujarati-Regular",
	"NotoSansOriya-Regular",
	"NotoSansTamil-Regular", "NotoSansTelugu-Regular", "NotoSansKannada-Regular", "NotoSansMalayalam-Regular",
	"NotoSansSinhala-Regular", "NotoSansThai-Regular",
	"NotoSansKhmer-Regular", "NotoSansMyanmar-Regular", "NotoSansEthiopic-Regular", "NanumGothicCoding", "DroidSansFallbackFull",
}

// missing stands for a letter that no font has.
const missing = '□'

// The fonts of a style, the usual one first. They are read once.
var regular, bold = sync.OnceValue(
	func() []*font.Font { return read(goregular.TTF, "DejaVuSans") },
), sync.OnceValue(
	func() []*font.Font { return read(gobold.TTF, "DejaVuSans-Bold") },
)

func read(usual []byte, next string) []*font.Font {
	list := []*font.Font{parse(usual)}
	for _, name := range otherwise {
		if name == "DejaVuSans" {
			name = next
		}
		text, _ := fontFiles.ReadFile("fonts/" + name + ".ttf") // it is embedded, as a test makes sure
		list = append(list, parse(text))
	}
	return list
}

// parse reads a font that is part of the program; a broken one is a programming error.
func parse(ttf []byte) *font.Font {
	face, err := font.ParseTTF(bytes.NewReader(ttf))
	if err != nil {
		panic(err)
	}
	return face.Font
}

// faces are fonts as one typesetter shapes with them.
type faces []*font.Face

func newFaces(fonts []*font.Font) (f faces) {
	for _, of := range fonts {
		f = append(f, font.NewFace(of))
	}
	return f
}

// ResolveFace finds the font of a letter.
func (f faces) ResolveFace(r rune) *font.Face {
	for _, face := range f {
		if _, ok := face.NominalGlyph(r); ok {
			return face
		}
	}
	return f[0]
}

func (f faces) have(r rune) bool {
	_, ok := f.ResolveFace(r).NominalGlyph(r)
	return ok
}

// A typesetter writes text in any script onto a PDF. What the usual font has is written as text; other letters are drawn as they
// join and stand in their script.
type typesetter struct {
	pdf    *fpdf.Fpdf
	faces  map[string]faces // by style
	shaper shaping.HarfbuzzShaper
	split  shaping.Segmenter
	wrap   shaping.LineWrapper
}

func newTypesetter(pdf *fpdf.Fpdf) *typesetter {
	pdf.AddUTF8FontFromBytes("text", "", goregular.TTF)
	pdf.AddUTF8FontFromBytes("text", "B", gobold.TTF)
	return &typesetter{pdf: pdf, faces: map[string]faces{"": newFaces(regular()), "B": newFaces(bold())}}
}

// legible is a text with a mark for each letter, or run of letters, that no font has.
func legible(f faces, text string) []rune {
	var out []rune
	for _, r := range norm.NFC.String(text) {
		switch {
		case unicode.Is(unicode.Cf, r), unicode.Is(unicode.Variation_Selector, r), unicode.IsControl(r): // which nobody sees
		case f.have(r):
			out = append(out, r)
		case len(out) == 0 || out[len(out)-1] != missing:
			out = append(out, missing)
		}
	}
	return out
}

// em is the size in which text is shaped before it is scaled; whole and large, since the shaper rounds sizes.
const em = 1024

// shape sets a line of text.
func (t *typesetter) shape(f faces, text []rune) (list []shaping.Output) {
	if len(text) == 0 {
		return nil
	}
	in := shaping.Input{Text: text, RunEnd: len(text), Direction: di.DirectionLTR, Size: fixed.I(em)}
	for _, run := range t.split.Split(in, f) {
		list = append(list, t.shaper.Shape(run))
	}
	return list
}

// mm is a length of a shaped text in millimetres when it is written in a size in points.
func mm(length fixed.Int26_6, size float64) float64 {
	return float64(length) / 64 / em * size * pointMM
}

const pointMM = 25.4 / 72

// width is how wide a text is in a style and a size, in millimetres.
func (t *typesetter) width(style string, size float64, text string) (sum float64) {
	f := t.faces[style]
	for _, run := range t.shape(f, legible(f, text)) {
		sum += mm(run.Advance, size)
	}
	return sum
}

// line writes a text that begins at x on the line y.
func (t *typesetter) line(x, y float64, style string, size float64, text string) {
	f := t.faces[style]
	runes := legible(f, text)
	runs := t.shape(f, runes)
	lines, _ := t.wrap.WrapParagraph(
		shaping.WrapConfig{Direction: di.DirectionLTR},
		math.MaxInt32>>7,
		runes,
		shaping.NewSliceIterator(runs),
	)
	for _, l := range lines {
		t.draw(f, x, y, style, size, runes, l)
	}
}

// wrapped breaks a line of text where it reaches a width.
func (t *typesetter) wrapped(f faces, width, size float64, runes []rune) []shaping.Line {
	most := int(width / pointMM / size * em)
	lines, _ := t.wrap.WrapParagraph(
		shaping.WrapConfig{Direction: di.DirectionLTR},
		most,
		runes,
		shaping.NewSliceIterator(t.shape(f, runes)),
	)
	if len(lines) == 0 {
		return []shaping.Line{nil}
	}
	return lines
}

// rows is how many lines a text takes within a width.
func (t *typesetter) rows(width float64, style string, size float64, text string) (n int) {
	f := t.faces[style]
	for _, part := range paragraphs(text) {
		n += len(t.wrapped(f, width, size, legible(f, part)))
	}
	return n
}

func paragraphs(text string) []string {
	return strings.Split(strings.ReplaceAll(text, "\r\n", "\n"), "\n")
}

// paragraph writes a text within a width, a line after the other, from where the page stands.
func (t *typesetter) paragraph(width, height float64, style string, size float64, text string) {
	f := t.faces[style]
	left := t.pdf.GetX()
	for _, part := range paragraphs(text) {
		runes := legible(f, part)
		for _, l := range t.wrapped(f, width, size, runes) {
			_, page := t.pdf.GetPageSize()
			if _, _, _, bottom := t.pdf.GetMargins(); t.pdf.GetY()+height > page-bottom {
				t.pdf.AddPage()
			}
			y := t.pdf.GetY()
			t.draw(f, left, y+height*0.5+size*pointMM*0.3, style, size, runes, l)
			t.pdf.SetXY(left, y+height)
		}
	}
	t.pdf.SetX(left)
}

// draw puts the runs of a line side by side.
func (t *typesetter) draw(f faces, x, y float64, style string, size float64, text []rune, line shaping.Line) {
	runs := slices.Clone(line)
	slices.SortFunc(runs, func(a, b shaping.Output) int { return int(a.VisualIndex - b.VisualIndex) })
	t.pdf.SetFont("text", style, size)
	for _, run := range runs {
		if run.Face == f[0] {
			t.pdf.Text(x, y, string(text[run.Runes.Offset:run.Runes.Offset+run.Runes.Count]))
		} else {
			t.outline(x, y, size, run)
		}
		x += mm(run.Advance, size)
	}
}

// outline draws the letters of a run as filled shapes.
func (t *typesetter) outline(x, y, size float64, run shaping.Output) {
	scale := size * pointMM / float64(run.Face.Upem())
	t.pdf.SetFillColor(0, 0, 0)
	for _, g := range run.Glyphs {
		data, ok := run.Face.GlyphData(g.GlyphID).(font.GlyphOutline)
		left, base := x+mm(g.XOffset, size), y-mm(g.YOffset, size)
		x += mm(g.Advance, size)
		if !ok || len(data.Segments) == 0 {
			continue
		}
		at := func(p opentype.SegmentPoint) (float64, float64) {
			return left + float64(p.X)*scale, base - float64(p.Y)*scale
		}
		for n, s := range data.Segments {
			x1, y1 := at(s.Args[0])
			x2, y2 := at(s.Args[1])
			x3, y3 := at(s.Args[2])
			switch s.Op {
			case opentype.SegmentOpMoveTo:
				if n > 0 {
					t.pdf.ClosePath()
				}
				t.pdf.MoveTo(x1, y1)
			case opentype.SegmentOpLineTo:
				t.pdf.LineTo(x1, y1)
			case opentype.SegmentOpQuadTo:
				t.pdf.CurveTo(x1, y1, x2, y2)
			case opentype.SegmentOpCubeTo:
				t.pdf.CurveBezierCubicTo(x1, y1, x2, y2, x3, y3)
			}
		}
		t.pdf.ClosePath()
		t.pdf.DrawPath("F")
	}
}

// named gives a document its title and the language of its sentences, for whoever has it read aloud. The library makes no tags.
func named(pdf *fpdf.Fpdf, title string) {
	pdf.SetTitle(title, true)
	pdf.SetLang("en")
}
