package upkeep

import (
	"cmp"
	"context"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/bow"
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/upkeeprows"
)

// Bow is the bow of an instrument: its hair, and what its player should know.
type Bow struct {
	InstrumentID uuid.UUID      `json:"instrument_id"`
	Tag          string         `json:"tag"`
	KindName     string         `json:"kind_name"`
	Holder       string         `json:"holder"`
	Part         string         `json:"part"`
	Routine      string         `json:"routine"`
	PutOn        *day.Day       `json:"put_on,omitempty" doc:"Since when the hair is on; left out when nobody knows"`
	Hours        float64        `json:"hours" doc:"Played with it"`
	Wear         float64        `json:"wear"`
	State        care.State     `json:"state" enum:"fresh,opening,due,late"`
	DueOn        *day.Day       `json:"due_on,omitempty"`
	Limit        string         `json:"limit"`
	Signs        []string       `json:"signs" doc:"Findings on the bow that are open"`
	ValueCents   *int64         `json:"value_cents,omitempty" doc:"What it is worth; left out while nobody said"`
	Version      string         `json:"version" doc:"Of what it is worth"`
	Straight     bool           `json:"straight"`
	Advice       *bow.RehairOut `json:"advice,omitempty" doc:"New hair or a new bow; left out while nobody has said what it is worth"`
	Rosin        bow.RosinOut   `json:"rosin"`
}

// Bows are all bows of the school.
type Bows struct {
	RehairCents int64          `json:"rehair_cents"`
	OwnPrice    bool           `json:"own_price" doc:"The school said what new hair costs"`
	Bows        []Bow          `json:"bows" doc:"The most worn first within a kind"`
	Tensions    []catalog.Hint `json:"tensions" doc:"How tight a bow is for playing; both right"`
	Guards      []catalog.Hint `json:"guards" doc:"Parts that wear so that the stick does not"`
}

// Bows lists the bows.
func (r *Room) Bows(ctx context.Context, by journal.Person) (Bows, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return Bows{}, err
	}
	out := Bows{
		RehairCents: rehairCents(s), OwnPrice: s.School.RehairCents != nil, Bows: []Bow{},
		Tensions: r.schools.Catalog.HintsAbout("bow-tension"), Guards: r.schools.Catalog.HintsAbout("bow-guard"),
	}
	for _, i := range s.Instruments {
		b, ok, err := r.BowOf(s, i)
		if err != nil {
			return out, err
		}
		if ok {
			out.Bows = append(out.Bows, b)
		}
	}
	slices.SortStableFunc(out.Bows, func(a, b Bow) int {
		x, y := s.ByID[a.InstrumentID].Kind.ScoreOrder, s.ByID[b.InstrumentID].Kind.ScoreOrder
		if x != y {
			return x - y
		}
		return cmp.Compare(b.Wear, a.Wear)
	})
	return out, nil
}

func rehairCents(s *school.Snapshot) int64 {
	if s.School.RehairCents != nil {
		return *s.School.RehairCents
	}
	return bow.UsualRehairCents
}

// BowOf reads the bow of an instrument; false for one that has none.
func (r *Room) BowOf(s *school.Snapshot, i *school.Instrument) (Bow, bool, error) {
	hair := r.renewals(i.Kind, catalog.BowHair)
	if len(hair) == 0 {
		return Bow{}, false, nil
	}
	part, routine := hair[0].Part, hair[0].Routine
	b := Bow{
		InstrumentID: i.ID, Tag: i.Tag, KindName: i.Named(), Part: part.Key, Routine: routine.Key, Signs: []string{},
		ValueCents: i.BowCents, Version: journal.Version(i.BowCents),
		Holder: s.Listed(i).Holder, Straight: true, State: care.Fresh,
	}
	if l, known := i.Lives[part.Key]; known {
		b.PutOn = &l.PutOn
	}
	if c, ok := ClockOf(i, clocks.Key{Routine: routine.Key, Part: part.Key}); ok {
		b.Wear, b.State, b.Hours, b.Limit = c.Reading.Wear, c.Reading.State, c.Reading.Elapsed.PlayingHours, c.Limits.String()
		if !c.Reading.DueOn.IsZero() {
			b.DueOn = &c.Reading.DueOn
		}
	}
	for _, f := range i.Findings {
		kind, ok := r.schools.Catalog.Finding(f.Code)
		if !ok || kind.Of == "" {
			continue
		}
		b.Signs = append(b.Signs, kind.Name)
		b.Straight = b.Straight && !kind.BeyondRepair
	}
	var err error
	if i.BowCents != nil || !b.Straight { // a crooked one is replaced whatever it is worth
		worth := bow.RehairIn{RehairCents: rehairCents(s), Straight: b.Straight, Currency: s.School.Currency}
		if i.BowCents != nil {
			worth.BowValueCents = *i.BowCents
		}
		advice, err := bow.RehairOrNew(worth)
		if err != nil {
			return b, false, err
		}
		b.Advice = &advice
	}
	b.Rosin, err = bow.Rosin(bow.RosinIn{PracticeMinutesPerDay: min(24*60, minutesADay(s, i))})
	return b, true, err
}

// minutesADay is how long an instrument was played on a day of the last four weeks, rehearsals counted in.
func minutesADay(s *school.Snapshot, i *school.Instrument) float64 {
	const days = 28
	return i.Care.Playing.Over(day.Span{From: s.Today - days, To: s.Today - 1}).Hours * 60 / days
}

// Worth is what a bow is worth.
type Worth struct {
	ValueCents *int64 `json:"value_cents,omitempty" minimum:"0" maximum:"100000000" doc:"Left out when that is not known"`
}

// SetWorth says what the bow of an instrument is worth.
func (r *Room) SetWorth(ctx context.Context, by journal.Person, id uuid.UUID, in Worth) error {
	_, err := school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (struct{}, error) {
		i, err := s.Instrument(id)
		if err != nil {
			return struct{}{}, err
		}
		if len(r.renewals(i.Kind, catalog.BowHair)) == 0 {
			return struct{}{}, journal.Refuse("value_cents", i.Tag+" has no bow", in.ValueCents)
		}
		if err := journal.AsSeen(ctx, i.BowCents); err != nil {
			return struct{}{}, err
		}
		return struct{}{}, upkeeprows.SetBowValue(ctx, tx, id, in.ValueCents)
	})
	return err
}

// ClockOf finds the clock of a task on an instrument; false for none.
func ClockOf(i *school.Instrument, key clocks.Key) (clocks.Clock, bool) {
	for _, c := range i.Clocks {
		if c.Key == key {
			return c, true
		}
	}
	return clocks.Clock{}, false
}
