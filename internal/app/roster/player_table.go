package roster

import (
	"bytes"
	"fmt"
	"maps"
	"slices"
	"strings"

	"solfeggio/internal/formats"
)

// The columns of a player file.
var playerColumns = []string{
	"external_id",
	"given_name",
	"family_name",
	"grade_year",
	"ensembles",
	"instrument",
	"transport",
	"reed_strength",
	"arm_length_cm",
	"height_cm",
	"practice_minutes_per_week",
}

// readTable reads players from a CSV file. The mapping says which of their columns is which of ours; a column that has our
// name needs none.
func (r *rosterImport) readTable(in RosterFile) error {
	table, faults, err := formats.ReadTable(bytes.NewReader(in.Content))
	if err != nil {
		return err
	}
	r.report.Columns, r.report.Rows = append(r.report.Columns, table.Columns...), len(table.Rows)
	r.report.Faults = append(r.report.Faults, faults...)
	theirs := map[string]string{}
	for _, name := range table.Columns {
		if slices.Contains(playerColumns, name) {
			theirs[name] = name
		}
	}
	for _, from := range slices.Sorted(maps.Keys(in.Mapping)) {
		to := in.Mapping[from]
		from = strings.ToLower(strings.TrimSpace(from))
		switch {
		case to == "":
		case !slices.Contains(playerColumns, to):
			r.fault(1, from, to, "is no column of the player file; it knows "+strings.Join(playerColumns, ", "))
		case !slices.Contains(table.Columns, from):
			r.fault(1, from, "", "is not in the header")
		default:
			theirs[to] = from
		}
	}
	if theirs["given_name"] == "" {
		r.fault(1, "given_name", "", "is missing from the header; say which column holds it")
		return nil
	}
	for _, line := range table.Rows {
		r.readPlayer(playerCells{line, theirs, r})
	}
	return nil
}

// playerCells reads the fields of one row and reports those that cannot be used.
type playerCells struct {
	row    formats.Row
	theirs map[string]string // their column by ours
	im     *rosterImport
}

func (c playerCells) text(column string) (string, bool) {
	name, mapped := c.theirs[column]
	if !mapped {
		return "", false
	}
	text, _ := c.row.Cell(name)
	if len([]rune(text)) > formats.MaxText {
		c.bad(column, fmt.Sprintf("is longer than %d letters", formats.MaxText))
	}
	return text, true
}

func (c playerCells) bad(column, message string) {
	text, _ := c.row.Cell(c.theirs[column])
	c.im.fault(c.row.Line, c.theirs[column], text, message)
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
		if kind, ok := r.app.Catalog.KindCalled(text); ok {
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
	if text, ok := c.text("reed_strength"); ok {
		row.reedStrength = &text
	}
	row.armLength, row.height = c.number("arm_length_cm", 10, 150), c.number("height_cm", 30, 250)
	row.practiceMinutes = c.number("practice_minutes_per_week", 0, 10080)
	r.rows = append(r.rows, row)
}
