package preparing

import (
	"cmp"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/upkeep"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/restring"
	"solfeggio/internal/core/why"
	"solfeggio/internal/store/schoolrows"
	"solfeggio/internal/store/upkeeprows"
)

// StringChange is a string that is to be changed on a day.
type StringChange struct {
	upkeeprows.PlannedChange
	Tag       string   `json:"tag"`
	Kind      string   `json:"kind"`
	PartName  string   `json:"part_name"`
	Short     string   `json:"short" doc:"The name where there is little room"`
	Minutes   float64  `json:"minutes"`
	SettledOn day.Day  `json:"settled_on"`
	Because   string   `json:"because" doc:"Why it is wanted"`
	Accepted  bool     `json:"accepted" doc:"It stands on the plan already"`
	Pinned    bool     `json:"pinned" doc:"Asked for on this day"`
	DueOn     *day.Day `json:"due_on,omitempty"`
}

// Unplaced is an instrument whose strings do not fit any more.
type Unplaced struct {
	InstrumentID uuid.UUID `json:"instrument_id"`
	Tag          string    `json:"tag"`
	Strings      []string  `json:"strings"`
	Instead      string    `json:"instead" doc:"The best that can still be done"`
}

// wanted is an instrument with the strings that must be changed before a concert.
type wanted struct {
	of      *school.Instrument
	strings []upkeep.Renewal
	because map[string]string
	dueOn   map[string]*day.Day
	minutes float64
	oneADay bool
}

// stringsWanted lists which strings of the instruments that play at a concert run out by then. What is stopped, held or away is left alone.
func (r *Room) stringsWanted(s *school.Snapshot, c *schoolrows.Concert) []wanted {
	var list []wanted
	for _, i := range playingAt(s, c) {
		if i.Care.Stopped != "" || i.Hold != nil || i.Away() {
			continue
		}
		w := wanted{of: i, because: map[string]string{}, dueOn: map[string]*day.Day{}}
		for _, n := range r.upkeep.StringsOf(i.Kind) {
			k, ok := upkeep.ClockOf(i, clocks.Key{Routine: n.Routine.Key, Part: n.Part.Key})
			if !ok || k.Reading.DueOn.IsZero() || k.Reading.DueOn > c.HeldOn {
				continue
			}
			due := k.Reading.DueOn
			w.strings = append(w.strings, n)
			w.dueOn[n.Part.Key] = &due
			w.minutes, w.oneADay = n.Routine.Minutes, k.OneADay
			w.because[n.Part.Key] = fmt.Sprintf("on since %s; %s are over on %s", k.Started.Words(), k.Limits, due.Words())
		}
		if len(w.strings) > 0 {
			list = append(list, w)
		}
	}
	return list
}

// settleDays is how long new strings of any kind sag.
func settleDays(list []wanted) int {
	days := 0
	for _, w := range list {
		for _, n := range w.strings {
			days = max(days, n.Routine.SettleDays)
		}
	}
	return days
}

// planStrings lays the strings on days.
func (r *Room) planStrings(s *school.Snapshot, c *schoolrows.Concert, in Preparing, out *Before) error {
	list := r.stringsWanted(s, c)
	settle := settleDays(list)
	from := s.Today
	if in.NotBefore != nil {
		from = max(from, *in.NotBefore)
	}
	fixed, err := r.fixedChanges(s, c, list, settle, in)
	if err != nil {
		return err
	}
	bench := benchDays(s, from, c.HeldOn-day.Day(settle), in)
	taken := map[day.Day]float64{}
	for _, f := range fixed {
		w := wantedOf(list, f.Instrument)
		taken[f.On] += w.minutes
	}
	free := slices.Clone(bench)
	for n := range free {
		free[n].Minutes = max(0, free[n].Minutes-taken[free[n].Date])
	}
	planned := slices.Clone(fixed)
	for _, oneADay := range []bool{true, false} {
		var some []wanted
		for _, w := range list {
			if w.oneADay == oneADay && !isFixed(fixed, w.of.ID) {
				some = append(some, w)
			}
		}
		changes, unplaced, err := lay(some, free, c.HeldOn, settle, oneADay)
		if err != nil {
			return err
		}
		planned = append(planned, changes...)
		for _, p := range changes {
			for n := range free {
				if free[n].Date == p.On {
					free[n].Minutes = max(0, free[n].Minutes-wantedOf(list, p.Instrument).minutes)
				}
			}
		}
		for _, w := range unplaced {
			out.Unplaced = append(out.Unplaced, r.instead(s, c, w, settle))
		}
	}
	for _, p := range planned {
		w := wantedOf(list, p.Instrument)
		part, _ := w.of.Kind.Part(p.Part)
		out.Changes = append(out.Changes, StringChange{
			PlannedChange: p, Tag: w.of.Tag, Kind: w.of.Instrument.Kind, PartName: part.Name, Short: cmp.Or(part.Short, part.Name),
			Minutes: w.minutes, SettledOn: p.On + day.Day(settle),
			Because: w.because[p.Part], Accepted: slices.Contains(w.of.Planned, p), Pinned: slices.Contains(in.Pinned, p),
			DueOn: w.dueOn[p.Part],
		})
	}
	slices.SortStableFunc(out.Changes, func(a, b StringChange) int { return cmp.Compare(a.On, b.On) })
	out.Starts.StringsLate = len(out.Unplaced)
	for _, change := range out.Changes {
		if !change.Accepted { // the others stand on Today on their day
			out.Starts.StringsBy = &change.On
			break
		}
	}
	if err := r.stringSections(s, c, list, bench, settle, out); err != nil {
		return err
	}
	if len(list) > 0 {
		out.Why = append(out.Why, planWhy(c, settle, in.MinutesADay, list))
	}
	return nil
}

func wantedOf(list []wanted, id uuid.UUID) wanted {
	n := slices.IndexFunc(list, func(w wanted) bool { return w.of.ID == id })
	return list[n]
}

func isFixed(fixed []upkeeprows.PlannedChange, id uuid.UUID) bool {
	return slices.ContainsFunc(fixed, func(p upkeeprows.PlannedChange) bool { return p.Instrument == id })
}

// benchDays are the school days of a span on which there is time, with the minutes of each.
func benchDays(s *school.Snapshot, from, to day.Day, in Preparing) []restring.Bench {
	rest := upkeep.RestDays(s, from, to)
	bench := []restring.Bench{}
	for d := from; d <= to; d++ {
		if !slices.Contains(rest, d) && !slices.Contains(in.ClosedDays, d) {
			bench = append(bench, restring.Bench{Date: d, Minutes: in.MinutesADay})
		}
	}
	return bench
}

// lay plans instruments that change one string a day, or all in one sitting.
func lay(
	list []wanted,
	bench []restring.Bench,
	concert day.Day,
	settle int,
	oneADay bool,
) (changes []upkeeprows.PlannedChange, unplaced []wanted, err error) {
	in := restring.SectionIn{BenchMinutes: bench, Concert: concert, SettleDays: settle, Mode: restring.OneSitting}
	if oneADay {
		in.Mode = restring.OneADay
	}
	for _, w := range list {
		in.Instruments = append(
			in.Instruments,
			restring.Instrument{ID: w.of.ID.String(), Strings: len(w.strings), MinutesPerString: w.minutes},
		)
	}
	got, err := restring.SectionPlan(in)
	if err != nil {
		return nil, nil, err
	}
	at := map[string]wanted{}
	for _, w := range list {
		at[w.of.ID.String()] = w
	}
	for _, d := range got.Days {
		for _, c := range d.Changes {
			w := at[c.ID]
			changes = append(changes, upkeeprows.PlannedChange{Instrument: w.of.ID, Part: w.strings[c.String].Part.Key, On: d.Date})
		}
	}
	for _, id := range got.Unplaced {
		unplaced = append(unplaced, at[id])
	}
	return changes, unplaced, nil
}

// fixedChanges are the changes that keep their day: those asked for, and those accepted before of instruments for which nothing is asked.
func (r *Room) fixedChanges(s *school.Snapshot, c *schoolrows.Concert, list []wanted, settle int, in Preparing) ([]upkeeprows.PlannedChange, error) {
	var fixed []upkeeprows.PlannedChange
	for n, p := range in.Pinned {
		at := fmt.Sprintf("pinned[%d]", n)
		i := s.ByID[p.Instrument]
		if i == nil {
			return nil, journal.Refuse(at+".instrument_id", "no such instrument", p.Instrument)
		}
		k := slices.IndexFunc(list, func(w wanted) bool { return w.of.ID == p.Instrument })
		if k < 0 || !slices.ContainsFunc(list[k].strings, func(w upkeep.Renewal) bool { return w.Part.Key == p.Part }) {
			return nil, journal.Refuse(at+".part", i.Tag+" needs no such string before the concert", p.Part)
		}
		if err := r.mayChangeOn(s, p.On); err != nil {
			return nil, journal.Refuse(at+".on", err.Error(), p.On)
		}
		if p.On+day.Day(settle) > c.HeldOn {
			return nil, journal.Refuse(at+".on", fmt.Sprintf("%s would still be settling at the concert", i.Tag), p.On)
		}
		if list[k].oneADay &&
			slices.ContainsFunc(fixed, func(f upkeeprows.PlannedChange) bool { return f.Instrument == p.Instrument && f.On == p.On }) {
			return nil, journal.Refuse(at+".on", fmt.Sprintf("%s would have two strings changed on a day", i.Tag), p.On)
		}
		fixed = append(fixed, p)
	}
	for _, w := range list {
		switch {
		case isFixed(fixed, w.of.ID):
			for _, n := range w.strings {
				if !slices.ContainsFunc(
					fixed,
					func(f upkeeprows.PlannedChange) bool { return f.Instrument == w.of.ID && f.Part == n.Part.Key },
				) {
					return nil, journal.Refuse("pinned", "of "+w.of.Tag+" all strings have a day, or none", nil)
				}
			}
		default:
			fixed = append(fixed, stillGood(s, c, w, settle)...)
		}
	}
	minutes := map[day.Day]float64{}
	for n, p := range fixed {
		if minutes[p.On] += wantedOf(list, p.Instrument).minutes; n < len(in.Pinned) && minutes[p.On] > in.MinutesADay+1e-9 {
			return nil, journal.Refuse(
				fmt.Sprintf("pinned[%d].on", n),
				fmt.Sprintf("%s would have more than %g minutes of work", p.On.Words(), in.MinutesADay),
				p.On,
			)
		}
	}
	return fixed, nil
}

// mayChangeOn says why strings cannot be changed on a day; nil when they can.
func (r *Room) mayChangeOn(s *school.Snapshot, on day.Day) error {
	switch {
	case on < s.Today:
		return fmt.Errorf("%s is past", on.Words())
	case len(upkeep.RestDays(s, on, on)) > 0:
		return fmt.Errorf("%s is no school day", on.Words())
	}
	return nil
}

// stillGood is what was accepted for an instrument, if it covers all strings that are wanted and none of it is past.
func stillGood(s *school.Snapshot, c *schoolrows.Concert, w wanted, settle int) []upkeeprows.PlannedChange {
	var of []upkeeprows.PlannedChange
	for _, n := range w.strings {
		for _, p := range w.of.Planned {
			if p.Part == n.Part.Key && p.On >= s.Today && p.On+day.Day(settle) <= c.HeldOn {
				of = append(of, p)
			}
		}
	}
	if len(of) != len(w.strings) {
		return nil
	}
	return of
}

// instead is the best that can be done for an instrument whose strings do not all fit.
func (r *Room) instead(s *school.Snapshot, c *schoolrows.Concert, w wanted, settle int) Unplaced {
	out := Unplaced{InstrumentID: w.of.ID, Tag: w.of.Tag}
	for _, n := range w.strings {
		out.Strings = append(out.Strings, n.Part.Name)
	}
	switch last := c.HeldOn - day.Day(settle); {
	case last < s.Today:
		out.Instead = fmt.Sprintf("Nothing new within %d days of the concert: clean the old strings, and have singles at hand.", settle)
	case len(w.strings) > 1:
		out.Instead = "Change the worst string only, by " + last.Words() + "; the others after the concert."
	default:
		out.Instead = "More minutes at the bench, or after the concert."
	}
	return out
}

func planWhy(c *schoolrows.Concert, settle int, minutes float64, list []wanted) why.Why {
	mode := "all strings of an instrument in one sitting, one after the other"
	if list[0].oneADay {
		mode = "one string of an instrument a day"
	}
	return why.Why{
		Rule: "strings.section-plan",
		Statement: fmt.Sprintf(
			"Each string that runs out by the concert is changed as late as it can be and is settled by %s, %s. Whatever does not fit stays as it is: all strings of an instrument or none.",
			c.HeldOn.Words(),
			mode,
		),
		Inputs: []why.Input{
			{Name: "days to settle", Value: fmt.Sprint(settle)},
			{Name: "minutes at the bench on a school day", Value: fmt.Sprintf("%g", minutes)},
			{Name: "instruments", Value: fmt.Sprint(len(list))},
		},
		Basis: why.Basis{
			Kind:   why.CommonPractice,
			Source: "a new string sags for about three days; bridge and post stand only because strings press",
		},
		Alternatives: []why.Alternative{
			{Name: "One sitting", Statement: "Some change a whole set at once, string after string, so that it settles together."},
			{
				Name:      "One a day",
				Statement: "Others change one string a day over most of a week, so that the others keep pitch and tension.",
			},
		},
		Change: "/settings/practices",
	}
}
