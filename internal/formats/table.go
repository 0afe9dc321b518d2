// Package formats reads and writes the open files that go in and out.
package formats

import (
	"cmp"
	"encoding/csv"
	"fmt"
	"io"
	"slices"
	"strings"
)

// A Fault is one place in a file that cannot be used.
type Fault struct {
	Row     int    `json:"row" doc:"Line of the file, the header being 1; 0 for the whole file"`
	Column  string `json:"column,omitempty"`
	Value   string `json:"value,omitempty"`
	Message string `json:"message"`
	More    []int  `json:"more_rows,omitempty" doc:"Further rows with the same fault"`
}

// Grouped makes one fault of those that say the same of one column, in the order of rows.
func Grouped(faults []Fault) []Fault {
	type same struct{ column, message string }
	first := map[same]int{}
	grouped := []Fault{}
	slices.SortStableFunc(faults, func(x, y Fault) int { return x.Row - y.Row })
	for _, f := range faults {
		if n, ok := first[same{f.Column, f.Message}]; ok {
			grouped[n].More = append(grouped[n].More, f.Row)
			continue
		}
		first[same{f.Column, f.Message}] = len(grouped)
		grouped = append(grouped, f)
	}
	return grouped
}

func (f Fault) Error() string {
	switch {
	case f.Row == 0:
		return f.Message
	case f.Column == "":
		return fmt.Sprintf("row %d: %s", f.Row, f.Message)
	}
	return fmt.Sprintf("row %d, column %s: %s", f.Row, f.Column, f.Message)
}

// A Table is a file of rows under a header.
type Table struct {
	Columns []string
	Rows    []Row
	theirs  map[string]string
}

// Theirs is what the file calls one of our columns.
func (t Table) Theirs(ours string) string { return cmp.Or(t.theirs[ours], ours) }

// A Row is one line of a table.
type Row struct {
	Line  int // in the file
	cells map[string]string
	exact map[string]bool // the file itself says what it is
}

// Cell returns the text in a column, trimmed; ok is false when the file has no such column.
func (r Row) Cell(column string) (text string, ok bool) {
	text, ok = r.cells[column]
	return text, ok
}

// formulaStarts are the characters with which spreadsheet programs begin a formula.
const formulaStarts = "=+-@\t\r"

// ReadTable reads a table whose first row is its header and whose columns are called as its reader calls them: a part of a roster's
// archive. A file that is no such table is refused with one Fault; cells that look like formulas are listed as faults beside the table.
func ReadTable(r io.Reader) (Table, []Fault, error) {
	text, err := io.ReadAll(io.LimitReader(r, MaxTableBytes+1))
	if err != nil {
		return Table{}, nil, fmt.Errorf("reading the file: %w", err)
	}
	sheet, err := OpenGrid(text, "")
	if err != nil {
		return Table{}, nil, err
	}
	columns := Columns{}
	for _, c := range sheet.lines[0].cells {
		columns.Known = append(columns.Known, Column{Name: strings.ToLower(c.text)})
	}
	table, _, faults, err := sheet.Read(columns, Reading{HeaderRow: sheet.lines[0].number}, nil)
	return table, faults, err
}

// A Writer writes a table to a file.
type Writer func(columns []string, rows [][]string) error

// CSV is the Writer of a CSV file.
func CSV(w io.Writer) Writer {
	return func(columns []string, rows [][]string) error { return WriteTable(w, columns, rows) }
}

// Workbook is the Writer of a workbook of one sheet.
func Workbook(w io.Writer, sheet string) Writer {
	return func(columns []string, rows [][]string) error { return WriteWorkbook(w, sheet, columns, rows) }
}

// WriteTable writes a CSV file in UTF-8. Cells that a spreadsheet program would run as formulas get an apostrophe in
// front, which ReadTable takes away again.
func WriteTable(w io.Writer, columns []string, rows [][]string) error {
	out := csv.NewWriter(w)
	if err := out.Write(columns); err != nil {
		return fmt.Errorf("writing the header: %w", err)
	}
	for i, row := range rows {
		safe := make([]string, len(row))
		for j, cell := range row {
			safe[j] = escape(cell)
		}
		if err := out.Write(safe); err != nil {
			return fmt.Errorf("writing row %d: %w", i+2, err)
		}
	}
	out.Flush()
	return out.Error()
}

func escape(cell string) string {
	if startsFormula(strings.TrimLeft(cell, "'")) {
		return "'" + cell
	}
	return cell
}

func unescape(cell string) string {
	if strings.HasPrefix(cell, "'") && startsFormula(strings.TrimLeft(cell, "'")) {
		return cell[1:]
	}
	return cell
}

// startsFormula looks past blanks: some spreadsheet programs do too.
func startsFormula(cell string) bool {
	cell = strings.TrimLeft(cell, " \u00a0\ufeff")
	return cell != "" && strings.ContainsRune(formulaStarts, rune(cell[0]))
}

// looksLikeFormula forgives a lone dash, negative numbers and telephone numbers such as +49 170 5550142.
func looksLikeFormula(cell string) bool {
	if !startsFormula(cell) {
		return false
	}
	if phone, plus := strings.CutPrefix(cell, "+"); plus && phone != "" && strings.Trim(phone, "0123456789 ()/.-") == "" {
		return false
	}
	rest := strings.TrimLeft(cell, "-")
	return rest == cell || strings.Trim(rest, "0123456789., ") != ""
}
