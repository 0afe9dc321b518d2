package formats

import "fmt"

// checklist writes numbered rows to tick off from where the page stands, their columns so wide in millimetres, the first one bold. A row
// is not broken between two pages.
func (t *typesetter) checklist(list [][]string, widths []float64) {
	const size, height = 10., 5.4
	left, _, _, bottom := t.pdf.GetMargins()
	_, page := t.pdf.GetPageSize()
	style := func(column int) string {
		if column == 0 {
			return "B"
		}
		return ""
	}
	for n, row := range list {
		rows := 1
		for c, text := range row {
			rows = max(rows, t.rows(widths[c]-2, style(c), size, text))
		}
		if t.pdf.GetY()+float64(rows)*height > page-bottom {
			t.pdf.AddPage()
		}
		x, y := left, t.pdf.GetY()
		t.pdf.SetLineWidth(0.3)
		t.pdf.Rect(x, y+0.9, 3.4, 3.4, "D")
		t.pdf.SetXY(x+5, y)
		t.paragraph(7, height, "", size, fmt.Sprint(n+1))
		x += 12
		for c, text := range row {
			t.pdf.SetXY(x, y)
			t.paragraph(widths[c]-2, height, style(c), size, text)
			x += widths[c]
		}
		t.pdf.SetXY(left, y+float64(rows)*height+1)
	}
}
