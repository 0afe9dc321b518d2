package lending

import (
	"context"
	"fmt"
	"math"
	"strings"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/shop"
	"solfeggio/internal/store"
	"solfeggio/internal/store/checkrows"
	"solfeggio/internal/store/lendingrows"
)

// ReturnSheet is what changed while an instrument was out, and what may be asked at its return.
type ReturnSheet struct {
	Instrument school.Listed            `json:"instrument"`
	Player     string                   `json:"player" doc:"Empty when nobody is named"`
	GivenAt    *time.Time               `json:"given_at,omitempty" doc:"Left out when nobody answered for it"`
	DueBackOn  *day.Day                 `json:"due_back_on,omitempty"`
	New        []inspection.FileFinding `json:"new" doc:"Found since it went out and still open"`
	Before     []inspection.FileFinding `json:"before" doc:"Known when it went out and still open"`
	Mended     []string                 `json:"mended" doc:"Known when it went out and cleared since"`
	Kit        []ReturnThing            `json:"kit"`
	Photos     []checkrows.Photo        `json:"photos" doc:"From the hand-out"`
	Answers    []inspection.SheetAnswer `json:"answers" doc:"What may be found"`
	Cautions   []string                 `json:"cautions"`
}

// ReturnThing is a thing of the kit with how it went out.
type ReturnThing struct {
	supply.KitThing
	WentOut catalog.KitState `json:"went_out" enum:"there,low,wet,missing"`
}

// turnover is what a returned instrument waits for.
const turnover = "turnover: clean, disinfect, dry"

var returnCautions = []string{
	"Gloves before a case is opened that was in somebody's mouth or hands; throw used reeds and patches away.",
	"Mould or smoke: bag it, outdoors, mask on. The school nurse or safety officer decides what happens next.",
}

// ReturnSheet prepares a return.
func (r *Room) ReturnSheet(ctx context.Context, by journal.Person, id uuid.UUID) (ReturnSheet, error) {
	if err := by.Need(journal.MayChangeInstruments); err != nil {
		return ReturnSheet{}, err
	}
	s, i, err := r.inspection.Instrument(ctx, by, id)
	if err != nil {
		return ReturnSheet{}, err
	}
	if !i.InHands() {
		return ReturnSheet{}, &journal.Fault{Kind: journal.Conflict, Message: i.Tag + " is in nobody's hands."}
	}
	out := ReturnSheet{
		Instrument: s.Listed(i),
		Player:     s.Listed(i).Holder,
		New:        []inspection.FileFinding{},
		Before:     []inspection.FileFinding{},
		Mended:     []string{},
		Kit:        []ReturnThing{},
		Photos:     []checkrows.Photo{},
		Cautions:   returnCautions,
	}
	if out.Answers, err = r.inspection.Findable(ctx, by, id); err != nil {
		return out, err
	}
	went := supply.KeptStates{}
	since := i.Habit.StartsOn.Time()
	if h := i.HandOver; h != nil {
		out.GivenAt, out.DueBackOn, since, went = &h.GivenAt, h.DueBackOn, h.GivenAt, h.Kit
	}
	for _, thing := range r.supply.KitOf(i, i.Reeds, went) {
		out.Kit = append(out.Kit, ReturnThing{thing, went.Of(thing.Supply)})
	}
	err = r.schools.Read(ctx, by, func(tx *store.Tx) error {
		photos, err := checkrows.Photos(ctx, tx, id)
		if err != nil {
			return err
		}
		for _, p := range photos {
			if i.HandOver != nil && p.HandOver != nil && *p.HandOver == i.HandOver.ID {
				out.Photos = append(out.Photos, p)
			}
		}
		for _, f := range r.inspection.Described(i, i.Findings, photos) {
			if f.FoundAt.After(since) {
				out.New = append(out.New, f)
			} else {
				out.Before = append(out.Before, f)
			}
		}
		changed, err := checkrows.FindingsSince(ctx, tx, id, since)
		for _, f := range changed {
			if f.ClearedAt != nil && !f.FoundAt.After(since) {
				out.Mended = append(out.Mended, r.inspection.FindingName(f.Code))
			}
		}
		return err
	})
	return out, err
}

// Damage is what a repair would cost.
type Damage struct {
	RepairCents int64 `json:"repair_cents" minimum:"0" maximum:"100000000"`
	Avoidable   bool  `json:"avoidable"`
}

// ProposeCharge proposes what to charge for a repair: nothing for wear; else by what is left of the instrument's life.
func (r *Room) ProposeCharge(ctx context.Context, by journal.Person, id uuid.UUID, in Damage) (shop.ChargeOut, error) {
	if err := by.Need(journal.MayChangeInstruments); err != nil {
		return shop.ChargeOut{}, err
	}
	s, i, err := r.inspection.Instrument(ctx, by, id)
	if err != nil {
		return shop.ChargeOut{}, err
	}
	return ChargeFor(s, i, in)
}

// ChargeFor proposes what to charge for a repair of an instrument.
func ChargeFor(s *school.Snapshot, i *school.Instrument, in Damage) (shop.ChargeOut, error) {
	age, known := shop.UnknownAgeShare*i.Kind.LifeYears, i.AcquiredOn != nil
	if known {
		age = float64(s.Today-*i.AcquiredOn) / 365.25
	}
	out, err := shop.Charge(
		shop.ChargeIn{
			RepairCents: in.RepairCents,
			AgeYears:    math.Round(age*10) / 10,
			LifeYears:   i.Kind.LifeYears,
			Avoidable:   in.Avoidable,
			SharePct:    &s.School.ChargeShare,
			CapCents:    s.School.ChargeCap,
			Currency:    s.School.Currency,
		},
	)
	if err != nil {
		return out, journal.RefuseInput(err)
	}
	out.Why.Basis.Source += fmt.Sprintf("; that a %s serves %v years is from memory", catalog.InText(i.Kind.Name), i.Kind.LifeYears)
	if !known {
		out.Why.Statement += " Nobody knows how old it is, so half of its life is taken as gone."
	}
	out.Why.Change = "/settings/school"
	return out, nil
}

// Returning is a return with what was found.
type Returning struct {
	Findings []inspection.Found          `json:"findings,omitempty" maxItems:"20" doc:"What is new"`
	Kit      map[string]catalog.KitState `json:"kit,omitempty" doc:"As it came back, by supply; what is not named is as it was"`
	Reported string                      `json:"reported,omitempty" maxLength:"2000" doc:"What the player says of it"`
	Charge   *ChargeDecision             `json:"charge,omitempty" doc:"Left out when nothing is asked for"`

	toShop   bool // its turnover waits until it is back
	together bool // with others
}

// ChargeDecision is what a person decided on a charge.
type ChargeDecision struct {
	Damage
	AmountCents int64  `json:"amount_cents" minimum:"0" maximum:"100000000"`
	Reason      string `json:"reason" maxLength:"500" doc:"Needed; stands in the notice"`
}

// Return takes an instrument back today. It is held until its turnover is done; what its return makes due is on Today at once.
func (r *Room) Return(ctx context.Context, by journal.Person, id uuid.UUID, in Returning) (journal.Changed, error) {
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		i, err := s.Instrument(id)
		if err != nil {
			return journal.Changed{}, err
		}
		if err := r.lookOver(ctx, tx, by, i, in.Findings, in.Kit, s.Today); err != nil {
			return journal.Changed{}, err
		}
		event, err := r.TakeBack(ctx, tx, by, s, i, in)
		return journal.Changed{Events: []uuid.UUID{event}}, err
	})
}

// Returns are instruments that come back together, at the end of a year or when an ensemble is dissolved.
type Returns struct {
	Instruments []uuid.UUID `json:"instruments" minItems:"1" maxItems:"1000"`
}

// ReturnUnseen takes instruments back today without looking at them, all or none. Each is held until its turnover is done, and looked over
// there; nobody is charged.
func (r *Room) ReturnUnseen(ctx context.Context, by journal.Person, in Returns) (journal.Changed, error) {
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		out := journal.Changed{Events: []uuid.UUID{}}
		for n, id := range in.Instruments {
			i, err := s.Instrument(id)
			if err != nil {
				return out, journal.Refuse(fmt.Sprintf("instruments[%d]", n), "no such instrument", id)
			}
			event, err := r.TakeBack(ctx, tx, by, s, i, Returning{together: true})
			if err != nil {
				return out, err
			}
			out.Events = append(out.Events, event)
		}
		return out, nil
	})
}

// closeHandOver ends the time in which a player answered for an instrument, with what is charged.
func (r *Room) closeHandOver(
	ctx context.Context,
	tx *store.Tx,
	by journal.Person,
	s *school.Snapshot,
	i *school.Instrument,
	in Returning,
) (handOver, charge *uuid.UUID, err error) {
	open, err := lendingrows.OpenHandOvers(ctx, tx, i.ID)
	if err != nil {
		return nil, nil, err
	}
	if len(open) == 0 {
		if in.Charge != nil {
			return nil, nil, journal.Refuse("charge", "nobody is named who answered for it", nil)
		}
		return nil, nil, nil
	}
	h, now := open[0], r.schools.Now()
	kit, err := supply.KitStates(ctx, tx, i.ID)
	if err != nil {
		return nil, nil, err
	}
	h.ReturnedAt, h.ReturnedBy, h.ReturnKit, h.Reported = &now, &by.ID, map[string]catalog.KitState(kit), strings.TrimSpace(in.Reported)
	if err := lendingrows.CloseHandOver(ctx, tx, h); err != nil {
		return nil, nil, err
	}
	if in.Charge == nil {
		return &h.ID, nil, nil
	}
	reason := strings.TrimSpace(in.Charge.Reason)
	if reason == "" {
		return nil, nil, journal.Refuse("charge.reason", "say what it is for", in.Charge.Reason)
	}
	if i.Rental != nil {
		return nil, nil, journal.Refuse(
			"charge",
			fmt.Sprintf("%s belongs to %s; the owner is told, and decides", i.Tag, i.Rental.Owner),
			nil,
		)
	}
	proposed, err := ChargeFor(s, i, in.Charge.Damage)
	if err != nil {
		return nil, nil, err
	}
	c := lendingrows.Charge{
		ID:            uuid.Must(uuid.NewV7()),
		HandOver:      h.ID,
		RepairCents:   in.Charge.RepairCents,
		ProposedCents: proposed.ChargeCents,
		AmountCents:   in.Charge.AmountCents,
		Reason:        reason,
		DecidedAt:     now,
		DecidedBy:     &by.ID,
	}
	return &h.ID, &c.ID, lendingrows.InsertCharge(ctx, tx, c)
}
