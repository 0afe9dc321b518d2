package formats

import (
	"fmt"
	"io"
	"slices"
	"strings"

	"codeberg.org/go-pdf/fpdf"
	"github.com/boombuler/barcode"
	"github.com/boombuler/barcode/code128"
	"github.com/boombuler/barcode/qr"
)

// A Label is what stands on an instrument's case, or on a player's card.
type Label struct {
	Tag    string // in large letters
	Code   string // as QR code and as Code 128: a scanner types it; the tag when empty
	Name   string // of the kind, with its size
	School string
}

// A Sheet of labels: how many across and down, each how large, and where the first begins. Lengths in millimetres.
type Sheet struct {
	Key            string
	Name           string
	paper          string
	across, down   int
	width, height  float64
	left, top, gap float64 // gap stands between columns
}

// Sheets are label sheets in common sizes.
var Sheets = []Sheet{
	{"a4-24", "A4, 24 labels of 70 × 37 mm", "A4", 3, 8, 70, 37, 0, 0.5, 0},
	{"a4-14", "A4, 14 labels of 99.1 × 38.1 mm", "A4", 2, 7, 99.1, 38.1, 4.65, 15.15, 2.5},
	{"letter-30", "Letter, 30 labels of 2⅝ × 1 in", "Letter", 3, 10, 66.68, 25.4, 4.76, 12.7, 3.18},
}

// FindSheet finds a sheet by its key.
func FindSheet(key string) (Sheet, bool) {
	n := slices.IndexFunc(Sheets, func(s Sheet) bool { return s.Key == key })
	if n < 0 {
		return Sheet{}, false
	}
	return Sheets[n], true
}

// PerPage is how many labels a sheet has.
func (s Sheet) PerPage() int { return s.across * s.down }

// WriteLabels writes labels as PDF, leaving the first skip places free, where a sheet was begun before.
func WriteLabels(w io.Writer, s Sheet, labels []Label, skip int) error {
	if skip < 0 || skip >= s.PerPage() {
		return fmt.Errorf("skip: %d places are not on a sheet of %d", skip, s.PerPage())
	}
	pdf := fpdf.New("P", "mm", s.paper, "")
	named(pdf, "Labels")
	pdf.SetAutoPageBreak(false, 0)
	setter := newTypesetter(pdf)
	for n, label := range labels {
		at := (n + skip) % s.PerPage()
		if n == 0 || at == 0 {
			pdf.AddPage()
		}
		x := s.left + float64(at%s.across)*(s.width+s.gap)
		y := s.top + float64(at/s.across)*s.height
		if err := label.draw(setter, x, y, s.width, s.height); err != nil {
			return fmt.Errorf("label %s: %w", label.Tag, err)
		}
	}
	if len(labels) == 0 {
		pdf.AddPage()
	}
	return pdf.Output(w)
}

// draw puts the QR code at the left, the words beside it, and the bars below them.
func (l Label) draw(t *typesetter, x, y, width, height float64) error {
	const margin = 3
	code, err := qr.Encode(l.typed(), qr.M, qr.Auto)
	if err != nil {
		return err
	}
	side := min(height-2*margin, width/3)
	modules(t.pdf, code, x+margin, y+(height-side)/2, side, side)
	left := x + margin + side + margin
	room := x + width - margin - left
	line := func(style string, size, below float64, text string) {
		for size > 5 && t.width(style, size, text) > room {
			size -= 0.5
		}
		t.line(left, y+below, style, size, text)
	}
	line("B", min(22, height*0.55), height*0.3, l.Tag)
	line("", 8, height*0.42, l.Name)
	line("", 6.5, height*0.52, l.School)
	bars, err := code128.Encode(l.typed())
	if err != nil {
		return err
	}
	modules(t.pdf, bars, left, y+height*0.58, min(room, float64(bars.Bounds().Dx())*0.4), height*0.32)
	return nil
}

// typed is what a scanner types.
func (l Label) typed() string {
	if l.Code == "" {
		return l.Tag
	}
	return l.Code
}

// modules draws a code as filled squares or bars, sharp at any size.
func modules(pdf *fpdf.Fpdf, code barcode.Barcode, x, y, width, height float64) {
	box := code.Bounds()
	w, h := width/float64(box.Dx()), height/float64(box.Dy())
	pdf.SetFillColor(0, 0, 0)
	for row := range box.Dy() {
		for from := 0; from < box.Dx(); {
			if !dark(code, from, row) {
				from++
				continue
			}
			to := from
			for to < box.Dx() && dark(code, to, row) {
				to++
			}
			pdf.Rect(x+float64(from)*w, y+float64(row)*h, float64(to-from)*w, h*1.01, "F")
			from = to
		}
	}
}

func dark(code barcode.Barcode, x, y int) bool {
	r, _, _, _ := code.At(code.Bounds().Min.X+x, code.Bounds().Min.Y+y).RGBA()
	return r < 0x8000
}

// SheetChoices lists the sheets for an error or a choice.
func SheetChoices() string {
	keys := []string{}
	for _, s := range Sheets {
		keys = append(keys, s.Key)
	}
	return strings.Join(keys, ", ")
}
