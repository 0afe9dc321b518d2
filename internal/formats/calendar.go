package formats

import (
	"io"
	"strings"
	"time"
	"unicode"

	ics "github.com/arran4/golang-ical"

	"solfeggio/internal/core/day"
)

// Occasion is a whole day of a calendar, such as a concert.
type Occasion struct {
	UID     string // stays the same as long as it is the same occasion
	On      day.Day
	Summary string
	Detail  string
}

// WriteCalendar writes occasions as an iCalendar file (RFC 5545).
func WriteCalendar(w io.Writer, name string, stamp time.Time, list []Occasion) error {
	c := ics.NewCalendarFor("Solfeggio")
	c.SetMethod(ics.MethodPublish)
	c.SetXWRCalName(calendarText(name))
	c.SetRefreshInterval("PT4H")
	for _, o := range list {
		e := c.AddEvent(o.UID)
		e.SetDtStampTime(stamp)
		e.SetAllDayStartAt(o.On.Time())
		e.SetAllDayEndAt((o.On + 1).Time())
		e.SetSummary(calendarText(o.Summary))
		if o.Detail != "" {
			e.SetDescription(calendarText(o.Detail))
		}
	}
	return c.SerializeTo(w, ics.WithNewLineWindows)
}

// calendarText is a text without the characters that RFC 5545, section 3.1, allows in none; a line of it ends in one way.
func calendarText(text string) string {
	text = strings.ReplaceAll(strings.ReplaceAll(text, "\r\n", "\n"), "\r", "\n")
	return strings.Map(func(r rune) rune {
		if unicode.IsControl(r) && r != '\n' && r != '\t' {
			return -1
		}
		return r
	}, text)
}
