package formats

import (
	"bytes"
	"encoding/xml"
	"path"
	"strconv"
	"strings"

	"github.com/xuri/excelize/v2"
)

// A cellType is what a sheet says of a cell beside its text.
type cellType struct {
	number bool
	style  int // of the workbook's list, 0 for the usual one
}

// sheetTypes tells row by row how the cells of a sheet are typed. The library has the rows one after the other too, but types and styles
// only of a sheet that it holds whole, which takes thirty times the file.
type sheetTypes struct {
	read *xml.Decoder
	next int // the row that was read and not asked for yet
	at   []cellType
}

// typesOf begins with the first row of a sheet.
func typesOf(book *excelize.File, sheet string) (*sheetTypes, error) {
	for _, s := range book.WorkBook.Sheets.Sheet {
		if s.Name != sheet {
			continue
		}
		links := struct {
			Links []struct {
				ID     string `xml:"Id,attr"`
				Target string `xml:"Target,attr"`
			} `xml:"Relationship"`
		}{}
		if err := xml.Unmarshal(part(book, "xl/_rels/workbook.xml.rels"), &links); err != nil {
			break
		}
		for _, link := range links.Links {
			if link.ID != s.ID {
				continue
			}
			name := path.Join("xl", link.Target)
			if absolute, ok := strings.CutPrefix(link.Target, "/"); ok {
				name = absolute
			}
			return &sheetTypes{read: xml.NewDecoder(bytes.NewReader(part(book, name)))}, nil
		}
	}
	return nil, Fault{Message: "the sheet “" + sheet + "” cannot be read"}
}

// part is a file in the workbook's archive; empty when there is none.
func part(book *excelize.File, name string) []byte {
	content, _ := book.Pkg.Load(name)
	text, _ := content.([]byte)
	return text
}

// row returns what is known of the cells of a row, counted from 1. Rows are asked for in their order.
func (s *sheetTypes) row(number int) []cellType {
	for s.next < number {
		if !s.readRow() {
			return nil
		}
	}
	if s.next > number {
		return nil
	}
	return s.at
}

// readRow reads the next row that the sheet has. What is damaged ends it: the library says so.
func (s *sheetTypes) readRow() bool {
	s.at = s.at[:0]
	inRow := false
	for {
		token, err := s.read.RawToken()
		if err != nil {
			return false
		}
		switch tag := token.(type) {
		case xml.StartElement:
			switch {
			case tag.Name.Local == "row":
				inRow = true
				s.next++
				if n, err := strconv.Atoi(attribute(tag, "r")); err == nil && n >= s.next {
					s.next = n
				}
			case inRow && tag.Name.Local == "c":
				s.cell(tag)
			}
		case xml.EndElement:
			if tag.Name.Local == "row" {
				return true
			}
		}
	}
}

// cell keeps what a cell says of itself, behind those that the row leaves out.
func (s *sheetTypes) cell(tag xml.StartElement) {
	column := len(s.at) + 1
	if n, _, err := excelize.CellNameToCoordinates(attribute(tag, "r")); err == nil && n >= column {
		column = n
	}
	if column > maxTableColumns {
		return
	}
	for len(s.at) < column-1 {
		s.at = append(s.at, cellType{})
	}
	// A number is written without a type of its own (ISO/IEC 29500-1, 18.18.11: n is the default); str is what a formula came to.
	kind := attribute(tag, "t")
	of := cellType{number: kind == "" || kind == "n" || kind == "str"}
	if style, err := strconv.Atoi(attribute(tag, "s")); err == nil {
		of.style = style
	}
	s.at = append(s.at, of)
}

func attribute(tag xml.StartElement, name string) string {
	for _, a := range tag.Attr {
		if a.Name.Local == name && a.Name.Space == "" {
			return a.Value
		}
	}
	return ""
}
