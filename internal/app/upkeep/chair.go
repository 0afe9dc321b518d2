package upkeep

import (
	"cmp"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/reeds"
	"solfeggio/internal/core/why"
	"solfeggio/internal/store/schoolrows"
	"solfeggio/internal/store/upkeeprows"
)

// ReedSection is how the players of a kind stand with their reeds before a concert.
type ReedSection struct {
	Kind     string          `json:"kind"`
	KindName string          `json:"kind_name"`
	Section  string          `json:"section"`
	Program  []reeds.Playing `json:"program" doc:"Of a reed that is opened on the latest day; empty when nobody must open one or it is too late"`
	OpenBy   *day.Day        `json:"open_by,omitempty" doc:"The latest day to open a reed for the concert; left out when that day is past"`
	ReadyOn  *day.Day        `json:"ready_on,omitempty"`
	MustOpen int             `json:"must_open" doc:"Players without a reed for the concert"`
	Chairs   []Chair         `json:"chairs"`

	Strengths []string `json:"strengths" doc:"Of its reeds, from soft to hard"`
}

// NewSection is a section without its chairs.
func NewSection(k *catalog.Kind, of *catalog.Supply) ReedSection {
	return ReedSection{
		Kind: k.Key, KindName: k.Name, Section: k.Section, Program: []reeds.Playing{}, Chairs: []Chair{}, Strengths: of.Strengths,
	}
}

// Chair is a player with their box of reeds, as seen from the front.
type Chair struct {
	PlayerID     uuid.UUID `json:"player_id"`
	Player       string    `json:"player"`
	InstrumentID uuid.UUID `json:"instrument_id"`
	Tag          string    `json:"tag"`
	Supply       string    `json:"supply"`
	Strength     string    `json:"strength"`
	Reeds        []BoxReed `json:"reeds" doc:"By place in the holder"`
	Ready        int       `json:"ready" doc:"How many serve at the concert, or today when none is ahead"`
	Excused      bool      `json:"excused" doc:"A beginner's only reed is played freely from the first day"`
	State        string    `json:"state" enum:"ready,short,open,late" doc:"Ready; ready with too few spares; must open one; cannot have one broken in any more"`
	Says         string    `json:"says"`
	Discard      int       `json:"discard" doc:"Worn ones that are still in the box"`
	OpenNew      int       `json:"open_new" doc:"How many are missing"`
	Places       []int     `json:"places" doc:"That are free in the holder"`
}

// BoxReed is a reed as it stands today.
type BoxReed struct {
	upkeeprows.Reed
	reeds.Standing
	MinutesPlayed float64 `json:"minutes_played" doc:"As if every turn had been kept"`
	Today         bool    `json:"today" doc:"It is its turn today"`
	Serves        bool    `json:"serves" doc:"At the concert"`
}

// Program is how a reed is broken in at the school.
func Program(s *school.Snapshot, supply *catalog.Supply) []float64 {
	if own, ok := s.BreakIns[supply.Key]; ok {
		return own
	}
	return supply.BreakIn
}

// restAround are the days without playing from the oldest reed to the concert.
func restAround(s *school.Snapshot, box []upkeeprows.Reed, until day.Day) []day.Day {
	from := s.Today
	for _, r := range box {
		from = min(from, r.OpenedOn)
	}
	return RestDays(s, max(from, s.Today-400), until+60)
}

// ChairOf reads a player's box. Until is the concert, or today.
func (r *Room) ChairOf(s *school.Snapshot, i *school.Instrument, supply *catalog.Supply, until day.Day) (Chair, error) {
	id := *i.Habit.Player
	box := s.Reeds[id]
	c := Chair{
		PlayerID: id, Player: s.NameOf(&id), InstrumentID: i.ID, Tag: i.Tag, Supply: supply.Key, Strength: i.Reeds, Reeds: []BoxReed{},
		Excused: len(box) == 1, Places: []int{},
	}
	rest := restAround(s, box, until)
	in := reeds.RotateIn{Today: s.Today, Keep: reeds.Enough}
	standings := map[string]reeds.Standing{}
	for _, held := range box {
		if held.Supply != supply.Key { // of another instrument that the player had
			continue
		}
		kept := reeds.Held{Opened: held.OpenedOn, Program: Program(s, supply), Tires: supply.TiresDays}
		if held.Synthetic {
			kept.Program, kept.Tires = nil, 0
		}
		standing, err := kept.Stand(s.Today, rest, c.Excused)
		if err != nil {
			return c, err
		}
		b := BoxReed{Reed: held, Standing: standing, Serves: standing.ServesOn(until)}
		if b.Serves {
			c.Ready++
		}
		c.Reeds = append(c.Reeds, b)
		in.Reeds = append(in.Reeds, reeds.Reed{ID: held.ID.String(), State: standing.State, MinutesPlayed: standing.Behind})
		standings[held.ID.String()] = standing
	}
	var err error
	if in.Reeds, err = reeds.Turns(in.Reeds, standings, s.Today, rest, minutesADay(s, i)); err != nil {
		return c, err
	}
	turn, err := reeds.Rotate(in)
	if err != nil {
		return c, err
	}
	for n := range c.Reeds {
		c.Reeds[n].MinutesPlayed = in.Reeds[n].MinutesPlayed
		c.Reeds[n].Today = turn.Play != nil && *turn.Play == c.Reeds[n].ID.String()
	}
	c.Discard, c.OpenNew = len(turn.Discard), turn.OpenNew
	for p := 1; p <= reeds.HolderPlaces; p++ {
		if !slices.ContainsFunc(box, func(b upkeeprows.Reed) bool { return b.Place == p }) {
			c.Places = append(c.Places, p)
		}
	}
	return c, nil
}

// Judge says how a chair stands for a concert.
func (c *Chair) Judge(s *school.Snapshot, openBy day.Day) {
	switch {
	case c.Ready >= reeds.Enough:
		c.State, c.Says = "ready", "ready"
	case c.Ready > 0 && c.Excused:
		c.State, c.Says = "short", "one reed, played freely; hand out two"
	case c.Ready > 0:
		c.State, c.Says = "short", fmt.Sprintf("ready, %s short", number(reeds.Enough-c.Ready, "spare"))
	case openBy >= s.Today:
		c.State, c.Says = "open", "open one by "+openBy.Time().Format("Mon 2 Jan")
	default:
		c.State, c.Says = "late", "too late to break one in: a spare player’s reed, or a new one played in shortly each day"
	}
}

func number(n int, of string) string {
	words := []string{"no", "one", "two", "three"}
	word := fmt.Sprint(n)
	if n < len(words) {
		word = words[n]
	}
	if n == 1 {
		return word + " " + of
	}
	return word + " " + of + "s"
}

func (r *Room) ReedWhy(s *school.Snapshot, concert *schoolrows.Concert, sec ReedSection) why.Why {
	supply, _ := r.schools.Catalog.Supply(sec.Chairs[0].Supply)
	basis := why.Basis{Kind: cmp.Or(supply.BreakInIs, why.CommonPractice), Source: "a new reed played long at first warps"}
	if _, own := s.BreakIns[supply.Key]; own {
		basis = why.Basis{Kind: why.SchoolSetting, Source: "the school's own minutes"}
	}
	return why.Why{
		Rule: "reeds.latest-open",
		Statement: fmt.Sprintf(
			"A reed is broken in over %d playing days, weekends and breaks left out, and is free on the day after. One that is to serve on %s is opened that much earlier.",
			len(Program(s, supply)),
			concert.HeldOn.Words(),
		),
		Inputs: []why.Input{
			{Name: "kind of reed", Value: supply.Name},
			{Name: "minutes on its first days", Value: minutesList(Program(s, supply))},
			{Name: "tired after", Value: fmt.Sprintf("%d days of taking turns (from memory)", supply.TiresDays)},
			{Name: "wanted", Value: "one to play and two to spare"},
		},
		Basis: basis,
		Alternatives: []why.Alternative{
			{
				Name:      "A beginner's only reed",
				Statement: "Whoever has one reed only plays it freely from the first day, and gets two more soon.",
			},
			{Name: "A synthetic reed", Statement: "It is free at once and does not tire by the calendar."},
		},
		Change: "/strings-reeds/reeds",
	}
}

func minutesList(minutes []float64) string {
	text := ""
	for n, m := range minutes {
		if n > 0 {
			text += ", "
		}
		text += fmt.Sprintf("%g", m)
	}
	return text
}
