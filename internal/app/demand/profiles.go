package demand

import (
	"context"
	"math"
	"slices"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/kits"
	"solfeggio/internal/store"
	"solfeggio/internal/store/supplyrows"
)

// ProfileYears is what keeping the clocks of each profile takes in a year, with the instruments and the timetable as they are.
type ProfileYears struct {
	Profiles []ProfileYear `json:"profiles" doc:"In the order of the practice"`
	Unpriced int           `json:"unpriced" doc:"Supplies of which nobody has entered a price; they are left out of the money"`
}

// ProfileYear is a year of one profile.
type ProfileYear struct {
	Profile  string       `json:"profile"`
	Name     string       `json:"name"`
	Holds    bool         `json:"holds" doc:"The school keeps it now"`
	Total    YearOfCare   `json:"total"`
	Families []FamilyYear `json:"families" doc:"Of which the school has instruments"`
}

// FamilyYear is the part of a family of instruments.
type FamilyYear struct {
	Family string `json:"family"`
	YearOfCare
}

// YearOfCare is what care takes in a year.
type YearOfCare struct {
	Minutes       float64 `json:"minutes" doc:"Person-minutes at school, without players' own weekly care where that is trusted to them"`
	SuppliesCents int64   `json:"supplies_cents"`
	ShopCents     int64   `json:"shop_cents" doc:"At the catalogue's usual prices, from memory, and the school's own for new hair"`
	ShopJobs      float64 `json:"shop_jobs"`
}

func (y *YearOfCare) add(o YearOfCare) {
	y.Minutes, y.ShopJobs = y.Minutes+o.Minutes, y.ShopJobs+o.ShopJobs
	y.SuppliesCents, y.ShopCents = y.SuppliesCents+o.SuppliesCents, y.ShopCents+o.ShopCents
}

// yearOfWeeks is a school's year as the forecasts have it.
const yearOfWeeks = 52

// ProfileYears works out what each profile would take in a year, before somebody changes it. What follows occasions, a return or a concert,
// is the same under all and left out; an instrument with a profile of its own keeps that.
func (r *Room) ProfileYears(ctx context.Context, by journal.Person) (ProfileYears, error) {
	if err := by.Need(journal.MayChangeSettings); err != nil {
		return ProfileYears{}, err
	}
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return ProfileYears{}, err
	}
	price := map[supplyrows.Stocked]float64{}
	err = r.schools.Read(ctx, by, func(tx *store.Tx) error {
		settings, err := supplyrows.SupplySettings(ctx, tx)
		for _, set := range settings {
			if set.PackPriceCents != nil && set.PackSize > 0 {
				cents := float64(*set.PackPriceCents) / set.PackSize
				price[set.Stocked], price[supplyrows.Stocked{Supply: set.Supply}] = cents, cents // of any strength
			}
		}
		return err
	})
	if err != nil {
		return ProfileYears{}, err
	}
	out := ProfileYears{}
	unpriced := map[string]bool{}
	profiles, _ := r.schools.Catalog.Practice(catalog.ProfilePractice)
	for _, option := range profiles.Options {
		year := ProfileYear{
			Profile: option.Key, Name: option.Name, Holds: option.Key == s.Choices[catalog.ProfilePractice], Families: []FamilyYear{},
		}
		for _, i := range s.Instruments {
			took := r.yearUnder(s, i, option.Key, price, unpriced)
			n := slices.IndexFunc(year.Families, func(f FamilyYear) bool { return f.Family == i.Kind.Family })
			if n < 0 {
				n = len(year.Families)
				year.Families = append(year.Families, FamilyYear{Family: i.Kind.Family})
			}
			year.Families[n].add(took)
			year.Total.add(took)
		}
		out.Profiles = append(out.Profiles, year)
	}
	out.Unpriced = len(unpriced)
	return out, nil
}

// yearUnder is what one instrument takes in a year under a profile.
func (r *Room) yearUnder(s *school.Snapshot, i *school.Instrument, profile string, price map[supplyrows.Stocked]float64,
	unpriced map[string]bool) (y YearOfCare) {
	choices := r.schools.Catalog.Choose(s.Choices, catalog.Choices{catalog.ProfilePractice: profile}, i.Own)
	kept := s.Reader.Kept(i.Care, choices)
	ahead := day.Span{From: s.Today, To: s.Today + 7*yearOfWeeks - 1}
	of := r.caseOf(s, i, horizon{ahead, s.Calendar.OpenShare(ahead)})
	of.Choices, of.Renewals = choices, nil // what it takes in any year, not what happens to run out in this one
	byRoutine := map[string][]care.Limits{}
	for _, clock := range kept {
		byRoutine[clock.Routine] = append(byRoutine[clock.Routine], clock.Limits)
		times := clock.Limits.AWeek(of.HoursAWeek, of.SessionsWeek) * yearOfWeeks
		y.Minutes += times * clock.Of.Minutes // a technician's too: it is brought, fetched and tried
		if clock.Of.Who == catalog.Technician {
			y.ShopJobs += times
			y.ShopCents += int64(math.Round(times * float64(r.shopPrice(s, i, clock.Key))))
		}
	}
	usual := of.Limits
	of.Limits = func(routine string) []care.Limits {
		if limits, ok := byRoutine[routine]; ok {
			return limits
		}
		if known, _ := r.schools.Catalog.Routine(routine); known != nil && known.Who == catalog.Player {
			return usual(routine) // trusted to players, whatever the profile
		}
		return nil
	}
	for _, item := range r.schools.Catalog.KitOf(i.Kind).Items {
		supply, _ := r.schools.Catalog.Supply(item.Supply)
		cents, known := price[i.Stocked(supply)]
		if perWeek, _ := kits.Demand(supply, of); known {
			y.SuppliesCents += int64(math.Round(perWeek * yearOfWeeks * cents))
		} else if perWeek > 0 {
			unpriced[supply.Key] = true
		}
	}
	return y
}

// shopPrice is what a technician's care usually costs.
func (r *Room) shopPrice(s *school.Snapshot, i *school.Instrument, key clocks.Key) int64 {
	repair, ok := r.schools.Catalog.RepairDoing(i.Kind, key.Routine)
	if !ok {
		return 0
	}
	if part, _ := i.Kind.Part(key.Part); part.Material == catalog.BowHair && s.School.RehairCents != nil {
		return *s.School.RehairCents
	}
	return repair.Cents
}
