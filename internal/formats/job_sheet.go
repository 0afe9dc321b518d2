package formats

import (
	"bytes"
	"fmt"
	"io"

	"codeberg.org/go-pdf/fpdf"
)

// A JobSheet goes with an instrument to a repair shop, on one page.
type JobSheet struct {
	School    string
	Label     Label
	Facts     [][2]string
	Found     []SheetFinding
	Works     []string
	Asks      string
	NotWanted string
	Decides   string
	Outline   []Stroke // the instrument's drawing
	Spots     []SheetSpot
	Photos    [][]byte // JPEG; the first few are shown
}

// SheetFinding is what was found, numbered as in the drawing; 0 where that has no place for it.
type SheetFinding struct {
	Number int
	Text   string
}

// SheetSpot is a place in the drawing, in its units.
type SheetSpot struct {
	Number int
	X, Y   float64
}

const sheetPhotos = 3

// WriteJobSheet writes a sheet as PDF, A4, one page.
func WriteJobSheet(w io.Writer, s JobSheet) error {
	const left, top, width = 18., 16., 174.
	pdf := fpdf.New("P", "mm", "A4", "")
	named(pdf, "Job sheet "+s.Label.Tag)
	pdf.SetMargins(left, top, left)
	pdf.SetAutoPageBreak(false, 0)
	t := newTypesetter(pdf)
	pdf.AddPage()
	if err := s.Label.draw(t, 210-18-80, top-3, 80, 34); err != nil {
		return fmt.Errorf("job sheet of %s: %w", s.Label.Tag, err)
	}
	t.paragraph(90, 4.6, "", 9, s.School)
	t.paragraph(90, 8.5, "B", 19, "Job sheet "+s.Label.Tag)
	t.paragraph(90, 5.4, "", 11, s.Label.Name)
	pdf.SetXY(left, top+33)
	for _, fact := range s.Facts {
		y := pdf.GetY()
		t.paragraph(34, 5, "", 9.5, fact[0])
		pdf.SetXY(left+34, y)
		t.paragraph(width-34, 5, "B", 9.5, fact[1])
		pdf.SetX(left)
	}
	heading := func(text string) {
		pdf.Ln(3)
		pdf.SetX(left)
		t.paragraph(width, 6, "B", 11.5, text)
	}
	heading("Please do")
	for _, work := range s.Works {
		y := pdf.GetY()
		pdf.SetLineWidth(0.3)
		pdf.Rect(left+0.5, y+0.9, 3.2, 3.2, "D")
		pdf.SetX(left + 6.5)
		t.paragraph(width-6.5, 5.4, "", 10.5, work)
		pdf.SetX(left)
	}
	if s.Asks != "" {
		t.paragraph(width, 5.2, "", 10.5, s.Asks)
	}
	if s.NotWanted != "" {
		heading("Please leave alone")
		t.paragraph(width, 5, "", 10, s.NotWanted)
	}
	heading("Before you do more")
	t.paragraph(width, 5, "", 10, "ask "+s.Decides)
	if len(s.Found) > 0 {
		heading("What was found")
		room := width
		if len(s.Outline) > 0 {
			room = width - 66
		}
		y := pdf.GetY()
		for _, f := range s.Found {
			text := "– " + f.Text
			if f.Number > 0 {
				text = fmt.Sprintf("%d  %s", f.Number, f.Text)
			}
			t.paragraph(room, 5, "", 10, text)
			pdf.SetX(left)
		}
		bottom := pdf.GetY()
		s.draw(t, left+width-60, y, 60, 60)
		if len(s.Outline) > 0 {
			bottom = max(bottom, y+60)
		}
		pdf.SetXY(left, bottom)
	}
	s.showPhotos(pdf, left, pdf.GetY()+4, width)
	if pdf.Err() {
		return fmt.Errorf("job sheet of %s: %w", s.Label.Tag, pdf.Error())
	}
	return pdf.Output(w)
}

// draw puts the drawing into a box, with numbers where something was found.
func (s JobSheet) draw(t *typesetter, x, y, width, height float64) {
	at, drawn := drawOutline(t.pdf, s.Outline, x, y, width, height)
	if !drawn {
		return
	}
	for _, spot := range s.Spots {
		cx, cy := at([2]float64{spot.X, spot.Y})
		t.pdf.SetFillColor(0, 0, 0)
		t.pdf.Circle(cx, cy, 2.4, "F")
		t.pdf.SetTextColor(255, 255, 255)
		t.line(cx-0.9, cy+1.2, "B", 8.5, fmt.Sprint(spot.Number))
		t.pdf.SetTextColor(0, 0, 0)
	}
}

// showPhotos puts the first photographs side by side, as far as there is room on the page.
func (s JobSheet) showPhotos(pdf *fpdf.Fpdf, x, y, width float64) {
	const gap, bottom = 4., 285.
	each := (width - gap*(sheetPhotos-1)) / sheetPhotos
	for n, jpeg := range s.Photos[:min(len(s.Photos), sheetPhotos)] {
		name := fmt.Sprintf("photo %d", n)
		info := pdf.RegisterImageOptionsReader(name, fpdf.ImageOptions{ImageType: "JPG"}, bytes.NewReader(jpeg))
		if pdf.Err() || info.Width() == 0 {
			return
		}
		w, h := each, each*info.Height()/info.Width()
		if h > bottom-y {
			w, h = w*(bottom-y)/h, bottom-y
		}
		if h < 15 {
			return
		}
		pdf.ImageOptions(name, x+float64(n)*(each+gap), y, w, h, false, fpdf.ImageOptions{ImageType: "JPG"}, 0, "")
	}
}
