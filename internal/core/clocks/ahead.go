package clocks

import (
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/day"
)

// Ahead reads a clock as it will stand on the day when its care is done, today or later: when that will be due again, with the playing and
// the seasons that lie ahead. Of the instrument's concerts the first counts that it is not done for already.
func (r *Reader) Ahead(c Clock, in Instrument, done day.Day, concerts []day.Day) care.Reading {
	in.Returned, in.Concert = 0, 0
	for _, on := range concerts {
		if on-day.Day(c.Of.Triggers.BeforeConcertDays) > done && (in.Concert.IsZero() || on < in.Concert) {
			in.Concert = on
		}
	}
	then := *r
	then.today = done
	reading := care.Read(done, done, c.Limits, in.Playing, r.settings.Thresholds)
	for _, o := range then.occasions(c.Of, in, done) {
		reading = reading.With(o, done, done, r.settings.Thresholds)
	}
	return reading
}
