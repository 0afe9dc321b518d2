package formats

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode"

	"solfeggio/internal/core/money"
)

// The two ways to write a day in three numbers, and what may divide the fraction of a number.
const (
	DayMonth     = "day-month"
	MonthDay     = "month-day"
	DecimalComma = "comma"
	DecimalPoint = "point"
)

// each calls f with every filled cell of a type.
func (r *reader) each(t Table, kind CellType, f func(row Row, ours, text string)) {
	for _, ours := range t.Columns {
		if got, _ := r.typeOf(ours); got != kind {
			continue
		}
		for _, row := range t.Rows {
			if text := row.cells[ours]; text != "" {
				f(row, ours, text)
			}
		}
	}
}

// A writtenDay is a day as it stands in a file. Where first and second could each be the month, order decides. A first of 0 is a month of which
// no day is said, a second of 0 a year.
type writtenDay struct {
	year, first, second int
	ordered             bool // first is the day
}

func (w writtenDay) on(order string) (string, bool) {
	d, m := w.first, w.second
	if !w.ordered && order == MonthDay {
		d, m = m, d
	}
	switch {
	case m == 0 && d == 0:
		return fmt.Sprintf("%04d", w.year), true
	case d == 0 && 1 <= m && m <= 12:
		return fmt.Sprintf("%04d-%02d", w.year, m), true
	}
	on := time.Date(w.year, time.Month(m), d, 0, 0, 0, 0, time.UTC)
	if m < 1 || m > 12 || on.Day() != d {
		return "", false
	}
	return on.Format("2006-01-02"), true
}

// open reports whether a day can be read in two ways.
func (w writtenDay) open() bool {
	return !w.ordered && w.first != w.second && w.first <= 12 && w.second <= 12
}

// dayIn reads a day as people write it: 2026-11-24, 24.11.2026, 11/24/26, 24 November 2026, Nov 24, 2026, 24-Nov. Of a year with two
// digits the one that is not ahead counts. A day without a year has none. Of a month, Aug 2012 or 8/2012, and a year no day is known.
func dayIn(text string, now int) (writtenDay, bool) {
	if iso, _, stamped := strings.Cut(text, "T"); stamped && isoDay.MatchString(iso) {
		text = iso
	}
	text = strings.TrimSuffix(text, " 00:00:00")
	var numbers []string
	month, named := 0, 0
	for _, part := range strings.FieldsFunc(text, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }) {
		switch n, isMonth := headings().month(part); {
		case isMonth:
			month, named = n, named+1
		case strings.Trim(part, "0123456789") == "":
			numbers = append(numbers, part)
		case ordinal(part) != "":
			numbers = append(numbers, ordinal(part))
		case part != "of" && part != "de" && part != "del":
			return writtenDay{}, false
		}
	}
	var n []int
	for _, text := range numbers {
		v, err := strconv.Atoi(text)
		if err != nil || len(text) > 4 {
			return writtenDay{}, false
		}
		n = append(n, v)
	}
	switch {
	case named == 1 && len(n) == 1 && len(numbers[0]) <= 2:
		return writtenDay{0, n[0], month, true}, true
	case named == 1 && len(n) == 1 && len(numbers[0]) == 4:
		return writtenDay{n[0], 0, month, true}, true
	case named == 0 && len(n) == 1 && len(numbers[0]) == 4 && n[0] >= 1800 && n[0] <= now:
		return writtenDay{n[0], 0, 0, true}, true
	case named == 0 && len(n) == 2 && len(numbers[0]) == 4 && len(numbers[1]) <= 2:
		return writtenDay{n[0], 0, n[1], true}, true
	case named == 0 && len(n) == 2 && len(numbers[1]) == 4 && len(numbers[0]) <= 2:
		return writtenDay{n[1], 0, n[0], true}, true
	case named == 1 && len(n) == 2:
		return writtenDay{full(n[1], numbers[1], now), n[0], month, true}, true
	case named == 0 && len(n) == 3 && len(numbers[0]) == 4:
		return writtenDay{n[0], n[2], n[1], true}, true
	case named == 0 && len(n) == 3 && len(numbers[0]) <= 2 && len(numbers[1]) <= 2:
		return writtenDay{full(n[2], numbers[2], now), n[0], n[1], false}, true
	}
	return writtenDay{}, false
}

var isoDay = regexp.MustCompile(`^\d{4}-\d\d-\d\d$`)

// ordinal is the number of 1st, 2nd, 3rd, 4th, 1er; empty for anything else.
func ordinal(part string) string {
	for _, end := range []string{"st", "nd", "rd", "th", "er"} {
		if number, ok := strings.CutSuffix(strings.ToLower(part), end); ok && number != "" && strings.Trim(number, "0123456789") == "" {
			return number
		}
	}
	return ""
}

func full(year int, text string, now int) int {
	if len(text) > 2 {
		return year
	}
	if year += now - now%100; year > now {
		year -= 100
	}
	return year
}

// readDays makes 2026-11-24 of the days of a table. Which number is the month is what was said, else what some day of the file leaves
// no choice about, else it is asked. What is no day stays as it is.
func (r *reader) readDays(t Table) {
	year := r.known.Year
	found := map[string]string{} // the first text that leaves only this order
	var first string
	open := 0
	r.each(t, Date, func(_ Row, _, text string) {
		w, ok := dayIn(text, year)
		if !ok || w.ordered {
			return
		}
		if w.open() {
			if open++; first == "" {
				first = text
			}
			return
		}
		for _, order := range []string{DayMonth, MonthDay} {
			if _, ok := w.on(order); ok && w.first != w.second && found[order] == "" {
				found[order] = text
			}
		}
	})
	order := r.in.DayOrder
	if order == "" && open > 0 {
		switch dm, md := found[DayMonth], found[MonthDay]; {
		case dm != "" && md == "":
			order = DayMonth
			r.as.Remarks = append(r.as.Remarks, fmt.Sprintf("Days are read with the day before the month, since “%s” can be nothing else.", dm))
		case md != "" && dm == "":
			order = MonthDay
			r.as.Remarks = append(r.as.Remarks, fmt.Sprintf("Days are read with the month before the day, since “%s” can be nothing else.", md))
		default:
			r.askOrder(first, open, year)
		}
	}
	r.each(t, Date, func(row Row, ours, text string) {
		w, ok := dayIn(text, year)
		if !ok || w.year == 0 {
			return
		}
		use := order
		if !w.ordered && !w.open() && r.in.DayOrder == "" {
			if use = DayMonth; w.second > 12 {
				use = MonthDay
			}
		}
		if on, ok := w.on(use); ok && (use != "" || w.ordered) {
			row.cells[ours] = on
		}
	})
}

func (r *reader) askOrder(text string, rows, year int) {
	w, _ := dayIn(text, year)
	written := func(order string) string {
		on, _ := w.on(order)
		d, _ := time.Parse("2006-01-02", on)
		return d.Format("2 January 2006")
	}
	r.as.Questions = append(r.as.Questions, FileQuestion{
		About: "day_order", Rows: rows, Text: fmt.Sprintf("Which day is “%s”?", text),
		Answers: []FileAnswer{{DayMonth, written(DayMonth)}, {MonthDay, written(MonthDay)}},
	})
}

// readAmounts makes 1250.5 of the numbers of a table, as readDays does with days.
func (r *reader) readAmounts(t Table) {
	var first string
	open := 0
	found := map[string]bool{}
	r.each(t, Amount, func(row Row, ours, text string) {
		comma, point, ok := money.Readings(text)
		switch {
		case !ok || row.exact[ours] || comma == point:
		case comma == "":
			found[DecimalPoint] = true
		case point == "":
			found[DecimalComma] = true
		default:
			if open++; first == "" {
				first = text
			}
		}
	})
	decimal := r.in.Decimal
	if decimal == "" && open > 0 {
		switch comma, point, _ := money.Readings(first); {
		case found[DecimalComma] && !found[DecimalPoint]:
			decimal = DecimalComma
		case found[DecimalPoint] && !found[DecimalComma]:
			decimal = DecimalPoint
		default:
			r.as.Questions = append(r.as.Questions, FileQuestion{
				About: "decimal", Rows: open, Text: fmt.Sprintf("How much is “%s”?", first),
				Answers: []FileAnswer{{DecimalComma, inWords(comma)}, {DecimalPoint, inWords(point)}},
			})
		}
	}
	r.each(t, Amount, func(row Row, ours, text string) {
		comma, point, ok := money.Readings(text)
		switch {
		case !ok || row.exact[ours]:
		case comma == "" || decimal == DecimalPoint && point != "":
			row.cells[ours] = point
		case point == "" || decimal == DecimalComma || comma == point:
			row.cells[ours] = comma
		}
	})
}

// inWords is a number that nobody can read in two ways.
func inWords(number string) string {
	whole, fraction, parted := strings.Cut(number, ".")
	if !parted {
		return whole + " exactly, no fraction"
	}
	return whole + " and " + strings.TrimRight(fraction, "0") + "/1" + strings.Repeat("0", len(strings.TrimRight(fraction, "0")))
}

var vulgar = strings.NewReplacer("¼", "1/4", "½", "1/2", "¾", "3/4", "⅛", "1/8", "⅞", "7/8", "⅒", "1/10", "⁄", "/", " / ", "/")

// readSizes finds days where sizes should be: a spreadsheet program makes 3 April or 4 March of 3/4, and January 1932 of 1/32. They
// are put back when somebody says so.
func (r *reader) readSizes(t Table) {
	rows := 0
	var first, was string
	r.each(t, Size, func(row Row, ours, text string) {
		row.cells[ours] = vulgar.Replace(text)
		size := r.sizeBehind(text)
		if size == "" {
			return
		}
		if rows++; first == "" {
			first, was = text, size
			if on, err := time.Parse("2006-01-02", text); err == nil {
				first = on.Format("2 January 2006")
			}
		}
		if r.in.RestoreSizes {
			row.cells[ours] = size
		}
	})
	if rows == 0 || r.in.RestoreSizes {
		return
	}
	r.as.Questions = append(r.as.Questions, FileQuestion{
		About: "restore_sizes", Rows: rows,
		Text: fmt.Sprintf("“%s” stands where a size should be: a spreadsheet program made a day of %s.", first, was),
		Answers: []FileAnswer{
			{"true", "Put " + was + " and the others back"},
			{"", "I type them as text in the file"},
		},
	})
}

// sizeBehind is the one size from which a day can have been made; empty for none or several.
func (r *reader) sizeBehind(text string) string {
	if slices.Contains(r.known.Sizes, text) {
		return ""
	}
	w, ok := dayIn(text, r.known.Year)
	if !ok || w.first == 0 {
		return ""
	}
	may := []string{fmt.Sprintf("%d/%d", min(w.first, w.second), max(w.first, w.second))}
	if w.first == 1 || w.second == 1 { // the first of a month: month and year were typed
		may = append(may, fmt.Sprintf("%d/%d", max(w.first, w.second), w.year%100))
	}
	if w.year == 0 { // Jan-32
		may = append(may, fmt.Sprintf("%d/%d", w.second, w.first))
	}
	var sizes []string
	for _, size := range may {
		if slices.Contains(r.known.Sizes, size) && !slices.Contains(sizes, size) {
			sizes = append(sizes, size)
		}
	}
	if len(sizes) != 1 {
		return ""
	}
	return sizes[0]
}
