package preparing

import (
	"cmp"
	"slices"

	"solfeggio/internal/app/school"
	"solfeggio/internal/app/upkeep"
	"solfeggio/internal/core/reeds"
	"solfeggio/internal/store/schoolrows"
)

// reedSections reads all who play a reed at a concert.
func (r *Room) reedSections(s *school.Snapshot, concert *schoolrows.Concert, out *Before) error {
	at := map[string]int{}
	for _, i := range playingAt(s, concert) {
		supply, ok := r.schools.Catalog.Reed(i.Kind)
		if !ok || i.Habit.Player == nil || s.Players[*i.Habit.Player] == nil {
			continue
		}
		n, known := at[i.Kind.Key]
		if !known {
			n = len(out.Reeds)
			at[i.Kind.Key] = n
			out.Reeds = append(out.Reeds, upkeep.NewSection(i.Kind, supply))
		}
		sec := &out.Reeds[n]
		latest, err := reeds.LatestOpen(reeds.LatestOpenIn{
			NeededOn: concert.HeldOn, ProgramMinutes: upkeep.Program(s, supply), RestDays: upkeep.RestDays(s, s.Today-60, concert.HeldOn),
		})
		if err != nil {
			return err
		}
		c, err := r.upkeep.ChairOf(s, i, supply, concert.HeldOn)
		if err != nil {
			return err
		}
		c.Judge(s, latest.OpenBy)
		sec.Chairs = append(sec.Chairs, c)
		switch c.State {
		case "open":
			sec.MustOpen++
		case "late":
			sec.MustOpen++
			out.Starts.ReedsLate++
		}
		if latest.OpenBy >= s.Today {
			sec.OpenBy = &latest.OpenBy
		}
	}
	for n := range out.Reeds {
		sec := &out.Reeds[n]
		if sec.OpenBy == nil || sec.MustOpen == 0 {
			continue
		}
		if out.Starts.ReedsBy == nil || *sec.OpenBy < *out.Starts.ReedsBy {
			out.Starts.ReedsBy = sec.OpenBy
		}
		supply, _ := r.schools.Catalog.Supply(sec.Chairs[0].Supply)
		plan, err := reeds.BreakIn(
			reeds.BreakInIn{Opened: *sec.OpenBy, ProgramMinutes: upkeep.Program(s, supply), RestDays: upkeep.RestDays(s, *sec.OpenBy, concert.HeldOn+7)},
		)
		if err != nil {
			return err
		}
		sec.Program, sec.ReadyOn = plan.Days, &plan.ReadyOn
	}
	if len(out.Reeds) > 0 {
		pressing := slices.MaxFunc(out.Reeds, func(a, b upkeep.ReedSection) int {
			return cmp.Or(cmp.Compare(a.MustOpen, b.MustOpen), cmp.Compare(len(a.Chairs), len(b.Chairs)))
		})
		out.Why = append(out.Why, r.upkeep.ReedWhy(s, concert, pressing))
	}
	return nil
}
