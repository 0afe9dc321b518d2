package formats

import (
	"bytes"
	"slices"
	"strconv"
	"strings"

	"github.com/xuri/excelize/v2"
)

// openWorkbook reads a sheet of an Office Open XML workbook (ISO/IEC 29500). Days are written as 2026-11-24, whatever they look like
// in the workbook; of a formula its value counts.
func openWorkbook(content []byte, name string) (*Grid, error) {
	book, err := excelize.OpenReader(bytes.NewReader(content), excelize.Options{
		RawCellValue: true, UnzipSizeLimit: maxUnpacked, UnzipXMLSizeLimit: maxUnpacked,
	})
	if err != nil {
		return nil, Fault{Message: "this is no workbook that can be read, or it is damaged; save it as XLSX or CSV without a password"}
	}
	defer book.Close()
	g := &Grid{Names: book.GetSheetList()}
	if name != "" {
		if !slices.Contains(g.Names, name) {
			return nil, Fault{Message: "the workbook has no sheet “" + name + "”"}
		}
		g.Name = name
		return g, g.fill(book)
	}
	for _, g.Name = range g.Names {
		if err := g.fill(book); err != nil || len(g.lines) > 0 {
			return g, err
		}
	}
	return nil, Fault{Message: "the workbook is empty"}
}

func (g *Grid) fill(book *excelize.File) error {
	rows, err := book.Rows(g.Name)
	if err != nil {
		return Fault{Message: "the sheet “" + g.Name + "” cannot be read"}
	}
	defer rows.Close()
	types, err := typesOf(book, g.Name)
	if err != nil {
		return err
	}
	days := dayStyles{book, map[int]bool{}}
	properties, err := book.GetWorkbookProps()
	if err != nil {
		return err
	}
	from1904 := properties.Date1904 != nil && *properties.Date1904
	for number := 1; rows.Next(); number++ {
		texts, err := rows.Columns()
		if err != nil {
			return Fault{Row: number, Message: "cannot be read"}
		}
		typed := types.row(number)
		line := gridLine{number: number, cells: make([]gridCell, len(texts))}
		for n, text := range texts {
			line.cells[n] = gridCell{text: strings.TrimSpace(text)}
			value, err := strconv.ParseFloat(text, 64)
			if err != nil || n >= len(typed) || !typed[n].number {
				continue
			}
			// A number is kept with as many digits as it was typed with, so 0.1 + 0.2 does not show its error.
			line.cells[n] = gridCell{strconv.FormatFloat(round15(value), 'f', -1, 64), true}
			if days.is(typed[n].style) {
				if on, err := excelize.ExcelDateToTime(value, from1904); err == nil {
					line.cells[n].text = on.Format("2006-01-02")
				}
			}
		}
		if err := g.add(line); err != nil {
			return err
		}
	}
	return rows.Error()
}

// round15 leaves a number its fifteen significant digits, which is what spreadsheet programs show at most.
func round15(v float64) float64 {
	short, err := strconv.ParseFloat(strconv.FormatFloat(v, 'g', 15, 64), 64)
	if err != nil {
		return v
	}
	return short
}

// dayStyles tells which number formats of a workbook show days.
type dayStyles struct {
	book *excelize.File
	seen map[int]bool
}

func (d dayStyles) is(id int) bool {
	if id == 0 {
		return false
	}
	shows, seen := d.seen[id]
	if !seen {
		if style, err := d.book.GetStyle(id); err == nil {
			shows = showsDay(style)
		}
		d.seen[id] = shows
	}
	return shows
}

// showsDay reports whether a number format shows a day: one of the formats that every workbook has (ISO/IEC 29500-1, 18.8.30), or one
// of its own with a year, or a day and a month.
func showsDay(style *excelize.Style) bool {
	n := style.NumFmt
	if n >= 14 && n <= 17 || n == 22 || n >= 27 && n <= 36 || n >= 50 && n <= 58 {
		return true
	}
	if style.CustomNumFmt == nil {
		return false
	}
	var letters strings.Builder
	quoted, bracket := false, false
	for _, r := range strings.ToLower(*style.CustomNumFmt) {
		switch {
		case r == '"':
			quoted = !quoted
		case r == '[' || r == ']':
			bracket = r == '['
		case !quoted && !bracket:
			letters.WriteRune(r)
		}
	}
	format := letters.String()
	return strings.Contains(format, "yy") || strings.Contains(format, "d") && strings.Contains(format, "m")
}
