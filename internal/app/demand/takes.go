package demand

import (
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/kits"
	"solfeggio/internal/store/supplyrows"
)

// Takes is what the work on one instrument uses up. Of what carries a date, which is what products come out of, only what is brought
// to it counts.
func (r *Room) Takes(
	i *school.Instrument,
	reason catalog.Reason,
	routine *catalog.Routine,
	brought map[string]bool,
) map[supplyrows.Stocked]float64 {
	work := kits.Work{
		Kind:     i.Kind,
		Choices:  i.Care.Choices,
		Turnover: reason == catalog.Turnover || reason == catalog.Illness,
		Routines: append([]string{routine.Key}, routine.Implies...),
	}
	units := map[supplyrows.Stocked]float64{}
	for n := range r.schools.Catalog.Supplies {
		supply := &r.schools.Catalog.Supplies[n]
		of := i.Stocked(supply)
		if supply.BySize && of.Size == "" || supply.AtBench && supply.Expires && !brought[supply.Key] {
			continue
		}
		if taken := kits.AtWork(supply, r.schools.Catalog, work); taken > 0 {
			units[of] = taken
		}
	}
	return units
}
