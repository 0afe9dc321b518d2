package formats

import (
	"fmt"
	"io"
	"strconv"

	"github.com/xuri/excelize/v2"
)

// WriteWorkbook writes a table as an Office Open XML workbook (ISO/IEC 29500) of one sheet. A column of
// nothing but plain numbers is kept as numbers, so that it can be added up; everything else is text and never a formula.
func WriteWorkbook(w io.Writer, sheet string, columns []string, rows [][]string) (err error) {
	book := excelize.NewFile()
	defer func() {
		if closed := book.Close(); err == nil {
			err = closed
		}
	}()
	if err := book.SetSheetName("Sheet1", sheet); err != nil {
		return fmt.Errorf("naming the sheet %q: %w", sheet, err)
	}
	bold, err := book.NewStyle(&excelize.Style{Font: &excelize.Font{Bold: true}})
	if err != nil {
		return err
	}
	stream, err := book.NewStreamWriter(sheet)
	if err != nil {
		return err
	}
	if err := stream.SetColWidth(1, max(1, len(columns)), 16); err != nil {
		return err
	}
	numbers := make([]bool, len(columns))
	for c := range numbers {
		numbers[c] = true
		for _, cells := range rows {
			numbers[c] = numbers[c] && (c >= len(cells) || cells[c] == "" || plain(cells[c]))
		}
	}
	for n, cells := range append([][]string{columns}, rows...) {
		values := make([]any, len(cells))
		for c, text := range cells {
			values[c] = text
			if v, err := strconv.ParseFloat(text, 64); err == nil && c < len(numbers) && numbers[c] {
				values[c] = v
			}
			if n == 0 {
				values[c] = excelize.Cell{StyleID: bold, Value: text}
			}
		}
		if err := stream.SetRow(fmt.Sprintf("A%d", n+1), values); err != nil {
			return fmt.Errorf("row %d: %w", n+1, err)
		}
	}
	if err := stream.Flush(); err != nil {
		return err
	}
	return book.Write(w)
}

// plain reports whether a text is a number of digits and at most one point, without a leading nought that would be lost.
func plain(text string) bool {
	points := 0
	for n, c := range text {
		switch {
		case c == '.' && n > 0:
			points++
		case c < '0' || c > '9':
			return false
		}
	}
	return points <= 1 && len(text) <= 15 && (len(text) < 2 || text[0] != '0' || text[1] == '.')
}
