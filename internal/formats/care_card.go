package formats

import (
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"

	"codeberg.org/go-pdf/fpdf"
	"github.com/boombuler/barcode/qr"

	"solfeggio/internal/core/card"
)

// A CareCard is what a player keeps in the case.
type CareCard struct {
	card.Card
	Tag      string
	School   string
	Address  string // of its page, as its QR code says it
	Language card.Language
}

// A CardSize is how large a card is, and how many stand on a sheet. Lengths in millimetres.
type CardSize struct {
	Key           string
	Name          string
	orientation   string
	paper         string
	width, height float64
	across, down  int
	margin        float64
	smallest      float64 // letters in points: at arm's length, 60 cm, an x of 9.5 points is 10 minutes of arc high
	largest       float64
}

// CardSizes are the sizes of cards. All are cut from a sheet by two cuts or one.
var CardSizes = []CardSize{
	{"a6", "A6, four on A4", "P", "A4", 105, 148.5, 2, 2, 6, 9.5, 12},
	{"a5", "A5, two on A4", "L", "A4", 148.5, 210, 2, 1, 9, 10.5, 15},
	{"half-letter", "Half letter, two on Letter", "L", "Letter", 139.7, 215.9, 2, 1, 9, 10.5, 15},
}

// FindCardSize finds a size by its key.
func FindCardSize(key string) (CardSize, bool) {
	n := slices.IndexFunc(CardSizes, func(s CardSize) bool { return s.Key == key })
	if n < 0 {
		return CardSize{}, false
	}
	return CardSizes[n], true
}

// CardSizeChoices lists the sizes for an error.
func CardSizeChoices() string {
	var keys []string
	for _, s := range CardSizes {
		keys = append(keys, s.Key)
	}
	return strings.Join(keys, ", ")
}

// WriteCareCards writes cards as PDF, as many on a sheet as it has room for.
func WriteCareCards(w io.Writer, size CardSize, cards []CareCard) error {
	pdf := fpdf.New(size.orientation, "mm", size.paper, "")
	named(pdf, "Care cards")
	if len(cards) > 0 {
		pdf.SetLang(cards[0].Language.Key)
	}
	pdf.SetAutoPageBreak(false, 0)
	t := &cardSetter{newTypesetter(pdf), map[wrapKey][]string{}}
	for n, c := range cards {
		at := n % (size.across * size.down)
		if at == 0 {
			pdf.AddPage()
			size.cuts(pdf)
		}
		x, y := float64(at%size.across)*size.width, float64(at/size.across)*size.height
		if err := c.draw(t, size, x, y); err != nil {
			return fmt.Errorf("card of %s: %w", c.Tag, err)
		}
	}
	return pdf.Output(w)
}

// cuts marks where the sheet is cut.
func (s CardSize) cuts(pdf *fpdf.Fpdf) {
	pdf.SetDrawColor(190, 190, 190)
	pdf.SetLineWidth(0.1)
	for n := 1; n < s.across; n++ {
		pdf.Line(float64(n)*s.width, 0, float64(n)*s.width, s.height*float64(s.down))
	}
	for n := 1; n < s.down; n++ {
		pdf.Line(0, float64(n)*s.height, s.width*float64(s.across), float64(n)*s.height)
	}
}

// A cardSetter breaks the lines of cards. Most cards of a school say the same, so what was broken once is remembered.
type cardSetter struct {
	*typesetter
	broken map[wrapKey][]string
}

type wrapKey struct {
	text, style string
	width, size float64
}

// lines breaks a text at words where it reaches a width.
func (t *cardSetter) lines(text, style string, width, size float64) []string {
	key := wrapKey{text, style, width, size}
	if lines, known := t.broken[key]; known {
		return lines
	}
	var lines []string
	line := ""
	for _, word := range strings.Fields(text) {
		longer := strings.TrimSpace(line + " " + word)
		if line != "" && t.width(style, size, longer) > width {
			lines, longer = append(lines, line), word
		}
		line = longer
	}
	lines = append(lines, line)
	t.broken[key] = lines
	return lines
}

const (
	leading     = 0.44 // millimetres of a line for a point of its letters
	headLeading = 0.62 // of a heading
	numberRoom  = 0.62 // for the number before a step
)

// columns are the sections that stand below each other: what comes before and what never does at the left, what comes after at the right.
var columns = [2][]string{{"before", "never"}, {"after", "weekly", "stuck"}}

// draw puts head, drawing and code on top, and the sections below in two columns, in the largest letters that fit.
func (c CareCard) draw(t *cardSetter, s CardSize, x, y float64) error {
	pdf := t.pdf
	inner := s.width - 2*s.margin
	head := s.height * 0.19
	code, err := qr.Encode(c.Address, qr.M, qr.Auto)
	if err != nil {
		return err
	}
	side := head - 4.5 // four modules of white stay around the code
	modules(pdf, code, x+s.width-s.margin-side, y+s.margin, side, side)
	strokes, _ := Drawing(c.Drawing)
	if at, drawn := drawOutline(pdf, strokes, x+s.margin, y+s.margin, side, side); drawn {
		pdf.SetDashPattern([]float64{0.8, 0.6}, 0)
		pdf.SetLineWidth(0.35)
		for _, place := range outlines()[c.Drawing].Hold { // hands go here
			cx, cy := at(place)
			pdf.Circle(cx, cy, side*0.07, "D")
		}
		pdf.SetDashPattern(nil, 0)
	}
	left, room := x+s.margin+side+3, inner-2*side-6
	pdf.SetTextColor(0, 0, 0)
	title := s.largest * 1.35
	for title > 9 && len(t.lines(c.KindName, "B", room, title)) > 2 {
		title--
	}
	base := y + s.margin + title*0.3
	for _, line := range t.lines(c.KindName, "B", room, title) {
		t.line(left, base, "B", title, line)
		base += title * leading
	}
	t.line(left, base+0.5, "B", s.smallest+1, c.Tag)
	small := s.smallest * 0.72
	scan := t.lines(c.Language.Say("Something wrong? Scan."), "B", room, small)
	for n, line := range scan {
		t.line(left, y+s.margin+side-0.5-small*leading*float64(len(scan)-1-n), "B", small, line)
	}
	foot := c.School
	if c.Language.Draft {
		foot += ". " + c.Language.Say("Draft translation: to be read by a speaker.")
	}
	for small > 5 && t.width("", small, foot) > inner {
		small -= 0.5
	}
	t.line(x+s.margin, y+s.height-s.margin*0.55, "", small, foot)

	top := y + s.margin + head
	pdf.SetDrawColor(0, 0, 0)
	pdf.SetLineWidth(0.3)
	pdf.Line(x+s.margin, top-1.5, x+s.width-s.margin, top-1.5)
	gap := s.margin * 0.8
	column := (inner - gap) / 2
	height := s.height - head - 2*s.margin - small*leading
	lying := 0.0 // what the drawing of the case takes at the left
	if outlines()[c.Drawing+"-case"].Strokes != nil && s.largest > smallLetters {
		lying = s.height * 0.15
	}
	sections, size := c.fitted(t, [2]float64{height - lying, height}, s, column)
	var below [2]float64
	for n, keys := range columns {
		below[n] = top + 1
		for _, key := range keys {
			if section, ok := sections[key]; ok {
				below[n] = drawSection(t, section, x+s.margin+float64(n)*(column+gap), below[n], column, size)
			}
		}
	}
	if lying > 0 {
		c.drawCase(t, x+s.margin, top+height-lying, column, lying, size)
	}
	return nil
}

// smallLetters are those of a card that has no room for the drawing of a case.
const smallLetters = 12

// drawCase shows how the pieces lie in the case.
func (c CareCard) drawCase(t *cardSetter, x, y, width, height, size float64) {
	strokes, _ := Drawing(c.Drawing + "-case")
	title := size * headLeading
	t.line(x, y+size*0.4, "B", size*1.12, c.Language.Say("How it lies in the case"))
	drawOutline(t.pdf, strokes, x, y+title, width, height-title-1)
}

// fitted leaves as many lines as there is room for in the smallest letters, taking one after the other from the longest section of a
// column that is too high, and then chooses the largest letters in which they still fit.
func (c CareCard) fitted(t *cardSetter, heights [2]float64, s CardSize, column float64) (sections map[string]card.Section, size float64) {
	sections = map[string]card.Section{"stuck": {Key: "stuck", Title: c.Language.Say("Stuck?"),
		Lines: []card.Line{{Text: c.Language.Say("No pliers, no glue, no force.")}}}}
	for _, section := range c.Sections {
		if len(section.Lines) > 0 {
			sections[section.Key] = section
		}
	}
	long := func(key string) int { return len(sections[key].Lines) + map[string]int{"weekly": 2}[key] } // which goes before what is done each time
	for n, keys := range columns {
		for heightOf(t, sections, keys, column, s.smallest) > heights[n] {
			longest := slices.MaxFunc(keys, func(a, b string) int { return long(a) - long(b) })
			if len(sections[longest].Lines) <= 1 {
				break
			}
			sections[longest] = sections[longest].Of(len(sections[longest].Lines) - 1)
		}
	}
	fits := func(size float64) bool {
		return heightOf(t, sections, columns[0], column, size) <= heights[0] && heightOf(t, sections, columns[1], column, size) <= heights[1]
	}
	for size = s.smallest; size < s.largest && fits(size+0.5); size += 0.5 {
	}
	return sections, size
}

// heightOf is how high sections are below each other.
func heightOf(t *cardSetter, sections map[string]card.Section, keys []string, column, size float64) float64 {
	height := 1.0
	for _, key := range keys {
		if section, ok := sections[key]; ok {
			height += size*headLeading + size*0.25
			for _, l := range section.Lines {
				height += float64(len(t.lines(l.Text, "", column-size*numberRoom, size)))*size*leading + size*0.09
			}
		}
	}
	return height
}

// drawSection writes a section and returns where the next begins. Steps are numbered; what is never done has a cross before it.
func drawSection(t *cardSetter, s card.Section, x, y, width, size float64) float64 {
	pdf := t.pdf
	t.line(x, y+size*0.4, "B", size*1.12, s.Title)
	y += size * headLeading
	pdf.SetDrawColor(120, 120, 120)
	pdf.SetLineWidth(0.15)
	pdf.Line(x, y-size*0.12, x+width, y-size*0.12)
	for n, l := range s.Lines {
		switch s.Key {
		case "before", "after":
			t.line(x, y+size*0.3, "B", size*0.86, strconv.Itoa(n+1))
		case "never", "stuck":
			cross(pdf, x+size*0.05, y+size*0.09, size*0.22)
		default:
			pdf.SetFillColor(0, 0, 0)
			pdf.Circle(x+size*0.14, y+size*0.2, size*0.07, "F")
		}
		for _, line := range t.lines(l.Text, "", width-size*numberRoom, size) {
			t.line(x+size*numberRoom, y+size*0.3, "", size, line)
			y += size * leading
		}
		y += size * 0.09
	}
	return y + size*0.25
}

func cross(pdf *fpdf.Fpdf, x, y, side float64) {
	pdf.SetDrawColor(0, 0, 0)
	pdf.SetLineWidth(0.5)
	pdf.Line(x, y, x+side, y+side)
	pdf.Line(x, y+side, x+side, y)
}
