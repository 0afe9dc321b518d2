package preparing

import (
	"context"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/upkeep"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/restring"
	"solfeggio/internal/core/why"
	"solfeggio/internal/store/schoolrows"
	"solfeggio/internal/store/upkeeprows"
)

// Preparing asks what must begin by when for a concert.
type Preparing struct {
	ConcertID   *uuid.UUID                 `json:"concert_id,omitempty" doc:"The next one when left out"`
	MinutesADay float64                    `json:"minutes_a_day" minimum:"0" maximum:"1440" doc:"For changing strings, on each school day"`
	ClosedDays  []day.Day                  `json:"closed_days,omitempty" maxItems:"1000" doc:"School days on which nobody has time for strings"`
	NotBefore   *day.Day                   `json:"not_before,omitempty" doc:"The first day of changing; today when left out"`
	Pinned      []upkeeprows.PlannedChange `json:"pinned,omitempty" maxItems:"2000" doc:"Changes that stay on their day; of an instrument all or none"`
}

// Concert is a concert to prepare for.
type ConcertAhead struct {
	ID   uuid.UUID `json:"id"`
	Name string    `json:"name"`
	On   day.Day   `json:"on"`
	Days int       `json:"days" doc:"Until then"`
}

// CalendarDay is a day until the concert.
type CalendarDay struct {
	Date day.Day `json:"date"`
	Rest bool    `json:"rest" doc:"Weekend or break: nothing is changed at school and no reed is broken in"`
}

// Before is what must begin by when.
type Before struct {
	Concert  *ConcertAhead        `json:"concert,omitempty" doc:"Left out when none is ahead"`
	Concerts []ConcertAhead       `json:"concerts" doc:"All that are ahead"`
	Days     []CalendarDay        `json:"days" doc:"From today to the concert"`
	Strings  []StringSection      `json:"strings"`
	Changes  []StringChange       `json:"changes" doc:"The plan, by day"`
	Unplaced []Unplaced           `json:"unplaced" doc:"What does not fit any more, and the best that can still be done"`
	Reeds    []upkeep.ReedSection `json:"reeds"`
	Bows     []upkeep.Bow         `json:"bows" doc:"Of which the hair will be due"`
	Starts   Starts               `json:"starts"`
	Why      []why.Why            `json:"why"`
}

// Starts says in short what must begin when.
type Starts struct {
	StringsBy   *day.Day `json:"strings_by,omitempty" doc:"The latest day to begin with the strings; left out when none have to be changed, or all stand on the plan"`
	ReedsBy     *day.Day `json:"reeds_by,omitempty" doc:"The latest day on which those who have none ready open a reed"`
	StringsLate int      `json:"strings_late" doc:"Instruments whose strings cannot all settle any more"`
	ReedsLate   int      `json:"reeds_late" doc:"Players who cannot have a reed broken in any more"`
}

// Before works out what must begin when for a concert.
func (r *Room) Before(ctx context.Context, by journal.Person, in Preparing) (Before, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return Before{}, err
	}
	return r.before(s, in)
}

func (r *Room) before(s *school.Snapshot, in Preparing) (Before, error) {
	out := Before{
		Concerts: concertsAhead(s), Days: []CalendarDay{}, Strings: []StringSection{}, Changes: []StringChange{}, Unplaced: []Unplaced{},
		Reeds: []upkeep.ReedSection{}, Bows: []upkeep.Bow{}, Why: []why.Why{},
	}
	c, err := concertOf(s, in.ConcertID)
	if err != nil || c == nil {
		return out, err
	}
	out.Concert = &ConcertAhead{c.ID, c.Name, c.HeldOn, int(c.HeldOn - s.Today)}
	rest := upkeep.RestDays(s, s.Today, c.HeldOn)
	for d := s.Today; d <= c.HeldOn; d++ {
		out.Days = append(out.Days, CalendarDay{d, slices.Contains(rest, d)})
	}
	if err := r.planStrings(s, c, in, &out); err != nil {
		return out, err
	}
	if err := r.reedSections(s, c, &out); err != nil {
		return out, err
	}
	for _, i := range playingAt(s, c) {
		if b, ok, err := r.upkeep.BowOf(s, i); err != nil {
			return out, err
		} else if ok && b.DueOn != nil && *b.DueOn <= c.HeldOn {
			out.Bows = append(out.Bows, b)
		}
	}
	return out, nil
}

// Deadline is the next thing that must begin for the next concert.
type Deadline struct {
	What string  `json:"what"`
	By   day.Day `json:"by"`
}

// Deadlines lists what must begin within a week for the next concert, the soonest first.
func (r *Room) Deadlines(s *school.Snapshot) ([]Deadline, error) {
	b, err := r.before(s, Preparing{MinutesADay: restring.UsualMinutes})
	if err != nil {
		return nil, err
	}
	list := []Deadline{}
	add := func(what string, by *day.Day) {
		if by != nil && *by >= s.Today && *by <= s.Today+7 {
			list = append(list, Deadline{what, *by})
		}
	}
	add("begin with the strings", b.Starts.StringsBy)
	add("open reeds", b.Starts.ReedsBy)
	slices.SortStableFunc(list, func(x, y Deadline) int { return int(x.By - y.By) })
	return list, nil
}

func concertsAhead(s *school.Snapshot) []ConcertAhead {
	list := []ConcertAhead{}
	for _, c := range s.Concerts {
		if c.HeldOn >= s.Today {
			list = append(list, ConcertAhead{c.ID, c.Name, c.HeldOn, int(c.HeldOn - s.Today)})
		}
	}
	return list
}

// concertOf finds the concert asked for, or the next one; nil when none is ahead.
func concertOf(s *school.Snapshot, id *uuid.UUID) (*schoolrows.Concert, error) {
	for n := range s.Concerts {
		c := &s.Concerts[n]
		switch {
		case id == nil && c.HeldOn >= s.Today:
			return c, nil
		case id != nil && c.ID == *id && c.HeldOn < s.Today:
			return nil, journal.Refuse("concert_id", c.Name+" lies in the past, on "+c.HeldOn.Words(), id)
		case id != nil && c.ID == *id:
			return c, nil
		}
	}
	if id != nil {
		return nil, journal.Refuse("concert_id", "there is no such concert", id)
	}
	return nil, nil
}

// playingAt lists the instruments that play at a concert, in score order.
func playingAt(s *school.Snapshot, c *schoolrows.Concert) []*school.Instrument {
	var list []*school.Instrument
	for _, i := range s.Instruments {
		if i.Habit != nil && slices.ContainsFunc(i.Habit.Ensembles, func(e uuid.UUID) bool { return slices.Contains(c.Ensembles, e) }) {
			list = append(list, i)
		}
	}
	return list
}
