package upkeep

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/reeds"
	"solfeggio/internal/core/why"
	"solfeggio/internal/store"
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
	store.Reed
	reeds.Standing
	MinutesPlayed float64 `json:"minutes_played" doc:"As if every turn had been kept"`
	Today         bool    `json:"today" doc:"It is its turn today"`
	Serves        bool    `json:"serves" doc:"At the concert"`
}

// placesInHolder is how many reeds a holder takes.
const placesInHolder = 4

// program is how a reed is broken in at the school.
func program(s *school.Snapshot, supply *catalog.Supply) []float64 {
	if own, ok := s.BreakIns[supply.Key]; ok {
		return own
	}
	return supply.BreakIn
}

// restAround are the days without playing from the oldest reed to the concert.
func restAround(s *school.Snapshot, box []store.Reed, until day.Day) []day.Day {
	from := s.Today
	for _, r := range box {
		from = min(from, r.OpenedOn)
	}
	return restDays(s, max(from, s.Today-400), until+60)
}

// chairOf reads a player's box. Until is the concert, or today.
func (r *Room) chairOf(s *school.Snapshot, i *school.Instrument, supply *catalog.Supply, until day.Day) (Chair, error) {
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
		of, ok := r.Catalog.Supply(held.Supply)
		if !ok {
			of = supply
		}
		kept := reeds.Held{Opened: held.OpenedOn, Program: program(s, of), Tires: of.TiresDays}
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
		in.Reeds = append(in.Reeds, reeds.Reed{ID: held.ID.String(), State: standing.State})
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
	for p := 1; p <= placesInHolder; p++ {
		if !slices.ContainsFunc(box, func(b store.Reed) bool { return b.Place == p }) {
			c.Places = append(c.Places, p)
		}
	}
	return c, nil
}

// judge says how a chair stands for a concert.
func (c *Chair) judge(s *school.Snapshot, openBy day.Day) {
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

// reedSections reads all who play a reed at a concert.
func (r *Room) reedSections(s *school.Snapshot, concert *store.Concert, out *Before) error {
	at := map[string]int{}
	for _, i := range playingAt(s, concert) {
		supply, ok := r.Catalog.Reed(i.Kind)
		if !ok || i.Habit.Player == nil || s.Players[*i.Habit.Player] == nil {
			continue
		}
		n, known := at[i.Kind.Key]
		if !known {
			n = len(out.Reeds)
			at[i.Kind.Key] = n
			out.Reeds = append(out.Reeds, ReedSection{
				Kind: i.Kind.Key, KindName: i.Kind.Name, Section: i.Kind.Section, Program: []reeds.Playing{}, Chairs: []Chair{},
			})
		}
		sec := &out.Reeds[n]
		latest, err := reeds.LatestOpen(reeds.LatestOpenIn{
			NeededOn: concert.HeldOn, ProgramMinutes: program(s, supply), RestDays: restDays(s, s.Today-60, concert.HeldOn),
		})
		if err != nil {
			return err
		}
		c, err := r.chairOf(s, i, supply, concert.HeldOn)
		if err != nil {
			return err
		}
		c.judge(s, latest.OpenBy)
		sec.Chairs = append(sec.Chairs, c)
		switch c.State {
		case "open":
			sec.MustOpen++
		case "late":
			sec.MustOpen++
			out.Starts.ReedsLate++
		}
		if latest.OpenBy >= s.Today {
			sec.OpenBy = &latest.OpenBy
		}
	}
	for n := range out.Reeds {
		sec := &out.Reeds[n]
		if sec.OpenBy == nil || sec.MustOpen == 0 {
			continue
		}
		if out.Starts.ReedsBy == nil || *sec.OpenBy < *out.Starts.ReedsBy {
			out.Starts.ReedsBy = sec.OpenBy
		}
		supply, _ := r.Catalog.Supply(sec.Chairs[0].Supply)
		plan, err := reeds.BreakIn(reeds.BreakInIn{Opened: *sec.OpenBy, ProgramMinutes: program(s, supply), RestDays: restDays(s, *sec.OpenBy, concert.HeldOn+7)})
		if err != nil {
			return err
		}
		sec.Program, sec.ReadyOn = plan.Days, &plan.ReadyOn
	}
	if len(out.Reeds) > 0 {
		out.Why = append(out.Why, r.reedWhy(s, concert, out.Reeds[0]))
	}
	return nil
}

func (r *Room) reedWhy(s *school.Snapshot, concert *store.Concert, sec ReedSection) why.Why {
	supply, _ := r.Catalog.Supply(sec.Chairs[0].Supply)
	basis := why.Basis{Kind: cmp.Or(supply.BreakInIs, why.CommonPractice), Source: "a new reed played long at first warps"}
	if _, own := s.BreakIns[supply.Key]; own {
		basis = why.Basis{Kind: why.SchoolSetting, Source: "the school's own minutes"}
	}
	return why.Why{
		Rule: "reeds.latest-open",
		Statement: fmt.Sprintf("A reed is broken in over %d playing days, weekends and breaks left out, and is free on the day after. One that is to serve on %s is opened that much earlier.",
			len(program(s, supply)), concert.HeldOn.Words()),
		Inputs: []why.Input{
			{Name: "minutes on its first days", Value: minutesList(program(s, supply))},
			{Name: "tired after", Value: fmt.Sprintf("%d days of taking turns (from memory)", supply.TiresDays)},
			{Name: "wanted", Value: "one to play and two to spare"},
		},
		Basis: basis,
		Alternatives: []why.Alternative{
			{Name: "A beginner's only reed", Statement: "Whoever has one reed only plays it freely from the first day, and gets two more soon."},
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

// Boxes are the reeds of all players, section by section.
type Boxes struct {
	Sections []ReedSection `json:"sections"`
	Programs []BreakIn     `json:"programs"`
	Endings  []Named       `json:"endings" doc:"Why a reed goes out of its box"`
}

// Named is a key with its words.
type Named struct {
	Key  string `json:"key"`
	Name string `json:"name"`
}

// BreakIn is how reeds of a kind are broken in.
type BreakIn struct {
	Supply  string    `json:"supply"`
	Name    string    `json:"name"`
	Minutes []float64 `json:"minutes"`
	Own     bool      `json:"own" doc:"The school's own, in place of the usual one"`
	Basis   why.Kind  `json:"basis" enum:"common practice,from memory,school setting"`
}

// Boxes lists the reeds of everybody who plays one.
func (r *Room) Boxes(ctx context.Context, by journal.Person) (Boxes, error) {
	s, err := r.Snapshot(ctx, by)
	if err != nil {
		return Boxes{}, err
	}
	out := Boxes{Sections: []ReedSection{}, Programs: []BreakIn{}, Endings: r.endingsOf("cane")}
	at := map[string]int{}
	for _, i := range s.Instruments {
		supply, ok := r.Catalog.Reed(i.Kind)
		if !ok || i.Habit == nil || i.Habit.Player == nil || s.Players[*i.Habit.Player] == nil {
			continue
		}
		n, known := at[i.Kind.Key]
		if !known {
			n = len(out.Sections)
			at[i.Kind.Key] = n
			out.Sections = append(out.Sections, ReedSection{
				Kind: i.Kind.Key, KindName: i.Kind.Name, Section: i.Kind.Section, Program: []reeds.Playing{}, Chairs: []Chair{},
			})
			own, has := s.BreakIns[supply.Key]
			b := BreakIn{supply.Key, supply.Name, supply.BreakIn, has, cmp.Or(supply.BreakInIs, why.CommonPractice)}
			if has {
				b.Minutes, b.Basis = own, why.SchoolSetting
			}
			out.Programs = append(out.Programs, b)
		}
		c, err := r.chairOf(s, i, supply, s.Today)
		if err != nil {
			return out, err
		}
		c.judge(s, s.Today)
		if c.State == "open" {
			c.Says = "none is ready"
		}
		out.Sections[n].Chairs = append(out.Sections[n].Chairs, c)
	}
	return out, nil
}

func (r *Room) endingsOf(material string) []Named {
	list := []Named{}
	for _, e := range r.Catalog.EndingsOf(material) {
		list = append(list, Named{e.Key, e.Name})
	}
	return list
}

// Opening puts a new reed into a player's box.
type Opening struct {
	ID        uuid.UUID `json:"id" doc:"Made by the client"`
	PlayerID  uuid.UUID `json:"player_id"`
	Place     int       `json:"place,omitempty" minimum:"1" maximum:"12" doc:"In the holder; the first that is free when left out"`
	Strength  string    `json:"strength,omitempty" maxLength:"20" doc:"The player's when left out"`
	Synthetic bool      `json:"synthetic,omitempty"`
	OpenedOn  *day.Day  `json:"opened_on,omitempty" doc:"Today when left out"`
	FromStock bool      `json:"from_stock,omitempty" doc:"It comes from the school's stock"`
}

// ReedDetail is what the log keeps of a reed. It holds no name.
type ReedDetail struct {
	Reed   uuid.UUID             `json:"reed"`
	Player uuid.UUID             `json:"player_id"`
	Place  int                   `json:"place"`
	Cause  string                `json:"cause,omitempty"`
	Took   map[uuid.UUID]float64 `json:"took,omitempty" doc:"From which lots of stock"`
}

// Open records that a player opened a reed.
func (r *Room) Open(ctx context.Context, by journal.Person, in Opening) (journal.Changed, error) {
	return school.Write(ctx, r.Schools, by, journal.MayFinishCare, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		reed, err := r.newReed(s, in)
		if err != nil {
			return journal.Changed{}, err
		}
		if err := tx.InsertReed(ctx, reed); err != nil {
			return journal.Changed{}, err
		}
		detail := ReedDetail{Reed: reed.ID, Player: reed.Player, Place: reed.Place}
		if in.FromStock {
			lots, err := supply.GoingWith(ctx, tx, store.Stocked{Supply: reed.Supply, Size: reed.Strength})
			if err != nil {
				return journal.Changed{}, err
			}
			if detail.Took, _, err = supply.TakeFromStock(ctx, tx, lots, 1, s.Today); err != nil {
				return journal.Changed{}, err
			}
		}
		event, err := r.Record(ctx, tx, by, store.Event{What: store.ReedOpened}, detail)
		return journal.Changed{Events: []uuid.UUID{event}}, err
	})
}

// newReed is the reed that a player opens.
func (r *Room) newReed(s *school.Snapshot, in Opening) (store.Reed, error) {
	reed := store.Reed{ID: in.ID, Player: in.PlayerID, Strength: in.Strength, Synthetic: in.Synthetic, Place: in.Place, OpenedOn: s.Today}
	if s.Players[in.PlayerID] == nil {
		return reed, journal.Refuse("player_id", "no such player", in.PlayerID)
	}
	var of *catalog.Supply
	for _, i := range s.Instruments {
		if i.Habit != nil && i.Habit.Player != nil && *i.Habit.Player == in.PlayerID {
			if supply, ok := r.Catalog.Reed(i.Kind); ok {
				of = supply
			}
		}
	}
	if of == nil {
		return reed, journal.Refuse("player_id", s.NameOf(&in.PlayerID)+" holds no instrument that is played with a reed", in.PlayerID)
	}
	reed.Supply = of.Key
	reed.Strength = cmp.Or(in.Strength, s.Players[in.PlayerID].ReedStrength)
	if reed.Strength != "" && !slices.Contains(of.Strengths, reed.Strength) {
		return reed, journal.Refuse("strength", "is no strength of a "+catalog.InText(of.Name), reed.Strength)
	}
	if in.OpenedOn != nil {
		reed.OpenedOn = *in.OpenedOn
	}
	switch {
	case reed.OpenedOn > s.Today:
		return reed, journal.Refuse("opened_on", "lies in the future", reed.OpenedOn)
	case reed.OpenedOn < s.Today.AddYears(-1):
		return reed, journal.Refuse("opened_on", "lies more than a year back", reed.OpenedOn)
	}
	box := s.Reeds[in.PlayerID]
	taken := func(place int) bool {
		return slices.ContainsFunc(box, func(b store.Reed) bool { return b.Place == place })
	}
	if slices.ContainsFunc(box, func(b store.Reed) bool { return b.ID == in.ID }) {
		return reed, journal.Refuse("id", "this reed was opened already", in.ID)
	}
	for p := 1; reed.Place == 0; p++ {
		if !taken(p) {
			reed.Place = p
		}
	}
	if reed.Place > 12 || taken(reed.Place) {
		return reed, journal.Refuse("place", fmt.Sprintf("place %d of the holder is taken; throw the worn one away first", reed.Place), reed.Place)
	}
	return reed, nil
}

// Discard says why a reed goes out of its box.
type Discard struct {
	Cause string `json:"cause" doc:"As the catalogue names it, such as chipped"`
}

// ThrowAway takes a reed out of its box.
func (r *Room) ThrowAway(ctx context.Context, by journal.Person, id uuid.UUID, in Discard) (journal.Changed, error) {
	return school.Write(ctx, r.Schools, by, journal.MayFinishCare, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		if in.Cause == "" || !r.Catalog.Ends("cane", in.Cause) {
			return journal.Changed{}, journal.Refuse("cause", "say what became of it", in.Cause)
		}
		reed, err := tx.Reed(ctx, id)
		if err != nil {
			return journal.Changed{}, err
		}
		if err := tx.EndReed(ctx, id, max(s.Today, reed.OpenedOn), in.Cause); err != nil {
			return journal.Changed{}, err
		}
		event, err := r.Record(ctx, tx, by, store.Event{What: store.ReedEnded}, ReedDetail{Reed: id, Player: reed.Player, Place: reed.Place, Cause: in.Cause})
		return journal.Changed{Events: []uuid.UUID{event}}, err
	})
}

// BreakInMinutes is how the school breaks reeds of a kind in.
type BreakInMinutes struct {
	Supply  string    `json:"supply"`
	Minutes []float64 `json:"minutes" maxItems:"30" doc:"On successive playing days; none for the usual one"`
}

// SetProgram puts the school's own break-in in place of the usual one.
func (r *Room) SetProgram(ctx context.Context, by journal.Person, in BreakInMinutes) error {
	of, ok := r.Catalog.Supply(in.Supply)
	if !ok || len(of.BreakIn) == 0 {
		return journal.Refuse("supply", "is no reed", in.Supply)
	}
	if len(in.Minutes) > 0 {
		if _, err := reeds.BreakIn(reeds.BreakInIn{ProgramMinutes: in.Minutes}); err != nil {
			return journal.Refuse("minutes", fmt.Sprint(err), in.Minutes)
		}
	}
	_, err := school.Write(ctx, r.Schools, by, journal.MayChangeSettings, func(tx *store.Tx, _ *school.Snapshot) (struct{}, error) {
		return struct{}{}, tx.SetBreakIn(ctx, in.Supply, in.Minutes)
	})
	return err
}
