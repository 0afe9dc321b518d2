package roster

import (
	"fmt"
	"slices"
	"strings"

	"solfeggio/internal/app/school"
	"solfeggio/internal/formats"
)

// The columns of a player file.
var playerColumns = []formats.Column{
	{Name: "external_id", Words: "Id in the roster"},
	{Name: "given_name", Words: "Given name"},
	{Name: "family_name", Words: "Family name"},
	{Name: "grade_year", Words: "Year"},
	{Name: "ensembles", Words: "Ensembles, divided by ;"},
	{Name: "instrument", Words: "Instrument"},
	{Name: "transport", Words: "Travels by"},
	{Name: "reed_strength", Words: "Strength of the reeds"},
	{Name: "arm_length_cm", Words: "Arm, cm", Type: formats.Amount},
	{Name: "height_cm", Words: "Height, cm", Type: formats.Amount},
	{Name: "practice_minutes_per_week", Words: "Practice, minutes a week", Type: formats.Amount},
	{Name: "guardian", Words: "How to reach a guardian"},
}

// playerFile is what headings call this kind of file.
const playerFile = "players"

// readTable reads players from a CSV file or a workbook.
func (r *rosterImport) readTable(grid *formats.Grid, reading formats.Reading, remembered map[string]map[string]string) error {
	kinds := r.app.schools.KindNamesOf(r.snapshot, reading.Kinds, remembered[formats.RememberedKinds])
	known := formats.Columns{
		File: playerFile, Known: playerColumns,
		Fits: map[string]func(string) bool{"instrument": func(text string) bool { _, ok := r.app.schools.Catalog.KindCalled(text); return ok }},
	}
	table, as, faults, err := grid.Read(known, reading, remembered[playerFile])
	r.report.AsRead = as
	if err != nil {
		return err
	}
	r.table = table
	r.report.Rows, r.report.Faults = len(table.Rows), append(r.report.Faults, faults...)
	if !slices.Contains(table.Columns, "given_name") {
		r.fault(as.HeaderRow, "given_name", "", "is missing from the header; say which column holds it")
		return nil
	}
	if len(as.Questions) > 0 {
		return nil
	}
	for _, line := range table.Rows {
		r.readPlayer(playerCells{line, r, kinds})
	}
	r.report.AsRead.Unknown = kinds.Unknown
	return nil
}

// playerCells reads the fields of one row and reports those that cannot be used.
type playerCells struct {
	row   formats.Row
	im    *rosterImport
	kinds *school.KindNames
}

func (c playerCells) text(column string) (string, bool) {
	text, ok := c.row.Cell(column)
	if len([]rune(text)) > formats.MaxText {
		c.bad(column, fmt.Sprintf("is longer than %d letters", formats.MaxText))
	}
	return text, ok
}

func (c playerCells) bad(column, message string) {
	text, _ := c.row.Cell(column)
	c.im.fault(c.row.Line, c.im.table.Theirs(column), text, message)
}

// number reads a number of centimetres or minutes; nil where the file has none.
func (c playerCells) number(column string, least, most float64) *float64 {
	text, _ := c.text(column)
	if text == "" {
		return nil
	}
	v, err := formats.Number(text)
	if err != nil || !(v >= least && v <= most) {
		c.bad(column, fmt.Sprintf("is no number from %v to %v", least, most))
		return nil
	}
	return &v
}

func (r *rosterImport) readPlayer(c playerCells) {
	row := rosterRow{line: c.row.Line}
	row.id, _ = c.text("external_id")
	row.given, _ = c.text("given_name")
	row.family, _ = c.text("family_name")
	if row.given == "" {
		c.bad("given_name", "is empty")
		return
	}
	if text, ok := c.text("grade_year"); ok {
		row.grade = &text
	}
	if text, ok := c.text("ensembles"); ok {
		row.ensembles = []string{}
		for _, name := range strings.FieldsFunc(text, func(r rune) bool { return r == '|' || r == ';' }) {
			if name = strings.TrimSpace(name); name != "" {
				row.ensembles = append(row.ensembles, name)
			}
		}
	}
	if text, ok := c.text("instrument"); ok {
		key := ""
		if kind, ok := c.kinds.Find(text); ok {
			key = kind.Key
		} else if text != "" {
			c.bad("instrument", "is no kind of instrument that Solfeggio knows")
		}
		row.kind = &key
	}
	if text, ok := c.text("transport"); ok {
		text = strings.ToLower(text)
		if !slices.Contains([]string{"", "foot", "bicycle", "bus", "car"}, text) {
			c.bad("transport", "use foot, bicycle, bus or car, or leave it empty")
		}
		row.transport = &text
	}
	if text, ok := c.text("guardian"); ok {
		row.guardian = &text
	}
	if text, ok := c.text("reed_strength"); ok {
		row.reedStrength = &text
	}
	row.armLength, row.height = c.number("arm_length_cm", 10, 150), c.number("height_cm", 30, 250)
	row.practiceMinutes = c.number("practice_minutes_per_week", 0, 10080)
	r.rows = append(r.rows, row)
}
