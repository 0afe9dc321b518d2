package formats

import (
	"fmt"
	"io"

	"codeberg.org/go-pdf/fpdf"
)

// A ReadinessSheet says of the coming concerts whose chair is not ready yet, and the quickest way.
type ReadinessSheet struct {
	School, Day string
	Concerts    []ConcertSheet
}

// ConcertSheet is one concert.
type ConcertSheet struct {
	Heading string // name and day
	Ready   string
	Seats   string     // by ensemble
	Rows    [][]string // tag, player and ensemble, what is wrong, the way, by when
}

// WriteReadinessSheet writes a sheet as PDF, A4.
func WriteReadinessSheet(w io.Writer, s ReadinessSheet) error {
	const edge, width = 16., 178.
	pdf := fpdf.New("P", "mm", "A4", "")
	named(pdf, "Ready for the concert")
	pdf.SetMargins(edge, edge, edge)
	pdf.SetAutoPageBreak(false, edge)
	t := newTypesetter(pdf)
	pdf.AddPage()
	t.paragraph(width, 4.6, "", 9, s.School)
	t.paragraph(width, 8.5, "B", 17, "Ready for the concert")
	t.paragraph(width, 5.2, "", 10.5, "As of "+s.Day)
	for _, c := range s.Concerts {
		pdf.Ln(4)
		if _, page := pdf.GetPageSize(); pdf.GetY() > page-edge-40 {
			pdf.AddPage()
		}
		t.paragraph(width, 7, "B", 12.5, c.Heading)
		t.paragraph(width, 5.4, "B", 10.5, c.Ready)
		t.paragraph(width, 5.2, "", 10, c.Seats)
		pdf.Ln(1)
		t.checklist(c.Rows, []float64{20, 46, 40, 38, 22})
	}
	if pdf.Err() {
		return fmt.Errorf("readiness sheet: %w", pdf.Error())
	}
	return pdf.Output(w)
}
