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
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/field"
	"solfeggio/internal/core/restring"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/supplyrows"
	"solfeggio/internal/store/upkeeprows"
)

// On is a part that is on an instrument now.
type On struct {
	Part     string     `json:"part"`
	Name     string     `json:"name"`
	Short    string     `json:"short" doc:"The name where there is little room"`
	PutOn    *day.Day   `json:"put_on,omitempty" doc:"Left out when nobody knows"`
	Product  string     `json:"product"`
	Tension  string     `json:"tension"`
	EndKind  string     `json:"end_kind"`
	Days     int        `json:"days" doc:"Since it was put on, or since the instrument is cared for"`
	Hours    float64    `json:"hours" doc:"Played with it"`
	Wear     float64    `json:"wear"`
	State    care.State `json:"state" enum:"fresh,opening,due,late"`
	DueOn    *day.Day   `json:"due_on,omitempty"`
	Settles  *day.Day   `json:"settles,omitempty" doc:"Until then it sags; left out when it has settled"`
	Planned  *day.Day   `json:"planned,omitempty"`
	Breaking bool       `json:"breaking" doc:"A single of it is kept in stock, because it breaks most"`
}

// Strung is an instrument with its strings.
type Strung struct {
	InstrumentID uuid.UUID `json:"instrument_id"`
	Tag          string    `json:"tag"`
	KindName     string    `json:"kind_name"`
	Section      string    `json:"section"`
	Holder       string    `json:"holder"`
	Stopped      string    `json:"stopped,omitempty"`
	SpareSet     string    `json:"spare_set" enum:"there,low,wet,missing," doc:"In the kit; empty where none belongs"`
	Strings      []On      `json:"strings"`
}

// Strings lists all strings of the school, in score order.
func (r *Room) Strings(ctx context.Context, by journal.Person) ([]Strung, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	list := []Strung{}
	for _, i := range s.Instruments {
		all := r.StringsOf(i.Kind)
		if len(all) == 0 {
			continue
		}
		x := Strung{
			InstrumentID: i.ID, Tag: i.Tag, KindName: i.Named(), Section: i.Kind.Section, Holder: s.Listed(i).Holder,
			Stopped: i.Care.Stopped,
			Strings: []On{}, SpareSet: r.spareSet(i),
		}
		for _, n := range all {
			x.Strings = append(x.Strings, r.on(s, i, n))
		}
		list = append(list, x)
	}
	return list, nil
}

// spareSet is how the spare set in an instrument's kit was found; empty where none belongs.
func (r *Room) spareSet(i *school.Instrument) string {
	set, ok := r.setOf(i.Kind)
	if !ok {
		return ""
	}
	if _, belongs := r.schools.InCase(i, set.Key); !belongs {
		return ""
	}
	if f, noted := i.Kit[set.Key]; noted {
		return string(f.State)
	}
	return string(catalog.There)
}

// setOf finds the supply by which the strings of a kind are bought as a set.
func (r *Room) setOf(k *catalog.Kind) (*catalog.Supply, bool) {
	all := r.StringsOf(k)
	if len(all) == 0 {
		return nil, false
	}
	for n := range r.schools.Catalog.Supplies {
		s := &r.schools.Catalog.Supplies[n]
		if slices.ContainsFunc(s.Use, func(u catalog.SupplyUse) bool { return u.Routine == all[0].Routine.Key && u.Share > 0 }) {
			return s, true
		}
	}
	return nil, false
}

// singleOf finds the supply by which a part of a kind is bought one by one.
func (r *Room) singleOf(k *catalog.Kind, part string) (*catalog.Supply, bool) {
	for n := range r.schools.Catalog.Supplies {
		if s := &r.schools.Catalog.Supplies[n]; s.Single != nil && s.Single.Kind == k.Base() && s.Single.Part == part {
			return s, true
		}
	}
	return nil, false
}

// on reads what is on an instrument in one place.
func (r *Room) on(s *school.Snapshot, i *school.Instrument, n Renewal) On {
	o := On{Part: n.Part.Key, Name: n.Part.Name, Short: cmp.Or(n.Part.Short, n.Part.Name), State: care.Fresh, Days: int(s.Today - i.CareFrom)}
	if l, known := i.Lives[n.Part.Key]; known {
		o.PutOn, o.Product, o.Tension, o.EndKind = &l.PutOn, l.Product, l.Tension, l.EndKind
		if settles := l.PutOn + day.Day(n.Routine.SettleDays); settles > s.Today {
			o.Settles = &settles
		}
	}
	if c, ok := ClockOf(i, clocks.Key{Routine: n.Routine.Key, Part: n.Part.Key}); ok {
		o.Wear, o.State, o.Hours, o.Days = c.Reading.Wear, c.Reading.State, c.Reading.Elapsed.PlayingHours, c.Reading.Elapsed.Days
		if !c.Reading.DueOn.IsZero() {
			o.DueOn = &c.Reading.DueOn
		}
	}
	for _, p := range i.Planned {
		if p.Part == n.Part.Key {
			o.Planned = &p.On
		}
	}
	_, o.Breaking = r.singleOf(i.Kind, n.Part.Key)
	return o
}

// Guide leads through the change of one part.
type Guide struct {
	InstrumentID uuid.UUID              `json:"instrument_id"`
	Tag          string                 `json:"tag"`
	KindName     string                 `json:"kind_name"`
	Now          On                     `json:"now"`
	Others       []On                   `json:"others" doc:"The other strings, in the order in which they are changed"`
	OneADay      bool                   `json:"one_a_day" doc:"The school changes one string of an instrument a day"`
	ChangedToday []string               `json:"changed_today" doc:"Strings that were changed today"`
	Warning      string                 `json:"warning" doc:"Why it should rather wait; empty when nothing speaks against it"`
	Cautions     []string               `json:"cautions" doc:"To be read before the first step"`
	Tools        []string               `json:"tools"`
	Steps        []catalog.ResolvedStep `json:"steps"`
	Choices      []catalog.Chosen       `json:"choices"`
	SettleDays   int                    `json:"settle_days"`
	SettledOn    day.Day                `json:"settled_on" doc:"If it is put on today"`
	ForConcert   *ForConcert            `json:"for_concert,omitempty" doc:"Of the instrument's next concert; left out when none is ahead or no string runs out before it"`
	Endings      []Named                `json:"endings"`
	Tensions     []catalog.Tension      `json:"tensions" doc:"Of a string; none for other parts"`
	Products     []string               `json:"products" doc:"Names that were used before"`
	Stock        []InStock              `json:"stock" doc:"Where the new one may come from"`
}

// ForConcert is when the strings of one instrument are changed for a concert, were the bench free.
type ForConcert struct {
	On          day.Day        `json:"on"`
	Strings     int            `json:"strings" doc:"How many run out by then"`
	Days        []restring.Day `json:"days" doc:"The latest days; empty when it is too late"`
	LatestStart *day.Day       `json:"latest_start,omitempty"`
	TooLate     string         `json:"too_late" doc:"Why no plan fits; empty when one does"`
}

// forConcert plans the strings of one instrument for its next concert.
func (r *Room) forConcert(s *school.Snapshot, i *school.Instrument, n Renewal, oneADay bool) (*ForConcert, error) {
	concert := i.Care.Concert
	if concert < s.Today || concert.IsZero() {
		return nil, nil
	}
	out := &ForConcert{On: concert, Days: []restring.Day{}}
	for _, other := range r.renewals(i.Kind, n.Part.Material) {
		if c, ok := ClockOf(i, clocks.Key{Routine: other.Routine.Key, Part: other.Part.Key}); ok && !c.Reading.DueOn.IsZero() &&
			c.Reading.DueOn <= concert {
			out.Strings++
		}
	}
	if out.Strings == 0 {
		return nil, nil
	}
	in := restring.PlanIn{
		Strings: out.Strings, Concert: concert, SettleDays: n.Routine.SettleDays, Mode: restring.OneSitting, NotBefore: &s.Today,
		NoWorkDays: RestDays(s, s.Today-60, concert),
	}
	if oneADay {
		in.Mode = restring.OneADay
	}
	plan, err := restring.Plan(in)
	if err != nil {
		at := field.Of(err)
		if at.Path != "concert" {
			return nil, err
		}
		out.TooLate = at.Message
		return out, nil
	}
	out.Days, out.LatestStart = plan.Days, &plan.LatestStart
	return out, nil
}

// InStock is a supply of which a part may be taken.
type InStock struct {
	Take  string  `json:"take" enum:"single,set"`
	Name  string  `json:"name"`
	There float64 `json:"there"`
	Unit  string  `json:"unit"`
}

// Guide works out how a part of an instrument is changed.
func (r *Room) Guide(ctx context.Context, by journal.Person, id uuid.UUID, part string) (Guide, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return Guide{}, err
	}
	i, err := s.Instrument(id)
	if err != nil {
		return Guide{}, journal.InPlainWords(err)
	}
	n, err := r.renewalOf(i, part)
	if err != nil {
		return Guide{}, err
	}
	resolved, ok := r.schools.Catalog.Resolve(n.Routine, r.schools.Subject(i))
	if !ok {
		return Guide{}, journal.Refuse("part", "the school's practices leave this work out", part)
	}
	g := Guide{
		InstrumentID: i.ID, Tag: i.Tag, KindName: i.Named(), Now: r.on(s, i, n), Others: []On{}, ChangedToday: []string{},
		Cautions: resolved.Cautions, Tools: n.Routine.Tools, Steps: resolved.Steps, Choices: resolved.Choices,
		SettleDays: n.Routine.SettleDays, SettledOn: s.Today + day.Day(n.Routine.SettleDays),
		Endings: r.endingsOf(n.Part.Material), Tensions: r.schools.Catalog.TensionsOf(n.Part.Material), Products: []string{}, Stock: []InStock{},
	}
	for _, other := range r.renewals(i.Kind, n.Part.Material) {
		o := r.on(s, i, other)
		if o.PutOn != nil && *o.PutOn == s.Today {
			g.ChangedToday = append(g.ChangedToday, o.Name)
		}
		if other.Part.Key != part {
			g.Others = append(g.Others, o)
		}
	}
	if c, ok := ClockOf(i, clocks.Key{Routine: n.Routine.Key, Part: part}); ok {
		g.OneADay = c.OneADay
	}
	g.Warning = warning(s, i, n, g)
	if n.Routine.SettleDays > 0 {
		if g.ForConcert, err = r.forConcert(s, i, n, g.OneADay); err != nil {
			return Guide{}, err
		}
	}
	for _, other := range s.Instruments {
		for _, l := range other.Lives {
			if p, ok := other.Kind.Part(l.Part); ok && p.Material == n.Part.Material && l.Product != "" &&
				!slices.Contains(g.Products, l.Product) {
				g.Products = append(g.Products, l.Product)
			}
		}
	}
	slices.Sort(g.Products)
	err = r.schools.Read(ctx, by, func(tx *store.Tx) error {
		usable, err := supply.Usable(ctx, tx, s.Today)
		if err != nil {
			return err
		}
		for _, from := range r.sources(i, part) {
			g.Stock = append(g.Stock, InStock{from.take, from.supply.Called(from.of.Size), usable[from.of], from.supply.Unit})
		}
		return nil
	})
	return g, err
}

// source is a supply from which a part may come.
type source struct {
	take   string
	supply *catalog.Supply
	of     supplyrows.Stocked
	units  float64
}

// sources lists where a part of an instrument may come from, singles first.
func (r *Room) sources(i *school.Instrument, part string) []source {
	var list []source
	if s, ok := r.singleOf(i.Kind, part); ok {
		list = append(list, source{"single", s, supplyrows.Stocked{Supply: s.Key, Size: s.In(i.Size, "")}, 1})
	}
	if p, _ := i.Kind.Part(part); p.Material == catalog.MetalString {
		if s, ok := r.setOf(i.Kind); ok {
			list = append(
				list,
				source{"set", s, supplyrows.Stocked{Supply: s.Key, Size: s.In(i.Size, "")}, 1 / float64(len(r.StringsOf(i.Kind)))},
			)
		}
	}
	return list
}

// warning says why a part should rather not be changed today.
func warning(s *school.Snapshot, i *school.Instrument, n Renewal, g Guide) string {
	switch concert := i.Care.Concert; {
	case i.Care.Stopped != "":
		return fmt.Sprintf("%s is stopped (%s). Nothing is tuned up on it until that is mended.", i.Tag, i.Care.Stopped)
	case concert >= s.Today && !concert.IsZero() && s.Today+day.Day(n.Routine.SettleDays) > concert:
		return fmt.Sprintf("Put on today it still sags at the concert on %s. Only a string that broke is replaced now.", concert.Words())
	case g.OneADay && len(g.ChangedToday) > 0 && !slices.Contains(g.ChangedToday, n.Part.Name):
		return fmt.Sprintf("%s was changed today, and the school changes one string of an instrument a day.", g.ChangedToday[0])
	}
	return ""
}

func (r *Room) renewalOf(i *school.Instrument, part string) (Renewal, error) {
	p, _ := i.Kind.Part(part)
	routine, ok := r.schools.Catalog.Renewal(i.Kind, part)
	if !ok {
		return Renewal{}, journal.Refuse("part", i.Tag+" has no such part that is renewed", part)
	}
	return Renewal{p, routine}, nil
}

// Renewed is a part that was put on.
type Renewed struct {
	Part    string   `json:"part"`
	On      *day.Day `json:"on,omitempty" doc:"Today when left out"`
	Cause   string   `json:"cause,omitempty" doc:"Why the old one had come to its end; left out when nobody says"`
	Product string   `json:"product,omitempty" maxLength:"80"`
	Tension string   `json:"tension,omitempty"`
	EndKind string   `json:"end_kind,omitempty" enum:",ball,loop"`
	Take    string   `json:"take,omitempty" enum:",single,set" doc:"What of the school's stock it is taken from; left out for neither"`
}

// TakenDetail is what the log keeps of stock that went onto an instrument.
type TakenDetail struct {
	Name string                `json:"name"`
	Took map[uuid.UUID]float64 `json:"took"`
}

// Renewing says what was recorded.
type Renewing struct {
	Events []uuid.UUID `json:"events" doc:"What to undo"`
	Short  string      `json:"short" doc:"What was not in stock by the books; empty when it was"`
}

// Renew records that a part was put on in place of another, and from where it came. A string that broke on the way is followed by another
// renewal of the same part on the same day.
func (r *Room) Renew(ctx context.Context, by journal.Person, id uuid.UUID, in Renewed) (Renewing, error) {
	return school.Write(ctx, r.schools, by, journal.MayFinishCare, func(tx *store.Tx, s *school.Snapshot) (Renewing, error) {
		out := Renewing{Events: []uuid.UUID{}}
		i, err := s.Instrument(id)
		if err != nil {
			return out, err
		}
		n, err := r.renewalOf(i, in.Part)
		if err != nil {
			return out, err
		}
		on := s.Today
		if in.On != nil {
			on = *in.On
		}
		switch {
		case on > s.Today:
			return out, journal.Refuse("on", "lies in the future", on)
		case i.AcquiredOn != nil && on < *i.AcquiredOn:
			return out, journal.Refuse("on", fmt.Sprintf("the school has %s since %s only", i.Tag, i.AcquiredOn.Words()), on)
		case on < s.Today.AddYears(-15):
			return out, journal.Refuse("on", "lies too far back to be believed", on)
		case !r.schools.Catalog.Ends(n.Part.Material, in.Cause):
			return out, journal.Refuse("cause", "is no way in which this part ends", in.Cause)
		case in.Tension != "" && !slices.ContainsFunc(r.schools.Catalog.Tensions, func(t catalog.Tension) bool { return t.Key == in.Tension }):
			return out, journal.Refuse("tension", "is no tension", in.Tension)
		}
		if err := i.CareCounts(on); err != nil {
			return out, err
		}
		life := upkeeprows.PartLife{Product: in.Product, Tension: in.Tension, EndKind: in.EndKind}
		event, err := r.care.Renew(ctx, tx, by, i, clocks.Key{Routine: n.Routine.Key, Part: in.Part}, on, life, in.Cause)
		if err != nil {
			return out, err
		}
		out.Events = append(out.Events, event)
		for _, from := range r.sources(i, in.Part) {
			if from.take != in.Take {
				continue
			}
			lots, err := supply.GoingWith(ctx, tx, from.of)
			if err != nil {
				return out, err
			}
			took, short, err := supply.TakeFromStock(ctx, tx, lots, from.units, s.Today)
			if err != nil {
				return out, err
			}
			if short > 1e-9 {
				out.Short = from.supply.Called(from.of.Size)
			}
			event, err := r.schools.Record(
				ctx,
				tx,
				by,
				eventrows.Event{What: eventrows.StringTaken, Instrument: &i.ID},
				TakenDetail{from.supply.Called(from.of.Size), took},
			)
			if err != nil {
				return out, err
			}
			out.Events = append(out.Events, event)
		}
		return out, nil
	})
}
