package formats

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"
	"unicode/utf16"
	"unicode/utf8"

	"golang.org/x/text/encoding/charmap"
)

// Limits of a table that is read: a school's file is far below them.
const (
	MaxTableBytes   = 5 << 20
	MaxTableRows    = 10_000
	maxTableColumns = 500
	maxTableCells   = 500_000
)

// The encodings of a text that are read.
const (
	UTF8        = "UTF-8"
	UTF16       = "UTF-16"
	Windows1252 = "Windows-1252"
)

// A Grid is the cells of a CSV file or of one sheet of a workbook, before anybody said what they mean.
type Grid struct {
	Name     string   // of the sheet in a workbook
	Names    []string // of all its sheets
	Encoding string   // of a text; empty for a workbook
	lines    []gridLine
	cells    int // in all lines
}

type gridLine struct {
	number int // in the file
	cells  []gridCell
}

// A gridCell is exact where the file itself says that it is a number or a day, and so nobody need ask how it was meant.
type gridCell struct {
	text  string
	exact bool
}

var zipStart = []byte("PK\x03\x04")

// IsZip reports whether content begins as a zip archive does: a workbook, or a roster's archive.
func IsZip(content []byte) bool { return bytes.HasPrefix(content, zipStart) }

// OpenGrid reads a CSV file in UTF-8, UTF-16 or Windows-1252 whose fields are divided by commas, semicolons or tabs, or a sheet of
// an Office Open XML workbook: the one of that name, else the first in which something stands. A file that is neither is refused with
// one Fault.
func OpenGrid(content []byte, name string) (*Grid, error) {
	if len(content) > MaxTableBytes {
		return nil, Fault{Message: fmt.Sprintf("the file is larger than %d MB", MaxTableBytes>>20)}
	}
	if IsZip(content) {
		return openWorkbook(content, name)
	}
	text, encoding, err := decode(content)
	if err != nil {
		return nil, err
	}
	g := &Grid{Encoding: encoding}
	read := csv.NewReader(bytes.NewReader(text))
	read.Comma = divider(text)
	read.FieldsPerRecord = -1
	for {
		record, err := read.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, lineFault(err)
		}
		number, _ := read.FieldPos(0)
		line := gridLine{number: number, cells: make([]gridCell, len(record))}
		for n, cell := range record {
			line.cells[n].text = strings.TrimSpace(cell)
		}
		if err := g.add(line); err != nil {
			return nil, err
		}
	}
	if len(g.lines) == 0 {
		return nil, Fault{Message: "the file is empty"}
	}
	return g, nil
}

// add keeps a line in which something stands.
func (g *Grid) add(line gridLine) error {
	if len(line.cells) > maxTableColumns {
		return Fault{Row: line.number, Message: fmt.Sprintf("has %d fields; %d are read at most", len(line.cells), maxTableColumns)}
	}
	if line.filled() == 0 {
		return nil
	}
	if len(g.lines) > MaxTableRows {
		return Fault{Message: fmt.Sprintf("the file has more than %d rows", MaxTableRows)}
	}
	if g.cells += len(line.cells); g.cells > maxTableCells {
		return Fault{Row: line.number, Message: fmt.Sprintf("the file has more than %d cells up to here; leave out columns that are not needed",
			maxTableCells)}
	}
	g.lines = append(g.lines, line)
	return nil
}

func (l gridLine) filled() int {
	n := 0
	for _, c := range l.cells {
		if c.text != "" {
			n++
		}
	}
	return n
}

// decode finds out how a text is encoded and returns it in UTF-8.
func decode(content []byte) ([]byte, string, error) {
	switch {
	case bytes.HasPrefix(content, []byte("\xff\xfe")):
		return decode16(content[2:], func(b []byte) uint16 { return uint16(b[0]) | uint16(b[1])<<8 }), UTF16, nil
	case bytes.HasPrefix(content, []byte("\xfe\xff")):
		return decode16(content[2:], func(b []byte) uint16 { return uint16(b[1]) | uint16(b[0])<<8 }), UTF16, nil
	}
	content = bytes.TrimPrefix(content, []byte("\ufeff"))
	if bytes.IndexByte(content, 0) >= 0 {
		return nil, "", Fault{Message: "this is neither a text nor a workbook; save the sheet as CSV or XLSX"}
	}
	if utf8.Valid(content) {
		return content, UTF8, nil
	}
	text, err := charmap.Windows1252.NewDecoder().Bytes(content)
	if err != nil {
		return nil, "", fmt.Errorf("reading the file as Windows-1252: %w", err)
	}
	// What Windows-1252 has no letter for was written in yet another way.
	if i := bytes.IndexRune(text, utf8.RuneError); i >= 0 {
		row := 1 + bytes.Count(text[:i], []byte("\n"))
		return nil, "", Fault{Row: row, Message: "holds a letter that cannot be read; save the file as “CSV UTF-8” and try again"}
	}
	return text, Windows1252, nil
}

func decode16(content []byte, unit func([]byte) uint16) []byte {
	units := make([]uint16, len(content)/2)
	for n := range units {
		units[n] = unit(content[2*n:])
	}
	return []byte(string(utf16.Decode(units)))
}

// divider is what divides most of the fields of the first lines.
func divider(text []byte) rune {
	head := text
	for range 10 {
		line, rest, more := bytes.Cut(head, []byte("\n"))
		if best, most := ',', bytes.Count(line, []byte(",")); most > 0 || bytes.ContainsAny(line, ";\t") {
			for _, r := range ";\t" {
				if n := bytes.Count(line, []byte(string(r))); n > most {
					best, most = r, n
				}
			}
			return best
		}
		if head = rest; !more {
			break
		}
	}
	return ','
}

func lineFault(err error) error {
	var parse *csv.ParseError
	if errors.As(err, &parse) {
		return Fault{Row: parse.Line, Message: "the quotation marks do not match: " + parse.Err.Error()}
	}
	return fmt.Errorf("reading the file: %w", err)
}
