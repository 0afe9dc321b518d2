// Package formats reads and writes the open files that go in and out.
package formats

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"
	"unicode/utf8"
)

// Limits of a table that is read: a school's file is far below them.
const (
	MaxTableBytes = 5 << 20
	MaxTableRows  = 10_000
)

// A Fault is one place in a file that cannot be used.
type Fault struct {
	Row     int    `json:"row" doc:"Line of the file, the header being 1; 0 for the whole file"`
	Column  string `json:"column,omitempty"`
	Value   string `json:"value,omitempty"`
	Message string `json:"message"`
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
}

// A Row is one line of a table.
type Row struct {
	Line  int // in the file, the header being 1
	cells map[string]string
}

// Cell returns the text in a column, trimmed; ok is false when the file has no such column.
func (r Row) Cell(column string) (text string, ok bool) {
	text, ok = r.cells[column]
	return text, ok
}

// formulaStarts are the characters with which spreadsheet programs begin a formula.
const formulaStarts = "=+-@\t\r"

// ReadTable reads a CSV file in UTF-8 whose fields are divided by commas, semicolons or tabs, whichever the header
// uses. A file that is no such table is refused with one Fault; cells that look like formulas are listed as faults
// beside the table.
func ReadTable(r io.Reader) (Table, []Fault, error) {
	text, err := io.ReadAll(io.LimitReader(r, MaxTableBytes+1))
	if err != nil {
		return Table{}, nil, fmt.Errorf("reading the file: %w", err)
	}
	if len(text) > MaxTableBytes {
		return Table{}, nil, Fault{Message: fmt.Sprintf("the file is larger than %d MB", MaxTableBytes>>20)}
	}
	text = bytes.TrimPrefix(text, []byte("\ufeff"))
	if i := firstInvalid(text); i >= 0 {
		return Table{}, nil, Fault{
			Row:     1 + bytes.Count(text[:i], []byte("\n")),
			Message: "holds a character that is not UTF-8; save the file as “CSV UTF-8” and try again",
		}
	}
	if bytes.IndexByte(text, 0) >= 0 {
		return Table{}, nil, Fault{Message: "this is not a text file; save the sheet as CSV"}
	}
	read := csv.NewReader(bytes.NewReader(text))
	read.Comma = divider(text)
	read.FieldsPerRecord = -1
	header, err := read.Read()
	if errors.Is(err, io.EOF) {
		return Table{}, nil, Fault{Message: "the file is empty"}
	}
	if err != nil {
		return Table{}, nil, lineFault(err)
	}
	t := Table{}
	for _, name := range header {
		name = strings.ToLower(strings.TrimSpace(name))
		if name != "" && slices.Contains(t.Columns, name) {
			return Table{}, nil, Fault{Row: 1, Column: name, Message: "stands in the header twice"}
		}
		t.Columns = append(t.Columns, name)
	}
	var faults []Fault
	for {
		record, err := read.Read()
		if errors.Is(err, io.EOF) {
			return t, faults, nil
		}
		if err != nil {
			return Table{}, nil, lineFault(err)
		}
		line, _ := read.FieldPos(0)
		if len(t.Rows) == MaxTableRows {
			return Table{}, nil, Fault{Message: fmt.Sprintf("the file has more than %d rows", MaxTableRows)}
		}
		if len(record) > len(t.Columns) {
			faults = append(faults, Fault{Row: line, Message: fmt.Sprintf("has %d fields, the header %d", len(record), len(t.Columns))})
			continue
		}
		row := Row{line, make(map[string]string, len(record))}
		for i, cell := range record {
			cell = strings.TrimSpace(cell)
			if looksLikeFormula(cell) {
				faults = append(faults, Fault{line, t.Columns[i], cell, "looks like a formula; write its value"})
				cell = "" // one fault is enough
			}
			row.cells[t.Columns[i]] = unescape(cell)
		}
		if strings.Join(record, "") != "" {
			t.Rows = append(t.Rows, row)
		}
	}
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

func startsFormula(cell string) bool {
	return cell != "" && strings.ContainsRune(formulaStarts, rune(cell[0]))
}

// looksLikeFormula forgives a lone dash and negative numbers.
func looksLikeFormula(cell string) bool {
	if !startsFormula(cell) {
		return false
	}
	rest := strings.TrimLeft(cell, "-")
	return rest == cell || strings.Trim(rest, "0123456789., ") != ""
}

func divider(text []byte) rune {
	header, _, _ := bytes.Cut(text, []byte("\n"))
	best, most := ',', bytes.Count(header, []byte(","))
	for _, r := range ";\t" {
		if n := bytes.Count(header, []byte(string(r))); n > most {
			best, most = r, n
		}
	}
	return best
}

func firstInvalid(text []byte) int {
	for i := 0; i < len(text); {
		r, n := utf8.DecodeRune(text[i:])
		if r == utf8.RuneError && n == 1 {
			return i
		}
		i += n
	}
	return -1
}

func lineFault(err error) error {
	var parse *csv.ParseError
	if errors.As(err, &parse) {
		return Fault{Row: parse.Line, Message: "the quotation marks do not match: " + parse.Err.Error()}
	}
	return fmt.Errorf("reading the file: %w", err)
}
