package formats

import (
	"fmt"
	"io"

	"codeberg.org/go-pdf/fpdf"
)

// A TripSheet is what a driver takes along: what is loaded in which order, and for each counter what is left and fetched there.
type TripSheet struct {
	School string
	Day    string
	Driver string
	Note   string
	AsOf   string     // the day on which it stood so
	Load   [][]string // rows of: tag, kind, places, from where, for which shop
	Shops  []Counter
}

// Counter is what is left and fetched at a shop.
type Counter struct {
	Name, Address string
	Leave         [][]string // rows of: tag, kind, what is to be done
	Fetch         [][]string // rows of: tag, kind, what was to be done
}

// WriteTripSheet writes a sheet as PDF, A4: the loading list, then a page for each counter.
func WriteTripSheet(w io.Writer, s TripSheet) error {
	const left, top, width = 18., 16., 174.
	pdf := fpdf.New("P", "mm", "A4", "")
	named(pdf, "Trip on "+s.Day)
	pdf.SetMargins(left, top, left)
	pdf.SetAutoPageBreak(true, top)
	t := newTypesetter(pdf)
	page := func(heading, below string) {
		pdf.AddPage()
		t.paragraph(width, 4.6, "", 9, s.School)
		t.paragraph(width, 8.5, "B", 17, heading)
		t.paragraph(width, 5.2, "", 10.5, below)
		pdf.Ln(2)
	}
	rows := func(heading string, list [][]string, widths []float64) {
		if len(list) == 0 {
			return
		}
		t.paragraph(width, 7, "B", 11.5, heading)
		t.checklist(list, widths)
		pdf.Ln(2)
	}
	by := s.Day
	if s.Driver != "" {
		by += ", " + s.Driver + " drives"
	}
	by += "\nAs it stood on " + s.AsOf
	if s.Note != "" {
		by += "\n" + s.Note
	}
	page("Loading list", by)
	rows("In this order: the last on the list is the first out of the van", s.Load, []float64{24, 44, 16, 44, 34})
	for _, c := range s.Shops {
		page(c.Name, by+"\n"+c.Address)
		rows("To leave here", c.Leave, []float64{24, 44, 94})
		rows("To fetch here", c.Fetch, []float64{24, 44, 94})
		pdf.Ln(8)
		pdf.SetLineWidth(0.2)
		pdf.Line(left, pdf.GetY()+10, left+width, pdf.GetY()+10)
		pdf.SetY(pdf.GetY() + 11)
		t.paragraph(width, 5, "", 9, "Received at the counter: date, name")
	}
	if pdf.Err() {
		return fmt.Errorf("trip sheet: %w", pdf.Error())
	}
	return pdf.Output(w)
}
