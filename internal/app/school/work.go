package school

import (
	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store/schoolrows"
)

// ClockAt is the time of day at the school, as 13:05.
func (all *Schools) ClockAt(s schoolrows.School) string {
	return all.Now().In(all.Zone(s)).Format("15:04")
}

// OwnLimit says which own limit a clock has; nil for none.
func (i *Instrument) OwnLimit(k clocks.Key) *care.Limits {
	if l, ok := i.Care.Own[k]; ok {
		return &l
	}
	return nil
}

// Task is one clock as something to do.
type Task struct {
	InstrumentID uuid.UUID `json:"instrument_id"`
	Tag          string    `json:"tag"`
	Kind         string    `json:"kind" doc:"Name of the kind"`
	Room         string    `json:"room"`
	Slot         string    `json:"slot"`
	clocks.Key
	Title        string       `json:"title"`
	PartName     string       `json:"part_name" doc:"Empty for the whole instrument"`
	Who          catalog.Who  `json:"who" enum:"player,section leader,director,director or trained helper,technician"`
	Minutes      float64      `json:"minutes"`
	State        care.State   `json:"state" enum:"fresh,opening,due,late"`
	Wear         float64      `json:"wear" doc:"Share of the limit that has run"`
	DueOn        *day.Day     `json:"due_on" nullable:"true"`
	Binding      care.Binding `json:"binding" enum:"days,playing_hours,sessions,returned,before_concert,season,unplayed"`
	Limits       care.Limits  `json:"limits"`
	OwnLimit     *care.Limits `json:"own_limit,omitempty" doc:"This instrument's own limit, in place of the usual one"`
	LimitVersion string       `json:"limit_version" doc:"Of its own limit, there or not"`
	Elapsed      care.Elapsed `json:"elapsed"`
	Value        float64      `json:"value"`
	Guided       bool         `json:"guided" doc:"It renews the part and is led through step by step"`
	Stopped      string       `json:"stopped,omitempty" doc:"What stops the instrument; nothing is done on it meanwhile but what mends it"`

	kind *catalog.Kind // and n, for the order
	n    int
}

// Pressing reports whether a task is due or late.
func (t Task) Pressing() bool { return t.State == care.Due || t.State == care.Late }

// guided reports whether a clock is that of a part that is put on.
func guided(c clocks.Clock) bool {
	p, _ := c.Kind.Part(c.Part)
	return c.Of.Replaces && p.Lives
}

// StripDay is one day of the two-week strip.
type StripDay struct {
	Date    day.Day `json:"date"`
	Due     int     `json:"due" doc:"Clocks that become due on the day; on the first day also all that are due or late already"`
	Break   bool    `json:"break"`
	Concert string  `json:"concert" doc:"Name, or empty"`
}

// Ahead is what becomes due next of all that is not due yet.
type Ahead struct {
	On    day.Day `json:"on"`
	Tag   string  `json:"tag" doc:"Of the first instrument"`
	Title string  `json:"title"`
	More  int     `json:"more" doc:"How many others become due on the same day"`
}

// TaskOf is a clock of an instrument as something to do.
func TaskOf(i *Instrument, c clocks.Clock) Task {
	t := Task{
		InstrumentID: i.ID, Tag: i.Tag, Kind: i.Kind.Name, Room: i.Room, Slot: i.Slot, Key: c.Key, Title: c.Of.Title,
		PartName: c.PartName(),
		Who:      c.Of.Who, Minutes: c.Of.Minutes, State: c.Reading.State, Wear: c.Reading.Wear, Binding: c.Reading.Binding,
		Limits: c.Limits, OwnLimit: i.OwnLimit(c.Key), LimitVersion: noOwnLimit, Elapsed: c.Reading.Elapsed, Value: c.Value, Stopped: i.Care.Stopped,
		Guided: guided(c),
	}
	if t.OwnLimit != nil {
		t.LimitVersion = journal.Version(t.OwnLimit)
	}
	if !c.Reading.DueOn.IsZero() {
		t.DueOn = &c.Reading.DueOn
	}
	return t
}

// noOwnLimit is the version where there is none, as with most clocks.
var noOwnLimit = journal.Version((*care.Limits)(nil))
