// Package clocks reads every care clock of an instrument: which clocks its kind has, what limits hold for this
// instrument in this school, and how far each has run.
package clocks

import (
	"fmt"

	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/usage"
	"solfeggio/internal/core/why"
)

// A Key names a clock of an instrument. Part is empty for a clock of the whole instrument.
type Key struct {
	Routine string `json:"routine" doc:"Key of the routine in the catalogue"`
	Part    string `json:"part" doc:"Key of the part, empty for the whole instrument"`
}

// Settings are the school's choices that clocks depend on.
type Settings struct {
	Profile    string // key of a profile
	TrackAll   bool   // keep clocks for the players' own weekly care too, instead of trusting them
	Thresholds care.Thresholds
}

// An Instrument as its clocks see it.
type Instrument struct {
	Kind       string
	CareFrom   day.Day // where clocks begin that were never restarted
	Started    map[Key]day.Day
	HeavySweat bool
	Players    int // how many share it; 0 counts as 1
	Playing    *usage.Playing
}

// A Clock that has been read.
type Clock struct {
	Key
	Kind    *catalog.Kind
	Of      *catalog.Routine
	Limits  care.Limits
	Started day.Day
	Reading care.Reading
	Value   float64
}

// PartName is the part's name where the routine needs it to be clear: one that has a single clock says it by itself.
func (c Clock) PartName() string {
	if len(c.Of.On) < 2 {
		return ""
	}
	p, _ := c.Kind.Part(c.Part)
	return p.Name
}

// Title names the clock, as in "Change the string: E string".
func (c Clock) Title() string {
	if name := c.PartName(); name != "" {
		return c.Of.Title + ": " + name
	}
	return c.Of.Title
}

// A Reader reads clocks for one school on one day. It remembers limits it has worked out, so Read is not safe
// for concurrent use; Why is.
type Reader struct {
	catalog  *catalog.Catalog
	settings Settings
	today    day.Day
	limits   map[limitKey]care.Limits
}

type limitKey struct {
	routine string
	sweat   bool
	players int
}

// NewReader makes a Reader.
func NewReader(c *catalog.Catalog, s Settings, today day.Day) *Reader {
	return &Reader{c, s, today, map[limitKey]care.Limits{}}
}

// Read reads all clocks of an instrument in the order of its catalogue. An unknown kind has none.
func (r *Reader) Read(in Instrument) []Clock {
	kind, ok := r.catalog.Kind(in.Kind)
	if !ok {
		return nil
	}
	var out []Clock
	for _, key := range kind.Routines {
		routine, _ := r.catalog.Routine(key)
		limits, ok := r.limitsOf(routine, in)
		if !ok {
			continue
		}
		for _, part := range routine.Clocks() {
			k := Key{key, part}
			started, known := in.Started[k]
			if !known {
				started = in.CareFrom
			}
			started = min(started, r.today)
			reading := care.Read(started, r.today, limits, in.Playing, r.settings.Thresholds)
			out = append(out, Clock{k, kind, routine, limits, started, reading, care.Value(reading.Wear, r.settings.Thresholds, routine.Consequence)})
		}
	}
	return out
}

func (r *Reader) limitsOf(routine *catalog.Routine, in Instrument) (care.Limits, bool) {
	base, ok := routine.Limits.For(r.settings.Profile)
	if !ok || routine.Who == catalog.Player && !r.settings.TrackAll {
		return care.Limits{}, false
	}
	k := limitKey{routine.Key, in.HeavySweat, max(1, in.Players)}
	limits, known := r.limits[k]
	if !known {
		// The catalogue's limits were checked when it was loaded.
		out, err := care.Limit(care.LimitIn{Base: base, HeavySweat: k.sweat, Players: &k.players})
		if err != nil {
			return care.Limits{}, false
		}
		limits = out.Limits
		r.limits[k] = limits
	}
	return limits, true
}

// Offered picks what the time box may offer of one instrument's clocks: what is due, and early only what loses nothing by
// it. Work for a technician is not for a prep period; of strings one is changed a day; nothing is renewed that would
// still be settling at the instrument's next concert (zero for none). What is due and yet held back is explained in held.
func (r *Reader) Offered(list []Clock, concert day.Day) (offered []Clock, held map[Key]string) {
	held = map[Key]string{}
	best := map[string]int{} // of each one-a-day routine, its place in offered
	for _, c := range list {
		if c.Of.OneADay && c.Started == r.today {
			held[Key{Routine: c.Routine}] = "one of them was done today, and the others keep the tension meanwhile"
		}
	}
	for _, c := range list {
		due := c.Reading.State == care.Due || c.Reading.State == care.Late
		switch {
		case !due && (c.Reading.State != care.Opening || c.Of.Replaces):
		case c.Of.Who == catalog.Technician:
			held[c.Key] = "it is work for a technician"
		case concert >= r.today && r.today+day.Day(c.Of.SettleDays) > concert:
			held[c.Key] = fmt.Sprintf("it would still be settling at the concert on %s", concert.Words())
		case !c.Of.OneADay:
			offered = append(offered, c)
		case held[Key{Routine: c.Routine}] != "":
			held[c.Key] = held[Key{Routine: c.Routine}]
		default:
			n, other := best[c.Routine]
			if !other {
				best[c.Routine] = len(offered)
				offered = append(offered, c)
				continue
			}
			later := c
			if c.Value > offered[n].Value {
				later, offered[n] = offered[n], c
			}
			held[later.Key] = "only one of them is done on an instrument in a day, and another is worth more"
		}
	}
	return offered, held
}

// Why explains a clock: when it is due, where its limit comes from, and what the time box makes of it. held says why the
// box does not offer it, if it does not.
func (r *Reader) Why(c Clock, in Instrument, held string) ([]why.Why, error) {
	base, _ := c.Of.Limits.For(r.settings.Profile)
	players := max(1, in.Players)
	limit, err := care.Limit(care.LimitIn{Base: base, HeavySweat: in.HeavySweat, Players: &players})
	if err != nil {
		return nil, err
	}
	limit.Why.Inputs = append([]why.Input{{Name: "profile", Value: r.settings.Profile}}, limit.Why.Inputs...)
	limit.Why.Basis = why.Basis{Kind: c.Of.Basis}
	limit.Why.Alternatives = c.Of.Otherwise
	limit.Why.Change = "/settings/school"
	due := c.Reading.Why(c.Started, c.Limits)
	due.Change = "/settings/calendar"
	value := care.ValueWhy(c.Reading.Wear, r.settings.Thresholds, c.Of.Consequence)
	if held != "" {
		value.Statement += " Not offered today: " + held + "."
	}
	return []why.Why{due, limit.Why, value}, nil
}

// Restarts lists the clocks that doing a routine on a part starts afresh: its own, and all of the routines it implies
// that the kind has.
func Restarts(c *catalog.Catalog, kind string, done Key) []Key {
	keys := []Key{done}
	k, ok := c.Kind(kind)
	if !ok {
		return keys
	}
	routine, ok := c.Routine(done.Routine)
	if !ok {
		return keys
	}
	for _, implied := range routine.Implies {
		for _, has := range k.Routines {
			if has != implied {
				continue
			}
			other, _ := c.Routine(implied)
			for _, part := range other.Clocks() {
				keys = append(keys, Key{implied, part})
			}
		}
	}
	return keys
}

// Has reports whether instruments of the kind have the clock, in any profile.
func Has(c *catalog.Catalog, kind string, key Key) bool {
	k, ok := c.Kind(kind)
	if !ok {
		return false
	}
	for _, name := range k.Routines {
		if name != key.Routine {
			continue
		}
		routine, _ := c.Routine(name)
		for _, part := range routine.Clocks() {
			if part == key.Part {
				return true
			}
		}
	}
	return false
}
