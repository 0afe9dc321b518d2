package shop

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/shop"
	"solfeggio/internal/store"
	"solfeggio/internal/store/checkrows"
	"solfeggio/internal/store/letterrows"
	"solfeggio/internal/store/shoprows"
)

// Board is all that is at shops, on the way there, or should be.
type Board struct {
	Jobs      []JobRow      `json:"jobs" doc:"Open ones, those that ask for something first"`
	Ended     []JobRow      `json:"ended" doc:"The latest first"`
	Suggested []Suggestion  `json:"suggested" doc:"What a shop, or an owner, should see to and has no job yet"`
	Shops     []ShopHere    `json:"shops"`
	Trips     []PlannedTrip `json:"trips" doc:"By day"`
	States    []StateWords  `json:"states" doc:"In the order in which a job takes them"`
	Trades    []Choice      `json:"trades"`
	Connected bool          `json:"connected" doc:"A simulated shop is connected"`
}

// Choice is a key with its name.
type Choice = school.Choice

// StateWords is how a state is said.
type StateWords struct {
	State shop.State `json:"state"`
	Words string     `json:"words"`
}

// JobRow is a job in a list.
type JobRow struct {
	ID           uuid.UUID   `json:"id"`
	Version      int         `json:"version"`
	InstrumentID uuid.UUID   `json:"instrument_id"`
	Tag          string      `json:"tag"`
	KindName     string      `json:"kind_name"`
	Mark         school.Mark `json:"mark" enum:"ready,opens,due,late,player,held,shop,stopped"`
	Holder       string      `json:"holder" doc:"Who has it, or had it when it was sent; empty for nobody"`
	State        shop.State  `json:"state" enum:"wanted,asked,quoted,agreed,booked,away,back,closed,called-off"`
	StateWords   string      `json:"state_words"`
	Shop         string      `json:"shop" doc:"Empty while nobody chose one"`
	Works        []string    `json:"works"`
	Cents        int64       `json:"cents" doc:"As paid, agreed, quoted or expected, whichever is known"`
	Says         string      `json:"says" doc:"What is next, or when; empty for nothing"`
	Alert        bool        `json:"alert" doc:"That is overdue or runs out"`
}

// Suggestion is an instrument that a shop should see.
type Suggestion struct {
	InstrumentID uuid.UUID       `json:"instrument_id"`
	Tag          string          `json:"tag"`
	KindName     string          `json:"kind_name"`
	Mark         school.Mark     `json:"mark" enum:"ready,opens,due,late,player,held,shop,stopped"`
	Origin       shoprows.Origin `json:"origin" enum:"finding,care,diagnosis,rehair,hand" doc:"That a job made of it has"`
	Because      []string        `json:"because"`
	Findings     []uuid.UUID     `json:"findings"`
	Care         []clocks.Key    `json:"care"`
	Owner        string          `json:"owner" doc:"Who is told instead; empty for the school's own"`
	OwnerTold    bool            `json:"owner_told"`
	Cents        int64           `json:"cents" doc:"What it would cost, as far as is known"`

	urgent int
	about  string // what its owner would be written about
}

// ShopHere is a shop with how long it takes and what is there.
type ShopHere struct {
	shoprows.RepairShop
	Away       int           `json:"away"`
	Turnaround []Turnaround  `json:"turnaround" doc:"All work first; empty while nothing went there"`
	Expected   shop.Expected `json:"expected" doc:"For how long something sent there today is reckoned away"`
}

// endedShown is how many ended jobs the board shows.
const endedShown = 60

// Board reads the board.
func (r *Room) Board(ctx context.Context, by journal.Person) (Board, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return Board{}, err
	}
	out := Board{
		Jobs: []JobRow{}, Ended: []JobRow{}, Shops: []ShopHere{}, Trips: r.tripsOf(s), Trades: []Choice{}, Connected: r.Service != nil,
	}
	for _, known := range shop.States {
		out.States = append(out.States, StateWords{known.State, known.Words})
	}
	for _, t := range r.schools.Catalog.Trades {
		out.Trades = append(out.Trades, Choice{Key: t.Key, Name: t.Name})
	}
	err = r.schools.Read(ctx, by, func(tx *store.Tx) error {
		jobs, err := ended(ctx, tx, s)
		if err != nil {
			return err
		}
		for _, i := range s.Instruments {
			if i.Job != nil {
				out.Jobs = append(out.Jobs, r.row(s, i, *i.Job))
			}
		}
		for _, j := range jobs[:min(len(jobs), endedShown)] {
			i := s.ByID[j.Instrument]
			if i == nil {
				i = s.Gone[j.Instrument]
			}
			if i != nil {
				out.Ended = append(out.Ended, r.row(s, i, j))
			}
		}
		if out.Suggested, err = r.suggested(ctx, tx, s, by, pricesOf(jobs)); err != nil {
			return err
		}
		for _, at := range s.Shops {
			here := ShopHere{RepairShop: at}
			if here.Turnaround, err = r.turnaround(s, jobs, at); err != nil {
				return err
			}
			all := shop.TurnaroundOut{}
			if len(here.Turnaround) > 0 {
				all = here.Turnaround[0].TurnaroundOut
			}
			here.Expected = shop.ExpectedDays(all, at.PromiseDays)
			for _, i := range s.Instruments {
				if i.Away() && *i.Job.Shop == at.ID {
					here.Away++
				}
			}
			out.Shops = append(out.Shops, here)
		}
		return nil
	})
	slices.SortStableFunc(out.Jobs, func(a, b JobRow) int {
		return cmp.Or(yes(b.Alert)-yes(a.Alert), turn(a.State)-turn(b.State))
	})
	return out, err
}

func yes(b bool) int {
	if b {
		return 1
	}
	return 0
}

// turn puts states in the order in which they ask for somebody's hand: what is back, then what was quoted, then the way there.
func turn(s shop.State) int {
	return slices.Index([]shop.State{shop.Back, shop.Quoted, shop.Booked, shop.Agreed, shop.Wanted, shop.Asked, shop.Away}, s)
}

// row is a job as lists show it.
func (r *Room) row(s *school.Snapshot, i *school.Instrument, j shoprows.Job) JobRow {
	listed := s.Listed(i)
	row := JobRow{
		ID: j.ID, Version: j.Version, InstrumentID: i.ID, Tag: i.Tag, KindName: i.Named(), Mark: listed.Mark, Holder: listed.Holder,
		State: j.State, StateWords: j.State.Words(), Shop: shopName(s, j.Shop), Works: []string{}, Cents: Costs(j),
	}
	if j.State == shop.Booked && j.Trip == nil {
		row.StateWords = "to be fetched"
	}
	if row.Holder == "" && j.Player != nil && j.State.Open() {
		row.Holder = s.NameOf(j.Player)
	}
	for _, l := range j.Lines {
		row.Works = append(row.Works, l.Words)
	}
	if len(row.Works) == 0 && j.Asks != "" {
		row.Works = append(row.Works, j.Asks)
	}
	row.Says, row.Alert = says(s, j)
	return row
}

// near is a day that is not far off, in few letters.
func near(d day.Day) string { return d.Time().Format("Mon 2 Jan") }

// says tells what is next with a job, and whether that presses.
func says(s *school.Snapshot, j shoprows.Job) (string, bool) {
	days := func(n day.Day) string {
		if n == 1 {
			return "1 day"
		}
		return fmt.Sprintf("%d days", n)
	}
	if j.Untold {
		return "the simulated shop has not heard of this yet: tell it again, or telephone", true
	}
	if why := notTaken(s, j); why != "" {
		return why, true
	}
	switch j.State {
	case shop.Asked:
		if j.AskedOn != nil && s.Today-*j.AskedOn >= shop.AnswerMissedDays {
			return "no answer for " + days(s.Today-*j.AskedOn), true
		}
		return "asked on " + near(*j.AskedOn), false
	case shop.Quoted:
		switch {
		case j.QuoteUntil == nil:
			return "decide on the quote", false
		case ranOut(j.QuoteUntil, s.Today):
			return "the quote ran out on " + near(*j.QuoteUntil), true
		}
		return "the quote holds until " + near(*j.QuoteUntil), *j.QuoteUntil-s.Today <= shop.QuotePressesDays
	case shop.Booked:
		on := j.FetchedOn
		if on == nil {
			for n := range s.Trips {
				if s.Trips[n].ID == *j.Trip {
					on = &s.Trips[n].On
				}
			}
		}
		if on == nil {
			return "", false
		}
		return "leaves on " + near(*on), *on < s.Today
	case shop.Away:
		switch {
		case j.ReadyOn != nil:
			return "ready to be fetched since " + near(*j.ReadyOn), false
		case *j.ExpectedOn < s.Today:
			return days(s.Today-*j.ExpectedOn) + " longer away than it should be", true
		}
		return "back by " + near(*j.ExpectedOn), false
	case shop.Back:
		return "look it over and check it in", true
	case shop.Closed:
		if j.WarrantyUntil != nil && *j.WarrantyUntil >= s.Today {
			return "warranty until " + j.WarrantyUntil.Words(), false
		}
	}
	return "", false
}

// originOf says where a job comes from that is made of a suggestion: from a finding, from hair that is due, or from other care.
func originOf(k *catalog.Kind, l Suggestion) shoprows.Origin {
	if len(l.Findings) > 0 {
		return shoprows.FromFinding
	}
	for _, key := range l.Care {
		if p, _ := k.Part(key.Part); p.Material != catalog.BowHair {
			return shoprows.FromCare
		}
	}
	return shoprows.FromRehair
}

// Pressing lists the jobs that ask for something today or in the next days, those that are overdue first.
func (r *Room) Pressing(s *school.Snapshot) []JobRow {
	list := []JobRow{}
	for _, i := range s.Instruments {
		if i.Job == nil {
			continue
		}
		row := r.row(s, i, *i.Job)
		if row.Alert || i.Job.ReadyOn != nil || i.Job.State == shop.Booked || i.Job.State == shop.Quoted {
			list = append(list, row)
		}
	}
	slices.SortStableFunc(list, func(a, b JobRow) int { return cmp.Or(yes(b.Alert)-yes(a.Alert), turn(a.State)-turn(b.State)) })
	return list
}

// suggested lists what a shop or an owner should see to, what stops an instrument first.
func (r *Room) suggested(
	ctx context.Context, tx *store.Tx, s *school.Snapshot, by journal.Person, p prices,
) ([]Suggestion, error) {
	list := []Suggestion{}
	var owners []string // what they would be written about
	for _, i := range s.Instruments {
		if i.Job != nil {
			continue
		}
		l := Suggestion{
			InstrumentID: i.ID, Tag: i.Tag, KindName: i.Named(), Mark: s.Listed(i).Mark, Because: []string{}, Findings: []uuid.UUID{},
			Care: []clocks.Key{},
		}
		about := "owner:"
		var found []checkrows.Finding
		for _, f := range i.Findings {
			if !needsShop(r.schools.Catalog, i.Kind, f) {
				continue
			}
			if len(l.Findings) > 0 {
				about += ","
			}
			about += f.ID.String()
			l.Findings, l.Because = append(l.Findings, f.ID), append(l.Because, r.inspection.FindingName(f.Code))
			found, l.urgent = append(found, f), max(l.urgent, f.Severity+1)
		}
		for _, c := range i.Clocks {
			if c.Of.Who != catalog.Technician || c.Reading.Wear < 1 || i.Rental != nil {
				continue
			}
			repair, ok := r.schools.Catalog.RepairDoing(i.Kind, c.Routine)
			if !ok {
				continue
			}
			l.Care, l.Because = append(l.Care, c.Key), append(l.Because, catalog.InText(repair.Name)+" is "+string(c.Reading.State))
		}
		l.Origin = originOf(i.Kind, l)
		l.Cents = expectedCents(shoprows.Job{Lines: r.linesFor(i, found, l.Care, p)})
		if len(l.Because) == 0 {
			continue
		}
		if i.Rental != nil {
			l.Owner, l.about = i.OwnerFor(by), about
			owners = append(owners, about)
		}
		list = append(list, l)
	}
	told, err := letterrows.NoticesAbout(ctx, tx, owners)
	for n := range list {
		list[n].OwnerTold = told[list[n].about]
	}
	slices.SortStableFunc(list, func(a, b Suggestion) int { return b.urgent - a.urgent })
	return list, err
}
