package preparing

import (
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/upkeep"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/restring"
	"solfeggio/internal/store/schoolrows"
)

// StringSection is what the strings of a kind of instrument need before a concert.
type StringSection struct {
	Kind        string   `json:"kind"`
	Section     string   `json:"section"`
	Strings     []Wound  `json:"strings" doc:"Of the kind, as they are drawn from top to bottom"`
	Instruments int      `json:"instruments" doc:"How many need new strings"`
	Sets        int      `json:"sets" doc:"Of these, how many need a whole set"`
	Changes     int      `json:"changes" doc:"Strings in all"`
	Minutes     float64  `json:"minutes" doc:"Of work in all"`
	LatestStart *day.Day `json:"latest_start,omitempty" doc:"The latest day to begin, were the bench theirs alone; left out when there is nothing to do or no time for all"`
}

// Wound is a string of a kind.
type Wound struct {
	Part string `json:"part"`
	Name string `json:"name"`
}

// stringSections sums up each kind of string instrument that plays.
func (r *Room) stringSections(s *school.Snapshot, c *schoolrows.Concert, list []wanted, bench []restring.Bench, settle int, out *Before) error {
	seen := map[string]bool{}
	for _, i := range playingAt(s, c) {
		all := r.upkeep.StringsOf(i.Kind)
		if len(all) == 0 || seen[i.Kind.Key] {
			continue
		}
		seen[i.Kind.Key] = true
		sec := StringSection{Kind: i.Kind.Key, Section: i.Kind.Section, Strings: woundOf(all)}
		var some []wanted
		for _, w := range list {
			if w.of.Kind != i.Kind {
				continue
			}
			some = append(some, w)
			sec.Instruments++
			sec.Changes += len(w.strings)
			sec.Minutes += w.minutes * float64(len(w.strings))
			if len(w.strings) == len(all) {
				sec.Sets++
			}
		}
		if len(some) > 0 {
			changes, unplaced, err := lay(some, bench, c.HeldOn, settle, some[0].oneADay)
			if err != nil {
				return err
			}
			if len(unplaced) == 0 {
				sec.LatestStart = &changes[0].On
			}
		}
		out.Strings = append(out.Strings, sec)
	}
	return nil
}

func woundOf(all []upkeep.Renewal) []Wound {
	list := []Wound{}
	for _, n := range all {
		list = append(list, Wound{n.Part.Key, n.Part.Name})
	}
	return list
}
