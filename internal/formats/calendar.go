package formats

import (
	"io"
	"time"

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
	c.SetXWRCalName(name)
	c.SetRefreshInterval("PT4H")
	for _, o := range list {
		e := c.AddEvent(o.UID)
		e.SetDtStampTime(stamp)
		e.SetAllDayStartAt(o.On.Time())
		e.SetAllDayEndAt((o.On + 1).Time())
		e.SetSummary(o.Summary)
		if o.Detail != "" {
			e.SetDescription(o.Detail)
		}
	}
	return c.SerializeTo(w)
}
