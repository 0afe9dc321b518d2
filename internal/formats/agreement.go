package formats

import (
	"cmp"
	"fmt"
	"io"
	"strings"
	"time"

	"codeberg.org/go-pdf/fpdf"
)

// An Agreement is what is agreed when an instrument goes out, on a sheet of paper.
type Agreement struct {
	School  string
	Heading string
	Terms   string // paragraphs, divided by empty lines
	Facts   [][2]string
	Kit     []string
	Known   []string // of its condition as it goes out, in sentences
	Signed  Signed
}

// Signed is how it was signed; the zero one leaves a line for it.
type Signed struct {
	By      string
	At      time.Time
	Strokes [][][2]int // points from 0 to 1000 across and down
	OnPaper bool
}

// WriteAgreement writes an agreement as PDF, A4.
func WriteAgreement(w io.Writer, a Agreement) error {
	const (
		left, right, top = 22., 22., 20.
		width            = 210 - left - right
		line             = 5.2
	)
	pdf := fpdf.New("P", "mm", "A4", "")
	named(pdf, a.Heading)
	pdf.SetMargins(left, top, right)
	pdf.SetAutoPageBreak(true, top)
	setter := newTypesetter(pdf)
	pdf.AddPage()
	text := func(style string, size float64, words string) {
		setter.paragraph(width, size*0.5, style, size, words)
	}
	text("", 9, a.School)
	pdf.Ln(3)
	text("B", 17, a.Heading)
	pdf.Ln(3)
	for _, fact := range a.Facts {
		y := pdf.GetY()
		setter.paragraph(34, line, "", 9.5, fact[0])
		pdf.SetXY(left+34, y)
		setter.paragraph(width-34, line, "B", 9.5, fact[1])
		pdf.SetX(left)
	}
	pdf.Ln(3)
	for _, paragraph := range strings.Split(strings.ReplaceAll(a.Terms, "\r\n", "\n"), "\n\n") {
		text("", 10.5, strings.TrimSpace(paragraph))
		pdf.Ln(2.2)
	}
	pdf.Ln(1)
	text("B", 10.5, "In its kit")
	text("", 9.5, cmp.Or(strings.Join(a.Kit, " · "), "nothing"))
	pdf.Ln(1)
	text("B", 10.5, "Known when it goes out")
	for _, sentence := range a.Known {
		text("", 9.5, sentence)
	}
	a.Signed.draw(setter, left, width)
	if pdf.Err() {
		return fmt.Errorf("writing the agreement: %w", pdf.Error())
	}
	return pdf.Output(w)
}

// draw puts the signature over its line, or leaves the line free.
func (s Signed) draw(t *typesetter, left, width float64) {
	const height = 30.
	pdf := t.pdf
	if _, bottom := pdf.GetPageSize(); pdf.GetY()+height+20 > bottom-20 {
		pdf.AddPage()
	}
	pdf.Ln(6)
	y := pdf.GetY()
	pdf.SetDrawColor(20, 30, 40)
	pdf.SetLineWidth(0.5)
	pdf.SetLineCapStyle("round")
	for _, stroke := range s.Strokes {
		for n := 1; n < len(stroke); n++ {
			at := func(p [2]int) (float64, float64) {
				return left + float64(p[0])/1000*3*height, y + float64(p[1])/1000*height
			}
			x1, y1 := at(stroke[n-1])
			x2, y2 := at(stroke[n])
			pdf.Line(x1, y1, x2, y2)
		}
	}
	pdf.SetLineWidth(0.2)
	pdf.Line(left, y+height, left+width, y+height)
	pdf.SetXY(left, y+height+1)
	words := "Date, signature of the player or a guardian"
	switch {
	case s.OnPaper:
		words = fmt.Sprintf("Signed on paper by %s, noted on %s", s.By, s.At.Format("2 January 2006"))
	case s.By != "":
		words = fmt.Sprintf("%s, on %s", s.By, s.At.Format("2 January 2006, 15:04"))
	}
	t.paragraph(width, 5, "", 9, words)
}
