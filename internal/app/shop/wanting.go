package shop

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/condition"
	"solfeggio/internal/core/report"
	"solfeggio/internal/core/shop"
	"solfeggio/internal/core/wording"
	"solfeggio/internal/store"
	"solfeggio/internal/store/checkrows"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/shoprows"
)

// Wanting says what a shop should see to.
type Wanting struct {
	ID           uuid.UUID       `json:"id" doc:"Made by the client"`
	InstrumentID uuid.UUID       `json:"instrument_id"`
	Origin       shoprows.Origin `json:"origin" enum:"finding,care,diagnosis,rehair,hand"`
	Findings     []uuid.UUID     `json:"findings,omitempty" maxItems:"50" doc:"Open ones that it should end"`
	Care         []clocks.Key    `json:"care,omitempty" maxItems:"20" doc:"A technician's care that is due"`
	Asks         string          `json:"asks,omitempty" maxLength:"2000" doc:"In the school's own words"`
}

// Want makes a job. What findings and care need a shop for become its lines, each with its usual price.
func (r *Room) Want(ctx context.Context, by journal.Person, in Wanting) (journal.Changed, error) {
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		i := s.ByID[in.InstrumentID]
		switch {
		case i == nil && s.Gone[in.InstrumentID] != nil:
			return journal.Changed{}, journal.Refuse("instrument_id", "is not at the school any more", in.InstrumentID)
		case i == nil:
			return journal.Changed{}, journal.Refuse("instrument_id", "no such instrument", in.InstrumentID)
		}
		if err := mayGoToShop(i); err != nil {
			return journal.Changed{}, err
		}
		if i.Job != nil {
			return journal.Changed{}, &journal.Fault{
				Kind:    journal.Conflict,
				Message: fmt.Sprintf("There is a job for %s already (%s). Add to that.", i.Tag, i.Job.State.Words()),
			}
		}
		paid, err := ended(ctx, tx, s)
		if err != nil {
			return journal.Changed{}, err
		}
		j := shoprows.Job{
			ID: in.ID, Instrument: i.ID, State: shop.Wanted, Origin: in.Origin, WantedOn: s.Today, Decides: by.Name,
			Asks: strings.TrimSpace(in.Asks), Lines: []shoprows.JobLine{},
		}
		var found []checkrows.Finding
		for n, id := range in.Findings {
			at := slices.IndexFunc(i.Findings, func(f checkrows.Finding) bool { return f.ID == id })
			if at < 0 {
				return journal.Changed{}, journal.Refuse(fmt.Sprintf("findings[%d]", n), "is not open on "+i.Tag, id)
			}
			found = append(found, i.Findings[at])
		}
		for n, key := range in.Care {
			if _, ok := r.schools.Catalog.RepairDoing(i.Kind, key.Routine); !ok || !clocks.Has(r.schools.Catalog, i.Instrument.Kind, key) {
				return journal.Changed{}, journal.Refuse(fmt.Sprintf("care[%d].routine", n), "is no technician's care of "+i.Tag, key.Routine)
			}
		}
		j.Lines = r.linesFor(i, found, in.Care, pricesOf(paid))
		if len(j.Lines) == 0 && j.Asks == "" {
			return journal.Changed{}, journal.Refuse("asks", "say what is to be done", in.Asks)
		}
		j.NotWanted = r.notWanted(j)
		j.Shop = onlyShopFor(s, r.TradesOf(j))
		if err := shoprows.InsertJob(ctx, tx, j); err != nil {
			return journal.Changed{}, err
		}
		if err := r.inspection.Carry(ctx, tx, by, i.ID, report.Looks); err != nil {
			return journal.Changed{}, err
		}
		event, err := r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.JobMade, Instrument: &i.ID}, JobDetail{Job: j.ID})
		return journal.Changed{Version: 1, Events: []uuid.UUID{event}}, err
	})
}

// mayGoToShop refuses what belongs to somebody else.
func mayGoToShop(i *school.Instrument) error {
	if i.Rental == nil {
		return nil
	}
	return &journal.Fault{
		Kind: journal.Conflict,
		Message: fmt.Sprintf("%s belongs to %s. The owner is told, and decides; no shop works on it on the school's money.", i.Tag,
			i.Rental.Owner),
	}
}

// linesFor are the lines that end findings and do a technician's care. Work that is done for two of them is paid for once.
func (r *Room) linesFor(i *school.Instrument, found []checkrows.Finding, care []clocks.Key, p prices) []shoprows.JobLine {
	lines := []shoprows.JobLine{}
	add := func(l shoprows.JobLine) {
		if l.Work != "" && slices.ContainsFunc(lines, func(other shoprows.JobLine) bool { return other.Work == l.Work }) {
			l.ExpectedCents, l.ExpectedMinutes = nil, nil
		}
		lines = append(lines, l)
	}
	for _, f := range found {
		add(r.lineFor(i, f, p))
	}
	for _, key := range care {
		if repair, ok := r.schools.Catalog.RepairDoing(i.Kind, key.Routine); ok {
			l := p.line(repair)
			l.Routine, l.Part = key.Routine, key.Part
			add(l)
		}
	}
	return lines
}

// lineFor is the line that ends a finding.
func (r *Room) lineFor(i *school.Instrument, f checkrows.Finding, p prices) shoprows.JobLine {
	l := shoprows.JobLine{Words: r.inspection.FindingName(f.Code)}
	if repair, ok := r.schools.Catalog.Mending(i.Kind, f.Code); ok {
		l = p.line(repair)
		if kind, ok := r.schools.Catalog.Finding(f.Code); ok && slices.Contains(repair.Routines, kind.FixesRoutine) {
			l.Routine, l.Part = kind.FixesRoutine, partOf(r.schools.Catalog, i.Kind, kind.FixesRoutine)
		}
	}
	l.Finding = &f.ID
	return l
}

// partOf is the part whose clock a routine restarts, where it has one alone.
func partOf(c *catalog.Catalog, k *catalog.Kind, routine string) string {
	if of, ok := c.Routine(routine); ok && len(of.Clocks()) == 1 {
		return of.Clocks()[0]
	}
	return ""
}

// TradesOf lists the trades that a job needs.
func (r *Room) TradesOf(j shoprows.Job) []string {
	trades := []string{}
	for _, l := range j.Lines {
		if repair, ok := r.schools.Catalog.Repair(l.Work); ok && !slices.Contains(trades, repair.Trade) {
			trades = append(trades, repair.Trade)
		}
	}
	return trades
}

// notWanted is what shops of the trades are usually asked to leave alone.
func (r *Room) notWanted(j shoprows.Job) string {
	var texts []string
	for _, key := range r.TradesOf(j) {
		if t, ok := r.schools.Catalog.Trade(key); ok {
			texts = append(texts, t.NotWanted)
		}
	}
	return strings.Join(texts, " ")
}

// does reports whether a shop does all that a job needs.
func does(at shoprows.RepairShop, trades []string) bool {
	return !slices.ContainsFunc(trades, func(t string) bool { return !slices.Contains(at.Trades, t) })
}

// onlyShopFor is the shop that does all trades, where there is one alone; nil otherwise.
func onlyShopFor(s *school.Snapshot, trades []string) *uuid.UUID {
	var only *uuid.UUID
	for n := range s.Shops {
		if !does(s.Shops[n], trades) {
			continue
		}
		if only != nil {
			return nil
		}
		only = &s.Shops[n].ID
	}
	return only
}

// needsShop reports whether a finding is for a shop.
func needsShop(c *catalog.Catalog, k *catalog.Kind, f checkrows.Finding) bool {
	kind, ok := c.Finding(f.Code)
	if ok && kind.FixesRoutine != "" {
		if of, found := c.Routine(kind.FixesRoutine); found && of.Who != catalog.Technician && slices.Contains(k.Routines, of.Key) {
			return false // it is mended here
		}
	}
	return f.Action == condition.Shop || f.Action == condition.ShopNow || f.Action == condition.Stop
}

// Asking is what a job asks of a shop.
type Asking struct {
	At
	ShopID    *uuid.UUID         `json:"shop_id,omitempty"`
	Asks      string             `json:"asks" maxLength:"2000"`
	NotWanted string             `json:"not_wanted" maxLength:"2000"`
	Decides   string             `json:"decides" maxLength:"120"`
	Lines     []shoprows.JobLine `json:"lines" maxItems:"50"`
}

// Change changes what is asked, as long as the instrument has not left.
func (r *Room) Change(ctx context.Context, by journal.Person, id uuid.UUID, in Asking) (journal.Changed, error) {
	return r.move(ctx, by, id, in.At, "",
		func(tx *store.Tx, s *school.Snapshot, i *school.Instrument, j *shoprows.Job, m *step) error {
			if j.State.Begun() || !j.State.Open() {
				return &journal.Fault{
					Kind:    journal.Conflict,
					Message: fmt.Sprintf("The job is %s; what is asked does not change any more. Speak to the shop.", j.State.Words()),
				}
			}
			if in.ShopID != nil && shopOf(s, in.ShopID) == nil {
				return journal.Refuse("shop_id", "no such shop", in.ShopID)
			}
			for n, l := range in.Lines {
				at := fmt.Sprintf("lines[%d]", n)
				repair, known := r.schools.Catalog.Repair(l.Work)
				if l.Work != "" && (!known || !slices.Contains(r.schools.Catalog.RepairsOf(i.Kind), repair)) {
					return journal.Refuse(at+".work", "is not done to a "+catalog.InText(i.Kind.Name), l.Work)
				}
				if l.Work == "" && strings.TrimSpace(l.Words) == "" {
					return journal.Refuse(at+".words", "say what is to be done", l.Words)
				}
				if l.Finding != nil && !slices.ContainsFunc(i.Findings, func(f checkrows.Finding) bool { return f.ID == *l.Finding }) {
					return journal.Refuse(at+".finding_id", "is not open on "+i.Tag, l.Finding)
				}
				if l.Routine == "" && l.Part != "" {
					return journal.Refuse(at+".part", "needs the care whose part it is", l.Part)
				}
				if l.Routine != "" && !clocks.Has(r.schools.Catalog, i.Instrument.Kind, clocks.Key{Routine: l.Routine, Part: l.Part}) {
					return journal.Refuse(at+".routine", i.Tag+" has no such care", l.Routine)
				}
				if l.Work != "" {
					in.Lines[n].Words = repair.Name
				}
				in.Lines[n].RealCents, in.Lines[n].Outcome = nil, ""
			}
			if was, to := j.Shop, in.ShopID; was != nil && (to == nil || *to != *was) {
				if err := r.chooseAnother(ctx, tx, by, s, i, j, m); err != nil {
					return err
				}
			}
			j.Shop, j.Asks, j.NotWanted, j.Decides, j.Lines = in.ShopID, strings.TrimSpace(in.Asks), in.NotWanted, in.Decides, in.Lines
			if len(j.Lines) == 0 && j.Asks == "" {
				return journal.Refuse("asks", "say what is to be done", in.Asks)
			}
			return nil
		})
}

// chooseAnother takes a job away from its shop before another is chosen, or none. What that shop was asked, quoted and was promised ends
// with it, and it is told: no other shop is held to its price.
func (r *Room) chooseAnother(
	ctx context.Context, tx *store.Tx, by journal.Person, s *school.Snapshot, i *school.Instrument, j *shoprows.Job, m *step,
) (err error) {
	was := j.State
	if j.State, err = was.After(shop.Choose); err != nil {
		return journal.Refuse("shop_id", err.Error()+". Take it off first", j.Shop)
	}
	m.takes, j.AskedOn, j.AgreedCents = shop.Choose, nil, nil
	if m.detail.Quote, err = shoprows.DecideQuote(ctx, tx, j.ID, "refused", r.schools.Now()); err != nil {
		return err
	}
	if at := shopOf(s, j.Shop); at != nil && was != shop.Wanted && !hasComputer(at) {
		return r.write(ctx, tx, by, s, i, *j, *at, wording.ShopAnswer, notDone)
	}
	return nil
}
