// Package journal is how anything is read and written: by whom and with which right, once however often it was sent, with an event
// that says what happened, and with faults in plain words.
package journal

import (
	"context"
	"log/slog"
	"time"
	_ "time/tzdata" // schools keep their own zones wherever the program runs

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/schoolrows"
)

// A Journal keeps the schools in a database.
type Journal struct {
	DB  *store.DB
	Now func() time.Time
	Log *slog.Logger

	beside bool
}

// Beside is the journal for what nobody keeps in memory of a school, such as keys, sessions and drills: a write by it waits for its turn as any
// does, and voids nothing that was read before (store.DB.WriteBeside).
func (j *Journal) Beside() *Journal {
	other := *j
	other.beside = true
	return &other
}

// run runs a transaction that writes.
func (j *Journal) run(ctx context.Context, school uuid.UUID, f func(*store.Tx) error) error {
	if j.beside {
		return j.DB.WriteBeside(ctx, school, f)
	}
	return j.DB.Write(ctx, school, f)
}

// Read runs f on one unchanging view of the school.
func (j *Journal) Read(ctx context.Context, by Person, f func(tx *store.Tx) error) error {
	return InPlainWords(j.DB.Read(ctx, by.School, f))
}

// Today is the day on the school's calendar.
func (j *Journal) Today(s schoolrows.School) day.Day {
	return day.Of(j.Now().In(j.Zone(s)))
}

// Zone is the school's time zone.
func (j *Journal) Zone(s schoolrows.School) *time.Location {
	zone, err := time.LoadLocation(s.TimeZone)
	if err != nil {
		return time.UTC
	}
	return zone
}

// TodayIn is the day on the calendar of the transaction's school.
func (j *Journal) TodayIn(ctx context.Context, tx *store.Tx) (day.Day, error) {
	s, err := schoolrows.GetSchool(ctx, tx)
	return j.Today(s), err
}
