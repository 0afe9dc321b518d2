package school

import (
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/store/supplyrows"
)

// Stocked says what of a supply goes with an instrument and who has it.
func (i *Instrument) Stocked(s *catalog.Supply) supplyrows.Stocked {
	return supplyrows.Stocked{Supply: s.Key, Size: s.In(i.Size, i.Reeds)}
}
