package upkeep

import (
	"cmp"
	"context"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/why"
)

// Boxes are the reeds of all players, section by section.
type Boxes struct {
	Sections []ReedSection `json:"sections"`
	Programs []BreakIn     `json:"programs"`
	Endings  []Named       `json:"endings" doc:"Why a reed goes out of its box"`
}

// Named is a key with its words.
type Named struct {
	Key  string `json:"key"`
	Name string `json:"name"`
}

// BreakIn is how reeds of a kind are broken in.
type BreakIn struct {
	Supply  string    `json:"supply"`
	Name    string    `json:"name"`
	Minutes []float64 `json:"minutes"`
	Own     bool      `json:"own" doc:"The school's own, in place of the usual one"`
	Version string    `json:"version"`
	Basis   why.Kind  `json:"basis" enum:"common practice,from memory,school setting"`
}

// Boxes lists the reeds of everybody who plays one.
func (r *Room) Boxes(ctx context.Context, by journal.Person) (Boxes, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return Boxes{}, err
	}
	out := Boxes{Sections: []ReedSection{}, Programs: []BreakIn{}, Endings: r.endingsOf(catalog.Cane)}
	at := map[string]int{}
	for _, i := range s.Instruments {
		supply, ok := r.schools.Catalog.Reed(i.Kind)
		if !ok || i.Habit == nil || i.Habit.Player == nil || s.Players[*i.Habit.Player] == nil {
			continue
		}
		n, known := at[i.Kind.Key]
		if !known {
			n = len(out.Sections)
			at[i.Kind.Key] = n
			out.Sections = append(out.Sections, NewSection(i.Kind, supply))
			own, has := s.BreakIns[supply.Key]
			b := BreakIn{supply.Key, supply.Name, supply.BreakIn, has, journal.Version(own), cmp.Or(supply.BreakInIs, why.CommonPractice)}
			if has {
				b.Minutes, b.Basis = own, why.SchoolSetting
			}
			out.Programs = append(out.Programs, b)
		}
		c, err := r.ChairOf(s, i, supply, s.Today)
		if err != nil {
			return out, err
		}
		c.Judge(s, s.Today)
		if c.State == "open" {
			c.Says = "none is ready"
		}
		out.Sections[n].Chairs = append(out.Sections[n].Chairs, c)
	}
	return out, nil
}

func (r *Room) endingsOf(material string) []Named {
	list := []Named{}
	for _, e := range r.schools.Catalog.EndingsOf(material) {
		list = append(list, Named{e.Key, e.Name})
	}
	return list
}
