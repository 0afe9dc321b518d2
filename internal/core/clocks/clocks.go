// Package clocks reads every care clock of an instrument: which clocks its kind has, what limits hold for this
// instrument in this school, and how far each has run.
package clocks

import (
	"fmt"
	"strings"

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
	TrackAll   bool // keep clocks for the players' own weekly care too, instead of trusting them
	Thresholds care.Thresholds
	Weights    care.Weights
	Heating    Heating
	Learned    map[LearnedKey]Learned // intervals learned at this school, in place of the usual days
}

// A LearnedKey names what an interval was learned of.
type LearnedKey struct{ Kind, Routine string }

// Learned is an interval learned from so many observations.
type Learned struct {
	Days         float64
	Observations int
}

// An Instrument as its clocks see it.
type Instrument struct {
	Kind       string
	Body       string          // key of its material
	Choices    catalog.Choices // the school's, with the instrument's own laid over them
	ChoiceSet  string          // tells sets of choices apart; empty for the school's
	CareFrom   day.Day         // where clocks begin that were never restarted
	Started    map[Key]day.Day
	Own        map[Key]care.Limits // limits set for this instrument in place of the usual ones
	HeavySweat bool
	Players    int // how many share it; 0 counts as 1
	Playing    *usage.Playing
	Concert    day.Day         // of its next concert, zero for none
	Rehearsal  day.Day         // of its next rehearsal, zero for none in sight
	Returned   day.Day         // when its last player gave it back, zero while somebody plays it
	RestsSince day.Day         // since when nobody has played it, zero while somebody does
	Planned    map[Key]day.Day // for what somebody has chosen a day
	Stopped    string          // name of the finding that stops it, empty for none
	Away       bool            // at a repair shop
}

// A Clock that has been read.
type Clock struct {
	Key
	Kind    *catalog.Kind
	Of      *catalog.Routine
	Limits  care.Limits
	OneADay bool // at most one of the routine's clocks is done on an instrument in a day
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
	limits   map[limitKey]limit
}

type limitKey struct {
	kind    string
	routine string
	choices string
	sweat   bool
	players int
}

type limit struct {
	care.Limits
	kept    bool // whether there is such a clock at all
	oneADay bool
}

// NewReader makes a Reader.
func NewReader(c *catalog.Catalog, s Settings, today day.Day) *Reader {
	return &Reader{c, s, today, map[limitKey]limit{}}
}

// Read reads all clocks of an instrument in the order of its catalogue. An unknown kind has none.
func (r *Reader) Read(in Instrument) []Clock {
	var out []Clock
	r.each(in, r, func(kind *catalog.Kind, routine *catalog.Routine, k Key, usual limit, limits care.Limits) {
		started, known := in.Started[k]
		if !known {
			started = in.CareFrom
		}
		started = min(started, r.today)
		reading := care.Read(started, r.today, limits, in.Playing, r.settings.Thresholds)
		for _, o := range r.occasions(routine, in, started) {
			reading = reading.With(o, started, r.today, r.settings.Thresholds)
		}
		out = append(
			out,
			Clock{
				k,
				kind,
				routine,
				limits,
				usual.oneADay,
				started,
				reading,
				care.Value(reading.Wear, r.settings.Thresholds, r.settings.Weights, r.stakes(routine, in)),
			},
		)
	})
	return out
}

// each hands f the clocks of an instrument in the order of its catalogue, with the limits that usually reads and those that they have.
func (r *Reader) each(
	in Instrument, usually *Reader, f func(kind *catalog.Kind, routine *catalog.Routine, k Key, usual limit, limits care.Limits),
) {
	kind, ok := r.catalog.Kind(in.Kind)
	if !ok {
		return
	}
	for _, key := range kind.Routines {
		routine, _ := r.catalog.Routine(key)
		if !routine.For(in.Body) {
			continue
		}
		usual := usually.limitsOf(routine, in)
		for _, part := range routine.Clocks() {
			k := Key{key, part}
			limits := usual.Limits
			if own, ok := in.Own[k]; ok {
				limits = r.shorten(care.LimitIn{Base: own, Override: &own}, in)
			} else if !usual.kept {
				continue
			}
			f(kind, routine, k, usual, limits)
		}
	}
}

// A Kept clock is one that an instrument would have.
type Kept struct {
	Key
	Of     *catalog.Routine
	Limits care.Limits
}

// Kept lists the clocks by limits that an instrument would have under other choices, in the order of its catalogue.
func (r *Reader) Kept(in Instrument, choices catalog.Choices) (kept []Kept) {
	in.Choices, in.ChoiceSet = choices, choices.String()
	would := Reader{r.catalog, r.settings, r.today, map[limitKey]limit{}}
	r.each(in, &would, func(_ *catalog.Kind, routine *catalog.Routine, k Key, _ limit, limits care.Limits) {
		if limits.Given() {
			kept = append(kept, Kept{k, routine, limits})
		}
	})
	return kept
}

// limitsOf works out the usual limits of a routine for instruments like this one.
func (r *Reader) limitsOf(routine *catalog.Routine, in Instrument) limit {
	k := limitKey{in.Kind, routine.Key, in.ChoiceSet, in.HeavySweat, max(1, in.Players)}
	l, known := r.limits[k]
	if !known {
		base, _, ok := routine.LimitsFor(in.Choices)
		l.kept = (ok || routine.Triggers != catalog.Triggers{}) && routine.When.Hold(in.Choices) &&
			(routine.Who != catalog.Player || r.settings.TrackAll)
		l.oneADay = len(routine.OneADay) > 0 && routine.OneADay.Hold(in.Choices)
		if ok {
			l.Limits = r.shorten(r.learned(care.LimitIn{Base: base}, in.Kind, routine), in)
		}
		r.limits[k] = l
	}
	return l
}

// learned puts an interval that was learned in place of the usual days.
func (r *Reader) learned(l care.LimitIn, kind string, routine *catalog.Routine) care.LimitIn {
	if learned, ok := r.settings.Learned[LearnedKey{kind, routine.Key}]; ok {
		l.LearnedDays = &learned.Days
	}
	return l
}

// shorten lets heavy sweat and sharing count. Limits were checked when they were loaded or entered.
func (r *Reader) shorten(l care.LimitIn, in Instrument) care.Limits {
	players := max(1, in.Players)
	l.HeavySweat, l.Players = in.HeavySweat, &players
	out, err := care.Limit(l)
	if err != nil {
		return care.Limits{}
	}
	return out.Limits
}

// Offered picks what the time box may offer of one instrument's clocks: what is due, and early only what loses nothing by
// it. Work for a technician is not for a prep period; of strings one is changed a day; nothing is renewed that would
// still be settling at the instrument's next concert; what stands on a plan has its day; and nothing is done on an instrument that is
// stopped or away. What is due and yet held back is explained in held.
func (r *Reader) Offered(list []Clock, in Instrument) (offered []Clock, held map[Key]string) {
	held = map[Key]string{}
	best := map[string]int{} // of each one-a-day routine, its place in offered
	for _, c := range list {
		switch on, planned := in.Planned[c.Key]; {
		case c.OneADay && c.Started == r.today:
			held[Key{Routine: c.Routine}] = "one of them was done today, and the others keep the tension meanwhile"
		case c.OneADay && planned && on <= r.today:
			held[Key{Routine: c.Routine}] = "one of them stands on the plan for today, and the others keep the tension meanwhile"
		}
	}
	for _, c := range list {
		due := c.Reading.State == care.Due || c.Reading.State == care.Late
		on, planned := in.Planned[c.Key]
		switch {
		case !due && (c.Reading.State != care.Opening || c.Of.Replaces):
		case in.Away:
			held[c.Key] = "the instrument is at the shop"
		case in.Stopped != "":
			held[c.Key] = fmt.Sprintf("the instrument is stopped (%s)", in.Stopped)
		case planned:
			held[c.Key] = fmt.Sprintf("it stands on the plan for %s", on.Words())
		case c.Of.Who == catalog.Technician:
			held[c.Key] = "it is work for a technician"
		case in.Concert >= r.today && r.today+day.Day(c.Of.SettleDays) > in.Concert:
			held[c.Key] = fmt.Sprintf("it would still be settling at the concert on %s", in.Concert.Words())
		case !c.OneADay:
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
	due := c.Reading.Why(c.Started, c.Limits)
	due.Change = "/settings/calendar"
	limit, err := r.limitWhy(c, in)
	if err != nil {
		return nil, err
	}
	value := care.ValueWhy(c.Reading.Wear, r.settings.Thresholds, r.settings.Weights, r.stakes(c.Of, in))
	if held != "" {
		value.Statement += " Not offered today: " + held + "."
	}
	return []why.Why{due, limit, value}, nil
}

// stakes are what depends on a routine of an instrument.
func (r *Reader) stakes(routine *catalog.Routine, in Instrument) care.Stakes {
	s := care.Stakes{Consequence: routine.Consequence, Played: in.RestsSince.IsZero(), Players: in.Players}
	if in.Concert >= r.today && !in.Concert.IsZero() {
		s.ConcertIn = new(int(in.Concert - r.today))
	}
	if in.Rehearsal >= r.today && !in.Rehearsal.IsZero() {
		s.RehearsalIn = new(int(in.Rehearsal - r.today))
	}
	return s
}

// limitWhy explains how often the care is wanted.
func (r *Reader) limitWhy(c Clock, in Instrument) (why.Why, error) {
	w := why.Why{Rule: "care.limit", Basis: why.Basis{Kind: c.Of.LimitBasis(in.Choices)}}
	base, practice, _ := c.Of.LimitsFor(in.Choices)
	own, has := in.Own[c.Key]
	if c.Limits.Given() {
		players := max(1, in.Players)
		asked := r.learned(care.LimitIn{Base: base, HeavySweat: in.HeavySweat, Players: &players}, in.Kind, c.Of)
		if has {
			asked.Override = &own
			if !base.Given() {
				asked.Base = own
			}
		}
		limit, err := care.Limit(asked)
		if err != nil {
			return why.Why{}, err
		}
		w.Statement, w.Inputs = limit.Why.Statement, limit.Why.Inputs
		if asked.LearnedDays != nil {
			w.Basis = limit.Why.Basis
			w.Basis.Observations = r.settings.Learned[LearnedKey{in.Kind, c.Routine}].Observations
			w.Alternatives = append(w.Alternatives, why.Alternative{Name: "The trade's figure", Statement: base.String() + "."})
		}
		if w.Basis.Kind != why.LearnedHere && (in.HeavySweat || players > 1) {
			w.Basis.Source = "how sweat and sharing shorten it is our own rule"
		}
	}
	if occasions := words(c.Of.Triggers); occasions != "" {
		w.Statement = strings.TrimSpace(w.Statement + " Due " + occasions + ".")
	}
	if has {
		w.Basis = why.Basis{Kind: why.SchoolSetting, Source: "this instrument's own limit"}
	}
	if c.Of.HoursFromMemory(in.Choices) && !has {
		w.Basis.Source = strings.TrimPrefix(w.Basis.Source+"; its hours of playing are from memory", "; ")
	}
	if practice == "" && base.Given() {
		practice = catalog.ProfilePractice
	}
	for _, chosen := range r.catalog.Chosen(c.Of.Deciding(practice), in.Choices) {
		w.Inputs = append([]why.Input{{Name: strings.ToLower(chosen.Title), Value: chosen.Option.Name}}, w.Inputs...)
		w.Alternatives = append(w.Alternatives, chosen.Others...)
	}
	w.Change = "/settings/practices"
	return w, nil
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
