package upkeep

import (
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
)

// ForPlayer is what an instrument's player is told of reeds and rosin today. It names nobody.
type ForPlayer struct {
	Reed        int `json:"reed" doc:"Place in the holder of the reed whose turn it is; 0 for none"`
	RosinAWeek  int `json:"rosin_a_week" doc:"How often to rosin; 0 where there is no bow or nobody plays"`
	NewReedOpen int `json:"new_reed_open" doc:"How many reeds are missing from the holder"`
}

// ForPlayer works it out for an instrument.
func (r *Room) ForPlayer(s *school.Snapshot, i *school.Instrument) (out ForPlayer, err error) {
	if supply, ok := r.schools.Catalog.Reed(i.Kind); ok && i.InHands() && s.Players[*i.Habit.Player] != nil {
		c, err := r.ChairOf(s, i, supply, s.Today)
		if err != nil {
			return out, err
		}
		out.NewReedOpen = c.OpenNew
		for _, b := range c.Reeds {
			if b.Today {
				out.Reed = b.Place
			}
		}
	}
	if len(r.renewals(i.Kind, catalog.BowHair)) > 0 {
		b, ok, err := r.BowOf(s, i)
		if err != nil || !ok {
			return out, err
		}
		out.RosinAWeek = b.Rosin.TimesPerWeek
	}
	return out, nil
}
