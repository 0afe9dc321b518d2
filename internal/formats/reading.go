package formats

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"solfeggio/internal/core/spelling"
)

// A CellType says what stands in a column.
type CellType int

// The types of a column.
const (
	Text   CellType = iota
	Date            // read as 2026-11-24
	Amount          // read as 1250.5
	Size            // such as 3/4
)

// A Column is one that a file of ours knows.
type Column struct {
	Name  string   `json:"name"`
	Words string   `json:"words" doc:"The same for people"`
	Type  CellType `json:"-"`
}

// Columns is what a kind of file knows: instruments or players, as headings.yaml calls them.
type Columns struct {
	File  string
	Known []Column
	Open  func(name string) bool            // names beside the known ones, each of days; nil for none
	Sizes []string                          // that a Size may be
	Year  int                               // that it is now: a year of two digits lies not ahead of it
	Fits  map[string]func(text string) bool // by column: whether a text can stand in it, to find one whose name says nothing
}

// A Reading is what a person said of a file. The zero value leaves everything to be found out.
type Reading struct {
	Sheet        string            `json:"sheet,omitempty" doc:"Of a workbook; the first in which something stands when left out"`
	HeaderRow    int               `json:"header_row,omitempty" jsonschema:"minimum=0,maximum=1048576" doc:"Line of the file with the names of the columns; 0 finds it"`
	Columns      map[string]string `json:"columns,omitempty" doc:"Our columns by those of the file; an empty one is not read"`
	DayOrder     string            `json:"day_order,omitempty" jsonschema:"enum=,enum=day-month,enum=month-day" doc:"How 03/04/2020 is meant"`
	Decimal      string            `json:"decimal,omitempty" jsonschema:"enum=,enum=comma,enum=point" doc:"How 1,250 or 1.250 is meant: what divides the fraction"`
	RestoreSizes bool              `json:"restore_sizes,omitempty" doc:"Make sizes again of the days that a spreadsheet program made of them"`
	Kinds        map[string]string `json:"kinds,omitempty" doc:"What names of the file that are no kind here mean, such as “Trumpet”, or “Cajon like Snare drum” for a kind of one's own"`
}

// AsRead says how a file was read.
type AsRead struct {
	Sheets    []string       `json:"sheets" doc:"Of a workbook"`
	Sheet     string         `json:"sheet,omitempty"`
	Encoding  string         `json:"encoding,omitempty" doc:"Of a text"`
	HeaderRow int            `json:"header_row"`
	Columns   []ReadColumn   `json:"columns" doc:"As the file names them, in its order"`
	Known     []Column       `json:"known" doc:"What a column can be"`
	Questions []FileQuestion `json:"questions" doc:"What only a person can say; as long as there is one, nothing is imported"`
	Remarks   []string       `json:"remarks" doc:"What was found out about the file"`
	Unknown   []UnknownKind  `json:"unknown_kinds" doc:"Names that are no kind here, until the reading's kinds say what they mean"`

	kinds map[string]string // what was said of such names
}

// An UnknownKind is what a file calls an instrument that is no kind here.
type UnknownKind struct {
	Text string `json:"text"`
	Rows int    `json:"rows"`
	Near string `json:"near" doc:"Name of a kind that is called nearly so, or empty"`
}

// A ReadColumn is a column of a file and what it is taken for.
type ReadColumn struct {
	Theirs  string `json:"theirs"`
	Ours    string `json:"ours" doc:"Empty when it is not read"`
	Example string `json:"example" doc:"The first text in it"`
}

// A FileQuestion is asked once for a file.
type FileQuestion struct {
	About   string       `json:"about" enum:"day_order,decimal,restore_sizes"`
	Text    string       `json:"text"`
	Rows    int          `json:"rows" doc:"How many rows hang on it"`
	Answers []FileAnswer `json:"answers"`
}

// A FileAnswer is a value of the Reading and what it means for the first cell that asks.
type FileAnswer struct {
	Value string `json:"value"`
	Text  string `json:"text"`
}

// NotRead says nothing of a file that could not be opened.
func NotRead() AsRead {
	return AsRead{
		Sheets: []string{}, Columns: []ReadColumn{}, Known: []Column{}, Questions: []FileQuestion{}, Remarks: []string{},
		Unknown: []UnknownKind{},
	}
}

// RememberedKinds is the name under which Remember keeps what names of kinds mean, beside those of files.
const RememberedKinds = "kinds"

// Remember adds to what was said of columns, by file, how this one was read, and to what was said of names of kinds.
func Remember(known map[string]map[string]string, file string, as AsRead) map[string]map[string]string {
	all, columns := maps.Clone(known), maps.Clone(known[file])
	if all == nil {
		all = map[string]map[string]string{}
	}
	if columns == nil || len(columns) > maxTableColumns {
		columns = map[string]string{}
	}
	for _, c := range as.Columns {
		columns[c.Theirs] = c.Ours
	}
	all[file] = columns
	if len(as.kinds) > 0 {
		kinds := maps.Clone(as.kinds)
		if before := all[RememberedKinds]; len(before) <= maxTableColumns {
			for text, means := range before {
				if _, said := kinds[text]; !said {
					kinds[text] = means
				}
			}
		}
		all[RememberedKinds] = kinds
	}
	return all
}

// Read makes a table of a sheet: its header, which of its columns is which of ours, and what its days, numbers and sizes mean. What is
// known of names of columns beside the Reading, earlier ones for example, stands in remembered. The error is a Fault of the whole file.
func (g *Grid) Read(known Columns, in Reading, remembered map[string]string) (Table, AsRead, []Fault, error) {
	r := &reader{grid: g, known: known, in: in, remembered: remembered, names: headings().of(known.File)}
	r.as = NotRead()
	r.as.kinds = in.Kinds
	r.as.Known = append(r.as.Known, known.Known...)
	r.as.Sheets, r.as.Sheet, r.as.Encoding = append(r.as.Sheets, g.Names...), g.Name, g.Encoding
	if g.Encoding == Windows1252 {
		r.as.Remarks = append(r.as.Remarks, "The file is not in UTF-8 and was read as Windows-1252: look whether ä, é and ñ are right.")
	}
	if err := r.findHeader(); err != nil {
		return Table{}, r.as, nil, err
	}
	r.nameColumns()
	table := r.table()
	r.readDays(table)
	r.readAmounts(table)
	r.readSizes(table)
	return table, r.as, r.faults, nil
}

type reader struct {
	grid       *Grid
	known      Columns
	in         Reading
	remembered map[string]string
	names      map[string]string // our column by what people call it
	as         AsRead
	header     int // index of its line
	faults     []Fault
}

func (r *reader) typeOf(ours string) (CellType, bool) {
	for _, c := range r.known.Known {
		if c.Name == ours {
			return c.Type, true
		}
	}
	if r.known.Open != nil && r.known.Open(ours) {
		return Date, true
	}
	return Text, false
}

// ours is what a column of the file is taken for, going by nothing but its name.
func (r *reader) ours(theirs string) string {
	if to, said := r.remembered[theirs]; said {
		return to
	}
	if _, ok := r.typeOf(theirs); ok {
		return theirs
	}
	return r.names[spelling.Fold(theirs)]
}

// findHeader takes the line that was said, or that of the first twenty in which most names of columns are known, or the first with
// two texts.
func (r *reader) findHeader() error {
	lines := r.grid.lines
	if r.in.HeaderRow > 0 {
		at := slices.IndexFunc(lines, func(l gridLine) bool { return l.number == r.in.HeaderRow })
		if at < 0 {
			return Fault{Row: r.in.HeaderRow, Message: "is empty or not in the file; the names of the columns must stand there"}
		}
		r.header = at
	} else {
		best := 0
		for n, l := range lines[:min(20, len(lines))] {
			found := 0
			for _, c := range l.cells {
				if c.text != "" && r.ours(strings.ToLower(c.text)) != "" {
					found++
				}
			}
			if found > best {
				best, r.header = found, n
			}
		}
		if best == 0 {
			r.header = max(0, slices.IndexFunc(lines, func(l gridLine) bool { return l.filled() > 1 }))
		}
	}
	r.as.HeaderRow = lines[r.header].number
	return r.nameTheirs()
}

// nameTheirs lists the columns as the file names them. One without a name in which something stands goes by its letter.
func (r *reader) nameTheirs() error {
	body := r.grid.lines[r.header+1:]
	wide := 0
	for _, l := range r.grid.lines[r.header:] {
		for n, c := range l.cells {
			if c.text != "" {
				wide = max(wide, n+1)
			}
		}
	}
	if r.grid.Encoding != "" { // a field too many in a text is a comma too many
		wide = min(wide, len(r.grid.lines[r.header].cells))
	}
	seen := map[string]bool{}
	for n := range wide {
		column := ReadColumn{}
		if cells := r.grid.lines[r.header].cells; n < len(cells) {
			column.Theirs = strings.ToLower(strings.Join(strings.Fields(cells[n].text), " "))
		}
		for _, l := range body {
			if n < len(l.cells) && l.cells[n].text != "" {
				column.Example = l.cells[n].text
				break
			}
		}
		switch {
		case column.Theirs == "":
			column.Theirs = "column " + letterOf(n)
		case seen[column.Theirs]:
			return Fault{Row: r.as.HeaderRow, Column: column.Theirs, Message: "stands in the header twice"}
		}
		seen[column.Theirs] = true
		r.as.Columns = append(r.as.Columns, column)
	}
	return nil
}

// letterOf is what spreadsheet programs call a column: A to Z, then AA.
func letterOf(n int) string {
	letters := ""
	for n++; n > 0; n = (n - 1) / 26 {
		letters = string(rune('A'+(n-1)%26)) + letters
	}
	return letters
}

func (r *reader) fault(column, value, message string) {
	r.faults = append(r.faults, Fault{Row: r.as.HeaderRow, Column: column, Value: value, Message: message})
}

// table lists the rows by our columns.
func (r *reader) table() Table {
	t := Table{theirs: map[string]string{}}
	at := map[string]int{}
	for n, c := range r.as.Columns {
		if c.Ours != "" {
			t.Columns = append(t.Columns, c.Ours)
			t.theirs[c.Ours] = c.Theirs
			at[c.Ours] = n
		}
	}
	for _, l := range r.grid.lines[r.header+1:] {
		if len(l.cells) > len(r.as.Columns) && slices.ContainsFunc(l.cells[len(r.as.Columns):], func(c gridCell) bool { return c.text != "" }) {
			r.faults = append(r.faults, Fault{Row: l.number, Message: fmt.Sprintf("has %d fields, the header %d", len(l.cells), len(r.as.Columns))})
			continue
		}
		row := Row{Line: l.number, cells: map[string]string{}, exact: map[string]bool{}}
		for ours, n := range at {
			cell := gridCell{}
			if n < len(l.cells) {
				cell = l.cells[n]
			}
			if r.grid.Encoding != "" {
				if looksLikeFormula(cell.text) {
					formula := Fault{Row: l.number, Column: t.theirs[ours], Value: cell.text, Message: "looks like a formula; write its value"}
					r.faults = append(r.faults, formula)
					cell.text = "" // one fault is enough
				}
				cell.text = unescape(cell.text)
			}
			row.cells[ours], row.exact[ours] = cell.text, cell.exact
		}
		t.Rows = append(t.Rows, row)
	}
	return t
}
