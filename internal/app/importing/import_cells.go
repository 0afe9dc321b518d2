package importing

import (
	"fmt"
	"slices"
	"strings"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/formats"
)

// cells reads the fields of one row and reports those that cannot be used.
type cells struct {
	row formats.Row
	im  *importer
}

func (c cells) bad(column, message string) {
	value, _ := c.row.Cell(column)
	c.im.fault(c.row.Line, c.im.table.Theirs(column), value, message)
}

func (c cells) text(column, otherwise string) string {
	text, ok := c.row.Cell(column)
	if !ok {
		return otherwise
	}
	if len([]rune(text)) > formats.MaxText {
		c.bad(column, fmt.Sprintf("is longer than %d letters", formats.MaxText))
	}
	return text
}

// kind finds the kind by its key or its name.
func (c cells) kind() *catalog.Kind {
	text := c.text("kind", "")
	if k, ok := c.im.kinds.Find(text); ok {
		return k
	}
	message := "is no kind that is known here"
	if like := c.im.app.schools.Catalog.KindsLike(text); len(like) > 0 {
		message += "; near it are " + strings.Join(like, ", ")
	}
	c.bad("kind", message+". For another kind write what it is like, such as “"+ownName(text)+" like flute”")
	return nil
}

func (c cells) oneOf(column, otherwise string, choices []string, rule string) string {
	text := c.text(column, otherwise)
	if text == "" {
		return otherwise
	}
	if text != otherwise && !slices.Contains(choices, text) {
		c.bad(column, rule)
	}
	return text
}

// day reads a whole day.
func (c cells) day(column string) (day.Day, bool) {
	d, as, ok := c.partOfDay(column)
	if ok && as != day.Exact {
		c.bad(column, fmt.Sprintf("is a %s; say the day", as))
		return 0, false
	}
	return d, ok
}

// partOfDay reads a day of which only the month or the year may be known.
func (c cells) partOfDay(column string) (day.Day, day.Precision, bool) {
	text, _ := c.row.Cell(column)
	if text == "" {
		return 0, day.Exact, false
	}
	d, as, err := day.ParsePart(text)
	switch {
	case err != nil:
		c.bad(column, "is not a day; write it as 2026-11-24")
	case d > c.im.snapshot.Today:
		c.bad(column, "lies in the future")
	case d < day.On(1800, 1, 1):
		c.bad(column, "lies before 1800")
	default:
		return d, as, true
	}
	return 0, day.Exact, false
}

func (c cells) number(column string, low, high float64) (float64, bool) {
	text, _ := c.row.Cell(column)
	if text == "" {
		return 0, false
	}
	v, err := formats.Number(text)
	if err != nil || !(v >= low && v <= high) {
		c.bad(column, fmt.Sprintf("is not a number from %v to %.0f, such as 12.5", low, high))
		return 0, false
	}
	return v, true
}

func (c cells) yes(column string, otherwise bool) bool {
	text, _ := c.row.Cell(column)
	switch strings.ToLower(text) {
	case "":
		return otherwise
	case "yes", "true", "1", "x":
		return true
	case "no", "false", "0":
		return false
	}
	c.bad(column, "is neither yes nor no")
	return otherwise
}

// ownName is a text as the name of a kind in an example.
func ownName(text string) string {
	if text == "" || len([]rune(text)) > 30 {
		return "Ocarina"
	}
	return text
}
