package shop

import (
	"context"

	"github.com/google/uuid"

	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/shop"
	"solfeggio/internal/store"
	"solfeggio/internal/store/checkrows"
	"solfeggio/internal/store/shoprows"
)

// JobView is all that is known of a job, and what can be done with it next.
type JobView struct {
	Job        shoprows.Job             `json:"job"`
	Row        JobRow                   `json:"row"`
	Instrument school.Listed            `json:"instrument"`
	Steps      []shop.Step              `json:"steps" doc:"What can be done next"`
	Findings   []inspection.FileFinding `json:"findings" doc:"Open ones on the instrument"`
	Repairs    []RepairChoice           `json:"repairs" doc:"What can be done to such an instrument"`
	Shops      []ShopChoice             `json:"shops" doc:"Those that do all of it first"`
	Quotes     []Quoted                 `json:"quotes" doc:"The latest first"`
	Outlook    shop.Outlook             `json:"outlook" doc:"Repair against replacement, filled from the school's record: each figure may be changed"`
	Weighed    shop.RepairOrReplaceOut  `json:"weighed" doc:"What comes of it"`
	CareCosts  string                   `json:"care_costs" doc:"Says so when its care costs more than it is worth; empty else"`
	Charge     *shop.ChargeOut          `json:"charge,omitempty" doc:"What its player's family might be asked for; left out where nothing was avoidable or nobody has it"`
	Expected   *shop.Expected           `json:"expected,omitempty" doc:"For how long it is reckoned away"`
	Loaner     *school.Choice           `json:"loaner,omitempty" doc:"A free one that its player may have meanwhile; the key is its id"`
	Loaned     string                   `json:"loaned" doc:"Tag of what was lent instead; empty for nothing"`
	MayReturn  bool                     `json:"may_return" doc:"Whoever had it is still here"`
	PlayTest   []string                 `json:"play_test" doc:"How it is tried when it is back"`
	Told       []ToldLine               `json:"told" doc:"What the simulated shop says that it did; empty while it has not"`
	ToldCents  *int64                   `json:"told_cents,omitempty" doc:"Its bill"`
	Trips      []school.Choice          `json:"trips" doc:"With free places on days on which the shop is open; the key is the id"`
	Spent      int64                    `json:"spent_cents" doc:"On this instrument's repairs so far"`
}

// RepairChoice is a repair with what it is expected to cost.
type RepairChoice struct {
	Key   string `json:"key"`
	Name  string `json:"name"`
	Trade string `json:"trade"`
	Cents int64  `json:"cents"`
}

// ShopChoice is a shop that a job may be given.
type ShopChoice struct {
	ID      uuid.UUID `json:"id"`
	Name    string    `json:"name"`
	DoesAll bool      `json:"does_all"`
	Service bool      `json:"service" doc:"The simulated shop"`
}

// Quoted is a quote with what is odd about it.
type Quoted struct {
	shoprows.ShopQuote
	Differs int64 `json:"differs_cents" doc:"By how much its total is more than its lines; 0 when it adds up"`
	RanOut  bool  `json:"ran_out"`
}

// ToldLine is what the simulated shop says of a line.
type ToldLine struct {
	Words  string `json:"words"`
	Mended bool   `json:"mended"`
	Cents  int64  `json:"cents"`
	Note   string `json:"note"`
}

// View reads a job.
func (r *Room) View(ctx context.Context, by journal.Person, id uuid.UUID) (JobView, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return JobView{}, err
	}
	out := JobView{
		Repairs: []RepairChoice{}, Shops: []ShopChoice{}, Quotes: []Quoted{}, PlayTest: []string{}, Told: []ToldLine{},
		Trips: []school.Choice{},
		Steps: []shop.Step{},
	}
	err = r.schools.Read(ctx, by, func(tx *store.Tx) error {
		if out.Job, err = shoprows.JobByID(ctx, tx, id); err != nil {
			return err
		}
		j := out.Job
		i := s.ByID[j.Instrument]
		if i == nil {
			i = s.Gone[j.Instrument]
		}
		if i == nil {
			return store.ErrNotFound
		}
		quotes, err := shoprows.QuotesOf(ctx, tx, id)
		if err != nil {
			return err
		}
		for _, q := range quotes {
			lines := make([]int64, len(q.Lines))
			for n, l := range q.Lines {
				lines[n] = l.Cents
			}
			out.Quotes = append(out.Quotes, Quoted{q, shop.QuoteDiffers(lines, q.TotalCents), q.Decision == "" && ranOut(q.ValidUntil, s.Today)})
		}
		out.Row, out.Instrument = r.row(s, i, j), s.Listed(i)
		if i.GoneOn == nil {
			out.Steps = j.State.Steps()
		}
		jobs, err := ended(ctx, tx, s)
		if err != nil {
			return err
		}
		own, err := shoprows.JobsOf(ctx, tx, i.ID)
		if err != nil {
			return err
		}
		for _, e := range own {
			if !e.State.Open() && e.RealCents != nil {
				out.Spent += *e.RealCents
			}
		}
		photos, err := checkrows.Photos(ctx, tx, i.ID)
		if err != nil {
			return err
		}
		out.Findings = r.inspection.Described(i, i.Findings, photos)
		return r.fill(ctx, tx, s, i, jobs, &out)
	})
	return out, err
}

// fill adds what a person decides by.
func (r *Room) fill(ctx context.Context, tx *store.Tx, s *school.Snapshot, i *school.Instrument, ended []shoprows.Job,
	out *JobView) (err error) {
	j, p := out.Job, pricesOf(ended)
	trades := r.TradesOf(j)
	for _, repair := range r.schools.Catalog.RepairsOf(i.Kind) {
		out.Repairs = append(out.Repairs, RepairChoice{repair.Key, repair.Name, repair.Trade, *p.line(repair).ExpectedCents})
	}
	for _, all := range []bool{true, false} {
		for _, at := range s.Shops {
			if does(at, trades) == all {
				out.Shops = append(out.Shops, ShopChoice{at.ID, at.Name, all, at.Way == shoprows.ByService})
			}
		}
	}
	for _, key := range trades {
		if t, ok := r.schools.Catalog.Trade(key); ok {
			out.PlayTest = append(out.PlayTest, t.PlayTest...)
		}
	}
	if len(out.PlayTest) == 0 {
		out.PlayTest = []string{"Play it over its whole compass, softly and strongly: nothing buzzes, nothing hangs."}
	}
	if out.Outlook, err = shop.LookAhead(r.recordOf(s, i, ended), out.Row.Cents); err != nil {
		return err
	}
	out.Outlook.Currency = s.School.Currency
	if out.Weighed, err = shop.RepairOrReplace(out.Outlook.RepairOrReplaceIn); err != nil {
		return err
	}
	if worth := out.Outlook.ResaleCents; out.Row.Cents > worth && out.Row.Cents > 0 {
		out.CareCosts = "This costs more than the instrument is worth as it is. The owner of such an instrument may rather put the money into the next one."
	}
	if err := r.proposeCharge(s, i, out); err != nil {
		return err
	}
	if at := shopOf(s, j.Shop); at != nil {
		expected, err := r.expectedFor(ctx, tx, s, *at, trades)
		if err != nil {
			return err
		}
		out.Expected = &expected
		for _, t := range r.tripsOf(s) {
			if t.DrivenAt == nil && t.On >= s.Today && t.Places-t.Taken >= i.Kind.Places() && shop.OpenOn(at.Name, at.OpenDays, t.On) == nil {
				name := t.On.Words()
				if t.Driver != "" {
					name += ", " + t.Driver + " drives"
				}
				out.Trips = append(out.Trips, school.Choice{Key: t.ID.String(), Name: name})
			}
		}
	}
	if i.Habit != nil && !j.State.Begun() {
		if free := r.placing.Book(s).InsteadOf(i.ID); free != nil {
			out.Loaner = &school.Choice{Key: free.InstrumentID.String(), Name: free.Tag}
		}
	}
	if j.Loaner != nil && s.ByID[*j.Loaner] != nil {
		out.Loaned = s.ByID[*j.Loaner].Tag
	}
	habit, err := habitOf(s, &j)
	out.MayReturn = habit != nil
	if p := said(j); p != nil && p.Result != nil {
		for _, l := range p.Result.Lines {
			out.Told = append(out.Told, ToldLine{l.Words, l.Mended, l.Cents, l.Note})
		}
		out.ToldCents = &p.Result.TotalCents
	}
	return err
}

// recordOf gathers what the school knows of an instrument and of others of its kind.
func (r *Room) recordOf(s *school.Snapshot, i *school.Instrument, ended []shoprows.Job) shop.Record {
	rec := shop.Record{NewCents: i.Kind.NewCents(i.Size), LifeYears: i.Kind.LifeYears}
	var bought day.Day
	for _, other := range s.Instruments {
		if other.Instrument.Kind != i.Instrument.Kind {
			continue
		}
		rec.PlayedYears += min(learnedYears, float64(s.Today-other.CareFrom)/365.25)
		if other.PriceCents == nil || *other.PriceCents <= 0 || other.Kind.NewCents(other.Size) != i.Kind.NewCents(i.Size) {
			continue
		}
		var on day.Day // unknown days are before all that are known
		if other.AcquiredOn != nil {
			on = *other.AcquiredOn
		}
		if rec.Price == shop.UsualPrice || on > bought {
			bought, rec.NewCents, rec.Price = on, *other.PriceCents, shop.PaidBefore
		}
	}
	if i.PriceCents != nil && *i.PriceCents > 0 && (rec.Price == shop.UsualPrice || rec.NewCents == *i.PriceCents) {
		rec.NewCents, rec.Price = *i.PriceCents, shop.PaidForIt
	}
	for _, j := range ended {
		of := s.ByID[j.Instrument]
		if of == nil {
			of = s.Gone[j.Instrument]
		}
		if of != nil && of.Instrument.Kind == i.Instrument.Kind && j.RealCents != nil {
			rec.Paid = append(rec.Paid, *j.RealCents)
		}
	}
	if i.AcquiredOn != nil {
		age := float64(s.Today-*i.AcquiredOn) / 365.25
		rec.AgeYears = &age
	}
	return rec
}

// proposeCharge proposes what the family of whoever has it might be asked for: of what its avoidable findings cost.
func (r *Room) proposeCharge(s *school.Snapshot, i *school.Instrument, out *JobView) error {
	if i.HandOver == nil && out.Job.Player == nil || i.Rental != nil {
		return nil
	}
	var avoidable int64
	for _, l := range out.Job.Lines {
		for _, f := range i.Findings {
			if l.Finding != nil && *l.Finding == f.ID && f.Avoidable && l.ExpectedCents != nil {
				avoidable += *l.ExpectedCents
			}
		}
	}
	all := expectedCents(out.Job)
	if avoidable == 0 || all == 0 {
		return nil
	}
	charge, err := lending.ChargeFor(s, i, lending.Damage{RepairCents: out.Row.Cents * avoidable / all, Avoidable: true})
	out.Charge = &charge
	return err
}
